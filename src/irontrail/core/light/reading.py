"""What a light sensor gives: the patch it sees, how lamp and room light make its level, and the reading of that.

The order is: mat -> patch (a Gaussian) -> level (lamp, room light, dark level) -> noise -> raw percent, rounded
-> calibrated reading. Inside, all scales are percent of the whole scale; a count is shown as its share of the highest.
"""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from irontrail.core.light.names import nearest_names
from irontrail.core.light.sensor import Calibration, Light, Sensor

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
