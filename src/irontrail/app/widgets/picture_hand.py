"""A picture of a mat on the table: its corners and a known length are dragged, and the line found in it is shown."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, Theme, font, pen
from irontrail.app.widgets.keys import ARROWS, Key, way, with_shift
from irontrail.app.widgets.mat_hand import MatHand, Touch
from irontrail.app.widgets.painting import draw_handle, polygon
from irontrail.core.mat.perspective import mapped, to_mat
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat

Floats = NDArray[np.float64]

GRAB_PX = 15.0
# What an arrow key moves a handle by, as a share of the picture's longer side.
KEY_SHARE = 0.002


class PictureHand(MatHand):
    """Lies over the mat while a picture is being worked on.

    Says `moved(corners, ends, settled)` (pixels of the picture, shapes (4, 2) and (2, 2)), and `picked(colour)` for a
    press while `picking`.
    """

    moved = Signal(object, object, bool)
    picked = Signal(str)
    WHERE = "On the mat, over a picture of it"
    KEYS = (
        Key(("PgUp", "PgDown"), "a corner or an end", lambda hand, name: hand.choose(1 if name == "PgDown" else -1)),
        Key(with_shift(ARROWS), "move it", lambda hand, name: hand.shift(*way(name))),
        Key(("Return",), "pick the colour under it", lambda hand, _: hand.pick_here()),
    )
    covers = True

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.picking = False
        self.chosen = 0
        self._picture: NDArray[np.uint8] | None = None
        self._image = QImage()
        self._room = (2000.0, 1000.0)
        self.corners = np.zeros((4, 2))
        self.ends = np.zeros((2, 2))
        self._size = (2000.0, 1000.0)
        self._found: Mat | None = None
        self._held: int | None = None

    def set_picture(self, picture: NDArray[np.uint8], room_mm: tuple[float, float]) -> None:
        """Lay a picture (rows from the top, sRGB) where the mat of such a size is looked at."""
        self._picture, self._room = np.ascontiguousarray(picture), room_mm
        rows, columns = picture.shape[:2]
        self._image = QImage(self._picture.data, columns, rows, 3 * columns, QImage.Format.Format_RGB888)
        self.chosen, self._found = 0, None
        self.changed.emit()

    def set_places(self, corners: Floats, ends: Floats, size_mm: tuple[float, float], found: Mat | None) -> None:
        """Show the corners, the known length's ends, and the mat found between them, of such a size."""
        self.corners, self.ends, self._size, self._found = corners, ends, size_mm, found
        self.changed.emit()

    # --- geometry

    def to_mm(self) -> QTransform:
        """From the picture's pixels (y down) to where it lies on the table (y up)."""
        wide, high = max(self._image.width(), 1), max(self._image.height(), 1)
        scale = min(self._room[0] / wide, self._room[1] / high)
        left, low = 0.5 * (self._room[0] - scale * wide), 0.5 * (self._room[1] - scale * high)
        return QTransform(scale, 0.0, 0.0, -scale, left, low + scale * high)

    def handles(self) -> list[QPointF]:
        """The four corners and the two ends, on the table."""
        to_mm = self.to_mm()
        return [to_mm.map(QPointF(*place)) for place in np.concatenate((self.corners, self.ends))]

    def _at(self, touch: Touch) -> QPointF:
        return self.to_mm().inverted()[0].map(touch.mm)

    # --- the pointer

    def grips(self, touch: Touch) -> bool:
        if self._picture is None:
            return False
        if self.picking:
            self._pick(self._at(touch))
            return True
        near = [touch.px_to(place.x(), place.y()) for place in self.handles()]
        nearest = int(np.argmin(near))
        self._held = nearest if near[nearest] <= GRAB_PX else None
        if self._held is None:
            return False
        self.chosen = self._held
        self.changed.emit()
        return True

    def drag(self, touch: Touch) -> None:
        if self._held is not None:
            at = self._at(touch)
            self._move(self._held, at.x(), at.y(), False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if self._held is not None and dragged:
            at = self._at(touch)
            self._move(self._held, at.x(), at.y(), True)
        self._held = None
        self.changed.emit()

    def _move(self, which: int, x: float, y: float, settled: bool) -> None:
        x = min(max(x, 0.0), float(self._image.width()))
        y = min(max(y, 0.0), float(self._image.height()))
        places = np.concatenate((self.corners, self.ends))
        places[which] = (x, y)
        self.moved.emit(places[:4], places[4:], settled)

    def _pick(self, at: QPointF) -> None:
        if self._picture is None:
            return
        i, j = int(at.x()), int(at.y())
        part = self._picture[max(j - 2, 0) : j + 3, max(i - 2, 0) : i + 3].reshape(-1, 3)
        if part.size:
            red, green, blue = np.median(part, axis=0).astype(int)
            self.picked.emit(f"#{red:02x}{green:02x}{blue:02x}")

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        if self.picking:
            return Qt.CursorShape.CrossCursor
        near = min((touch.px_to(place.x(), place.y()) for place in self.handles()), default=np.inf)
        return Qt.CursorShape.SizeAllCursor if near <= GRAB_PX else None

    def choose(self, step: int) -> None:
        """Have the keys move another corner or end."""
        self.chosen = (self.chosen + step) % 6
        self.changed.emit()

    def shift(self, right: float, up: float) -> None:
        """Move the chosen corner or end over the picture."""
        step = max(KEY_SHARE * max(self._image.width(), self._image.height()), 1.0)
        x, y = np.concatenate((self.corners, self.ends))[self.chosen]
        self._move(self.chosen, x + step * right, y - step * up, True)

    def pick_here(self) -> bool:
        """Take the colour under the chosen end, if a colour is being picked."""
        if not self.picking:
            return False
        self._pick(QPointF(*np.concatenate((self.corners, self.ends))[self.chosen]))
        return True

    # --- drawing

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:
        if self._picture is None:
            return
        painter.fillRect(painter.viewport(), QColor(theme.desk))
        whole = self.to_mm() * to_px
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setTransform(whole, True)
        painter.drawImage(QRectF(self._image.rect()), self._image)
        painter.restore()
        places = [to_px.map(place) for place in self.handles()]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(LIGHT.card, 3.5))
        painter.drawPolygon(QPolygonF(places[:4]))
        painter.setPen(pen(LIGHT.rust, 1.6))
        painter.drawPolygon(QPolygonF(places[:4]))
        if self._found is not None:
            self._draw_found(painter, self._found, whole)
        painter.setPen(pen(LIGHT.card, 4.0))
        painter.drawLine(places[4], places[5])
        painter.setPen(pen(LIGHT.slate, 2.0))
        painter.drawLine(places[4], places[5])
        self._draw_word(painter, (places[4] + places[5]) / 2.0, "known length")
        for i, place in enumerate(places):
            draw_handle(painter, LIGHT, place, i in (self._held, self.chosen), 6.0)

    def _draw_found(self, painter: QPainter, found: Mat, whole: QTransform) -> None:
        """The tape that was found, laid back into the picture."""
        back = np.linalg.inv(to_mat(self.corners, *self._size)).astype(np.float64)
        for stroke in found.lines:
            route = stroke_route(stroke, found.name)
            way = mapped(back, np.column_stack((route.x_mm, route.y_mm)))
            line = whole.map(polygon(way[:, 0], way[:, 1]))
            painter.setPen(pen(LIGHT.card, 4.5))
            painter.drawPolyline(line)
            painter.setPen(pen(LIGHT.rust, 2.2))
            painter.drawPolyline(line)

    def _draw_word(self, painter: QPainter, at: QPointF, word: str) -> None:
        painter.setFont(font(11, True))
        box = QRectF(at.x() - 48.0, at.y() - 26.0, 96.0, 18.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(LIGHT.card))
        painter.drawRoundedRect(box, 4.0, 4.0)
        painter.setPen(QColor(LIGHT.slate))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)
