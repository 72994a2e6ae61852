"""The light sensor, its calibration, and the light it works in: what can be set of them."""

from dataclasses import dataclass
from typing import Annotated, Literal

from irontrail.core.errors import OutOfRangeError
from irontrail.core.light.names import USUAL_PALETTE, Palette, check_palette
from irontrail.core.quantity import Part, Quantity

Scale = Literal["percent", "counts", "colour names"]


@dataclass(frozen=True)
class Sensor(Part):
    """The sensor itself.

    `shield` is the share of room light that a skirt round it keeps out; `lag_s` the time constant with which its
    level follows the light; some sensors read high on dark. What the sensor gives is percent in steps of
    `reading_step`, whole counts from 0 to `highest_count` (4095 for twelve bits, 7 for a coarse scale), or the name of
    a colour of its `palette`, which takes a white lamp and no calibration.
    """

    scale: Scale = "percent"
    lamp: Literal["white", "red", "green", "blue"] = "white"
    spot_base_mm: Annotated[
        float,
        Quantity(
            "spot at no height",
            "mm",
            0.5,
            20.0,
            0.5,
            1.0,
            1,
            says="How large a patch the sensor sees when it touches the mat.",
        ),
    ] = 2.5
    spot_growth: Annotated[
        float,
        Quantity(
            "spot growth",
            "mm per mm",
            0.0,
            2.0,
            0.05,
            1.0,
            2,
            says="How much larger that patch gets for each millimetre of height.",
        ),
    ] = 0.25
    shield: Annotated[
        float,
        Quantity(
            "shield", "%", 0.0, 1.0, 0.05, 100.0, says="How much of the room's light the skirt keeps off the sensor."
        ),
    ] = 0.5
    dark_level: Annotated[
        float, Quantity("dark level", "%", 0.0, 0.5, 0.01, 100.0, says="What the sensor gives in complete darkness.")
    ] = 0.04
    noise: Annotated[
        float,
        Quantity(
            "noise", "raw %", 0.0, 10.0, 0.1, 1.0, 1, says="How much readings of the same place differ by chance."
        ),
    ] = 0.4
    lag_s: Annotated[
        float,
        Quantity("sensor lag", "ms", 0.0, 0.5, 0.001, 1000.0, says="How slowly the sensor follows a change of light."),
    ] = 0.0
    reads_high_on: Literal["bright", "dark"] = "bright"
    reading_step: Annotated[
        float,
        Quantity("reading step", "raw %", 0.0, 25.0, 0.5, 1.0, 1, says="The smallest difference the sensor can tell."),
    ] = 1.0
    highest_count: Annotated[
        int, Quantity("highest count", "", 2, 65535, 1, says="The largest number the sensor gives.")
    ] = 4095
    palette: Palette = USUAL_PALETTE

    def __post_init__(self) -> None:
        super().__post_init__()
        check_palette(self.palette, "Sensor.palette")
        if self.names_colours and self.lamp != "white":
            raise OutOfRangeError(
                f"a {self.lamp} lamp shows no colours to name", "Sensor.lamp", "Names take a white lamp."
            )

    @property
    def names_colours(self) -> bool:
        """The sensor gives the names of colours."""
        return self.scale == "colour names"

    @property
    def raw_step(self) -> float:
        """The step of a raw reading, in percent of the whole scale."""
        return 100.0 / self.highest_count if self.scale == "counts" else self.reading_step

    @property
    def output_per_percent(self) -> float:
        """What the sensor gives for each raw percent: counts, or percent."""
        return self.highest_count / 100.0 if self.scale == "counts" else 1.0

    @property
    def raw_per_output(self) -> float:
        """Raw percent for each count; 1 for a sensor that gives percent."""
        return 100.0 / self.highest_count if self.scale == "counts" else 1.0


# Dark and bright that are nearer, in percent raw, are the same.
LEAST_APART = 1.0


@dataclass(frozen=True)
class Calibration(Part):
    """The raw readings that are called 0 and 100; a sensor that reads high on dark has dark above bright."""

    dark: Annotated[
        float,
        Quantity(
            "dark reading", "raw %", 0.0, 100.0, 1.0, says="What the sensor gives over the line; it then counts as 0."
        ),
    ] = 8.0
    bright: Annotated[
        float,
        Quantity(
            "bright reading",
            "raw %",
            0.0,
            100.0,
            1.0,
            says="What the sensor gives over the mat; it then counts as 100.",
        ),
    ] = 78.0

    def __post_init__(self) -> None:
        super().__post_init__()
        if abs(self.bright - self.dark) < LEAST_APART - 1e-9:
            raise OutOfRangeError(
                f"bright ({self.bright:g}) and dark ({self.dark:g}) are the same",
                "Calibration.bright",
                "Read the light surface for bright and the line for dark.",
            )


def apart(value: float, other: float) -> float:
    """What one of a calibration's readings can be, with the other one there: that value, or the nearest to it.

    >>> apart(50.0, 8.0), apart(8.5, 8.0), apart(7.5, 8.0), apart(99.5, 100.0), apart(100.0, 99.5)
    (50.0, 9.0, 7.0, 99.0, 98.5)
    """
    if abs(value - other) >= LEAST_APART:
        return value
    above, below = other + LEAST_APART, other - LEAST_APART
    return above if below < 0.0 or (value >= other and above <= 100.0) else below


MAX_AREAS = 8


@dataclass(frozen=True)
class LightArea(Part):
    """A shadow (factor below 1) or a glare (above 1) on the mat: an ellipse with a soft edge.

    Inside, the room light is `factor` times what it is elsewhere; over `soft_mm` outward it comes back to that.
    """

    x_mm: Annotated[float, Quantity("x", "mm", -4000.0, 8000.0, 10.0, says="Where its middle lies, from the left.")]
    y_mm: Annotated[float, Quantity("y", "mm", -4000.0, 8000.0, 10.0, says="Where its middle lies, from the bottom.")]
    half_width_mm: Annotated[float, Quantity("half width", "mm", 1.0, 8000.0, 10.0, says="Half of how wide it is.")]
    half_height_mm: Annotated[float, Quantity("half height", "mm", 1.0, 8000.0, 10.0, says="Half of how high it is.")]
    factor: Annotated[
        float,
        Quantity(
            "room light times",
            "",
            0.0,
            10.0,
            0.1,
            1.0,
            1,
            says="By how much the room's light is changed there: less than 1 is a shadow, more a glare.",
        ),
    ]
    soft_mm: Annotated[
        float, Quantity("soft edge", "mm", 1.0, 1000.0, 10.0, says="Over how many millimetres it fades out.")
    ] = 40.0


@dataclass(frozen=True)
class Light(Part):
    """The sensor, the room it works in, and its calibration; without it, readings are raw percent."""

    sensor: Sensor = Sensor()
    areas: tuple[LightArea, ...] = ()
    calibrate: bool = True
    room_light: Annotated[
        float,
        Quantity(
            "room light", "%", 0.0, 1.0, 0.05, 100.0, says="How bright the room is, beside the sensor's own lamp."
        ),
    ] = 0.4
    calibration: Calibration = Calibration()

    def __post_init__(self) -> None:
        super().__post_init__()
        if len(self.areas) > MAX_AREAS:
            raise OutOfRangeError(f"{len(self.areas)} areas are more than {MAX_AREAS}", "Light.areas", "Take some out.")
