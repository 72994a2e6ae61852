"""The mat, the robot on it, its trail, and the trails of kept runs. Zooms, pans, fits, follows."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QEvent, QPointF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import KEPT_DASHES, LIGHT, Theme, fade, font, pen
from irontrail.app.widgets import mat_ground
from irontrail.app.widgets.mat_camera import MatCamera
from irontrail.app.widgets.mat_ground import Marks
from irontrail.app.widgets.painting import draw_ring, draw_side_sign, draw_trail
from irontrail.app.widgets.robot_drawing import draw_robot
from irontrail.app.widgets.trail_picture import TRAIL, Trail, draw_shaded, draw_trouble
from irontrail.app.widgets.trail_shade import Shade
from irontrail.core.mat.tape import Mat
from irontrail.core.robot.mount import Robot

Floats = NDArray[np.float64]

FOLLOW_PX_PER_MM = 1.6
# A press nearer to the trail than this asks for that moment of the run.
SEEK_PX = 14.0
TRY_OPACITY = 0.28
# What a key pulls the robot by.
PULL_MM = 2.0
# Middling tones, which stand out from dark tape and light mat alike.
KEPT_ON_MAT = ("#4A86DB", "#1F9D68", "#B559B3")


@dataclass(frozen=True, eq=False)
class Scene:
    """What is seen on the table besides the robot: mat, marks, the run's trail, how it ended, the kept trails."""

    mat: Mat
    marks: Marks
    trail: Trail | None
    trouble: str
    kept: tuple[Trail, ...]
    tries: tuple[Trail, ...] = ()
    shade: Shade | None = None


@dataclass(frozen=True)
class RobotNow:
    """The robot at the playhead."""

    robot: Robot
    spot_mm: float
    x_mm: float
    y_mm: float
    heading: float
    light_side: bool
    rule: str = ""


class MatView(QWidget):
    """Shows a scene and the robot.

    Says `sought(row)` when a place of the trail is pressed, and `pulled(x, y, heading, settled)` (mm, rad) while the
    robot is dragged off its way, `glanced(row)` while the pointer is over the trail and -1 when it leaves it.
    """

    sought = Signal(int)
    glanced = Signal(int)
    pulled = Signal(float, float, float, bool)
    follow_changed = Signal(bool)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.following = False
        self._scene: Scene | None = None
        self._robot: RobotNow | None = None
        self._words = ""
        self.camera = MatCamera()
        self._pressed: QPointF | None = None
        self._panned = False
        self._pins: tuple[tuple[str, float, float], ...] = ()
        self._grip: QPointF | None = None
        self._pulling = False
        self._ground: QPixmap | None = None
        self._picture: QPixmap | None = None
        self.setMinimumSize(300, 180)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._glancing = False
        self.setAccessibleName("Mat with the robot and its trail")

    def sizeHint(self) -> QSize:
        return QSize(856, 440)

    # --- what is shown

    def set_scene(self, scene: Scene) -> None:
        """Show another mat or other trails; what has not changed is not drawn again."""
        old, self._scene = self._scene, scene
        same_ground = (
            old is not None
            and old.mat is scene.mat
            and old.marks == scene.marks
            and old.tries == scene.tries
            and len(old.kept) == len(scene.kept)
            and all(a.x_mm is b.x_mm for a, b in zip(old.kept, scene.kept, strict=True))
        )
        if not same_ground:
            self._ground = None
        self._picture = None
        if self.camera.fitted or old is None or old.mat is not scene.mat:
            self.fit()
        self.update()

    def set_pins(self, pins: tuple[tuple[str, float, float], ...]) -> None:
        """Mark places of the mat (mm) by numbers."""
        if pins != self._pins:
            self._pins = pins
            self.update()

    def set_robot(self, robot: RobotNow | None) -> None:
        """Show the robot somewhere else."""
        self._robot = robot
        if self.following and robot is not None:
            self._look_at(QPointF(robot.x_mm, robot.y_mm), self.px_per_mm)
        self.update()

    def set_words(self, words: str) -> None:
        """A line over the mat while there is nothing else to show; empty for none."""
        self._words = words
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        self.theme = theme
        self._forget_pictures()
        self.update()

    # --- the way it is looked at

    @property
    def px_per_mm(self) -> float:
        return self.camera.px_per_mm

    def to_px(self) -> QTransform:
        """From millimetres on the mat (y up) to pixels of this widget (y down)."""
        return self.camera.to_px(self.size())

    def to_mm(self, at: QPointF) -> QPointF:
        """The place on the mat under a pixel."""
        return self.camera.to_mm(at, self.size())

    def fit(self) -> None:
        """Show the whole mat."""
        self.set_following(False)
        self.camera.fitted = True
        if self._scene is not None and self.camera.fit(
            self._scene.mat.width_mm, self._scene.mat.height_mm, self.size()
        ):
            self._forget_pictures()
        self.update()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a pixel, which stays where it is; about the middle if none is given."""
        about = at if at is not None and not self.following else QPointF(self.rect().center())
        self._look_at(*self.camera.zoomed(factor, about, self.size()))

    def set_following(self, following: bool) -> None:
        """Keep the robot in the middle, closer up."""
        if following == self.following:
            return
        self.following = following
        if following and self._robot is not None:
            scale = max(self.px_per_mm, FOLLOW_PX_PER_MM)
            self._look_at(QPointF(self._robot.x_mm, self._robot.y_mm), scale)
        self.follow_changed.emit(following)

    def _look_at(self, centre: QPointF, px_per_mm: float) -> None:
        if self.camera.look_at(centre, px_per_mm):
            self._forget_pictures()
        self.update()

    def _forget_pictures(self) -> None:
        self._ground = self._picture = None

    # --- events

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._forget_pictures()
        if self.camera.fitted:
            self.fit()
        super().resizeEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._panned = event.position(), False
        if event.button() == Qt.MouseButton.LeftButton:
            self._grip = self._grip_at(event.position())
            if self._grip is None:
                self._seek(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            self._glance(self._trail_row(event.position()))
            return
        moved = event.position() - self._pressed
        if self._grip is not None:
            if self._pulling or moved.manhattanLength() > 4:
                self._pulling = True
                self._pull(event, False)
            return
        if self._panned or moved.manhattanLength() > 4:
            self._panned = True
            self.set_following(False)
            self._pressed = event.position()
            self._look_at(self.camera.moved(moved), self.px_per_mm)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pulling:
            self._pull(event, True)
        elif self._grip is not None:
            self._seek(event.position())
        self._pressed, self._grip, self._pulling = None, None, False

    def _grip_at(self, at: QPointF) -> QPointF | None:
        """From the robot's axle to a place on its body, in millimetres; None beside it."""
        if self._robot is None or self._words:
            return None
        drive = self._robot.robot.drive
        grip = self.to_mm(at) - QPointF(self._robot.x_mm, self._robot.y_mm)
        reach = max(0.4 * drive.track_width_mm, 8.0 / self.px_per_mm)
        return grip if float(np.hypot(grip.x(), grip.y())) < reach else None

    def _pull(self, event: QMouseEvent, settled: bool) -> None:
        """The robot goes with the pointer; with Shift it turns toward it."""
        if self._robot is None or self._grip is None:
            return
        place, heading = self.to_mm(event.position()), self._robot.heading
        axle = place - self._grip
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            axle = QPointF(self._robot.x_mm, self._robot.y_mm)
            to = place - axle
            heading = float(np.arctan2(to.y(), to.x()))
        self.pulled.emit(axle.x(), axle.y(), heading, settled)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = 60.0 / self.px_per_mm
        pans = {
            Qt.Key.Key_Left: QPointF(-step, 0),
            Qt.Key.Key_Right: QPointF(step, 0),
            Qt.Key.Key_Up: QPointF(0, step),
            Qt.Key.Key_Down: QPointF(0, -step),
        }
        if event.key() in pans and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._pull_by_key(event, pans[Qt.Key(event.key())] / step)
        elif event.key() in pans:
            self.set_following(False)
            self._look_at(self.camera.centre + pans[Qt.Key(event.key())], self.px_per_mm)
        else:
            super().keyPressEvent(event)

    def _pull_by_key(self, event: QKeyEvent, way: QPointF) -> None:
        """Ctrl and an arrow pull the robot by some millimetres, with Shift by ten times as many."""
        if self._robot is not None:
            far = PULL_MM * (10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0)
            now = self._robot
            self.pulled.emit(now.x_mm + far * way.x(), now.y_mm + far * way.y(), now.heading, False)

    def _trail_row(self, at: QPointF) -> int | None:
        """The row of the trail under a pixel, if it is near enough."""
        if self._scene is None or self._scene.trail is None:
            return None
        place, trail = self.to_mm(at), self._scene.trail
        away = np.hypot(trail.x_mm - place.x(), trail.y_mm - place.y())
        row = int(np.argmin(away))
        return row if away[row] * self.px_per_mm < SEEK_PX else None

    def _seek(self, at: QPointF) -> None:
        row = self._trail_row(at)
        if row is not None:
            self.sought.emit(row)

    def _glance(self, row: int | None) -> None:
        """Say which moment the pointer is over, and once when it is over none."""
        if row is not None or self._glancing:
            self.glanced.emit(-1 if row is None else row)
        self._glancing = row is not None

    def leaveEvent(self, event: QEvent) -> None:
        self._glance(None)
        super().leaveEvent(event)

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        if self._scene is None:
            painter.fillRect(self.rect(), QColor(self.theme.desk))
        else:
            if self._picture is None:
                self._picture = self._draw_picture(self._scene)
            painter.drawPixmap(0, 0, self._picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._robot is not None and not self._words:
            self._paint_robot(painter, self._robot)
        for number, x, y in self._pins:
            draw_ring(painter, LIGHT, self.to_px().map(QPointF(x, y)) + QPointF(0.0, 17.0), number)
        if self._words:
            painter.setFont(font(12))
            painter.setPen(QColor(mat_ground.MAT_INK if self._scene else self.theme.ink))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self._words)

    def _blank(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        pixmap = QPixmap(self.size() * ratio)
        pixmap.setDevicePixelRatio(ratio)
        return pixmap

    def _draw_picture(self, scene: Scene) -> QPixmap:
        if self._ground is None:
            self._ground = self._draw_ground(scene)
        picture, to_px = self._ground.copy(), self.to_px()
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if scene.trail is not None:
            if scene.shade is None:
                draw_trail(painter, TRAIL, scene.trail.in_px(to_px))
            else:
                draw_shaded(painter, self.theme, scene.trail, scene.shade, to_px, self.width())
            if scene.trouble:
                draw_trouble(painter, scene.trail, scene.trouble, to_px, self.width())
        painter.end()
        return picture

    def _draw_ground(self, scene: Scene) -> QPixmap:
        ground = self._blank()
        ground.fill(QColor(self.theme.desk))
        painter = QPainter(ground)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        to_px = self.to_px()
        mat_ground.draw_surface(painter, self.theme, scene.mat, to_px)
        mat_ground.draw_tape(painter, scene.mat, to_px)
        mat_ground.draw_light(painter, scene.marks.areas, to_px)
        mat_ground.draw_marks(painter, scene.mat, scene.marks, to_px)
        painter.setPen(QPen(fade(TRAIL, TRY_OPACITY), 1.0))
        for each in scene.tries:
            painter.drawPolyline(each.in_px(to_px))
        newest_first = reversed(range(len(scene.kept)))
        for i in newest_first:
            place = (len(scene.kept) - 1 - i) % len(KEPT_ON_MAT)
            painter.setPen(pen(KEPT_ON_MAT[place], 2.0, KEPT_DASHES[place]))
            painter.drawPolyline(scene.kept[i].in_px(to_px))
        painter.end()
        return ground

    def _paint_robot(self, painter: QPainter, now: RobotNow) -> None:
        painter.save()
        painter.setTransform(self.to_px(), True)
        painter.translate(now.x_mm, now.y_mm)
        painter.rotate(float(np.degrees(now.heading)))
        draw_robot(painter, self.theme, now.robot, now.spot_mm, now.light_side, self.px_per_mm)
        painter.restore()
        if now.rule:
            ahead = self.to_px().map(QPointF(now.x_mm, now.y_mm))
            away = QPointF(0.0, -0.5 * now.robot.drive.track_width_mm * self.px_per_mm - 14.0)
            draw_side_sign(painter, LIGHT, ahead + away, now.rule, now.light_side)
