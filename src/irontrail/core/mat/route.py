"""The way along the tape's middle: where it is, where it heads and how tightly it bends, at every millimetre."""

from dataclasses import dataclass
from functools import lru_cache
from math import copysign, cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Straight, Stroke, Wiggle

Floats = NDArray[np.float64]
# What is left once every wiggle has been taken for the arcs it is made of.
PlainPiece = Straight | Bend | Corner | Gap

# Rounding of arc lengths where two pieces meet: above that of a sum over the longest line. A point as little before a
# corner is placed by the piece after it, and so off its way by up to twice this.
SEAM_MM = 4e-10
# More line than any mat holds.
MAX_LENGTH_MM = 200_000.0


@dataclass(frozen=True, eq=False)
class Bending:
    """A stretch of the route that bends one way: where it begins and ends, and its tightest radius."""

    name: str
    start_mm: float
    end_mm: float
    radius_mm: float
    turns_left: bool


@dataclass(frozen=True, eq=False)
class Route:
    """The tape's middle as a polyline of equal steps of about 1 mm, in the direction of the run.

    Attributes
    ----------
    s_mm, x_mm, y_mm : ndarray, shape (n,)
        Arc length from the start and position.
    heading : ndarray, shape (n,)
        Tangent direction in radians, counter-clockwise from +x, unwrapped; at a corner, that of the way out.
    curvature : ndarray, shape (n,)
        1/mm, positive where the route turns left; 0 at a corner.
    closed : bool
        The last point is the first one again.
    bends : tuple of Bending
        Bends and corners in the order they come; a corner has radius 0 and no length.
    gaps : tuple of (start, end)
        Arc lengths between which no tape lies.
    """

    s_mm: Floats
    x_mm: Floats
    y_mm: Floats
    heading: Floats
    curvature: Floats
    closed: bool
    bends: tuple[Bending, ...]
    gaps: tuple[tuple[float, float], ...] = ()

    @property
    def length_mm(self) -> float:
        return float(self.s_mm[-1])

    @property
    def step_mm(self) -> float:
        return float(self.s_mm[1])

    def at(self, s_mm: float) -> tuple[float, float, float]:
        """Position (mm) and heading (rad) at an arc length; past the ends of an open route, straight on."""
        if self.closed:
            s_mm = s_mm % self.length_mm
        inside = min(max(float(s_mm), 0.0), self.length_mm)
        # As `np.interp`, which makes arrays of the numbers first, and lets go of the interpreter to look for the place.
        s = self.s_mm.item
        i, last = int(inside / self.step_mm), self.s_mm.size - 2
        # The steps are equal but for the last figure.
        i = min(i + 1 if i < last and s(i + 1) <= inside else i, last)
        i -= int(s(i) > inside)
        past, step = inside - s(i), s(i + 1) - s(i)
        lines = (self.x_mm.item, self.y_mm.item, self.heading.item)
        x, y, h = [(line(i + 1) - line(i)) / step * past + line(i) for line in lines]
        beyond = s_mm - inside
        return float(x + beyond * np.cos(h)), float(y + beyond * np.sin(h)), h

    def nearest(self, x_mm: Floats, y_mm: Floats) -> NDArray[np.intp]:
        """Which point is nearest to each of n places, the first of several; shape (n,)."""
        # Squares of one place at a time stay in the processor's memory: six times as quick as all at once.
        away = ((self.x_mm - x, self.y_mm - y) for x, y in zip(x_mm, y_mm, strict=True))
        return np.array([np.argmin(dx * dx + dy * dy) for dx, dy in away], np.intp)

    def left_of(self, x_mm: Floats, y_mm: Floats) -> Floats:
        """How far left of the route each of n places lies, right negative; shape (n,).

        Outside a corner, which is as near to one way as to the other, the side is that of the sum of both directions.
        """
        nearest, last = self.nearest(x_mm, y_mm), self.s_mm.size - 2
        least, across = np.full(nearest.shape, np.inf), np.zeros(nearest.shape)
        for i in (nearest - 1, nearest):
            there = np.full(i.shape, True) if self.closed else (i >= 0) & (i <= last)
            i = i % (last + 1)
            dx, dy = self.x_mm[i + 1] - self.x_mm[i], self.y_mm[i + 1] - self.y_mm[i]
            off_x, off_y = x_mm - self.x_mm[i], y_mm - self.y_mm[i]
            # Where the way turns back on the spot two of its points are one.
            length = np.maximum(np.hypot(dx, dy), SEAM_MM)
            share = np.clip((off_x * dx + off_y * dy) / length**2, 0.0, 1.0)
            away = np.where(there, np.hypot(off_x - share * dx, off_y - share * dy), np.inf)
            side = (dx * off_y - dy * off_x) / length
            even = there & (away <= least + SEAM_MM) & (away >= least - SEAM_MM)
            across = np.where(even, across + side, np.where(away < least, side, across))
            least = np.minimum(least, away)
        return np.where(across >= 0.0, least, -least)


def make_route(mat: Mat, reverse: bool = False) -> Route:
    """The route along the line to a mat's goal, or the same way back; see `stroke_route`."""
    return stroke_route(mat.followed, mat.name, reverse)


def stroke_route(stroke: Stroke, name: str, reverse: bool = False) -> Route:
    """The route along a stroke, or the same way back; remembered, since much is drawn and held by it.

    Raises
    ------
    IronTrailError
        If the line has no length or far too much, or is said to be closed and its ends do not meet; it is called by
        the name.
    """
    try:
        return _stroke_route(stroke, reverse)
    except IronTrailError as error:
        raise IronTrailError(error.what, name, error.remedy) from None


@lru_cache(maxsize=64)
def _stroke_route(stroke: Stroke, reverse: bool) -> Route:
    pieces = _closed_pieces(stroke) if stroke.closed else _plain_pieces(stroke)
    joints = _joints(stroke, pieces)
    length = joints[-1][0]
    if length < 1.0:
        raise IronTrailError("the line has no length", remedy="Lay at least one straight or bend.")
    if length > MAX_LENGTH_MM:
        raise IronTrailError(f"the line is {length / 1000:.0f} m long, more than {MAX_LENGTH_MM / 1000:.0f} m")
    s = np.linspace(0.0, length, max(2, round(length) + 1))
    # Where two pieces meet a point is the second one's: its heading is that of the way out.
    firsts = np.searchsorted(s, [start - SEAM_MM for start, *_ in joints[:-1]], side="left")
    of_pieces = np.diff(firsts, append=s.size)
    start, x0, y0, h0 = (np.repeat(each, of_pieces) for each in np.array(joints[:-1]).T)
    curvature = np.repeat([_curvature(piece) for piece in pieces], of_pieces)
    along = s - start
    x, y = _arc(x0, y0, h0, curvature, along)
    heading = h0 + curvature * along
    bends = _bends(pieces, joints)
    gaps = tuple(
        (start, end)
        for piece, (start, *_), (end, *_) in zip(pieces, joints, joints[1:], strict=False)
        if isinstance(piece, Gap)
    )
    if reverse:
        gaps = tuple((length - end, length - start) for start, end in reversed(gaps))
        x, y = x[::-1].copy(), y[::-1].copy()
        heading, curvature = heading[::-1] + np.pi, -curvature[::-1]
        bends = tuple(
            Bending("", length - b.end_mm, length - b.start_mm, b.radius_mm, not b.turns_left) for b in reversed(bends)
        )
    named = tuple(Bending(_letter(i), b.start_mm, b.end_mm, b.radius_mm, b.turns_left) for i, b in enumerate(bends))
    return Route(s, x, y, heading, curvature, stroke.closed, named, gaps)


# While tape is dragged, all that is laid, sealed and drawn of it asks for them.
@lru_cache(maxsize=64)
def piece_joints(stroke: Stroke) -> tuple[tuple[float, float, float], ...]:
    """Position (mm) and outgoing heading (rad) at the start of each of a stroke's pieces, and at the end of the last.

    A wiggle counts as one piece; what closes a closed stroke is not among them.
    """
    plain = _joints(stroke, _plain_pieces(stroke))
    places, i = [plain[0][1:]], 0
    for piece in stroke.pieces:
        i += len(piece.bends) if isinstance(piece, Wiggle) else 1
        places.append(plain[i][1:])
    return tuple(places)


Joint = tuple[float, float, float]


def plain_joints(stroke: Stroke) -> list[tuple[PlainPiece, Joint, Joint]]:
    """A stroke's straights, arcs, corners and gaps, what closes it included.

    Each with position (mm) and outgoing heading (rad) where it starts and where it ends.
    """
    pieces = _closed_pieces(stroke) if stroke.closed else _plain_pieces(stroke)
    places = [(x, y, heading) for _, x, y, heading in _joints(stroke, pieces)]
    return list(zip(pieces, places, places[1:], strict=False))


def piece_lengths(stroke: Stroke) -> list[float]:
    """Length along the middle of each of a stroke's pieces (mm), a wiggle counting as one; 0 for a corner."""
    return [
        sum(_length(bend) for bend in piece.bends) if isinstance(piece, Wiggle) else _length(piece)
        for piece in stroke.pieces
    ]


def _letter(i: int) -> str:
    """A, B, ... Z, AA, AB, ..."""
    return (_letter(i // 26 - 1) if i >= 26 else "") + chr(ord("A") + i % 26)


def _curvature(piece: PlainPiece) -> float:
    if isinstance(piece, Bend) and piece.angle_deg != 0.0:
        return copysign(1.0 / piece.radius_mm, piece.angle_deg)
    return 0.0


def _length(piece: PlainPiece) -> float:
    if isinstance(piece, Straight | Gap):
        return piece.length_mm
    if isinstance(piece, Bend):
        return piece.radius_mm * abs(radians(piece.angle_deg))
    return 0.0


def _arc(x0: Floats, y0: Floats, h0: Floats, curvature: Floats, along: Floats) -> tuple[Floats, Floats]:
    """Points on arcs (lines where the curvature is 0): a chord has length 2 sin(k s / 2) / k."""
    half = 0.5 * curvature * along
    chord = along * np.sinc(half / np.pi)
    return x0 + chord * np.cos(h0 + half), y0 + chord * np.sin(h0 + half)


def _plain_pieces(stroke: Stroke) -> tuple[PlainPiece, ...]:
    """The pieces of a stroke, a wiggle's arcs one by one."""
    plain: list[PlainPiece] = []
    for piece in stroke.pieces:
        plain.extend(piece.bends if isinstance(piece, Wiggle) else (piece,))
    return tuple(plain)


def _joints(stroke: Stroke, pieces: tuple[PlainPiece, ...]) -> list[tuple[float, float, float, float]]:
    """Arc length, position and outgoing heading at the start of each piece and at the end of the last."""
    s, x, y, h = 0.0, stroke.x_mm, stroke.y_mm, float(np.radians(stroke.heading_deg))
    joints = [(s, x, y, h)]
    for piece in pieces:
        length, curvature = _length(piece), _curvature(piece)
        half = 0.5 * curvature * length
        chord = length * sin(half) / half if half != 0.0 else length
        s, x, y = s + length, x + chord * cos(h + half), y + chord * sin(h + half)
        h += radians(piece.angle_deg) if isinstance(piece, Corner) else curvature * length
        joints.append((s, x, y, h))
    return joints


def _closed_pieces(stroke: Stroke) -> tuple[PlainPiece, ...]:
    """The pieces of a closed stroke with the straight that joins its ends."""
    pieces = _plain_pieces(stroke)
    _, x, y, h = _joints(stroke, pieces)[-1]
    dx, dy = stroke.x_mm - x, stroke.y_mm - y
    gap = float(np.hypot(dx, dy))
    turned = np.radians(stroke.heading_deg) - h
    facing = abs(np.sin(turned / 2)) < 1e-3
    ahead = gap < 0.5 or dx * np.cos(h) + dy * np.sin(h) > 0.999 * gap
    if not (facing and ahead):
        raise IronTrailError(
            f"the ends of the closed line do not meet ({gap:.0f} mm apart)",
            remedy="Change the last pieces so that the end runs into the start, or open the line.",
        )
    return (*pieces, Straight(gap)) if gap >= 1.0 else pieces


def _bends(pieces: tuple[PlainPiece, ...], joints: list[tuple[float, float, float, float]]) -> tuple[Bending, ...]:
    """Bends and corners; neighbours that turn the same way without a straight between them are one."""
    found: list[Bending] = []
    for piece, (start, *_), (end, *_) in zip(pieces, joints, joints[1:], strict=False):
        if isinstance(piece, Straight | Gap) or piece.angle_deg == 0.0:
            continue
        left = piece.angle_deg > 0.0
        radius = piece.radius_mm if isinstance(piece, Bend) else 0.0
        if found and found[-1].turns_left == left and start - found[-1].end_mm < 1.0:
            before = found.pop()
            found.append(Bending("", before.start_mm, end, min(before.radius_mm, radius), left))
        else:
            found.append(Bending("", start, end, radius, left))
    return tuple(found)
