"""Where a line that was found in a picture lies: its middle, its corners and its ends, as its edges are seen."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.drawn_way import along_and_left, moved_aside
from irontrail.core.mat.pieces import length_of, longer, run_together, turned_round, within_the_rim
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.reflectance import shares_of
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.seen_line import EDGE_MM, STEP_MM, Look, Picture, sampled, share_of
from irontrail.core.mat.tape import Bend, Corner, Piece, Straight, Stroke

Floats = NDArray[np.float64]

# A line's middle is looked for at places so far apart; where it is so much wider or narrower than usual, its edges are
# not both its own; and where so few show them, nothing is moved.
PLACE_MM, MOST_PLACES, WIDER_SHARE, LEAST_SEEN = 2.0, 2000, 0.2, 0.3
# A tight bend that turns so much may be a corner.
CORNER_DEG = 22.0, 160.0
# So far about where a line was taken to end, its end is looked for.
END_MM = 24.0


def centred(picture: Picture, mm_per_px: float, stroke: Stroke, look: Look) -> Floats:
    """Points along a stroke, each moved aside to half way between both edges of the line as they are seen there.

    Where they are not seen (in a gap, at a corner or a crossing) it is moved as what is before and behind.

    Returns
    -------
    ndarray, shape (n, 2)
        In mm, at about equal steps; of a closed stroke the last is one step before the first.
    """
    count = int(np.clip(sum(map(length_of, stroke.pieces)) / PLACE_MM, 20, MOST_PLACES))
    share = np.linspace(0.0, 1.0, count, endpoint=not stroke.closed)
    places = np.column_stack(stroke_points(replace(stroke, closed=False), share))
    _, left = along_and_left(places)
    offsets = np.arange(0.0, look.width_mm + EDGE_MM, STEP_MM)
    line = shares_of(look.colour)
    beside = shares_of(look.border_colour if look.border_mm > 0.0 else look.ground)
    edges = []
    for side in (1.0, -1.0):
        px, py = ((places[:, k, None] + side * offsets * left[:, k, None]) / mm_per_px - 0.5 for k in (0, 1))
        edges.append(_first_edge(share_of(np.nan_to_num(sampled(picture, px, py), nan=1e3), line, beside)))
    wide, aside = edges[0] + edges[1], 0.5 * (edges[0] - edges[1])
    seen = np.abs(wide - look.width_mm) < WIDER_SHARE * look.width_mm + STEP_MM
    return moved_aside(places, left, aside, seen) if np.count_nonzero(seen) >= LEAST_SEEN * count else places


def _first_edge(share: Floats) -> Floats:
    """How far from the middle a line first gives way to what is beside it, for each place; NaN where it is not seen."""
    beyond = share >= 0.5
    at = np.argmax(beyond, axis=1)
    found = beyond.any(axis=1) & (at > 0)
    rows = np.arange(len(share))
    before, after = share[rows, at - 1], share[rows, at]
    with np.errstate(divide="ignore", invalid="ignore"):
        edge = STEP_MM * (at - (after - 0.5) / (after - before))
    return np.where(found, edge, np.nan)


def with_sharp_corners(stroke: Stroke, picture: Picture, mm_per_px: float, look: Look) -> Stroke:
    """A stroke with corners for those tight bends outside of which there is line, as only a corner leaves it."""
    pieces: list[Piece] = []
    for piece, (x, y, heading) in zip(stroke.pieces, piece_joints(replace(stroke, closed=False)), strict=False):
        sharp = isinstance(piece, Bend) and piece.radius_mm <= look.width_mm
        if not isinstance(piece, Bend) or not sharp or not CORNER_DEG[0] <= abs(piece.angle_deg) <= CORNER_DEG[1]:
            pieces.append(piece)
            continue
        half = 0.5 * float(np.radians(abs(piece.angle_deg)))
        side = float(np.copysign(1.0, piece.angle_deg))
        middle = np.array((x - side * piece.radius_mm * np.sin(heading), y + side * piece.radius_mm * np.cos(heading)))
        # Between where a bend's outer edge is and where a corner's would be.
        out = heading - side * (0.5 * np.pi - half)
        reach = (piece.radius_mm + 0.5 * look.width_mm) * (0.5 + 0.5 / np.cos(half))
        place = (middle + reach * np.array((np.cos(out), np.sin(out)))) / mm_per_px - 0.5
        seen = np.nan_to_num(sampled(picture, place[:1], place[1:]), nan=1e3)
        if share_of(seen, shares_of(look.colour), shares_of(look.ground))[0] >= 0.5:
            pieces.append(piece)
        else:
            ahead = Straight(max(piece.radius_mm * float(np.tan(half)), 1.0))
            pieces += [ahead, Corner(piece.angle_deg), ahead]
    return replace(stroke, pieces=run_together(pieces))


def with_true_ends(stroke: Stroke, picture: Picture, mm_per_px: float, look: Look) -> Stroke:
    """An open stroke that starts and ends where the line in the picture does."""
    if stroke.closed or not stroke.pieces:
        return stroke
    for _ in range(2):
        stroke = turned_round(within_the_rim(longer(stroke, _beyond(picture, mm_per_px, stroke, look))))
    return stroke


def _beyond(picture: Picture, mm_per_px: float, stroke: Stroke, look: Look) -> float:
    """How much farther than a stroke's end the line goes on; less than 0 if it ends before."""
    x, y, heading = piece_joints(stroke)[-1]
    line, ground = shares_of(look.colour), shares_of(look.ground)
    along = np.arange(-END_MM, END_MM + 0.5 * STEP_MM, STEP_MM)
    aside = np.array((-0.25, 0.0, 0.25)) * look.width_mm
    px = (x + along[:, None] * np.cos(heading) - aside * np.sin(heading)) / mm_per_px - 0.5
    py = (y + along[:, None] * np.sin(heading) + aside * np.cos(heading)) / mm_per_px - 0.5
    seen = np.nan_to_num(sampled(picture, px, py), nan=1e3)
    share = share_of(np.median(seen, axis=1), line, ground)
    off = np.flatnonzero((share[1:] >= 0.5) & (share[:-1] < 0.5))
    if not off.size or share[0] >= 0.5:
        return 0.0
    # The end nearest to where it was taken to be.
    i = int(off[np.argmin(np.abs(along[off]))])
    return float(along[i] + STEP_MM * (0.5 - share[i]) / (share[i + 1] - share[i]))
