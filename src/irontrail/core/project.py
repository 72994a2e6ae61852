"""The frozen root of all that is saved."""

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np

from irontrail.core.figures import Figures
from irontrail.core.light.rooms import EVENT, PRACTICE, Room
from irontrail.core.light.sensor import Light, reads_upside_down
from irontrail.core.mat.demos import blank_mat
from irontrail.core.mat.tape import Mat
from irontrail.core.mat.zones import in_zone, start_and_finish
from irontrail.core.quantity import Part, Quantity
from irontrail.core.robot.mount import Robot
from irontrail.core.steering.program import Program


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
    and points as the zone is turned; the three move it from there.
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


@dataclass(frozen=True)
class Setup(Part):
    """All that a run depends on: two equal setups give the same run, bit for bit."""

    mat: Mat
    robot: Robot = Robot()
    light: Light = Light()
    program: Program = Program()
    trial: Trial = Trial()

    @property
    def effective_program(self) -> Program:
        """The program as it acts: an uncalibrated sensor that reads high on dark swaps what a dark line is."""
        if not reads_upside_down(self.light):
            return self.program
        return replace(self.program, line="light" if self.program.line == "dark" else "dark")

    @property
    def title(self) -> str:
        """The mat and the robot by name."""
        return f"{self.mat.name} · {self.robot.name}"


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


@dataclass(frozen=True)
class KeptRun(Part):
    """A run put by for comparison: its settings and figures, not its trace; a note and a star of the team's own."""

    number: Annotated[int, Quantity("number", "", 1, 1_000_000, 1, says="The number of a kept run.")]
    setup: Setup
    figures: Figures
    note: str = ""
    star: bool = False


@dataclass(frozen=True)
class Project(Part):
    """A project: the setup as it stands, the runs kept so far in the order they were kept, and the two rooms."""

    setup: Setup
    kept: tuple[KeptRun, ...] = ()
    practice: Room = PRACTICE
    event: Room = EVENT


def blank_project() -> Project:
    """A project to begin with: a bare mat with a first strip of tape, and the usual robot."""
    return Project(Setup(blank_mat()))
