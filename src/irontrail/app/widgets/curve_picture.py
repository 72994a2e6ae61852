"""What the steering curve shows: powers over what is steered by, what can be grabbed, and what was met."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.steering.law import Handle

# What lies to either side of the target.
SIDES = ("dark side", "light side")


@dataclass(frozen=True, eq=False)
class CurvePicture:
    """What the view shows: both wheels' powers over the reading (shape (n,)), target, handles, readings met.

    Two sensors make an error in a reading's place: `span` is how far it goes, and `zero` the value that is an error of
    none, as the axis is labelled.
    """

    reading: NDArray[np.float64]
    left: NDArray[np.float64]
    right: NDArray[np.float64]
    clipped: NDArray[np.bool_]
    target: float
    target_name: str
    handles: tuple[Handle, ...]
    readings: NDArray[np.float64]
    low_power: float
    rings: tuple[tuple[str, float], ...] = ()
    span: tuple[float, float] = (0.0, 100.0)
    zero: float = 0.0
    sides: tuple[str, str] = SIDES

    @property
    def of_error(self) -> bool:
        """The curve is over the error of two sensors."""
        return self.zero != 0.0

    def shown(self, value: float) -> str:
        """A value as the axis has it."""
        return f"{value - self.zero:.3g}".replace("-", "−")
