"""The spot: the patch of the mat that the sensor sees at once, a Gaussian.

The mat is blurred anew whenever the sensor's height or the tape is dragged. Most of a mat is bare: a cell with nothing
but bare mat within the spot's reach is only filled. SciPy's filter is the oracle in the tests.
"""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.light.reading import LAMP_WEIGHTS, spot_sigma_mm
from irontrail.core.light.sensor import Sensor
from irontrail.core.mat.reflectance import MM_PER_PX

# The Gaussian is cut where it has fallen to 3e-4 of its height.
CUT_SIGMAS = 4.0
# Side in pixels of the cells by which is found what is bare.
CELL = 16


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
    if sensor.names_colours:
        return np.stack([blurred(raster[:, :, channel], sigma_px) for channel in range(3)])
    in_light = raster[:, :, 0] if raster.shape[2] == 1 else raster @ np.array(LAMP_WEIGHTS[sensor.lamp], np.float32)
    return blurred(in_light, sigma_px)[None]


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
    picture = np.ascontiguousarray(picture)
    out = np.empty_like(picture)
    _blur(picture, weights.astype(np.float32), out)
    return out


@compiled
def _bare(picture):
    """The value that each cell of a picture has all over, shape (rows, columns) of cells; NaN where it has several."""
    rows, columns = picture.shape
    bare = np.empty((-(-rows // CELL), -(-columns // CELL)), np.float32)
    for j in range(rows):
        for n in range(bare.shape[1]):
            left, right = n * CELL, min((n + 1) * CELL, columns)
            if j % CELL == 0:
                bare[j // CELL, n] = picture[j, left]
            here, value, differ = picture[j, left:right], bare[j // CELL, n], 0
            for i in range(right - left):
                differ += here[i] != value
            if differ > 0:
                bare[j // CELL, n] = np.nan
    return bare


@compiled
def _blur(picture, weights, out):
    """Fill each cell that is bare as far as the spot reaches, and blur the others, run by run."""
    rows, columns = picture.shape
    reach = weights.size - 1
    cells = -(-reach // CELL)
    bare = _bare(picture)
    down = np.empty(columns + 2 * reach, np.float32)
    for row in range(bare.shape[0]):
        top, bottom = row * CELL, min((row + 1) * CELL, rows)
        begun = columns
        for column in range(bare.shape[1] + 1):
            left, right = min(column * CELL, columns), min((column + 1) * CELL, columns)
            if left < right and not _is_even(bare, row, column, cells):
                begun = min(begun, left)
                continue
            if begun < columns:
                _blur_part(picture, weights, out, top, bottom, begun, left, down)
                begun = columns
            out[top:bottom, left:right] = bare[row, min(column, bare.shape[1] - 1)]


@compiled
def _is_even(bare, row, column, reach):
    """Whether all cells within reach of one, in cells, are bare and alike."""
    value = bare[row, column]
    for j in range(max(row - reach, 0), min(row + reach + 1, bare.shape[0])):
        for i in range(max(column - reach, 0), min(column + reach + 1, bare.shape[1])):
            if bare[j, i] != value:
                return False
    return True


@compiled
def _blur_part(picture, weights, out, top, bottom, left, right, down):
    """Row by row: down the columns into `down`, which reaches beyond the part on both sides, then along the row."""
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
        down[before + width : right - left + 2 * reach] = middle[width - 1]
        line, here = out[j, left:right], down[reach : reach + right - left]
        for i in range(right - left):
            line[i] = weights[0] * here[i]
        for k in range(1, reach + 1):
            weight = weights[k]
            before_line, after_line = down[reach - k :], down[reach + k :]
            for i in range(right - left):
                line[i] += weight * (before_line[i] + after_line[i])
