"""The robot close up: what each wheel is told and does, whether it slips, and what the sensor sees."""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QPaintEvent, QPen, QRegion, QTransform
from PySide6.QtWidgets import QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets import mat_ground
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.laid_tape import Tape, draw_patches, tapes
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import clear_picture, in_pixels
from irontrail.app.widgets.robot_drawing import TYRE_MM, Eye, draw_robot
from irontrail.core.mat.tape import Mat
from irontrail.core.robot.mount import Robot

SIZE = QSize(214, 196)
PX_PER_MM = 0.95
# Length of the bar of a wheel at full power.
FULL_MM = 62.0


@dataclass(frozen=True)
class Moment:
    """One row of the trace, as the close view needs it; speeds are shares of the top speed."""

    x_mm: float
    y_mm: float
    heading: float
    left_power: float
    right_power: float
    left_speed: float
    right_speed: float
    slipping: bool
    reading: float
    light: bool
    second_reading: float | None = None
    second: Eye | None = None


class CloseView(Described, QWidget):
    """A small picture over the mat's corner, the robot heading up."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme
        self.moment: Moment | None = None
        self._robot: Robot | None = None
        self._spot_mm = 0.0
        self._mat: Mat | None = None
        self._ground = Layer(self._draw_ground)
        self._picture = Layer(self._draw_robot, under=self._ground, lines=self._tape)
        self.setFixedSize(SIZE)
        # The round corners are the widget's own shape: a painter that clips to them takes several times as long.
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 7, 7)
        self.setMask(QRegion(frame.toFillPolygon().toPolygon()))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAccessibleName("The robot close up")
        self.hide()

    def set_ground(self, robot: Robot, spot_mm: float, mat: Mat) -> None:
        """Another robot, or another mat under it."""
        self._robot, self._spot_mm, self._mat = robot, spot_mm, mat
        self._forget()
        self.update()

    def set_moment(self, moment: Moment) -> None:
        """Show another moment."""
        self.moment = moment
        self._forget()
        if self.isVisible():
            self.update()

    def says(self) -> str:
        """The moment in words."""
        now = self.moment
        if now is None:
            return ""
        slip = ", slipping" if now.slipping else ""
        return f"left {now.left_power:.0f} %, right {now.right_power:.0f} %{slip}".replace("-", "−")

    def changeEvent(self, event: QEvent) -> None:
        """What was drawn in another theme is drawn anew."""
        if event.type() == QEvent.Type.StyleChange:
            self._forget()
        super().changeEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        self._picture.paint(QPainter(self), self)

    def _forget(self) -> None:
        self._ground.forget()
        self._picture.forget()

    def _mat_to_px(self, robot: Robot, now: Moment) -> QTransform:
        to_px = _robot_to_px(robot)
        to_px.rotateRadians(-now.heading)
        return to_px.translate(-now.x_mm, -now.y_mm)

    def _draw_ground(self, painter: QPainter) -> None:
        painter.fillRect(self.rect(), QColor(self.theme.desk))
        if self._mat is not None and self._robot is not None and self.moment is not None:
            to_px = self._mat_to_px(self._robot, self.moment)
            painter.setTransform(to_px, True)
            mat_ground.draw_sheet(painter, self._mat, QTransform())
            draw_patches(painter, self._mat, QTransform(), over_line=False)

    def _tape(self) -> list[Tape]:
        if self._mat is None or self._robot is None or self.moment is None:
            return []
        return tapes(self._mat, self._mat_to_px(self._robot, self.moment))

    def _draw_robot(self, painter: QPainter) -> None:
        now, robot = self.moment, self._robot
        if now is None or robot is None:
            return
        if self._mat is not None:
            draw_patches(painter, self._mat, self._mat_to_px(robot, now), over_line=True)
        ratio = self.devicePixelRatioF()
        as_lines = not in_pixels(painter, ratio)
        if not as_lines:
            painter.drawImage(0, 0, _robot(self.theme, robot, self._spot_mm, now.light, now.second, ratio))
        painter.save()
        painter.setTransform(_robot_to_px(robot), True)
        if as_lines:
            draw_robot(painter, self.theme, robot, self._spot_mm, now.light, PX_PER_MM, now.second)
        for side, power, speed in ((1.0, now.left_power, now.left_speed), (-1.0, now.right_power, now.right_speed)):
            self._paint_wheel(painter, robot, side, power, speed, now.slipping)
        painter.restore()
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        self._paint_words(painter, room, now)
        painter.setPen(pen(self.theme.rule, 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(room, 6, 6)

    def _paint_wheel(
        self, painter: QPainter, robot: Robot, side: float, power: float, speed: float, slipping: bool
    ) -> None:
        """An arrow for the power from the wheel's middle, a line for its speed, a zigzag behind it when it slips."""
        y = side * (robot.drive.track_width_mm / 2 + TYRE_MM / 2 + 9.0)
        tip = FULL_MM * power / 100.0
        way = 1.0 if power >= 0.0 else -1.0
        painter.setPen(QPen(QColor("#A8421A"), 5.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawLine(QPointF(0.0, y), QPointF(tip, y))
        if abs(power) >= 1.0:
            painter.setBrush(QColor("#A8421A"))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPolygon([QPointF(tip + 9.0 * way, y), QPointF(tip, y - 6.5), QPointF(tip, y + 6.5)])
        painter.setPen(QPen(QColor("#23272B"), 2.0))
        painter.drawLine(QPointF(FULL_MM * speed, y - 8.0), QPointF(FULL_MM * speed, y + 8.0))
        if slipping:
            half = robot.drive.wheel_diameter_mm / 2
            points = [QPointF(-half - 4.0 - 6.0 * i, y + (4.0 if i % 2 else -4.0) - 9.0 * side) for i in range(6)]
            painter.setPen(QPen(QColor("#C2300F"), 2.0))
            painter.drawPolyline(points)

    def _paint_words(self, painter: QPainter, room: QRectF, now: Moment) -> None:
        band = QRectF(room.left(), room.bottom() - 34.0, room.width(), 34.0)
        painter.fillRect(band, fade(self.theme.card, 0.9))
        painter.setFont(font(11))
        painter.setPen(QColor(self.theme.ink))
        painter.drawText(band.adjusted(8, 3, -8, -16), Qt.AlignmentFlag.AlignLeft, self.says())
        painter.setPen(QColor(self.theme.second))
        both = f" and {now.second_reading:.0f}" if now.second_reading is not None else ""
        words = f"reads {now.reading:.0f}{both}; arrow: power, bar: speed"
        painter.drawText(band.adjusted(8, 17, -8, -2), Qt.AlignmentFlag.AlignLeft, words)


def _robot_to_px(robot: Robot) -> QTransform:
    """From the robot's millimetres to pixels: its x is up, the middle of it and its sensor a little low."""
    down = 0.5 * robot.mount.ahead_mm * PX_PER_MM - 14.0
    return QTransform(0.0, -PX_PER_MM, -PX_PER_MM, 0.0, 0.5 * SIZE.width(), 0.5 * SIZE.height() + down)


# It stands still here, and the mat turns under it.
@lru_cache(maxsize=8)
def _robot(theme: Theme, robot: Robot, spot_mm: float, light: bool, second: Eye | None, ratio: float) -> QImage:
    """A picture of the robot, as large as the view."""

    def draw(painter: QPainter) -> None:
        painter.setTransform(_robot_to_px(robot), True)
        draw_robot(painter, theme, robot, spot_mm, light, PX_PER_MM, second)

    return clear_picture(ceil(ratio * SIZE.width()), ceil(ratio * SIZE.height()), ratio, draw)
