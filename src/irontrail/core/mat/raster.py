"""The mat as a picture in linear light: how much red, green and blue comes back from each point."""

from collections.abc import Iterable, Iterator
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.mat.cover import CELL, Edges, Strip, cover_of, in_cells, mark
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.surface import SURFACES, grain
from irontrail.core.mat.tape import Mat, Patch, Stroke

# Turning by less than this from one piece to the next is going straight on.
STRAIGHT_RAD = 1e-9
# In place of what a row of a bare cell holds: a cell is painted over as it is.
AS_IT_IS = np.zeros(0, np.float32)


def make_raster(
    mat: Mat,
    mm_per_px: float = MM_PER_PX,
    lamp: tuple[float, float, float] | None = None,
    over: NDArray[np.float32] | None = None,
    used: NDArray[np.bool_] | None = None,
) -> NDArray[np.float32]:
    """The mat's reflectance, anti-aliased, one pixel a millimetre unless said otherwise.

    Patches lie at the bottom, then the other lines, each on its border, then the line on its own, then
    the patches that lie over it. It is laid in the memory of a raster that is done with, if that is as large; `used`
    are the cells in which that is not this mat's bare surface, if that is known.

    Returns
    -------
    ndarray, shape (height, width, 3), or (height, width, 1) in the light of a lamp with weights for red, green, blue
        Row 0 is the mat's bottom edge; pixel (j, i) covers i..i+1 by j..j+1 pixels. A shining patch may exceed 1.
    """
    shape = (round(mat.height_mm / mm_per_px), round(mat.width_mm / mm_per_px))
    mixing = np.eye(3, dtype=np.float32) if lamp is None else np.array(lamp, np.float32)[:, None]

    def seen(colour: str) -> NDArray[np.float32]:
        return np.asarray(linear_light(colour) @ mixing, np.float32)

    whole = (*shape, mixing.shape[1])
    if over is None or over.shape != whole:
        over = used = None
    raster = np.empty(whole, np.float32) if over is None else over
    used = np.ones(in_cells(shape), np.bool_) if used is None else used
    # Row by row: a pixel at a time takes ten times as long.
    of_rows, bare = raster.reshape(shape[0], -1), np.tile(seen(mat.colour), CELL)
    uneven = grain(mat.surface, shape, mm_per_px)
    under = [patch for patch in mat.patches if not patch.over_line]
    even = uneven is None and not under
    if not even:
        clear_cells(of_rows, used, bare)
    if uneven is not None:
        raster *= uneven[:, :, None]
    for patch in under:
        _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    for n, (cover, place, colour) in enumerate(_tape(mat, shape, mm_per_px)):
        lowest = even and n == 0
        if lowest:
            # Where it lies, cells are made bare when they are painted.
            clear_cells(of_rows, used & (place < 0), bare)
        _paint(raster, cover, place, seen(colour), bare if lowest else AS_IT_IS)
    for patch in mat.patches:
        if patch.over_line:
            _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    return raster


def hidden_by(strokes: Iterable[Stroke], shape: tuple[int, int], mm_per_px: float) -> NDArray[np.bool_]:
    """Which pixels of a picture some lines hide, if only in part; borders hide too."""
    bare = np.ones((*shape, 1), np.float32)
    for stroke in strokes:
        runs = tape_runs(stroke, stroke_route(stroke, ""))
        _paint(bare, *_cover(shape, runs, stroke.border_mm, mm_per_px), np.zeros(1, np.float32), AS_IT_IS)
    return np.asarray(bare[:, :, 0] < 1.0)


def same_sheet(one: Mat, other: Mat) -> bool:
    """Whether two mats look alike where nothing is laid on either, and neither is uneven: of one size and colour."""
    return all(getattr(one, name) == getattr(other, name) for name in ("width_mm", "height_mm", "colour"))


def laid_cells(mat: Mat, mm_per_px: float = MM_PER_PX) -> NDArray[np.bool_]:
    """In which cells of `make_raster` anything may lie on a mat, or be uneven, shape (rows, columns) of cells."""
    shape = round(mat.height_mm / mm_per_px), round(mat.width_mm / mm_per_px)
    laid = np.full(in_cells(shape), SURFACES[mat.surface].grain > 0.0)
    for patch in mat.patches:
        up, across = (np.flatnonzero(share) // CELL for share in _shares(patch, shape, mm_per_px))
        if up.size and across.size:
            laid[up[0] : up[-1] + 1, across[0] : across[-1] + 1] = True
    for stroke in mat.lines:
        laid |= _reached(shape, tape_runs(stroke, stroke_route(stroke, mat.name)), stroke.border_mm, mm_per_px)
    return laid


def _tape(
    mat: Mat, shape: tuple[int, int], mm_per_px: float
) -> Iterator[tuple[NDArray[np.float32], NDArray[np.int32], str]]:
    """What of a mat's tape hides each pixel, from the lowest up, see `cover_of`; and its colour."""
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if stroke.border_mm > 0.0:
            yield *_cover(shape, runs, stroke.border_mm, mm_per_px), stroke.border_colour
        yield *_cover(shape, runs, 0.0, mm_per_px), stroke.colour


def _cover(
    shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float, mm_per_px: float
) -> tuple[NDArray[np.float32], NDArray[np.int32]]:
    """Each pixel's share (0..1) that runs of tape hide, `wider_mm` wider on either side; see `cover_of`."""
    strips: list[Strip] = [(*_in_px(run, wider_mm, mm_per_px), run.closed) for run in runs]
    return cover_of(shape, strips, _reached(shape, runs, wider_mm, mm_per_px))


# Asked for by what is laid and by what is seen of it.
@lru_cache(maxsize=8)
def _reached(shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float, mm_per_px: float) -> NDArray[np.bool_]:
    """Which cells of a picture runs of tape may reach into, `wider_mm` wider on either side."""
    cells = np.zeros(in_cells(shape), np.bool_)
    for run in runs:
        mark(cells, *_in_px(run, wider_mm, mm_per_px))
    return cells


def _in_px(run: TapeRun, wider_mm: float, mm_per_px: float) -> Edges:
    """The points of a run and how far its edges are from each, `wider_mm` wider on either side, in pixels."""
    x, y, left, right = (each / mm_per_px for each in _as_few(run))
    return x, y, left + wider_mm / mm_per_px, right + wider_mm / mm_per_px


# Asked for as often as something is laid of it, as is its border.
@lru_cache(maxsize=32)
def _as_few(run: TapeRun) -> tuple[NDArray[np.float64], ...]:
    """The points of a run, and how far its edges are from each, with straight stretches of one width in one piece.

    The pieces on either side of where it turns stay as they are, since what opens there is laid over by both.
    """
    x, y = np.diff(run.x_mm), np.diff(run.y_mm)
    squared = x * x + y * y
    bent = np.abs(x[:-1] * y[1:] - y[:-1] * x[1:]) > STRAIGHT_RAD * np.sqrt(squared[:-1] * squared[1:])
    wider = [np.diff(side[:-1]) != 0.0 for side in (run.left_mm, run.right_mm)]
    turns = np.concatenate(([True], bent | wider[0] | wider[1], [True]))
    kept = turns.copy()
    kept[1:] |= turns[:-1]
    kept[:-1] |= turns[1:]
    return tuple(each[kept] for each in (run.x_mm, run.y_mm, run.left_mm, run.right_mm))


def _lay_patch(raster: NDArray[np.float32], patch: Patch, colour: NDArray[np.float32], mm_per_px: float) -> None:
    """Lay a rectangle; pixels at its rim are hidden by their share."""
    up, across = _shares(patch, raster.shape[:2], mm_per_px)
    i, j = np.flatnonzero(across), np.flatnonzero(up)
    if i.size and j.size:
        part = raster[j[0] : j[-1] + 1, i[0] : i[-1] + 1]
        share = (up[j, None] * across[None, i])[:, :, None].astype(np.float32)
        part += share * (colour * np.float32(patch.shine) - part)


def _shares(patch: Patch, shape: tuple[int, ...], mm_per_px: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """By how much a rectangle hides pixels by their row, and by their column, 0..1."""
    rows, columns = (np.arange(size) + 0.5 for size in shape)
    across = np.clip(0.5 * patch.width_mm / mm_per_px + 0.5 - np.abs(columns - patch.x_mm / mm_per_px), 0.0, 1.0)
    up = np.clip(0.5 * patch.height_mm / mm_per_px + 0.5 - np.abs(rows - patch.y_mm / mm_per_px), 0.0, 1.0)
    return up, across


@compiled
def clear_cells(of_rows, cells, bare):
    """Make some cells of a picture bare, given as rows of numbers; `bare` are those of a row of a cell."""
    rows, size = of_rows.shape
    wide = bare.size
    for n in range(cells.shape[0]):
        for m in range(cells.shape[1]):
            if cells[n, m]:
                for j in range(n * CELL, min((n + 1) * CELL, rows)):
                    here = of_rows[j, m * wide : min((m + 1) * wide, size)]
                    for i in range(here.size):
                        here[i] = bare[i]


@compiled
def _paint(raster, cover, place, colour, bare):
    """Lay a colour over the raster as far as it covers each pixel; first each cell is made `bare`, unless AS_IT_IS."""
    rows, columns, channels = raster.shape
    of_rows = raster.reshape((rows, columns * channels))
    for n in range(place.shape[0]):
        for m in range(place.shape[1]):
            if place[n, m] < 0:
                continue
            shares = cover[place[n, m]]
            left, wide = m * CELL, min(CELL, columns - m * CELL)
            for j in range(n * CELL, min((n + 1) * CELL, rows)):
                here, share = of_rows[j, left * channels : (left + wide) * channels], shares[j - n * CELL]
                if bare.size > 0:
                    for i in range(here.size):
                        here[i] = bare[i]
                if channels == 1:
                    # Next to one another: many pixels by one instruction.
                    for i in range(wide):
                        here[i] += share[i] * (colour[0] - here[i])
                else:
                    for i in range(wide):
                        for k in range(channels):
                            here[i * channels + k] += share[i] * (colour[k] - here[i * channels + k])
