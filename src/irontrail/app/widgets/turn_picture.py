"""Two small robots beside the line: which way it turns where it reads dark, and where it reads light."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPolygonF, QTransform
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.painting import draw_side_sign
from irontrail.app.widgets.robot_drawing import Eye, draw_robot
from irontrail.core.robot.mount import Place, Robot

HEIGHT = 160
# How far the drawn path goes, in millimetres.
PATH_MM = 120.0


@dataclass(frozen=True)
class Turning:
    """One of the two: what it reads, the powers it sets, and how far its sensor is to the left of the tape's middle.

    Of two sensors that steer together, the error that they make, and the point of the robot that is judged.
    """

    light: bool
    reading: float
    left: float
    right: float
    aside_mm: float


@dataclass(frozen=True)
class TurnScene:
    """Both robots, the line's width and colours."""

    robot: Robot
    spot_mm: float
    tape_mm: float
    tape: str
    mat: str
    both: tuple[Turning, Turning]
    reference: Place
    second: Eye | None = None
    of_error: bool = False


class TurnPicture(Described, QWidget):
    """Draws the scene, the line running upward."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.scene: TurnScene | None = None
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Which way the robot turns on dark and on light")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_scene(self, scene: TurnScene) -> None:
        """Show other powers."""
        if scene != self.scene:
            self.scene = scene
            said = (f"on {'light' if each.light else 'dark'} it {self.way(each)}" for each in scene.both)
            self.setAccessibleDescription(", ".join(said))
            self.update()

    @staticmethod
    def way(turning: Turning) -> str:
        """Which way it goes, in words."""
        if turning.left == turning.right:
            return "goes straight on" if turning.left else "stands"
        return "turns left" if turning.left < turning.right else "turns right"

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self.scene is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        half = self.width() / 2
        for i, turning in enumerate(self.scene.both):
            room = QRectF(i * half + (3 if i else 0), 0, half - 3, HEIGHT - 34)
            self._paint_one(painter, self.scene, turning, room)
            self._paint_words(painter, turning, room)

    def _paint_one(self, painter: QPainter, scene: TurnScene, turning: Turning, room: QRectF) -> None:
        """A robot heading up the line, with the path it takes from here."""
        painter.save()
        painter.setClipRect(room)
        painter.fillRect(room, QColor(scene.mat))
        scale = room.height() / 250.0
        # The mat's millimetres, y along the line, x to the right; the tape's middle in the middle of the room.
        to_px = QTransform(scale, 0.0, 0.0, -scale, room.center().x(), room.bottom() - 80.0 * scale)
        painter.setTransform(to_px, True)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(scene.tape))
        painter.drawRect(QRectF(-scene.tape_mm / 2, -200.0, scene.tape_mm, 700.0))
        # A robot's own x is ahead: turned a quarter to the left.
        painter.translate(-turning.aside_mm - scene.reference.aside_mm, 0.0)
        painter.rotate(90.0)
        painter.setPen(pen("#B3471D", 3.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        path = self._path(scene.robot, scene.reference, turning)
        painter.drawPath(path)
        end, angle = path.currentPosition(), np.radians(-path.angleAtPercent(1.0))
        for side in (-2.6, 2.6):
            painter.drawLine(end, end + QPointF(np.cos(angle + side), np.sin(angle + side)) * 15.0)
        light = None if scene.of_error else turning.light
        draw_robot(painter, self.theme, scene.robot, scene.spot_mm, light, scale, scene.second)
        painter.restore()

    def _path(self, robot: Robot, mount: Place, turning: Turning) -> QPainterPath:
        """The sensor's way at steady powers, in the robot's own millimetres."""
        drive = robot.drive
        speed = max(abs(turning.left), abs(turning.right), 1.0)
        left, right = turning.left / speed, turning.right / speed
        s = np.linspace(0.0, PATH_MM, 40)
        omega = (right - left) / drive.track_width_mm
        v = 0.5 * (left + right)
        angle = np.clip(omega * s, -2.4, 2.4)
        x = v * s if omega == 0.0 else v / omega * np.sin(angle)
        y = np.zeros_like(s) if omega == 0.0 else v / omega * (1.0 - np.cos(angle))
        sensor_x = x + mount.ahead_mm * np.cos(angle) - mount.aside_mm * np.sin(angle)
        sensor_y = y + mount.ahead_mm * np.sin(angle) + mount.aside_mm * np.cos(angle)
        path = QPainterPath()
        path.addPolygon(QPolygonF([QPointF(a, b) for a, b in zip(sensor_x.tolist(), sensor_y.tolist(), strict=True)]))
        return path

    def _paint_words(self, painter: QPainter, turning: Turning, room: QRectF) -> None:
        theme = self.theme
        draw_side_sign(painter, theme, QPointF(room.left() + 10, room.bottom() + 13), "", turning.light)
        painter.setFont(font(11, True))
        painter.setPen(QColor(theme.ink))
        what = "error" if self.scene is not None and self.scene.of_error else "reads"
        words = f"{what} {turning.reading:.0f}: {self.way(turning)}".replace("-", "−")
        painter.drawText(
            QRectF(room.left() + 24, room.bottom() + 4, room.width() - 24, 16), Qt.AlignmentFlag.AlignLeft, words
        )
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second))
        powers = f"wheels {turning.left + 0.0:.0f} and {turning.right + 0.0:.0f} %".replace("-", "−")
        painter.drawText(
            QRectF(room.left() + 24, room.bottom() + 19, room.width() - 24, 15), Qt.AlignmentFlag.AlignLeft, powers
        )
