"""The strip: lanes of the run under the mat, all over one axis, with one cursor through them all.

Painted here rather than by a plotting library: it stands on screen before anything else is shown and is painted
anew at every move of a dial, and shades, letters, dashes and cursor are its own anyway.
"""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QAccessible,
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way, with_shift
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import draw_focus
from irontrail.app.widgets.strip_axis import StripAxis, whole_span
from irontrail.app.widgets.strip_curves import curves_of, kept_curves_of
from irontrail.app.widgets.strip_ground import draw_ground, draw_names, names_of
from irontrail.app.widgets.strip_picture import StripPicture
from irontrail.app.widgets.strip_span import Span, draw_span
from irontrail.app.widgets.strokes import Stroke

CURSOR_PX = 4
USUAL_HEIGHT = 270


class Strip(Keyed, Described, QWidget):
    """Shows a picture and a cursor.

    Says `sought(row)` when pressed or dragged, `glanced(row)` while the pointer is over it and -1 when it leaves, and
    `stepped(loops)` for its arrow keys. Dragged with Shift it marks a span and measures it.
    """

    sought = Signal(int)
    glanced = Signal(int)
    stepped = Signal(int)
    ROLE = QAccessible.Role.Chart
    WHERE = "On the strip"
    KEYS = (
        Key(("Left", "Right"), "a loop back or on", lambda strip, name: strip.stepped.emit(int(way(name)[0]))),
        Key(with_shift(("Left", "Right")), "ten loops", lambda strip, name: strip.stepped.emit(int(10 * way(name)[0]))),
        Key(
            ("Ctrl+Left", "Ctrl+Right"),
            "move the stretch that is shown",
            lambda strip, name: strip.pan_by(way(name)[0]),
        ),
        Key(("+", "=", "-"), "zoom about the cursor", lambda strip, name: strip.zoom_about(name == "-")),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.picture: StripPicture | None = None
        self.axis: StripAxis | None = None
        self._zoomed: tuple[float, float] | None = None
        self.row = 0
        self._names = Layer(self._draws(draw_names))
        self._names_of: tuple[object, ...] = ()
        self._ground = Layer(self._draws(draw_ground), under=self._names)
        self._ground_of: tuple[object, ...] = ()
        self._kept = Layer(under=self._ground, lines=lambda: self._lines(kept_curves_of))
        self._curves = Layer(under=self._kept, lines=lambda: self._lines(curves_of))
        self.marks: tuple[int, int] | None = None
        self._panning: float | None = None
        self.setMouseTracking(True)
        self.setFixedHeight(USUAL_HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("The run along its way: press to go to a moment, drag with Shift to measure.")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Strip: reading, steer, wheel powers and distance from the edge along the run")

    def sizeHint(self) -> QSize:
        return QSize(856, USUAL_HEIGHT)

    # --- what is shown

    def changeEvent(self, event: QEvent) -> None:
        """What was drawn in another theme is drawn anew."""
        if event.type() == QEvent.Type.StyleChange:
            self._lay_out()
        super().changeEvent(event)

    def set_picture(self, picture: StripPicture) -> None:
        """Show another run."""
        old, self.picture = self.picture, picture
        if old is None or old.by_place != picture.by_place:
            self._zoomed = None
        if self.marks is not None:
            last = picture.run.time_s.size - 1
            self.marks = (min(self.marks[0], last), min(self.marks[1], last))
        self._lay_out()

    def draw_ahead(self, bends: tuple[tuple[str, float, float], ...], length_m: float) -> None:
        """Draw what the run along another line will lie on: it is on its way. By time, that depends on the run."""
        if self.picture is not None and self.picture.by_place and not self.picture.legs:
            self.picture = replace(self.picture, bends=bends, length_m=length_m)
            self._look_anew()
            self._curves.begin(self)

    def begin_run(self) -> None:
        """Take back the run's curves: another one is on its way. If this is painted before, they are laid once more."""
        if self.picture is not None:
            self._curves.forget()
            self._curves.begin(self)

    def set_cursor(self, row: int) -> None:
        """Put the cursor at a row of the trace; only its old and its new columns are painted."""
        before, self.row = self._cursor_px(), row
        self.tell()
        for x in (before, self._cursor_px()):
            if x is not None:
                self.update(int(x) - CURSOR_PX, 0, 2 * CURSOR_PX + 1, self.height())

    def zoom(self, factor: float, about: float) -> None:
        """Show a stretch `factor` times as long about a place of the axis; never more than the whole run."""
        if self.picture is None or self.axis is None:
            return
        self._zoomed = self.axis.zoomed(factor, about, whole_span(self.picture))
        self._lay_out()

    def pan(self, by: float) -> None:
        """Move the stretch that is shown along the axis, as far as the run goes."""
        if self.picture is None or self.axis is None or self._zoomed is None:
            return
        self._zoomed = self.axis.panned(by, whole_span(self.picture))
        self._lay_out()

    def pan_by(self, way_on: float) -> None:
        """Move the stretch that is shown a fifth of its length on or back."""
        if self.axis is not None:
            self.pan(0.2 * way_on * (self.axis.high - self.axis.low))

    def zoom_about(self, out: bool) -> None:
        """Zoom in or out about the cursor."""
        self.zoom(1.25 if out else 0.8, self._cursor_value())

    def value_told(self) -> str:
        """The cursor's moment, what each lane shows there, and what is measured."""
        if self.picture is None:
            return ""
        run, row = self.picture.run, min(self.row, self.picture.run.time_s.size - 1)
        said = [f"{run.time_s[row]:.2f} s"]
        for lane in self.picture.lanes:
            known = [float(run.columns[column][row]) for column in lane.columns]
            values = ", ".join(f"{value:.1f}" if value == value else "not known" for value in known)
            said.append(f"{lane.name} {values}")
        span = self.measured()
        return "; ".join(said) + (f"; {span.says()}" if span else "")

    def mark(self) -> None:
        """Mark the cursor's moment: the first mark, the second, then none again."""
        if self.marks is None:
            self.set_marks((self.row, self.row))
        elif self.marks[0] == self.marks[1] and self.row != self.marks[0]:
            self.set_marks((self.marks[0], self.row))
        else:
            self.set_marks(None)

    def set_marks(self, marks: tuple[int, int] | None) -> None:
        """Measure between two rows, or nowhere."""
        self.marks = marks
        span = self.measured()
        self.setAccessibleDescription(span.says() if span else "")
        self.update()

    def measured(self) -> Span | None:
        """What lies between the marks."""
        if self.marks is None or self.picture is None:
            return None
        return Span.of(self.picture.run, *sorted(self.marks))

    def show_all(self) -> None:
        """Show the whole run."""
        self._zoomed = None
        self._lay_out()

    def _lay_out(self) -> None:
        self._look_anew()
        self.update()

    def _look_anew(self) -> None:
        """What has changed is drawn anew when it is next shown."""
        if self.picture is None:
            return
        self.axis = StripAxis.of(self.picture, QSizeF(self.size()), self._zoomed)
        # What lies under the curves is drawn anew only when it changes, not with the run.
        look = (self.theme.name, self.size(), self.devicePixelRatioF())
        names, key = (names_of(self.axis), look), (self.axis, self.picture.kept, look)
        if names != self._names_of:
            self._names_of = names
            self._names.forget()
        if key != self._ground_of:
            self._ground_of = key
            self._ground.forget()
            self._kept.forget()
        self._curves.forget()

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = self.row_at(event.position())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = event.position().x()
        elif row is not None and event.button() == Qt.MouseButton.LeftButton:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self.set_marks((row, row))
            else:
                self.sought.emit(row)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        row = self.row_at(event.position())
        if self._panning is not None and self.axis is not None:
            here = event.position().x()
            self.pan(self.axis.value_at(self._panning) - self.axis.value_at(here))
            self._panning = here
        elif row is None:
            return
        elif not event.buttons() & Qt.MouseButton.LeftButton:
            self.glanced.emit(row)
        elif self.marks is not None and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.set_marks((self.marks[0], row))
            self.glanced.emit(row)
        else:
            self.sought.emit(row)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self._panning = None

    def leaveEvent(self, event: QEvent) -> None:
        self.glanced.emit(-1)
        super().leaveEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self.show_all()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.axis is None:
            return
        turned = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier or abs(turned.x()) > abs(turned.y()):
            self.pan(-0.001 * (turned.x() or turned.y()) * (self.axis.high - self.axis.low))
        else:
            self.zoom(0.998 ** turned.y(), self.axis.value_at(event.position().x()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._lay_out()
        super().resizeEvent(event)

    def row_at(self, at: QPointF) -> int | None:
        """The row of the trace under a place."""
        if self.picture is None or self.axis is None:
            return None
        x = np.maximum.accumulate(self.axis.x_of(self.picture.run))
        row = int(np.searchsorted(x, self.axis.value_at(at.x())))
        return min(max(row, 0), x.size - 1)

    def _cursor_value(self) -> float:
        """Where the cursor is on the axis."""
        if self.picture is None or self.axis is None:
            return 0.0
        along = self.axis.x_of(self.picture.run)
        return float(along[min(self.row, along.size - 1)])

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.picture is None or self.axis is None:
            painter.fillRect(self.rect(), QColor(self.theme.desk))
            return
        painter.setClipRect(event.rect())
        self._curves.paint(painter, self)
        span = self.measured()
        if span is not None:
            draw_span(painter, self.theme, self.axis, span)
        x = self._cursor_px()
        if x is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(QColor(self.theme.ink), 1.4))
            painter.drawLine(QPointF(x, 0.0), QPointF(x, self.axis.plot.bottom()))
        if self.hasFocus():
            draw_focus(painter, self.theme, self.rect())

    def _cursor_px(self) -> float | None:
        if self.picture is None or self.axis is None:
            return None
        x = float(self.axis.x_px(self._cursor_value()))
        plot = self.axis.plot
        return x if plot.left() <= x <= plot.right() else None

    def _lines(self, curves: Callable[[StripAxis, StripPicture, Theme], list[Stroke]]) -> list[Stroke]:
        """Curves as they are laid out now."""
        if self.picture is None or self.axis is None:
            return []
        return curves(self.axis, self.picture, self.theme)

    def _draws(self, part: Callable[[QPainter, Theme, StripAxis], None]) -> Callable[[QPainter], None]:
        """What draws a part of what lies under the curves."""

        def draw(painter: QPainter) -> None:
            if self.axis is not None:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
                part(painter, self.theme, self.axis)

        return draw
