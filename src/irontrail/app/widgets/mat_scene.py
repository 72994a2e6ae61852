"""What is seen on the table besides what a hand draws: the mat with all trails, and the robot."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QPen, QTransform

from irontrail.app.theme import KEPT_DASHES, LIGHT, Theme, fade, pen
from irontrail.app.widgets import mat_ground
from irontrail.app.widgets.laid_tape import Tape, draw_patches, tapes
from irontrail.app.widgets.mat_ground import Marks, Underlay
from irontrail.app.widgets.mat_hand import RobotNow
from irontrail.app.widgets.painting import draw_side_sign
from irontrail.app.widgets.robot_drawing import draw_robot
from irontrail.app.widgets.strokes import Stroke
from irontrail.app.widgets.trail_picture import TRAIL, Trail, draw_levels, draw_trouble, strokes_of
from irontrail.app.widgets.trail_shade import Shade
from irontrail.core.mat.tape import Mat

TRY_OPACITY = 0.28
# Over a picture tape is seen through.
TAPE_OVER_PICTURE = 0.55
# Middling tones, which stand out from dark tape and light mat alike.
KEPT_ON_MAT = ("#4A86DB", "#1F9D68", "#B559B3", "#A08A1C", "#2496AA", "#868D95")


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
    underlay: Underlay | None = None
    # How far buttons over the mat reach along its top, in pixels.
    buttons_to: float = 0.0


def draw_sheet(painter: QPainter, scene: Scene, theme: Theme, to_px: QTransform) -> None:
    """The mat, and what lies on it under its tape."""
    mat_ground.draw_surface(painter, theme, scene.mat, to_px)
    if scene.underlay is not None:
        mat_ground.draw_underlay(painter, scene.mat, scene.underlay, to_px)
    _draw_patches(painter, scene, to_px, over_line=False)


def tapes_of(scene: Scene, to_px: QTransform) -> list[Tape]:
    """The tape on the mat."""
    return tapes(scene.mat, to_px, opacity=_opacity(scene))


def draw_over_tape(painter: QPainter, scene: Scene, to_px: QTransform) -> None:
    """What lies over the tape, the light, the marks, and the trails of kept and perturbed runs."""
    _draw_patches(painter, scene, to_px, over_line=True)
    mat_ground.draw_light(painter, scene.mat, scene.marks.areas, to_px)
    mat_ground.draw_marks(painter, scene.mat, scene.marks, to_px)
    painter.setPen(QPen(fade(TRAIL, TRY_OPACITY), 1.0))
    for each in scene.tries:
        painter.drawPolyline(each.in_px(to_px))
    newest_first = reversed(range(len(scene.kept)))
    for i in newest_first:
        place = (len(scene.kept) - 1 - i) % len(KEPT_ON_MAT)
        painter.setPen(pen(KEPT_ON_MAT[place], 2.0, KEPT_DASHES[place]))
        painter.drawPolyline(scene.kept[i].in_px(to_px))


def _draw_patches(painter: QPainter, scene: Scene, to_px: QTransform, over_line: bool) -> None:
    painter.setOpacity(_opacity(scene))
    draw_patches(painter, scene.mat, to_px, over_line)
    painter.setOpacity(1.0)


def _opacity(scene: Scene) -> float:
    return TAPE_OVER_PICTURE if scene.underlay is not None else 1.0


def run_strokes(scene: Scene, to_px: QTransform) -> list[Stroke]:
    """The run's trail."""
    return strokes_of(scene.trail, scene.shade, to_px) if scene.trail is not None else []


def draw_run(painter: QPainter, scene: Scene, to_px: QTransform, width: int) -> None:
    """What its trail's levels stand for, and where it went wrong."""
    if scene.trail is not None and scene.shade is not None:
        draw_levels(painter, scene.shade.levels, width, scene.buttons_to)
    if scene.trail is not None and scene.trouble:
        draw_trouble(painter, scene.trail, scene.trouble, to_px, width)


def draw_robot_now(painter: QPainter, now: RobotNow, theme: Theme, to_px: QTransform, px_per_mm: float) -> None:
    """The robot where it is, and above it which rule decides."""
    painter.save()
    painter.setTransform(to_px, True)
    painter.translate(now.x_mm, now.y_mm)
    painter.rotate(float(np.degrees(now.heading)))
    light = now.light_side if now.second is None else now.first_light
    draw_robot(painter, theme, now.robot, now.spot_mm, light, px_per_mm, now.second)
    painter.restore()
    if now.rule:
        ahead = to_px.map(QPointF(now.x_mm, now.y_mm))
        away = QPointF(0.0, -0.5 * now.robot.drive.track_width_mm * px_per_mm - 14.0)
        draw_side_sign(painter, LIGHT, ahead + away, now.rule, now.light_side)
