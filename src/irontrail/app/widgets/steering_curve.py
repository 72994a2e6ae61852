"""The steering curve: across, the reading or the error; up, the power of each wheel. What can be a handle is one."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
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
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.curve_picture import CurvePicture
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_shift
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import HANDLE_RADIUS, corners, draw_handle, draw_ring
from irontrail.core.steering.law import Handle

LEFT_MARGIN, RIGHT_MARGIN, TOP_MARGIN, BOTTOM_MARGIN = 30.0, 14.0, 10.0, 32.0
GRAB_PX = 12.0
BINS = 50
# Where along the readings the lines' names may stand, as shares, the best first.
NAMES_AT = (0.68, 0.86, 0.32, 0.14)
NAME_PX = 14.0
# Share of the height that the highest bar of the histogram takes.
HISTOGRAM_SHARE = 0.22


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
        self._backdrop = Layer(self._draw_backdrop)
        self._backdrop_of: tuple[object, ...] = ()
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
        self.update()

    def set_rings(self, rings: tuple[tuple[str, float], ...]) -> None:
        """Mark readings that something is said of, by number."""
        if self.picture is not None and rings != self.picture.rings:
            self.picture = replace(self.picture, rings=rings)
            self.update()

    def set_now(self, reading: float, left: float, right: float) -> None:
        """Show where the robot is now."""
        self.now = (reading, left, right)
        self.update()

    # --- geometry

    def _plot(self) -> QRectF:
        return QRectF(self.rect()).adjusted(LEFT_MARGIN, TOP_MARGIN, -RIGHT_MARGIN, -BOTTOM_MARGIN)

    def _low(self) -> float:
        return self.picture.low_power if self.picture else 0.0

    def _span(self) -> tuple[float, float]:
        return self.picture.span if self.picture else (0.0, 100.0)

    def place_of(self, reading: float, power: float) -> QPointF:
        """Where a point of the curve is drawn."""
        plot, low = self._plot(), self._low()
        least, most = self._span()
        return QPointF(
            plot.left() + plot.width() * (reading - least) / (most - least),
            plot.bottom() - plot.height() * (power - low) / (100.0 - low),
        )

    def point_at(self, at: QPointF) -> tuple[float, float]:
        """The reading and power at a place."""
        plot, low = self._plot(), self._low()
        least, most = self._span()
        reading = least + (most - least) * (at.x() - plot.left()) / plot.width()
        power = low + (100.0 - low) * (plot.bottom() - at.y()) / plot.height()
        return reading, power

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
        key = (
            self.picture.target,
            self.picture.target_name,
            self.picture.span,
            self.picture.sides,
            self._low(),
            self.theme.name,
            self.size(),
            self.devicePixelRatioF(),
        )
        if key != self._backdrop_of:
            # Drawn anew only when one of these changes, not with a gain.
            self._backdrop_of = key
            self._backdrop.forget()
        self._backdrop.paint(painter, self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_clipped(painter, self.picture)
        self._paint_histogram(painter, self.picture)
        self._paint_wheels(painter, self.picture)
        self._paint_rings(painter, self.picture)
        self._paint_handles(painter, self.picture)
        if self.now is not None:
            self._paint_now(painter, *self.now)

    def _draw_backdrop(self, painter: QPainter) -> None:
        """The sides, the axes and all their words."""
        painter.fillRect(self.rect(), QColor(self.theme.sheet))
        if self.picture is not None:
            self._paint_sides(painter, self.picture)
            self._paint_axes(painter, self.picture)

    def _paint_sides(self, painter: QPainter, picture: CurvePicture) -> None:
        theme, plot = self.theme, self._plot()
        target = self.place_of(picture.target, 0.0).x()
        painter.fillRect(QRectF(plot.left(), plot.top(), target - plot.left(), plot.height()), QColor(theme.slate_wash))
        painter.fillRect(QRectF(target, plot.top(), plot.right() - target, plot.height()), QColor(theme.brass_wash))

    def _paint_clipped(self, painter: QPainter, picture: CurvePicture) -> None:
        """A bar over the readings where a wheel is wanted beyond its limit."""
        plot, clipped = self._plot(), picture.clipped
        if clipped.any():
            edges = np.flatnonzero(np.diff(np.concatenate(([0], clipped.astype(int), [0]))))
            for start, end in zip(edges[::2], edges[1::2], strict=True):
                left = self.place_of(float(picture.reading[start]), 0.0).x()
                right = self.place_of(float(picture.reading[end - 1]), 0.0).x()
                bar = QRectF(left, plot.top() - 5.0, max(right - left, 2.0), 5.0)
                painter.fillRect(bar, QColor(self.theme.rust))

    def _paint_histogram(self, painter: QPainter, picture: CurvePicture) -> None:
        if not picture.readings.size:
            return
        least, most = picture.span
        places = np.clip(((picture.readings - least) * (BINS / (most - least))).astype(int), 0, BINS - 1)
        counts = np.bincount(places, minlength=BINS)
        plot, width = self._plot(), self._plot().width() / BINS
        # The square root keeps rare readings visible beside the many near the target.
        heights = np.sqrt(counts / counts.max()) * HISTOGRAM_SHARE * plot.height()
        bars = [
            QRectF(plot.left() + i * width, plot.bottom() - height, width - 0.8, height)
            for i, height in enumerate(heights.tolist())
        ]
        first_light = int(np.ceil((picture.target - least) * BINS / (most - least) - 0.5))
        painter.setPen(Qt.PenStyle.NoPen)
        for colour, some in ((self.theme.slate, bars[:first_light]), (self.theme.brass, bars[first_light:])):
            painter.setBrush(fade(colour, 0.33))
            painter.drawRects(some)

    def _paint_axes(self, painter: QPainter, picture: CurvePicture) -> None:
        theme, plot = self.theme, self._plot()
        painter.setFont(font(10))
        powers = [p for p in (-100, -50, 0, 50, 100) if p >= self._low()]
        for power in powers:
            y = self.place_of(0.0, power).y()
            painter.setPen(QColor(theme.rule))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            painter.setPen(QColor(theme.second))
            box = QRectF(0, y - 8, LEFT_MARGIN - 5, 16)
            text = str(power).replace("-", "−")
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        target = self.place_of(picture.target, 0.0).x()
        for reading in np.linspace(*picture.span, 5):
            x = self.place_of(reading, 0.0).x()
            painter.setPen(QColor(theme.second))
            words = picture.shown(reading) if picture.of_error else f"{reading:g}"
            painter.drawText(QRectF(x - 20, plot.bottom() + 3, 40, 12), Qt.AlignmentFlag.AlignCenter, words)
        painter.setPen(pen(theme.brass_text, 1.3, (4.0, 3.0)))
        painter.drawLine(QPointF(target, plot.top()), QPointF(target, plot.bottom()))
        painter.setPen(QColor(theme.brass_text))
        painter.setFont(font(10, True))
        text = "error 0" if picture.of_error else f"{picture.target_name} {picture.target:.3g}"
        centre = min(max(target, plot.left() + 96), plot.right() - 96)
        low = plot.bottom() + 16
        painter.drawText(QRectF(centre - 60, low, 120, 14), Qt.AlignmentFlag.AlignCenter, text)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.slate))
        painter.drawText(QRectF(plot.left(), low, 110, 14), Qt.AlignmentFlag.AlignLeft, picture.sides[0])
        painter.setPen(QColor(theme.brass_text))
        painter.drawText(QRectF(plot.right() - 110, low, 110, 14), Qt.AlignmentFlag.AlignRight, picture.sides[1])

    def _paint_wheels(self, painter: QPainter, picture: CurvePicture) -> None:
        theme = self.theme
        for name, powers, other, colour in (
            ("right", picture.right, picture.left, theme.ink),
            ("left", picture.left, picture.right, theme.rust),
        ):
            line = QPolygonF([self.place_of(r, p) for r, p in zip(*corners(picture.reading, powers), strict=True)])
            painter.setPen(pen(colour, 1.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(line)
            painter.setFont(font(11, True))
            painter.setPen(QColor(colour))
            painter.drawText(self._name_rect(picture.reading, powers, other), Qt.AlignmentFlag.AlignCenter, name)

    def _name_rect(
        self, reading: NDArray[np.float64], powers: NDArray[np.float64], other: NDArray[np.float64]
    ) -> QRectF:
        """Where a line's name has room: over it where it is the upper of the two, else under it."""
        plot = self._plot()
        rect = QRectF()
        for share in NAMES_AT:
            i = int(share * (reading.size - 1))
            place = self.place_of(float(reading[i]), float(powers[i]))
            upper = powers[i] >= other[i]
            rect = QRectF(place.x() - 20, place.y() + (-18 - NAME_PX if upper else 18), 40, NAME_PX)
            if rect.top() >= plot.top() and rect.bottom() <= plot.bottom() and powers[i] != other[i]:
                return rect
        rect.moveTop(min(max(rect.top(), plot.top()), plot.bottom() - NAME_PX))
        return rect

    def _is_clipped_at(self, at: QPointF) -> bool:
        """Whether a wheel is wanted beyond its limit at the reading under a place."""
        if self.picture is None or not self._plot().contains(at):
            return False
        i = int(np.argmin(np.abs(self.picture.reading - self.point_at(at)[0])))
        return bool(self.picture.clipped[i])

    def _paint_handles(self, painter: QPainter, picture: CurvePicture) -> None:
        for i, handle in enumerate(picture.handles):
            place = self.place_of(handle.reading, handle.power)
            if self.hasFocus() and i == self._focused:
                painter.setPen(QPen(QColor(self.theme.rust), 1.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(place, HANDLE_RADIUS + 3.5, HANDLE_RADIUS + 3.5)
            draw_handle(painter, self.theme, place, handle.name == self._held)

    def _paint_rings(self, painter: QPainter, picture: CurvePicture) -> None:
        plot = self._plot()
        for number, reading in picture.rings:
            x = min(max(self.place_of(reading, 0.0).x(), plot.left() + 10.0), plot.right() - 10.0)
            # Those about the same readings stand one under the other.
            above = sum(other < number and abs(at - reading) < 8.0 for other, at in picture.rings)
            draw_ring(painter, self.theme, QPointF(x, plot.top() + 12.0 + 20.0 * above), number)

    def _paint_now(self, painter: QPainter, reading: float, left: float, right: float) -> None:
        for power in (left, right):
            painter.setPen(QPen(QColor(self.theme.sheet), 1.5))
            painter.setBrush(QColor(self.theme.ink))
            painter.drawEllipse(self.place_of(reading, power), 4.0, 4.0)
