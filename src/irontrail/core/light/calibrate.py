"""Calibration as a team does it: hold the sensor over the line, then over the light surface."""

import numpy as np

from irontrail.core.light.sensor import LAMP_WEIGHTS, Calibration, Light, raw_reading
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.tape import Mat


def calibrate_on(mat: Mat, light: Light, height_mm: float) -> Calibration:
    """The calibration that this sensor finds well inside the line and well off it, to a whole raw percent."""
    weights = np.array(LAMP_WEIGHTS[light.sensor.lamp])
    colours = np.array([linear_light(mat.followed.colour) @ weights, linear_light(mat.colour) @ weights])
    dark, bright = np.round(raw_reading(light, height_mm, colours)).tolist()
    return Calibration(dark, bright)
