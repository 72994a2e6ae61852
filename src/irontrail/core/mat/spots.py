"""How nearly the spots of a mat are reached by where the legs of a run leave the robot."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.tape import Spot

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Misses:
    """By how much each spot is missed, shape (..., spots), and by which leg (from 0) it is come to most nearly.

    NaN, and leg -1, where no leg came to its end.
    """

    mm: Floats
    deg: Floats
    reached: NDArray[np.bool_]
    leg: NDArray[np.int64]

    @property
    def missed_share(self) -> Floats:
        """The share of the spots that is missed, shape (...)."""
        return np.asarray(1.0 - self.reached.mean(axis=-1))

    @property
    def worst_mm(self) -> Floats:
        """How far the spot missed most is missed, shape (...)."""
        return np.asarray(self.mm.max(axis=-1))

    @property
    def worst_deg(self) -> Floats:
        """By how much the direction missed most is missed, shape (...)."""
        return np.asarray(self.deg.max(axis=-1))


def misses(spots: Sequence[Spot], stands: Floats) -> Misses:
    """How nearly some spots are reached.

    Parameters
    ----------
    spots : sequence of Spot
        One at least.
    stands : ndarray, shape (..., legs, 3)
        Where each leg left the axle's middle (x, y in mm) and the heading (rad); NaN for a leg without an end.
    """
    x, y, heading, within_mm, within_deg = (
        np.array([getattr(spot, name) for spot in spots])
        for name in ("x_mm", "y_mm", "heading_deg", "within_mm", "within_deg")
    )
    # A spot in a row, a leg in a column.
    away = np.hypot(stands[..., None, :, 0] - x[:, None], stands[..., None, :, 1] - y[:, None])
    turned = np.abs((np.degrees(stands[..., None, :, 2]) - heading[:, None] + 180.0) % 360.0 - 180.0)
    off = np.maximum(away / within_mm[:, None], turned / within_deg[:, None])
    known = np.where(np.isnan(off), np.inf, off)
    leg = known.argmin(axis=-1)
    chosen = leg[..., None]
    none = ~np.isfinite(np.take_along_axis(known, chosen, -1)[..., 0])
    mm, deg = (np.take_along_axis(each, chosen, -1)[..., 0] for each in (away, turned))
    reached = np.take_along_axis(known, chosen, -1)[..., 0] <= 1.0
    return Misses(np.where(none, np.nan, mm), np.where(none, np.nan, deg), reached, np.where(none, -1, leg))
