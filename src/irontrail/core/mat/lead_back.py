"""An open line led back to its start, as gently as the mat allows.

A way back is a straight on, a bend, a straight, a bend and a straight into the start, each of which may be missing: the
ways of L. E. Dubins (Am. J. Math. 79, 1957) between two poses, with room to go on first and to come in straight.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import atan2, cos, hypot, pi, sin, sqrt

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import piece_joints, stroke_route
from irontrail.core.mat.seal import sealed
from irontrail.core.mat.tape import Bend, Piece, Straight, Stroke

Floats = NDArray[np.float64]
Pose = tuple[float, float, float]

# Radii of the two bends, the gentlest first: none wider than the line's own widest bend, or than `WIDE_ENOUGH_MM`, for
# which the line would only wander. How far the line may go on before the first bend and after the second.
WIDE_ENOUGH_MM = 200.0
RADII_MM = (500.0, 400.0, 300.0, 250.0, 200.0, 160.0, 130.0, 100.0, 80.0, 60.0)
ROOM_MM = (0.0, 80.0, 180.0, 300.0, 450.0, 700.0)
# A bend of more than this goes round and round; one tighter than this is hard to drive.
MOST_DEG, TIGHT_MM = 240.0, 100.0
# The way back keeps this far from the line itself, but for its two ends.
APART_MM, NEAR_END_MM = 60.0, 90.0
# So many points of a line are set against all ways of a radius at a time.
MOST_AT_ONCE = 100
# What is shorter than this is no piece.
LEAST_MM = 1.0


@dataclass(frozen=True)
class LedBack:
    """A closed line, and what is not good about its way back, as a sentence; empty if it is a gentle one."""

    stroke: Stroke
    says: str


# Ends that nearly meet, and nearly face each other, are joined by the line itself giving way.
NEARLY_MM, NEARLY_DEG = 60.0, 30.0


@dataclass(frozen=True)
class _Way:
    """A way back: straight on, a turn (rad, to the left positive), a straight, a turn, and straight in; all in mm."""

    radius: float
    on: float
    turn: float
    straight: float
    back: float
    into: float

    @property
    def length(self) -> float:
        return self.on + self.straight + self.into + self.radius * (abs(self.turn) + abs(self.back))

    def pieces(self) -> tuple[Piece, ...]:
        """As tape, without what is too short to be a piece."""
        found: list[Piece] = []
        for straight, turn in ((self.on, self.turn), (self.straight, self.back), (self.into, 0.0)):
            found += [Straight(straight)] if straight >= LEAST_MM else []
            found += [Bend(self.radius, float(np.degrees(turn)))] if abs(turn) * self.radius >= LEAST_MM else []
        return tuple(found)


def led_back(stroke: Stroke, width_mm: float, height_mm: float) -> LedBack:
    """An open line closed to a circuit, tangent at both ends.

    Of the ways that stay on a mat of the given size, clear of the line and turn no bend round and round, that with the
    widest bends is taken, and of these the shortest. Where there is none, a way is taken that crosses the line, or else
    one that leaves the mat, and that is said.

    Raises
    ------
    IronTrailError
        If no way leads back.
    """
    x, y, heading = piece_joints(stroke)[-1]
    start, goal = (x, y, heading), (stroke.x_mm, stroke.y_mm, float(np.radians(stroke.heading_deg)))
    own = _away_from_ends(stroke)
    margin = 0.5 * stroke.width_mm + stroke.border_mm + 20.0
    crossing: _Way | None = None
    outside: tuple[float, _Way] | None = None
    widest = max([WIDE_ENOUGH_MM, *(piece.radius_mm for piece in stroke.pieces if isinstance(piece, Bend))])
    x0, y0, x1, y1 = margin, margin, width_mm - margin, height_mm - margin
    # Ends that lie off the mat leave no way that stays on it: only the gentlest is then looked at.
    inside = all(x0 <= px <= x1 and y0 <= py <= y1 for px, py, _ in (start, goal))
    for radius in (widest, *(radius for radius in RADII_MM if radius < widest and inside)):
        ways = sorted(_ways(start, goal, radius), key=lambda way: way.length)
        points, of = _points(start, ways)
        over = np.full(len(ways), -np.inf)
        np.maximum.at(over, of, np.maximum((x0, y0) - points, points - (x1, y1)).max(axis=1))
        for away, way in zip(over, ways, strict=True):
            # Ways that leave the mat by about as much are told apart by their bends: those come widest first.
            if away > 0.0 and (outside is None or away < outside[0] - 20.0):
                outside = float(away), way
        within = over <= 0.0
        clear = _first_clear(points, of, within, own, stroke.width_mm + APART_MM)
        if clear is not None:
            tight = f"Its way back has bends of only {radius:.0f} mm: no gentler one has room."
            return LedBack(_closed(stroke, ways[clear]), tight if radius < TIGHT_MM else "")
        if within.any() and crossing is None:
            crossing = ways[int(within.argmax())]
    if crossing is not None:
        return LedBack(_closed(stroke, crossing), "Its way back crosses the line or lies beside it: no other has room.")
    if outside is not None:
        return LedBack(_closed(stroke, outside[1]), "Its way back leaves the mat: no other has room.")
    raise IronTrailError("no way leads from its end back to its start", "line", "Bring its end nearer to its start.")


def joined(stroke: Stroke, width_mm: float, height_mm: float) -> LedBack:
    """An open line closed whose end has been brought to its start: its own pieces give way if that is little.

    Raises
    ------
    IronTrailError
        As `led_back`.
    """
    x, y, heading = piece_joints(stroke)[-1]
    off = float(np.degrees(heading)) - stroke.heading_deg
    turned = abs((off + 180.0) % 360.0 - 180.0)
    if float(np.hypot(stroke.x_mm - x, stroke.y_mm - y)) <= NEARLY_MM and turned <= NEARLY_DEG:
        try:
            return LedBack(sealed(replace(stroke, closed=True)), "")
        except IronTrailError:
            pass
    return led_back(stroke, width_mm, height_mm)


def _closed(stroke: Stroke, way: _Way) -> Stroke:
    """The line with its way back; where it goes straight on, its last straight is longer."""
    own, back = stroke.pieces, way.pieces()
    if back and isinstance(back[0], Straight) and isinstance(own[-1], Straight):
        own, back = (*own[:-1], replace(own[-1], length_mm=own[-1].length_mm + back[0].length_mm)), back[1:]
    closed = replace(stroke, pieces=(*own, *back), closed=True)
    try:
        return sealed(closed, *range(len(own)))
    except IronTrailError:
        # A hair's breadth is missing; the line itself gives way by it.
        return sealed(closed)


def _ways(start: Pose, goal: Pose, radius: float) -> Iterator[_Way]:
    """Every way back with bends of a radius."""
    for on, into, first, last in product(ROOM_MM, ROOM_MM, (1.0, -1.0), (1.0, -1.0)):
        bends = _bends(_ahead(start, on), _ahead(goal, -into), radius, first, last)
        if bends is None:
            continue
        turn, straight, back = bends
        if max(abs(turn), abs(back)) > np.radians(MOST_DEG):
            continue
        if (on > 0.0 and abs(turn) * radius < LEAST_MM) or (into > 0.0 and abs(back) * radius < LEAST_MM):
            # Straight on twice: the same way is found with one longer straight.
            continue
        yield _Way(radius, on, turn, straight, back, into)


def _ahead(pose: Pose, by: float) -> Pose:
    x, y, heading = pose
    return x + by * cos(heading), y + by * sin(heading), heading


def _bends(start: Pose, goal: Pose, radius: float, first: float, last: float) -> tuple[float, float, float] | None:
    """A turn to one side (+1 left), a straight, and a turn to one side, in rad, mm, rad; None if there is no room."""
    (ax, ay, ah), (bx, by, bh) = start, goal
    dx = bx - last * radius * sin(bh) - ax + first * radius * sin(ah)
    dy = by + last * radius * cos(bh) - ay - first * radius * cos(ah)
    far = hypot(dx, dy)
    if first == last:
        straight, way = far, atan2(dy, dx) if far > 1e-9 else ah
    else:
        if far < 2.0 * radius:
            return None
        straight = sqrt(far * far - 4.0 * radius * radius)
        way = atan2(dy, dx) + first * atan2(2.0 * radius, straight)
    turns = [side * (side * turn % (2.0 * pi)) for side, turn in ((first, way - ah), (last, bh - way))]
    # A whole turn is none.
    turn, back = (0.0 if 2.0 * pi - abs(each) < 1e-9 else each for each in turns)
    return turn, straight, back


def _points(start: Pose, ways: Sequence[_Way]) -> tuple[Floats, NDArray[np.intp]]:
    """Points along ways back from a pose, near enough together to see what they meet; shape (n, 2), and of which way.

    All ways at a time: there are more than a hundred of each radius.
    """
    x, y, heading = (np.full(len(ways), each) for each in start)
    radius = np.array([way.radius for way in ways])
    found, of = [np.column_stack((x, y))], [np.arange(len(ways))]
    for straight, turn in (("on", "turn"), ("straight", "back"), ("into", "")):
        length = np.array([getattr(way, straight) for way in ways])
        here, along = _parts(length, np.where(length > 0.0, (length / 30.0).astype(int) + 1, 0))
        ahead = heading[here]
        found.append(np.column_stack((x[here] + along * np.cos(ahead), y[here] + along * np.sin(ahead))))
        of.append(here)
        x, y = x + length * np.cos(heading), y + length * np.sin(heading)
        if turn:
            angle = np.array([getattr(way, turn) for way in ways])
            here, along = _parts(angle, np.where(angle != 0.0, (np.abs(angle) * radius / 30.0).astype(int) + 2, 0))
            side, after = np.copysign(radius, angle), heading + angle
            # Where each bend turns about.
            x, y = x - side * np.sin(heading), y + side * np.cos(heading)
            ahead, out = heading[here] + along, side[here]
            found.append(np.column_stack((x[here] + out * np.sin(ahead), y[here] - out * np.cos(ahead))))
            of.append(here)
            x, y, heading = x + side * np.sin(after), y - side * np.cos(after), after
    return np.concatenate(found), np.concatenate(of)


def _parts(whole: Floats, counts: NDArray[np.intp]) -> tuple[NDArray[np.intp], Floats]:
    """Where so many equal parts of each of some lengths or angles end, after one another, and of which each is."""
    of = np.repeat(np.arange(len(counts)), counts)
    number = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts) + 1
    return of, number * (whole[of] / counts[of])


def _away_from_ends(stroke: Stroke) -> Floats:
    """Points of a line that are not so near its ends that a way back must come near them; shape (n, 2)."""
    route = stroke_route(stroke, "line")
    inner = (route.s_mm > NEAR_END_MM) & (route.s_mm < route.s_mm[-1] - NEAR_END_MM)
    return np.column_stack((route.x_mm[inner], route.y_mm[inner]))[::10]


def _first_clear(
    points: Floats, of: NDArray[np.intp], asked: NDArray[np.bool_], line: Floats, apart_mm: float
) -> int | None:
    """The first of the ways that are asked about which keeps so far from a line; None if none does."""
    # Few of the line's points are near nearly every way that comes near to it; of a long line no more than of others.
    few = line[:: max(8, len(line) // MOST_AT_ONCE)]
    mine = asked[of]
    asked = asked.copy()
    asked[of[mine][_near(points[mine], few, apart_mm)]] = False
    return next((int(i) for i in np.flatnonzero(asked) if not _near(points[of == i], line, apart_mm).any()), None)


def _near(points: Floats, line: Floats, apart_mm: float) -> NDArray[np.bool_]:
    """Which points are nearer to one of a line's than so much; shape (n,)."""
    across, up = (points[:, None, i] - line[None, :, i] for i in (0, 1))
    return np.asarray((across * across + up * up < apart_mm**2).any(axis=1))
