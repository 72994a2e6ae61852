"""The spot: the patch of the mat that the sensor sees at once, a Gaussian.

The mat is blurred anew whenever the sensor's height or the tape is dragged. Most of a mat is bare, so it is blurred
tile by tile: a tile with nothing but bare mat within the spot's reach is only copied, and so is one that lies as it lay
in the picture blurred before. SciPy's filter is the oracle in the tests.
"""

from collections import deque
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.light.sensor import LAMP_WEIGHTS, Sensor, spot_sigma_mm
from irontrail.core.mat.reflectance import MM_PER_PX

# The Gaussian is cut where it has fallen to 3e-4 of its height.
CUT_SIGMAS = 4.0
# Side of a tile in pixels, and of the cells by which changes are found: a tile holds a whole number of them.
TILE = 64
CELL = 16


@dataclass(frozen=True, eq=False)
class Blurred:
    """A picture, shape (rows, columns), and what a Gaussian of `sigma_px` made of it."""

    picture: NDArray[np.float32]
    sigma_px: float
    out: NDArray[np.float32]


def seen_field(
    raster: NDArray[np.float32], sensor: Sensor, height_mm: float, last: deque[Blurred] | None = None
) -> NDArray[np.float32]:
    """What the sensor's patch holds at every point: the raster in the lamp's colour, blurred by the spot.

    The raster is in red, green and blue, or in the lamp's light already. In one light, what it has in common with the
    `last` one blurred is not blurred again, and it takes that one's place.

    Returns
    -------
    ndarray, shape (channels, height, width), float32, C order
        Mean reflectance of the patch, 0..1; beyond the mat's rim the surface is taken to go on. One channel in the
        lamp's colour; red, green and blue for a sensor that gives the names of colours.
    """
    sigma_px = spot_sigma_mm(sensor, height_mm) / MM_PER_PX
    if sensor.names_colours:
        return np.stack([blurred(raster[:, :, channel], sigma_px) for channel in range(3)])
    in_light = raster[:, :, 0] if raster.shape[2] == 1 else raster @ np.array(LAMP_WEIGHTS[sensor.lamp], np.float32)
    seen = blurred(in_light, sigma_px, last[-1] if last else None)
    if last is not None:
        last.append(Blurred(in_light, sigma_px, seen))
    return seen[None]


def blurred(picture: NDArray[np.float32], sigma_px: float, before: Blurred | None = None) -> NDArray[np.float32]:
    """A picture convolved with a Gaussian; beyond its rim the nearest pixel goes on.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns), float32
    sigma_px : float
        Standard deviation in pixels.
    before : Blurred, optional
        A picture that differs in places, blurred: what it has in common with this one is copied, to the last bit.
    """
    reach = int(CUT_SIGMAS * sigma_px + 0.5)
    weights = np.exp(-0.5 * (np.arange(reach + 1) / sigma_px) ** 2)
    weights /= weights[0] + 2.0 * weights[1:].sum()
    picture = np.ascontiguousarray(picture)
    if before is None or before.sigma_px != sigma_px or before.picture.shape != picture.shape:
        out = np.empty_like(picture)
        changed = np.ones((-(-picture.shape[0] // CELL), -(-picture.shape[1] // CELL)), np.bool_)
    else:
        out = before.out.copy()
        changed = _changed(picture, before.picture)
    _blur(picture, weights.astype(np.float32), changed, out)
    return out


@compiled
def _changed(picture, before):
    """Which cells of a picture are not as they were, shape (rows, columns) of cells."""
    rows, columns = picture.shape
    changed = np.zeros((-(-rows // CELL), -(-columns // CELL)), np.bool_)
    for j in range(rows):
        for n in range(changed.shape[1]):
            left, right = n * CELL, min((n + 1) * CELL, columns)
            here, then, differ = picture[j, left:right], before[j, left:right], 0
            for i in range(right - left):
                differ += here[i] != then[i]
            if differ > 0:
                changed[j // CELL, n] = True
    return changed


@compiled
def _is_touched(changed, top, bottom, left, right):
    """Whether any cell that a part of the picture reaches into has changed."""
    for j in range(max(top, 0) // CELL, min(-(-bottom // CELL), changed.shape[0])):
        for i in range(max(left, 0) // CELL, min(-(-right // CELL), changed.shape[1])):
            if changed[j, i]:
                return True
    return False


@compiled
def _blur(picture, weights, changed, out):
    """Blur every touched tile that is not bare; a tile is bare if it and all within reach of it have one value."""
    rows, columns = picture.shape
    reach = weights.size - 1
    down = np.empty(TILE + 2 * reach, np.float32)
    for top in range(0, rows, TILE):
        for left in range(0, columns, TILE):
            bottom, right = min(top + TILE, rows), min(left + TILE, columns)
            if not _is_touched(changed, top - reach, bottom + reach, left - reach, right + reach):
                continue
            if _is_bare(picture, top - reach, bottom + reach, left - reach, right + reach):
                out[top:bottom, left:right] = picture[top, left]
            else:
                _blur_tile(picture, weights, out, top, bottom, left, right, down)


@compiled
def _is_bare(picture, top, bottom, left, right):
    """Whether a part of the picture, as far as it lies inside, has one value all over."""
    rows, columns = picture.shape
    top, bottom, left, right = max(top, 0), min(bottom, rows), max(left, 0), min(right, columns)
    value = picture[top, left]
    for j in range(top, bottom):
        for i in range(left, right):
            if picture[j, i] != value:
                return False
    return True


@compiled
def _blur_tile(picture, weights, out, top, bottom, left, right, down):
    """Row by row: down the columns into `down`, which reaches beyond the tile on both sides, then along the row."""
    rows, columns = picture.shape
    reach = weights.size - 1
    first, last = max(left - reach, 0), min(right + reach, columns)
    before = first - (left - reach)
    width = last - first
    middle = down[before : before + width]
    # Plain slices with plain indices: only these does the compiler turn into instructions for many pixels at once.
    for j in range(top, bottom):
        here = picture[j, first:last]
        for i in range(width):
            middle[i] = weights[0] * here[i]
        for k in range(1, reach + 1):
            weight = weights[k]
            above, below = picture[max(j - k, 0), first:last], picture[min(j + k, rows - 1), first:last]
            for i in range(width):
                middle[i] += weight * (above[i] + below[i])
        down[:before] = middle[0]
        down[before + width :] = middle[width - 1]
        line, here = out[j, left:right], down[reach : reach + right - left]
        for i in range(right - left):
            line[i] = weights[0] * here[i]
        for k in range(1, reach + 1):
            weight = weights[k]
            before_line, after_line = down[reach - k :], down[reach + k :]
            for i in range(right - left):
                line[i] += weight * (before_line[i] + after_line[i])
