"""The strip: lanes of the run under the mat, all over one axis, with one cursor through them all.

Painted here rather than by a plotting library: it stands on screen before anything else is shown and is painted
anew at every move of a dial, and shades, letters, dashes and cursor are its own anyway.
"""

import numpy as np
from PySide6.QtCore import QPointF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import KEPT_DASHES, Theme, fade, pen
from irontrail.app.widgets.painting import polygon
from irontrail.app.widgets.strip_axis import StripAxis, whole_span
from irontrail.app.widgets.strip_ground import draw_ground
from irontrail.app.widgets.strip_picture import LANES, StripPicture, StripRun

KEPT_OPACITY = 0.6
CURSOR_PX = 4


class Strip(QWidget):
    """Shows a picture and a cursor; says `sought(row)` when pressed or dragged."""

    sought = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.picture: StripPicture | None = None
        self.axis: StripAxis | None = None
        self._zoomed: tuple[float, float] | None = None
        self._row = 0
        self._ground: QPixmap | None = None
        self._ground_of: tuple[object, ...] = ()
        self._curves: QPixmap | None = None
        self.setFixedHeight(270)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Strip: reading, steer, wheel powers and distance from the edge along the run")

    def sizeHint(self) -> QSize:
        return QSize(856, 270)

    # --- what is shown

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        self.theme = theme
        self._lay_out()

    def set_picture(self, picture: StripPicture) -> None:
        """Show another run."""
        old, self.picture = self.picture, picture
        if old is None or old.by_place != picture.by_place:
            self._zoomed = None
        self._lay_out()

    def set_cursor(self, row: int) -> None:
        """Put the cursor at a row of the trace; only its old and its new columns are painted."""
        before, self._row = self._cursor_px(), row
        for x in (before, self._cursor_px()):
            if x is not None:
                self.update(int(x) - CURSOR_PX, 0, 2 * CURSOR_PX + 1, self.height())

    def zoom(self, factor: float, about: float) -> None:
        """Show a stretch `factor` times as long about a place of the axis; never more than the whole run."""
        if self.picture is None or self.axis is None:
            return
        low, high, whole = self.axis.low, self.axis.high, whole_span(self.picture)
        length = min((high - low) * factor, whole[1] - whole[0])
        start = about - (about - low) / (high - low) * length
        start = min(max(start, whole[0]), whole[1] - length)
        self._zoomed = (start, start + length) if length < whole[1] - whole[0] else None
        self._lay_out()

    def show_all(self) -> None:
        """Show the whole run."""
        self._zoomed = None
        self._lay_out()

    def lane_line(self, row: int, run: StripRun, column: str) -> QPolygonF:
        """A run's curve in a lane, in pixels."""
        if self.axis is None:
            return QPolygonF()
        x, y = self.axis.x_px(self.axis.x_of(run)), self.axis.y_px(row, run.columns[column])
        return polygon(np.asarray(x), np.asarray(y))

    def _lay_out(self) -> None:
        if self.picture is None:
            self.update()
            return
        self.axis = StripAxis.of(self.picture, QSizeF(self.size()), self._zoomed)
        self._curves = None
        self.update()

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._seek(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._seek(event.position())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self.show_all()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.axis is not None:
            self.zoom(0.998 ** event.angleDelta().y(), self.axis.value_at(event.position().x()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._lay_out()
        super().resizeEvent(event)

    def _seek(self, at: QPointF) -> None:
        if self.picture is not None and self.axis is not None:
            x = np.maximum.accumulate(self.axis.x_of(self.picture.run))
            row = int(np.searchsorted(x, self.axis.value_at(at.x())))
            self.sought.emit(min(max(row, 0), x.size - 1))

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.picture is None or self.axis is None:
            painter.fillRect(self.rect(), QColor(self.theme.desk))
            return
        if self._curves is None:
            self._curves = self._draw_curves(self.picture, self.axis)
        painter.setClipRect(event.rect())
        painter.drawPixmap(0, 0, self._curves)
        x = self._cursor_px()
        if x is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(QColor(self.theme.ink), 1.4))
            painter.drawLine(QPointF(x, 0.0), QPointF(x, self.axis.plot.bottom()))

    def _cursor_px(self) -> float | None:
        if self.picture is None or self.axis is None:
            return None
        along = self.axis.x_of(self.picture.run)
        x = float(self.axis.x_px(float(along[min(self._row, along.size - 1)])))
        plot = self.axis.plot
        return x if plot.left() <= x <= plot.right() else None

    def _blank(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        pixmap = QPixmap(self.size() * ratio)
        pixmap.setDevicePixelRatio(ratio)
        return pixmap

    def _draw_curves(self, picture: StripPicture, axis: StripAxis) -> QPixmap:
        """The whole strip but for the cursor; the part that does not change with the run is kept."""
        key = (axis, self.theme.name, picture.kept)
        if self._ground is None or key != self._ground_of:
            self._ground, self._ground_of = self._draw_ground(picture, axis), key
        curves = self._ground.copy()
        painter = QPainter(curves)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for row, lane in enumerate(LANES):
            painter.setClipRect(axis.lane(row))
            for column in lane.columns:
                painter.setPen(pen(self.theme.ink if column == "right_power" else self.theme.rust))
                painter.drawPolyline(self.lane_line(row, picture.run, column))
        painter.end()
        return curves

    def _draw_ground(self, picture: StripPicture, axis: StripAxis) -> QPixmap:
        """Names, axis, shades, and the first curve of each lane of every kept run, oldest first."""
        ground = self._blank()
        painter = QPainter(ground)
        draw_ground(painter, self.theme, axis)
        for i, run in enumerate(picture.kept):
            place = (len(picture.kept) - 1 - i) % len(KEPT_DASHES)
            made = pen(self.theme.kept[place], 1.0, KEPT_DASHES[place])
            made.setColor(fade(self.theme.kept[place], KEPT_OPACITY))
            painter.setPen(made)
            for row, lane in enumerate(LANES):
                painter.setClipRect(axis.lane(row))
                painter.drawPolyline(self.lane_line(row, run, lane.columns[0]))
        painter.end()
        return ground
