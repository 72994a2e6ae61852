"""A row of colours to choose from, and a field for any other."""

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QAccessible, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QWidget

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way
from irontrail.app.widgets.label import Label
from irontrail.core.light.contrast import COLOURS
from irontrail.core.mat.tape import is_colour

SIDE = 20.0


class ColourRow(Keyed, Described, QWidget):
    """The colours side by side; arrows go along them."""

    chosen = Signal(str)
    ROLE = QAccessible.Role.ColorChooser
    WHERE = "On a row of colours"
    KEYS = (Key(("Left", "Right"), "the next colour", lambda row, name: row.step(int(way(name)[0]))),)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.colour = ""
        self.setFixedSize(QSize(int(SIDE * len(COLOURS)) + 4, int(SIDE) + 4))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Choose a colour: press it, or use the arrows")

    def at(self, i: int) -> QRectF:
        """Where a colour is drawn."""
        return QRectF(2.0 + i * SIDE, 2.0, SIDE, SIDE)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for i, (_, colour) in enumerate(COLOURS):
            if self.at(i).contains(event.position()):
                self.chosen.emit(colour)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def step(self, step: int) -> None:
        """Choose the next colour, or the one before."""
        colours = [colour for _, colour in COLOURS]
        now = self.colour.lower()
        place = colours.index(now) + step if now in colours else 0
        self.chosen.emit(colours[place % len(colours)])

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, (_, colour) in enumerate(COLOURS):
            same = colour.lower() == self.colour.lower()
            painter.setPen(pen(self.theme.rust if same else self.theme.rule, 2.0 if same else 1.0))
            painter.setBrush(QColor(colour))
            painter.drawRoundedRect(self.at(i).adjusted(2.5, 2.5, -2.5, -2.5), 4.0, 4.0)
        if self.hasFocus():
            painter.setPen(pen(self.theme.rust, 1.0, (2.0, 2.0)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))


class Swatches(QWidget):
    """A name, the colours that teams have, and a field; says `chosen(colour)`, such as #2a2b2d."""

    chosen = Signal(str)

    def __init__(self, label: str, theme: Theme) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        name = Label(label)
        name.setProperty("role", "words")
        name.setFixedWidth(46)
        row.addWidget(name)
        self.row = ColourRow(theme)
        self.row.setAccessibleName(f"{label}: colour")
        self.row.chosen.connect(self.chosen)
        row.addWidget(self.row)
        row.addStretch(1)
        self.field = QLineEdit()
        self.field.setFixedWidth(68)
        self.field.setAccessibleName(f"{label}: colour, typed")
        self.field.setToolTip("A colour like #2a2b2d")
        self.field.editingFinished.connect(self._typed)
        row.addWidget(self.field)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def set_colour(self, colour: str) -> None:
        """Show which colour it is; says nothing."""
        if colour != self.row.colour:
            self.row.colour = colour
            names = {c: n for n, c in COLOURS}
            self.row.setAccessibleDescription(names.get(colour, colour))
            self.row.update()
        if not self.field.hasFocus() or is_colour(self.field.text()):
            self.field.setText(colour)

    def _typed(self) -> None:
        text = self.field.text().strip()
        text = text if text.startswith("#") else f"#{text}"
        if is_colour(text) and text.lower() != self.row.colour.lower():
            self.chosen.emit(text.lower())
        elif not is_colour(text):
            self.field.setText(self.row.colour)
