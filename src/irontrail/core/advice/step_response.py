"""The robot set down beside its edge on a straight and let go: how it comes back.

The same tape, surface, sensor and program on a straight of their own; theory's small swings beside what is measured.
"""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tape import Mat, Straight, Stroke
from irontrail.core.setup import Setup, Trial
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import Swing, swing

Floats = NDArray[np.float64]

STRAIGHT_MM = 2600.0
# The way back is over once the sensor stays within this of where it ends up.
SETTLED_MM = 1.5
# A swing that is less high than this is the noise's.
SWING_MM = 0.6
TIME_S = 6.0


@dataclass(frozen=True, eq=False)
class StepResponse:
    """The way back, over time: distance from the edge (light side positive), shape (n,), and what it came to.

    `overshoot_mm` is how far the sensor went past the edge; `settle_mm` and `settle_s` when it was back for good,
    None if it never was; `swings` how often it swung past where it ends up; `hertz` and `damping_ratio` are those
    of the swings where there are at least three, and `theory` what the sampled loop says of small ones.
    """

    time_s: Floats
    edge_mm: Floats
    back: bool
    overshoot_mm: float
    settle_mm: float | None
    settle_s: float | None
    swings: int
    hertz: float | None
    damping_ratio: float | None
    theory: Swing | None


def straight_setup(setup: Setup, off_mm: float) -> Setup:
    """A setup's robot, light and program on a straight of its own tape, set down `off_mm` to the light side."""
    followed = setup.mat.followed
    line = Stroke(
        100.0, 300.0, 0.0, (Straight(STRAIGHT_MM),), width_mm=followed.width_mm, colour=followed.colour,
        border_mm=followed.border_mm, border_colour=followed.border_colour,
    )  # fmt: skip
    mat = Mat("straight", line, STRAIGHT_MM + 200.0, 600.0, setup.mat.colour)
    old = setup.trial
    trial = Trial(
        start_off_mm=off_mm, time_limit_s=TIME_S, lost_distance_mm=max(old.lost_distance_mm, abs(off_mm) + 30.0),
        stuck_time_s=TIME_S, seed=old.seed, start_mm=50.0 + setup.trailing_mm,
    )  # fmt: skip
    program = replace(setup.program, trip=None)
    return replace(setup, mat=mat, trial=trial, light=replace(setup.light, areas=()), program=program)


def step_response(setup: Setup, off_mm: float) -> StepResponse:
    """Set the sensor down beside its edge, along the line, and let go.

    Parameters
    ----------
    setup : Setup
    off_mm : float
        From the edge; positive on the light side.
    """
    run = derive.run(straight_setup(setup, off_mm))
    time, edge = run.trace.time_s, run.trace.edge_mm
    # Where it ends up need not be the edge itself: a target off the middle reads right beside it.
    lost = run.outcome in ("lost", "off-mat", "stuck")
    rest = float(np.median(edge[-max(1, edge.size // 4) :]))
    away = edge - rest
    past = -np.sign(off_mm) * away
    outside = np.flatnonzero(np.abs(away) > SETTLED_MM)
    settled = not lost and outside.size > 0 and outside[-1] < 0.9 * edge.size
    row = int(outside[-1]) + 1 if settled else None
    peaks = _peaks(away)
    hertz, damping = _swing_of(time, away, peaks)
    return StepResponse(
        time_s=time,
        edge_mm=edge,
        back=not lost,
        overshoot_mm=max(float(past.max()), 0.0) if not lost else 0.0,
        settle_mm=float(run.trace.progress_mm[row]) if row is not None else None,
        settle_s=float(time[row]) if row is not None else None,
        swings=len(peaks),
        hertz=hertz,
        damping_ratio=damping,
        theory=_theory(setup),
    )


def _peaks(away: Floats) -> list[int]:
    """Rows of the farthest point of each excursion past where it ends up, from the first crossing on."""
    sides = np.sign(away)
    turns = np.flatnonzero(sides[1:] * sides[:-1] < 0) + 1
    peaks = []
    for start, end in pairwise([*turns.tolist(), away.size]):
        row = start + int(np.argmax(np.abs(away[start:end])))
        if abs(away[row]) > SWING_MM:
            peaks.append(row)
    return peaks


def _swing_of(time: Floats, away: Floats, peaks: list[int]) -> tuple[float | None, float | None]:
    """Frequency and damping ratio from the peaks: half a swing apart, each lower than the one before by one share."""
    if len(peaks) < 3:
        return None, None
    rows = np.array(peaks[:8])
    hertz = 0.5 / float(np.median(np.diff(time[rows])))
    shares = np.log(np.abs(away[rows[:-1]]) / np.abs(away[rows[1:]]))
    decrement = float(np.mean(shares))
    return hertz, decrement / float(np.hypot(np.pi, decrement))


def _theory(setup: Setup) -> Swing | None:
    """The slowest-dying small swing, for laws that have one."""
    try:
        return swing(linear_loop(setup))
    except IronTrailError:
        return None
