"""Tape drawn as the outline of what it covers: its middle, and how wide it is."""

from contextlib import suppress
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.drawn_way import along_and_left, evenly_along, moved_aside
from irontrail.core.mat.fit import fit_stroke
from irontrail.core.mat.middles import middles
from irontrail.core.mat.pieces import longer, turned_round, within_the_rim
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Stroke
from irontrail.files.outlines import MM_PER_PX, Outlines
from irontrail.files.shapes import Shape, Way, parts_of

Floats = NDArray[np.float64]

# Tape is so much longer than it is wide, and no narrower or wider than this.
LEAST_SLIM, NARROWEST_MM, WIDEST_MM = 6.0, 3.0, 60.0
# How far off the middle its pixels are, and what is worked out of the outline; what is level with a place.
ROUGH_MM, FINE_MM, LEVEL_MM = 0.25, 0.1, 1.0


def centre_lines(shape: Shape) -> Shape | None:
    """A filled shape as a line along its middle; None if it is not slim enough, or of no even width."""
    from scipy.ndimage import distance_transform_edt

    outlines = Outlines.of(shape) if shape.stroke is None else None
    if outlines is None:
        return None
    # Long and slim: its outline runs along both sides.
    width = 2.0 * outlines.rough_area_mm2 / max(outlines.round_mm, 1e-9)
    if not NARROWEST_MM <= width <= WIDEST_MM or 0.5 * outlines.round_mm < LEAST_SLIM * width:
        return None
    inside = distance_transform_edt(outlines.mask)
    found = middles(inside, MM_PER_PX)
    if not found:
        return None
    at = np.concatenate([pixels for pixels, _ in found]).astype(np.intp)
    seen = float(2.0 * np.median(inside[at[:, 1], at[:, 0]]) - 1.0) * MM_PER_PX
    # The outline of an open line runs round its ends too.
    every_closed = all(closed for _, closed in found)
    wide = 2.0 * outlines.area_mm2 / outlines.round_mm if every_closed else _width_of(outlines, len(found))
    if abs(wide - seen) > 0.15 * wide + 1.0:
        return None
    ways = []
    for pixels, closed in found:
        with suppress(IronTrailError):
            ways.append(_way(outlines.places_of(pixels), closed, outlines, wide))
    if not ways:
        return None
    away = [_to_the_sides(way, outlines, wide) for way in ways]
    wide = 2.0 * float(np.median(np.concatenate(away)))
    # Where another way crosses it, and where the tape is wider, its sides are farther: that is no fault of the way's.
    off = (max(float((0.5 * wide - each).max()), 0.0) for each in away)
    laid = tuple(replace(way, off_mm=by) for way, by in zip(ways, off, strict=True))
    return replace(shape, fill=None, stroke=shape.fill, width_mm=wide, ways=laid)


def _way(middle: Floats, closed: bool, outlines: Outlines, wide: float) -> Way:
    """The way in the middle between the sides, which a row of pixels follows roughly.

    Raises
    ------
    IronTrailError
        If no tape can be laid so.
    """
    if not closed:
        middle = _on_the_mat(_to_its_ends(middle, wide, outlines))
    rough = replace(fit_stroke(middle, closed, ROUGH_MM).stroke, closed=False)
    x, y = stroke_points(rough, np.linspace(0.0, 1.0, max(int(len(middle) / 2), 50)))
    stroke = fit_stroke(_between(outlines, np.column_stack((x, y)), wide), closed, FINE_MM).stroke
    if not closed:
        stroke = turned_round(_ended(turned_round(_ended(stroke, outlines, wide)), outlines, wide))
    start, parts = parts_of(stroke)
    return Way(start, parts, closed)


def _to_its_ends(points: Floats, wide: float, outlines: Outlines) -> Floats:
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
        ends = outlines.crossed(made[last[-1]], way)
        if np.any(ends > 0.0):
            made = np.concatenate((made[: last[-1] + 1], (made[last[-1]] + ends[ends > 0.0].min() * way)[None]))
    return made


def _on_the_mat(points: Floats) -> Floats:
    """The longest stretch of a way that lies within the left and the lower rim, beyond which no tape may start."""
    inside = np.concatenate(([False], (points >= 0.0).all(axis=1), [False]))
    turns = np.flatnonzero(np.diff(inside.astype(int)))
    stretches = [points[start:end] for start, end in zip(turns[::2], turns[1::2], strict=True)]
    return max(stretches, key=len, default=points[:0])


def _between(outlines: Outlines, laid: Floats, wide: float) -> Floats:
    """A way that lies nearly in the middle, moved to where it does: half way between the sides to its left and right.

    Where a side is not level with it, as at a corner, it is moved as what is before and behind.
    """
    way, left = along_and_left(laid)
    off, level = np.zeros(len(laid)), np.ones(len(laid), np.bool_)
    for side in (left, -left):
        usual = 0.5 * wide * side
        to_side = outlines.nearest(laid + usual) - laid
        off += 0.5 * (to_side * left).sum(axis=1)
        level &= np.abs((to_side * way).sum(axis=1)) < LEVEL_MM
        level &= np.hypot(*(to_side - usual).T) < 0.1 * wide + LEVEL_MM
    return moved_aside(laid, left, off, level) if level.any() else laid


def _ended(stroke: Stroke, outlines: Outlines, wide: float) -> Stroke:
    """An open stroke that ends where its outline does."""
    x, y, heading = piece_joints(stroke)[-1]
    ends = outlines.crossed(np.array([x, y]), np.array([np.cos(heading), np.sin(heading)]))
    by = float(ends[np.argmin(np.abs(ends))]) if ends.size else 0.0
    return within_the_rim(longer(stroke, by) if abs(by) <= wide else stroke)


def _to_the_sides(way: Way, outlines: Outlines, wide: float) -> Floats:
    """How far the nearest side is from a way, but for its ends; negative where the way lies outside."""
    laid = evenly_along(way.points)
    ends = np.minimum(np.hypot(*(laid - laid[0]).T), np.hypot(*(laid - laid[-1]).T))
    laid = laid[ends > wide] if np.any(ends > wide) else laid
    away = np.hypot(*(outlines.nearest(laid) - laid).T)
    return np.asarray(np.where(outlines.holds(laid), away, -away))


def _width_of(outlines: Outlines, count: int) -> float:
    """How wide so many strips are that cover an area and have an outline: area = width x length, by both their sums."""
    half = 0.5 * outlines.round_mm / count
    return 0.5 * float(half - np.sqrt(max(half**2 - 4.0 * outlines.area_mm2 / count, 0.0)))
