"""All keys on one sheet, beside the work: those of the menus, and those of whatever has the focus."""

from collections.abc import Iterable

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from irontrail.app.theme import dress
from irontrail.app.widgets.colour_matrix import ColourMatrix
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.keys import Keyed
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.light_hands import CutHand, ProbeHand
from irontrail.app.widgets.log_list import LogList
from irontrail.app.widgets.map_picture import MapPicture
from irontrail.app.widgets.mat_hand import RobotHand
from irontrail.app.widgets.mat_view import MatView
from irontrail.app.widgets.picture_hand import PictureHand
from irontrail.app.widgets.playback_bar import Scrubber
from irontrail.app.widgets.robot_plan import RobotPlan
from irontrail.app.widgets.side_view import SideView
from irontrail.app.widgets.steering_curve import SteeringCurveView
from irontrail.app.widgets.strip import Strip
from irontrail.app.widgets.swatches import ColourRow
from irontrail.app.widgets.table_cases import TableCases
from irontrail.app.widgets.tape_hand import TapeHand
from irontrail.app.widgets.term_text import TermText
from irontrail.app.widgets.thing_hand import ThingHand
from irontrail.app.widgets.trade_off_picture import TradeOffPicture
from irontrail.app.widgets.trip_hand import TripHand
from irontrail.app.widgets.trip_ribbon import TripRibbon
from irontrail.app.widgets.weight_picture import WeightPicture
from irontrail.app.widgets.work_line import Stop

# Whoever takes keys, in the order it is told of.
TAKERS: tuple[type[Keyed], ...] = (
    Dial, Stop, Scrubber, Strip, MatView, RobotHand, TapeHand, ThingHand, PictureHand, ProbeHand, CutHand,
    TripHand, TripRibbon, SteeringCurveView, TableCases, WeightPicture, RobotPlan, SideView, ColourRow,
    ColourMatrix, MapPicture, TradeOffPicture, LogList, TermText,
)  # fmt: skip
KEYS_WIDTH, WORDS_WIDTH = 122, 190
Row = tuple[str, str]


def key_rows(takers: Iterable[type[Keyed]] = TAKERS) -> dict[str, list[Row]]:
    """The keys of those that take some, under where they work: their names, and what they do."""
    found: dict[str, list[Row]] = {}
    for taker in takers:
        found.setdefault(taker.WHERE, []).extend((_written(key.names), key.says) for key in taker.KEYS)
    return found


def _written(names: tuple[str, ...]) -> str:
    """Keys as they are told of: the four arrows by one word."""
    plain = [name.rpartition("+")[2] or name for name in names]
    if plain == ["Left", "Right", "Up", "Down"]:
        return names[0].removesuffix("Left") + "Arrows"
    return "  ".join(names)


class KeySheet(QDialog):
    """Shows every key. It does not stand in the way of the window."""

    def __init__(self, parent: QWidget, actions: Iterable[QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        of_menus = [
            (action.shortcut().toString(), action.text().replace("&", "").removesuffix(" …"))
            for action in actions
            if not action.shortcut().isEmpty()
        ]
        sections = {"In the whole window": of_menus, "In a list or a choice": [("Arrows", "the next one")]} | key_rows()
        sections["On a button"] = [("Space  Return", "press it")]
        sections["In a notice or a field"] = [("Esc", "put it away, or leave it as it was")]
        inner = QWidget()
        columns = QHBoxLayout(inner)
        columns.setContentsMargins(18, 14, 18, 14)
        columns.setSpacing(26)
        columns.addLayout(_column({"In the whole window": sections.pop("In the whole window")}))
        first: dict[str, list[Row]] = {}
        second: dict[str, list[Row]] = {}
        half, filled = sum(len(rows) + 1 for rows in sections.values()) / 2, 0
        for where, rows in sections.items():
            (first if filled < half else second)[where] = rows
            filled += len(rows) + 1
        columns.addLayout(_column(first))
        columns.addLayout(_column(second))
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inner)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(area)
        dress(self)
        size, room = inner.sizeHint(), self.screen().availableSize()
        self.resize(min(size.width() + 26, room.width()), min(size.height() + 4, room.height() - 60, 760))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """F1 puts it away again, as Esc does."""
        if event.key() == Qt.Key.Key_F1:
            self.close()
        else:
            super().keyPressEvent(event)


def _column(sections: dict[str, list[Row]]) -> QVBoxLayout:
    column = QVBoxLayout()
    column.setSpacing(4)
    for where, rows in sections.items():
        title = Label(where)
        title.setProperty("role", "heading")
        column.addWidget(title)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(2)
        for i, texts in enumerate(rows):
            for j, text in enumerate(texts):
                label = Label(text)
                label.setProperty("role", "words")
                label.setWordWrap(True)
                label.setFixedWidth(KEYS_WIDTH if j == 0 else WORDS_WIDTH)
                label.setAlignment(Qt.AlignmentFlag.AlignTop)
                grid.addWidget(label, i, j)
        column.addLayout(grid)
        column.addSpacing(8)
    column.addStretch(1)
    return column
