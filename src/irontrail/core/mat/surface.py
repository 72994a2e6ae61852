"""What a mat is made of: how much it shines, and how its grain makes it uneven."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SurfaceName = Literal["paper", "vinyl", "wood"]

# Wood's grain: its streaks lie along x; RMS share of the reflectance, and how wide and long a streak is.
STREAK_MM, STREAK_LENGTH_MM = 6.0, 400.0
GRAIN_SEED = 7


@dataclass(frozen=True)
class Surface:
    """How a surface differs from matt paper.

    `gloss` is how much of the room's light under the sensor comes back whatever the colour, where white card is 1;
    `grain` the RMS share by which its reflectance is uneven.
    """

    gloss: float
    grain: float


SURFACES: dict[SurfaceName, Surface] = {
    "paper": Surface(0.0, 0.0),
    "vinyl": Surface(0.5, 0.0),
    "wood": Surface(0.15, 0.07),
}


def grain(name: SurfaceName, shape: tuple[int, int], mm_per_px: float) -> NDArray[np.float32] | None:
    """What a surface's reflectance is multiplied by at each pixel; None where it is even.

    A sum of streaks across y, each with its own slow change along x.
    """
    rms = SURFACES[name].grain
    if rms == 0.0:
        return None
    rows, columns = shape
    random = np.random.default_rng(GRAIN_SEED)
    y, x = np.arange(rows) * mm_per_px, np.arange(columns) * mm_per_px
    waves = 6
    # sin(a + b) = sin a cos b + cos a sin b, so that no sine is taken of each pixel.
    of_rows, of_columns = [], []
    for _ in range(waves):
        across = 2.0 * np.pi / (STREAK_MM * np.exp(random.uniform(0.0, 1.5)))
        along = 2.0 * np.pi / (STREAK_LENGTH_MM * np.exp(random.uniform(0.0, 1.0)))
        lean, phase = random.uniform(0.0, 2.0 * np.pi, 2)
        bow = 2.0 * np.sin(along * x + lean) + phase
        of_rows += [np.sin(across * y), np.cos(across * y)]
        of_columns += [np.cos(bow), np.sin(bow)]
    rows_part = rms * np.sqrt(2.0 / waves) * np.array(of_rows).T
    uneven: NDArray[np.float32] = rows_part.astype(np.float32) @ np.array(of_columns, np.float32)
    uneven += 1.0
    return uneven
