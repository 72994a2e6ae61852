"""The gain at which rocking starts: from theory, and from the engine by raising it; and starting values from it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures
from irontrail.core.light.sensor import Sensor
from irontrail.core.light.straight_edge import StraightEdge
from irontrail.core.mat.tape import Mat, Straight
from irontrail.core.measures import dominant_hz, rms, wobbling
from irontrail.core.result import Trace
from irontrail.core.setup import Setup, Trial
from irontrail.core.steering.laws.pid import PID
from irontrail.core.steering.laws.proportional import PROPORTIONAL
from irontrail.core.steering.program import Program, StopRules
from irontrail.core.steering.registry import LAWS
from irontrail.core.theory.linear import UltimateGain, linear_loop
from irontrail.core.theory.pair import pair_point
from irontrail.core.theory.sampled import calm_gain, ultimate_gain

# The engine's robot rocks on a straight of this length, set down turned by so much. Along the rows of pixels a small
# swing would stay between two of them, where the edge is as steep all the way; aslant it meets all of them in turn.
STRAIGHT_MM, TURNED_DEG, SLANT_DEG = 3600.0, 1.0, 5.0
# The gain is halved in on till it is known to this share.
SURE_SHARE = 0.004
# A swing above the first of these has grown, below the second it has died: what is left is the rounding of the powers.
LARGE_MM, STILL_MM = 1.0, 0.03
# Of fewer swings than so many it is not told whether they die.
LEAST_SWINGS = 12.0
MOST_GAIN = 20.0


@dataclass(frozen=True)
class Rule:
    """A published rule: gains from the rocking gain and period, as factors; 0 leaves a term out.

    kp = p * Ku; ki = kp / (i * Tu) where i is not 0; kd = kp * d * Tu.
    """

    name: str
    source: str
    p: float
    i: float
    d: float

    def gains(self, gain: float, period_s: float) -> tuple[float, float, float]:
        """kp, ki and kd."""
        kp = self.p * gain
        return kp, kp / (self.i * period_s) if self.i else 0.0, kp * self.d * period_s


RULES = (
    Rule(
        "half the rocking gain", "J. G. Ziegler and N. B. Nichols, Trans. ASME 64 (1942): proportional", 0.5, 0.0, 0.0
    ),
    Rule("Ziegler and Nichols", "J. G. Ziegler and N. B. Nichols, Trans. ASME 64 (1942): three terms", 0.6, 0.5, 0.125),
    Rule("Tyreus and Luyben", "B. D. Tyreus and W. L. Luyben, Ind. Eng. Chem. Res. 31 (1992)", 1 / 2.2, 2.2, 1 / 6.3),
)


def from_theory(setup: Setup) -> UltimateGain | None:
    """By the eigenvalues of the sampled loop, with the proportional term alone; None where there is no such gain.

    Raises
    ------
    IronTrailError
        Where theory knows nothing; see `linear_loop`.
    """
    return ultimate_gain(replace(linear_loop(_proportional(setup, 1.0)), kp=1.0))


def never_calm(setup: Setup) -> bool:
    """Whether theory has it rock at any gain, however small; raises as `from_theory` does."""
    return calm_gain(linear_loop(_proportional(setup, 1.0))) is None


def from_engine(setup: Setup, proceed: Callable[[int], bool] = lambda _done: True) -> UltimateGain | None:
    """By raising the gain on a long straight of the mat's own tape till a small swing no longer dies.

    None if it always dies, or if it was called off.

    Raises
    ------
    IronTrailError
        If the sensor has no place to be kept at: its target is not read across the edge, or it gives names; or if it
        swings so slowly that the straight is too short to tell.
    """
    base = _on_a_straight(setup)
    low, high, runs, rocks, too_few = 0.0, 0.05, 0, False, False
    while high - low > SURE_SHARE * high if rocks else high <= MOST_GAIN:
        gain = 0.5 * (low + high) if rocks else high
        grows = _grows(base, gain)
        if grows:
            rocks, high = True, gain
        else:
            # Of the last gain at which it does not rock it may be that this cannot be told.
            low, high, too_few = gain, high if rocks else 1.4 * gain, grows is None
        runs += 1
        if not proceed(runs):
            return None
    if too_few:
        raise IronTrailError(
            f"too few swings on {STRAIGHT_MM / 1000:g} m of line to tell whether they die", "program.speed"
        )
    if not rocks:
        return None
    gain = 0.5 * (low + high)
    swung = _swing(base, 1.01 * gain)
    loop = base.program.loop_time_s
    hertz = dominant_hz(wobbling(swung.edge_mm, loop), loop)
    return UltimateGain(gain, hertz, bool(swung.clipped.any())) if hertz > 0.0 else None


def without_gains(setup: Setup) -> Setup:
    """A setup in which only what the ultimate gain depends on differs from setup to setup."""
    made, first = _proportional(setup, 1.0), Program()
    others = {law.field: getattr(first, law.field) for law in LAWS.values() if law is not made.program.chosen}
    return replace(made, program=replace(made.program, stop=first.stop, trip=None, **others), trial=Trial())


def by_rules(setup: Setup, start: UltimateGain) -> tuple[Figures | str, ...]:
    """What each rule's starting values come to on the setup's mat; a sentence where they cannot be set."""
    found: list[Figures | str] = []
    for rule in RULES:
        try:
            found.append(derive.figures(with_rule(setup, rule, start)))
        except IronTrailError as error:
            found.append(str(error))
    return tuple(found)


def _proportional(setup: Setup, gain: float) -> Setup:
    """A setup that steers in proportion; a gain of its own on the dark side stays so many times the other."""
    program = setup.program
    law = replace(program.proportional, gain=gain, dark_ratio=program.chosen.dark_ratio(program))
    return replace(setup, program=replace(program, law=PROPORTIONAL.name, proportional=law, ease_off=0.0))


def _on_a_straight(setup: Setup) -> Setup:
    """A setup on a straight of its own tape, without noise or rounding, set down at its operating point, turned."""
    off_mm = _off_mm(setup)
    line = replace(
        setup.mat.followed, x_mm=200.0, y_mm=240.0, heading_deg=SLANT_DEG, pieces=(Straight(STRAIGHT_MM),),
        closed=False, unevenness_mm=0.0,
    )  # fmt: skip
    mat = Mat("straight", line, 4000.0, 800.0, setup.mat.colour)
    light = replace(setup.light, sensor=_exact(setup.light.sensor), areas=())
    second = setup.second
    if second is not None:
        second = replace(second, sensor=_exact(second.sensor))
    robot = replace(setup.robot, drive=replace(setup.robot.drive, power_step=0.01, dead_band=0.0, mismatch_percent=0.0))
    program = replace(setup.program, stop=StopRules(), trip=None)
    # A sensor that trails stands on the tape too.
    trial = Trial(
        start_mm=20.0 + setup.trailing_mm, start_off_mm=min(max(off_mm, -50.0), 50.0), start_angle_deg=-TURNED_DEG,
        time_limit_s=60.0,
    )  # fmt: skip
    return replace(setup, mat=mat, light=light, robot=robot, program=program, trial=trial, second=second)


def _exact(sensor: Sensor) -> Sensor:
    """The same sensor without noise or rounding."""
    return replace(sensor, scale="percent", noise=0.0, reading_step=0.0)


def _off_mm(setup: Setup) -> float:
    """How far off what it follows a setup is set down, so that its error is none for a moment, though it is turned.

    Set down aside, a robot turns on the spot before it has got under way, the more the nearer together its sensors'
    mean is to the axle: far beyond small swings.
    """
    second, reference = setup.second, setup.reference
    if second is None or setup.program.arrangement == "one":
        edge = StraightEdge(setup.mat, setup.light, setup.robot.mount.height_mm)
        return edge.operating_point(setup.program.target).edge_mm
    point, ahead = pair_point(setup), (setup.robot.mount.ahead_mm, second.mount.ahead_mm)
    lever = sum(slope * each for slope, each in zip(point.slopes, ahead, strict=True)) / sum(point.slopes)
    return point.off_mm + setup.side * float(np.radians(TURNED_DEG)) * (lever - reference.ahead_mm)


def _swing(base: Setup, gain: float) -> Trace:
    """The run on a straight after a small push, at a gain."""
    return derive.run_once(_proportional(base, gain)).trace


def _grows(base: Setup, gain: float) -> bool | None:
    """Whether a small swing does not die: it is larger late in the run than early, or large.

    A swing that has grown until the readings or the powers are at their ends grows no more. None where it is so slow
    that there are too few of it to tell.
    """
    trace = _swing(base, gain)
    if len(trace) < 80:
        return True
    wobble = wobbling(trace.edge_mm, base.program.loop_time_s)
    third = wobble.size // 4
    early, late = (rms(part) for part in (wobble[third : 2 * third], wobble[-2 * third : -third]))
    grows = late > LARGE_MM or (late > early and late > STILL_MM)
    return None if grows and _swings(wobble) < LEAST_SWINGS else grows


def _swings(wobble: NDArray[np.float64]) -> float:
    """How many times it goes to and fro; what is small beside the rest of it is passed over."""
    large = wobble[np.abs(wobble) > 0.3 * rms(wobble)] > 0.0
    return 0.5 * np.count_nonzero(large[1:] != large[:-1])


def with_rule(setup: Setup, rule: Rule, start: UltimateGain) -> Setup:
    """A setup that steers with a rule's starting values; one without integral and derivative steers in proportion.

    Raises
    ------
    IronTrailError
        If the rule's gains are beyond what a program can have.
    """
    kp, ki, kd = rule.gains(start.gain, start.period_s)
    program = setup.program
    if ki == 0.0 and kd == 0.0:
        law = replace(program.proportional, gain=round(kp, 3), dark_ratio=program.chosen.dark_ratio(program))
        return replace(setup, program=replace(program, law=PROPORTIONAL.name, proportional=law))
    try:
        pid = replace(program.pid, kp=round(kp, 3), ki=round(ki, 3), kd=round(kd, 4))
    except IronTrailError as error:
        raise IronTrailError(f"{rule.name} asks for gains that cannot be set ({error.what})", "rule") from error
    return replace(setup, program=replace(program, law=PID.name, pid=pid))
