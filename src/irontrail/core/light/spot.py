"""The spot: the patch of the mat that the sensor sees at once, a Gaussian.

The mat is blurred anew whenever the sensor's height or the tape is dragged. Most of a mat is bare: a cell with nothing
but bare mat within the spot's reach is only filled. SciPy's filter is the oracle in the tests.
"""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.light.reading import LAMP_WEIGHTS, spot_sigma_mm
from irontrail.core.light.sensor import Sensor
from irontrail.core.mat.cover import CELL
from irontrail.core.mat.reflectance import MM_PER_PX

# The Gaussian is cut where it has fallen to 3e-4 of its height.
CUT_SIGMAS = 4.0
# Rows that are blurred together.
BAND = 16


def seen_field(
    raster: NDArray[np.float32],
    sensor: Sensor,
    height_mm: float,
    laid: NDArray[np.bool_] | None = None,
    over: NDArray[np.float32] | None = None,
    used: NDArray[np.bool_] | None = None,
) -> NDArray[np.float32]:
    """What the sensor's patch holds at every point: the raster in the lamp's colour, blurred by the spot.

    The raster is in red, green and blue, or in the lamp's light already. `laid` are its `laid_cells`, if known.
    It may be written over a field that is done with, of which `used` may be other than this mat's bare surface.

    Returns
    -------
    ndarray, shape (channels, height, width), float32, C order
        Mean reflectance of the patch, 0..1; beyond the mat's rim the surface is taken to go on. One channel in the
        lamp's colour; red, green and blue for a sensor that gives the names of colours.
    """
    sigma_px = spot_sigma_mm(sensor, height_mm) / MM_PER_PX
    if sensor.names_colours:
        return np.stack([blurred(raster[:, :, channel], sigma_px, laid) for channel in range(3)])
    in_light = raster[:, :, 0] if raster.shape[2] == 1 else raster @ np.array(LAMP_WEIGHTS[sensor.lamp], np.float32)
    if over is None or over.shape != (1, *in_light.shape):
        return blurred(in_light, sigma_px, laid)[None]
    return blurred(in_light, sigma_px, laid, over[0], used)[None]


def seen_cells(laid: NDArray[np.bool_], sensor: Sensor, height_mm: float) -> NDArray[np.bool_]:
    """In which cells of its field a sensor may see more than the bare surface of a mat with these `laid_cells`."""
    reach = _reach_px(spot_sigma_mm(sensor, height_mm) / MM_PER_PX)
    # Rows that are blurred together are bare, or not, together; so are columns on either side of a step.
    near: NDArray[np.bool_] = _near(laid, -(-reach // CELL) + BAND // CELL - 1)
    return near


def blurred(
    picture: NDArray[np.float32],
    sigma_px: float,
    laid: NDArray[np.bool_] | None = None,
    over: NDArray[np.float32] | None = None,
    used: NDArray[np.bool_] | None = None,
) -> NDArray[np.float32]:
    """A picture convolved with a Gaussian; beyond its rim the nearest pixel goes on.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns), float32
    sigma_px : float
        Standard deviation in pixels.
    laid : ndarray of bool, shape (rows, columns) of cells
        Where it is false a cell is even for sure; without it all are looked at.
    over : ndarray, shape (rows, columns), float32
        Where to write it, if that is another picture that is done with.
    used : ndarray of bool, shape (rows, columns) of cells
        Where it is false, `over` is even already, and as this picture is where nothing is laid; without it, nowhere.
    """
    reach = _reach_px(sigma_px)
    weights = np.exp(-0.5 * (np.arange(reach + 1) / sigma_px) ** 2)
    weights /= weights[0] + 2.0 * weights[1:].sum()
    picture = np.ascontiguousarray(picture)
    out = np.empty_like(picture) if over is None else over
    every = np.ones((-(-picture.shape[0] // CELL), -(-picture.shape[1] // CELL)), np.bool_)
    given = (every if cells is None else cells for cells in (laid, used))
    _blur(picture, *given, weights.astype(np.float32), out)
    return out


def _reach_px(sigma_px: float) -> int:
    """How far a Gaussian reaches, in pixels."""
    return int(CUT_SIGMAS * sigma_px + 0.5)


@compiled
def _near(cells, by):
    """Which cells have one that is true among those so many away, up, down and askew."""
    rows, columns = cells.shape
    along, near = np.zeros_like(cells), np.zeros_like(cells)
    for m in range(rows):
        done = 0
        for n in range(columns):
            if cells[m, n]:
                for i in range(max(n - by, done), min(n + by + 1, columns)):
                    along[m, i] = True
                done = n + by + 1
    for m in range(rows):
        for j in range(max(m - by, 0), min(m + by + 1, rows)):
            for n in range(columns):
                near[m, n] |= along[j, n]
    return near


@compiled
def _ground(picture, laid):
    """The value of a picture where nothing is laid; NaN if there is no such place."""
    for m in range(laid.shape[0]):
        for n in range(laid.shape[1]):
            if not laid[m, n]:
                return picture[m * CELL, n * CELL]
    return np.float32(np.nan)


@compiled
def _bare(picture, laid, ground):
    """The value that each cell of a picture has all over, shape (rows, columns) of cells; NaN where it has several."""
    rows, columns = picture.shape
    bare = np.full(laid.shape, ground)
    for m in range(laid.shape[0]):
        for n in range(laid.shape[1]):
            if not laid[m, n]:
                continue
            left, right = n * CELL, min((n + 1) * CELL, columns)
            value = bare[m, n] = picture[m * CELL, left]
            # In most of those that are not even, a corner tells.
            differ = int(picture[min((m + 1) * CELL, rows) - 1, right - 1] != value)
            if differ:
                bare[m, n] = np.nan
                continue
            for j in range(m * CELL, min((m + 1) * CELL, rows)):
                here = picture[j, left:right]
                for i in range(right - left):
                    differ += here[i] != value
            if differ > 0:
                bare[m, n] = np.nan
    return bare


@compiled
def _blur(picture, laid, used, weights, out):
    """Fill what is bare as far as the spot reaches, and blur the rest: so many rows at a time, stretch by stretch."""
    rows, columns = picture.shape
    reach = weights.size - 1
    ground = _ground(picture, laid)
    bare = _bare(picture, laid, ground)
    level = np.empty(bare.shape[1], np.float32)
    ends = np.empty((2, level.size), np.int64)
    wide = columns + 2 * reach
    room = np.empty((3, (BAND + 2 * reach) * wide), np.float32)
    for row in range(0, rows, BAND):
        behind = min(row + BAND, rows)
        _level(bare, max(row - reach, 0) // CELL, min(behind - 1 + reach, rows - 1) // CELL, level)
        count = _stretches(level, columns, reach, ends)
        filled_to = 0
        for n in range(count + 1):
            left, right = (ends[0, n], ends[1, n]) if n < count else (columns, columns)
            _fill_level(out[row:behind], level, ground, used[row // CELL :], filled_to, left)
            if left < right:
                _blur_part(picture, weights, level, out, row, behind, left, right, room)
            filled_to = right


@compiled
def _level(bare, top, bottom, level):
    """The value that each column of cells has all over from one row of them to another; NaN where it has several."""
    for n in range(level.size):
        level[n] = bare[top, n]
    for m in range(top + 1, bottom + 1):
        for n in range(level.size):
            level[n] = level[n] if bare[m, n] == level[n] else np.float32(np.nan)


@compiled
def _stretches(level, columns, reach, ends):
    """How many stretches of a row are not level as far as the spot reaches.

    `ends` takes the first pixel of each and that behind its last.
    """
    count = 0
    for n in range(level.size):
        step = n + 1 < level.size and abs(level[n + 1] - level[n]) > 0.0
        if level[n] == level[n] and not step:
            continue
        left, right = max(n * CELL - reach, 0), min((n + 1) * CELL + reach, columns)
        if count > 0 and left <= ends[1, count - 1]:
            ends[1, count - 1] = right
        else:
            ends[0, count], ends[1, count] = left, right
            count += 1
    return count


@compiled
def _alike_to(level, n):
    """The cell behind the last one that is level as a cell is, or behind the last that is not level either."""
    end = n + 1
    while end < level.size and (level[end] == level[n] or (level[end] != level[end] and level[n] != level[n])):
        end += 1
    return end


@compiled
def _fill_level(lines, level, ground, used, left, right):
    """Give pixels of some rows that are level their value; those that are the ground's have it, but for the used."""
    while left < right:
        n = left // CELL
        end = min((n + 1) * CELL, right)
        for top in range(0, lines.shape[0], CELL):
            if level[n] != ground or used[top // CELL, n]:
                for j in range(top, min(top + CELL, lines.shape[0])):
                    _fill(lines[j, left:end], level[n])
        left = end


@compiled
def _blur_part(picture, weights, level, out, row, behind, left, right, room):
    """Some rows from one column to another: down the columns first, as far as the rows reach beyond, then along."""
    columns, high = picture.shape[1], behind - row
    reach = weights.size - 1
    wide = right - left + 2 * reach
    first, last = max(left - reach, 0), min(right + reach, columns)
    shift = reach - left
    down = room[0, : high * wide].reshape(high, wide)
    at = first
    while at < last:
        n = at // CELL
        end = min(_alike_to(level, n) * CELL, last)
        if level[n] == level[n]:
            for j in range(high):
                _fill(down[j, at + shift : end + shift], level[n])
        else:
            _blur_down(picture, weights, row, at, end, down[:, at + shift : end + shift], room[1], room[2])
        at = end
    for j in range(high):
        _fill(down[j, : first + shift], down[j, first + shift])
        _fill(down[j, last + shift :], down[j, last + shift - 1])
    # As if it were one long row: what comes of where two meet is not looked at.
    _weigh(room[0], 1, weights, room[1, : high * wide - 2 * reach])
    for j in range(high):
        _copy(room[1, j * wide : j * wide + right - left], out[row + j, left:right])


@compiled
def _blur_down(picture, weights, row, left, right, into, above, made):
    """Some rows, down the columns."""
    rows, wide, high = picture.shape[0], right - left, into.shape[0]
    reach = weights.size - 1
    for j in range(high + 2 * reach):
        _copy(picture[min(max(row + j - reach, 0), rows - 1), left:right], above[j * wide : (j + 1) * wide])
    _weigh(above, wide, weights, made[: high * wide])
    for j in range(high):
        _copy(made[j * wide : (j + 1) * wide], into[j])


@compiled
def _weigh(values, step, weights, made):
    """Of numbers in a row the means, each with those so many steps before and after it."""
    reach, size = weights.size - 1, made.size
    # Plain slices with plain indices: only these does the compiler turn into instructions for many pixels at once.
    here = values[reach * step : reach * step + size]
    for i in range(size):
        made[i] = weights[0] * here[i]
    k = 1
    while k + 2 <= reach:
        # Three at a time, so that the means are fetched and put back a third as often.
        first, second, third = weights[k], weights[k + 1], weights[k + 2]
        b, c, d = values[(reach - k) * step :], values[(reach - k - 1) * step :], values[(reach - k - 2) * step :]
        e, f, g = values[(reach + k) * step :], values[(reach + k + 1) * step :], values[(reach + k + 2) * step :]
        for i in range(size):
            made[i] = made[i] + first * (b[i] + e[i]) + second * (c[i] + f[i]) + third * (d[i] + g[i])
        k += 3
    while k <= reach:
        weight, before, after = weights[k], values[(reach - k) * step :], values[(reach + k) * step :]
        for i in range(size):
            made[i] += weight * (before[i] + after[i])
        k += 1


# Pixel by pixel, which becomes one block: what is assigned to a slice is looked at first for whether it lies there.
@compiled
def _copy(values, to):
    for i in range(to.size):
        to[i] = values[i]


@compiled
def _fill(line, value):
    for i in range(line.size):
        line[i] = value
