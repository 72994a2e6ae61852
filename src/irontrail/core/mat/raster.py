"""The mat as a picture in linear light: how much red, green and blue comes back from each point."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Mat


def make_raster(mat: Mat) -> NDArray[np.float32]:
    """The mat's reflectance, anti-aliased, one pixel a millimetre.

    Returns
    -------
    ndarray, shape (height, width, 3)
        Row 0 is the mat's bottom edge; pixel (j, i) covers i..i+1 mm by j..j+1 mm.
    """
    shape = (round(mat.height_mm / MM_PER_PX), round(mat.width_mm / MM_PER_PX))
    route = make_route(mat)
    cover = np.zeros(shape, np.float32)
    _lay(
        cover,
        route.x_mm / MM_PER_PX,
        route.y_mm / MM_PER_PX,
        0.5 * mat.line.width_mm / MM_PER_PX,
        route.closed,
    )
    raster = np.empty((*shape, 3), np.float32)
    raster[:] = linear_light(mat.colour)
    _paint(raster, cover, linear_light(mat.line.colour))
    return raster


@njit(cache=True, nogil=True)
def _lay(cover, x, y, half_width, closed):
    """Raise each pixel's cover (0..1) to the share of it that the tape hides; open ends are cut square."""
    rows, columns = cover.shape
    reach = half_width + 1.5
    inner2, outer2 = (half_width - 0.5) ** 2, (half_width + 0.5) ** 2
    for n in range(x.size - 1):
        dx, dy = x[n + 1] - x[n], y[n + 1] - y[n]
        length2 = dx * dx + dy * dy
        i0, i1 = max(0, int(min(x[n], x[n + 1]) - reach)), min(columns, int(max(x[n], x[n + 1]) + reach) + 1)
        j0, j1 = max(0, int(min(y[n], y[n + 1]) - reach)), min(rows, int(max(y[n], y[n + 1]) + reach) + 1)
        for j in range(j0, j1):
            for i in range(i0, i1):
                px, py = i + 0.5 - x[n], j + 0.5 - y[n]
                along = min(max((px * dx + py * dy) / length2, 0.0), 1.0)
                off_x, off_y = px - along * dx, py - along * dy
                away2 = off_x * off_x + off_y * off_y
                if away2 <= inner2:
                    cover[j, i] = 1.0
                elif away2 < outer2:
                    cover[j, i] = max(cover[j, i], half_width + 0.5 - np.sqrt(away2))
    if not closed:
        _cut(cover, x[0], y[0], x[0] - x[1], y[0] - y[1], reach)
        _cut(cover, x[-1], y[-1], x[-1] - x[-2], y[-1] - y[-2], reach)


@njit(cache=True, nogil=True)
def _paint(raster, cover, colour):
    """Lay a colour over the raster as far as it covers each pixel."""
    for j in range(cover.shape[0]):
        for i in range(cover.shape[1]):
            share = cover[j, i]
            if share > 0.0:
                for k in range(3):
                    raster[j, i, k] += share * (colour[k] - raster[j, i, k])


@njit(cache=True, nogil=True)
def _cut(cover, x, y, out_x, out_y, reach):
    """Take away what lies outward of an open end, within `reach` of it."""
    rows, columns = cover.shape
    length = np.sqrt(out_x * out_x + out_y * out_y)
    for j in range(max(0, int(y - reach)), min(rows, int(y + reach) + 1)):
        for i in range(max(0, int(x - reach)), min(columns, int(x + reach) + 1)):
            px, py = i + 0.5 - x, j + 0.5 - y
            if px * px + py * py < reach * reach:
                past = (px * out_x + py * out_y) / length
                cover[j, i] *= min(max(0.5 - past, 0.0), 1.0)
