"""The drive: two wheels on one axle, from the powers set to the speed of each wheel over the mat."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class Drive(Part):
    """What the two driven wheels and their motors can do.

    `top_speed_mm_s` is the rim's speed at power 100; `response_time_s` is the time constant with which a wheel
    follows its power; powers smaller than `dead_band` do not turn it; `battery` scales the top speed;
    `mismatch_percent` is how much faster the left wheel turns than the right at equal powers, split half to
    each; `grip` is the coefficient of friction between tyre and mat; commands are rounded to `power_step`.
    """

    track_width_mm: Annotated[
        float, Quantity("track width", "mm", 30.0, 400.0, 1.0, says="How far apart the two wheels touch the mat.")
    ] = 110.0
    wheel_diameter_mm: Annotated[
        float,
        Quantity(
            "wheel diameter",
            "mm",
            10.0,
            200.0,
            1.0,
            says="How tall the wheels are: a larger one goes farther in one turn.",
        ),
    ] = 56.0
    top_speed_mm_s: Annotated[
        float,
        Quantity(
            "top speed",
            "mm/s",
            50.0,
            3000.0,
            10.0,
            says="How fast the robot drives straight on at full power and a full battery.",
        ),
    ] = 480.0
    response_time_s: Annotated[
        float,
        Quantity(
            "response time",
            "ms",
            0.0,
            1.0,
            0.005,
            1000.0,
            says="How long the motors take to get most of the way to a new speed.",
        ),
    ] = 0.06
    dead_band: Annotated[
        float, Quantity("dead band", "%", 0.0, 60.0, 1.0, says="Less power than this does not move a wheel at all.")
    ] = 3.0
    battery: Annotated[
        float,
        Quantity(
            "battery",
            "%",
            0.3,
            1.2,
            0.01,
            100.0,
            says="How full the battery is: with less, every power drives more slowly.",
        ),
    ] = 1.0
    mismatch_percent: Annotated[
        float,
        Quantity(
            "left faster by",
            "%",
            -20.0,
            20.0,
            0.5,
            1.0,
            1,
            says="How much faster the left wheel turns than the right one at the same power.",
        ),
    ] = 0.0
    grip: Annotated[
        float,
        Quantity(
            "grip", "", 0.05, 2.0, 0.05, 1.0, 2, says="How well the tyres hold the mat: with little, fast bends slide."
        ),
    ] = 0.7
    power_step: Annotated[
        float,
        Quantity("power step", "%", 0.01, 25.0, 1.0, 1.0, 1, says="The smallest change of power that the motors take."),
    ] = 1.0


def turning_radius_mm(track_width_mm: float, left: float, right: float) -> float:
    """Radius of the circle that the axle's middle drives at steady wheel speeds; infinite if they are equal.

    Two wheels at distances R +- track/2 from the centre turn about it at one rate, so their speeds are as
    those distances.

    >>> turning_radius_mm(110.0, 300.0, 100.0)
    110.0
    """
    if left == right:
        return float("inf")
    return 0.5 * track_width_mm * abs(left + right) / abs(left - right)
