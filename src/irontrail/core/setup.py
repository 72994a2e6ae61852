"""What is run: a mat, a robot with its light, a program, and how it is set down; one sensor or two."""

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np

from irontrail.core.errors import OutOfRangeError
from irontrail.core.light.reading import reads_upside_down
from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Calibration, Light, Sensor
from irontrail.core.mat.tape import Mat
from irontrail.core.mat.zones import in_zone, start_and_finish
from irontrail.core.quantity import Part, Quantity, with_value
from irontrail.core.robot.mount import Mount, Place, Robot
from irontrail.core.shaking import Shaking
from irontrail.core.steering.legs import SEEING, CreepLeg
from irontrail.core.steering.pair import Which
from irontrail.core.steering.program import Program
from irontrail.core.steering.side import edge_sign


@dataclass(frozen=True)
class Pull(Part):
    """A hand that lifts the running robot at a time and sets it down elsewhere: the axle's middle and heading."""

    time_s: Annotated[
        float, Quantity("pulled at", "s", 0.0, 600.0, 0.1, 1.0, 1, says="When in the run a hand pulls the robot aside.")
    ]
    x_mm: Annotated[
        float, Quantity("x", "mm", -500.0, 5000.0, 10.0, says="Where along the mat it is put, from the left.")
    ]
    y_mm: Annotated[
        float, Quantity("y", "mm", -500.0, 5000.0, 10.0, says="Where up the mat it is put, from the bottom.")
    ]
    heading_deg: Annotated[
        float,
        Quantity("heading", "°", -36_000.0, 36_000.0, 5.0, says="Which way it points: 0 is to the right, 90 is up."),
    ]


@dataclass(frozen=True)
class Trial(Part):
    """How a run is started, whether a hand pulls the robot off its way, and when it is given up.

    A closed line is driven round `laps` times. `start_mm` is where along the route the sensor is set down;
    `start_off_mm` how far from the edge, to the light side; `start_angle_deg` how far the robot is turned to the left
    of the line's direction. A robot set down in the start zone, off the line, has its axle in the zone's middle
    and points as the zone is turned; the three move it from there. `shaken` is how exactly the team can do all that
    again: no run depends on it, but what is said of many starts does.
    """

    reverse: bool = False
    set_down: Literal["on the line", "in the start zone"] = "on the line"
    laps: Annotated[int, Quantity("laps", "", 1, 50, 1, says="How many times round it has to go.")] = 1
    start_mm: Annotated[
        float, Quantity("start", "mm", 0.0, 10_000.0, 10.0, says="How far along the line the run begins.")
    ] = 20.0
    start_off_mm: Annotated[
        float,
        Quantity("start off the edge", "mm", -50.0, 50.0, 1.0, says="How far beside its edge the robot is set down."),
    ] = 0.0
    start_angle_deg: Annotated[
        float,
        Quantity(
            "start turned left", "°", -180.0, 180.0, 1.0, says="By how much the robot is set down turned to the left."
        ),
    ] = 0.0
    time_limit_s: Annotated[
        float, Quantity("time limit", "s", 1.0, 600.0, 5.0, says="A run that takes longer is out of time.")
    ] = 90.0
    lost_distance_mm: Annotated[
        float,
        Quantity(
            "lost beyond", "mm", 10.0, 500.0, 5.0, says="Farther than this from its edge, the robot has lost the line."
        ),
    ] = 60.0
    stuck_time_s: Annotated[
        float,
        Quantity("stuck after", "s", 0.5, 60.0, 0.5, 1.0, 1, says="A robot that gets nowhere for so long is stuck."),
    ] = 3.0
    seed: Annotated[
        int,
        Quantity(
            "seed",
            "",
            0,
            2**31 - 1,
            1,
            says="Another number here gives other noise, and the same number the same run again.",
        ),
    ] = 1
    pull: Pull | None = None
    shaken: Shaking = Shaking()


# Where the numbers of the first sensor stand, and those of the second.
_EYES = {
    "robot.mount.": "second.mount.",
    "light.sensor.": "second.sensor.",
    "light.calibration.": "second.calibration.",
}
# Arrangements in which each sensor has a threshold of its own.
_WITH_THRESHOLDS = ("table", "each its side")


@dataclass(frozen=True)
class Setup(Part):
    """All that a run depends on: two equal setups give the same run, bit for bit.

    The robot's first sensor is its mount with that of the light; a `second` one may be beside it.
    """

    mat: Mat
    robot: Robot = Robot()
    light: Light = Light()
    program: Program = Program()
    trial: Trial = Trial()
    second: SecondSensor | None = None

    def __post_init__(self) -> None:
        super().__post_init__()
        if self.second is None:
            where = asks_for_second(self.program)
            if where:
                raise OutOfRangeError(
                    "it asks for a second sensor, and the robot has one", where, "Give the setup a second sensor."
                )

    @property
    def effective_program(self) -> Program:
        """The program as it acts: an uncalibrated sensor that reads high on dark swaps what a dark line is."""
        if not reads_upside_down(self.light):
            return self.program
        return replace(self.program, line="light" if self.program.line == "dark" else "dark")

    # --- two sensors

    @property
    def first_is_left(self) -> bool:
        """The first sensor is the left one of two."""
        return self.second is None or self.robot.mount.aside_mm >= self.second.mount.aside_mm

    @property
    def sensors(self) -> tuple[Which, ...]:
        """Those that the robot has."""
        return ("first",) if self.second is None else ("first", "second")

    def seen_by(self, which: Which) -> "Setup":
        """The same robot with just one of its sensors, as the first; its threshold, if it has one, is the target."""
        if self.second is None:
            return self
        robot, light, second = self.robot, self.light, self.second
        if which == "second":
            robot = replace(robot, mount=second.mount)
            light = replace(light, sensor=second.sensor, calibration=second.calibration)
        target = getattr(self.program.pair, self._threshold(which)) if self._has_thresholds else self.program.target
        program = replace(without_second(self.program), target=target)
        return replace(self, robot=robot, light=light, program=program, second=None)

    @property
    def _has_thresholds(self) -> bool:
        return self.program.arrangement in _WITH_THRESHOLDS

    def _threshold(self, which: Which) -> str:
        return "left_threshold" if (which == "first") == self.first_is_left else "right_threshold"

    def path_of(self, path: str, which: Which) -> str:
        """Where one of its sensors has the number that a single one has at a path.

        That is its own threshold for the target, where it has one. Numbers of no sensor stay where they are.
        """
        if path == "program.target" and self._has_thresholds:
            return f"program.pair.{self._threshold(which)}"
        if which == "second":
            for first, second in _EYES.items():
                if path.startswith(first):
                    return second + path.removeprefix(first)
        return path

    def with_eye(self, which: Which, **parts: Mount | Sensor | Calibration) -> "Setup":
        """The setup with another mount, sensor or calibration of one of its sensors."""
        if which == "second" and self.second is not None:
            return replace(self, second=replace(self.second, **parts))  # type: ignore[arg-type]
        mount = parts.pop("mount", None)
        robot = self.robot if mount is None else with_value(self.robot, "mount", mount)
        return replace(self, robot=robot, light=replace(self.light, **parts))  # type: ignore[arg-type]

    @property
    def reference(self) -> Place:
        """The point of the robot that is judged: its first sensor, or the middle between two astride the line."""
        mount, second = self.robot.mount, self.second
        if second is None or not self.program.astride:
            return Place(mount.ahead_mm, mount.aside_mm)
        ahead, aside = mount.ahead_mm + second.mount.ahead_mm, mount.aside_mm + second.mount.aside_mm
        return Place(0.5 * ahead, 0.5 * aside)

    @property
    def trailing_mm(self) -> float:
        """How far the last of its sensors is behind the reference; 0 if none is."""
        behind = self.robot.mount.ahead_mm if self.second is None else self.second.mount.ahead_mm
        return max(self.reference.ahead_mm - min(self.robot.mount.ahead_mm, behind), 0.0)

    @property
    def side(self) -> float:
        """Which side of the tape's middle is the light side of what is followed: +1 left, -1 right.

        Of two sensors astride it, left is called so.
        """
        return 1.0 if self.program.astride else edge_sign(self.program.edge)

    @property
    def off_middle_mm(self) -> float:
        """How far the reference is to be kept from the middle of the tape: its edge, or the middle itself."""
        return 0.0 if self.program.astride else 0.5 * self.mat.followed.width_mm

    @property
    def title(self) -> str:
        """The mat and the robot by name."""
        return f"{self.mat.name} · {self.robot.name}"


def with_second(setup: Setup) -> Setup:
    """A setup with a second sensor like its first, as far to the other side of the robot; it only watches."""
    mount, light = setup.robot.mount, setup.light
    half = 0.5 * setup.mat.followed.width_mm
    beside = -mount.aside_mm if abs(mount.aside_mm) > 0.25 * half else mount.aside_mm - 2.0 * half
    return replace(setup, second=SecondSensor(replace(mount, aside_mm=beside), light.sensor, light.calibration))


def with_one(setup: Setup) -> Setup:
    """A setup without its second sensor: the first follows, and the legs look at that."""
    return replace(setup, program=without_second(setup.program), second=None)


def asks_for_second(program: Program) -> str:
    """Where a program needs a second sensor; empty if it does not."""
    if program.arrangement != "one":
        return "program.arrangement"
    for i, leg in enumerate(program.trip.legs if program.trip is not None else ()):
        if isinstance(leg, CreepLeg) and leg.sensor == "second":
            return f"program.trip.legs.{i}.sensor"
        for j, end in enumerate(leg.ends):
            if isinstance(end, SEEING) and end.sensor == "second":
                return f"program.trip.legs.{i}.ends.{j}.sensor"
    return ""


def without_second(program: Program) -> Program:
    """A program that needs one sensor: its first one follows, and the legs look at that."""
    program = replace(program, arrangement="one")
    while where := asks_for_second(program):
        program = with_value(program, where.removeprefix("program."), "first")
    return program


def zone_pose(setup: Setup) -> tuple[float, float, float] | None:
    """The axle's middle (mm) and heading (rad) if set down in the start zone; None if on the line."""
    trial = setup.trial
    zone, _ = start_and_finish(setup.mat, trial.reverse)
    if zone is None or trial.set_down == "on the line":
        return None
    x, y, heading = in_zone(zone, trial.start_mm, trial.start_off_mm)
    return x, y, heading + float(np.radians(trial.start_angle_deg))


def starts_on_line(setup: Setup) -> bool:
    """Whether the robot is set down on its line, rather than in the start zone as its trial may say."""
    return zone_pose(setup) is None
