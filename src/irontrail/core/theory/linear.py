"""The robot near its edge as a linear loop: small swings on a straight, no limits reached.

With d the sensor's distance from the edge, the reading's slope there makes the steer a multiple of d, the steer a
yaw rate, and the yaw rate, by way of the sensor ahead of the axle, a change of d.
"""

from dataclasses import dataclass
from math import atan, pi, sqrt

from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LAMP_WEIGHTS, level_per_field, reading_per_raw, spot_sigma_mm
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.project import Setup
from irontrail.core.steering.pid import Pid


@dataclass(frozen=True)
class LinearLoop:
    """The numbers that the small swings of a run depend on.

    `yaw_per_mm` is the change of the wheels' speed difference (mm/s) for each mm of distance and each unit of gain:
    2 slope top_speed / 100. `slope` is that of the reading across the edge, per mm.
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

    @property
    def stiffness(self) -> float:
        """k of yaw rate = -k d, in rad/s per mm."""
        return 2.0 * self.kp * self.slope * self.top_speed / (100.0 * self.track_width)

    @property
    def natural_frequency(self) -> float:
        """sqrt(k v), in rad/s: without lag and delay s^2 + k L s + k v = 0."""
        return sqrt(self.stiffness * self.speed)

    @property
    def damping_ratio(self) -> float:
        """(L / 2) sqrt(k / v); infinite at a standstill."""
        return 0.5 * self.ahead * sqrt(self.stiffness / self.speed) if self.speed > 0.0 else float("inf")


def reading_slope(setup: Setup) -> float:
    """Slope of the reading at the edge of a wide tape, per mm: span / (sigma sqrt(2 pi)), the middle of the erf."""
    light, height = setup.light, setup.robot.mount.height_mm
    weights = LAMP_WEIGHTS[light.sensor.lamp]
    tape, mat = (float(linear_light(colour) @ weights) for colour in (setup.mat.followed.colour, setup.mat.colour))
    raw = 100.0 * level_per_field(light, height) * abs(mat - tape)
    return raw * reading_per_raw(light) / (spot_sigma_mm(light.sensor, height) * sqrt(2.0 * pi))


def linear_loop(setup: Setup) -> LinearLoop:
    """The linear loop of a setup that steers by a slope with both wheels.

    Raises
    ------
    IronTrailError
        If its law has no slope (on-off, bands, mixed), another mixing halves it to one side, or the sensor gives the
        names of colours, which jump.
    """
    if setup.light.sensor.names_colours:
        raise IronTrailError("a sensor that gives colour names has no slope", "light.sensor.scale")
    program, drive = setup.program, setup.robot.drive
    if program.law not in ("proportional", "PID") or program.mixing != "both wheels":
        raise IronTrailError(f"{program.law} with {program.mixing} has no linear theory", "program.law")
    pid = program.pid if program.law == "PID" else Pid(kp=program.proportional.gain, ki=0.0, kd=0.0)
    top = drive.top_speed_mm_s * drive.battery
    hold_loops = max(1, round(program.hold_s / program.loop_time_s))
    return LinearLoop(
        slope=reading_slope(setup),
        top_speed=top,
        track_width=drive.track_width_mm,
        ahead=setup.robot.mount.ahead_mm,
        speed=top * program.speed / 100.0,
        response_time=drive.response_time_s,
        delay=program.delay_s,
        loop_time=hold_loops * program.loop_time_s,
        kp=pid.kp,
        ki=pid.ki,
        kd=pid.kd,
        filter_time=pid.filter_s,
    )


@dataclass(frozen=True)
class Rocking:
    """Where steady rocking starts: the gain, and the frequency it rocks at."""

    gain: float
    hertz: float


def rocking_by_formula(loop: LinearLoop) -> Rocking | None:
    """Where a proportional loop starts to rock, with the sampled hold taken as a dead time of half a loop.

    s^2 (tau s + 1) + (k L s + k v) exp(-s D) = 0 with D = loop_time / 2 + delay has its first roots on the imaginary
    axis, s = i w, where atan(L w / v) = w D + atan(tau w), which does not depend on k; k then follows from the
    magnitudes. None if the loop rocks at any gain, however small.
    """
    dead, tau, ahead, v = 0.5 * loop.loop_time + loop.delay, loop.response_time, loop.ahead, loop.speed
    if v <= 0.0 or ahead / v <= dead + tau:
        return None

    def lead(w: float) -> float:
        return atan(ahead * w / v) - w * dead - atan(tau * w)

    # The lead is positive for slow swings and falls below zero for fast ones.
    low, high = 1e-6, 1.0
    while lead(high) > 0.0 and high < 1e7:
        high *= 2.0
    for _ in range(200):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if lead(middle) > 0.0 else (low, middle)
    w = 0.5 * (low + high)
    stiffness = w * w * sqrt(1.0 + (tau * w) ** 2) / sqrt((ahead * w) ** 2 + v * v)
    gain = stiffness * 100.0 * loop.track_width / (2.0 * loop.slope * loop.top_speed)
    return Rocking(gain, w / (2.0 * pi))
