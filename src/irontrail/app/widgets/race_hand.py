"""Other robots in a race, and what each stretch won or lost, drawn on the mat."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QObject, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, Theme, font, pen
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.widgets.mat_scene import KEPT_ON_MAT
from irontrail.core.robot.mount import Robot


@dataclass(frozen=True)
class Racer:
    """A robot in the race: its number, pose (mm, rad), and the place of its colour among the kept runs."""

    number: str
    robot: Robot
    x_mm: float
    y_mm: float
    heading: float
    colour: int


@dataclass(frozen=True, eq=False)
class Won:
    """A stretch of the way, as points on the mat (mm), and how much longer the other took there (s)."""

    way: QPolygonF
    time_s: float


class RaceHand(MatHand):
    """Holds nothing; draws racers, or stretches won and lost."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.racers: tuple[Racer, ...] = ()
        self.stretches: tuple[Won, ...] = ()

    def set_racers(self, racers: tuple[Racer, ...]) -> None:
        """Show the other robots."""
        self.racers = racers
        self.changed.emit()

    def set_stretches(self, stretches: tuple[Won, ...]) -> None:
        """Show what each stretch won or lost."""
        self.stretches = stretches
        self.changed.emit()

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        for stretch in self.stretches:
            self._draw_stretch(painter, stretch, to_px)
        for racer in self.racers:
            draw_racer(painter, racer, to_px)

    def _draw_stretch(self, painter: QPainter, stretch: Won, to_px: QTransform) -> None:
        """Full where the run in sight is faster, dashed where it is slower."""
        line = to_px.map(stretch.way)
        wins = stretch.time_s > 0.0
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(LIGHT.card, 7.0))
        painter.drawPolyline(line)
        painter.setPen(pen(LIGHT.good if wins else LIGHT.rust, 4.0, () if wins else (2.0, 1.2)))
        painter.drawPolyline(line)
        at = line.at(line.size() // 2)
        words = f"{-stretch.time_s:+.2f} s".replace("-", "−")
        painter.setFont(font(10, True))
        card = QRectF(at.x() - 24.0, at.y() - 26.0, 48.0, 16.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(LIGHT.card))
        painter.drawRoundedRect(card, 3.0, 3.0)
        painter.setPen(QColor(LIGHT.good if wins else LIGHT.rust))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, words)


def draw_racer(painter: QPainter, racer: Racer, to_px: QTransform) -> None:
    """An outline of the robot with its number, in the colour of its trail."""
    colour = KEPT_ON_MAT[racer.colour % len(KEPT_ON_MAT)]
    half = 0.5 * racer.robot.drive.track_width_mm
    back = 0.5 * racer.robot.drive.wheel_diameter_mm
    body = [(-back, -half), (back, -half), (racer.robot.mount.ahead_mm, 0.0), (back, half), (-back, half)]
    turn = QTransform().translate(racer.x_mm, racer.y_mm).rotateRadians(racer.heading)
    shape = (turn * to_px).map(QPolygonF([QPointF(*place) for place in body]))
    painter.setPen(pen(colour, 2.0))
    painter.setBrush(QColor(LIGHT.card))
    painter.drawPolygon(shape)
    centre = to_px.map(QPointF(racer.x_mm, racer.y_mm))
    painter.setFont(font(11, True))
    painter.setPen(QColor(LIGHT.ink))
    painter.drawText(QRectF(centre.x() - 14, centre.y() - 9, 28, 18), Qt.AlignmentFlag.AlignCenter, racer.number)


def way_between(x_mm: np.ndarray, y_mm: np.ndarray, s_mm: np.ndarray, start_mm: float, end_mm: float) -> QPolygonF:
    """The points of a way between two places, some millimetres apart."""
    here = np.flatnonzero((s_mm >= start_mm) & (s_mm <= end_mm))[::6]
    return QPolygonF([QPointF(float(x_mm[i]), float(y_mm[i])) for i in here])
