"""What a line found in a picture looks like there: how wide it is, its border and colours."""

import warnings
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.pieces import length_of
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.reflectance import as_hex
from irontrail.core.mat.tape import Stroke

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# How far beyond its edge a line is looked at, in what steps, and at how many places along it.
BEYOND_MM, STEP_MM, MOST_PLACES = 40.0, 0.5, 400
# A border is even over so much, and differs by so much (0..1 in sRGB) from line and ground.
EVEN_MM, EVEN, DIFFERS = 3.0, 0.05, 0.12
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
        width = 2.0 * float(np.trapezoid(1.0 - share_of(seen, line, ground), offsets))
        return Look(width, as_hex(line), as_hex(ground))
    start, end, colour = border
    inner = _crossing(offsets, share_of(seen, line, colour), 0.0, start)
    outer = _crossing(offsets, share_of(seen, colour, ground), end, float(offsets[-1]))
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
    seen = sampled(picture, px, py)
    left, right = map(_usual, (seen[:, : offsets.size], seen[:, offsets.size :]))
    # Beyond the picture's rim one side is as the other.
    left, right = np.where(np.isnan(left), right, left), np.where(np.isnan(right), left, right)
    return offsets, np.nan_to_num(left), np.nan_to_num(right)


def _usual(seen: Floats) -> Floats:
    """The median of what is seen at several places, shape (places, n, 3); NaN where it all lies beyond the picture."""
    if not np.isnan(seen).any():
        # Twice as quick, with nothing to leave out.
        return np.asarray(np.median(seen, axis=0))
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)
        return np.asarray(np.nanmedian(seen, axis=0))


def sampled(picture: Picture, px: Floats, py: Floats) -> Floats:
    """Colours at places in pixels; NaN beyond the picture."""
    from scipy import ndimage

    seen = np.stack(
        [ndimage.map_coordinates(picture[:, :, k], (py, px), order=1, mode="nearest") for k in range(3)], axis=-1
    ).astype(np.float64)
    rows, columns = picture.shape[:2]
    seen[(px < -0.5) | (py < -0.5) | (px > columns - 0.5) | (py > rows - 0.5)] = np.nan
    return seen


def share_of(seen: Floats, first: Floats, last: Floats) -> Floats:
    """How much of the way from one colour to another some colours are, 0..1."""
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
