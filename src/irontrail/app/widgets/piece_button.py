"""A piece of tape to lay, as a small picture."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QTransform

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.painting import polygon
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke, Wiggle

# What is drawn of each: one or two lines of pieces.
_HALF = Straight(50.0)
PICTURES: dict[str, tuple[tuple[Piece, ...], ...]] = {
    "straight": ((Straight(100.0),),),
    "bend left": ((Straight(20.0), Bend(50.0, 90.0)),),
    "bend right": ((Straight(20.0), Bend(50.0, -90.0)),),
    "corner": ((Straight(60.0), Corner(90.0), Straight(50.0)),),
    "wiggle": ((Wiggle(2, 14.0, 60.0),),),
    "gap": ((Straight(40.0), Gap(20.0), Straight(40.0)),),
    "fork": ((Straight(40.0), Bend(60.0, 45.0), Straight(20.0)), (Straight(40.0), Bend(60.0, -45.0), Straight(20.0))),
    "crossing": ((_HALF, _HALF), (_HALF, Corner(90.0), Straight(30.0)), (_HALF, Corner(-90.0), Straight(30.0))),
}  # fmt: skip
LARGEST_PX_PER_MM = 0.32


class PieceButton(PictureButton):
    """A kind of piece over its name; pressed, it is laid."""

    def __init__(self, kind: str, theme: Theme) -> None:
        super().__init__(kind, theme, 52)
        self.kind = kind
        self.setCheckable(False)
        self.setAccessibleName(f"lay a {kind}")
        self.setToolTip(f"Lay a {kind} after the chosen piece")

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        path = QPainterPath()
        for pieces in PICTURES[self.kind]:
            route = stroke_route(Stroke(0.0, 0.0, 0.0, pieces), self.kind)
            ends = [0.0, *(place for gap in route.gaps for place in gap), route.length_mm]
            for start, end in zip(ends[::2], ends[1::2], strict=True):
                here = (route.s_mm >= start) & (route.s_mm <= end)
                path.addPolygon(polygon(route.x_mm[here], route.y_mm[here]))
        box = path.boundingRect()
        scale = min(room.width() / max(box.width(), 1.0), room.height() / max(box.height(), 1.0), LARGEST_PX_PER_MM)
        middle = box.center()
        to_px = QTransform(
            scale, 0.0, 0.0, -scale, room.center().x() - scale * middle.x(), room.center().y() + scale * middle.y()
        )
        made = pen(self.theme.ink, 4.0)
        made.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(made)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(to_px.map(path))
