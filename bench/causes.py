"""Is the cause named: setups with one known fault each, what is said of them first, and whether the remedy holds.

    .venv/bin/python -m bench.causes [--aside] [--show] [--every N]
    .venv/bin/python -m bench.causes --window

Each case is a good setup (at least 18 of 20 shaken starts finish) with one fault, put on harder and harder until at
least four of ten starts fail. A third of the cases, told by their number, is kept aside: it is reported with --aside
alone, and nothing is to be tuned to it. With --window it is the window that is timed: how long after a change the first
sentence and the whole are shown, and how long the event loop was ever kept from a turn meanwhile.
"""

import argparse
import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from math import cos, degrees, radians, sin

from irontrail.core import derive
from irontrail.core.causes.cause import ROCKS_MM, diagnose, starts_of
from irontrail.core.causes.look import Look
from irontrail.core.causes.suppositions.calibration import calibrated_here
from irontrail.core.causes.suppositions.names import NAMES
from irontrail.core.causes.told import at_once, told
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.tape import Bend, Gap, Mat, Straight, Stroke, Wiggle, Zone
from irontrail.core.quantity import put, value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.legs import (
    AfterDistance,
    AfterTime,
    AtFinish,
    FollowLeg,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
)  # fmt: skip
from irontrail.core.tune.tries import Trying

LAWS = ("proportional", "PID", "on-off", "bands")
# Of so many cases one is kept aside.
ASIDE = 3


# --- good setups


def _line(name: str, *pieces: object, x: float = 200.0, y: float = 500.0, closed: bool = False, **line: object) -> Mat:
    return Mat(name, Stroke(x, y, 0.0, tuple(pieces), closed=closed, **line))  # type: ignore[arg-type]


def mats() -> dict[str, Mat]:
    """Mats of many shapes, tapes and colours."""
    made = {name: DEMO_MATS[name]() for name in ("lighthouse", "orchard", "ferry", "tannery")}
    oval = (Straight(700.0), Bend(250.0, 180.0), Straight(700.0), Bend(250.0, 180.0))
    made["oval"] = _line("oval", *oval, x=600.0, y=200.0, closed=True)
    small = (Straight(300.0), Bend(120.0, 180.0), Straight(300.0), Bend(120.0, 180.0))
    made["small oval"] = _line("small oval", *small, x=700.0, y=350.0, closed=True)
    made["esses"] = _line(
        "esses", Straight(200.0), Bend(160.0, 70.0), Bend(160.0, -140.0), Bend(160.0, 70.0), Straight(500.0)
    )
    made["hairpin"] = _line("hairpin", Straight(900.0), Bend(90.0, 180.0), Straight(900.0), y=300.0)
    made["wave"] = _line("wave", Straight(150.0), Wiggle(3, 130.0, 45.0), Straight(200.0), y=400.0)
    made["wide tape"] = _line(
        "wide tape",
        Straight(300.0),
        Bend(180.0, 90.0),
        Straight(200.0),
        Bend(180.0, -90.0),
        Straight(300.0),
        y=250.0,
        width_mm=36.0,
    )
    made["thin tape"] = _line(
        "thin tape", Straight(400.0), Bend(220.0, -60.0), Bend(220.0, 60.0), Straight(500.0), y=700.0, width_mm=14.0
    )
    light = _line(
        "light line", Straight(300.0), Bend(200.0, 90.0), Bend(200.0, -90.0), Straight(300.0), y=250.0, colour="#f2f2f2"
    )
    made["light line"] = replace(light, colour="#4a4f55")
    grey = _line(
        "grey line", Straight(300.0), Bend(200.0, -90.0), Bend(200.0, 90.0), Straight(400.0), y=750.0, colour="#6a6a6a"
    )
    made["grey line"] = grey
    return made


def good_setups(of: Sequence[str] = ()) -> Iterator[tuple[str, Setup]]:
    """Setups that hold, a law and a mat each: the first pair of speed and steer that does, from brisk to gentle.

    Of all mats, or of some by name.
    """
    for name, mat in mats().items():
        if of and name not in of:
            continue
        plain = Setup(mat)
        if name == "light line":
            plain = with_value(plain, "program.line", "light")
        if name in ("lighthouse", "wide tape", "thin tape"):
            plain = with_value(plain, "robot.drive.top_speed_mm_s", 420.0)
        plain = calibrated_here(plain)
        raw = Look(plain).raw
        if raw is not None and name == "light line":
            plain = calibrated_here(plain)
        for law in LAWS:
            base = with_value(plain, "program.law", law)
            made = _first_that_holds(base)
            if made is not None:
                yield f"{name}, {law}", made


def two_sensors_and_trips() -> Iterator[tuple[str, Setup]]:
    """Setups with two sensors, and trips of several legs, that hold."""
    walk = demo_project("ropewalk").setup
    for arrangement in ("difference", "table", "each its side"):
        yield f"ropewalk, {arrangement}", with_value(walk, "program.arrangement", arrangement)
    for name in ("oval", "esses", "wave", "hairpin"):
        yield f"{name}, two sensors", calibrated_here(replace(walk, mat=mats()[name]))
    yield "lantern, trip", demo_project("lantern").setup
    for name in ("orchard", "wide tape"):
        made = calibrated_here(with_value(Setup(mats()[name]), "program.speed", 35.0))
        legs = (StraightLeg((AfterDistance(60.0),), power=25.0), FollowLeg((AtFinish(),)))
        if name == "wide tape":
            legs = (WaitLeg((AfterTime(0.5),)), FollowLeg((AfterDistance(700.0),)), TurnLeg(90.0, 20.0))
        yield f"{name}, trip", with_value(made, "program.trip", Trip(legs))


def _first_that_holds(base: Setup) -> Setup | None:
    look = Look(base)
    tried = []
    for speed in (50.0, 42.0, 35.0, 28.0, 22.0):
        for steer in (1.0, 0.75, 1.35):
            setup = look.speed.put(base, speed if look.setup.program.chosen.gives == "steer" else 0.7 * speed)
            tried.append(look.steer.put(setup, round(steer * look.steer.of(setup) * (1.0 if speed > 30.0 else 0.9), 2)))
    for setup, over in zip(tried, Trying()(tried), strict=True):
        if over.good >= 18 and (not setup.program.chosen.gain or over.swing_mm < 0.6 * ROCKS_MM):
            return setup
    return None


# --- faults


@dataclass(frozen=True)
class Fault:
    """One thing made wrong, harder and harder; and what may be said of it: right, and partly right."""

    name: str
    worse: Callable[[Setup], Iterator[Setup]]
    right: tuple[str, ...]
    partly: tuple[str, ...] = ()


def _ladder(path: str, *values: float, times: bool = False) -> Callable[[Setup], Iterator[Setup]]:
    def worse(setup: Setup) -> Iterator[Setup]:
        for value in values:
            yield put(setup, path, float(value_at(setup, path)) * value if times else value)

    return worse


def _of_law(which: str, *shares: float) -> Callable[[Setup], Iterator[Setup]]:
    def worse(setup: Setup) -> Iterator[Setup]:
        axis = getattr(Look(setup), which)
        for share in shares:
            yield axis.put(setup, axis.of(setup) * share)

    return worse


def _only(laws: tuple[str, ...], inner: Callable[[Setup], Iterator[Setup]]) -> Callable[[Setup], Iterator[Setup]]:
    return lambda setup: inner(setup) if setup.program.law in laws else iter(())


def _shadow(factor: float) -> Callable[[Setup], Iterator[Setup]]:
    """A shadow or a glare half way, on a sensor without a skirt in a bright room."""

    def worse(setup: Setup) -> Iterator[Setup]:
        route = derive.route(setup.mat, False)
        x, y, _ = route.at(0.55 * route.length_mm)
        for shield, light, height in ((0.2, 0.8, 10.0), (0.0, 1.0, 12.0), (0.0, 1.0, 16.0)):
            open_ = with_value(with_value(setup, "light.sensor.shield", shield), "light.room_light", light)
            open_ = calibrated_here(with_value(open_, "robot.mount.height_mm", height))
            if starts_of([open_], lambda _done: True)[0].share < 0.9:
                return
            area = LightArea(x, y, 120.0, 120.0, factor)
            yield with_value(open_, "light.areas", (area,))

    return worse


def _gap(setup: Setup) -> Iterator[Setup]:
    pieces = list(setup.mat.line.pieces)
    straights = [i for i, each in enumerate(pieces) if isinstance(each, Straight) and each.length_mm > 190.0]
    if not straights or setup.mat.other_lines:
        return
    i = straights[-1]
    for length in (30.0, 50.0, 80.0, 120.0):
        half = 0.5 * (pieces[i].length_mm - length)
        cut = [*pieces[:i], Straight(half), Gap(length), Straight(half), *pieces[i + 1 :]]
        yield with_value(setup, "mat.line.pieces", tuple(cut))


def _crossing(setup: Setup) -> Iterator[Setup]:
    if setup.mat.other_lines:
        return
    route = derive.route(setup.mat, False)
    for share in (0.5, 0.3, 0.7):
        x, y, heading = route.at(share * route.length_mm)
        for angle in (50.0, 35.0, 25.0):
            turned = heading + radians(angle)
            start = x - 160.0 * cos(turned), y - 160.0 * sin(turned)
            if min(start) < 30.0:
                continue
            other = Stroke(
                *start,
                degrees(turned),
                (Straight(320.0),),
                colour=setup.mat.line.colour,
                width_mm=setup.mat.line.width_mm,
            )
            yield with_value(setup, "mat.other_lines", (other,))


def _swap_powers(setup: Setup) -> Iterator[Setup]:
    if setup.program.law != "on-off":
        return
    law = setup.program.on_off
    yield with_value(
        setup,
        "program.on_off",
        replace(
            law,
            dark_outer=law.dark_inner,
            dark_inner=law.dark_outer,
            light_outer=law.light_inner,
            light_inner=law.light_outer,
        ),
    )
    yield with_value(setup, "program.on_off", replace(law, light_outer=law.light_inner, light_inner=law.light_outer))


def _wrong_line(setup: Setup) -> Iterator[Setup]:
    yield with_value(setup, "program.line", "light" if setup.program.line == "dark" else "dark")


def _other_room(setup: Setup) -> Iterator[Setup]:
    """Calibrated in another room, or on something else."""
    had = setup.light.calibration
    span = had.bright - had.dark
    for share in (0.25, -0.25, 0.4, -0.4, 0.6, -0.6):
        low, high = had.dark + share * span, had.bright + share * span
        if min(low, high) >= 0.0 and max(low, high) <= 100.0:
            yield with_value(setup, "light.calibration", replace(had, dark=low, bright=high))


def _lamp(setup: Setup) -> Iterator[Setup]:
    if setup.mat.other_lines or setup.program.line == "light":
        return
    for line, lamp in (("#c02020", "red"), ("#2030c0", "blue")):
        yield calibrated_here(with_value(with_value(setup, "mat.line.colour", line), "light.sensor.lamp", lamp))


def _pale(setup: Setup) -> Iterator[Setup]:
    if setup.program.line == "light":
        return
    for line in ("#c8c6c0", "#d8d6d0", "#e2e0da"):
        yield calibrated_here(with_value(setup, "mat.line.colour", line))


def _high(setup: Setup) -> Iterator[Setup]:
    for height in (16.0, 22.0, 30.0):
        yield calibrated_here(with_value(setup, "robot.mount.height_mm", height))


def _crooked(setup: Setup) -> Iterator[Setup]:
    for angle in (40.0, -40.0, 70.0, -70.0, 100.0, -100.0):
        yield put(setup, "trial.start_angle_deg", angle)


def _off_edge(setup: Setup) -> Iterator[Setup]:
    for off in (30.0, -30.0, 45.0, -45.0):
        yield put(setup, "trial.start_off_mm", off)


def _one_wheel(setup: Setup) -> Iterator[Setup]:
    for each in ("inner wheel only", "left wheel only", "right wheel only"):
        yield with_value(setup, "program.mixing", each)


def _mixed_up(setup: Setup) -> Iterator[Setup]:
    """Two or more bands with each other's powers."""
    if setup.program.law != "bands":
        return
    steps = setup.program.bands.steps
    for order in ((1, 0, 2, 3, 4), (0, 1, 2, 4, 3), (1, 0, 2, 4, 3), (2, 1, 0, 3, 4)):
        made = tuple(replace(steps[j], below=steps[i].below) for i, j in enumerate(order))
        yield with_value(setup, "program.bands", replace(setup.program.bands, steps=made))


def _unfiltered(setup: Setup) -> Iterator[Setup]:
    if setup.program.law != "PID":
        return
    for kd, step in ((0.06, 2.0), (0.1, 3.0), (0.14, 3.0)):
        made = with_value(with_value(setup, "program.pid.kd", kd), "light.sensor.reading_step", step)
        if starts_of([made], lambda _done: True)[0].share >= 0.9:
            yield with_value(made, "program.pid.filter_s", 0.0)


def _finish_aside(setup: Setup) -> Iterator[Setup]:
    if setup.mat.line.closed or setup.mat.other_lines:
        return
    route = derive.route(setup.mat, False)
    x, y, heading = route.at(route.length_mm - 60.0)
    for off in (220.0, -220.0):
        place = x - off * sin(heading), y + off * cos(heading)
        if min(place) > 60.0:
            yield with_value(setup, "mat.finish", Zone(*place, 80.0, 80.0))


def _confused_names(setup: Setup) -> Iterator[Setup]:
    """A sensor that names colours, and takes brown between line and mat for the mat."""
    if setup.program.line == "light":
        return
    named = with_value(setup, "light.sensor.scale", "colour names")
    named = next(iter(NAMES.undone(Look(named))))
    if starts_of([named], lambda _done: True)[0].share < 0.9:
        return
    for name, reads in (("brown", 100.0), ("black", 100.0), ("grey", 0.0)):
        made = tuple(
            replace(each, reads_as=reads) if each.name == name else each for each in named.light.sensor.palette
        )
        yield with_value(named, "light.sensor.palette", made)


LATE = ("slow loop", "held decisions", "late answer", "slow sensor", "slow motors")
SLOPED = ("proportional", "PID")
FAULTS = (
    Fault("wrong line", _wrong_line, ("line colour",)),
    Fault("powers changed over", _swap_powers, ("wheels changed over", "line colour")),
    Fault("target high", _ladder("program.target", 75.0, 85.0, 92.0, 97.0), ("target",)),
    Fault("target low", _ladder("program.target", 25.0, 15.0, 8.0, 3.0), ("target",)),
    Fault("too fast", _of_law("speed", 1.3, 1.6, 1.9, 2.3), ("too fast",), ("gain too low", "gain too high")),
    Fault("gain low", _of_law("steer", 0.6, 0.45, 0.3, 0.2, 0.12), ("gain too low",), ("too fast",)),
    Fault(
        "gain high",
        _only(SLOPED, _of_law("steer", 1.8, 2.4, 3.2, 4.5, 7.0)),
        ("gain too high",),
        ("too fast", "late answer"),
    ),
    Fault("slow loop", _ladder("program.loop_time_s", 0.04, 0.06, 0.09, 0.13, 0.2), ("slow loop",), LATE),
    Fault("late", _ladder("program.delay_s", 0.06, 0.09, 0.13, 0.2, 0.3), ("late answer",), LATE),
    Fault("held", _ladder("program.decision_loops", 5, 8, 12, 18, 30), ("held decisions",), LATE),
    Fault("slow sensor", _ladder("light.sensor.lag_s", 0.05, 0.08, 0.12, 0.2, 0.3), ("slow sensor",), LATE),
    Fault("slow motors", _ladder("robot.drive.response_time_s", 0.15, 0.22, 0.3, 0.45, 0.6), ("slow motors",), LATE),
    Fault("sensor near", _ladder("robot.mount.ahead_mm", 35.0, 25.0, 15.0, 8.0), ("sensor's place",)),
    Fault(
        "sensor far",
        _ladder("robot.mount.ahead_mm", 150.0, 200.0, 260.0),
        ("sensor's place",),
        ("gain too low", "too fast"),
    ),
    Fault("sensor high", _high, ("sensor's height",), ("contrast",)),
    Fault("shadow", _shadow(0.1), ("shadow or glare",)),
    Fault("glare", _shadow(3.0), ("shadow or glare",)),
    Fault("other room", _other_room, ("calibration",), ("target",)),
    Fault("lamp", _lamp, ("lamp",), ("contrast",)),
    Fault("pale line", _pale, ("contrast",), ("noise", "coarse readings", "lamp")),
    Fault("noise", _ladder("light.sensor.noise", 6.0, 10.0, 15.0, 19.0), ("noise",), ("contrast",)),
    Fault("coarse readings", _ladder("light.sensor.reading_step", 12.0, 18.0, 25.0), ("coarse readings",)),
    Fault("coarse powers", _ladder("robot.drive.power_step", 10.0, 15.0, 20.0, 25.0), ("coarse powers",)),
    Fault("battery", _ladder("robot.drive.battery", 0.6, 0.45, 0.32), ("battery",), ("time limit",)),
    Fault("unlike wheels", _ladder("robot.drive.mismatch_percent", 12.0, -12.0, 20.0, -20.0), ("unlike wheels",)),
    Fault("grip", _ladder("robot.drive.grip", 0.25, 0.15, 0.1, 0.06), ("grip",), ("too fast",)),
    Fault("dead band", _ladder("robot.drive.dead_band", 12.0, 18.0, 25.0), ("dead band",)),
    Fault("gap", _gap, ("gap",)),
    Fault("crossing", _crossing, ("another line",)),
    Fault("stop rule", _ladder("program.stop.time_s", 2.0), ("stop rule",)),
    Fault("time limit", _ladder("trial.time_limit_s", 3.0, 2.0), ("time limit",)),
    Fault("crooked", _crooked, ("set down",)),
    Fault("off its edge", _off_edge, ("set down",)),
    Fault("derivative", _only(("PID",), _ladder("program.pid.kd", 0.15, 0.3, 0.6, 1.2)), ("derivative",)),
    Fault("integral", _only(("PID",), _ladder("program.pid.ki", 4.0, 8.0, 16.0, 30.0)), ("integral",)),
    Fault("one wheel", _only(SLOPED, _one_wheel), ("mixing",), ("gain too low",)),
    Fault("bands mixed up", _mixed_up, ("order of parts",), ("wheels changed over",)),
    Fault("unfiltered", _unfiltered, ("unfiltered derivative",), ("derivative", "coarse readings")),
    Fault("finish aside", _finish_aside, ("finish off the line",)),
    Fault("ease-off", _only(SLOPED, _ladder("program.ease_off", 0.9, 1.0)), ("ease-off",)),
    Fault("colour names", _only(("on-off", "bands"), _confused_names), ("colour names",)),
)


@dataclass(frozen=True)
class Case:
    """A setup with one fault."""

    number: int
    base: str
    fault: Fault
    setup: Setup

    @property
    def aside(self) -> bool:
        """It is kept aside."""
        return self.number % ASIDE == 0


def cases(every: int = 3, of: Sequence[str] = ()) -> Iterator[Case]:
    """Each fault on each `every`th good setup, from another one on for each fault."""
    number = 0
    for good in (list(good_setups(of)), list(two_sensors_and_trips()) if not of else []):
        for k, fault in enumerate(FAULTS):
            for i, (name, setup) in enumerate(good):
                if (i + k) % every:
                    continue
                made = _bad_enough(setup, fault)
                if made is not None:
                    number += 1
                    yield Case(number, name, fault, made)


def _bad_enough(setup: Setup, fault: Fault) -> Setup | None:
    for worse in fault.worse(setup):
        try:
            shares = [starts_of([worse], lambda _done: True, calm=calm)[0].share for calm in (False, True)]
        except IronTrailError:
            continue
        if min(shares) <= 0.6:
            return worse
    return None


def judged(case: Case, kind: str) -> str:
    """Right, partly, silent or wrong."""
    if not kind:
        return "silent"
    if kind in case.fault.right:
        return "right"
    # Of two things that are named together one may be it.
    known = (*case.fault.right, *case.fault.partly)
    return "partly" if any(part in known for part in kind.split(" and ")) else "wrong"


def in_the_window() -> int:
    """Print how long after a change in the window what is said of it is shown, and the longest stall meanwhile."""
    from bench.map import Stalls, live, opened

    session, window = opened()
    session.looking.go_to("Run")
    window.panel("Run").turn_to("Findings")
    live(lambda: session.advised)
    shown: list[tuple[float, bool]] = []
    session.adviser.changed.connect(
        lambda: shown.append((time.perf_counter(), session.adviser.advice.request.at_once))  # type: ignore[union-attr]
    )
    firsts, wholes, stalls = [], [], Stalls()
    for number in range(12):
        shown.clear()
        begun = time.perf_counter()
        session.edit("speed", with_value(session.setup, "program.speed", 64.0 + 2.0 * number), None)
        live(lambda: bool(shown) and not shown[-1][1])
        firsts.append(1000.0 * (shown[0][0] - begun))
        wholes.append(1000.0 * (shown[-1][0] - begun))
    waits = sorted(stalls.waits)
    for what, took in (("the first sentence", firsts), ("the whole", wholes)):
        print(f"in the window {what} is shown after {sorted(took)[6]:.0f} ms (middle), {max(took):.0f} ms at most")
    print(
        f"meanwhile 99 of 100 turns come within {waits[int(0.99 * len(waits))]:.0f} ms, all within {waits[-1]:.0f} ms"
    )
    session.document.mark_saved(session.project)
    window.close()
    return 0


def main() -> int:
    """Print, for each fault, what was said first, and how the remedies hold."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--aside", action="store_true", help="only the cases kept aside")
    parser.add_argument("--show", action="store_true", help="print every case that is not right")
    parser.add_argument("--every", type=int, default=3, help="each fault on each so many good setups")
    parser.add_argument("--window", action="store_true", help="time the window, and nothing else")
    options = parser.parse_args()
    if options.window:
        return in_the_window()
    table: dict[str, Counter[str]] = defaultdict(Counter)
    held: Counter[str] = Counter()
    took = []
    for case in cases(options.every):
        if case.aside != options.aside:
            continue
        begun = time.perf_counter()
        found = diagnose(case.setup)
        took.append(time.perf_counter() - begun)
        kind = found.cause.kind if found.cause is not None else ""
        verdict = judged(case, kind)
        table[case.fault.name][verdict] += 1
        if options.show and verdict != "right":
            first = [f"{each.supposition.name} {each.repairs:.1f}×{each.unusual:.1f}" for each in found.asked[:4]]
            print(f"  {case.number:4} {case.base:24} {case.fault.name:18} {verdict:7} {kind:18} {first}")
        if found.cause is not None and found.cause.remedy is not None:
            fresh = Trying().one(found.cause.remedy.mend.setup, 21)
            held["holds" if fresh.good >= 16 else "fails"] += 1
        elif found.cause is not None:
            held["none"] += 1
    total: Counter[str] = Counter()
    print(f"\n{'fault':20}{'right':>7}{'partly':>8}{'silent':>8}{'wrong':>7}")
    for name, counts in table.items():
        total += counts
        print(f"{name:20}{counts['right']:7}{counts['partly']:8}{counts['silent']:8}{counts['wrong']:7}")
    count = total.total()
    print(f"{'all':20}{total['right']:7}{total['partly']:8}{total['silent']:8}{total['wrong']:7}   of {count}")
    print(
        "  ".join(
            f"{name} {100 * total[name] / max(count, 1):.0f} %" for name in ("right", "partly", "silent", "wrong")
        )
    )
    print(f"remedies over 20 fresh starts: {dict(held)}")
    print(f"a diagnosis takes {1000 * sorted(took)[len(took) // 2]:.0f} ms (middle), {1000 * max(took):.0f} ms at most")
    good = [*good_setups(), *two_sensors_and_trips()]
    named = [f"{name}: {found.kind}" for name, setup in good if (found := diagnose(setup).cause) is not None]
    print(f"of {len(good)} good setups a cause is named of {len(named)} {named}")
    demo = with_value(demo_project("lighthouse").setup, "program.speed", 68.0)
    told(demo)
    for what, say in (("the first sentence", at_once), ("the whole", told)):
        took = []
        for number in range(9):
            # Another start each time, so that nothing is remembered.
            setup = with_value(demo, "trial.seed", 100 + number)
            begun = time.perf_counter()
            say(setup)
            took.append(1000 * (time.perf_counter() - begun))
        print(f"on the demo, too fast: {what} after {sorted(took)[4]:.0f} ms (middle), {max(took):.0f} ms at most")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
