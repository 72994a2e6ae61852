"""The lines of a mat: one changed with those that fork off from it, forks and crossings laid, a line taken up."""

from dataclasses import replace

import numpy as np

from irontrail.core.errors import IronTrailError, OutOfRangeError
from irontrail.core.mat.laying import middle_place, set_down
from irontrail.core.mat.route import piece_joints, stroke_route
from irontrail.core.mat.tape import Bend, Corner, Mat, Straight, Stroke


def with_line(mat: Mat, number: int, stroke: Stroke) -> Mat:
    """A mat with one of its lines changed; a line that forks off from it goes along as far as they lie together.

    Raises
    ------
    IronTrailError
        If the line cannot be laid so. One that could not go along stays as it lies.
    """
    old = mat.lines[number]
    stroke_route(stroke, mat.name)
    lines = [
        stroke if i == number else _gone_along(mat, other, old, stroke) if _together(other, old) else other
        for i, other in enumerate(mat.lines)
    ]
    return replace(mat, line=lines[0], other_lines=tuple(lines[1:]))


def _place(stroke: Stroke) -> tuple[float, float, float]:
    return stroke.x_mm, stroke.y_mm, stroke.heading_deg


def _together(first: Stroke, second: Stroke) -> bool:
    """Whether two lines begin as one."""
    return _place(first) == _place(second) and first.pieces[:1] == second.pieces[:1]


def _gone_along(mat: Mat, other: Stroke, old: Stroke, new: Stroke) -> Stroke:
    """A line that shares its beginning with one that was changed, gone along with it if it can be laid so."""
    made = _along(other, old, new)
    try:
        stroke_route(made, mat.name)
    except IronTrailError:
        return other
    return made


def _along(other: Stroke, old: Stroke, new: Stroke) -> Stroke:
    """A line that shares its beginning with one that was changed, with that beginning changed alike."""
    shared = next((i for i, (a, b) in enumerate(zip(other.pieces, old.pieces, strict=False)) if a != b), None)
    shared = min(len(other.pieces), len(old.pieces)) if shared is None else shared
    apart = old.pieces[shared:]
    if len(apart) > len(new.pieces) or (apart and new.pieces[-len(apart) :] != apart):
        return replace(other, x_mm=new.x_mm, y_mm=new.y_mm, heading_deg=new.heading_deg)
    common = new.pieces[: len(new.pieces) - len(apart)]
    rest = other.pieces[shared:]
    if not common and not rest:
        return other
    return replace(other, x_mm=new.x_mm, y_mm=new.y_mm, heading_deg=new.heading_deg, pieces=(*common, *rest))


def forked(mat: Mat, number: int, at: int) -> Mat:
    """A new line that goes along with one to the end of a piece, and there bends off to the other side."""
    line = mat.lines[number]
    ahead = next((p for p in line.pieces[at + 1 :] if isinstance(p, Bend | Corner)), None)
    side = -1.0 if ahead is not None and ahead.angle_deg > 0.0 else 1.0
    pieces = (*line.pieces[: at + 1], Bend(200.0, 60.0 * side), Straight(200.0))
    return with_other(mat, replace(line, pieces=pieces, closed=False))


def crossed(mat: Mat, number: int, at: int, length_mm: float = 300.0) -> Mat:
    """A new line square across the middle of a piece."""
    line = mat.lines[number]
    (x0, y0, h0), (x1, y1, _) = piece_joints(line)[at : at + 2]
    way = float(np.arctan2(y1 - y0, x1 - x0)) if (x0, y0) != (x1, y1) else h0
    x, y, across = 0.5 * (x0 + x1), 0.5 * (y0 + y1), way + 0.5 * np.pi
    middle = middle_place(line, at)
    if middle is not None and isinstance(line.pieces[at], Bend):
        x, y = middle
    c, s = float(np.cos(across)), float(np.sin(across))
    # It begins on the mat, however near to the rim the crossing is.
    before = min([0.5 * length_mm, *(place / way for place, way in ((x, c), (y, s)) if way > 1e-9)])
    stroke = replace(line, pieces=(Straight(before + 0.5 * length_mm),), closed=False)
    return with_other(mat, set_down(stroke, x - before * c, y - before * s, float(np.degrees(across))))


def with_other(mat: Mat, stroke: Stroke) -> Mat:
    """A mat with one more line; OutOfRangeError if it holds no more."""
    return replace(mat, other_lines=(*mat.other_lines, stroke))


def without_line(mat: Mat, number: int) -> Mat:
    """A mat with a line taken up; the goals of the lines after it move down.

    Raises
    ------
    OutOfRangeError
        If it is the only line.
    """
    if len(mat.lines) == 1:
        raise OutOfRangeError("a mat needs a line to follow", "Mat.line", "Change its pieces instead.")
    lines = mat.lines[:number] + mat.lines[number + 1 :]
    goal = 0 if mat.goal == number else mat.goal - (mat.goal > number)
    return replace(mat, line=lines[0], other_lines=lines[1:], goal=goal)
