"""From points along a line to the tape that lies there: straights, bends and corners, as few as will do."""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.pieces import MOST_BEND_DEG, length_of, run_together
from irontrail.core.mat.refine import points, refined, seam
from irontrail.core.mat.seal import sealed
from irontrail.core.mat.tape import Bend, Corner, Piece, Straight, Stroke

Floats = NDArray[np.float64]

# Points along the way are taken so far apart, and no more of them than this.
STEP_MM = 4.0
# So many of them to either side tell how straight it is at one.
STRAIGHT_POINTS = 10
MOST_POINTS = 900
# A piece more must explain at least this much of the heading's deviation, in units of its noise squared.
PIECE_COSTS = 22.0
# The noise is first taken for so many times what it is: a fit with fewer pieces is kept if it lies this near, in units
# of the noise.
COARSER = (4.0, 2.0, 1.0)
NEAR_RMS, NEAR_WORST = 2.0, 10.0
# A turn within so little way is a corner; a bend of a wider radius is a straight.
CORNER_MM, CORNER_DEG = 22.0, 22.0
STRAIGHT_RADIUS_MM = 3000.0
LEAST_RADIUS_MM = 12.0
# What is tried to be made simpler, and how often.
SLIGHT_DEG, STUMP_MM, TIGHT_MM, MOST_SIMPLER = 6.0, 12.0, 18.0, 6


@dataclass(frozen=True)
class Fit:
    """A stroke laid along points, and how far off it lies: RMS and greatest distance in mm."""

    stroke: Stroke
    rms_mm: float
    worst_mm: float


def fit_stroke(points_mm: Floats, closed: bool, noise_mm: float = 0.5, check: Check = carry_on) -> Fit:
    """The tape along points.

    Parameters
    ----------
    points_mm : ndarray, shape (n, 2)
        Along the middle of the line, in order; a closed line's last point is near its first.
    noise_mm : float
        By how much single points are off, RMS.
    check : callable
        Called every few milliseconds; raises `CalledOff` to give up.

    Raises
    ------
    IronTrailError
        If the points are too few or too near together to be a line.
    """
    path = evenly(points_mm, closed)
    if closed:
        path = _from_its_straightest(path)
    for factor in COARSER:
        stroke = _rough(path, closed, factor * noise_mm, check)
        rms, worst = _off(stroke, path)
        if rms <= NEAR_RMS * noise_mm and worst <= NEAR_WORST * noise_mm:
            break
    stroke = _simpler(stroke, path, check)
    if closed:
        stroke = _closed(refined(stroke, path, meets=True, check=check))
    return Fit(stroke, *_off(stroke, path))


def _rough(path: Floats, closed: bool, noise_mm: float, check: Check) -> Stroke:
    """Tape along evenly spaced points that are off by so much."""
    heading, step = _headings(path, closed, noise_mm)
    pieces, start_heading = _pieces(heading, _cut(heading, noise_mm, step, check), step)
    return refined(_laid_from(path[0, 0], path[0, 1], start_heading, pieces), path, 12, check=check)


def _laid_from(x: float, y: float, heading: float, pieces: tuple[Piece, ...]) -> Stroke:
    """A stroke whose start is held inside the range a mat may have."""
    degrees = (float(np.degrees(heading)) + 180.0) % 360.0 - 180.0
    return Stroke(min(max(float(x), 0.0), 10_000.0), min(max(float(y), 0.0), 10_000.0), degrees, pieces)


def _closed(stroke: Stroke) -> Stroke:
    """A stroke whose end nearly meets its start, closed: all its pieces give way a little."""
    off = float(seam(stroke)[2])
    bends = [i for i, piece in enumerate(stroke.pieces) if isinstance(piece, Bend)]
    pieces = list(stroke.pieces)
    for i in bends:
        bend = pieces[i]
        assert isinstance(bend, Bend)
        pieces[i] = replace(
            bend, angle_deg=float(np.clip(bend.angle_deg + off / len(bends), -MOST_BEND_DEG, MOST_BEND_DEG))
        )
    try:
        return sealed(replace(stroke, pieces=tuple(pieces), closed=True))
    except IronTrailError as error:
        raise IronTrailError("the line's ends do not meet", "line", "Lay it as an open line.") from error


def _from_its_straightest(path: Floats) -> Floats:
    """A closed way from where it is straightest about: none begins well in a corner."""
    places, reach = path[:-1], min(STRAIGHT_POINTS, (len(path) - 1) // 4)
    before, after = np.roll(places, reach, axis=0), np.roll(places, -reach, axis=0)
    bent = np.hypot(*(0.5 * (before + after) - places).T)
    rolled = np.roll(places, -int(np.argmin(bent)), axis=0)
    return np.concatenate((rolled, rolled[:1]))


def evenly(points: Floats, closed: bool) -> Floats:
    """The same way by points at equal steps; of a closed one the first is also the last."""
    points = np.asarray(points, np.float64)
    if closed:
        points = np.concatenate((points, points[:1]))
    steps = np.hypot(*np.diff(points, axis=0).T)
    points = points[np.concatenate(([True], steps > 1e-9))]
    steps = steps[steps > 1e-9]
    along = np.concatenate(([0.0], np.cumsum(steps)))
    if points.shape[0] < 2 or along[-1] < 4.0 * STEP_MM:
        raise IronTrailError("there are too few points for a line", "line", "Draw it longer.")
    count = min(MOST_POINTS, max(8, round(along[-1] / STEP_MM)))
    even = np.linspace(0.0, along[-1], count + 1)
    return np.column_stack([np.interp(even, along, points[:, k]) for k in (0, 1)])


def _headings(path: Floats, closed: bool, noise_mm: float) -> tuple[Floats, float]:
    """The way's heading over each step, unwrapped, and the step's length; smoothed as far as the points are noisy."""
    step = float(np.mean(np.hypot(*np.diff(path, axis=0).T)))
    # Of a short way no more is smoothed than there is, twice round one that is closed.
    most = (3 * len(path) - 4) // 2 if closed else len(path) - 2
    reach = min(int(np.ceil(6.0 * noise_mm / step)), most)
    smooth = path
    if reach > 0:
        width = 2 * reach + 1
        window = np.hanning(width + 2)[1:-1]
        window /= window.sum()
        if closed:
            around = np.concatenate((path[-reach - 1 : -1], path, path[1 : reach + 1]))
        else:
            around = np.concatenate((2 * path[0] - path[reach:0:-1], path, 2 * path[-1] - path[-2 : -reach - 2 : -1]))
        smooth = np.column_stack([np.convolve(around[:, k], window, "valid") for k in (0, 1)])
    along = np.diff(smooth, axis=0)
    return np.unwrap(np.arctan2(along[:, 1], along[:, 0])), step


def _cut(heading: Floats, noise_mm: float, step: float, check: Check) -> list[int]:
    """Where to cut the headings into stretches that change evenly; the first is 0, the last their count.

    Bellman's exact segmentation: each stretch costs its squared deviation from a straight line, and one price more.
    """
    n = heading.size
    noise = max(noise_mm / (3.0 * step), 0.012)
    i = np.arange(n + 1, dtype=np.float64)
    value, ramp = np.concatenate(([0.0], np.cumsum(heading))), np.concatenate(([0.0], np.cumsum(heading * i[:-1])))
    square = np.concatenate(([0.0], np.cumsum(heading**2)))
    best, back = np.full(n + 1, np.inf), np.zeros(n + 1, np.intp)
    best[0] = 0.0
    for end in range(1, n + 1):
        check()
        start = np.arange(end)
        count = (end - start).astype(np.float64)
        h, hi, hh = value[end] - value[:end], ramp[end] - ramp[:end], square[end] - square[:end]
        si = (end * (end - 1) - start * (start - 1)) / 2.0
        # Sums about each stretch's middle keep the figures small.
        middle = si / count
        spread = count * (count**2 - 1.0) / 12.0
        slope = np.divide(hi - middle * h, spread, out=np.zeros(end), where=spread > 0.0)
        left_over = np.maximum(hh - h**2 / count - slope**2 * spread, 0.0)
        price = best[:end] + left_over / noise**2 + PIECE_COSTS
        back[end] = int(np.argmin(price))
        best[end] = price[back[end]]
    cuts = [n]
    while cuts[-1] > 0:
        cuts.append(int(back[cuts[-1]]))
    return cuts[::-1]


def _pieces(heading: Floats, cuts: list[int], step: float) -> tuple[tuple[Piece, ...], float]:
    """Straights, bends and corners for the stretches, and the heading at the start."""
    stretches = []
    for start, end in pairwise(cuts):
        part = heading[start:end]
        slope = float(np.polyfit(np.arange(part.size), part, 1)[0]) if part.size > 1 else 0.0
        middle = float(part.mean())
        stretches.append((part.size * step, middle - 0.5 * slope * part.size, middle + 0.5 * slope * part.size))
    pieces: list[Piece] = []
    now = start_heading = stretches[0][1]
    for i, (length, before, after) in enumerate(stretches):
        jump = before - now
        turn = after - before
        if length <= CORNER_MM and abs(jump + turn) >= np.radians(CORNER_DEG) and 0 < i < len(stretches) - 1:
            # The two strips meet in the middle of the turn.
            after = stretches[i + 1][1]
            pieces = _longer(pieces, 0.5 * length)
            pieces.append(Corner(float(np.clip(np.degrees(after - now), -170.0, 170.0))))
            stretches[i + 1] = (stretches[i + 1][0] + 0.5 * length, after, stretches[i + 1][2])
            now = after
            continue
        if abs(jump) >= np.radians(CORNER_DEG):
            pieces.append(Corner(float(np.clip(np.degrees(jump), -170.0, 170.0))))
            now = before
        total = after - now
        if abs(total) < 1e-4 or length / abs(total) > STRAIGHT_RADIUS_MM:
            pieces.append(Straight(max(length, 1.0)))
        else:
            radius = max(length / abs(total), LEAST_RADIUS_MM)
            pieces.append(Bend(radius, float(np.clip(np.degrees(total), -360.0, 360.0))))
            now = after
    return tuple(pieces), start_heading


def _simpler(stroke: Stroke, path: Floats, check: Check) -> Stroke:
    """The stroke with slight bends straight, stumps left out and tight bends as corners, if it lies about as well."""
    rms, _ = _off(stroke, path)
    for _ in range(MOST_SIMPLER):
        slight = [
            i
            for i, piece in enumerate(stroke.pieces)
            if (isinstance(piece, Bend) and abs(piece.angle_deg) < SLIGHT_DEG)
            or (isinstance(piece, Bend) and (length_of(piece) < STUMP_MM or piece.radius_mm < TIGHT_MM))
            or (isinstance(piece, Straight) and piece.length_mm < STUMP_MM)
        ]
        for i in slight:
            piece, pieces = stroke.pieces[i], list(stroke.pieces)
            length = length_of(piece)
            if isinstance(piece, Bend) and abs(piece.angle_deg) >= CORNER_DEG:
                pieces[i] = Corner(float(np.clip(piece.angle_deg, -170.0, 170.0)))
            else:
                pieces[i : i + 1] = [Straight(length)] if isinstance(piece, Bend) and length > STUMP_MM else []
            other = refined(replace(stroke, pieces=run_together(pieces)), path, 8, check=check) if pieces else stroke
            other_rms, _ = _off(other, path)
            if len(pieces) and other_rms <= max(1.15 * rms, rms + 0.1):
                stroke, rms = other, min(rms, other_rms)
                break
        else:
            break
    return stroke


def _longer(pieces: list[Piece], by_mm: float) -> list[Piece]:
    if pieces and isinstance(pieces[-1], Straight):
        return [*pieces[:-1], replace(pieces[-1], length_mm=pieces[-1].length_mm + by_mm)]
    return pieces


def _off(stroke: Stroke, path: Floats) -> tuple[float, float]:
    """How far points of a path lie from a stroke: RMS and worst, in mm."""
    from scipy.spatial import cKDTree

    x, y = points(stroke, np.linspace(0.0, 1.0, 16 * path.shape[0]))
    away, _ = cKDTree(np.column_stack((x, y))).query(path)
    return float(np.sqrt(np.mean(away**2))), float(away.max())
