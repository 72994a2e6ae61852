"""The lines of a drawing as tape: each way laid, and what lies on one another or straight ahead as one line."""

from dataclasses import dataclass, replace

import numpy as np

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.biarcs import laid_along
from irontrail.core.mat.drawn_way import deviation
from irontrail.core.mat.frames import chords_mm
from irontrail.core.mat.route import piece_joints, stroke_route
from irontrail.core.mat.seal import sealed
from irontrail.core.mat.tape import Stroke
from irontrail.files.shapes import DECIMALS, Way

# A way goes on behind a gap if its next part lies straight ahead of the last within this.
GAP_MM = 200.0


@dataclass(frozen=True, eq=False)
class Line:
    name: str
    stroke: Stroke
    off_mm: float
    told: dict[str, str]


def tape_of(way: Way) -> tuple[Stroke, float]:
    """A way as tape, and how far that is from it."""
    stroke = laid_along(way.parts, way.start, way.closed)
    if way.closed:
        stroke = _closed(stroke)
    return stroke, way.off_mm + deviation(replace(stroke, closed=False), way.points)


def _closed(stroke: Stroke) -> Stroke:
    closed = replace(stroke, closed=True)
    try:
        stroke_route(closed, "")
    except IronTrailError:
        return sealed(closed)
    return closed


def ahead_of(before: Stroke, after: Stroke) -> float | None:
    """How far straight ahead of one line's end another begins; None if it does not."""
    if before.closed or after.closed:
        return None
    x, y, heading = piece_joints(before)[-1]
    dx, dy = after.x_mm - x, after.y_mm - y
    along, aside = dx * np.cos(heading) + dy * np.sin(heading), dy * np.cos(heading) - dx * np.sin(heading)
    turn = np.degrees(heading) - after.heading_deg
    same_way = abs((turn + 180.0) % 360.0 - 180.0) < 1.0
    return float(along) if 1.0 <= along <= GAP_MM and abs(aside) < 0.5 and same_way else None


def bordered(lines: list[Line]) -> list[Line]:
    """The lines, where one lies on a wider one along the same way that is its border."""
    found: list[Line] = []
    for line in lines:
        under = found[-1].stroke if found else None
        stroke = line.stroke
        wider = round(0.5 * (under.width_mm - stroke.width_mm), DECIMALS) if under is not None else 0.0
        same = under is not None and under.pieces == stroke.pieces and under.closed == stroke.closed
        same = same and under is not None and np.hypot(under.x_mm - stroke.x_mm, under.y_mm - stroke.y_mm) < 0.01
        if under is not None and same and 0.5 <= wider <= 60.0:
            dressed = replace(stroke, border_mm=wider, border_colour=under.colour)
            found[-1] = replace(line, stroke=dressed)
        else:
            found.append(line)
    return found


def in_their_order(lines: list[Line]) -> list[Line]:
    """The lines in the order that is told of all of them; else as they are drawn."""
    if not all(line.told.get("line", "").isdecimal() for line in lines):
        return lines
    return sorted(lines, key=lambda line: int(line.told["line"]))


def chords_of(stroke: Stroke) -> float:
    return chords_mm(replace(stroke, closed=False))
