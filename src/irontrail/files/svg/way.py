"""A drawn path as tape: lines and round arcs as they are, other curves fitted, parts in a row with gaps between."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.fit import evenly, fit_stroke
from irontrail.core.mat.refine import refined
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.seal import sealed
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke

Floats = NDArray[np.float64]

# As svgelements has it, at 96 pixels an inch.
MM_PER_PX = 1.0 / 3.7795296
# A turn between two segments greater than this is a corner; lesser ones are smoothed away.
CORNER_DEG = 1.5
# A path goes on behind a gap if its next part lies straight ahead of the last within this.
GAP_MM = 200.0


@dataclass(frozen=True, eq=False)
class Shape:
    """One drawn thing: its name, colours and width, and its parts as segments in mm, y up."""

    name: str
    fill: str | None
    stroke: str | None
    width_mm: float
    parts: tuple[tuple[Any, ...], ...]


def place(point: Any, high: float) -> tuple[float, float]:
    return float(point.x) * MM_PER_PX, high - float(point.y) * MM_PER_PX


def strokes_of(shape: Shape, high: float, left_out: list[str]) -> list[Stroke]:
    """The lines of a shape; parts that follow one another straight ahead are one line with a gap."""
    strokes: list[Stroke] = []
    for part in shape.parts:
        try:
            stroke = _line(part, high)
        except IronTrailError as error:
            left_out.append(error.what)
            continue
        before = strokes[-1] if strokes else None
        ahead = _ahead(before, stroke) if before is not None and not before.closed and not stroke.closed else None
        if before is not None and ahead is not None:
            strokes[-1] = replace(before, pieces=(*before.pieces, Gap(ahead), *stroke.pieces))
        else:
            strokes.append(stroke)
    width, colour = float(np.clip(shape.width_mm, 4.0, 80.0)), shape.stroke or "#000000"
    return [replace(stroke, width_mm=round(width, 2), colour=colour) for stroke in strokes]


def _ahead(before: Stroke, after: Stroke) -> float | None:
    """How far straight ahead of one line's end another begins; None if it does not."""
    x, y, heading = piece_joints(before)[-1]
    dx, dy = after.x_mm - x, after.y_mm - y
    along, aside = dx * np.cos(heading) + dy * np.sin(heading), dy * np.cos(heading) - dx * np.sin(heading)
    turn = np.degrees(heading) - after.heading_deg
    same_way = abs((turn + 180.0) % 360.0 - 180.0) < 1.0
    return float(along) if 1.0 <= along <= GAP_MM and abs(aside) < 0.5 and same_way else None


def _line(part: tuple[Any, ...], high: float) -> Stroke:
    """One part of a path as tape: lines and round arcs as they are, other curves fitted."""
    import svgelements

    pieces: list[Piece] = []
    start = heading = first = None
    rough, sampled = False, []
    for segment in part:
        if isinstance(segment, svgelements.Move) or segment.start is None or segment.end is None:
            continue
        points = _sampled(segment, high)
        steps = np.hypot(*np.diff(points, axis=0).T)
        if steps.sum() < 1e-3:
            continue
        came, laid, out, exact = _laid(segment, points)
        if start is None:
            start, first = points[0], came
        elif heading is not None:
            turn = (came - heading + np.pi) % (2.0 * np.pi) - np.pi
            if abs(turn) > np.radians(CORNER_DEG):
                pieces.append(Corner(float(np.clip(np.degrees(turn), -170.0, 170.0))))
            rough = rough or 1e-4 < abs(turn) <= np.radians(CORNER_DEG)
        rough = rough or not exact
        pieces += laid
        heading = out
        sampled.append(points)
    if start is None or first is None or heading is None:
        raise IronTrailError("a line without length")
    way = np.concatenate(sampled)
    closed = float(np.hypot(*(way[-1] - way[0]))) < 0.5 and float(np.hypot(*np.diff(way, axis=0).T).sum()) > 50.0
    turn = (first - heading + np.pi) % (2.0 * np.pi) - np.pi
    if closed and abs(turn) > np.radians(CORNER_DEG):
        pieces.append(Corner(float(np.clip(np.degrees(turn), -170.0, 170.0))))
    if not 0.0 <= start[0] <= 10_000.0 or not 0.0 <= start[1] <= 10_000.0:
        raise IronTrailError("a line that starts beside the mat")
    stroke = Stroke(float(start[0]), float(start[1]), float(np.degrees(first)), _tidy(pieces))
    if rough:
        stroke = refined(stroke, evenly(way, False), meets=closed)
    return sealed(replace(stroke, closed=True)) if closed else stroke


def _tidy(pieces: list[Piece]) -> tuple[Piece, ...]:
    """Straights in a row as one, and so arcs of one bend."""
    tidy: list[Piece] = []
    for piece in pieces:
        last = tidy[-1] if tidy else None
        if isinstance(piece, Straight) and isinstance(last, Straight):
            tidy[-1] = Straight(last.length_mm + piece.length_mm)
        elif isinstance(piece, Bend) and isinstance(last, Bend) and _one_bend(last, piece):
            tidy[-1] = Bend(last.radius_mm, last.angle_deg + piece.angle_deg)
        else:
            tidy.append(piece)
    return tuple(tidy)


def _one_bend(first: Bend, second: Bend) -> bool:
    """Whether two arcs that follow one another are one."""
    alike = abs(first.radius_mm - second.radius_mm) < 1e-4 * first.radius_mm
    return alike and first.angle_deg * second.angle_deg > 0.0 and abs(first.angle_deg + second.angle_deg) <= 360.0


def _sampled(segment: Any, high: float) -> Floats:
    """Points along a segment, about a millimetre apart, in mm."""
    import svgelements

    straight = isinstance(segment, svgelements.Line | svgelements.Close)
    count = 2 if straight else int(np.clip(np.ceil(segment.length(error=1e-3) * MM_PER_PX), 8, 4000))
    places = [segment.point(t) for t in np.linspace(0.0, 1.0, count)] if not straight else [segment.start, segment.end]
    return np.array([place(point, high) for point in places])


def _laid(segment: Any, points: Floats) -> tuple[float, list[Piece], float, bool]:
    """The heading into a segment (rad), its pieces, the heading out, and whether they are exact."""
    import svgelements

    if isinstance(segment, svgelements.Line | svgelements.Close):
        dx, dy = points[-1] - points[0]
        way, length = float(np.arctan2(dy, dx)), float(np.hypot(dx, dy))
        return way, [Straight(length)] if length >= 1.0 else [], way, length >= 1.0
    if isinstance(segment, svgelements.Arc):
        across, up = float(segment.rx) * MM_PER_PX, float(segment.ry) * MM_PER_PX
        if abs(across - up) < 1e-3 * across and across >= 10.0:
            turn = -float(segment.sweep)
            centre = segment.center
            middle = np.array(
                [float(centre.x) * MM_PER_PX, points[0][1] + (float(segment.start.y) - float(centre.y)) * MM_PER_PX]
            )
            out = points[0] - middle
            side = 1.0 if turn > 0.0 else -1.0
            came = float(np.arctan2(out[1], out[0])) + side * 0.5 * np.pi
            return came, [Bend(across, float(np.degrees(turn)))], came + turn, True
    try:
        fit = fit_stroke(points, False, noise_mm=0.05)
    except IronTrailError:
        dx, dy = points[-1] - points[0]
        way, length = float(np.arctan2(dy, dx)), float(np.hypot(dx, dy))
        return way, [Straight(length)] if length >= 1.0 else [], way, False
    came = float(np.radians(fit.stroke.heading_deg))
    turned = sum(piece.angle_deg for piece in fit.stroke.pieces if isinstance(piece, Bend | Corner))
    return came, list(fit.stroke.pieces), came + float(np.radians(turned)), False
