"""Experiments on two sensors: what a second one is worth, where, and what it costs."""

from dataclasses import replace
from functools import cache
from typing import Any

import numpy as np

from experiments.trials import Experiment, Outcome, Series, changed, demo
from irontrail.core import derive
from irontrail.core.advice.luck import perturbed
from irontrail.core.demos import demo_project
from irontrail.core.light.second import SecondSensor
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.tape import Mat, Straight, Stroke
from irontrail.core.measures import measure
from irontrail.core.robot.mount import Mount
from irontrail.core.setup import Setup, Trial
from irontrail.core.tune.batch import run_batch

STARTS = 40
AHEAD, HALF_APART = 75.0, 12.0
# For each arrangement, what is tried on a mat: gains, or for a table its powers.
GAINS = (0.2, 0.3, 0.4, 0.6, 0.8, 1.1)
REAR_GAINS = (0.4, 0.6, 0.8, 1.0)
ASTRIDE = ("table", "difference", "each its side")


def two(setup: Setup, first: tuple[float, float], second: tuple[float, float], **values: Any) -> Setup:
    """A setup with its sensors so far ahead of the axle and to the left."""
    setup = changed(setup, robot__mount__ahead_mm=first[0], robot__mount__aside_mm=first[1])
    return changed(replace(setup, second=SecondSensor(Mount(*second))), **values)


def astride(setup: Setup, arrangement: str, **values: Any) -> Setup:
    """A setup with its sensors astride the line, and the numbers that suit an arrangement."""
    apart = {"difference": HALF_APART, "table": 16.0, "each its side": 15.0}[arrangement]
    made = two(setup, (AHEAD, apart), (AHEAD, -apart), program__arrangement=arrangement, **values)
    high = 50.0 if arrangement == "table" else 85.0
    return changed(made, program__pair__left_threshold=high, program__pair__right_threshold=high)


def with_gain(setup: Setup, gain: float) -> Setup:
    """A setup with a gain; of a table, with turns as hard as that gain is at half of all contrast."""
    if setup.program.arrangement != "table":
        return changed(setup, program__proportional__gain=gain)
    speed, steer = setup.program.speed, min(50.0 * gain, 60.0)
    table = setup.program.table
    straight, inner, outer = replace(table.both, left=speed, right=speed), speed - steer, min(speed + steer, 100.0)
    turns = {
        "left": replace(table.left, left=inner, right=outer),
        "right": replace(table.right, left=outer, right=inner),
    }
    return changed(setup, program__table=replace(table, neither=straight, both=straight, **turns))


def best(setup: Setup) -> tuple[float, float, float, float]:
    """The gain with which most starts finish, and of those the calmest: gain, share, mean swing, mean time."""
    tried = [with_gain(setup, gain) for gain in GAINS]
    batch = run_batch(tried, STARTS)
    assert batch is not None
    swing = np.where(np.isnan(batch.values["wobble_mm"]), np.inf, batch.values["wobble_mm"])
    i = min(range(len(tried)), key=lambda k: (-batch.finished[k], swing[k]))
    return GAINS[i], float(batch.finished[i]), float(batch.values["wobble_mm"][i]), float(batch.values["time_s"][i])


# --- 20


@cache
def over_crossings() -> Outcome:
    """Each mat with one sensor on either edge and with two astride, each with its best of six gains, at one speed."""
    rows = []
    for name in ("ropewalk", "ferry", "lighthouse", "quarry", "tannery"):
        setup = Setup(DEMO_MATS[name](), program=replace(demo().program, speed=35.0))
        for edge in ("left", "right"):
            rows.append((setup.mat.name, f"one, {edge} edge", *best(changed(setup, program__edge=edge))))
        for arrangement in ASTRIDE:
            rows.append((setup.mat.name, arrangement, *best(astride(setup, arrangement))))
    head = ("mat", "sensors", "gain", "finish, of 1", "swing, mm", "time, s")
    mats = tuple(range(5))
    names = ("one, left edge", "one, right edge", *ASTRIDE)
    lines = tuple(Series(name, mats, tuple(row[3] for row in rows if row[1] == name)) for name in names)
    return Outcome(head, tuple(rows), "mat, from the top of the table", "share of starts that finish", lines)


# --- 21


@cache
def rear_weight() -> Outcome:
    """Weights of a rear sensor over four gains: the heading on a straight and at rest at its end, and the demo's lap."""
    rows = []
    long = Mat("straight", Stroke(300.0, 500.0, 0.0, (Straight(1500.0),)))
    for gain in REAR_GAINS:
        weights = (0.0, 0.1, 0.2, 0.3)
        setups = [
            two(
                demo(program__proportional__gain=gain, program__speed=35.0), (AHEAD, 0.0), (-35.0, 0.0),
                program__arrangement="weighted", program__pair__weight=1.0 - rear,
            )
            for rear in weights
        ]  # fmt: skip
        laps = run_batch(setups, STARTS)
        assert laps is not None
        lap_times, farthest = laps.values["time_s"], laps.values["worst_edge_mm"]
        for rear, setup, share, time, worst in zip(weights, setups, laps.finished, lap_times, farthest, strict=True):
            straight = replace(setup, mat=long, trial=Trial(start_mm=150.0))
            ends = [derive.run_once(perturbed(straight, i)) for i in range(1, STARTS + 1)]
            sway = [measure(run).heading_swing_deg for run in ends]
            angles = [np.degrees(run.end_angle_rad) for run in ends]
            found = (float(np.mean(sway)), float(np.std(angles, ddof=1)))
            rows.append((gain, 100.0 * rear, *found, round(STARTS * share), float(time), float(worst)))
    head = (
        "gain", "rear sensor's weight, %", "heading sways on a straight, °", "spread of the angle at rest, °",
        "laps finished, of 40", "lap, s", "farthest off on the lap, mm",
    )  # fmt: skip
    lines = tuple(
        Series(f"gain {gain:g}", tuple(r[1] for r in rows if r[0] == gain), tuple(r[2] for r in rows if r[0] == gain))
        for gain in REAR_GAINS
    )
    return Outcome(head, tuple(rows), "weight of the rear sensor, %", "heading sways on a straight, °", lines)


# --- 22


@cache
def how_wide() -> Outcome:
    """Two sensors astride the demo's line of 20 mm, nearer together and farther apart."""
    rows = []
    for arrangement in ("difference", "each its side"):
        for apart in (8.0, 16.0, 24.0, 32.0, 44.0, 60.0):
            setup = changed(astride(demo(program__speed=40.0), arrangement), robot__mount__aside_mm=0.5 * apart)
            setup = changed(setup, second__mount__aside_mm=-0.5 * apart)
            gain, share, swing, time = best(setup)
            rows.append((arrangement, apart, gain, share, swing, time))
    head = ("arrangement", "apart, mm", "best gain", "finish, of 1", "swing, mm", "time, s")
    lines = tuple(
        Series(name, tuple(r[1] for r in rows if r[0] == name), tuple(r[4] for r in rows if r[0] == name))
        for name in ("difference", "each its side")
    )
    return Outcome(head, tuple(rows), "sensors apart, mm", "swing, mm", lines)


# --- 23


@cache
def which_side() -> Outcome:
    """Set down beside the middle of a line of 40 mm: does it come to follow it?"""
    rows = []
    mat = Mat("wide line", Stroke(200.0, 500.0, 0.0, (Straight(1500.0),), width_mm=40.0))
    base = replace(demo(program__speed=35.0, trial__lost_distance_mm=90.0), mat=mat)
    for off in (-30.0, -25.0, -15.0, 0.0, 15.0, 25.0, 30.0):
        # The one on the left edge is set down from there; off is from the middle, to the left.
        one = changed(base, trial__start_off_mm=off - 20.0)
        pair = two(base, (AHEAD, 20.0), (AHEAD, -20.0), program__arrangement="difference")
        pair = changed(pair, trial__start_off_mm=off, program__proportional__gain=0.3)
        found = []
        for setup in (one, pair):
            runs = [derive.run_once(perturbed(setup, i)) for i in range(1, 21)]
            settled = [run for run in runs if run.outcome == "finished" and abs(run.trace.edge_mm[-1]) < 12.0]
            worst = max(float(np.abs(run.trace.edge_mm).max()) for run in runs)
            found += [len(settled), worst]
        rows.append((off, *found))
    head = ("set down left of the middle, mm", "one: follow, of 20", "one: farthest off, mm", "two: follow, of 20",
            "two: farthest off, mm")  # fmt: skip
    at = tuple(row[0] for row in rows)
    lines = (
        Series("one, left edge", at, tuple(float(row[1]) for row in rows)),
        Series("two, difference", at, tuple(float(row[3]) for row in rows)),
    )
    return Outcome(head, tuple(rows), "set down left of the middle, mm", "follow, of 20", lines)


def crossings_answer(found: Outcome) -> str:
    """The Rope Walk in words, then where two cannot follow."""
    here = {row[1]: row for row in found.rows if row[0] == demo_project("ropewalk").setup.mat.name}
    said = "; ".join(f"{name} {100 * row[3]:.0f} % (swing {row[4]:.1f} mm)" for name, row in here.items())
    fails = [f"{row[1]} on {row[0]} ({100 * row[3]:.0f} %)" for row in found.rows if row[3] < 0.95]
    return (
        f"Over the crossings of the Rope Walk finish: {said}. Of all that was tried on five mats, fewer than 19 of 20 "
        f"starts finish for {', '.join(fails)}." if fails else f"Over the crossings of the Rope Walk finish: {said}."
    )  # fmt: skip


def rear_answer(found: Outcome) -> str:
    """What a tenth of a rear sensor does, gain by gain."""
    said = []
    for gain in REAR_GAINS:
        none, tenth = (next(r for r in found.rows if r[0] == gain and r[1] == share) for share in (0.0, 10.0))
        laps = [f"{r[4]} ({r[6]:.0f} mm off at the farthest)" if r[4] else "none" for r in (none, tenth)]
        said.append(
            f"at gain {gain:g} the heading sways {none[2]:.1f}° without it and {tenth[2]:.1f}° with a tenth, the angle at "
            f"rest scatters {none[3]:.2f}° and {tenth[3]:.2f}°, and of 40 laps {laps[0]} and {laps[1]} are finished"
        )
    return "On a straight, then on the demo's lap: " + "; ".join(said) + "."


def wide_answer(found: Outcome) -> str:
    """The calmest width, and the widest that was tried."""
    said = []
    for name in ("difference", "each its side"):
        rows = [row for row in found.rows if row[0] == name]
        good = [row for row in rows if row[3] >= 0.95]
        calm, wide = min(good, key=lambda row: row[4]), rows[-1]
        ends = f"{wide[4]:.1f} mm" if wide[3] > 0.0 else "nothing finishes"
        said.append(f"{name}: calmest {calm[1]:g} mm apart ({calm[4]:.1f} mm); {wide[1]:g} mm apart: {ends}"
                    f", {100 * wide[3]:.0f} % finish")  # fmt: skip
    return "; ".join(said) + "."


EXPERIMENTS = (
    Experiment(
        "Two sensors over crossings",
        "Does a pair astride the line drive over crossings that throw a single sensor?",
        over_crossings,
        crossings_answer,
    ),
    Experiment(
        "A rear sensor's weight",
        "Does a tenth of a rear sensor take the sway out of the heading, for which gains, and what does it cost?",
        rear_weight,
        rear_answer,
    ),
    Experiment("How wide a pair", "How far apart should two sensors astride a line be?", how_wide, wide_answer),
    Experiment(
        "Which side of a wide line",
        "Can a sensor tell on which side of a wide line it was set down?",
        which_side,
        lambda f: (
            f"Set down {-f.rows[0][0] - 20.0:.0f} mm beyond the right edge, {f.rows[0][1]} of 20 with one sensor for the left "
            f"edge come to follow it, with two {f.rows[0][3]}; {-f.rows[1][0] - 20.0:.0f} mm beyond it {f.rows[1][1]} and "
            f"{f.rows[1][3]}; on the right half of it {f.rows[2][1]} and {f.rows[2][3]}."
        ),
    ),
)
