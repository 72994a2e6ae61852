"""The robot from above, to scale, in its own millimetres: x ahead, y to the left, the axle's middle at 0."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from irontrail.app.theme import Theme, fade
from irontrail.core.robot.mount import Mount, Robot

TYRE_MM = 16.0


@dataclass(frozen=True)
class Eye:
    """A second sensor as it is drawn: its mount, the standard deviation of its patch, and what it sees."""

    mount: Mount
    spot_mm: float
    light_side: bool | None = None


def draw_robot(
    painter: QPainter,
    theme: Theme,
    robot: Robot,
    spot_mm: float,
    light_side: bool | None,
    px_per_mm: float,
    second: Eye | None = None,
) -> None:
    """Draw with the painter already in robot coordinates (y to the left is up).

    The sensor is told by the side that decides: a filled slate disc on the dark side, an open brass ring on the
    light side; of two, each by what it sees itself. `spot_mm` is the standard deviation of the patch it sees.
    """
    half, wheel = robot.drive.track_width_mm / 2, robot.drive.wheel_diameter_mm
    eyes = [Eye(robot.mount, spot_mm, light_side), *([second] if second is not None else [])]
    line = 1.4 / px_per_mm
    ink, card = QColor("#23272B"), QColor("#FFFDF8")

    painter.setPen(QPen(ink, 5.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    for eye in eyes:
        painter.drawLine(QPointF(0.0, 0.0), QPointF(eye.mount.ahead_mm, eye.mount.aside_mm))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    for side in (-1.0, 1.0):
        painter.drawRoundedRect(QRectF(-wheel / 2, side * half - TYRE_MM / 2, wheel, TYRE_MM), 4.0, 4.0)
    painter.setPen(QPen(ink, line))
    painter.setBrush(card)
    body_half = half - TYRE_MM / 2 - 3.0
    painter.drawRoundedRect(QRectF(-wheel * 0.75, -body_half, wheel * 1.45, 2 * body_half), 12.0, 12.0)
    painter.setPen(QPen(fade("#23272B", 0.35), line))
    painter.drawLine(QPointF(0.0, -body_half), QPointF(0.0, body_half))
    nose = wheel * 0.7 - 9.0
    painter.drawPolyline([QPointF(nose - 7, 8.0), QPointF(nose, 0.0), QPointF(nose - 7, -8.0)])

    for eye in eyes:
        _draw_eye(painter, theme, eye, px_per_mm)


def _draw_eye(painter: QPainter, theme: Theme, eye: Eye, px_per_mm: float) -> None:
    sensor, card, light_side = QPointF(eye.mount.ahead_mm, eye.mount.aside_mm), QColor("#FFFDF8"), eye.light_side
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(fade(theme.rust, 0.22))
    painter.drawEllipse(sensor, 2.0 * eye.spot_mm, 2.0 * eye.spot_mm)
    radius = max(5.0, 3.6 / px_per_mm)
    if light_side:
        painter.setPen(QPen(QColor(LIGHT_RING), radius * 0.6))
        painter.setBrush(card)
        painter.drawEllipse(sensor, radius * 0.8, radius * 0.8)
    else:
        painter.setPen(QPen(card, radius * 0.3))
        painter.setBrush(QColor(DARK_DISC if light_side is False else theme.rust))
        painter.drawEllipse(sensor, radius, radius)


# The mat is as bright in the dark theme as in the light one, so its pair of side colours is the light theme's.
LIGHT_RING = "#B07D16"
DARK_DISC = "#2E4C78"
