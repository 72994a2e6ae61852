"""A dial: one number that can be dragged, typed, nudged, halved and doubled."""

import math

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import (
    QAccessible,
    QColor,
    QEnterEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.dial_face import HEIGHT, TRACK_Y, DialFace
from irontrail.app.widgets.figure_editor import FigureEditor
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_shift
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import HANDLE_RADIUS
from irontrail.core.capital import capital
from irontrail.core.quantity import Quantity

DIAL_KEYS = "Drag it, type a figure, or use the arrows; / halves and * doubles."


class Dial(Keyed, Described, QWidget):
    """Shows a value of some quantity on a track; says `edited(value, settled)`.

    Parameters
    ----------
    quantity : Quantity
        Unit, range, nudge and figures.
    low, high : float
        The stretch of the range that the track covers, in the stored unit; a value beyond it can be typed.
    """

    edited = Signal(float, bool)
    ROLE = QAccessible.Role.Slider
    WHERE = "On a dial"
    KEYS = (
        Key(ARROWS, "a nudge up or down", lambda dial, name: dial.nudge(_sign(name))),
        Key(with_shift(ARROWS), "ten nudges", lambda dial, name: dial.nudge(10.0 * _sign(name))),
        Key(("PgUp", "PgDown"), "ten nudges", lambda dial, name: dial.nudge(10.0 if name == "PgUp" else -10.0)),
        Key(("Home", "End"), "to either end of the track", lambda dial, name: dial.to_end(name == "End")),
        Key(("/", "*"), "halve, double", lambda dial, name: dial.scale(0.5 if name == "/" else 2.0)),
        Key(("Return",), "type a figure; Esc leaves it as it was", lambda dial, _: dial.start_typing()),
    )

    def __init__(self, quantity: Quantity, theme: Theme, low: float, high: float, label: str = "") -> None:
        super().__init__()
        self.quantity = quantity
        self.theme = theme
        self.value = low
        self.kept: float | None = None
        self._low, self._high = low, high
        self._label = capital(label or quantity.label)
        self._held = False
        self._hovered = False
        self._editor: FigureEditor | None = None
        # What a value does not change is drawn once.
        self._still = Layer(self._draw_still)
        self._still_of: tuple[object, ...] = ()
        self.setFixedHeight(HEIGHT)
        # Or the sheets under it would be painted with it at each move of a hand.
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setToolTip(f"{quantity.says} {DIAL_KEYS}".strip())
        self._describe()

    def sizeHint(self) -> QSize:
        return QSize(280, HEIGHT)

    def set_value(self, value: float) -> None:
        """Show a value; says nothing."""
        if value != self.value:
            self.value = value
            self._describe()
            self.update()

    def set_track(self, low: float, high: float) -> None:
        """Have the track cover another range, in the stored unit."""
        if (low, high) != (self._low, self._high):
            self._low, self._high = low, high
            self.update()

    def set_label(self, label: str) -> None:
        """Call it something else."""
        if capital(label) != self._label:
            self._label = capital(label)
            self._describe()
            self.update()

    def set_kept(self, value: float | None) -> None:
        """Mark the value of the kept run on the track, or none."""
        if value != self.kept:
            self.kept = value
            self.update()

    @property
    def face(self) -> DialFace:
        """Where its parts are."""
        return DialFace(self.theme, self.quantity, self._label, self.width(), self._low, self._high)

    # --- editing

    def edit_to(self, value: float, settled: bool = True) -> None:
        """Take a value by hand: held inside the physical range, shown, and told."""
        value = self.quantity.clamped(value)
        if value != self.value or settled:
            self.set_value(value)
            self.edited.emit(value, settled)

    def nudge(self, steps: float) -> None:
        """Change by so many nudges, landing on whole ones."""
        moved = self.value + steps * self.quantity.step
        self.edit_to(self.face.on_grid(moved))

    def to_end(self, high: bool) -> None:
        """Go to an end of the track."""
        self.edit_to(self._high if high else self._low)

    def scale(self, factor: float) -> None:
        """Multiply: people tune by halving and doubling."""
        self.edit_to(self.value * factor)

    def start_typing(self, text: str = "") -> None:
        """Put a field in the figure's place."""
        self.finish_typing(False)
        shown = text or self.quantity.shown(self.value).replace("−", "-")
        editor = FigureEditor(shown, f"{self._label}, typed", self.face.figure.toRect(), self)
        editor.setModified(bool(text))
        if not text:
            editor.selectAll()
        editor.done.connect(self.finish_typing)
        self._editor = editor
        editor.show()
        editor.setFocus()
        self.update()

    def finish_typing(self, take: bool) -> None:
        """Close the field; take what stands in it if it is a number."""
        editor, self._editor = self._editor, None
        if editor is None:
            return
        had_focus, text, value = editor.hasFocus(), editor.text(), editor.read(self.quantity)
        editor.hide()
        editor.deleteLater()
        if had_focus:
            self.setFocus()
        self.update()
        if not take or not editor.isModified():
            # What has only been looked at stays, to the last figure.
            return
        if value is None:
            self._tell(f"“{text}” is not a number; {self._label.lower()} stays as it was.")
            return
        inside = self.quantity.clamped(value)
        if inside != value:
            self._tell(
                f"{self._label} goes from {self.quantity.shown(self.quantity.low)} to "
                f"{self.quantity.in_unit(self.quantity.high)}: set to "
                f"{self.quantity.shown(inside)}."
            )
        self.edit_to(inside)

    def _tell(self, text: str) -> None:
        QToolTip.showText(self.mapToGlobal(self.face.figure.bottomLeft().toPoint()), text, self)
        self.setAccessibleDescription(text)

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        if self._buttons_shown() and self.face.halve.contains(at):
            self.scale(0.5)
        elif self._buttons_shown() and self.face.double.contains(at):
            self.scale(2.0)
        elif at.y() < TRACK_Y - HANDLE_RADIUS - 2 and self.face.figure.contains(at):
            self.start_typing()
        elif at.y() >= TRACK_Y - HANDLE_RADIUS - 4:
            self._held = True
            self.edit_to(self.face.value_at(at.x()), settled=False)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self.edit_to(self.face.value_at(event.position().x()), settled=False)
        over_figure = self.face.figure.contains(event.position())
        self.setCursor(Qt.CursorShape.IBeamCursor if over_figure else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held and event.button() == Qt.MouseButton.LeftButton:
            self._held = False
            self.edited.emit(self.value, True)
            self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if not self.hasFocus():
            event.ignore()
            return
        notches = event.angleDelta().y() / 120.0
        fold = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        if notches:
            self.nudge(math.copysign(max(1.0, abs(round(notches))), notches) * fold)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.take_key(event):
            return
        if event.text() and event.text() in "0123456789.,-":
            self.start_typing(event.text())
        else:
            super().keyPressEvent(event)

    def enterEvent(self, event: QEnterEvent) -> None:
        self._hovered = True
        self.update()
        super().enterEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self._hovered = False
        self.update()
        super().leaveEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        self.update()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.update()
        super().focusOutEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        if self._editor is not None:
            self._editor.setGeometry(self.face.figure.toRect())
        super().resizeEvent(event)

    # --- painting

    def _buttons_shown(self) -> bool:
        return (self._hovered or self.hasFocus()) and self._editor is None

    def _describe(self) -> None:
        self.setAccessibleName(f"{self._label} {self.value_told()}")
        self.tell()

    def name_told(self) -> str:
        return self._label

    def value_told(self) -> str:
        return self.quantity.in_unit(self.value)

    def range_told(self) -> tuple[float, float, float, float]:
        quantity, per = self.quantity, self.quantity.shown_per_stored
        return self.value * per, quantity.low * per, quantity.high * per, quantity.step * per

    def take_told(self, value: float) -> None:
        self.edit_to(value / self.quantity.shown_per_stored)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, face = QPainter(self), self.face
        key = (face, self._buttons_shown(), self.theme.name, self.devicePixelRatioF())
        if key != self._still_of:
            self._still_of = key
            self._still.forget()
        self._still.paint(painter, self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        face.draw_figure(painter, self.value)
        face.draw_track(painter, self.value, self.kept, self.isEnabled(), self.hasFocus(), self._held)

    def _draw_still(self, painter: QPainter) -> None:
        painter.fillRect(self.rect(), QColor(self.theme.sheet))
        self.face.draw_still(painter, self._buttons_shown())


def _sign(name: str) -> float:
    """Up and right are more."""
    return sum(way(name))
