"""The window's own views as they stand on a page."""

from collections.abc import Sequence
from dataclasses import replace

from PySide6.QtCore import QPoint
from PySide6.QtGui import QRegion
from PySide6.QtWidgets import QWidget

from irontrail.app.pages.pictures import Picture, blank, inside, smooth
from irontrail.app.pictures import strip_picture, strip_run
from irontrail.app.theme import LIGHT, worn
from irontrail.app.view import Request, compute
from irontrail.app.widgets.map_picture import MapPicture
from irontrail.app.widgets.robot_drawing import Eye, draw_robot
from irontrail.app.widgets.spread_bars import Spread, SpreadBars
from irontrail.app.widgets.strip import Strip
from irontrail.app.widgets.strip_picture import lane_of
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.project import KeptRun
from irontrail.core.setup import Setup
from irontrail.core.tune.grid import GridMap

# Paper is white.
ON_PAPER = replace(LIGHT, name="paper", desk="#FFFFFF", sheet="#FFFFFF", card="#FFFFFF")
STRIP_HEIGHT = 230
# Of the robot as drawn, and the room about it, in mm.
ROBOT_PX_PER_MM, ABOUT_MM = 1.25, 16.0


def _shown(view: QWidget, width: int, says: str) -> Picture:
    """A view drawn on a page of its own colour."""
    view.resize(width, view.height())
    view.ensurePolished()
    image = blank(width, view.height(), ON_PAPER.sheet)
    painter = smooth(image)
    view.render(painter, QPoint(), QRegion(), QWidget.RenderFlag.DrawChildren)
    painter.end()
    view.deleteLater()
    return inside(image, says)


def strip_of(last: KeptRun, others: Sequence[KeptRun], lanes: Sequence[str], width: int) -> Picture:
    """The charts of a run along its way, with those of others behind it."""
    view = compute(Request(last.setup, tuple(others)))
    shown = tuple(lane_of(name, view.run.sensors, last.setup.program.astride) for name in lanes)
    strip = Strip(worn(ON_PAPER))
    strip.setFixedHeight(STRIP_HEIGHT)
    strip.resize(width, STRIP_HEIGHT)
    kept = tuple(strip_run(each.run, shown, bool(view.run.legs)) for each in view.kept)
    strip.set_picture(strip_picture(view, kept, True, shown))
    return _shown(strip, width, "What the sensor read and how far off its edge it was, along the way")


def spreads_of(spreads: Sequence[Spread], width: int) -> Picture:
    """The spreads of some runs, to be compared with each other."""
    bars = SpreadBars(worn(ON_PAPER))
    bars.set_spreads(tuple(spreads), one_scale=True)
    return _shown(bars, width, bars.accessibleDescription())


def map_of(made: GridMap, width: int) -> Picture:
    """A map of two numbers, with the chosen point."""
    view = MapPicture(worn(ON_PAPER))
    view.set_map(made, "time_s")
    return _shown(view, width, f"Map of {made.spec.x.quantity.label} and {made.spec.y.quantity.label}")


def robot_of(setup: Setup) -> Picture:
    """The robot from above, to scale."""
    mount, drive = setup.robot.mount, setup.robot.drive
    ahead = max(mount.ahead_mm, setup.second.mount.ahead_mm if setup.second is not None else 0.0)
    back, half = 0.75 * drive.wheel_diameter_mm + ABOUT_MM, 0.5 * drive.track_width_mm + ABOUT_MM
    wide, high = ROBOT_PX_PER_MM * (back + ahead + ABOUT_MM), ROBOT_PX_PER_MM * 2.0 * half
    image = blank(wide, high, "#FFFFFF")
    painter = smooth(image)
    painter.translate(ROBOT_PX_PER_MM * back, 0.5 * high)
    painter.scale(ROBOT_PX_PER_MM, -ROBOT_PX_PER_MM)
    second = None
    if setup.second is not None:
        other = setup.second.mount
        second = Eye(other, spot_sigma_mm(setup.second.sensor, other.height_mm))
    spot = spot_sigma_mm(setup.light.sensor, mount.height_mm)
    draw_robot(painter, LIGHT, setup.robot, spot, None, ROBOT_PX_PER_MM, second)
    painter.end()
    return inside(image, f"The robot {setup.robot.name} from above, to scale")
