"""The light sensor: the patch it sees, how lamp and room light make its level, and the reading it gives.

The order is: mat -> patch (a Gaussian) -> level (lamp, room light, dark level) -> noise -> raw percent, rounded
-> calibrated reading. Inside, all scales are percent of the whole scale; a count is shown as its share of the highest.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from irontrail.core.errors import OutOfRangeError
from irontrail.core.light.names import USUAL_PALETTE, Palette, check_palette, nearest_names
from irontrail.core.quantity import Part, Quantity

Floats = NDArray[np.float64]

LAMP_WEIGHTS = {
    "white": (1 / 3, 1 / 3, 1 / 3),
    "red": (1.0, 0.0, 0.0),
    "green": (0.0, 1.0, 0.0),
    "blue": (0.0, 0.0, 1.0),
}

# The lamp's own light at the sensor falls with height as 1 / (1 + (height / LAMP_REACH)^2): a lamp beside its
# detector, both looking down, share less and less of the mat.
LAMP_SHARE = 0.9
LAMP_REACH_MM = 25.0
# Room light creeps in under the housing the higher it hangs, to at most this share of what falls on the mat.
LEAK_SHARE = 0.5
LEAK_HEIGHT_MM = 30.0
# The height at which a sensor that gives names was taught its colours, in the dark.
NAMES_HEIGHT_MM = 8.0

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
        if abs(self.bright - self.dark) < 1.0:
            raise OutOfRangeError(
                f"bright ({self.bright:g}) and dark ({self.dark:g}) are the same",
                "Calibration.bright",
                "Read the light surface for bright and the line for dark.",
            )


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


def spot_sigma_mm(sensor: Sensor, height_mm: float) -> float:
    """Standard deviation of the patch the sensor sees; it widens with height."""
    return sensor.spot_base_mm + sensor.spot_growth * height_mm


def lamp_share(height_mm: float) -> float:
    """Level (1 is full scale) per unit of reflectance from the sensor's own lamp."""
    return LAMP_SHARE / (1.0 + (height_mm / LAMP_REACH_MM) ** 2)


def room_share(light: Light, height_mm: float) -> float:
    """Level per unit of reflectance from the room's light where there is no shadow or glare."""
    leak = LEAK_SHARE * height_mm / (height_mm + LEAK_HEIGHT_MM)
    return leak * light.room_light * (1.0 - light.sensor.shield)


def level_per_field(light: Light, height_mm: float) -> float:
    """Level (1 is full scale) per unit of reflectance: the lamp's share and the room's."""
    return lamp_share(height_mm) + room_share(light, height_mm)


def level_of(light: Light, height_mm: float, seen: ArrayLike, gloss: float, factor: ArrayLike) -> Floats:
    """Level (1 is full scale) over patches, without the sensor's dark level.

    `gloss` is the surface's (see `mat/surface.py`): a share of the room's light that comes back from any colour.
    `factor` is what shadows and glares make of the room's light there.
    """
    room = room_share(light, height_mm) * np.asarray(factor, np.float64)
    patch = np.asarray(seen, np.float64)
    return np.asarray(lamp_share(height_mm) * patch + room * (patch + gloss))


def raw_reading(light: Light, height_mm: float, seen: ArrayLike, gloss: float = 0.0, factor: ArrayLike = 1.0) -> Floats:
    """Raw percent, without noise or rounding, of patches of the given reflectance (any shape); see `level_of`."""
    level = level_of(light, height_mm, seen, gloss, factor) + light.sensor.dark_level
    raw = np.clip(100.0 * level, 0.0, 100.0)
    return raw if light.sensor.reads_high_on == "bright" else 100.0 - raw


def calibrated(calibration: Calibration, raw: ArrayLike) -> Floats:
    """Readings in calibrated percent, cut to 0..100.

    >>> float(calibrated(Calibration(dark=10.0, bright=80.0), 45.0))
    50.0
    """
    share = (np.asarray(raw, np.float64) - calibration.dark) / (calibration.bright - calibration.dark)
    return np.clip(100.0 * share, 0.0, 100.0)


def reading_per_raw(light: Light) -> float:
    """How much the reading changes for each raw percent, without its sign."""
    span = abs(light.calibration.bright - light.calibration.dark)
    return 100.0 / span if light.calibrate else 1.0


def reading(light: Light, raw: ArrayLike) -> Floats:
    """What the program reads for raw percent: calibrated, or as it is."""
    return calibrated(light.calibration, raw) if light.calibrate else np.asarray(raw, np.float64)


def reading_of_patch(
    light: Light, height_mm: float, seen: ArrayLike, gloss: float = 0.0, factor: ArrayLike = 1.0
) -> Floats:
    """What the program reads over patches, without noise or rounding.

    Parameters
    ----------
    seen : array, shape (..., channels)
        Reflectance in the lamp's colour, or in red, green and blue for a sensor that gives names; see `spot.py`.
    """
    patch = np.asarray(seen, np.float64)
    if not light.sensor.names_colours:
        return reading(light, raw_reading(light, height_mm, patch[..., 0], gloss, factor))
    level = level_of(light, height_mm, patch, gloss, np.asarray(factor)[..., None] if np.ndim(factor) else factor)
    index, _ = nearest_names(light.sensor.palette, level / lamp_share(NAMES_HEIGHT_MM))
    return np.array([named.reads_as for named in light.sensor.palette])[index]


def reads_upside_down(light: Light) -> bool:
    """The program sees higher readings on dark than on bright: an inverted sensor used without calibration."""
    if light.sensor.names_colours:
        return False
    if light.calibrate:
        return (light.calibration.bright > light.calibration.dark) == (light.sensor.reads_high_on == "dark")
    return light.sensor.reads_high_on == "dark"
