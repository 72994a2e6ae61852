"""What happened on a run, in sentences with figures, each pinned to a moment.

A finding is right or it is silent: each has a figure it must exceed, and a mend is only offered after it has been tried
and did what it promises.
"""

from collections.abc import Callable
from itertools import chain

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.case import Case, Finding, Mend, finding
from irontrail.core.errors import IronTrailError
from irontrail.core.measures import wobbling
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.proportional import PROPORTIONAL
from irontrail.core.stretches import stretches
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import ultimate_gain

# Beyond these a finding is worth a sentence.
ROCKING_SHARE = 0.75
ROCKING_SWING_MM = 2.5
ONE_SIDED = 2.0
WASTED_SHARE = 0.03
STRETCH_LOSS_S = 0.3
STRETCH_LOSS_SHARE = 0.1
LEAST_LOSS_S = 0.05
CLIPPED_SHARE = 0.15
SKID_MM = 30.0
LIGHT_SHIFT_MM = 0.8
SLOWER = (0.9, 0.8)


def findings(case: Case, kept: Setup | None = None, cause_known: bool = False) -> tuple[Finding, ...]:
    """What happened on a run, each with its figures; `kept` is a run to compare its stretches with.

    With its cause known, what only hints at one is not looked at.
    """
    hints: tuple[Callable[[Case], Finding | None], ...] = (_stopped, _rocking, _one_sided, _light)
    looks = (*(() if cause_known else hints), _clipped, _skidding, _wasted)
    lost_time = _lost_time(case, kept) if kept is not None else None
    found = chain((look(case) for look in looks), [lost_time])
    return tuple(each for each in found if each is not None)


def _stopped(case: Case) -> Finding | None:
    """Stopped by its own rule before the finish, or out of time."""
    stop, last = case.setup.program.stop, len(case.run.trace) - 1
    if case.run.outcome == "time-out":
        limit = case.setup.trial.time_limit_s
        mend = case.with_number(
            "trial.time_limit_s", min(4.0 * limit, 600.0), f"Time limit {min(4.0 * limit, 600.0):g} s"
        )
        came = case.figures.progress_mm / 1000.0
        says = f"Out of time: {limit:g} s were enough for {came:.2f} m."
        return finding("time-out", says, last, case.first_that_finishes([mend]))
    if case.run.outcome != "stopped":
        return None
    trace = case.run.trace
    if stop.reading > 0.0 and trace.reading[-1] >= stop.reading:
        rule, name, off = f"a reading of {trace.reading[-1]:.0f} is a marker to it", "reading", "Stop at no reading"
    elif stop.time_s > 0.0 and trace.time_s[-1] >= stop.time_s - 1e-6:
        rule, name, off = f"{stop.time_s:g} s were over", "time_s", "Stop after no time"
    else:
        rule, name, off = f"its wheels had counted {stop.distance_mm:.0f} mm", "distance_mm", "Stop after no distance"
    says = f"Stopped itself in {case.where(last)}: {rule}."
    mend = case.with_number(f"program.stop.{name}", 0.0, off)
    return finding("stopped", says, last, case.first_that_finishes([mend]))


def _rocking(case: Case) -> Finding | None:
    """It swings at the frequency and near the gain at which it must."""
    figures = case.figures
    try:
        loop = linear_loop(case.setup)
    except IronTrailError:
        return None
    rocking = ultimate_gain(loop)
    if rocking is None or loop.kp < ROCKING_SHARE * rocking.gain or figures.wobble_mm < ROCKING_SWING_MM:
        return None
    if not 0.75 < figures.wobble_hz / rocking.hertz < 1.3:
        return None
    swing = np.abs(wobbling(case.run.trace.edge_mm, case.loop_s))
    height = case.gathered(swing, 0.5)
    row = int(np.argmax(height[: max(1, height.size - case.rows(0.5))]))
    share = loop.kp / rocking.gain
    says = (
        f"Swings {figures.wobble_mm:.1f} mm at {figures.wobble_hz:.1f} Hz, most in {case.where(row)}: the gain is "
        f"{100 * share:.0f} % of {rocking.gain:.2f}, at which it rocks steadily."
    )

    def calmer(mend: Mend) -> bool:
        after = derive.figures(mend.setup)
        return after.outcome == "finished" and after.wobble_mm < 0.9 * figures.wobble_mm

    tried = case.other_gain(part * rocking.gain for part in (0.6, 0.7, 0.8, 0.9) if part < share)
    calmer_law = case.setup.program.chosen.calmed_by
    if calmer_law:
        tried.append(Mend(f"{calmer_law}, which damps the swing", with_value(case.setup, "program.law", calmer_law)))
    return finding("rocking", says, row, next(filter(calmer, tried), None))


def _one_sided(case: Case) -> Finding | None:
    """A target off the middle: quick on one side, slow on the other."""
    program = case.setup.program
    midway = case.midway
    if case.gain_path is None or case.setup.light.sensor.names_colours or midway is None:
        return None
    reading = derive.profile(case.setup).reading
    low, high = float(reading.min()), float(reading.max())
    up, down = high - program.aim, program.aim - low
    if min(up, down) <= 1.0 or max(up, down) / min(up, down) < ONE_SIDED:
        return None
    trace = case.run.trace
    slow_light = up < down
    side, error = ("light", up) if slow_light else ("dark", down)
    rows = np.flatnonzero((trace.side > 0.5) == slow_light)
    if not rows.size:
        return None
    row = int(rows[np.argmax(np.abs(trace.edge_mm[rows]))])
    says = (
        f"Slow from the {side} side: there the reading can be {error:.0f} off the target at most, "
        f"{max(up, down):.0f} on the other."
    )
    mend = case.with_number("program.target", midway, f"Target {midway:g}, midway")
    after = derive.figures(mend.setup)
    better = after.outcome == "finished" and (
        case.run.outcome != "finished" or after.rms_edge_mm < case.figures.rms_edge_mm
    )
    return finding("one-sided", says, row, mend if better else None)


def _light(case: Case) -> Finding | None:
    """A shadow or a glare that pulls it aside, by how much it does."""
    light = case.setup.light
    if not light.areas or case.run.outcome != "finished":
        return None
    plain = derive.run(with_value(case.setup, "light.areas", ()))
    x, y = case.sensor
    for area in light.areas:
        away = np.hypot((x - area.x_mm) / area.half_width_mm, (y - area.y_mm) / area.half_height_mm)
        inside = np.flatnonzero(away <= 1.0)
        if inside.size < case.rows(0.1):
            continue
        progress = case.run.trace.progress_mm[inside]
        usual = (plain.trace.progress_mm >= progress.min()) & (plain.trace.progress_mm <= progress.max())
        if not usual.any():
            continue
        shift = float(case.run.trace.edge_mm[inside].mean() - plain.trace.edge_mm[usual].mean())
        if abs(shift) < LIGHT_SHIFT_MM:
            continue
        row = int(inside[inside.size // 2])
        what, way = (
            "A shadow" if area.factor < 1.0 else "A glare",
            "to the light side" if shift > 0.0 else "onto the line",
        )
        says = f"{what} pulls it {abs(shift):.1f} mm {way} in {case.where(row)}."
        mended = case.shielded(0.9) if light.sensor.shield < 0.85 else None
        return finding("light", says, row, case.first_that_finishes([mended]) if mended else None)
    return None


def _clipped(case: Case) -> Finding | None:
    figures = case.figures
    if figures.clipped_share < CLIPPED_SHARE or case.run.outcome != "finished":
        return None
    clipped = np.flatnonzero(case.run.trace.clipped > 0.5)
    runs = np.split(clipped, np.flatnonzero(np.diff(clipped) > 1) + 1)
    longest = max(runs, key=len)
    row = int(longest[0])
    says = (
        f"Clipped {100 * figures.clipped_share:.0f} % of the time, longest in {case.where(row)} "
        f"({longest.size * case.loop_s:.1f} s): it wants more steer than the wheels can give."
    )

    def freer(mend: Mend) -> bool:
        after = derive.figures(mend.setup)
        return (
            after.outcome == "finished"
            and after.clipped_share < 0.6 * figures.clipped_share
            and after.time_s < 1.08 * figures.time_s
        )

    mends = case.gain_times((0.8, 0.6)) + case.faster_or_slower(SLOWER)
    return finding("clipped", says, row, next(filter(freer, mends), None))


def _skidding(case: Case) -> Finding | None:
    figures, trace = case.figures, case.run.trace
    if figures.skid_mm < SKID_MM:
        return None
    row = int(np.argmax(case.gathered(trace.skidding, 0.5)))
    says = f"The wheels slipped over {figures.skid_mm:.0f} mm, most in {case.where(row)}."

    def gripping(mend: Mend) -> bool:
        after = derive.figures(mend.setup)
        return after.outcome == "finished" and after.skid_mm < 0.5 * figures.skid_mm

    return finding("skid", says, row, next(filter(gripping, case.faster_or_slower((0.9, 0.8, 0.7))), None))


def _wasted(case: Case) -> Finding | None:
    """The sensor's way against the length of the edge it followed."""
    if case.run.outcome != "finished" or case.setup.trial.pull is not None:
        return None
    x, y = case.sensor
    steps = np.hypot(np.diff(x), np.diff(y))
    route = case.run.route
    aside = case.setup.off_middle_mm * case.setup.side
    # An edge inside a bend is shorter than the tape's middle, in proportion to its radius.
    per_mm = np.maximum(1.0 - aside * route.curvature, 0.05)
    along = np.interp(
        (case.run.start_mm + case.run.trace.progress_mm) % route.length_mm if route.closed
        else case.run.start_mm + case.run.trace.progress_mm,
        route.s_mm, per_mm,
    )  # fmt: skip
    edge_mm = float((np.diff(case.run.trace.progress_mm) * along[:-1]).sum())
    wasted = float(steps.sum()) / edge_mm - 1.0 if edge_mm > 0.0 else 0.0
    if wasted < WASTED_SHARE:
        return None
    row = int(np.argmax(case.gathered(steps - np.diff(case.run.trace.progress_mm) * along[:-1], 1.0)))
    says = (
        f"Its {'sensors' if case.setup.program.astride else 'sensor'} drove {steps.sum() / 1000:.2f} m over "
        f"{edge_mm / 1000:.2f} m of {'line' if case.setup.program.astride else 'edge'}: "
        f"{100 * wasted:.0f} % of the way went into swinging, most in {case.where(row)}."
    )
    slope = Mend("Steer in proportion", with_value(case.setup, "program.law", PROPORTIONAL.name))
    after, before = derive.figures(slope.setup), case.figures
    better = after.outcome == "finished" and after.time_s < before.time_s and after.wobble_mm < before.wobble_mm
    return finding("wasted", says, row, slope if better and case.setup.program.chosen.gives == "powers" else None)


def _lost_time(case: Case, kept: Setup) -> Finding | None:
    """The stretch that costs most time against the kept run."""
    if (kept.mat, kept.trial.reverse) != (case.setup.mat, case.setup.trial.reverse):
        return None
    before = {each.name: each for each in stretches(derive.run(kept)) if each.whole}
    pairs = [(each, before[each.name]) for each in stretches(case.run) if each.whole and each.name in before]
    if not pairs:
        return None
    worst, was = max(pairs, key=lambda pair: pair[0].time_s - pair[1].time_s)
    loss = worst.time_s - was.time_s
    if (loss < STRETCH_LOSS_S and loss < STRETCH_LOSS_SHARE * was.time_s) or loss < LEAST_LOSS_S:
        return None
    row = int(np.searchsorted(np.maximum.accumulate(case.run.trace.progress_mm), worst.start_mm))
    name = f"Bend {worst.name}" if worst.bend else f"The straight {worst.name}"
    says = f"{name} takes {worst.time_s:.2f} s, {loss:.2f} s longer than in the kept run: more than any other stretch."
    return finding("lost time", says, min(row, len(case.run.trace) - 1))
