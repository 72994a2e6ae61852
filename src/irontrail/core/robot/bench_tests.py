"""Bench tests: what a team can measure on a table, turned into the numbers of the drive, with how sure they are.

Each test asks for a few numbers of a try; several tries are averaged, and their scatter says how far off they may be.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, pi, sqrt
from statistics import mean, stdev

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Quantity, quantities
from irontrail.core.robot.drive import Drive

Numbers = Mapping[str, float]
GRAVITY_MM_S2 = 9810.0
# A wheel that follows as a first-order lag has come to this share of its speed after three time constants ...
UP_TO_SPEED = 1.0 - exp(-3.0)
# ... and has driven so many times its speed times the time constant by then.
TO_REACH_SPEED = 3.0 - UP_TO_SPEED
# How often the margin of a mean holds the true value; Student's distribution gives it.
SURE = 0.95


@dataclass(frozen=True)
class BenchTest:
    """One test: what it is called, what is done, what is asked of each try, and the drive's number it gives.

    `result` gets a try's numbers and the drive as it stands; other numbers of the drive are taken as known.
    """

    name: str
    do: str
    asks: tuple[tuple[str, Quantity, float], ...]
    gives: str
    result: Callable[[Numbers, Drive], float]


@dataclass(frozen=True)
class Measured:
    """What some tries came to: the mean, and how far off it may be (95 %); None with a single try."""

    value: float
    off_by: float | None
    tries: int


def _distance(label: str, high: float = 10_000.0) -> Quantity:
    return Quantity(label, "mm", 1.0, high, 5.0, says="How far it was, by a ruler.")


_POWER = ("power", Quantity("at power", "%", 1.0, 100.0, 5.0, says="The power the motors ran at in this try."), 50.0)
_COUNTS = (
    "counts_per_turn",
    Quantity(
        "counts per wheel turn",
        "",
        1.0,
        100_000.0,
        10.0,
        says="How many steps the motor's own counter makes in one turn of the wheel.",
    ),
    360.0,
)


def _top_speed(try_: Numbers, drive: Drive) -> float:
    """From a standstill the lag costs tau (1 - exp(-t / tau)) of the time."""
    tau, seconds = drive.response_time_s, try_["seconds"]
    driving = seconds - tau * (1.0 - exp(-seconds / tau)) if tau > 0.0 else seconds
    return try_["distance_mm"] / driving * 100.0 / try_["power"] / drive.battery


def _wheel_diameter(try_: Numbers, _drive: Drive) -> float:
    """So many turns of the wheel roll that far."""
    return try_["distance_mm"] / (pi * try_["counts"] / try_["counts_per_turn"])


def _track_width(try_: Numbers, drive: Drive) -> float:
    """Turning on the spot each wheel rolls round a circle as wide as the track."""
    rolled = pi * drive.wheel_diameter_mm * try_["counts"] / try_["counts_per_turn"]
    return rolled / (pi * try_["turns"])


def _response_time(try_: Numbers, drive: Drive) -> float:
    """Up to 95 % of its speed a first-order lag has driven 2.05 v tau."""
    speed = drive.top_speed_mm_s * drive.battery * try_["power"] / 100.0
    return try_["distance_mm"] / (TO_REACH_SPEED * speed)


def _dead_band(try_: Numbers, _drive: Drive) -> float:
    return try_["power"]


def _mismatch(try_: Numbers, drive: Drive) -> float:
    """A circle of radius d^2 / 2y drifts y aside over d; the wheels' speeds differ by track / radius."""
    radius = try_["distance_mm"] ** 2 / (2.0 * try_["drift_mm"]) if try_["drift_mm"] else float("inf")
    return 100.0 * drive.track_width_mm / radius


def _grip(try_: Numbers, drive: Drive) -> float:
    """Wheels held fast slide v^2 / (2 mu g); a robot that merely rolls to rest, v tau, tells nothing of its grip."""
    speed = drive.top_speed_mm_s * drive.battery * try_["power"] / 100.0
    if try_["distance_mm"] <= 1.1 * speed * drive.response_time_s:
        raise OutOfRangeError(
            f"{try_['distance_mm']:g} mm is no farther than it rolls without slipping", "grip",
            "Stop from a higher power, until the wheels slide.",
        )  # fmt: skip
    return speed**2 / (2.0 * GRAVITY_MM_S2 * try_["distance_mm"])


BENCH_TESTS = {
    test.name: test
    for test in (
        BenchTest(
            "top speed",
            "Drive straight on for some seconds and measure how far it came.",
            (
                ("distance_mm", _distance("came"), 960.0),
                (
                    "seconds",
                    Quantity("in", "s", 0.2, 60.0, 0.1, 1.0, 2, says="How long it drove, by a stopwatch."),
                    4.0,
                ),
                _POWER,
            ),
            "top_speed_mm_s",
            _top_speed,
        ),
        BenchTest(
            "wheel diameter",
            "Push or drive it along a tape measure and read the wheel's counts.",
            (
                ("distance_mm", _distance("came"), 1000.0),
                (
                    "counts",
                    Quantity("counted", "", 1.0, 1_000_000.0, 10.0, says="What the wheel's counter went on by."),
                    2046.0,
                ),
                _COUNTS,
            ),
            "wheel_diameter_mm",
            _wheel_diameter,
        ),
        BenchTest(
            "track width",
            "Turn on the spot some whole times and read a wheel's counts.",
            (
                (
                    "turns",
                    Quantity(
                        "turned",
                        "times",
                        0.25,
                        100.0,
                        1.0,
                        1.0,
                        2,
                        says="How many whole turns the robot made on the spot.",
                    ),
                    5.0,
                ),
                (
                    "counts",
                    Quantity("counted", "", 1.0, 1_000_000.0, 10.0, says="What the wheel's counter went on by."),
                    3536.0,
                ),
                _COUNTS,
            ),
            "track_width_mm",
            _track_width,
        ),
        BenchTest(
            "response time",
            "From a standstill, measure how far it comes until it is up to speed (95 %).",
            (("distance_mm", _distance("came", 2_000.0), 30.0), _POWER),
            "response_time_s",
            _response_time,
        ),
        BenchTest(
            "dead band",
            "Raise the power from nothing until the wheels just turn.",
            (
                (
                    "power",
                    Quantity(
                        "least power that moves",
                        "%",
                        0.0,
                        60.0,
                        1.0,
                        says="The lowest power at which the wheels just begin to turn.",
                    ),
                    3.0,
                ),
            ),
            "dead_band",
            _dead_band,
        ),
        BenchTest(
            "mismatch",
            "Drive with equal powers and measure how far aside it drifts (to the right: positive).",
            (
                ("distance_mm", _distance("over"), 1000.0),
                (
                    "drift_mm",
                    Quantity(
                        "drifted",
                        "mm",
                        -1_000.0,
                        1_000.0,
                        5.0,
                        says="How far to the side it ended, to the left counted as more.",
                    ),
                    45.0,
                ),
            ),
            "mismatch_percent",
            _mismatch,
        ),
        BenchTest(
            "grip",
            "Brake from full speed with the wheels held fast and measure the slide.",
            (("distance_mm", _distance("slid", 3_000.0), 60.0), ("power", _POWER[1], 100.0)),
            "grip",
            _grip,
        ),
    )
}


def measured(test: BenchTest, tries: Sequence[Numbers], drive: Drive) -> Measured:
    """What some tries of a test come to.

    Raises
    ------
    OutOfRangeError
        If a number asked for, or the result, cannot be.
    """
    for try_ in tries:
        for name, quantity, _ in test.asks:
            if not quantity.low <= try_[name] <= quantity.high:
                raise OutOfRangeError(
                    f"{try_[name]:g} is outside {quantity.low:g} to {quantity.high:g}", quantity.label
                )
    results = [test.result(try_, drive) for try_ in tries]
    value, quantity = mean(results), quantities(Drive)[test.gives]
    if not quantity.low <= value <= quantity.high:
        raise OutOfRangeError(
            f"that makes a {quantity.label} of {quantity.in_unit(value)}, which cannot be",
            test.name,
            "Measure again.",
        )
    if len(results) < 2:
        return Measured(value, None, len(results))
    from scipy.special import stdtrit

    student = float(stdtrit(len(results) - 1, 0.5 + 0.5 * SURE))
    return Measured(value, student * stdev(results) / sqrt(len(results)), len(results))


def counts_per_cm(drive: Drive, counts_per_turn: float) -> float:
    """Wheel counts for each centimetre rolled.

    >>> round(counts_per_cm(Drive(wheel_diameter_mm=56.0), 360.0), 2)
    20.46
    """
    return 10.0 * counts_per_turn / (pi * drive.wheel_diameter_mm)
