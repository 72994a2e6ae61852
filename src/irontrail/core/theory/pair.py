"""Where a robot that steers by two sensors keeps them on a straight of its own tape, and what each adds."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.light.straight_edge import LEAST_SLOPE, SLOPE_STEP_MM, StraightEdge
from irontrail.core.setup import Setup, Trial

Floats = NDArray[np.float64]
# It is kept no farther than this from where it is set down, in mm; looked for so finely.
REACH_MM, STEP_MM = 30.0, 0.25


@dataclass(frozen=True)
class PairPoint:
    """Where two sensors are even: how far the reference is off what it follows, light side positive.

    `slopes` is what each sensor adds to the error per mm that it moves to the left.
    """

    off_mm: float
    slopes: tuple[float, float]


def pair_point(setup: Setup) -> PairPoint:
    """The place nearest to what is followed at which the error is none, the robot pointing along the line.

    Raises
    ------
    IronTrailError
        If a sensor gives names, which jump; if the error is nowhere none, or hardly changes where it is.
    """
    return _point(replace(setup, light=replace(setup.light, areas=()), trial=Trial()))


@lru_cache(maxsize=32)
def _point(setup: Setup) -> PairPoint:
    """The same of a setup without what it does not depend on."""
    from scipy.optimize import brentq

    from irontrail.core.control.curve import steered_by

    alone = [setup.seen_by(which) for which in setup.sensors]
    if any(each.light.sensor.names_colours for each in alone):
        raise IronTrailError("a sensor that gives colour names has no slope", "light.sensor.scale")
    edges = [StraightEdge(each.mat, each.light, each.robot.mount.height_mm) for each in alone]
    aside = [each.robot.mount.aside_mm - setup.reference.aside_mm for each in alone]
    half, side = 0.5 * setup.mat.followed.width_mm, setup.side

    def errors_at(off_mm: Floats, moved: tuple[float, float] = (0.0, 0.0)) -> Floats:
        """The errors with the reference so far off, each sensor moved to the left by itself."""
        left = side * (setup.off_middle_mm + off_mm)
        first, second = (
            edge.readings(left + beside + more - half) for edge, beside, more in zip(edges, aside, moved, strict=True)
        )
        return steered_by(setup, first, second) - setup.program.aim

    def error(off_mm: float, moved: tuple[float, float] = (0.0, 0.0)) -> float:
        return float(errors_at(np.array([off_mm]), moved)[0])

    away = np.arange(-REACH_MM, REACH_MM + STEP_MM, STEP_MM)
    errors = errors_at(away)
    crossings = np.flatnonzero(np.signbit(errors[1:]) != np.signbit(errors[:-1]))
    if crossings.size == 0:
        raise IronTrailError("the two sensors are nowhere even across this line", "program.arrangement")
    i = int(crossings[np.argmin(np.abs(away[crossings]))])
    if errors[i] == 0.0 or errors[i] * errors[i + 1] > 0.0:
        off = float(away[i])
    else:
        off = float(brentq(error, away[i], away[i + 1], xtol=1e-9))
    slopes = []
    for which in (0, 1):
        step = tuple(SLOPE_STEP_MM if i == which else 0.0 for i in (0, 1))
        back = (-step[0], -step[1])
        slopes.append((error(off, step) - error(off, back)) / (2.0 * SLOPE_STEP_MM))  # type: ignore[arg-type]
    if abs(sum(slopes)) < LEAST_SLOPE:
        raise IronTrailError("where the two sensors are even, their error hardly changes", "program.arrangement")
    return PairPoint(off, (slopes[0], slopes[1]))
