"""The mat as a picture in linear light: how much red, green and blue comes back from each point."""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.reflectance import MM_PER_PX, linear_light
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.surface import SURFACES, grain
from irontrail.core.mat.tape import Mat, Patch, Stroke

# Pieces of tape of about a millimetre overlap by this much, and by what opens between them outside a bend, so that none
# of the mat shows through.
OVERLAP_PX = 0.1
# A piece of tape of which less than this goes along the rows, or across them, is looked for in whole rows.
STEEP = 1e-3
# By less than this does rounding move what is looked for there.
ROUNDING_PX = 1e-6
# Turning by less than this from one piece to the next is going straight on.
STRAIGHT_RAD = 1e-9
# Side of the cells, in pixels, in which the tape is laid or is not.
CELL = 8

# The middle of a strip of tape and the distance of its edges to the left and the right (y up), in pixels; and with
# whether it is closed.
Edges = tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]
Strip = tuple[*Edges, bool]


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
    used = np.ones(_in_cells(shape), np.bool_) if used is None else used
    # Row by row: a pixel at a time takes ten times as long.
    clear_cells(raster.reshape(shape[0], -1), used, np.tile(seen(mat.colour), CELL))
    uneven = grain(mat.surface, shape, mm_per_px)
    if uneven is not None:
        raster *= uneven[:, :, None]
    for patch in mat.patches:
        if not patch.over_line:
            _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if stroke.border_mm > 0.0:
            _paint(raster, *_cover(shape, runs, stroke.border_mm, mm_per_px), seen(stroke.border_colour))
        _paint(raster, *_cover(shape, runs, 0.0, mm_per_px), seen(stroke.colour))
    for patch in mat.patches:
        if patch.over_line:
            _lay_patch(raster, patch, seen(patch.colour), mm_per_px)
    return raster


def hidden_by(strokes: Iterable[Stroke], shape: tuple[int, int], mm_per_px: float) -> NDArray[np.bool_]:
    """Which pixels of a picture some lines hide, if only in part; borders hide too."""
    bare = np.ones((*shape, 1), np.float32)
    for stroke in strokes:
        runs = tape_runs(stroke, stroke_route(stroke, ""))
        _paint(bare, *_cover(shape, runs, stroke.border_mm, mm_per_px), np.zeros(1, np.float32))
    return np.asarray(bare[:, :, 0] < 1.0)


def same_sheet(one: Mat, other: Mat) -> bool:
    """Whether two mats look alike where nothing is laid on either, and neither is uneven: of one size and colour."""
    return all(getattr(one, name) == getattr(other, name) for name in ("width_mm", "height_mm", "colour"))


def laid_cells(mat: Mat, mm_per_px: float = MM_PER_PX) -> NDArray[np.bool_]:
    """In which cells of `make_raster` anything may lie on a mat, or be uneven, shape (rows, columns) of cells."""
    shape = round(mat.height_mm / mm_per_px), round(mat.width_mm / mm_per_px)
    laid = np.full(_in_cells(shape), SURFACES[mat.surface].grain > 0.0)
    for patch in mat.patches:
        up, across = (np.flatnonzero(share) // CELL for share in _shares(patch, shape, mm_per_px))
        if up.size and across.size:
            laid[up[0] : up[-1] + 1, across[0] : across[-1] + 1] = True
    for stroke in mat.lines:
        laid |= _reached(shape, tape_runs(stroke, stroke_route(stroke, mat.name)), stroke.border_mm, mm_per_px)
    return laid


def _in_cells(shape: tuple[int, int]) -> tuple[int, int]:
    """How many cells a picture has, down and across."""
    return -(-shape[0] // CELL), -(-shape[1] // CELL)


def _cover(
    shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float, mm_per_px: float
) -> tuple[NDArray[np.float32], NDArray[np.int32]]:
    """Each pixel's share (0..1) that runs of tape hide, `wider_mm` wider on either side; see `cover_of`."""
    strips: list[Strip] = [(*_in_px(run, wider_mm, mm_per_px), run.closed) for run in runs]
    return cover_of(shape, strips, _reached(shape, runs, wider_mm, mm_per_px))


def cover_of(
    shape: tuple[int, int], strips: list[Strip], reached: NDArray[np.bool_] | None = None
) -> tuple[NDArray[np.float32], NDArray[np.int32]]:
    """Each pixel's share (0..1) that strips of tape hide; `reached` are the cells that they may reach into, if known.

    Returns
    -------
    cover : ndarray, shape (n, CELL, CELL)
        The shares in the n cells that tape may reach into: an eighth of a mat, which fits the processor's memory.
    place : ndarray, shape (rows, columns) of cells
        Which of the n a cell of the mat is; -1 where there is no tape.
    """
    if reached is None:
        reached = np.zeros(_in_cells(shape), np.bool_)
        for x, y, left, right, _ in strips:
            _mark(reached, x, y, left, right)
    place, count = np.full(reached.shape, -1, np.int32), np.count_nonzero(reached)
    place[reached] = np.arange(count)
    cover = np.zeros((count, CELL, CELL), np.float32)
    for x, y, left, right, closed in strips:
        _lay(cover, place, *shape, x, y, left, right, closed)
    return cover, place


# Asked for by what is laid and by what is seen of it.
@lru_cache(maxsize=8)
def _reached(shape: tuple[int, int], runs: tuple[TapeRun, ...], wider_mm: float, mm_per_px: float) -> NDArray[np.bool_]:
    """Which cells of a picture runs of tape may reach into, `wider_mm` wider on either side."""
    cells = np.zeros(_in_cells(shape), np.bool_)
    for run in runs:
        _mark(cells, *_in_px(run, wider_mm, mm_per_px))
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
def _mark(cells, x, y, left, right):
    """Mark where a cell may be reached by the tape: box by box along it, each of about a cell's length of it."""
    ax, ay, bx, by, reach, way = x[0], y[0], x[0], y[0], 0.0, 0.0
    for n in range(x.size - 1):
        dx, dy = x[n + 1] - x[n], y[n + 1] - y[n]
        length = np.sqrt(dx * dx + dy * dy)
        reach, way = max(reach, _reach(left, right, n)), way + length
        boxes = int(length / CELL) + 1
        for k in range(1, boxes + 1):
            to_x, to_y = x[n] + dx * k / boxes, y[n] + dy * k / boxes
            ax, ay, bx, by = min(ax, to_x), min(ay, to_y), max(bx, to_x), max(by, to_y)
            if way < CELL and n < x.size - 2:
                # More short pieces go into this box.
                continue
            top, bottom = max(int((ay - reach) / CELL), 0), int((by + reach + 1.0) / CELL)
            first, last = max(int((ax - reach) / CELL), 0), int((bx + reach + 1.0) / CELL)
            for j in range(top, min(bottom + 1, cells.shape[0])):
                for i in range(first, min(last + 1, cells.shape[1])):
                    cells[j, i] = True
            ax, ay, bx, by = to_x, to_y, to_x, to_y
        if way >= CELL:
            reach, way = 0.0, 0.0


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
def _reach(left, right, n):
    """How far from its middle line a piece of tape has pixels."""
    return max(left[n], right[n]) + 1.5


@compiled
def _lay(cover, place, rows, columns, x, y, left, right, closed):
    """Raise each pixel's cover (0..1) to the share of it that the tape hides; open ends are cut square.

    `left` and `right` are the distances of the edges from the middle at each of its points.
    """
    last = x.size - 2
    firsts, lasts = np.empty(rows), np.empty(rows)
    turn = 0.0
    for n in range(x.size - 1):
        turn_before, turn = turn, _turn(x, y, n)
        dx, dy = x[n + 1] - x[n], y[n + 1] - y[n]
        length = np.sqrt(dx * dx + dy * dy)
        if length == 0.0:
            continue
        dx, dy = dx / length, dy / length
        reach = _reach(left, right, n)
        overlap = OVERLAP_PX + 0.5 * reach * max(turn, turn_before)
        # A pixel's middle lies half a pixel on.
        middle = x[n] - 0.5
        per_dx = 1.0 / dx if abs(dx) > STEEP else 0.0
        per_dy = 1.0 / dy if abs(dy) > STEEP else 0.0
        # The box of the piece, which lies askew, as far as it reaches.
        wide, high = min(reach, overlap + reach * abs(dy)), min(reach, overlap + reach * abs(dx))
        i0, i1 = max(0, int(min(x[n], x[n + 1]) - wide)), min(columns, int(max(x[n], x[n + 1]) + wide) + 1)
        j0, j1 = max(0, int(min(y[n], y[n + 1]) - high)), min(rows, int(max(y[n], y[n + 1]) + high) + 1)
        # Only these of each row can lie alongside; the test below decides. All rows at once, by instructions for many.
        beyond = 0.0 if per_dx != 0.0 else np.inf
        above = 0.0 if per_dy != 0.0 else np.inf
        for j in range(j0, j1):
            py = j + 0.5 - y[n]
            one, other = (-overlap - py * dy) * per_dx, (length + overlap - py * dy) * per_dx
            low, high = (dx * py - reach) * per_dy, (dx * py + reach) * per_dy
            begin = max(min(one, other) - beyond, min(low, high) - above, i0 - middle)
            end = min(max(one, other) + beyond, max(low, high) + above, i1 - 1 - middle)
            firsts[j], lasts[j] = np.ceil(middle + begin - ROUNDING_PX), np.floor(middle + end + ROUNDING_PX)
        for j in range(j0, j1):
            py = j + 0.5 - y[n]
            for i in range(int(firsts[j]), int(lasts[j]) + 1):
                cell = place[j // CELL, i // CELL]
                before = cover[cell, j % CELL, i % CELL]
                if before >= 1.0:
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
                if share > before:
                    cover[cell, j % CELL, i % CELL] = min(share, 1.0)


@compiled
def _turn(x, y, n):
    """How far the way turns from piece n to the next, in radians, without its sign; 0 past the end."""
    if n + 2 >= x.size:
        return 0.0
    ax, ay, bx, by = x[n + 1] - x[n], y[n + 1] - y[n], x[n + 2] - x[n + 1], y[n + 2] - y[n + 1]
    return abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by))


@compiled
def _paint(raster, cover, place, colour):
    """Lay a colour over the raster as far as it covers each pixel."""
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
                if channels == 1:
                    # Next to one another: many pixels by one instruction.
                    for i in range(wide):
                        here[i] += share[i] * (colour[0] - here[i])
                else:
                    for i in range(wide):
                        for k in range(channels):
                            here[i * channels + k] += share[i] * (colour[k] - here[i * channels + k])
