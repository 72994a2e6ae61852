"""The steering curve: across, the reading or the error; up, the power of each wheel. What can be a handle is one."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QAccessible,
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.curve_drawing import Bars, CurveDrawing
from irontrail.app.widgets.curve_picture import CurvePicture
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_shift
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import HANDLE_RADIUS, draw_handle
from irontrail.app.widgets.strokes import Stroke
from irontrail.core.steering.law import Handle

GRAB_PX = 12.0
CURVE_TIP = "What each wheel does at each reading: drag a ring, or choose one with Page Up and move it with the arrows."


class SteeringCurveView(Keyed, Described, QWidget):
    """Draws the curve; says `dragged(handle, reading, power, settled)` and `nudged(handle, by reading, by power)`."""

    dragged = Signal(str, float, float, bool)
    nudged = Signal(str, float, float)
    ROLE = QAccessible.Role.Chart
    WHERE = "On the steering curve"
    KEYS = (
        Key(("PgUp", "PgDown"), "choose a handle", lambda view, name: view.choose(1 if name == "PgDown" else -1)),
        Key(ARROWS, "move it", lambda view, name: view.nudge(1.0, *way(name))),
        Key(with_shift(ARROWS), "move it tenfold", lambda view, name: view.nudge(10.0, *way(name))),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.picture: CurvePicture | None = None
        self.now: tuple[float, float, float] | None = None
        self._held = ""
        self._focused = 0
        self._backdrop = Layer(self._draws(CurveDrawing.draw_backdrop))
        self._readings = Layer(self._draws(CurveDrawing.draw_readings), under=self._backdrop, lines=self._bars)
        self._run = Layer(self._draws(CurveDrawing.draw_notes), under=self._readings, lines=self._wheels)
        self._backdrop_of: tuple[object, ...] = ()
        self._made: CurveDrawing | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(170)
        self.setMaximumHeight(270)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Steering curve: wheel powers over the reading")
        self.setToolTip(CURVE_TIP)

    def sizeHint(self) -> QSize:
        return QSize(300, 246)

    def set_picture(self, picture: CurvePicture) -> None:
        """Show another curve; the scale stays as it is while a handle is held, so that none slips from the pointer."""
        if self._held and self.picture is not None:
            picture = replace(picture, low_power=self.picture.low_power)
        self.picture = picture
        self._focused = min(self._focused, len(picture.handles) - 1)
        self._readings.forget()
        self._run.forget()
        self.update()

    def set_rings(self, rings: tuple[tuple[str, float], ...]) -> None:
        """Mark readings that something is said of, by number."""
        if self.picture is not None and rings != self.picture.rings:
            self.picture = replace(self.picture, rings=rings)
            self._run.forget()
            self.update()

    def set_now(self, reading: float, left: float, right: float) -> None:
        """Show where the robot is now."""
        self.now = (reading, left, right)
        self.update()

    # --- geometry

    def _drawing(self, picture: CurvePicture) -> CurveDrawing:
        if self._made is None or self._made.picture is not picture:
            self._made = CurveDrawing(picture, self.theme, QRectF(self.rect()))
        return self._made

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._made = None
        super().resizeEvent(event)

    def place_of(self, reading: float, power: float) -> QPointF:
        """Where a point of the curve is drawn."""
        return self._drawing(self.picture).place_of(reading, power) if self.picture is not None else QPointF()

    def point_at(self, at: QPointF) -> tuple[float, float]:
        """The reading and power at a place."""
        return self._drawing(self.picture).point_at(at) if self.picture is not None else (0.0, 0.0)

    def handle_at(self, at: QPointF) -> Handle | None:
        """The nearest handle within reach; else the target's line, which is one all along."""
        if self.picture is None:
            return None
        best, best_px = None, GRAB_PX
        for handle in self.picture.handles:
            place = self.place_of(handle.reading, handle.power)
            away = float(np.hypot(place.x() - at.x(), place.y() - at.y()))
            if away < best_px:
                best, best_px = handle, away
        if best is None and abs(self.place_of(self.picture.target, 0.0).x() - at.x()) < 6.0:
            return Handle("target", self.picture.target_name, self.picture.target, 0.0, "reading")
        return best

    def _is_clipped_at(self, at: QPointF) -> bool:
        """Whether a wheel is wanted beyond its limit at the reading under a place."""
        if self.picture is None or not self._drawing(self.picture).plot.contains(at):
            return False
        i = int(np.argmin(np.abs(self.picture.reading - self.point_at(at)[0])))
        return bool(self.picture.clipped[i])

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        handle = self.handle_at(event.position())
        if handle is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held = handle.name
            names = [each.name for each in self.picture.handles] if self.picture else []
            self._focused = names.index(handle.name) if handle.name in names else self._focused
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self.dragged.emit(self._held, *self.point_at(event.position()), False)
            return
        handle = self.handle_at(event.position())
        shapes = {
            "power": Qt.CursorShape.SizeVerCursor,
            "reading": Qt.CursorShape.SizeHorCursor,
            "both": Qt.CursorShape.SizeAllCursor,
        }
        self.setCursor(shapes[handle.moves] if handle else Qt.CursorShape.ArrowCursor)
        clipped = "clipped: a wheel is wanted beyond 100 %" if self._is_clipped_at(event.position()) else ""
        self.setToolTip(handle.label if handle else clipped or CURVE_TIP)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            name, self._held = self._held, ""
            self.dragged.emit(name, *self.point_at(event.position()), True)
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def choose(self, step: int) -> bool:
        """Choose the next handle, or the one before; whether there are any."""
        if self.picture is None or not self.picture.handles:
            return False
        self._focused = (self._focused + step) % len(self.picture.handles)
        self.setAccessibleDescription(self.picture.handles[self._focused].label)
        self.tell()
        self.update()
        return True

    def nudge(self, fold: float, right: float, up: float) -> bool:
        """Move the chosen handle, if there is one."""
        if self.picture is None or not self.picture.handles:
            return False
        self.nudged.emit(self.picture.handles[self._focused].name, fold * right, fold * up)
        return True

    def value_told(self) -> str:
        """The target, and where the chosen handle is."""
        if self.picture is None:
            return ""
        said = f"{self.picture.target_name} {self.picture.target:.0f}" if not self.picture.of_error else "even: error 0"
        if not self.picture.handles:
            return said
        handle = self.picture.handles[self._focused]
        over = "error" if self.picture.of_error else "reading"
        return f"{said}; {handle.label} at {over} {self.picture.shown(handle.reading)}, power {handle.power:.0f} %"

    def focusInEvent(self, event: QFocusEvent) -> None:
        self.update()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.update()
        super().focusOutEvent(event)

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        if self.picture is None:
            painter.fillRect(self.rect(), QColor(self.theme.sheet))
            return
        key = (*self._drawing(self.picture).backdrop_of(), self.devicePixelRatioF())
        if key != self._backdrop_of:
            self._backdrop_of = key
            for layer in (self._backdrop, self._readings, self._run):
                layer.forget()
        self._run.paint(painter, self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_handles(painter, self.picture)
        if self.now is not None:
            self._paint_now(painter, *self.now)

    def _draws(self, part: Callable[[CurveDrawing, QPainter], None]) -> Callable[[QPainter], None]:
        """What draws a part of the picture there is."""
        return lambda painter: part(self._drawing(self.picture), painter) if self.picture is not None else None

    def _bars(self) -> list[Bars]:
        return self._drawing(self.picture).bars() if self.picture is not None else []

    def _wheels(self) -> list[Stroke]:
        return self._drawing(self.picture).wheels() if self.picture is not None else []

    def _paint_handles(self, painter: QPainter, picture: CurvePicture) -> None:
        for i, handle in enumerate(picture.handles):
            place = self.place_of(handle.reading, handle.power)
            if self.hasFocus() and i == self._focused:
                painter.setPen(QPen(QColor(self.theme.rust), 1.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(place, HANDLE_RADIUS + 3.5, HANDLE_RADIUS + 3.5)
            draw_handle(painter, self.theme, place, handle.name == self._held)

    def _paint_now(self, painter: QPainter, reading: float, left: float, right: float) -> None:
        for power in (left, right):
            painter.setPen(QPen(QColor(self.theme.sheet), 1.5))
            painter.setBrush(QColor(self.theme.ink))
            painter.drawEllipse(self.place_of(reading, power), 4.0, 4.0)
