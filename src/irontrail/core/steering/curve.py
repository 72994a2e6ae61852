"""The steering curve: what a program sets both wheels to, over every reading."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class SteeringCurve:
    """Powers of both wheels over the reading, as the law wants them and as the motors take them; shape (n,)."""

    reading: Floats
    wanted_left: Floats
    wanted_right: Floats
    left: Floats
    right: Floats

    @property
    def clipped(self) -> NDArray[np.bool_]:
        """Where a wheel is wanted beyond its limit."""
        return np.maximum(np.abs(self.wanted_left), np.abs(self.wanted_right)) > 100.0
