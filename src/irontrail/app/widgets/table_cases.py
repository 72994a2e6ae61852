"""The four cases of two sensors astride the line: a small robot over it for each, its wheels' powers to drag."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way, with_shift
from irontrail.app.widgets.painting import draw_focus, draw_handle
from irontrail.app.widgets.robot_drawing import DARK_DISC, LIGHT_RING
from irontrail.core.steering.laws.table import CASES, WHEELS, Table

CELL_HEIGHT, GAP = 118.0, 8.0
# A bar's length at full power, and how near the pointer must come to its end.
FULL_PX, GRAB_PX = 34.0, 13.0
# Where the line lies under the sensors in each case: aside of the middle, in pixels; across for a crossing.
LINE = {"neither": 0.0, "left": -17.0, "right": 17.0, "both": None}
HALF_LINE, HALF_APART, AHEAD = 8.0, 17.0, 26.0


@dataclass(frozen=True)
class CasesPicture:
    """The table, the line's colour and the mat's, and the number of the case that decides now; None for none."""

    table: Table
    line: str
    mat: str
    dark_line: bool = True
    now: str | None = None


class TableCases(Keyed, Described, QWidget):
    """Says `dragged(case, wheel, power, settled)`."""

    dragged = Signal(str, str, float, bool)
    WHERE = "On the four cases"
    KEYS = (
        Key(("PgUp", "PgDown"), "choose a wheel", lambda view, name: view.choose(1 if name == "PgDown" else -1)),
        Key(("Up", "Down"), "more or less power", lambda view, name: view.nudge(1.0, way(name)[1])),
        Key(with_shift(("Up", "Down")), "ten at a time", lambda view, name: view.nudge(10.0, way(name)[1])),
    )
    ALL = tuple((case, wheel) for case in CASES for wheel in WHEELS)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.picture: CasesPicture | None = None
        self._held: tuple[str, str] | None = None
        self._chosen = 0
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(int(2 * CELL_HEIGHT + GAP))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The four cases and the powers of each")
        self.setToolTip("Drag a wheel's power, or choose one with Page Up and change it with the arrows.")

    def sizeHint(self) -> QSize:
        return QSize(300, int(2 * CELL_HEIGHT + GAP))

    def set_picture(self, picture: CasesPicture) -> None:
        """Show another table, or another case as the one that decides."""
        if picture != self.picture:
            self.picture = picture
            self.update()

    # --- geometry

    def cell(self, case: str) -> QRectF:
        """Where a case is drawn."""
        i, wide = list(CASES).index(case), (self.width() - GAP) / 2.0
        return QRectF((i % 2) * (wide + GAP), (i // 2) * (CELL_HEIGHT + GAP), wide, CELL_HEIGHT)

    def _zero(self, case: str, wheel: str) -> QPointF:
        """Where a wheel's bar begins."""
        cell = self.cell(case)
        return QPointF(cell.left() + 22.0 if wheel == "left" else cell.right() - 22.0, cell.top() + 64.0)

    def handle(self, case: str, wheel: str) -> QPointF:
        """Where a wheel's power is grabbed."""
        zero = self._zero(case, wheel)
        return zero - QPointF(0.0, FULL_PX * self._power(case, wheel) / 100.0)

    def _power(self, case: str, wheel: str) -> float:
        return float(getattr(getattr(self.picture.table, case), wheel)) if self.picture is not None else 0.0

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._held = self._at(event.position())
        if self._held is not None:
            self._chosen = self.ALL.index(self._held)
            self.tell()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._drag(event.position(), False)
        else:
            over = self._at(event.position()) is not None
            self.setCursor(Qt.CursorShape.SizeVerCursor if over else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._drag(event.position(), True)
            self._held = None
            self.update()

    def _at(self, at: QPointF) -> tuple[str, str] | None:
        near = {each: (self.handle(*each) - at).manhattanLength() for each in self.ALL}
        found = min(near, key=lambda each: near[each])
        return found if near[found] < GRAB_PX else None

    def _drag(self, at: QPointF, settled: bool) -> None:
        assert self._held is not None
        power = 100.0 * (self._zero(*self._held).y() - at.y()) / FULL_PX
        self.dragged.emit(*self._held, float(round(min(max(power, -100.0), 100.0))), settled)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def choose(self, step: int) -> None:
        """Have the keys change another wheel's power."""
        self._chosen = (self._chosen + step) % len(self.ALL)
        self.tell()
        self.update()

    def nudge(self, by: float, up: float) -> None:
        """Change the chosen power."""
        case, wheel = self.ALL[self._chosen]
        power = min(max(self._power(case, wheel) + by * up, -100.0), 100.0)
        self.dragged.emit(case, wheel, power, True)

    def value_told(self) -> str:
        case, wheel = self.ALL[self._chosen]
        return f"{CASES[case]}: {wheel} wheel {self._power(case, wheel):.0f} %".replace("-", "−")

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self.picture is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for case in CASES:
            self._paint_case(painter, self.picture, case)
        for i, each in enumerate(self.ALL):
            held = each == self._held or (self.hasFocus() and i == self._chosen)
            draw_handle(painter, self.theme, self.handle(*each), held, 5.0)
        if self.hasFocus():
            draw_focus(painter, self.theme, self.rect())

    def _paint_case(self, painter: QPainter, picture: CasesPicture, case: str) -> None:
        theme, cell = self.theme, self.cell(case)
        mat = QRectF(cell.left() + 44.0, cell.top() + 20.0, cell.width() - 88.0, cell.height() - 42.0)
        decides = picture.now == case
        painter.setFont(font(11, decides))
        painter.setPen(QColor(theme.rust if decides else theme.ink))
        says = {"neither": "neither on the line", "left": "left on the line", "right": "right on the line",
                "both": "both: a crossing"}[case]  # fmt: skip
        painter.drawText(QRectF(cell.left(), cell.top(), cell.width(), 17.0), Qt.AlignmentFlag.AlignCenter, says)
        painter.save()
        painter.setClipRect(mat)
        painter.fillRect(mat, QColor(picture.mat))
        middle = QPointF(mat.center().x(), mat.bottom() - 20.0)
        aside = LINE[case]
        front = middle.y() - AHEAD
        if aside is None:
            painter.fillRect(QRectF(mat.left(), front - HALF_LINE, mat.width(), 2 * HALF_LINE), QColor(picture.line))
            aside = 0.0
        painter.fillRect(QRectF(middle.x() + aside - HALF_LINE, mat.top(), 2 * HALF_LINE, mat.height()),
                         QColor(picture.line))  # fmt: skip
        self._paint_robot(painter, picture, case, middle, front)
        painter.restore()
        painter.setPen(pen(theme.rust if decides else theme.rule, 1.6 if decides else 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(mat)
        for wheel in WHEELS:
            self._paint_bar(painter, case, wheel)

    @staticmethod
    def _paint_robot(painter: QPainter, picture: CasesPicture, case: str, middle: QPointF, front: float) -> None:
        ink, card = QColor("#23272B"), QColor("#FFFDF8")
        sensors = [QPointF(middle.x() + side * HALF_APART, front) for side in (-1.0, 1.0)]
        painter.setPen(pen("#23272B", 3.0))
        for sensor in sensors:
            painter.drawLine(middle, sensor)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink)
        for side in (-1.0, 1.0):
            painter.drawRoundedRect(QRectF(middle.x() + side * 17.0 - 4.0, middle.y() - 9.0, 8.0, 20.0), 2.0, 2.0)
        painter.setPen(pen("#23272B", 1.2))
        painter.setBrush(card)
        painter.drawRoundedRect(QRectF(middle.x() - 11.0, middle.y() - 11.0, 22.0, 24.0), 4.0, 4.0)
        on = (case in ("left", "both"), case in ("right", "both"))
        for sensor, is_on in zip(sensors, on, strict=True):
            if is_on == picture.dark_line:
                painter.setPen(pen("#FFFDF8", 1.5))
                painter.setBrush(QColor(DARK_DISC))
                painter.drawEllipse(sensor, 5.0, 5.0)
            else:
                painter.setPen(pen(LIGHT_RING, 3.0))
                painter.setBrush(card)
                painter.drawEllipse(sensor, 4.0, 4.0)

    def _paint_bar(self, painter: QPainter, case: str, wheel: str) -> None:
        theme, zero, power = self.theme, self._zero(case, wheel), self._power(case, wheel)
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawLine(zero - QPointF(0.0, FULL_PX), zero + QPointF(0.0, FULL_PX))
        painter.drawLine(zero - QPointF(9.0, 0.0), zero + QPointF(9.0, 0.0))
        painter.setPen(pen(theme.ink, 4.0))
        painter.drawLine(zero, self.handle(case, wheel))
        painter.setFont(font(11, True))
        painter.setPen(QColor(theme.ink))
        words = f"{power:.0f}".replace("-", "−")
        box = QRectF(zero.x() - 22.0, self.cell(case).bottom() - 18.0, 44.0, 16.0)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
