"""How far strips of tape hide each pixel of a picture, cell by cell: for the raster of a mat, and for views of it."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled

# Pieces of tape of about a millimetre overlap by this much, and by what opens between them outside a bend, so that none
# of the mat shows through.
OVERLAP_PX = 0.1
# A piece of tape of which less than this goes along the rows, or across them, is looked for in whole rows.
STEEP = 1e-3
# By less than this does rounding move what is looked for there.
ROUNDING_PX = 1e-6
# Side of the cells, in pixels, in which the tape is laid or is not.
CELL = 8

# The middle of a strip of tape and the distance of its edges to the left and the right (y up), in pixels; and with
# whether it is closed.
Edges = tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]
Strip = tuple[*Edges, bool]


def in_cells(shape: tuple[int, int]) -> tuple[int, int]:
    """How many cells a picture has, down and across."""
    return -(-shape[0] // CELL), -(-shape[1] // CELL)


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
        reached = np.zeros(in_cells(shape), np.bool_)
        for x, y, left, right, _ in strips:
            mark(reached, x, y, left, right)
    place, count = np.full(reached.shape, -1, np.int32), np.count_nonzero(reached)
    place[reached] = np.arange(count)
    cover = np.zeros((count, CELL, CELL), np.float32)
    for x, y, left, right, closed in strips:
        _lay(cover, place, *shape, x, y, left, right, closed)
    return cover, place


@compiled
def mark(cells, x, y, left, right):
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
        to_left, to_right, from_x = left[n] + 0.5, right[n] + 0.5, x[n]
        uncut, unended = 0.5 if n == 0 and not closed else np.inf, 0.5 if n == last and not closed else np.inf
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
            by_row, out = py * dy, py * dx
            for m in range(int(firsts[j]) // CELL, int(lasts[j]) // CELL + 1 if firsts[j] <= lasts[j] else 0):
                # All of a cell's row, by instructions for many: what does not lie alongside has no share.
                shares, first = cover[place[j // CELL, m], j % CELL], m * CELL + 0.5 - from_x
                for i in range(shares.size):
                    px = first + i
                    along, aside = px * dx + by_row, out - dy * px
                    share = (to_left if aside >= 0.0 else to_right) - abs(aside)
                    share = min(min(share, along + uncut), min(length - along + unended, 1.0))
                    here = share if (along >= -overlap) & (along <= length + overlap) else 0.0
                    shares[i] = max(np.float32(here), shares[i])


@compiled
def _turn(x, y, n):
    """How far the way turns from piece n to the next, in radians, without its sign; 0 past the end."""
    if n + 2 >= x.size:
        return 0.0
    ax, ay, bx, by = x[n + 1] - x[n], y[n + 1] - y[n], x[n + 2] - x[n + 1], y[n + 2] - y[n + 1]
    return abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by))
