"""Readings held with the sensor over the mat, and what follows: a calibration, a target, what a target does."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from irontrail.core.capital import capital
from irontrail.core.derive import Probed
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import calibrated
from irontrail.core.light.sensor import Calibration
from irontrail.core.setup import Setup

KINDS = ("dark", "bright", "edge")
# Shares of the way from dark to bright: a target nearer to an end is none, one nearer to the middle is midway.
NEAR_AN_END, NEAR_MIDWAY = 0.02, 0.06


@dataclass(frozen=True)
class HeldReading:
    """A reading that was held: on what (one of KINDS), what was read, and where."""

    kind: str
    probed: Probed


def raw_of(held: Sequence[HeldReading], kind: str) -> list[float]:
    """The raw readings of one kind."""
    return [each.probed.raw for each in held if each.kind == kind]


def from_held(held: Sequence[HeldReading], before: Calibration) -> tuple[Calibration, float | None]:
    """Dark and bright as a calibration, a reading on the edge as the target; what is not held stays as before.

    Raises
    ------
    IronTrailError
        If dark and bright are too much alike.
    """
    dark, bright, edge = (raw_of(held, kind) for kind in KINDS)
    made = Calibration(
        float(round(fmean(dark))) if dark else before.dark, float(round(fmean(bright))) if bright else before.bright
    )
    return made, float(calibrated(made, fmean(edge))) if edge else None


def in_words(held: Sequence[HeldReading]) -> str:
    """The mean of each kind and how far single readings scatter; empty if nothing is held."""
    said = []
    for kind in KINDS:
        raw = raw_of(held, kind)
        if raw:
            spread = f" ± {stdev(raw):.1f} over {len(raw)} spots" if len(raw) > 1 else " from one spot"
            said.append(f"{kind} {fmean(raw):.1f}{spread}")
    return capital("; ".join(said)) + "." if said else ""


def raw_target(setup: Setup) -> float:
    """The target in raw percent."""
    light, target = setup.light, setup.program.target
    if not light.calibrate:
        return target
    return light.calibration.dark + 0.01 * target * (light.calibration.bright - light.calibration.dark)


def midway_target(setup: Setup) -> float:
    """The target midway between what line and mat read: 50 of a calibrated reading, else midway between raw ones."""
    if setup.light.calibrate:
        return 50.0
    here = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
    return float(round(0.5 * (here.dark + here.bright)))


def what_it_does(now: float, here: Calibration) -> str:
    """Where a target (raw percent) has the robot ride, and how much room that leaves on either side."""
    span = here.bright - here.dark
    share = (now - here.dark) / span if span else 0.5
    if share <= NEAR_AN_END or share >= 1.0 - NEAR_AN_END:
        return "The target is not between what the line and the mat read: the robot cannot ride on it."
    if abs(share - 0.5) < NEAR_MIDWAY:
        return "The target is about midway: as much room to either side."
    side = "mat" if share > 0.5 else "line"
    return (
        f"The target is {100 * share:.0f} % of the way from dark to bright: the robot rides toward the {side}, answers "
        f"with at most {100 * (1 - share):.0f} units there and {100 * share:.0f} on the other side."
    )
