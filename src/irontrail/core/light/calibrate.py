"""Calibration as a team does it: hold the sensor over the line, then over the mat; or let the robot sweep by itself."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.profile import bilinear
from irontrail.core.light.reading import LAMP_WEIGHTS, raw_reading
from irontrail.core.light.sensor import Calibration, Light
from irontrail.core.light.shadow import shadow_factor
from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.tape import Mat
from irontrail.core.robot.mount import Mount

Floats = NDArray[np.float64]


def calibrate_on(mat: Mat, light: Light, height_mm: float) -> Calibration:
    """The calibration that this sensor finds well inside the line and well off it, to a whole raw percent."""
    weights = np.array(LAMP_WEIGHTS[light.sensor.lamp])
    colours = np.array([linear_light(mat.followed.colour) @ weights, linear_light(mat.colour) @ weights])
    dark, bright = np.round(raw_reading(light, height_mm, colours, mat.gloss)).tolist()
    return Calibration(dark, bright)


# How far the robot turns either way when it looks for its extremes, and how many readings it takes.
SWEEP_DEG = 40.0
SWEEP_READINGS = 161


@dataclass(frozen=True, eq=False)
class Sweep:
    """A turn on the spot across the line: raw percent over the turn (degrees, left positive), shape (n,)."""

    turned_deg: Floats
    raw: Floats
    calibration: Calibration


def sweep_by_itself(
    field: NDArray[np.float32],
    pose: tuple[float, float, float],
    light: Light,
    mount: Mount,
    seed: int,
    gloss: float = 0.0,
) -> Sweep:
    """The robot turns to and fro about its axle's middle and calls its least and greatest readings dark and bright.

    Parameters
    ----------
    field : ndarray, shape (1, rows, columns)
        What the sensor's patch holds; see `spot.seen_field`.
    pose : (x, y, heading)
        Of the axle's middle, in mm and rad, with the sensor about its edge.
    seed : int
        Of the noise.

    Raises
    ------
    OutOfRangeError
        If it saw nothing but one brightness.
    """
    x, y, heading = pose
    turned = np.linspace(-SWEEP_DEG, SWEEP_DEG, SWEEP_READINGS)
    angle = heading + np.radians(turned)
    sensor_x = x + mount.ahead_mm * np.cos(angle) - mount.aside_mm * np.sin(angle)
    sensor_y = y + mount.ahead_mm * np.sin(angle) + mount.aside_mm * np.cos(angle)
    seen = bilinear(field, sensor_x / MM_PER_PX, sensor_y / MM_PER_PX)[:, 0]
    still = raw_reading(light, mount.height_mm, seen, gloss, shadow_factor(light.areas, sensor_x, sensor_y))
    noisy = still + np.random.default_rng(seed).normal(0.0, light.sensor.noise, still.size)
    step = light.sensor.raw_step
    raw = np.clip(np.round(noisy / step) * step if step > 0.0 else noisy, 0.0, 100.0)
    low, high = float(raw.min()), float(raw.max())
    dark, bright = (low, high) if light.sensor.reads_high_on == "bright" else (high, low)
    return Sweep(turned, raw, Calibration(dark, bright))
