"""The spot: the patch of the mat that the sensor sees at once, a Gaussian.

The mat is blurred anew whenever the sensor's height is dragged. Most of a mat is bare, so it is blurred tile by tile,
and a tile with nothing but bare mat within the spot's reach is only copied. SciPy's filter is the oracle in the tests.
"""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.light.sensor import LAMP_WEIGHTS, Sensor, spot_sigma_mm
from irontrail.core.mat.reflectance import MM_PER_PX

# The Gaussian is cut where it has fallen to 3e-4 of its height.
CUT_SIGMAS = 4.0
# Side of a tile in pixels.
TILE = 64


def seen_field(raster: NDArray[np.float32], sensor: Sensor, height_mm: float) -> NDArray[np.float32]:
    """What the sensor's patch holds at every point: the raster in the lamp's colour, blurred by the spot.

    The raster is in red, green and blue, or in the lamp's light already.

    Returns
    -------
    ndarray, shape (channels, height, width), float32, C order
        Mean reflectance of the patch, 0..1; beyond the mat's rim the surface is taken to go on. One channel in the
        lamp's colour; red, green and blue for a sensor that gives the names of colours.
    """
    sigma_px = spot_sigma_mm(sensor, height_mm) / MM_PER_PX
    if raster.shape[2] == 1:
        return blurred(raster[:, :, 0], sigma_px)[None]
    if sensor.names_colours:
        return np.stack([blurred(raster[:, :, channel], sigma_px) for channel in range(3)])
    return blurred(raster @ np.array(LAMP_WEIGHTS[sensor.lamp], np.float32), sigma_px)[None]


def blurred(picture: NDArray[np.float32], sigma_px: float) -> NDArray[np.float32]:
    """A picture convolved with a Gaussian; beyond its rim the nearest pixel goes on.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns), float32
    sigma_px : float
        Standard deviation in pixels.
    """
    reach = int(CUT_SIGMAS * sigma_px + 0.5)
    weights = np.exp(-0.5 * (np.arange(reach + 1) / sigma_px) ** 2)
    weights /= weights[0] + 2.0 * weights[1:].sum()
    out = np.empty_like(picture)
    _blur(np.ascontiguousarray(picture), weights.astype(np.float32), out)
    return out


@compiled
def _blur(picture, weights, out):
    """Blur every tile that is not bare; a tile is bare if it and all within reach of it have one value."""
    rows, columns = picture.shape
    reach = weights.size - 1
    down = np.empty(TILE + 2 * reach, np.float32)
    for top in range(0, rows, TILE):
        for left in range(0, columns, TILE):
            bottom, right = min(top + TILE, rows), min(left + TILE, columns)
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
