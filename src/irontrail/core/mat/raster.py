"""The mat as a picture in linear light: how much red, green and blue comes back from each point."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat, Patch


def make_raster(mat: Mat) -> NDArray[np.float32]:
    """The mat's reflectance, anti-aliased, one pixel a millimetre.

    Patches lie at the bottom, then the other lines, each on its border, then the line on its own, then
    the patches that lie over it.

    Returns
    -------
    ndarray, shape (height, width, 3)
        Row 0 is the mat's bottom edge; pixel (j, i) covers i..i+1 mm by j..j+1 mm. A shining patch may exceed 1.
    """
    shape = (round(mat.height_mm / MM_PER_PX), round(mat.width_mm / MM_PER_PX))
    raster = np.empty((*shape, 3), np.float32)
    raster[:] = linear_light(mat.colour)
    for patch in mat.patches:
        if not patch.over_line:
            _lay_patch(raster, patch)
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if stroke.border_mm > 0.0:
            _paint(raster, _cover(shape, runs, stroke.border_mm), linear_light(stroke.border_colour))
        _paint(raster, _cover(shape, runs, 0.0), linear_light(stroke.colour))
    for patch in mat.patches:
        if patch.over_line:
            _lay_patch(raster, patch)
    return raster


def _cover(shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float) -> NDArray[np.float32]:
    """Each pixel's share (0..1) that runs of tape hide, `wider_mm` wider on either side."""
    cover = np.zeros(shape, np.float32)
    for run in runs:
        left, right = (run.left_mm + wider_mm) / MM_PER_PX, (run.right_mm + wider_mm) / MM_PER_PX
        _lay(cover, run.x_mm / MM_PER_PX, run.y_mm / MM_PER_PX, left, right, run.closed)
    return cover


def _lay_patch(raster: NDArray[np.float32], patch: Patch) -> None:
    """Lay a rectangle; pixels at its rim are hidden by their share."""
    rows, columns = (np.arange(size) + 0.5 for size in raster.shape[:2])
    across = np.clip(0.5 * patch.width_mm / MM_PER_PX + 0.5 - np.abs(columns - patch.x_mm / MM_PER_PX), 0.0, 1.0)
    up = np.clip(0.5 * patch.height_mm / MM_PER_PX + 0.5 - np.abs(rows - patch.y_mm / MM_PER_PX), 0.0, 1.0)
    i, j = np.flatnonzero(across), np.flatnonzero(up)
    if i.size and j.size:
        part = raster[j[0] : j[-1] + 1, i[0] : i[-1] + 1]
        share = (up[j, None] * across[None, i])[:, :, None].astype(np.float32)
        part += share * (linear_light(patch.colour) * np.float32(patch.shine) - part)


@njit(cache=True, nogil=True)
def _lay(cover, x, y, left, right, closed):
    """Raise each pixel's cover (0..1) to the share of it that the tape hides; open ends are cut square.

    `left` and `right` are the distances of the edges from the middle at each of its points.
    """
    rows, columns = cover.shape
    least = min(left.min(), right.min())
    for n in range(x.size - 1):
        dx, dy = x[n + 1] - x[n], y[n + 1] - y[n]
        length2 = dx * dx + dy * dy
        reach = max(left[n], right[n]) + 1.5
        i0, i1 = max(0, int(min(x[n], x[n + 1]) - reach)), min(columns, int(max(x[n], x[n + 1]) + reach) + 1)
        j0, j1 = max(0, int(min(y[n], y[n + 1]) - reach)), min(rows, int(max(y[n], y[n + 1]) + reach) + 1)
        for j in range(j0, j1):
            for i in range(i0, i1):
                px, py = i + 0.5 - x[n], j + 0.5 - y[n]
                along = (px * dx + py * dy) / length2
                if along < 0.0 or along > 1.0:
                    # Past its ends a piece only fills the joint: at the width that the tape has everywhere.
                    along, half = min(max(along, 0.0), 1.0), least
                else:
                    half = left[n] if dx * py - dy * px >= 0.0 else right[n]
                off_x, off_y = px - along * dx, py - along * dy
                away2 = off_x * off_x + off_y * off_y
                inner = max(half - 0.5, 0.0)
                if away2 <= inner * inner:
                    cover[j, i] = 1.0
                elif away2 < (half + 0.5) * (half + 0.5):
                    cover[j, i] = max(cover[j, i], min(half + 0.5 - np.sqrt(away2), 1.0))
    if not closed:
        _cut(cover, x[0], y[0], x[0] - x[1], y[0] - y[1], max(left[0], right[0]) + 1.5)
        _cut(cover, x[-1], y[-1], x[-1] - x[-2], y[-1] - y[-2], max(left[-1], right[-1]) + 1.5)


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
