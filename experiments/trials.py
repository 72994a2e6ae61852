"""The experiments: each varies one thing, measures, and returns its figures.

`python -m experiments` writes them up; tests/core/test_experiments.py says what must come out.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.tape import Bend, Mat, Straight, Stroke
from irontrail.core.quantity import with_value
from irontrail.core.result import Run
from irontrail.core.robot.drive import turning_radius_mm
from irontrail.core.setup import Setup


@dataclass(frozen=True)
class Series:
    """A line of the plot."""

    name: str
    x: tuple[float, ...]
    y: tuple[float, ...]


@dataclass(frozen=True)
class Outcome:
    """What an experiment found: a table, and a plot of some of it."""

    head: tuple[str, ...]
    rows: tuple[tuple[Any, ...], ...]
    x_label: str
    y_label: str
    series: tuple[Series, ...]


@dataclass(frozen=True)
class Experiment:
    """A question, the trial that answers it, and what its figures mean."""

    name: str
    question: str
    run: Callable[[], Outcome]
    answer: Callable[[Outcome], str]


def demo(**values: Any) -> Setup:
    """The demo, changed; a double underscore stands for a dot."""
    return changed(demo_project("lighthouse").setup, **values)


def changed(setup: Setup, **values: Any) -> Setup:
    """A setup, changed; a double underscore stands for a dot."""
    for name, value in values.items():
        setup = with_value(setup, name.replace("__", "."), value)
    return setup


def figures(setup: Setup) -> Figures:
    """Shorthand."""
    return derive.figures(setup)


def on_off(setup: Setup, outer: float, inner: float) -> Setup:
    """On-off with the same powers on both sides."""
    powers = replace(setup.program.on_off, dark_outer=outer, light_outer=outer, dark_inner=inner, light_inner=inner)
    return changed(setup, program__law="on-off", program__on_off=powers)


def bend_mat(radius_mm: float, before_mm: float = 900.0) -> Mat:
    """A straight, a bend of a half turn to the left, a straight."""
    pieces = (Straight(before_mm), Bend(radius_mm, 180.0), Straight(before_mm))
    return Mat("bend", Stroke(300.0, 300.0, 0.0, pieces), 2000.0, 1000.0)


def stretch_swing(run: Run, start: float, end: float) -> float:
    """Peak to peak of the distance from the edge between two places, the mean taken off."""
    trace = run.trace
    here = (trace.progress_mm > start) & (trace.progress_mm < end)
    return float(np.ptp(trace.edge_mm[here])) if here.any() else float("nan")


def series(name: str, rows: Sequence[tuple[Any, ...]], x: int, y: int) -> Series:
    """Two columns of a table as a line."""
    return Series(name, tuple(float(row[x]) for row in rows), tuple(float(row[y]) for row in rows))


# --- 1


def powers_and_radius() -> Outcome:
    rows = []
    for inner in (0.0, 5.0, 10.0, 15.0, 18.0, 21.0, 25.0, 30.0):
        setup = on_off(changed(demo(), mat=bend_mat(150.0)), 50.0, inner)
        run = derive.run(setup)
        radius = turning_radius_mm(110.0, 50.0, inner)
        rows.append((inner, radius, run.outcome, stretch_swing(run, 300.0, 850.0), float(run.trace.progress_mm[-1])))
    head = ("inner power", "turning radius, mm", "outcome", "swing on the straight, mm", "progress, mm")
    return Outcome(head, tuple(rows), "inner wheel's power, %", "swing on the straight, mm", (series("", rows, 0, 3),))


# --- 2


def on_off_speed() -> Outcome:
    rows = []
    for law, speeds in (("on-off", (25.0, 35.0, 45.0, 55.0, 65.0, 75.0)), ("proportional", (30.0, 40.0, 50.0, 60.0))):
        for speed in speeds:
            if law == "on-off":
                # The same difference of powers at every speed.
                found = figures(on_off(demo(), speed + 25.0, speed - 25.0))
            else:
                found = figures(demo(program__speed=speed))
            rows.append((law, speed, found.outcome, found.time_s, found.wobble_mm))
    lines = tuple(
        series(law, [row for row in rows if row[0] == law and row[2] == "finished"], 3, 4)
        for law in ("on-off", "proportional")
    )
    return Outcome(("law", "mean power", "outcome", "time, s", "swing, mm"), tuple(rows), "time, s", "swing, mm", lines)


# --- 3


def gain_and_speed() -> Outcome:
    gains = (0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 1.2, 1.4, 1.6)
    rows = []
    for speed in (30.0, 45.0, 60.0):
        for gain in gains:
            found = figures(demo(program__speed=speed, program__proportional__gain=gain))
            rows.append((speed, gain, found.outcome, found.wobble_mm, found.worst_edge_mm))
    lines = tuple(
        series(f"speed {speed:g}", [row for row in rows if row[0] == speed and row[2] == "finished"], 1, 3)
        for speed in (30.0, 45.0, 60.0)
    )
    head = ("speed", "gain", "outcome", "swing, mm", "worst, mm")
    return Outcome(head, tuple(rows), "gain", "swing, mm", lines)


# --- 4


def sensor_ahead() -> Outcome:
    rows = []
    straight = Mat("straight", Stroke(150.0, 500.0, 0.0, (Straight(1800.0),)))
    for ahead in (30.0, 45.0, 60.0, 75.0, 90.0, 110.0):
        # The same gains, calm at every place of the sensor.
        setup = changed(
            demo(), mat=straight, robot__mount__ahead_mm=ahead, program__speed=30.0, program__proportional__gain=0.3,
            light__sensor__noise=0.0, trial__start_off_mm=6.0,
        )  # fmt: skip
        trace = derive.run(setup).trace
        outside = np.flatnonzero(np.abs(trace.edge_mm) > 1.5)
        turned = np.degrees(np.ptp(trace.angle_rad))
        rows.append((ahead, float(turned), float(trace.time_s[outside[-1]])))
    head = ("ahead, mm", "heading swings through, °", "within 1.5 mm after, s")
    lines = (series("heading swings through, °", rows, 0, 1), series("10 x settling time, s", rows, 0, 2))
    lines = (lines[0], Series(lines[1].name, lines[1].x, tuple(10 * y for y in lines[1].y)))
    return Outcome(head, tuple(rows), "sensor ahead of the axle, mm", "", lines)


# --- 5


def target_off_middle() -> Outcome:
    rows = []
    straight = Mat("straight", Stroke(100.0, 500.0, 0.0, (Straight(1800.0),)))
    for target in (20.0, 35.0, 50.0, 65.0, 80.0):
        times = []
        for off in (8.0, -8.0):
            setup = changed(
                demo(), mat=straight, program__target=target, program__speed=30.0, program__proportional__gain=0.4,
                light__sensor__noise=0.0, trial__start_off_mm=off,
            )  # fmt: skip
            trace = derive.run(setup).trace
            rest = float(np.median(trace.edge_mm[-100:]))
            inside = np.flatnonzero(np.abs(trace.edge_mm - rest) > 0.5 * abs(off - rest))
            times.append(float(trace.time_s[inside[-1]]) if inside.size else 0.0)
        rows.append((target, times[0], times[1], times[0] / times[1]))
    head = ("target", "half back from the light side, s", "from the dark side, s", "ratio")
    lines = (series("from the light side", rows, 0, 1), series("from the dark side", rows, 0, 2))
    return Outcome(head, tuple(rows), "target", "time to come half way back, s", lines)


# --- 6


def inner_edge() -> Outcome:
    rows = []
    for gain in (0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6):
        mat = bend_mat(80.0)
        found = [
            figures(changed(demo(), mat=mat, program__proportional__gain=gain, program__edge=edge, program__speed=40.0))
            for edge in ("left", "right")
        ]
        rows.append((gain, found[0].outcome, found[1].outcome, found[0].worst_edge_mm, found[1].worst_edge_mm))
    head = ("gain", "inner edge, radius 70", "outer edge, radius 90", "worst inner, mm", "worst outer, mm")
    lines = (series("inner edge", rows, 0, 3), series("outer edge", rows, 0, 4))
    return Outcome(head, tuple(rows), "gain", "worst distance, mm", lines)


# --- 7


def hold() -> Outcome:
    rows = []
    for loops in (1, 2, 3, 4, 5, 6, 8, 10):
        found = figures(demo(program__law="on-off", program__decision_loops=loops))
        rows.append((10 * loops, found.outcome, found.wobble_mm, found.worst_edge_mm))
    head = ("hold, ms", "outcome", "swing, mm", "worst, mm")
    done = [row for row in rows if row[1] == "finished"]
    return Outcome(head, tuple(rows), "hold, ms", "swing, mm", (series("", done, 0, 2),))


# --- 8


def power_and_grip() -> Outcome:
    rows = []
    for grip in (0.1, 0.7):
        for speed in (40.0, 60.0, 80.0, 100.0):
            setup = changed(
                demo(), mat=Mat("straight", Stroke(100.0, 500.0, 0.0, (Straight(1600.0),))), program__speed=speed,
                program__proportional__gain=0.0, robot__drive__grip=grip, robot__drive__top_speed_mm_s=900.0,
            )  # fmt: skip
            found = figures(setup)
            rows.append((grip, speed, found.time_s, found.skid_mm, found.coast_mm))
    lines = tuple(series(f"grip {grip:g}", [row for row in rows if row[0] == grip], 1, 4) for grip in (0.1, 0.7))
    head = ("grip", "power", "time, s", "skid, mm", "coasts, mm")
    return Outcome(head, tuple(rows), "power, %", "coasts, mm", lines)


# --- 9


def shadow_and_shield() -> Outcome:
    rows = []
    straight = Mat("straight", Stroke(100.0, 500.0, 0.0, (Straight(1800.0),)))
    for shield in (0.0, 0.5, 0.9):
        setup = changed(
            demo(), mat=straight, light__room_light=0.8, light__sensor__shield=shield, robot__mount__height_mm=12.0,
            program__speed=35.0, program__proportional__gain=0.5, light__sensor__noise=0.0,
        )  # fmt: skip
        setup = changed(setup, light__calibration=calibrate_on(setup.mat, setup.light, 12.0))
        shadow = changed(setup, light__areas=(LightArea(1000.0, 500.0, 250.0, 300.0, 0.0),))
        away = derive.run(shadow).trace
        here = (away.progress_mm > 800.0) & (away.progress_mm < 1100.0)
        pulled = float(np.abs(away.edge_mm[here]).mean())
        lit, dark = (derive.profile(each).reading for each in (setup, changed(setup, light__room_light=0.0)))
        moved = 0.5 * float(dark.min() + dark.max() - lit.min() - lit.max())
        rows.append((100 * shield, pulled, moved))
    head = ("shield, %", "pulled off course in the shadow, mm", "best target moves by, with the room light off")
    return Outcome(head, tuple(rows), "shield, %", "pulled off course, mm", (series("", rows, 0, 1),))


# --- 10


def contrast() -> Outcome:
    rows = []
    for grey in (0x2A, 0x50, 0x78, 0xA0, 0xC0, 0xD8, 0xE6):
        colour = f"#{grey:02x}{grey:02x}{grey:02x}"
        setup = demo(mat__line__colour=colour)
        reading = derive.profile(setup).reading
        span = float(np.ptp(reading))
        # The target midway, as a team would set it; the gain as it was, and raised by as much as the span has shrunk.
        midway = changed(setup, program__target=float(round(reading.min() + span / 2)))
        same = figures(midway)
        scaled = figures(changed(midway, program__proportional__gain=min(0.7 * 98.0 / span, 20.0)))
        rows.append((grey, span, same.outcome, same.worst_edge_mm, scaled.outcome, scaled.worst_edge_mm))
    head = ("grey of the line", "span of the reading", "same gain", "worst, mm", "gain by contrast", "worst, mm")
    lines = (series("same gain", rows, 1, 3), series("gain by contrast", rows, 1, 5))
    return Outcome(head, tuple(rows), "span of the reading", "worst distance, mm", lines)


# --- 11


def fork_mat(goal: int) -> Mat:
    """A straight trunk that forks into a way to the left and a way to the right."""
    ways = [
        (Straight(500.0), Bend(200.0, turn), Straight(300.0), Bend(200.0, -turn), Straight(400.0))
        for turn in (50.0, -50.0)
    ]
    left, right = (Stroke(150.0, 500.0, 0.0, way) for way in ways)
    return Mat("fork", left, other_lines=(right,), goal=goal)


def fork() -> Outcome:
    rows = []
    for edge in ("left", "right"):
        for law in ("on-off", "proportional", "PID"):
            outcomes = [
                figures(
                    changed(demo(), mat=fork_mat(goal), program__law=law, program__edge=edge, program__speed=35.0)
                ).outcome
                for goal in (0, 1)
            ]
            rows.append((edge, law, *outcomes))
    share = [(0.0 if row[0] == "left" else 1.0, float(row[2] == "finished")) for row in rows]
    lines = (Series("reached the left goal", tuple(x for x, _ in share), tuple(y for _, y in share)),)
    return Outcome(
        ("edge", "law", "to the left goal", "to the right goal"), tuple(rows), "left edge, right edge", "", lines
    )


# --- 12


def stopped_at_random() -> Outcome:
    rows = []
    random = np.random.default_rng(11)
    moments = random.uniform(2.0, 6.0, 60)
    straight = Mat("straight", Stroke(100.0, 500.0, 0.0, (Straight(1800.0),)))
    for name, setup in (
        ("on-off", demo(program__law="on-off")),
        ("proportional", demo(program__proportional__gain=0.5)),
        ("PID", demo(program__law="PID")),
    ):
        setup = changed(setup, mat=straight, program__speed=30.0)
        angles = [figures(changed(setup, program__stop__time_s=float(t))).end_angle_deg for t in moments]
        straights = np.array(angles)
        rows.append((name, float(np.std(straights)), float(np.abs(straights).max())))
    head = ("law", "spread of the angle to the line, °", "largest, °")
    lines = (Series("", tuple(range(len(rows))), tuple(row[1] for row in rows)),)
    return Outcome(head, tuple(rows), "on-off, proportional, PID", "spread of the angle, °", lines)


# --- 13


def uneven_line() -> Outcome:
    rows = []
    for unevenness in (0.0, 0.5, 1.0, 1.5, 2.0, 2.5):
        found = [
            figures(
                demo(
                    mat__line__unevenness_mm=unevenness,
                    mat__line__unevenness_seed=seed,
                    program__proportional__gain=0.6,
                )
            )
            for seed in range(5)
        ]
        done = [each for each in found if each.outcome == "finished"]
        swing = float(np.mean([each.wobble_mm for each in done])) if done else float("nan")
        effort = float(np.mean([each.steer_effort for each in done])) if done else float("nan")
        rows.append((unevenness, len(done), swing, effort))
    head = ("edges wander by, mm RMS", "finished of 5", "swing, mm", "steering effort, % a second")
    return Outcome(head, tuple(rows), "unevenness, mm", "swing, mm", (series("", rows, 0, 2),))


def _rows(found: Outcome, column: int, value: Any) -> list[tuple[Any, ...]]:
    return [row for row in found.rows if row[column] == value]


EXPERIMENTS = (
    Experiment(
        "Powers and the bend they can hold",
        "Which pairs of wheel powers hold a bend of 150 mm, and what does a larger difference cost on the straight?",
        powers_and_radius,
        lambda f: (
            f"Powers of 50 and {_rows(f, 2, 'finished')[-1][0]:g} (turning radius "
            f"{_rows(f, 2, 'finished')[-1][1]:.0f} mm) still hold it, 50 and {_rows(f, 2, 'lost')[0][0]:g} "
            f"({_rows(f, 2, 'lost')[0][1]:.0f} mm) do not. With the sensor 75 mm ahead, the axle's radius in this bend lies "
            f"between {(140**2 - 75**2) ** 0.5:.0f} mm (near edge of the tape) and {(160**2 - 75**2) ** 0.5:.0f} mm (far edge). "
            f"The straight swings {f.rows[0][3] / _rows(f, 2, 'finished')[-1][3]:.1f} times as wide with 50 and 0."
        ),
    ),
    Experiment(
        "On-off and speed",
        "What does speed cost on-off, at the same difference of powers, against proportional steering?",
        on_off_speed,
        lambda f: (
            f"On-off finishes up to a mean power of {_rows(f, 2, 'finished')[-5][1]:g} ({_rows(f, 2, 'finished')[-5][3]:.1f} s, swing "
            f"{_rows(f, 2, 'finished')[-5][4]:.1f} mm) and leaves the line above it; proportional finishes at "
            f"{f.rows[-1][1]:g} in {f.rows[-1][3]:.1f} s with a swing of {f.rows[-1][4]:.1f} mm."
        ),
    ),
    Experiment(
        "Gain and speed",
        "Where is a gain too small, where too large, and what does speed do to both?",
        gain_and_speed,
        lambda f: (
            "Too small a gain is lost in a bend, too large a one swings; "
            + "; ".join(
                f"at speed {s:g} the smallest that finishes is {_finishing(f, s)[0]:g} and the largest with a swing "
                f"below 10 mm {_calm(f, s)[-1]:g}"
                for s in (30.0, 45.0, 60.0)
            )
            + "."
        ),
    ),
    Experiment(
        "Where the sensor sits",
        "What does a sensor close to the axle do, with the same gains? (Set down 6 mm off the edge and released.)",
        sensor_ahead,
        lambda f: (
            f"At {f.rows[0][0]:g} mm the heading swings through {f.rows[0][1]:.0f}° and the sensor is back within 1.5 mm after "
            f"{f.rows[0][2]:.2f} s; at {f.rows[4][0]:g} mm it is {f.rows[4][1]:.0f}° and {f.rows[4][2]:.2f} s. Ahead of the "
            "axle the sensor sees the turn itself, not only where it led. Farther out it comes back no sooner."
        ),
    ),
    Experiment(
        "A target off the middle",
        "Does a target off the midpoint answer as quickly on both sides?",
        target_off_middle,
        lambda f: (
            f"At target {f.rows[0][0]:g} the way back from the light side takes {f.rows[0][3]:.2f} times as long as from the "
            f"dark side, at {f.rows[-1][0]:g} {f.rows[-1][3]:.2f} times, at the midpoint {f.rows[2][3]:.2f} times."
        ),
    ),
    Experiment(
        "The inner and the outer edge",
        "Can the same settings hold one edge of a bend and lose the other?",
        inner_edge,
        lambda f: (
            "Yes: gains of "
            + " and ".join(f"{r[0]:g}" for r in f.rows if r[1] != "finished" and r[2] == "finished")
            + " lose the inner edge, whose bend is 20 mm tighter, and hold the outer one."
        ),
    ),
    Experiment(
        "Holding a decision",
        "What does a program do that finishes a timed move before it reads again?",
        hold,
        lambda f: (
            f"Its swing grows from {f.rows[0][2]:.0f} mm at {f.rows[0][0]:g} ms to {_rows(f, 1, 'finished')[-1][2]:.0f} mm at "
            f"{_rows(f, 1, 'finished')[-1][0]:g} ms; at {_rows(f, 1, 'lost')[0][0]:g} ms it has crossed the whole tape "
            "before it looks, and is lost."
        ),
    ),
    Experiment(
        "Power and grip",
        "Is more power always sooner there?",
        power_and_grip,
        lambda f: (
            f"On little grip (0.1) power 100 takes {f.rows[3][2]:.2f} s against {f.rows[2][2]:.2f} s at 80, skids "
            f"{f.rows[3][3]:.0f} mm and coasts {f.rows[3][4]:.0f} mm; on good grip (0.7) it coasts {f.rows[7][4]:.0f} mm. "
            "On a straight more power is still a little sooner: the cost is the skid and the coast."
        ),
    ),
    Experiment(
        "Shadow, room light, shield",
        "How far does a shadow pull the robot, how far does the best target move, and what does a shield do?",
        shadow_and_shield,
        lambda f: (
            f"Without a shield the shadow pulls it {f.rows[0][1]:.1f} mm off and the best target moves by {-f.rows[0][2]:.0f} of 100 "
            f"when the room light goes; a shield of {f.rows[-1][0]:.0f} % leaves {f.rows[-1][1]:.1f} mm and "
            f"{-f.rows[-1][2]:.1f}. With a lamp of its own this sensor feels the room little: the effect is small."
        ),
    ),
    Experiment(
        "Contrast",
        "How little contrast between line and mat can be followed?",
        contrast,
        lambda f: (
            f"With the target midway and the same gain, a span of {min(r[1] for r in f.rows if r[2] == 'finished'):.0f} of 100 is "
            f"followed and one of {max(r[1] for r in f.rows if r[2] != 'finished'):.0f} is not: less contrast is less gain. "
            f"With the gain raised by as much as the span has shrunk, {min(r[1] for r in f.rows if r[4] == 'finished'):.0f} "
            "still is, until noise and rounding are as large as what is left."
        ),
    ),
    Experiment(
        "At a fork",
        "Which way does the robot take where the line forks?",
        fork,
        lambda f: (
            "The edge it follows decides, whatever the law: on the left edge "
            f"{sum(r[2] == 'finished' for r in f.rows if r[0] == 'left')} of 3 reach the left goal and "
            f"{sum(r[3] == 'finished' for r in f.rows if r[0] == 'left')} the right one; on the right edge "
            f"{sum(r[2] == 'finished' for r in f.rows if r[0] == 'right')} and "
            f"{sum(r[3] == 'finished' for r in f.rows if r[0] == 'right')}."
        ),
    ),
    Experiment(
        "Stopped at a random moment",
        "At what angle to the line does the robot come to rest?",
        stopped_at_random,
        lambda f: (
            "; ".join(f"{r[0]}: spread {r[1]:.1f}°, at most {r[2]:.0f}°" for r in f.rows)
            + ". (On a straight, sixty moments.)"
        ),
    ),
    Experiment(
        "An uneven line",
        "What does a felt-pen line with wandering edges do to the same settings?",
        uneven_line,
        lambda f: (
            f"Edges that wander by {f.rows[-1][0]:g} mm RMS raise the swing from {f.rows[0][2]:.1f} to {f.rows[-1][2]:.1f} mm and the "
            f"steering effort {f.rows[-1][3] / f.rows[0][3]:.1f}-fold; {f.rows[-1][1]} of 5 such lines are still finished."
        ),
    ),
)


def _finishing(found: Outcome, speed: float) -> list[float]:
    return [row[1] for row in found.rows if row[0] == speed and row[2] == "finished"]


def _calm(found: Outcome, speed: float) -> list[float]:
    return [row[1] for row in found.rows if row[0] == speed and row[2] == "finished" and row[3] < 10.0]
