"""Tape brought as near to a path as its pieces allow, by least squares over all their measures at once."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke

Floats = NDArray[np.float64]

# Points compared, how little agreement along the way counts beside that square to it, and how much a seam does.
MOST_POINTS = 300
AHEAD_WEIGHT, SEAM_WEIGHT = 0.15, 50.0
# By this share a value is moved to see what that changes: the root of what a number of 64 bits can tell apart.
A_LITTLE = float(np.sqrt(np.finfo(np.float64).eps))
LENGTH_MM, RADIUS_MM, ANGLE_DEG, CORNER_DEG = (1.0, 10_000.0), (10.0, 5000.0), (-360.0, 360.0), (-170.0, 170.0)


def refined(stroke: Stroke, path: Floats, rounds: int = 25, meets: bool = False, check: Check = carry_on) -> Stroke:
    """The same kinds of pieces with their measures changed so that they lie on a path as nearly as they can.

    Least squares over the start, the heading, and every length, radius and angle; what is off is measured square to
    the stroke.

    Parameters
    ----------
    stroke : Stroke
        Of straights, bends, corners and gaps.
    path : ndarray, shape (n, 2)
        Points in mm, at equal steps.
    rounds : int
        How often the measures are improved at most.
    meets : bool
        The end is to meet the start and face it.
    check : callable
        Called each time that what is off is looked at; raises `CalledOff` to give up.
    """
    from scipy.optimize import least_squares

    form = _Form.of(stroke)
    even = np.linspace(0.0, 1.0, min(MOST_POINTS, path.shape[0]))
    target = np.column_stack([np.interp(even, np.linspace(0.0, 1.0, path.shape[0]), path[:, k]) for k in (0, 1)])
    along = np.gradient(target, axis=0)
    along /= np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]

    def off(values: Floats) -> Floats:
        check()
        away = np.stack(form.points(values, even), -1) - target
        aside = along[:, 0] * away[..., 1] - along[:, 1] * away[..., 0]
        ahead = (along * away).sum(axis=-1)
        seam = [SEAM_WEIGHT * form.seam(values)] if meets else []
        return np.concatenate((aside, AHEAD_WEIGHT * ahead, away[..., -1, :], away[..., 0, :], *seam), -1)

    def slopes(values: Floats) -> Floats:
        """How each of what is off changes with each value: all values are moved a little in one go."""
        moved = values + np.diag(np.where(values < 0.0, -A_LITTLE, A_LITTLE) * np.maximum(1.0, np.abs(values)))
        by = np.diagonal(moved) - values
        return np.asarray(((off(moved) - off(values)) / by[:, None]).T)

    try:
        found = least_squares(off, form.values, slopes, x_scale="jac", max_nfev=rounds)
        return form.stroke(found.x) if float(np.abs(found.fun).max()) < 1e6 else stroke
    except (ValueError, IronTrailError):
        return stroke


def points(stroke: Stroke, shares: Floats) -> tuple[Floats, Floats]:
    """Points (x, y) in mm at shares (0..1) of the length of a stroke of straights, bends, corners and gaps."""
    form = _Form.of(stroke)
    return form.points(form.values, shares)


def seam(stroke: Stroke) -> Floats:
    """By how much a stroke's end misses its start: in x and y (mm), and in direction (degrees)."""
    form = _Form.of(stroke)
    return form.seam(form.values)


@dataclass(frozen=True, eq=False)
class _Form:
    """A stroke as an array of numbers: x, y and heading, then the measures of each piece.

    `length_at`, `radius_at` and `turn_at` say where in the array each piece has its own; 0 stands for none, where the
    array holds a length that is not looked at. Several arrays can be laid at once, along the axes before the last.
    """

    made_of: Stroke
    values: Floats
    length_at: NDArray[np.intp]
    radius_at: NDArray[np.intp]
    turn_at: NDArray[np.intp]

    @classmethod
    def of(cls, stroke: Stroke) -> "_Form":
        values = [stroke.x_mm, stroke.y_mm, stroke.heading_deg]
        places = np.zeros((len(stroke.pieces), 3), np.intp)
        for i, piece in enumerate(stroke.pieces):
            if isinstance(piece, Straight | Gap):
                places[i, 0] = len(values)
                values.append(piece.length_mm)
            elif isinstance(piece, Bend):
                places[i, 1:] = len(values), len(values) + 1
                values += [piece.radius_mm, piece.angle_deg]
            elif isinstance(piece, Corner):
                places[i, 2] = len(values)
                values.append(piece.angle_deg)
        return cls(stroke, np.array(values, np.float64), *places.T)

    def _laid(self, values: Floats) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        """Lengths and turns of the pieces; x, y and heading at each start and at the end."""
        turn = np.where(self.turn_at > 0, np.radians(values[..., self.turn_at]), 0.0)
        length = np.where(self.length_at > 0, np.clip(values[..., self.length_at], *LENGTH_MM), 0.0)
        radius = np.where(self.radius_at > 0, np.clip(values[..., self.radius_at], *RADIUS_MM), 0.0)
        length = length + radius * np.abs(turn)
        heading = _summed(np.radians(values[..., 2]), turn)
        way, chord = heading[..., :-1] + 0.5 * turn, length * np.sinc(0.5 * turn / np.pi)
        x = _summed(values[..., 0], chord * np.cos(way))
        y = _summed(values[..., 1], chord * np.sin(way))
        return length, turn, x, y, heading

    def points(self, values: Floats, shares: Floats) -> tuple[Floats, Floats]:
        length, turn, x, y, heading = self._laid(values)
        ends = np.cumsum(length, axis=-1)
        s = shares * ends[..., -1:]
        which = (ends[..., :-1, None] < s[..., None, :]).sum(axis=-2)
        bend = np.divide(turn, length, out=np.zeros_like(turn), where=length > 0.0)
        begun, bend, x, y, heading = (
            np.take_along_axis(each, which, -1) for each in (ends - length, bend, x, y, heading)
        )
        along = s - begun
        half = 0.5 * bend * along
        chord, way = along * np.sinc(half / np.pi), heading + half
        return x + chord * np.cos(way), y + chord * np.sin(way)

    def seam(self, values: Floats) -> Floats:
        _, _, x, y, heading = self._laid(values)
        off = heading[..., 0] - heading[..., -1]
        turned = np.degrees(np.arctan2(np.sin(off), np.cos(off)))
        return np.stack((x[..., 0] - x[..., -1], y[..., 0] - y[..., -1], turned), -1)

    def stroke(self, values: Floats) -> Stroke:
        """The stroke of other numbers, each held in its range."""
        pieces: list[Piece] = []
        for piece, length, radius, turn in zip(
            self.made_of.pieces, self.length_at, self.radius_at, self.turn_at, strict=True
        ):
            if isinstance(piece, Straight | Gap):
                pieces.append(replace(piece, length_mm=float(np.clip(values[length], *LENGTH_MM))))
            elif isinstance(piece, Bend):
                held = float(np.clip(values[radius], *RADIUS_MM)), float(np.clip(values[turn], *ANGLE_DEG))
                pieces.append(Bend(*held))
            elif isinstance(piece, Corner):
                pieces.append(Corner(float(np.clip(values[turn], *CORNER_DEG))))
        x, y = (float(np.clip(value, 0.0, 10_000.0)) for value in values[:2])
        heading = (float(values[2]) + 180.0) % 360.0 - 180.0
        return replace(self.made_of, x_mm=x, y_mm=y, heading_deg=heading, pieces=tuple(pieces))


def _summed(first: Floats, steps: Floats) -> Floats:
    """A first value, and it with one step more each time, along the last axis."""
    before = np.zeros((*steps.shape[:-1], 1))
    return np.asarray(first[..., None] + np.concatenate((before, np.cumsum(steps, axis=-1)), -1))
