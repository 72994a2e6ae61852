"""Where the light sensor sits on the robot."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.plain import Name, keep_plain
from irontrail.core.quantity import Part, Quantity
from irontrail.core.robot.drive import Drive
from irontrail.core.robot.wiring import Wiring


@dataclass(frozen=True)
class Mount(Part):
    """The sensor's place: ahead of the axle, aside of the centreline (left positive), above the mat."""

    ahead_mm: Annotated[
        float,
        Quantity(
            "ahead of the axle",
            "mm",
            -300.0,
            300.0,
            2.0,
            says="How far in front of the wheels' axle the sensor sits; less than 0 is behind it.",
        ),
    ] = 75.0
    aside_mm: Annotated[
        float,
        Quantity(
            "aside, to the left",
            "mm",
            -150.0,
            150.0,
            2.0,
            says="How far to the left of the robot's middle the sensor sits.",
        ),
    ] = 0.0
    height_mm: Annotated[
        float,
        Quantity(
            "height over the mat",
            "mm",
            2.0,
            40.0,
            0.5,
            1.0,
            1,
            says="How high the sensor hangs: higher it sees a larger patch, and more of the room's light.",
        ),
    ] = 8.0


@dataclass(frozen=True)
class Place:
    """A point of the robot: ahead of the axle, aside of the centreline (left positive)."""

    ahead_mm: float
    aside_mm: float


# The axle's middle.
AXLE = Place(0.0, 0.0)


@dataclass(frozen=True)
class Robot(Part):
    """A robot: its drive, its sensor's mount, and how its motors are wired."""

    name: Name = "Pip"
    drive: Drive = Drive()
    mount: Mount = Mount()
    wiring: Wiring = Wiring()

    def __post_init__(self) -> None:
        super().__post_init__()
        keep_plain(self, "name")
