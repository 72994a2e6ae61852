"""The strip: lanes of the run under the mat, all over one axis, with one cursor through them all."""

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QGraphicsView, QSizePolicy

from irontrail.app.theme import KEPT_DASHES, Theme
from irontrail.app.widgets.strip_overlay import StripOverlay
from irontrail.app.widgets.strip_picture import LANES, Floats, Lane, StripPicture, StripRun

LABEL_WIDTH = 104
RIGHT_MARGIN = 14
AXIS_HEIGHT = 20
LETTERS_HEIGHT = 16
# Heights that a lane's half range may take, so that it does not jitter while a dial is dragged.
ROUND_RANGES = (5.0, 10.0, 20.0, 30.0, 50.0, 75.0, 100.0, 150.0, 200.0, 300.0, 500.0, 1000.0)
# Share of its lane that a curve leaves free above and below.
PADDING = 0.08


class Strip(pg.GraphicsView):
    """Shows a picture and a cursor; says `sought(row)` when pressed or dragged."""

    sought = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.picture: StripPicture | None = None
        self._zoomed: tuple[float, float] | None = None
        self.cursor_at = 0.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setAccessibleName("Strip: reading, steer, wheel powers and distance from the edge along the run")
        self.viewport().setFocusPolicy(Qt.FocusPolicy.NoFocus)
        # One paint for each picture, asked for when it is whole: left to itself the scene asks for two.
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.NoViewportUpdate)
        layout = pg.GraphicsLayout()
        layout.setContentsMargins(LABEL_WIDTH, LETTERS_HEIGHT, RIGHT_MARGIN, AXIS_HEIGHT)
        layout.setSpacing(0)
        self.setCentralItem(layout)
        self._boxes: list[pg.ViewBox] = []
        self._curves: list[dict[str, pg.PlotCurveItem]] = []
        self._kept_curves: list[list[pg.PlotCurveItem]] = []
        self._kept_drawn: dict[tuple[int, int], tuple[object, ...]] = {}
        self._ground_drawn: tuple[object, ...] = ()
        for row, lane in enumerate(LANES):
            box = layout.addViewBox(row=row, col=0, enableMenu=False, enableMouse=False)
            box.setDefaultPadding(0.0)
            self._boxes.append(box)
            self._curves.append({name: pg.PlotCurveItem() for name in lane.columns})
            self._kept_curves.append([])
            for curve in self._curves[row].values():
                curve.setZValue(10)
                box.addItem(curve)
        self._overlay = StripOverlay(self)
        self.set_theme(theme)

    def sizeHint(self) -> QSize:
        return QSize(856, 270)

    # --- what is shown

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        self.theme = theme
        self.setBackground(QColor(theme.desk))
        for curves in self._curves:
            for column, curve in curves.items():
                curve.setPen(pg.mkPen(theme.ink if column == "right_power" else theme.rust, width=1))
        if self.picture is not None:
            self.set_picture(self.picture)

    def set_picture(self, picture: StripPicture) -> None:
        """Show another run."""
        old, self.picture = self.picture, picture
        if old is None or old.by_place != picture.by_place:
            self._zoomed = None
        for row in range(len(LANES)):
            for name, curve in self._curves[row].items():
                curve.setData(self._x_of(picture.run), picture.run.columns[name], antialias=True)
            low, high = self.range_of(row)
            pad = PADDING * (high - low)
            self._boxes[row].setYRange(low - pad, high + pad, padding=0)
        self._apply_span()

    def set_cursor(self, row: int) -> None:
        """Put the cursor at a row of the trace."""
        if self.picture is None:
            return
        x = self._x_of(self.picture.run)
        self.cursor_at = float(x[min(row, x.size - 1)])
        self._overlay.move_cursor()

    def range_of(self, row: int) -> tuple[float, float]:
        """Least and greatest value of a lane."""
        lane, picture = LANES[row], self.picture
        if lane.range is not None or picture is None:
            return lane.range or (0.0, 1.0)
        runs = (picture.run, *picture.kept)
        most = max(run.reach[name] for run in runs for name in lane.columns)
        high = next((each for each in ROUND_RANGES if each >= most), most)
        lowest = min(run.least[name] for run in runs for name in lane.columns)
        return (0.0 if lowest >= 0.0 else -high), high

    def span(self) -> tuple[float, float]:
        """The stretch of the axis that is shown, in metres or seconds."""
        return self._zoomed or self._whole_span()

    def zoom(self, factor: float, about: float | None = None) -> None:
        """Show a stretch `factor` times as long about a place of the axis; never more than the whole run."""
        low, high = self.span()
        whole = self._whole_span()
        middle = about if about is not None else (low + high) / 2
        length = min((high - low) * factor, whole[1] - whole[0])
        start = middle - (middle - low) / (high - low) * length
        start = min(max(start, whole[0]), whole[1] - length)
        self._zoomed = (start, start + length) if length < whole[1] - whole[0] else None
        self._apply_span()

    def show_all(self) -> None:
        """Show the whole run."""
        self._zoomed = None
        self._apply_span()

    def ground_key(self) -> tuple[object, ...]:
        """All that names, axis and shades depend on: while it is the same they are not drawn again."""
        picture = self.picture
        if picture is None:
            return ()
        ranges = tuple(self.range_of(row) for row in range(len(LANES)))
        bends = tuple(self.bends_on_axis())
        return self.span(), ranges, bends, picture.target, picture.by_place, self.theme.name, self.size().toTuple()

    def _set_kept(self, row: int, lane: Lane, picture: StripPicture) -> None:
        """One dashed curve for each kept run's first column."""
        curves, box = self._kept_curves[row], self._boxes[row]
        while len(curves) < len(picture.kept):
            curves.append(pg.PlotCurveItem())
            box.addItem(curves[-1])
        while len(curves) > len(picture.kept):
            box.removeItem(curves.pop())
        for i, run in enumerate(picture.kept):
            place = len(picture.kept) - 1 - i
            drawn = (run, place, self.span(), self.width(), self.theme.name, picture.by_place)
            if self._kept_drawn.get((row, i)) == drawn:
                continue
            self._kept_drawn[row, i] = drawn
            colour = QColor(self.theme.kept[place % len(self.theme.kept)])
            colour.setAlphaF(0.6)
            curves[i].setPen(pg.mkPen(colour, width=1))
            x, y = self._x_of(run), run.columns[lane.columns[0]]
            curves[i].setData(x, y, connect=self._dashed(x, place), antialias=False)

    def _dashed(self, x: Floats, place: int) -> NDArray[np.int32]:
        """Which points are joined to the next: dashes by place cost nothing, a dashed pen a great deal."""
        on, off, *more = KEPT_DASHES[place % len(KEPT_DASHES)]
        low, high = self.span()
        px = (x - low) / (high - low) * max(self.width() - LABEL_WIDTH - RIGHT_MARGIN, 1)
        phase = np.mod(px, on + off + sum(more))
        joined = phase < on
        if more:
            joined |= (phase >= on + off) & (phase < on + off + more[0])
        return np.asarray(joined, np.int32)

    def _x_of(self, run: StripRun) -> Floats:
        return run.place_m if self.picture is None or self.picture.by_place else run.time_s

    def _whole_span(self) -> tuple[float, float]:
        if self.picture is None:
            return 0.0, 1.0
        runs = (self.picture.run, *self.picture.kept)
        if self.picture.by_place:
            return 0.0, self.picture.length_m
        return 0.0, max(float(run.time_s[-1]) for run in runs) or 1.0

    def _apply_span(self) -> None:
        low, high = self.span()
        for row, (box, lane) in enumerate(zip(self._boxes, LANES, strict=True)):
            box.setXRange(low, high, padding=0)
            if self.picture is not None:
                self._set_kept(row, lane, self.picture)
        ground = self.ground_key()
        if ground != self._ground_drawn:
            self._ground_drawn = ground
            self.resetCachedContent()
            self._overlay.forget()
        self.viewport().update()

    # --- geometry

    def plot_rect(self) -> QRectF:
        """Where the curves are."""
        width, height = self.width() - LABEL_WIDTH - RIGHT_MARGIN, self.height() - AXIS_HEIGHT - LETTERS_HEIGHT
        return QRectF(LABEL_WIDTH, LETTERS_HEIGHT, max(width, 1), max(height, 1))

    def lane_rect(self, row: int) -> QRectF:
        """Where one lane's curves are."""
        plot = self.plot_rect()
        height = plot.height() / len(LANES)
        return QRectF(plot.left(), plot.top() + row * height, plot.width(), height)

    def x_px(self, value: float) -> float:
        """Where a place of the axis is drawn."""
        low, high = self.span()
        plot = self.plot_rect()
        return plot.left() + (value - low) / (high - low) * plot.width()

    def value_at(self, x: float) -> float:
        """The place of the axis under a pixel."""
        low, high = self.span()
        plot = self.plot_rect()
        return low + (x - plot.left()) / plot.width() * (high - low)

    def bends_on_axis(self) -> list[tuple[str, float, float]]:
        """The bends as they stand on the axis: by place, or when the run was in them."""
        picture = self.picture
        if picture is None:
            return []
        if picture.by_place:
            return list(picture.bends)
        reached = np.maximum.accumulate(picture.run.place_m)
        return [
            (name, *(float(t) for t in np.interp((start, end), reached, picture.run.time_s)))  # type: ignore[misc]
            for name, start, end in picture.bends
            if start < reached[-1]
        ]

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._seek(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._seek(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        event.accept()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self.show_all()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom(0.998 ** event.angleDelta().y(), self.value_at(event.position().x()))
        event.accept()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if hasattr(self, "_overlay"):
            self._overlay.setGeometry(self.viewport().rect())
            self._apply_span()

    def _seek(self, at: QPointF) -> None:
        if self.picture is not None:
            x = np.maximum.accumulate(self._x_of(self.picture.run))
            row = int(np.searchsorted(x, self.value_at(at.x())))
            self.sought.emit(min(max(row, 0), x.size - 1))

    # --- painting under the curves

    def drawBackground(self, painter: QPainter, rect: QRectF) -> None:  # noqa: N802
        super().drawBackground(painter, rect)
        theme, plot = self.theme, self.plot_rect()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        shade = QColor(theme.ink)
        shade.setAlphaF(0.055)
        for _, start, end in self.bends_on_axis():
            left, right = max(self.x_px(start), plot.left()), min(self.x_px(end), plot.right())
            if right >= left:
                painter.fillRect(QRectF(left, 0.0, max(right - left, 2.0), plot.bottom()), shade)
        for row, lane in enumerate(LANES):
            box = self.lane_rect(row)
            painter.setPen(QColor(theme.rule))
            painter.drawLine(QPointF(0.0, box.bottom()), QPointF(self.width(), box.bottom()))
            centre = self.picture.target if lane.name == "reading" and self.picture else 0.0
            low, high = self.range_of(row)
            if low < centre < high:
                painter.setPen(
                    QPen(QColor(theme.brass if lane.name == "reading" else theme.rule), 1.0, Qt.PenStyle.DashLine)
                )
                y = self._y_px(row, centre)
                painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))

    def _y_px(self, row: int, value: float) -> float:
        box, (low, high) = self.lane_rect(row), self.range_of(row)
        pad = PADDING * (high - low)
        return box.bottom() - (value - low + pad) / (high - low + 2 * pad) * box.height()
