"""Tape drawn as the outline of what it covers: its middle, and how wide it is."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.fit import fit_stroke
from irontrail.core.mat.middles import middles
from irontrail.core.mat.refine import points as stroke_points
from irontrail.files.shapes import Shape, Way

Floats = NDArray[np.float64]

# Tape is so much longer than it is wide; the outline is looked at this finely.
LEAST_SLIM, MM_PER_PX, MOST_PX = 6.0, 0.5, 20_000_000
NARROWEST_MM, WIDEST_MM, ROUGH_MM = 3.0, 60.0, 0.25


def centre_lines(shape: Shape) -> Shape | None:
    """A filled shape as a line along its middle; None if it is not slim enough, or of no even width."""
    outlines = [way for way in shape.ways if way.closed]
    if not outlines or shape.stroke is not None or sum(len(way.points) for way in outlines) > 50_000:
        return None
    area = abs(sum(_area(way.points) * _side(way, outlines) for way in outlines))
    round_it = sum(way.length_mm for way in outlines)
    # Long and slim: its outline runs along both sides.
    width = 2.0 * area / max(round_it, 1e-9)
    if not NARROWEST_MM <= width <= WIDEST_MM or 0.5 * round_it < LEAST_SLIM * width:
        return None
    left, low, right, high = shape.box
    size = (int((right - left) / MM_PER_PX) + 8, int((high - low) / MM_PER_PX) + 8)
    if size[0] * size[1] > MOST_PX:
        return None
    mask = _mask(outlines, left, low, size)
    found = middles(mask, MM_PER_PX)
    if not found:
        return None
    ways, seen = [], _width(mask, [points for points, _ in found])
    # The outline of an open line runs round its ends too.
    wide = width if all(closed for _, closed in found) else _width_of(area, round_it, len(found))
    if abs(wide - seen) > 0.15 * wide + 1.0:
        return None
    for points, closed in found:
        place = (points + 0.5 - 4.0) * MM_PER_PX + (left, low)
        if not closed:
            place = _to_its_ends(place, wide)
        try:
            fit = fit_stroke(place, closed, ROUGH_MM)
        except IronTrailError:
            continue
        x, y = stroke_points(replace(fit.stroke, closed=False), np.linspace(0.0, 1.0, max(int(len(place) / 2), 50)))
        laid = np.column_stack((x, y))
        if closed:
            laid = np.concatenate((laid, laid[:1]))
        ways.append(Way((float(laid[0, 0]), float(laid[0, 1])), (laid,), closed, fit.worst_mm))
    return replace(shape, fill=None, stroke=shape.fill, width_mm=wide, ways=tuple(ways)) if ways else None


def _width_of(area: float, round_it: float, count: int) -> float:
    """How wide so many strips are that cover an area and have an outline: area = width x length, by both their sums."""
    half = 0.5 * round_it / count
    return 0.5 * float(half - np.sqrt(max(half**2 - 4.0 * area / count, 0.0)))


def _area(points: Floats) -> float:
    x, y = points.T
    return 0.5 * float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)))


def _side(way: Way, outlines: list[Way]) -> float:
    """1 for an outline, -1 for a hole's: whichever way each is drawn round."""
    depth = sum(_holds(other.points, way.points[0]) for other in outlines if other is not way)
    sign = 1.0 if depth % 2 == 0 else -1.0
    return sign * float(np.sign(_area(way.points)) or 1.0)


def _holds(outline: Floats, place: Floats) -> bool:
    x, y = outline.T
    nx, ny = np.roll(x, -1), np.roll(y, -1)
    crosses = (y > place[1]) != (ny > place[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x + (place[1] - y) / (ny - y) * (nx - x)
    return bool(np.count_nonzero(crosses & (place[0] < at)) % 2)


def _mask(outlines: list[Way], left: float, low: float, size: tuple[int, int]) -> NDArray[np.bool_]:
    from PIL import Image, ImageChops, ImageDraw

    whole = Image.new("1", size)
    for way in outlines:
        one = Image.new("1", size)
        places = (way.points - (left, low)) / MM_PER_PX + 4.0 - 0.5
        ImageDraw.Draw(one).polygon([(float(x), float(y)) for x, y in places], fill=1)
        whole = ImageChops.logical_xor(whole, one)
    return np.asarray(whole, np.bool_)


def _width(mask: NDArray[np.bool_], ways: list[Floats]) -> float:
    from scipy import ndimage

    inside = ndimage.distance_transform_edt(mask)
    at = np.concatenate(ways).astype(np.intp)
    return float(2.0 * np.median(inside[at[:, 1], at[:, 0]]) - 1.0) * MM_PER_PX


def _to_its_ends(points: Floats, wide: float) -> Floats:
    """The middle, which thinning ends half a width before the tape does, on to where that ends."""
    made = points
    for _ in range(2):
        made = made[::-1]
        near = made[min(len(made) - 1, int(wide / MM_PER_PX))]
        way = made[-1] - made[max(0, len(made) - 1 - int(2 * wide / MM_PER_PX))]
        length = float(np.hypot(*way))
        if length > 0.0 and np.hypot(*(made[-1] - near)) > 0.0:
            made = np.concatenate((made, (made[-1] + way / length * 0.5 * wide)[None]))
    return made
