"""The robot near its edge as a linear loop: small swings on a straight, no limits reached.

With d the sensor's distance from the edge, the reading's slope there makes the steer a multiple of d, the steer a
yaw rate, and the yaw rate, by way of the sensor ahead of the axle, a change of d.
"""

from cmath import phase
from dataclasses import dataclass
from math import atan, pi, sqrt

from irontrail.core.errors import IronTrailError
from irontrail.core.light.straight_edge import StraightEdge
from irontrail.core.setup import Setup
from irontrail.core.steering.side import edge_sign, steer_sign
from irontrail.core.theory.pair import pair_point


@dataclass(frozen=True)
class Eye:
    """A sensor as small swings know it: what it adds to the error per mm, how far ahead it is, and its lag."""

    slope: float
    ahead: float
    lag: float


@dataclass(frozen=True)
class LinearLoop:
    """The numbers that the small swings of a run depend on.

    `slope` is that of the reading across the edge, per mm, where the sensor is kept; `loop_time` the decision period;
    `lag` the time constant with which the sensor follows its light. Of two sensors these are the first one's, each
    slope with its weight and sign, and `second` is the other.
    """

    slope: float
    top_speed: float
    track_width: float
    ahead: float
    speed: float
    response_time: float
    delay: float
    loop_time: float
    kp: float
    ki: float = 0.0
    kd: float = 0.0
    filter_time: float = 0.0
    lag: float = 0.0
    second: Eye | None = None

    @property
    def eyes(self) -> tuple[Eye, ...]:
        """Its sensors."""
        first = Eye(self.slope, self.ahead, self.lag)
        return (first,) if self.second is None else (first, self.second)

    @property
    def whole_slope(self) -> float:
        """What the error changes by, per mm that all sensors move."""
        return sum(eye.slope for eye in self.eyes)

    @property
    def lever(self) -> float:
        """How far ahead one sensor would be that does the same: the mean by slopes."""
        return self.ahead if self.second is None else self._mean([eye.ahead for eye in self.eyes])

    @property
    def mean_lag(self) -> float:
        """The lag of that one, for slow swings."""
        return self.lag if self.second is None else self._mean([eye.lag for eye in self.eyes])

    def _mean(self, values: list[float]) -> float:
        return sum(eye.slope * value for eye, value in zip(self.eyes, values, strict=True)) / self.whole_slope

    @property
    def stiffness(self) -> float:
        """k of yaw rate = -k d, in rad/s per mm."""
        return 2.0 * self.kp * self.whole_slope * self.top_speed / (100.0 * self.track_width)

    @property
    def natural_frequency(self) -> float:
        """sqrt(k v), in rad/s: without lag and delay s^2 + k L s + k v = 0."""
        return sqrt(self.stiffness * self.speed)

    @property
    def damping_ratio(self) -> float:
        """(L / 2) sqrt(k / v); infinite at a standstill."""
        return 0.5 * self.lever * sqrt(self.stiffness / self.speed) if self.speed > 0.0 else float("inf")


def linear_loop(setup: Setup) -> LinearLoop:
    """The linear loop of a setup that steers by a slope with both wheels, about where it keeps its sensor.

    On a straight of its own tape, with its borders, without shadows: small swings about the place where the reading is
    the target, wherever that is.

    Raises
    ------
    IronTrailError
        If its law has no one slope at the target, another mixing halves it to one side, it stands, turns away from its
        edge, or has nothing to steer by; see `StraightEdge.operating_point`.
    """
    program, drive = setup.program, setup.robot.drive
    gains = program.chosen.gains(program)
    if gains is None:
        raise IronTrailError(f"{program.chosen.name}, as it is set, is not one slope about its target", "program.law")
    if program.mixing != "both wheels":
        raise IronTrailError(f"it steers with {program.mixing}: theory is of both wheels", "program.mixing")
    if program.speed < drive.dead_band:
        raise IronTrailError("its speed lies inside the dead band: it stands", "program.speed")
    sign, second = steer_sign(setup.effective_program), None
    # Off the line it must turn toward it: to the right on the left edge.
    if setup.second is not None and program.arrangement != "one":
        slopes = [sign * slope for slope in pair_point(setup).slopes]
        slope, second = slopes[0], Eye(slopes[1], setup.second.mount.ahead_mm, setup.second.sensor.lag_s)
    else:
        point = StraightEdge(setup.mat, setup.light, setup.robot.mount.height_mm).operating_point(program.target)
        slope = sign * edge_sign(program.edge) * point.slope
    if slope + (second.slope if second is not None else 0.0) < 0.0:
        raise IronTrailError("it turns away from its edge", "program.line")
    top = drive.top_speed_mm_s * drive.battery
    return LinearLoop(
        slope=slope,
        top_speed=top,
        track_width=drive.track_width_mm,
        ahead=setup.robot.mount.ahead_mm,
        speed=top * program.speed / 100.0,
        response_time=drive.response_time_s,
        delay=program.delay_s,
        loop_time=program.decision_time_s,
        lag=setup.light.sensor.lag_s,
        kp=gains.kp,
        ki=gains.ki,
        kd=gains.kd,
        filter_time=gains.filter_s,
        second=second,
    )


@dataclass(frozen=True)
class UltimateGain:
    """The gain (% per unit) and frequency (Hz) at which steady rocking starts.

    `clipped` says, of one found by driving, that a wheel was at its limit while it rocked: it may be too high by that.
    """

    gain: float
    hertz: float
    clipped: bool = False

    @property
    def period_s(self) -> float:
        return 1.0 / self.hertz


def ultimate_gain_by_formula(loop: LinearLoop) -> UltimateGain | None:
    """Where a proportional loop starts to rock, with the sampled hold taken as a dead time of half a loop.

    s^2 (tau s + 1) (lag s + 1) + (k L s + k v) exp(-s D) = 0 with D = loop_time / 2 + delay has its first roots on the
    imaginary axis, s = i w, where atan(L w / v) = w D + atan(tau w) + atan(lag w), which does not depend on k; k then
    follows from the magnitudes. None if the loop rocks at any gain, however small. Of two sensors the sum of both takes
    the place of (L s + v) / (lag s + 1).
    """
    from scipy.optimize import brentq

    dead, tau, v = 0.5 * loop.loop_time + loop.delay, loop.response_time, loop.speed
    if v <= 0.0 or loop.lever / v <= dead + tau + loop.mean_lag:
        return None

    def seen(w: float) -> complex:
        """What the sensors make of a turn, per mm that both would be off."""
        shares = ((eye.slope / loop.whole_slope) * complex(v, eye.ahead * w) / complex(1.0, eye.lag * w)
                  for eye in loop.eyes)  # fmt: skip
        return sum(shares, 0j)

    def lead(w: float) -> float:
        return phase(seen(w)) - w * dead - atan(tau * w)

    # The lead is positive for slow swings and falls below zero for fast ones.
    high = 1.0
    while lead(high) > 0.0 and high < 1e7:
        high *= 2.0
    if lead(high) > 0.0:
        return None
    w = float(brentq(lead, 1e-6, high))
    stiffness = w * w * sqrt(1.0 + (tau * w) ** 2) / abs(seen(w))
    gain = stiffness * 100.0 * loop.track_width / (2.0 * loop.whole_slope * loop.top_speed)
    return UltimateGain(gain, w / (2.0 * pi))
