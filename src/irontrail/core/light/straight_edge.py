"""What the sensor reads across a long straight of a mat's own tape, in closed form: no raster, no noise, no shadows."""

from dataclasses import dataclass
from functools import cached_property
from math import erf, sqrt

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.light.reading import LAMP_WEIGHTS, reading_of_patch, spot_sigma_mm
from irontrail.core.light.sensor import Light
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.tape import Mat

Floats = NDArray[np.float64]
# The reading is looked at this far beyond the tape and its border, in standard deviations of the spot.
REACH_SIGMAS = 3.0
# How finely the target is looked for before it is closed in on, and the step of a slope, in mm.
STEP_MM, SLOPE_STEP_MM = 0.25, 1e-4
# A reading that changes by less than this per mm is nothing to steer by.
LEAST_SLOPE = 0.05


@dataclass(frozen=True)
class OperatingPoint:
    """Where a robot that steers to a target keeps its sensor.

    `edge_mm` is its distance from the edge, light side positive; `slope` that of the reading there, per mm, positive
    where readings rise away from the line.
    """

    edge_mm: float
    slope: float


@dataclass(frozen=True)
class StraightEdge:
    """The edge of a mat's followed tape, seen from a height in a light; the light side positive."""

    mat: Mat
    light: Light
    height_mm: float

    def readings(self, edge_mm: Floats) -> Floats:
        """The readings at distances from the edge, shape (n,).

        What is seen is a sum of steps, tape, borders and mat, each blurred by the spot's Gaussian to an error function.
        """
        mat, steps = self._steps
        wide = spot_sigma_mm(self.light.sensor, self.height_mm) * sqrt(2.0)
        seen = [
            mat + sum(by * 0.5 * (erf((place - at) / wide) - 1.0) for at, by in steps) for place in edge_mm.tolist()
        ]
        return reading_of_patch(self.light, self.height_mm, np.array(seen)[:, None], self.mat.gloss)

    def reading(self, edge_mm: float) -> float:
        """The reading at one distance from the edge."""
        return float(self.readings(np.array([edge_mm]))[0])

    @cached_property
    def _steps(self) -> tuple[float, tuple[tuple[float, float], ...]]:
        """The light that the bare mat gives back, and where and by how much it changes towards the tape and beyond."""
        tape = self.mat.followed
        mat, line, border = (self._level(colour) for colour in (self.mat.colour, tape.colour, tape.border_colour))
        near, far = tape.border_mm, -tape.width_mm - tape.border_mm
        steps = [
            (0.0, (border if near > 0.0 else mat) - line),
            (-tape.width_mm, line - (border if near > 0.0 else mat)),
        ]
        if near > 0.0:
            steps += [(near, mat - border), (far, border - mat)]
        return mat, tuple(steps)

    def _level(self, colour: str) -> float:
        return float(linear_light(colour) @ LAMP_WEIGHTS[self.light.sensor.lamp])

    def slope(self, edge_mm: float) -> float:
        """Change of the reading per mm at a distance from the edge."""
        ahead, behind = self.reading(edge_mm + SLOPE_STEP_MM), self.reading(edge_mm - SLOPE_STEP_MM)
        return (ahead - behind) / (2.0 * SLOPE_STEP_MM)

    def operating_point(self, target: float) -> OperatingPoint:
        """Where the reading is a target: the place nearest to the edge, from the tape's middle outward.

        Raises
        ------
        IronTrailError
            If the sensor gives the names of colours, which jump; if the target is never read, or the reading hardly
            changes where it is.
        """
        from scipy.optimize import brentq

        if self.light.sensor.names_colours:
            raise IronTrailError("a sensor that gives colour names has no slope", "light.sensor.scale")
        tape, sigma = self.mat.followed, spot_sigma_mm(self.light.sensor, self.height_mm)
        away = np.arange(-0.5 * tape.width_mm, tape.border_mm + REACH_SIGMAS * sigma + STEP_MM, STEP_MM)
        off = self.readings(away) - target
        crossings = np.flatnonzero(np.signbit(off[1:]) != np.signbit(off[:-1]))
        if crossings.size == 0:
            raise IronTrailError(f"a reading of {target:g} does not come up across this edge", "program.target")
        i = int(crossings[np.argmin(np.abs(away[crossings]))])
        place = float(brentq(lambda edge: self.reading(edge) - target, away[i], away[i + 1], xtol=1e-9))
        slope = self.slope(place)
        if abs(slope) < LEAST_SLOPE:
            raise IronTrailError(f"readings near {target:g} hardly change across this edge", "program.target")
        return OperatingPoint(place, slope)
