"""From a drawn way to tape that lies on it within half a millimetre: straights, pairs of arcs, and corners.

A pair of arcs that meet smoothly (a biarc) leads from any place and direction to any other; K. M. Bolton, "Biarc
curves", Computer-Aided Design 7 (1975). Each is laid as far along the way as it stays near enough, so that the time
grows with the points alone.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.drawn_way import (
    Arc,
    Drawn,
    along_arc,
    deviation,
    drawn_way,
    from_chord,
    length_of,
    turn_between,
)  # fmt: skip
from irontrail.core.mat.knots import LEAST_RADIUS_MM, headings_at, knots_of, looked_at, without_repeats
from irontrail.core.mat.pieces import run_together
from irontrail.core.mat.tape import Bend, Corner, Piece, Straight, Stroke

Floats = NDArray[np.float64]

# Pieces are laid this near to the way; what is left out of it before is nearer still, in a finer look and coarser ones.
WITHIN_MM, PLAIN_MM, STILL_WITHIN_MM = 0.3, (0.05, 0.3), 0.45
# A straight or an arc alone is laid if it lies nearer still, and leads so much of the way as a pair of arcs would.
ALONE_MM, ALONE_SHARE = 0.08, 0.5
# A wider bend is a straight; a lesser turn is none to speak of.
MOST_RADIUS_MM, CORNER_DEG = 5_000.0, 1.5
MOST_CORNER_DEG, MOST_ARC_RAD = 170.0, np.pi
# A way back on itself is laid with such a step aside.
ASIDE_MM = 1.0
MOST_POINTS = 100_000
# A way in so few pieces is not rough; ends that head so nearly alike meet.
FEW_PIECES, MEETS_RAD = 40, 5e-4
LONGEST_MM = 200_000.0


@dataclass
class _Pen:
    """Where the tape has come to, which way it heads, and what has been laid."""

    x: float
    y: float
    heading: float
    pieces: list[Piece]

    def turn_to(self, heading: float) -> None:
        """Head another way by a corner."""
        turn = turn_between(self.heading, heading)
        if abs(turn) < 1e-9:
            return
        if abs(np.degrees(turn)) > MOST_CORNER_DEG:
            half = 0.5 * np.pi * np.sign(turn)
            self._corner(half)
            self.ahead(ASIDE_MM)
            turn -= half
        self._corner(turn)

    def _corner(self, turn: float) -> None:
        self.pieces.append(Corner(float(np.degrees(turn))))
        self.heading += turn

    def ahead(self, length: float) -> None:
        """Go straight on."""
        self.pieces.append(Straight(max(length, 1.0)))
        self.x += max(length, 1.0) * np.cos(self.heading)
        self.y += max(length, 1.0) * np.sin(self.heading)

    def arc(self, radius: float, turn: float) -> None:
        """Go along an arc, or straight on where it is all but one."""
        if radius > MOST_RADIUS_MM:
            if radius * abs(turn) >= 1.0:
                self.ahead(radius * abs(turn))
            return
        self.pieces.append(Bend(float(radius), float(np.degrees(turn))))
        ((self.x, self.y),) = along_arc(np.array((self.x, self.y)), self.heading, radius, np.array([turn])).tolist()
        self.heading += turn


def laid_along(drawn: Sequence[Drawn], start: tuple[float, float], closed: bool) -> Stroke:
    """The tape along a drawn way, in as few pieces as the ways tried come to.

    Parameters
    ----------
    drawn : sequence of ndarray, shape (n, 2), and Arc
        What follows one on another: points in mm, straight between them, or arcs. A closed way's last point is its
        first one.
    start : pair of float
        Where it begins, in mm.

    Raises
    ------
    IronTrailError
        If it has no length, more points than anybody draws, or starts beside the mat.
    """
    if sum(len(part) for part in drawn if not isinstance(part, Arc)) > MOST_POINTS:
        raise IronTrailError(f"a line of more than {MOST_POINTS:,} points", "", "Simplify it first.")
    if not (0.0 <= start[0] <= 10_000.0 and 0.0 <= start[1] <= 10_000.0):
        raise IronTrailError("a line that starts beside the mat", "", "Move it onto the mat.")
    parts = [part if isinstance(part, Arc) else without_repeats(np.asarray(part, np.float64)) for part in drawn]
    parts = [part for part in parts if isinstance(part, Arc) or len(part) > 1]
    if not parts:
        raise IronTrailError("a line without length", "", "Draw it longer.")
    length = sum(length_of(part) for part in parts)
    if not length <= LONGEST_MM:
        raise IronTrailError(f"a line of {length / 1000.0:,.0f} m", "", "A mat's is shorter by far.")
    # What is rough in small is smooth in large: the coarser look is taken if it lies as near in fewer pieces.
    best = _laid(parts, start, closed, PLAIN_MM[0])
    for plain in PLAIN_MM[1:] if len(best.pieces) > FEW_PIECES else ():
        coarser = _laid(parts, start, closed, plain)
        fewer = len(coarser.pieces) < len(best.pieces)
        best = coarser if fewer and deviation(coarser, drawn_way(parts, start)) <= STILL_WITHIN_MM else best
    return best


def _laid(parts: Sequence[Drawn], start: tuple[float, float], closed: bool, plain_mm: float) -> Stroke:
    pen: _Pen | None = None
    for number, part in enumerate(parts):
        if isinstance(part, Arc):
            pen = pen or _Pen(*start, part.heading, [])
            if abs(turn_between(pen.heading, part.heading)) > MEETS_RAD:
                pen.turn_to(part.heading)
            pen.arc(part.radius_mm, part.turn)
            continue
        knots = knots_of(part, plain_mm)
        alone = closed and len(parts) == 1
        heading, corner = headings_at(part[knots], alone)
        after = parts[number + 1] if number + 1 < len(parts) else None
        if isinstance(after, Arc) and _is_smooth(float(heading[-1, 0]), after.heading):
            heading[-1, 0] = after.heading
        pen = pen or _Pen(*start, float(heading[0, 1]), [])
        if not _is_smooth(pen.heading, float(heading[0, 1])):
            pen.turn_to(float(heading[0, 1]))
        look, at = looked_at(part, knots)
        i = 0
        while i < len(knots) - 1:
            if i and corner[i]:
                pen.turn_to(float(heading[i, 1]))
            stop = next((j for j in range(i + 1, len(knots)) if j == len(knots) - 1 or corner[j]), len(knots) - 1)
            i = _laid_on(pen, part[knots], heading, look, at, i, stop)
    if pen is None or not pen.pieces:
        raise IronTrailError("a line without length", "", "Draw it longer.")
    first = parts[0].heading if isinstance(parts[0], Arc) else _first_heading(parts[0], closed, len(parts), plain_mm)
    if closed and abs(turn_between(pen.heading, first)) > MEETS_RAD:
        pen.turn_to(first)
    degrees = (float(np.degrees(first)) + 180.0) % 360.0 - 180.0
    return Stroke(float(start[0]), float(start[1]), degrees, run_together(pen.pieces))


def _first_heading(part: Floats, closed: bool, count: int, plain_mm: float) -> float:
    heading, _ = headings_at(part[knots_of(part, plain_mm)], closed and count == 1)
    return float(heading[0, 1])


def _is_smooth(before: float, after: float) -> bool:
    return bool(abs(turn_between(before, after)) <= np.radians(CORNER_DEG))


def _laid_on(pen: _Pen, knots: Floats, heading: Floats, look: Floats, at: NDArray[np.intp], i: int, stop: int) -> int:
    """Lay what leads farthest from a knot, and no farther than another; the knot it came to."""

    def biarc(j: int) -> tuple[tuple[float, float], ...] | None:
        arcs = _biarc(pen, knots[j], float(heading[j, 0]))
        return arcs if arcs is not None and _near(pen, arcs, look[at[i] : at[j] + 1], WITHIN_MM) else None

    def straight(j: int) -> bool:
        way = knots[j] - (pen.x, pen.y)
        turn = turn_between(pen.heading, float(np.arctan2(way[1], way[0])))
        if np.hypot(*way) < 1.0 or abs(turn) > np.radians(0.05):
            return False
        away = from_chord(look[at[i] : at[j] + 1], np.array((pen.x, pen.y)), knots[j])
        return bool(away.max() <= ALONE_MM)

    def arc(j: int) -> tuple[tuple[float, float], ...] | None:
        out = np.array((np.cos(pen.heading), np.sin(pen.heading)))
        one = _arc(np.array((pen.x, pen.y)), out, knots[j])
        good = one is not None and _near(pen, (one,), look[at[i] : at[j] + 1], ALONE_MM)
        return (one,) if one is not None and good else None

    curved = _farthest_good(i, stop, lambda j: biarc(j) is not None)
    # What was drawn as one straight or one arc ends where it ended.
    enough = at[i] + ALONE_SHARE * (at[curved] - at[i])
    on = _farthest_good(i, stop, straight)
    if on > i and at[on] >= enough:
        pen.ahead(float(np.hypot(*(knots[on] - (pen.x, pen.y)))))
        return on
    round_to = _farthest_good(i, stop, lambda j: arc(j) is not None)
    if round_to > i and at[round_to] >= enough:
        for radius, turn in arc(round_to) or ():
            pen.arc(radius, turn)
        return round_to
    if curved > i:
        for radius, turn in biarc(curved) or ():
            pen.arc(radius, turn)
        return curved
    # Too rough for arcs: from here to the next knot that is far enough, by a corner.
    j = next((j for j in range(i + 1, stop + 1) if np.hypot(*(knots[j] - (pen.x, pen.y))) >= 1.0), stop)
    way = knots[j] - (pen.x, pen.y)
    if np.hypot(*way) >= 1.0:
        pen.turn_to(float(np.arctan2(way[1], way[0])))
        pen.ahead(float(np.hypot(*(knots[j] - (pen.x, pen.y)))))
    return j


def _farthest_good(i: int, stop: int, good) -> int:  # type: ignore[no-untyped-def]
    """The farthest knot that is good, looked for in doubling steps; i if the next one is not."""
    best, step = i, 1
    while best < stop and good(min(best + step, stop)):
        best, step = min(best + step, stop), 2 * step
    step //= 2
    while step >= 1:
        if best + step <= stop and good(best + step):
            best += step
        step //= 2
    return best


def _biarc(pen: _Pen, end: Floats, heading: float) -> tuple[tuple[float, float], ...] | None:
    """Two arcs (radius, turn) from the pen to a place and heading, equal in chord; None where a bend cannot be so."""
    way = end - (pen.x, pen.y)
    out, into = np.array((np.cos(pen.heading), np.sin(pen.heading))), np.array((np.cos(heading), np.sin(heading)))
    both = out + into
    # Both tangents are as long: |end - start - d (out + into)| = 2 d.
    a, b, c = 2.0 * (1.0 - float(out @ into)), float(way @ both), float(way @ way)
    if c < 1e-9:
        return None
    if abs(a) < 1e-9:
        if b <= 1e-9:
            return None
        d = 0.5 * c / b
    else:
        d = (-b + np.sqrt(b * b + a * c)) / a
    if d <= 0.0 or d > 10.0 * np.sqrt(c):
        return None
    middle = np.array((pen.x, pen.y)) + 0.5 * (way + d * (out - into))
    first = _arc(np.array((pen.x, pen.y)), out, middle)
    second = _arc(end, -into, middle)
    if first is None or second is None:
        return None
    return first, (second[0], -second[1])


def _arc(start: Floats, out: Floats, end: Floats) -> tuple[float, float] | None:
    """The arc (radius, turn to the left) from a place in a direction to another place."""
    way = end - start
    length = float(np.hypot(*way))
    half = float(np.arctan2(out[0] * way[1] - out[1] * way[0], out @ way))
    if abs(2.0 * half) > MOST_ARC_RAD:
        return None
    if abs(half) < 1e-7:
        return (np.inf if length == 0.0 else max(length / 2e-7, MOST_RADIUS_MM * 2), 2e-7)
    radius = 0.5 * length / abs(np.sin(half))
    if radius < LEAST_RADIUS_MM:
        return None
    return radius, 2.0 * half


def _near(pen: _Pen, arcs: tuple[tuple[float, float], ...], look: Floats, within_mm: float) -> bool:
    """Whether points of the way lie so near to the arcs from the pen on."""
    x, y, heading = pen.x, pen.y, pen.heading
    away = np.full(len(look), np.inf)
    length = 0.0
    for radius, turn in arcs:
        length += radius * abs(turn)
        if radius > MOST_RADIUS_MM:
            far = radius * abs(turn)
            end = np.array((x + far * np.cos(heading), y + far * np.sin(heading)))
            away = np.minimum(away, from_chord(look, np.array((x, y)), end))
            x, y = float(end[0]), float(end[1])
            continue
        side = np.sign(turn)
        middle = np.array((x - side * radius * np.sin(heading), y + side * radius * np.cos(heading)))
        out = look - middle
        gone = side * (np.arctan2(out[:, 1], out[:, 0]) - np.arctan2(y - middle[1], x - middle[0]))
        gone = (gone + 0.5 * (2.0 * np.pi - abs(turn))) % (2.0 * np.pi) - 0.5 * (2.0 * np.pi - abs(turn))
        off = np.abs(np.hypot(out[:, 0], out[:, 1]) - radius)
        inside = (gone >= -1e-3) & (gone <= abs(turn) + 1e-3)
        away = np.where(inside, np.minimum(away, off), away)
        heading += turn
        x, y = middle[0] + side * radius * np.sin(heading), middle[1] - side * radius * np.cos(heading)
    drawn = float(np.hypot(*np.diff(look, axis=0).T).sum())
    return bool(away.max() <= within_mm and length <= 1.05 * drawn + 0.5)
