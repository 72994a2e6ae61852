"""A ready mat to choose, as a small picture."""

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import Theme
from irontrail.app.widgets.label import plain_tip
from irontrail.app.widgets.laid_tape import draw_tape
from irontrail.app.widgets.mat_ground import draw_surface
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core.mat.tape import Mat


class MatThumbnail(PictureButton):
    """A mat to scale over its name."""

    def __init__(self, mat: Mat, theme: Theme) -> None:
        super().__init__(mat.name, theme, 76)
        self.mat = mat
        self.setAccessibleName(f"mat {mat.name}")
        self.setToolTip(plain_tip(f"Put the mat {mat.name} on the table"))

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        scale = min(room.width() / self.mat.width_mm, room.height() / self.mat.height_mm)
        left = room.center().x() - scale * self.mat.width_mm / 2
        low = room.center().y() + scale * self.mat.height_mm / 2
        to_px = QTransform(scale, 0.0, 0.0, -scale, left, low)
        draw_surface(painter, self.theme, self.mat, to_px)
        draw_tape(painter, self.mat, to_px)
