"""What shadows and glares make of the room's light at places of the mat; the engine has its own, compiled."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from irontrail.core.light.sensor import LightArea

Floats = NDArray[np.float64]


def shadow_factor(areas: tuple[LightArea, ...], x_mm: ArrayLike, y_mm: ArrayLike) -> Floats:
    """The room's light at places, as a share of what it is elsewhere; each area fades over its soft edge."""
    x, y = np.asarray(x_mm, np.float64), np.asarray(y_mm, np.float64)
    factor = np.ones(np.broadcast(x, y).shape)
    for area in areas:
        radius = np.hypot((x - area.x_mm) / area.half_width_mm, (y - area.y_mm) / area.half_height_mm)
        inside = radius <= 1.0
        away = np.hypot(x - area.x_mm, y - area.y_mm) * (1.0 - 1.0 / np.where(inside, 1.0, radius))
        share = np.minimum(away / area.soft_mm, 1.0)
        smooth = np.where(inside, 0.0, share * share * (3.0 - 2.0 * share))
        factor *= area.factor + (1.0 - area.factor) * smooth
    return factor
