"""The patch the sensor sees, magnified: the mat under it, how much each place counts, and what comes of it."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QPaintEvent, QRadialGradient

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.picture import Picture
from irontrail.core.mat.reflectance import srgb

HEIGHT = 148
# The patch is drawn this many of its standard deviations wide to either side.
REACH = 4.0


def mat_image(raster: NDArray[np.float32]) -> QImage:
    """The mat's linear light as a picture, row 0 at the bottom turned to the top."""
    rgb = np.ascontiguousarray((srgb(raster)[::-1] * 255.0 + 0.5).astype(np.uint8))
    rows, columns, _ = rgb.shape
    return QImage(rgb.data, columns, rows, 3 * columns, QImage.Format.Format_RGB888).copy()


class PatchPicture(Picture):
    """The mat round the probe at the left, the figures of the reading at the right."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "What the sensor sees under it", HEIGHT)
        self._mat: NDArray[np.float32] | None = None
        self._at = QPointF()
        self._sigma_mm = 4.5
        self.figure = ""
        self.lines: tuple[str, ...] = ()

    def set_patch(self, mat: NDArray[np.float32], x_mm: float, y_mm: float, sigma_mm: float) -> None:
        """Look at a place of a mat's raster (linear light, a millimetre a point, bottom row first)."""
        self._mat, self._at, self._sigma_mm = mat, QPointF(x_mm, y_mm), sigma_mm
        self.update()

    def set_words(self, figure: str, lines: tuple[str, ...]) -> None:
        """The reading, large, and what belongs to it."""
        self.figure, self.lines = figure, lines
        self.setAccessibleDescription(", ".join((figure, *lines)))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side = HEIGHT - 4.0
        room = QRectF(2.0, 2.0, side, side)
        if self._mat is not None:
            self._paint_patch(painter, room, self._mat)
        left = room.right() + 16.0
        painter.setPen(QColor(theme.ink))
        painter.setFont(font(34, True))
        painter.drawText(QRectF(left, 6.0, self.width() - left, 44.0), Qt.AlignmentFlag.AlignVCenter, self.figure)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second))
        for i, words in enumerate(self.lines):
            painter.drawText(
                QRectF(left, 54.0 + 18.0 * i, self.width() - left, 18.0), Qt.AlignmentFlag.AlignVCenter, words
            )

    def _paint_patch(self, painter: QPainter, room: QRectF, mat: NDArray[np.float32]) -> None:
        scale = room.width() / (2.0 * REACH * self._sigma_mm)
        frame = QPainterPath()
        frame.addRoundedRect(room, 6.0, 6.0)
        painter.save()
        painter.setClipPath(frame)
        painter.fillRect(room, QColor(self.theme.desk))
        painter.translate(room.center())
        painter.scale(scale, scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        # Only what is in sight is turned into colours: the whole mat would take a tenth of a second.
        reach = int(REACH * self._sigma_mm) + 3
        rows, columns = mat.shape[:2]
        left, right = (min(max(int(self._at.x()) + by, 0), columns) for by in (-reach, reach))
        low, high = (min(max(int(self._at.y()) + by, 0), rows) for by in (-reach, reach))
        if right > left and high > low:
            seen = QRectF(left - self._at.x(), self._at.y() - high, right - left, high - low)
            painter.drawImage(seen, mat_image(mat[low:high, left:right]))
        painter.restore()
        painter.save()
        painter.setClipPath(frame)
        # What counts little is veiled: the weight falls as the patch's Gaussian does.
        veil = QRadialGradient(room.center(), room.width() / 2.0)
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            weight = 2.718281828 ** (-0.5 * (share * REACH) ** 2)
            veil.setColorAt(share, fade(self.theme.desk, 0.82 * (1.0 - weight)))
        painter.fillRect(room, veil)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for sigmas, width in ((1.0, 1.8), (2.0, 1.0)):
            painter.setPen(pen(self.theme.rust, width))
            away = sigmas * self._sigma_mm * scale
            painter.drawEllipse(room.center(), away, away)
        painter.setPen(pen(self.theme.rule, 1.0))
        painter.drawRoundedRect(room, 6.0, 6.0)
        bar = 10.0 * scale
        at = QPointF(room.left() + 8.0, room.bottom() - 9.0)
        painter.setPen(pen(self.theme.ink, 2.0))
        painter.drawLine(at, at + QPointF(bar, 0.0))
        painter.setFont(font(10))
        painter.drawText(at + QPointF(0.0, -4.0), "10 mm")
