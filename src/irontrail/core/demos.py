"""The Saltmarsh team's demos: what there is to open without a file."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Light
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.project import Project
from irontrail.core.robot.mount import Mount, Robot
from irontrail.core.setup import Setup, Trial
from irontrail.core.steering.laws.on_off import OnOff
from irontrail.core.steering.laws.proportional import Proportional
from irontrail.core.steering.laws.table import Case, Table
from irontrail.core.steering.legs import (
    AfterDistance,
    AtMark,
    CreepLeg,
    FollowLeg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
)
from irontrail.core.steering.pair import Pair
from irontrail.core.steering.program import Program


@dataclass(frozen=True)
class Demo:
    """A demo: what it is called, what it is about, and how it is made."""

    title: str
    says: str
    make: Callable[[], Setup]


def demo_project(demo: str) -> Project:
    """A demo by its short name; KeyError if there is none of that name."""
    return Project(DEMOS[demo].make())


def _quarry() -> Setup:
    program = Program(
        speed=30.0,
        proportional=Proportional(gain=1.0),
        on_off=OnOff(dark_outer=35.0, dark_inner=-10.0, light_outer=35.0, light_inner=-10.0),
    )
    return Setup(DEMO_MATS["quarry"](), program=program)


def _lantern() -> Setup:
    """From the boathouse onto the line, along it to the second crossing, along the branch, and parked before the light.

    The light borders of the cross line are the brightest on the mat: the sensor is calibrated on them.
    """
    legs = (
        StraightLeg(ends=(LineFound(45.0),), power=40.0),
        FollowLeg(ends=(AtMark(2, "crossing", 8.0, 5.0),)),
        StraightLeg(ends=(AfterDistance(75.0),), power=30.0),
        TurnLeg(90.0, 30.0),
        FollowLeg(ends=(AfterDistance(490.0),), then="roll on"),
        FollowLeg(ends=(AfterDistance(50.0),), then="roll on", speed=22.0),
        CreepLeg(power_per_reading=0.3, least_power=8.0, dark_reading=20.0, border_reading=90.0),
    )
    light = Light()
    return Setup(
        DEMO_MATS["lantern"](),
        light=replace(light, calibration=replace(light.calibration, bright=80.0)),
        program=Program(
            edge="right",
            target=40.0,
            speed=45.0,
            proportional=Proportional(gain=0.5),
            on_off=OnOff(dark_outer=45.0, dark_inner=15.0, light_outer=45.0, light_inner=15.0),
            trip=Trip(legs),
        ),
        trial=Trial(set_down="in the start zone", start_mm=0.0),
    )


def _lantern_on_off() -> Setup:
    setup = _lantern()
    return replace(setup, program=replace(setup.program, law="on-off"))


def _of_mat(name: str) -> Demo:
    make = DEMO_MATS[name]
    return Demo(make().name, (make.__doc__ or "").splitlines()[0], lambda: Setup(make()))


def _rope_walk() -> Setup:
    """Two sensors astride the line, over its edges, and steered by their difference.

    A table, and each to its side, follow it too with the numbers that they have here.
    """
    robot = Robot(mount=Mount(75.0, 12.0))
    straight, turn = Case(34.0, 34.0), (0.0, 52.0)
    program = Program(
        arrangement="difference",
        speed=32.0,
        proportional=Proportional(gain=0.36),
        pair=Pair(0.5, "opposite", 80.0, 80.0),
        table=Table(straight, Case(*turn), Case(*turn[::-1]), straight),
    )
    return Setup(DEMO_MATS["ropewalk"](), robot, program=program, second=SecondSensor(Mount(75.0, -12.0)))


# By short name, in the order they are offered.
DEMOS: dict[str, Demo] = {
    **{name: _of_mat(name) for name in ("lighthouse", "quarry", "orchard", "ferry", "tannery")},
    "lantern": Demo("Lantern Quay", "A trip of seven legs: from the boathouse, and parked before the light.", _lantern),
    "lantern-on-off": Demo(
        "Lantern Quay, on-off", "The same trip with on-off steering, which parks worse.", _lantern_on_off
    ),
    "ropewalk": Demo("Rope Walk", "Two sensors astride the line, over crossings and sharply back.", _rope_walk),
}
DEMOS["quarry"] = replace(DEMOS["quarry"], make=_quarry)
