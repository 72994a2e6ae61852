"""Tape drawn as the outline of what it covers: its middle, and how wide it is."""

from contextlib import suppress
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.drawn_way import evenly_along
from irontrail.core.mat.fit import fit_stroke
from irontrail.core.mat.middles import middles
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Bend, Straight, Stroke
from irontrail.files.drawn_lines import turned_round
from irontrail.files.shapes import Shape, Way, parts_of

Floats = NDArray[np.float64]

# Tape is so much longer than it is wide; the outline is looked at this finely.
LEAST_SLIM, MM_PER_PX, MOST_PX = 6.0, 0.5, 20_000_000
NARROWEST_MM, WIDEST_MM = 3.0, 60.0
# How far off the middle its pixels are, and what is worked out of the outline; what is level with a place.
ROUGH_MM, FINE_MM, LEVEL_MM = 0.25, 0.1, 1.0


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
    mask = _mask(outlines, shape.even_odd, left, low, size)
    area = float(mask.sum()) * MM_PER_PX**2
    width = 2.0 * area / round_it
    found = middles(mask, MM_PER_PX)
    if not found:
        return None
    seen = _width(mask, [points for points, _ in found])
    # The outline of an open line runs round its ends too.
    wide = width if all(closed for _, closed in found) else _width_of(area, round_it, len(found))
    if abs(wide - seen) > 0.15 * wide + 1.0:
        return None
    sides = _sides(outlines, mask, left, low)
    ways = []
    for points, closed in found:
        with suppress(IronTrailError):
            ways.append(_way((points + 0.5 - 4.0) * MM_PER_PX + (left, low), closed, outlines, sides, wide))
    if not ways:
        return None
    away = [_to_the_sides(way, sides, wide, mask, (left, low)) for way in ways]
    wide = 2.0 * float(np.median(np.concatenate(away)))
    # Where another way crosses it, and where the tape is wider, its sides are farther: that is no fault of the way's.
    off = (max(float((0.5 * wide - each).max()), 0.0) for each in away)
    laid = tuple(replace(way, off_mm=by) for way, by in zip(ways, off, strict=True))
    return replace(shape, fill=None, stroke=shape.fill, width_mm=wide, ways=laid)


def _way(middle: Floats, closed: bool, outlines: list[Way], sides: Floats, wide: float) -> Way:
    """The way in the middle between the sides, which a row of pixels follows roughly.

    Raises
    ------
    IronTrailError
        If no tape can be laid so.
    """
    middle = _from_its_straightest(middle, wide) if closed else _to_its_ends(middle, wide, outlines)
    rough = replace(fit_stroke(middle, closed, ROUGH_MM).stroke, closed=False)
    x, y = stroke_points(rough, np.linspace(0.0, 1.0, max(int(len(middle) / 2), 50)))
    stroke = fit_stroke(_between(sides, np.column_stack((x, y)), wide), closed, FINE_MM).stroke
    if not closed:
        stroke = turned_round(_ended(turned_round(_ended(stroke, outlines, wide)), outlines, wide))
    start, parts = parts_of(stroke)
    return Way(start, parts, closed)


def _from_its_straightest(points: Floats, wide: float) -> Floats:
    """A closed way from where it is straightest about: none begins well in a corner."""
    reach = max(int(2.0 * wide / MM_PER_PX), 1)
    before, after = np.roll(points, reach, axis=0), np.roll(points, -reach, axis=0)
    bent = np.hypot(*(0.5 * (before + after) - points).T)
    return np.roll(points, -int(np.argmin(bent)), axis=0)


def _ended(stroke: Stroke, outlines: list[Way], wide: float) -> Stroke:
    """An open stroke that ends where its outline does."""
    x, y, heading = piece_joints(stroke)[-1]
    way = np.array([np.cos(heading), np.sin(heading)])
    ends = np.concatenate([_crossed(outline.points, np.array([x, y]), way) for outline in outlines])
    last = stroke.pieces[-1]
    by = float(ends[np.argmin(np.abs(ends))]) if ends.size else 0.0
    if abs(by) > wide or (isinstance(last, Straight) and last.length_mm + by < 1.0):
        return stroke
    if isinstance(last, Straight):
        last = replace(last, length_mm=last.length_mm + by)
    elif isinstance(last, Bend):
        last = replace(
            last, angle_deg=last.angle_deg + float(np.copysign(np.degrees(by / last.radius_mm), last.angle_deg))
        )
    return replace(stroke, pieces=(*stroke.pieces[:-1], last))


def _width_of(area: float, round_it: float, count: int) -> float:
    """How wide so many strips are that cover an area and have an outline: area = width x length, by both their sums."""
    half = 0.5 * round_it / count
    return 0.5 * float(half - np.sqrt(max(half**2 - 4.0 * area / count, 0.0)))


def _area(points: Floats) -> float:
    x, y = points.T
    return 0.5 * float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)))


def _side(way: Way, outlines: list[Way]) -> float:
    """1 for an outline, -1 for a hole's: whichever way each is drawn round."""
    # Some place of it that is on no level of another's points.
    place = 0.63 * way.points[0] + 0.37 * way.points[1]
    depth = sum(_holds(other.points, place) for other in outlines if other is not way)
    sign = 1.0 if depth % 2 == 0 else -1.0
    return sign * float(np.sign(_area(way.points)) or 1.0)


def _holds(outline: Floats, place: Floats) -> bool:
    x, y = outline.T
    nx, ny = np.roll(x, -1), np.roll(y, -1)
    crosses = (y > place[1]) != (ny > place[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x + (place[1] - y) / (ny - y) * (nx - x)
    return bool(np.count_nonzero(crosses & (place[0] < at)) % 2)


def _mask(outlines: list[Way], even_odd: bool, left: float, low: float, size: tuple[int, int]) -> NDArray[np.bool_]:
    """What is filled: what is gone round an odd number of times, or more often one way than the other."""
    from PIL import Image, ImageDraw

    times = np.zeros((size[1], size[0]), np.int8)
    for way in outlines:
        one = Image.new("1", size)
        places = (way.points - (left, low)) / MM_PER_PX + 4.0 - 0.5
        ImageDraw.Draw(one).polygon([(float(x), float(y)) for x, y in places], fill=1)
        times += np.asarray(one, np.int8) * (1 if _area(way.points) > 0.0 else -1)
    return np.asarray(times % 2 == 1 if even_odd else times != 0)


def _sides(outlines: list[Way], mask: NDArray[np.bool_], left: float, low: float) -> Floats:
    """Points of the outlines, but for what of one lies inside another."""
    points = np.concatenate([evenly_along(outline.points) for outline in outlines])
    inside = np.ones(len(points), np.bool_)
    for off in ((-1, 0), (1, 0), (0, -1), (0, 1)):
        inside &= _is_in(mask, points + 2.0 * MM_PER_PX * np.array(off), (left, low))
    return points[~inside] if not inside.all() else points


def _is_in(mask: NDArray[np.bool_], points: Floats, corner: tuple[float, float]) -> NDArray[np.bool_]:
    i, j = np.clip(((points - corner) / MM_PER_PX + 4.0).astype(np.intp), 0, np.array(mask.shape)[::-1] - 1).T
    return np.asarray(mask[j, i])


def _width(mask: NDArray[np.bool_], ways: list[Floats]) -> float:
    from scipy import ndimage

    inside = ndimage.distance_transform_edt(mask)
    at = np.concatenate(ways).astype(np.intp)
    return float(2.0 * np.median(inside[at[:, 1], at[:, 0]]) - 1.0) * MM_PER_PX


def _to_its_ends(points: Floats, wide: float, outlines: list[Way]) -> Floats:
    """The middle without the last width, which thinning bends, and straight on to where the tape ends."""
    made = points
    for _ in range(2):
        made = made[::-1]
        to_go = np.hypot(*(made - made[-1]).T)
        inner, last = np.flatnonzero(to_go > 3.0 * wide), np.flatnonzero(to_go > wide)
        if not inner.size:
            continue
        way = made[last[-1]] - made[inner[-1]]
        way /= max(float(np.hypot(*way)), 1e-9)
        ends = np.concatenate([_crossed(outline.points, made[last[-1]], way) for outline in outlines])
        if np.any(ends > 0.0):
            made = np.concatenate((made[: last[-1] + 1], (made[last[-1]] + ends[ends > 0.0].min() * way)[None]))
    return made


def _between(sides: Floats, laid: Floats, wide: float) -> Floats:
    """A way that lies nearly in the middle, moved to where it does: half way between the sides to its left and right.

    Where a side is not level with it, as at a corner, it is moved as what is before and behind.
    """
    from scipy.spatial import cKDTree

    way = np.gradient(laid, axis=0)
    way /= np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)[:, None]
    left = np.column_stack((-way[:, 1], way[:, 0])) * 0.5 * wide
    off, level = np.zeros(len(laid)), np.ones(len(laid), np.bool_)
    for side in (left, -left):
        _, near = cKDTree(sides).query(laid + side)
        to_side = sides[near] - laid
        off += 0.5 * (to_side * left).sum(axis=1) / (0.5 * wide)
        level &= (np.abs((to_side * way).sum(axis=1)) < LEVEL_MM) & (np.hypot(*(to_side - side).T) < 0.1 * wide + 1.0)
    if not level.any():
        return laid
    along = np.arange(len(laid))
    return np.asarray(laid + np.interp(along, along[level], off[level])[:, None] * left / (0.5 * wide))


def _to_the_sides(way: Way, sides: Floats, wide: float, mask: NDArray[np.bool_], corner: tuple[float, float]) -> Floats:
    """How far the nearest side is from a way, but for its ends; negative where the way lies outside."""
    from scipy.spatial import cKDTree

    laid = evenly_along(way.points)
    ends = np.minimum(np.hypot(*(laid - laid[0]).T), np.hypot(*(laid - laid[-1]).T))
    laid = laid[ends > wide] if np.any(ends > wide) else laid
    away, _ = cKDTree(sides).query(laid)
    return np.asarray(np.where(_is_in(mask, laid, corner), away, -away))


def _crossed(outline: Floats, place: Floats, way: Floats) -> Floats:
    """How far ahead of a place, or behind it (negative), an outline is crossed by a straight way through there."""
    off = outline - place
    along, aside = off @ way, way[0] * off[:, 1] - way[1] * off[:, 0]
    next_along, next_aside = np.roll(along, -1), np.roll(aside, -1)
    crosses = (aside > 0.0) != (next_aside > 0.0)
    share = aside[crosses] / (aside[crosses] - next_aside[crosses])
    return np.asarray(along[crosses] + share * (next_along[crosses] - along[crosses]))
