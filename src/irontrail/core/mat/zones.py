"""Where a run starts on its route, and where it is finished."""

from functools import lru_cache

import numpy as np

from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Mat, Zone

# A finish zone ends a round of a closed line if so much of it has been driven: start and finish may lie side by side.
ROUND_SHARE = 0.9


def start_and_finish(mat: Mat, reverse: bool) -> tuple[Zone | None, Zone | None]:
    """The zones in the direction of the run: an open line driven back starts where it else finishes."""
    return (mat.finish, mat.start) if reverse and not mat.followed.closed else (mat.start, mat.finish)


def start_place(start: Zone | None, route: Route, start_mm: float) -> float:
    """Arc length where the sensor is set down: `start_mm` on from the start zone's middle, or from the line's start.

    It is never set down past the middle of the route, so that some of it is left to drive.
    """
    if start is None:
        return min(start_mm, 0.5 * route.length_mm)
    nearest = _nearest_mm(route, start)
    if route.closed:
        return (nearest + start_mm) % route.length_mm
    return min(nearest + start_mm, max(nearest, 0.5 * route.length_mm), route.length_mm - 1.0)


# Asked for by every start of every setup of a mat.
@lru_cache(maxsize=64)
def _nearest_mm(route: Route, zone: Zone) -> float:
    """Arc length of the point of a route that is nearest to the middle of a zone."""
    return float(route.s_mm[np.argmin(np.hypot(route.x_mm - zone.x_mm, route.y_mm - zone.y_mm))])


def in_zone(zone: Zone, along_mm: float, left_mm: float) -> tuple[float, float, float]:
    """A place (mm) and heading (rad) in a start zone: so far on from its middle, and to the left."""
    heading = float(np.radians(zone.turned_deg))
    c, s = float(np.cos(heading)), float(np.sin(heading))
    return zone.x_mm + along_mm * c - left_mm * s, zone.y_mm + along_mm * s + left_mm * c, heading


def corners(zone: Zone) -> list[tuple[float, float]]:
    """The four corners of a zone, counter-clockwise, in mm."""
    angle = np.radians(zone.turned_deg)
    c, s = float(np.cos(angle)), float(np.sin(angle))
    half = [(-0.5, -0.5), (0.5, -0.5), (0.5, 0.5), (-0.5, 0.5)]
    return [
        (
            zone.x_mm + c * a * zone.width_mm - s * b * zone.height_mm,
            zone.y_mm + s * a * zone.width_mm + c * b * zone.height_mm,
        )
        for a, b in half
    ]


def is_inside(zone: Zone, x: float, y: float) -> bool:
    """Whether a place (mm) lies in a zone."""
    turned = np.radians(zone.turned_deg)
    dx, dy = x - zone.x_mm, y - zone.y_mm
    along, up = dx * np.cos(turned) + dy * np.sin(turned), dy * np.cos(turned) - dx * np.sin(turned)
    return bool(abs(along) <= 0.5 * zone.width_mm and abs(up) <= 0.5 * zone.height_mm)
