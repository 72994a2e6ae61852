"""Experiments on trips: where a leg ends, how exactly, and what comes of it."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from experiments.trials import Experiment, Outcome, Series, changed
from irontrail.core import derive
from irontrail.core.advice.luck import perturbed
from irontrail.core.demos import demo_project
from irontrail.core.mat.tape import Bend, Mat, Straight, Stroke, Zone
from irontrail.core.result import Run
from irontrail.core.setup import Setup
from irontrail.core.steering.legs import (
    AfterDistance,
    AtMark,
    CreepLeg,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
)

STARTS = 40
# A cross line with light borders, 1000 mm from the start zone's middle, over a line that leads to it.
CROSS = Stroke(1300.0, 300.0, 90.0, (Straight(400.0),), border_mm=28.0)
LINE = Stroke(200.0, 500.0, 0.0, (Straight(1500.0),))
YARD = Mat("yard", LINE, colour="#e9e5d8", other_lines=(CROSS,), start=Zone(300.0, 500.0, 120.0, 160.0))


def on_yard(*legs: Leg, mat: Mat = YARD, **values: Any) -> Setup:
    """The lantern's robot on another mat, with other legs, set down on its line."""
    setup = replace(demo_project("lantern").setup, mat=mat)
    setup = changed(setup, **{"trial__set_down": "on the line", "program__edge": "left", **values})
    return replace(setup, program=replace(setup.program, trip=Trip(legs)))


def runs(setup: Setup) -> list[Run]:
    """The runs of a setup from perturbed starts."""
    return [derive.run_once(perturbed(setup, i)) for i in range(1, STARTS + 1)]


def spread(values: Sequence[float]) -> float:
    """The standard deviation of what is known."""
    return float(np.std([value for value in values if np.isfinite(value)], ddof=1))


def at_rest(found: Sequence[Run]) -> list[float]:
    """Where along x each run that came to its end then stood."""
    return [run.rest_x_mm for run in found if run.outcome == "finished"]


# --- 14


def creeping() -> Outcome:
    """Park on the cross line: by braking at some speed when it is seen, or by creeping onto it."""
    rows = []
    for power in (20.0, 40.0, 60.0, 80.0, 100.0):
        brakes = on_yard(
            StraightLeg((AfterDistance(600.0),), "roll on", power), StraightLeg((AtMark(1, "crossing", 20.0, 2.0),), power=power),
            mat=off_line(),
        )  # fmt: skip
        creeps = on_yard(
            StraightLeg((AfterDistance(600.0),), "roll on", power), CreepLeg(0.3, 8.0, 20.0, 90.0), mat=off_line()
        )
        one, other = (at_rest(runs(changed(setup, trial__set_down="in the start zone"))) for setup in (brakes, creeps))
        past = float(np.mean(one)) - 1215.0 if one else float("nan")
        rows.append((power, len(one), past, spread(one), len(other), spread(other)))
    head = (
        "power", "braking: ends of 40", "mean past the mark, mm", "spread, mm", "creeping: ends of 40", "spread, mm",
    )  # fmt: skip
    lines = (
        Series("braking", tuple(row[0] for row in rows), tuple(row[3] for row in rows)),
        Series("creeping", tuple(row[0] for row in rows), tuple(row[5] for row in rows)),
    )
    return Outcome(head, tuple(rows), "power", "spread of the place, mm", lines)


def off_line() -> Mat:
    """The yard without the line that leads to the cross line."""
    return replace(YARD, line=CROSS, other_lines=())


# --- 15


def counting() -> Outcome:
    """A straight of 900 mm ended by the wheels' counts, or on the cross line, as the motors differ and the tyres slip."""
    rows = []
    for mismatch, grip in ((0.0, 0.7), (2.0, 0.7), (4.0, 0.7), (0.0, 0.05), (4.0, 0.05)):
        places = []
        for end in (AfterDistance(840.0), AtMark(1, "crossing", 20.0, 2.0)):
            setup = on_yard(
                StraightLeg((end,), power=70.0, held=False), mat=off_line(), trial__set_down="in the start zone",
                robot__drive__mismatch_percent=mismatch, robot__drive__grip=grip,
            )  # fmt: skip
            run = derive.run_once(setup)
            leg = run.legs[0]
            places.append(float(run.trace.x_mm[leg.ended]) if leg.ended >= 0 else float("nan"))
        rows.append((mismatch, grip, *places))
    first = rows[0]
    rows = [(m, g, a, b, a - first[2], b - first[3]) for m, g, a, b in rows]
    head = (
        "motors differ by, %", "grip", "x by counts, mm", "x on the mark, mm", "counts: drift, mm", "mark: drift, mm",
    )  # fmt: skip
    places = tuple(range(len(rows)))
    lines = (
        Series("by counts", places, tuple(abs(row[4]) for row in rows)),
        Series("on the mark", places, tuple(abs(row[5]) for row in rows)),
    )
    return Outcome(head, tuple(rows), "case, from the top of the table", "drift, mm", lines)


# --- 16


def one_wheel() -> Outcome:
    """How far each wheel, and their mean, count to the end of a line of 1000 mm: straight, and bent either way."""
    rows = []
    for name, pieces in (
        ("straight", (Straight(1000.0),)),
        ("bend to the left", (Straight(300.0), Bend(400.0 * 180.0 / (np.pi * 90.0), 90.0), Straight(300.0))),
        ("bend to the right", (Straight(300.0), Bend(400.0 * 180.0 / (np.pi * 90.0), -90.0), Straight(300.0))),
    ):
        mat = Mat(name, Stroke(300.0, 900.0, 0.0, (*pieces, Straight(200.0))), 2000.0, 1800.0)
        setup = on_yard(FollowLeg((AfterDistance(900.0),)), mat=mat, program__speed=40.0)
        run = derive.run_once(setup)
        leg = run.legs[0]
        rows.append((name, leg.way_mm, leg.counted_mm, leg.left_mm, leg.right_mm))
    head = ("line", "driven, mm", "mean of both, mm", "left wheel, mm", "right wheel, mm")
    places = tuple(range(len(rows)))
    lines = tuple(
        Series(label, places, tuple(abs(row[column] - row[1]) for row in rows))
        for label, column in (("mean of both", 2), ("left wheel", 3))
    )
    return Outcome(head, tuple(rows), "straight, left, right", "off what was driven, mm", lines)


# --- 17 and 18


LAWS = ("on-off", "proportional", "PID")


def after_following() -> list[tuple[str, list[Run], int]]:
    """Follow 700 mm, turn by 90 degrees, drive on 300 mm: the runs by law, and how many came to the end."""
    legs = (FollowLeg((AfterDistance(700.0),)), TurnLeg(90.0, 20.0), StraightLeg((AfterDistance(300.0),), power=30.0))
    found = []
    for law in LAWS:
        made = runs(on_yard(*legs, mat=replace(YARD, other_lines=()), program__law=law, program__pid__kp=0.5))
        found.append((law, [run for run in made if run.outcome == "finished"], len(made)))
    return found


def angle_at_end() -> Outcome:
    """The heading against the line where a leg that follows it ends, by law."""
    rows = []
    for law, made, _ in after_following():
        angles = [float(np.degrees(run.trace.angle_rad[run.legs[0].ended])) for run in made]
        rows.append((law, spread(angles), float(np.abs(angles).max())))
    lines = (Series("", tuple(range(len(rows))), tuple(row[1] for row in rows)),)
    head = ("law", "spread of the angle at the leg's end, °", "largest, °")
    return Outcome(head, tuple(rows), "on-off, proportional, PID", "spread of the angle, °", lines)


def next_turn() -> Outcome:
    """Where the robot stands after the turn and the straight that follow, by law: across the way it was to drive."""
    rows = []
    for law, made, count in after_following():
        across = [run.rest_x_mm - float(run.trace.x_mm[run.legs[1].begun]) for run in made]
        heading = [float(np.degrees(run.rest_heading_rad)) for run in made]
        rows.append((law, len(made), count, spread(heading), spread(across)))
    lines = (Series("", tuple(range(len(rows))), tuple(row[4] for row in rows)),)
    head = ("law", "ends", "of", "spread of the heading, °", "spread across the way, mm")
    return Outcome(head, tuple(rows), "on-off, proportional, PID", "spread across the way, mm", lines)


# --- 19


def lead_in() -> Outcome:
    """The line met at an angle from the start zone: how far the sensor overshoots its edge before it follows."""
    rows = []
    for angle in (10.0, 20.0, 30.0, 40.0, 50.0, 60.0):
        way = np.radians(angle)
        zone = Zone(700.0 - 200.0 * float(np.cos(way)), 480.0 - 200.0 * float(np.sin(way)), 100.0, 100.0, angle)
        mat = replace(YARD, start=zone, other_lines=())
        legs = StraightLeg((LineFound(45.0),), power=40.0), FollowLeg((AfterDistance(400.0),))
        setup = on_yard(*legs, mat=mat, program__edge="right")
        found = runs(changed(setup, trial__set_down="in the start zone", program__edge="right"))
        over = [overshoot(run) for run in found]
        kept = sum(run.outcome == "finished" for run in found)
        rows.append((angle, kept, float(np.median(over))))
    lines = (Series("", tuple(row[0] for row in rows), tuple(row[2] for row in rows)),)
    head = ("met at, °", "follows on, of 40", "overshoots its edge by, mm")
    return Outcome(head, tuple(rows), "angle, °", "overshoot, mm", lines)


def overshoot(run: Run) -> float:
    """How far off its edge a run's second leg came, once it had been at it."""
    if len(run.legs) < 2:
        return float("nan")
    leg = run.legs[1]
    off = np.abs(run.trace.edge_mm[leg.begun : leg.over + 1])
    there = np.flatnonzero(off <= 6.0)
    return float(off[there[0] :].max()) if there.size else float(off.max())


EXPERIMENTS = (
    Experiment(
        "Creeping and braking",
        "How exactly does a robot park on a cross line: by braking when it sees it, or by creeping onto it?",
        creeping,
        lambda f: (
            f"Braking from power {f.rows[-1][0]:g} scatters by {f.rows[-1][3]:.1f} mm and from {f.rows[1][0]:g} by "
            f"{f.rows[1][3]:.1f} mm (one standard deviation, 40 starts); creeping the last of the way scatters by "
            f"{f.rows[-1][5]:.1f} mm, however fast it came. Braking also ends {f.rows[1][2]:.0f} to {f.rows[-1][2]:.0f} mm "
            "past the place where the line was seen; that part is always the same, and can be allowed for."
        ),
    ),
    Experiment(
        "By counts or on a mark",
        "What happens to the end of a leg when motors differ or tyres slip?",
        counting,
        lambda f: (
            f"Ended by its wheels' counts it ends up to {max(abs(r[4]) for r in f.rows):.0f} mm from where it did at first, "
            f"ended on the cross line {max(abs(r[5]) for r in f.rows):.0f} mm. (Driven straight, not held by counts.)"
        ),
    ),
    Experiment(
        "Both wheels or one",
        "What does a wheel count on a line that bends?",
        one_wheel,
        lambda f: (
            f"On a bend of 90° one wheel counts {abs(f.rows[1][3] - f.rows[1][1]):.0f} mm more or less than was driven "
            f"(half the track times the angle is {55.0 * np.pi / 2:.0f}); the mean of both stays within "
            f"{max(abs(r[2] - r[1]) for r in f.rows):.1f} mm."
        ),
    ),
    Experiment(
        "The angle at a leg's end",
        "Which way does the robot point where a leg along the line ends?",
        angle_at_end,
        lambda f: "; ".join(f"{r[0]}: spread {r[1]:.2f}°, at most {r[2]:.1f}°" for r in f.rows) + ". (40 starts.)",
    ),
    Experiment(
        "What follows a smooth leg",
        "Does it matter to the next turn how the line was followed?",
        next_turn,
        lambda f: (
            f"After on-off the turn and 300 mm straight scatter by {f.rows[0][4]:.0f} mm across their way, after "
            f"proportional by {f.rows[1][4]:.1f} mm, after PID by {f.rows[2][4]:.1f} mm: a turn adds to the angle it begins with."
        ),
    ),
    Experiment(
        "The lead-in",
        "How steeply may the line be met?",
        lead_in,
        lambda f: (
            f"Met at {f.rows[0][0]:g}° the sensor overshoots its edge by {f.rows[0][2]:.0f} mm, at {f.rows[2][0]:g}° by "
            f"{f.rows[2][2]:.0f} mm; at {f.rows[-1][0]:g}° {f.rows[-1][1]} of 40 follow on."
        ),
    ),
)
