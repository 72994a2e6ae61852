"""The mat as a picture in linear light: how much red, green and blue comes back from each point."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.surface import grain
from irontrail.core.mat.tape import Mat, Patch

# Pieces of tape of about a millimetre overlap by this much, and by what opens between them outside a bend, so that none
# of the mat shows through.
OVERLAP_PX = 0.1
# A piece of tape of which less than this goes along the rows is looked for in whole rows.
STEEP = 1e-3


def make_raster(
    mat: Mat, mm_per_px: float = MM_PER_PX, lamp: tuple[float, float, float] | None = None
) -> NDArray[np.float32]:
    """The mat's reflectance, anti-aliased, one pixel a millimetre unless said otherwise.

    Patches lie at the bottom, then the other lines, each on its border, then the line on its own, then
    the patches that lie over it.

    Returns
    -------
    ndarray, shape (height, width, 3), or (height, width, 1) in the light of a lamp with weights for red, green, blue
        Row 0 is the mat's bottom edge; pixel (j, i) covers i..i+1 by j..j+1 pixels. A shining patch may exceed 1.
    """
    shape = (round(mat.height_mm / mm_per_px), round(mat.width_mm / mm_per_px))
    mixing = np.eye(3, dtype=np.float32) if lamp is None else np.array(lamp, np.float32)[:, None]

    def seen(colour: str) -> NDArray[np.float32]:
        return np.asarray(linear_light(colour) @ mixing, np.float32)

    raster = np.empty((*shape, mixing.shape[1]), np.float32)
    raster[:] = seen(mat.colour)
    uneven = grain(mat.surface, shape, mm_per_px)
    if uneven is not None:
        raster *= uneven[:, :, None]
    for patch in mat.patches:
        if not patch.over_line:
            _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if stroke.border_mm > 0.0:
            _paint(raster, _cover(shape, runs, stroke.border_mm, mm_per_px), seen(stroke.border_colour))
        _paint(raster, _cover(shape, runs, 0.0, mm_per_px), seen(stroke.colour))
    for patch in mat.patches:
        if patch.over_line:
            _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    return raster


def _cover(shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float, mm_per_px: float) -> NDArray[np.float32]:
    """Each pixel's share (0..1) that runs of tape hide, `wider_mm` wider on either side."""
    cover = np.zeros(shape, np.float32)
    for run in runs:
        left, right = (run.left_mm + wider_mm) / mm_per_px, (run.right_mm + wider_mm) / mm_per_px
        _lay(cover, run.x_mm / mm_per_px, run.y_mm / mm_per_px, left, right, run.closed)
    return cover


def _lay_patch(raster: NDArray[np.float32], patch: Patch, colour: NDArray[np.float32], mm_per_px: float) -> None:
    """Lay a rectangle; pixels at its rim are hidden by their share."""
    rows, columns = (np.arange(size) + 0.5 for size in raster.shape[:2])
    across = np.clip(0.5 * patch.width_mm / mm_per_px + 0.5 - np.abs(columns - patch.x_mm / mm_per_px), 0.0, 1.0)
    up = np.clip(0.5 * patch.height_mm / mm_per_px + 0.5 - np.abs(rows - patch.y_mm / mm_per_px), 0.0, 1.0)
    i, j = np.flatnonzero(across), np.flatnonzero(up)
    if i.size and j.size:
        part = raster[j[0] : j[-1] + 1, i[0] : i[-1] + 1]
        share = (up[j, None] * across[None, i])[:, :, None].astype(np.float32)
        part += share * (colour * np.float32(patch.shine) - part)


@compiled
def _lay(cover, x, y, left, right, closed):
    """Raise each pixel's cover (0..1) to the share of it that the tape hides; open ends are cut square.

    `left` and `right` are the distances of the edges from the middle at each of its points.
    """
    rows, columns = cover.shape
    last = x.size - 2
    for n in range(x.size - 1):
        dx, dy = x[n + 1] - x[n], y[n + 1] - y[n]
        length = np.sqrt(dx * dx + dy * dy)
        if length == 0.0:
            continue
        dx, dy = dx / length, dy / length
        reach = max(left[n], right[n]) + 1.5
        overlap = OVERLAP_PX + 0.5 * reach * max(_turn(x, y, n), _turn(x, y, n - 1))
        # The box of the piece, which lies askew, as far as it reaches.
        wide, high = min(reach, overlap + reach * abs(dy)), min(reach, overlap + reach * abs(dx))
        i0, i1 = max(0, int(min(x[n], x[n + 1]) - wide)), min(columns, int(max(x[n], x[n + 1]) + wide) + 1)
        j0, j1 = max(0, int(min(y[n], y[n + 1]) - high)), min(rows, int(max(y[n], y[n + 1]) + high) + 1)
        for j in range(j0, j1):
            py = j + 0.5 - y[n]
            first, behind = i0, i1
            if abs(dx) > STEEP:
                # Only these of the row can lie alongside; the test below decides.
                one, other = (-overlap - py * dy) / dx, (length + overlap - py * dy) / dx
                first = max(i0, int(np.floor(x[n] + min(one, other) - 1.0)))
                behind = min(i1, int(np.floor(x[n] + max(one, other))) + 2)
            for i in range(first, behind):
                if cover[j, i] >= 1.0:
                    continue
                px = i + 0.5 - x[n]
                along = px * dx + py * dy
                if along < -overlap or along > length + overlap:
                    continue
                aside = dx * py - dy * px
                share = (left[n] if aside >= 0.0 else right[n]) + 0.5 - abs(aside)
                if not closed and n == 0:
                    share = min(share, 0.5 + along)
                if not closed and n == last:
                    share = min(share, 0.5 + length - along)
                if share > cover[j, i]:
                    cover[j, i] = min(share, 1.0)


@compiled
def _turn(x, y, n):
    """How far the way turns from piece n to the next, in radians, without its sign; 0 past the ends."""
    if n < 0 or n + 2 >= x.size:
        return 0.0
    ax, ay, bx, by = x[n + 1] - x[n], y[n + 1] - y[n], x[n + 2] - x[n + 1], y[n + 2] - y[n + 1]
    return abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by))


@compiled
def _paint(raster, cover, colour):
    """Lay a colour over the raster as far as it covers each pixel."""
    for j in range(cover.shape[0]):
        for i in range(cover.shape[1]):
            share = cover[j, i]
            if share > 0.0:
                for k in range(raster.shape[2]):
                    raster[j, i, k] += share * (colour[k] - raster[j, i, k])
