"""Two rooms side by side: where the team practises and where the event is, and what each does to the readings."""

from dataclasses import dataclass, replace
from typing import Annotated

from irontrail.core.errors import IronTrailError
from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Calibration, Light, Sensor
from irontrail.core.plain import Name, keep_plain
from irontrail.core.quantity import Part, Quantity
from irontrail.core.robot.mount import Robot
from irontrail.core.steering.program import Program
from irontrail.core.steering.registry import LAWS

# Two readings nearer together than this leave nothing to steer by.
LEAST_CONTRAST = 5.0


@dataclass(frozen=True)
class Room(Part):
    """A room's light, and how the sensor is mounted and shielded for it."""

    name: Name
    room_light: Annotated[
        float,
        Quantity(
            "room light", "%", 0.0, 1.0, 0.05, 100.0, says="How bright the room is, beside the sensor's own lamp."
        ),
    ] = 0.4
    height_mm: Annotated[
        float, Quantity("sensor height", "mm", 2.0, 40.0, 0.5, 1.0, 1, says="How high the sensor hangs there.")
    ] = 8.0
    shield: Annotated[
        float,
        Quantity(
            "shield", "%", 0.0, 1.0, 0.05, 100.0, says="How much of the room's light the skirt keeps off the sensor."
        ),
    ] = 0.5
    second_height_mm: Annotated[
        float,
        Quantity("second height", "mm", 2.0, 40.0, 0.5, 1.0, 1, says="How high a second sensor hangs there."),
    ] = 8.0
    second_shield: Annotated[
        float,
        Quantity(
            "second shield", "%", 0.0, 1.0, 0.05, 100.0, says="How much of the room's light its skirt keeps off it."
        ),
    ] = 0.5

    def __post_init__(self) -> None:
        super().__post_init__()
        keep_plain(self, "name")


PRACTICE, EVENT = Room("practice room"), Room("event hall", 0.9)


def in_room(light: Light, robot: Robot, room: Room) -> tuple[Light, Robot]:
    """The same sensor and robot in a room."""
    sensor: Sensor = replace(light.sensor, shield=room.shield)
    mount = replace(robot.mount, height_mm=room.height_mm)
    return replace(light, room_light=room.room_light, sensor=sensor), replace(robot, mount=mount)


def as_found(room: Room, light: Light, robot: Robot, second: SecondSensor | None = None) -> Room:
    """A room with the light, heights and shields that are set now."""
    if second is not None:
        room = replace(room, second_height_mm=second.mount.height_mm, second_shield=second.sensor.shield)
    return replace(room, room_light=light.room_light, height_mm=robot.mount.height_mm, shield=light.sensor.shield)


def second_in_room(second: SecondSensor, room: Room) -> SecondSensor:
    """A second sensor in a room."""
    mount = replace(second.mount, height_mm=room.second_height_mm)
    return replace(second, mount=mount, sensor=replace(second.sensor, shield=room.second_shield))


@dataclass(frozen=True)
class Rescaled:
    """A program made to read as before with two new readings, and what was changed, in words."""

    light: Light
    program: Program
    says: str


def with_readings(light: Light, program: Program, dark: float, bright: float, old: Calibration) -> Rescaled:
    """A light and program that take two raw readings, of the line and of the mat, for what the old ones were.

    A program that calibrates takes them as its calibration: its target and gains stay, since its readings are scaled.
    One that does not has its target moved as far between the new readings as it was between the old ones, `old`, and
    its gains multiplied by the old contrast over the new.

    Raises
    ------
    IronTrailError
        If the two readings are too much alike, or the other way round than the sensor reads.
    """
    if abs(bright - dark) < LEAST_CONTRAST:
        raise IronTrailError(
            f"dark {dark:g} and bright {bright:g} are too much alike", "two readings", "Lower the sensor or shield it."
        )
    new, contrast = Calibration(dark, bright), (old.bright - old.dark) / (bright - dark)
    if not light.calibrate and contrast < 0.0:
        raise IronTrailError(
            f"dark {dark:g} and bright {bright:g} are the other way round than this sensor reads", "two readings",
            f"It reads {old.dark:g} on the line and {old.bright:g} on the mat.",
        )  # fmt: skip
    if light.calibrate:
        says = f"Calibrated on dark {dark:g} and bright {bright:g}: target and gains stay, the readings are scaled."
        return Rescaled(replace(light, calibration=new), program, says)

    def moved(value: float) -> float:
        return min(max(dark + (value - old.dark) / contrast, 0.0), 100.0)

    times = abs(contrast)

    settings = {law.field: law.rescaled(getattr(program, law.field), moved, times) for law in LAWS.values()}
    made = replace(program, target=moved(program.target), **settings)
    pair = program.pair
    if program.arrangement != "one":
        left, right = moved(pair.left_threshold), moved(pair.right_threshold)
        made = replace(made, pair=replace(pair, left_threshold=left, right_threshold=right))
    before, now = abs(old.bright - old.dark), abs(bright - dark)
    says = (
        f"Target {program.target:.0f} → {made.target:.0f}, gains × {times:.2f}: "
        f"bright and dark were {before:.0f} apart and are {now:.0f}."
    )
    return Rescaled(replace(light, calibration=new), made, says)
