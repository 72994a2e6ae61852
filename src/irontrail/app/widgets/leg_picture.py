"""A leg of a trip as a small picture: what the robot does in it, driving upward."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.picture_button import PictureButton

SAYS = {
    "follow": "Follow the line, until something ends it.",
    "straight": "Drive straight on, until something ends it.",
    "turn": "Turn on the spot or about a wheel, by an angle or until the line is seen.",
    "creep": "Creep up to a dark line: the darker the light reads, the slower, and stop on it.",
    "wait": "Stand and wait for a time, or for the button.",
}


def draw_leg(painter: QPainter, theme: Theme, room: QRectF, kind: str, turn_deg: float = 90.0) -> None:
    """A leg's picture in a room: its way in rust, and the tape that it needs in ink."""
    painter.save()
    side = min(room.width(), room.height())
    painter.translate(room.center())
    painter.scale(side / 24.0, side / 24.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    tape, way = pen(theme.ink, 4.0), pen(theme.rust, 1.8)
    tape.setCapStyle(Qt.PenCapStyle.FlatCap)
    path = QPainterPath()
    if kind == "follow":
        painter.setPen(tape)
        painter.drawLine(QPointF(2.5, 11.0), QPointF(2.5, -11.0))
        path.moveTo(0.0, 11.0)
        path.cubicTo(-6.0, 6.0, 5.0, 1.0, -1.0, -3.0)
        path.cubicTo(-3.0, -5.0, 0.0, -7.0, 0.0, -10.0)
    elif kind == "straight":
        path.moveTo(0.0, 11.0)
        path.lineTo(0.0, -10.0)
    elif kind == "turn":
        # An arc from where it points, which is up, to where it turns; more than once round is shown as nearly once.
        angle = max(min(turn_deg, 330.0), -330.0)
        path.arcMoveTo(QRectF(-8.0, -8.0, 16.0, 16.0), 90.0)
        path.arcTo(QRectF(-8.0, -8.0, 16.0, 16.0), 90.0, angle)
        painter.setPen(pen(theme.ink, 1.2))
        painter.drawEllipse(QPointF(0.0, 0.0), 1.6, 1.6)
    elif kind == "creep":
        painter.setPen(tape)
        painter.drawLine(QPointF(-9.0, -9.0), QPointF(9.0, -9.0))
        painter.setPen(way)
        for y in (10.0, 3.5, -1.5, -5.0):
            painter.drawLine(QPointF(-3.0, y), QPointF(3.0, y))
    else:
        painter.setPen(pen(theme.rust, 2.6))
        for x in (-3.5, 3.5):
            painter.drawLine(QPointF(x, 7.0), QPointF(x, -7.0))
    if not path.isEmpty():
        painter.setPen(way)
        painter.drawPath(path)
        _draw_tip(painter, theme, path)
    painter.restore()


def _draw_tip(painter: QPainter, theme: Theme, path: QPainterPath) -> None:
    """The point of an arrow at the end of a way."""
    at, angle = path.currentPosition(), path.angleAtPercent(1.0)
    painter.save()
    painter.translate(at)
    painter.rotate(-angle)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.rust))
    tip = QPainterPath(QPointF(4.0, 0.0))
    for x, y in ((-3.0, 3.4), (-3.0, -3.4)):
        tip.lineTo(x, y)
    tip.closeSubpath()
    painter.drawPath(tip)
    painter.restore()


class LegButton(PictureButton):
    """A kind of leg over its name; pressed, it is put in."""

    def __init__(self, kind: str, theme: Theme) -> None:
        super().__init__(kind, theme, 56)
        self.kind = kind
        self.setCheckable(False)
        self.setAccessibleName(f"put in a leg: {kind}")
        self.setToolTip(f"{SAYS[kind]} It is put in after the chosen leg.")

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        draw_leg(painter, self.theme, room, self.kind)
