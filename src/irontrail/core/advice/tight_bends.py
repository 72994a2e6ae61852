"""Bends that a program turns too wide for, by reckoning, and one number that would hold them."""

from dataclasses import replace

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.remark import Remark
from irontrail.core.quantity import value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.theory.turning import BendCheck, check_bends

# A sensor that must stray farther than this is off its line; one that strays less than that has room to spare.
LEAVES_MM = 20.0
HELD_MM = 5.0
# How far a mended turn stays inside the widest that still holds the bend.
HOLD_SHARE = 0.92


def too_gentle(setup: Setup) -> Remark | None:
    """What is wrong with powers that turn too wide for the tightest bend; None if they hold them all."""
    route = derive.route(setup.mat, setup.trial.reverse)
    wide = [check for check in check_bends(setup, route) if check.strays_mm > LEAVES_MM]
    # A bend that its run went through gives that the lie.
    wide = [check for check in wide if not went_through(setup, check)]
    if not wide:
        return None
    worst = max(wide, key=lambda check: check.strays_mm)
    if not np.isfinite(worst.turns_mm):
        return None  # it does not turn that way at all, which other checks say
    others = f" (and {len(wide) - 1} more)" if len(wide) > 1 else ""
    side = worst.bend.turns_left == (setup.side > 0.0)
    (least, most), aim = setup.program.reach, setup.program.aim
    low, high = (least, aim) if side == (setup.program.line == "dark") else (aim, most)
    mend, mended = _tighter(setup, worst)
    return Remark(
        "too gentle",
        f"Bend {worst.bend.name}{others} is too tight: at full steer the axle turns within "
        f"{worst.turns_mm:.0f} mm, so the sensor strays {worst.strays_mm:.0f} mm or more.",
        low,
        high,
        mend,
        mended,
    )


def went_through(setup: Setup, check: BendCheck) -> bool:
    """Whether a setup's run went through a bend, and strayed no farther than it should have by as much as is said."""
    run = derive.run(setup)
    if run.legs:
        return False
    length = run.route.length_mm if run.route.closed else 0.0
    came = np.maximum.accumulate(run.start_mm + run.trace.progress_mm)
    start, end = check.bend.start_mm, check.bend.end_mm
    if length and start < run.start_mm:
        start, end = start + length, end + length
    inside = (came >= start) & (came <= end)
    return bool(came[-1] > end and inside.any() and np.abs(run.trace.edge_mm[inside]).max() < check.strays_mm)


def _tighter(setup: Setup, worst: BendCheck) -> tuple[str, Setup | None]:
    """A change of one number that holds the bend, by the same reckoning that found it lost."""
    program = setup.program
    if program.chosen.within is not None:
        dark = worst.bend.turns_left == (setup.side > 0.0)
        track, radius = setup.robot.drive.track_width_mm, HOLD_SHARE * worst.room_mm
        change = program.chosen.within(program, radius, track, dark)
        return _if_held(change.says, replace(setup, program=change.program))
    if not program.chosen.gain:
        return "", None
    path = f"program.{program.chosen.gain_path}"
    gain = value_at(setup, path)
    reach = max(program.aim - program.reach[0], program.reach[1] - program.aim)
    for step in range(1, 12):
        raised = round(gain * 1.25**step, 2)
        if program.speed + raised * reach > 100.0:
            break
        said, mended = _if_held(f"Gain {raised:g}", with_value(setup, path, raised))
        if mended is not None:
            return said, mended
    for speed in range(5 * int((program.speed - 1.0) / 5.0), 9, -5):
        said, mended = _if_held(f"Speed {speed}", with_value(setup, "program.speed", float(speed)))
        if mended is not None:
            return said, mended
    return "", None


def _if_held(said: str, setup: Setup) -> tuple[str, Setup | None]:
    route = derive.route(setup.mat, setup.trial.reverse)
    return (said, setup) if all(check.strays_mm < HELD_MM for check in check_bends(setup, route)) else ("", None)
