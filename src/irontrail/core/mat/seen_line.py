"""What a line found in a picture looks like there: how wide it is, its border and colours, and where it ends."""

import warnings
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.pieces import length_of, longer, run_together, turned_round
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.reflectance import as_hex, shares_of
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Bend, Corner, Piece, Straight, Stroke

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# How far beyond its edge a line is looked at, in what steps, and at how many places along it.
BEYOND_MM, STEP_MM, MOST_PLACES = 40.0, 0.5, 400
# A border is even over so much, and differs by so much (0..1 in sRGB) from line and ground.
EVEN_MM, EVEN, DIFFERS = 3.0, 0.05, 0.12
# So far about where a line was taken to end, its end is looked for.
END_MM = 24.0
# A line's middle is looked for at places so far apart; where it is so much wider or narrower than usual, its edges are
# not both its own; and where so few show them, nothing is moved.
PLACE_MM, WIDER_SHARE, LEAST_SEEN = 2.0, 0.2, 0.3
# A tight bend that turns so much may be a corner.
CORNER_DEG = 22.0, 160.0
# Just beside a line is something else, on both sides.
EDGE_MM, LEAST_CONTRAST = 4.0, 0.08


@dataclass(frozen=True)
class Look:
    """A line's width and colours as they are seen, and the ground beside it; no border is 0 mm wide."""

    width_mm: float
    colour: str
    ground: str
    border_mm: float = 0.0
    border_colour: str = "#ffffff"


def look_of(picture: Picture, mm_per_px: float, stroke: Stroke, about_mm: float) -> Look:
    """How a line looks that was found about so wide; IronTrailError if it is only where two grounds meet.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns, 3), float32
        sRGB, 0..1; row 0 is the mat's bottom edge.
    """
    offsets, left, right = _across(picture, mm_per_px, stroke, 0.5 * about_mm + BEYOND_MM)
    seen = 0.5 * (left + right)
    beside = int((0.5 * about_mm + EDGE_MM) / STEP_MM)
    middle = np.median(seen[offsets <= max(0.15 * about_mm, 1.0)], axis=0)
    if min(float(np.abs(side[beside] - middle).max()) for side in (left, right)) < LEAST_CONTRAST:
        raise IronTrailError("the edge of a patch, and no line", "picture", "Pick the line's colour.")
    ground = np.median(seen[offsets > offsets[-1] - 8.0], axis=0)
    line = np.median(seen[offsets <= max(0.15 * about_mm, 1.0)], axis=0)
    border = _border(offsets, seen, line, ground)
    if border is None:
        width = 2.0 * float(np.trapezoid(1.0 - _share(seen, line, ground), offsets))
        return Look(width, as_hex(line), as_hex(ground))
    start, end, colour = border
    inner = _crossing(offsets, _share(seen, line, colour), 0.0, start)
    outer = _crossing(offsets, _share(seen, colour, ground), end, float(offsets[-1]))
    return Look(2.0 * inner, as_hex(line), as_hex(ground), max(outer - inner, 0.0), as_hex(colour))


def _across(picture: Picture, mm_per_px: float, stroke: Stroke, reach_mm: float) -> tuple[Floats, Floats, Floats]:
    """Distances from the middle, and the usual colours there to the left and to the right, shape (n, 3) each."""
    count = int(np.clip(sum(map(length_of, stroke.pieces)) / 3.0, 20, MOST_PLACES))
    share = np.linspace(0.03, 0.97, count)
    x, y = stroke_points(stroke, share)
    on_x, on_y = stroke_points(stroke, share + 1e-4)
    way = np.arctan2(on_y - y, on_x - x)
    offsets = np.arange(0.0, reach_mm + 0.5 * STEP_MM, STEP_MM)
    sides = np.concatenate((offsets, -offsets))
    px = (x[:, None] - sides * np.sin(way)[:, None]) / mm_per_px - 0.5
    py = (y[:, None] + sides * np.cos(way)[:, None]) / mm_per_px - 0.5
    seen = _sampled(picture, px, py)
    with warnings.catch_warnings():
        # Of what lies beyond the picture all along there is no median.
        warnings.simplefilter("ignore", RuntimeWarning)
        left, right = (np.nanmedian(half, axis=0) for half in (seen[:, : offsets.size], seen[:, offsets.size :]))
    # Beyond the picture's rim one side is as the other.
    left, right = np.where(np.isnan(left), right, left), np.where(np.isnan(right), left, right)
    return offsets, np.nan_to_num(left), np.nan_to_num(right)


def _sampled(picture: Picture, px: Floats, py: Floats) -> Floats:
    """Colours at places in pixels; NaN beyond the picture."""
    from scipy import ndimage

    seen = np.stack(
        [ndimage.map_coordinates(picture[:, :, k], (py, px), order=1, mode="nearest") for k in range(3)], axis=-1
    ).astype(np.float64)
    rows, columns = picture.shape[:2]
    seen[(px < -0.5) | (py < -0.5) | (px > columns - 0.5) | (py > rows - 0.5)] = np.nan
    return seen


def _share(seen: Floats, first: Floats, last: Floats) -> Floats:
    """How much of the way from one colour to another, 0..1."""
    way = last - first
    return np.clip(((seen - first) @ way) / max(float(way @ way), 1e-6), 0.0, 1.0)


def _border(offsets: Floats, seen: Floats, line: Floats, ground: Floats) -> tuple[float, float, Floats] | None:
    """Where beside a line an even stretch of another colour starts and ends, and that colour."""
    near = int(EVEN_MM / STEP_MM / 2.0)
    change = np.full(offsets.size, np.inf)
    change[near:-near] = np.abs(seen[2 * near :] - seen[: -2 * near]).max(axis=1)
    other = (np.abs(seen - line).max(axis=1) > DIFFERS) & (np.abs(seen - ground).max(axis=1) > DIFFERS)
    even = np.flatnonzero((change < EVEN) & other)
    if not even.size:
        return None
    run = even[: np.argmax(np.concatenate((np.diff(even) > 1, [True]))) + 1]
    return float(offsets[run[0]]), float(offsets[run[-1]]), np.median(seen[run], axis=0)


def _crossing(offsets: Floats, share: Floats, start: float, end: float) -> float:
    """Where a share comes to a half between two distances."""
    inside = np.flatnonzero((offsets >= start) & (offsets <= end) & (share >= 0.5))
    if not inside.size:
        return end
    i = int(inside[0])
    if i == 0 or share[i] == share[i - 1]:
        return float(offsets[i])
    return float(offsets[i] - STEP_MM * (share[i] - 0.5) / (share[i] - share[i - 1]))


def centred(picture: Picture, mm_per_px: float, stroke: Stroke, look: Look) -> Floats:
    """Points along a stroke, each moved aside to half way between both edges of the line as they are seen there.

    Where they are not seen (in a gap, at a corner or a crossing) it is moved as what is before and behind.

    Returns
    -------
    ndarray, shape (n, 2)
        In mm, at about equal steps; of a closed stroke the last is one step before the first.
    """
    count = int(np.clip(sum(map(length_of, stroke.pieces)) / PLACE_MM, 20, 5 * MOST_PLACES))
    share = np.linspace(0.0, 1.0, count, endpoint=not stroke.closed)
    places = np.column_stack(stroke_points(replace(stroke, closed=False), share))
    way = np.gradient(places, axis=0)
    way /= np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)[:, None]
    left = np.column_stack((-way[:, 1], way[:, 0]))
    offsets = np.arange(0.0, look.width_mm + EDGE_MM, STEP_MM)
    line = shares_of(look.colour)
    beside = shares_of(look.border_colour if look.border_mm > 0.0 else look.ground)
    edges = []
    for side in (1.0, -1.0):
        px, py = ((places[:, k, None] + side * offsets * left[:, k, None]) / mm_per_px - 0.5 for k in (0, 1))
        edges.append(_first_edge(_share(np.nan_to_num(_sampled(picture, px, py), nan=1e3), line, beside)))
    wide, aside = edges[0] + edges[1], 0.5 * (edges[0] - edges[1])
    seen = np.abs(wide - look.width_mm) < WIDER_SHARE * look.width_mm + STEP_MM
    if np.count_nonzero(seen) < LEAST_SEEN * count:
        return places
    along = np.arange(count)
    return np.asarray(places + np.interp(along, along[seen], aside[seen])[:, None] * left)


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
        seen = np.nan_to_num(_sampled(picture, place[:1], place[1:]), nan=1e3)
        if _share(seen, shares_of(look.colour), shares_of(look.ground))[0] >= 0.5:
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
        stroke = turned_round(longer(stroke, _beyond(picture, mm_per_px, stroke, look)))
    return stroke


def _beyond(picture: Picture, mm_per_px: float, stroke: Stroke, look: Look) -> float:
    """How much farther than a stroke's end the line goes on; less than 0 if it ends before."""
    x, y, heading = piece_joints(stroke)[-1]
    line, ground = shares_of(look.colour), shares_of(look.ground)
    along = np.arange(-END_MM, END_MM + 0.5 * STEP_MM, STEP_MM)
    aside = np.array((-0.25, 0.0, 0.25)) * look.width_mm
    px = (x + along[:, None] * np.cos(heading) - aside * np.sin(heading)) / mm_per_px - 0.5
    py = (y + along[:, None] * np.sin(heading) + aside * np.cos(heading)) / mm_per_px - 0.5
    seen = np.nan_to_num(_sampled(picture, px, py), nan=1e3)
    share = _share(np.median(seen, axis=1), line, ground)
    off = np.flatnonzero((share[1:] >= 0.5) & (share[:-1] < 0.5))
    if not off.size or share[0] >= 0.5:
        return 0.0
    # The end nearest to where it was taken to be.
    i = int(off[np.argmin(np.abs(along[off]))])
    return float(along[i] + STEP_MM * (0.5 - share[i]) / (share[i + 1] - share[i]))
