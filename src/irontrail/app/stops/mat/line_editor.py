"""A line as a whole: closed or open, turned round, laid twice, taken up; its width, border and colours."""

from collections.abc import Callable

from PySide6.QtCore import Signal

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.mat.editing import edit_line, edit_mat
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.swatches import Swatches
from irontrail.core.errors import IronTrailError
from irontrail.core.mat import laying, lines
from irontrail.core.mat.lead_back import LedBack, led_back
from irontrail.core.mat.tape import Stroke
from irontrail.core.quantity import quantities, with_value

TRACKS = {"width_mm": (5.0, 50.0), "border_mm": (0.0, 40.0), "unevenness_mm": (0.0, 4.0)}
# How far aside a line that is laid twice lies from the first.
ASIDE_MM = 60.0


class LineEditor(Panel):
    """Shows one line of the mat; what is turned here is a step of the session's history."""

    # The line now begins at its other end; one more line was laid, like it.
    turned_round = Signal()
    laid_twice = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.line = 0
        row = self.add_row()
        self.close_up = self.add_act("", "", self._close_or_open, row)
        self.add_act("Turn round", "Lay the line from its other end", self._turn_round, row)
        row.addStretch(1)
        row = self.add_row()
        self.twice = self.add_act("Lay the line twice", "One more line like this, a little aside", self._lay_twice, row)
        self.take_up = self.add_act("Take the line up", "Take this whole line off the mat", self._take_up, row)
        row.addStretch(1)
        self.measures: dict[str, Dial] = {}
        for name, track in TRACKS.items():
            dial = Dial(quantities(Stroke)[name], self.theme, *track)
            dial.setObjectName(f"line.{name}")
            dial.edited.connect(lambda value, settled, name=name: self._set(name, value, settled))
            self.column.addWidget(dial)
            self.measures[name] = dial
        self.colour = self._swatches("Tape", "colour")
        self.border = self._swatches("Border", "border_colour")

    def _swatches(self, label: str, name: str) -> Swatches:
        swatches = Swatches(label, self.theme)
        swatches.chosen.connect(lambda colour: self._set(name, colour, True))
        self.column.addWidget(swatches)
        return swatches

    @property
    def stroke(self) -> Stroke:
        """The line."""
        return self.session.setup.mat.lines[self.line]

    # --- editing

    def _edit(self, label: str, change: Callable[[Stroke], Stroke], key: str | None = None) -> None:
        edit_line(self.session, self.line, label, change, key)
        self.show_line(self.line)

    def _set(self, name: str, value: float | str, settled: bool) -> None:
        self._edit(name.removesuffix("_mm"), lambda stroke: with_value(stroke, name, value), f"line {name}")
        if settled:
            self.session.settle()

    def _close_or_open(self) -> None:
        if self.stroke.closed:
            self._edit("open the circuit", laying.opened)
        else:
            self.close_by(led_back)

    def close_by(self, how: Callable[[Stroke, float, float], LedBack]) -> None:
        """Close the line to a circuit; what is not good about its way back is told."""
        mat = self.session.setup.mat
        try:
            made = how(self.stroke, mat.width_mm, mat.height_mm)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._edit("close the circuit", lambda _stroke: made.stroke)
        if made.says:
            self.session.notice(made.says)

    def _turn_round(self) -> None:
        if edit_line(self.session, self.line, "turn the line round", laying.reversed_stroke):
            self.turned_round.emit()

    def _lay_twice(self) -> None:
        line = self.stroke
        aside = laying.moved(line, line.x_mm + ASIDE_MM, line.y_mm + ASIDE_MM)
        if edit_mat(self.session, "lay the line twice", lambda mat: lines.with_other(mat, aside)):
            self.laid_twice.emit()

    def _take_up(self) -> None:
        edit_mat(self.session, "take a line up", lambda mat: lines.without_line(mat, self.line))

    # --- showing

    def show_line(self, line: int) -> None:
        """Work on a line of the mat, and show it as it is."""
        self.line = line
        stroke = self.stroke
        for name, dial in self.measures.items():
            dial.set_value(getattr(stroke, name))
        self.colour.set_colour(stroke.colour)
        self.border.set_colour(stroke.border_colour)
        self.border.setVisible(stroke.border_mm > 0.0)
        self.close_up.setText("Open the circuit" if stroke.closed else "Close to a circuit")
        self.close_up.setToolTip(
            "Let the ends go" if stroke.closed else "Lead the end back into the start with two bends and a straight"
        )
        self.take_up.setEnabled(len(self.session.setup.mat.lines) > 1)
