"""A picture of a mat on its way to be one: where the mat is in it, how large that is, and the line that is sought."""

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage

from irontrail.app.widgets.mat_ground import Underlay
from irontrail.core.errors import Check, carry_on
from irontrail.core.mat.perspective import rectified, usual_step

if TYPE_CHECKING:
    from irontrail.core.mat.trace import Traced

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Photo:
    """A picture, where the mat's corners are in it, its size, and what the line looks like."""

    name: str
    picture: NDArray[np.uint8]
    corners: Floats
    ends: Floats
    width_mm: float
    height_mm: float
    colour: str | None = None
    likeness: float = 0.5

    @property
    def size_mm(self) -> tuple[float, float]:
        return self.width_mm, self.height_mm

    @cached_property
    def from_above(self) -> NDArray[np.float32]:
        """The mat as it is seen from straight above; worked out where it is first asked for, which takes a moment."""
        return rectified(self.picture, self.corners, *self.size_mm, usual_step(*self.size_mm))

    def find_line(self, check: Check = carry_on) -> "Traced":
        """The line in it; `check` is called every now and then, and raises to give up."""
        from irontrail.core.mat.trace import trace

        return trace(self.from_above, usual_step(*self.size_mm), self.colour, self.likeness, check)

    def underlay(self) -> Underlay:
        """The mat from above, to lay tape over."""
        pixels = np.ascontiguousarray((255.0 * self.from_above[::-1]).astype(np.uint8))
        rows, columns, _ = pixels.shape
        seen = QImage(pixels.data, columns, rows, 3 * columns, QImage.Format.Format_RGB888)
        return Underlay(self.name, seen.copy())
