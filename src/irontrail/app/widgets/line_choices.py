"""Which of the lines that came in is to be followed: a small picture of each, where nothing says it."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.line_button import LineButton
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Mat

# Of so many lines one may be chosen here; the others are on the sheet "Things".
MOST, ACROSS = 6, 3


class LineChoices(QWidget):
    """Offers the same mat with each of its lines as the one to follow."""

    chosen = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self.buttons: list[LineButton] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        heading = Label("Which line is to be followed?")
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        column.addLayout(self._grid)
        self.hide()

    def offer(self, mats: tuple[Mat, ...]) -> None:
        """Offer these, the first being the one that is followed now; none hides the choice."""
        for button in self.buttons:
            self._grid.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = []
        for mat in mats[:MOST]:
            words = f"{'circuit' if mat.line.closed else 'line'}, {make_route(mat).length_mm / 1000.0:.1f} m"
            button = LineButton(mat, words, f"{words}, {mat.line.width_mm:g} mm wide", self._theme)
            button.setChecked(mat == mats[0])
            button.clicked.connect(lambda _checked=False, mat=mat: self.chosen.emit(mat))
            self._grid.addWidget(button, len(self.buttons) // ACROSS, len(self.buttons) % ACROSS)
            self.buttons.append(button)
        self.setVisible(bool(mats))

    def show_mat(self, now: Mat) -> None:
        """Show which is followed; once the mat is another one, there is nothing to choose any more."""
        if self.buttons and not any(button.mat == now for button in self.buttons):
            self.offer(())
        for button in self.buttons:
            button.setChecked(button.mat == now)
