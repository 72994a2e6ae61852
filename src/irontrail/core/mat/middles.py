"""Lines in pixels -> the ways along their middles: thinned, cut clean where they meet, and followed over gaps."""

import math

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, carry_on
from irontrail.core.mat.spread import spread

Floats = NDArray[np.float64]
Whole = NDArray[np.signedinteger]

# Nothing wider than this on a mat is a line.
WIDEST_MM = 60.0
# A line shorter than this is a blot.
SHORTEST_MM = 80.0
# A line goes on behind a gap or a crossing no longer than this, if it is found so nearly straight ahead.
GAP_MM, GAP_DEG = 60.0, 25.0
# A way that leads off from where lines meet has more points than this.
LEAST_ARM_PX = 3
# Beside the line a way turns by no more at once.
SIDE_DEG = 115.0
# So many points back a way's direction is taken over a gap, and so far on that of what lies behind it.
BACK_PX, ON_PX, MOST_TRIED = 25, 14, 400
CROSSING_HALVES, ALIKE = 6.0, 1.8


def middles(inside: Floats, mm_per_px: float, check: Check = carry_on) -> list[tuple[Floats, bool]]:
    """The middles of lines, the longest first: points (x, y) in pixels, and whether it is closed.

    `inside` is how many pixels each point of a line is from the line's end on either side; 0 where there is none.
    `check` is called at every step along them.
    """
    from irontrail.core.mat.thin import thin_out

    thin = np.ascontiguousarray(inside > 0.0, np.uint8)
    thin[0, :] = thin[-1, :] = thin[:, 0] = thin[:, -1] = 0
    thin_out(thin)
    check()
    left = _without_clumps(thin.astype(np.bool_), inside)
    reach = max(3.0, WIDEST_MM / 4.0 / mm_per_px)
    half = float(np.median(inside[left])) if left.any() else 0.0
    found: list[tuple[float, Floats, bool]] = []
    for _ in range(40):
        start = _start(left)
        if start is None:
            break
        way = _followed(left, [start], mm_per_px, half, inside, check)
        # Begun in the midst of a line, or beside a hole, it goes on at its other side.
        back = _followed(left, [(int(x), int(y)) for x, y in way[8::-1]], mm_per_px, half, inside, check)
        way = np.concatenate((back[::-1], way[9:]))
        length = float(np.hypot(*np.diff(way, axis=0).T).sum()) * mm_per_px if len(way) > 1 else 0.0
        closed = length > 4 * SHORTEST_MM and _meets(way, 2.0 * reach, GAP_MM / mm_per_px + 2.0 * half)
        if length >= SHORTEST_MM:
            found.append((length, way, closed))
    found.sort(key=lambda each: -each[0])
    return [(way, closed) for _, way, closed in found]


def _meets(way: Floats, near: float, ahead: float) -> bool:
    """Whether a way's end comes to its start: near to it, or over a crossing straight ahead."""
    over = way[0] - way[-1]
    away = float(np.hypot(*over))
    if away <= near or len(way) < 2 * BACK_PX:
        return away <= near
    out, into = way[-1] - way[-1 - BACK_PX], way[BACK_PX] - way[0]
    return away <= ahead and _turn_deg(out, over) <= GAP_DEG and _turn_deg(over, into) <= GAP_DEG


def _turn_deg(before: Floats, after: Floats) -> float:
    return float(np.degrees(abs(np.arctan2(before[0] * after[1] - before[1] * after[0], before @ after))))


def _without_clumps(thin: NDArray[np.bool_], inside: Floats) -> NDArray[np.bool_]:
    """Thinned lines without the burrs that thinning leaves, and cut clean where lines cross or fork.

    Near a crossing the middles are bent towards each other; a way finds straight over the hole.
    """
    from scipy import ndimage
    from scipy.spatial import KDTree

    if not thin.any():
        return thin
    half = float(np.median(inside[thin]))
    thin = thin.copy()
    around = np.ones((3, 3), np.uint8)
    for x, y in _ends(thin):
        burr = [(x, y)]
        while len(burr) <= 1.6 * half + 3.0:
            x, y = burr[-1]
            near = [
                (i, j)
                for j in range(y - 1, y + 2)
                for i in range(x - 1, x + 2)
                if thin[j, i] and (i, j) not in burr[-3:]
            ]
            if len(near) != 1:
                if len(near) > 1:
                    for i, j in burr:
                        thin[j, i] = False
                break
            burr.append(near[0])
    rows, columns = np.nonzero(thin)
    joints = np.zeros_like(thin)
    joints[rows, columns] = _neighbours(thin, rows, columns) >= 3
    # Steps of a staircase have three neighbours too; where lines meet, three ways lead off.
    hole = spread(joints, 2)
    pieces, _ = ndimage.label(hole, around)
    for i, box in enumerate(ndimage.find_objects(pieces), 1):
        reach = int(half) + 2
        grown = tuple(slice(max(part.start - reach, 0), part.stop + reach) for part in box)
        here = pieces[grown] == i
        arms, count_here = ndimage.label(thin[grown] & ~here, around)
        touching = set(arms[ndimage.binary_dilation(here, around, iterations=2)].tolist()) - {0}
        ways = sum(int((arms == arm).sum()) > LEAST_ARM_PX for arm in range(1, count_here + 1) if arm in touching)
        if ways < 3:
            hole[grown] &= ~here
    if hole.any():
        away, _ = KDTree(np.argwhere(hole)).query(np.column_stack((rows, columns)))
        close = away <= 1.1 * half
        thin[rows[close], columns[close]] = False
    return thin


def _ends(thin: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The points of thinned lines with one neighbour: (column, row)."""
    rows, columns = np.nonzero(thin)
    last = _neighbours(thin, rows, columns) == 1
    return [(int(x), int(y)) for x, y in zip(columns[last], rows[last], strict=True)]


def _start(left: NDArray[np.bool_]) -> tuple[int, int] | None:
    """An end of a line that is left, or any point of one: (column, row)."""
    rows, columns = np.nonzero(left)
    if rows.size == 0:
        return None
    i = int(np.argmin(_neighbours(left, rows, columns)))
    return int(columns[i]), int(rows[i])


def _neighbours(thin: NDArray[np.bool_], rows: Whole, columns: Whole) -> Whole:
    """How many of the eight points around each of some points of a line are the line's too."""
    framed = np.pad(thin, 1).astype(np.int8)
    around = [framed[rows + j, columns + i] for j in range(3) for i in range(3)]
    return np.asarray(np.sum(around, axis=0, dtype=np.intp) - 1)


def _followed(
    left: NDArray[np.bool_], way: list[tuple[int, int]], mm_per_px: float, half: float, inside: Floats, check: Check
) -> Floats:
    """A way, and on from it along what is left, as straight as it can be; what it passes is left no more."""
    # Thinning takes half a width off both sides of a gap.
    bare = GAP_MM / mm_per_px + 3.0 * half
    # Lines that cross at a sharp angle run together for long.
    far = int(np.ceil(bare + CROSSING_HALVES * half))
    left[way[0][1], way[0][0]] = False
    while True:
        check()
        x, y = way[-1]
        back = way[max(0, len(way) - 9)]
        ahead = x - back[0], y - back[1]
        known = math.hypot(*ahead) >= 3.0
        step = _step(left, x, y, 1, ahead if known else None) or _step(left, x, y, 3, ahead if known else None)
        if step is None and known:
            step = _step_over(left, way, far, ahead, inside, bare)
        if step is None:
            return np.array(way, np.float64)
        nx, ny = x + step[0], y + step[1]
        way.append((nx, ny))
        left[ny, nx] = False
        if max(abs(nx - x), abs(ny - y)) <= 3:
            # What lies beside the way, as at a clump of a crossing, is passed too.
            left[min(y, ny) : max(y, ny) + 1, min(x, nx) : max(x, nx) + 1] = False


def _step(left: NDArray[np.bool_], x: int, y: int, reach: int, ahead: tuple[int, int] | None) -> tuple[int, int] | None:
    """The step to what is left nearby, near and straight ahead, if that is known; None if there is nothing."""
    top, near = max(y - reach, 0), max(x - reach, 0)
    rows, columns = np.nonzero(left[top : y + reach + 1, near : x + reach + 1])
    best, least = None, np.inf
    # A few points of thousands each: for so few NumPy takes ten times as long.
    for j, i in zip(rows.tolist(), columns.tolist(), strict=True):
        dx, dy = i + near - x, j + top - y
        price = math.hypot(dx, dy)
        if ahead is not None:
            turn = math.degrees(abs(math.atan2(ahead[0] * dy - ahead[1] * dx, ahead[0] * dx + ahead[1] * dy)))
            price = price + turn / 20.0 if turn <= SIDE_DEG else np.inf
        if price < least:
            best, least = (dx, dy), price
    return best


def _step_over(
    left: NDArray[np.bool_], way: list[tuple[int, int]], far: int, ahead: tuple[int, int], inside: Floats, bare: float
) -> tuple[int, int] | None:
    """The step over a gap or a crossing to what is left behind it; None if there is nothing."""
    x, y = way[-1]
    top, near = max(y - far, 0), max(x - far, 0)
    dy, dx = np.nonzero(left[top : y + far + 1, near : x + far + 1])
    dx, dy = dx + near - x, dy + top - y
    turn = np.degrees(np.abs(np.arctan2(ahead[0] * dy - ahead[1] * dx, ahead[0] * dx + ahead[1] * dy)))
    good = np.flatnonzero(turn <= GAP_DEG)
    if good.size == 0:
        return None
    price = _price_over(left, way, dx, dy, good, np.hypot(dx, dy) + turn / 20.0, inside, bare)
    i = int(np.argmin(price))
    return (int(dx[i]), int(dy[i])) if np.isfinite(price[i]) else None


def _price_over(
    left: NDArray[np.bool_],
    way: list[tuple[int, int]],
    dx: Whole,
    dy: Whole,
    good: Whole,
    price: Floats,
    inside: Floats,
    bare: float,
) -> Floats:
    """What it costs to go on at each place behind a gap: how far aside it is, how much the line there turns off."""
    x, y = way[-1]
    back = way[max(0, len(way) - BACK_PX)]
    ahead = np.array([x - back[0], y - back[1]], np.float64)
    ahead /= max(float(np.hypot(*ahead)), 1e-9)
    made = np.full(price.shape, np.inf)
    for i in good[np.argsort(price[good])][:MOST_TRIED]:
        to_x, to_y = x + int(dx[i]), y + int(dy[i])
        aside = abs(ahead[0] * dy[i] - ahead[1] * dx[i])
        along = ahead[0] * dx[i] + ahead[1] * dy[i]
        if along <= 0.0 or aside > 0.45 * along + 2.0:
            continue
        # What lies behind is as wide: no word, and no frame.
        before = float(np.median([inside[row, column] for column, row in way[-BACK_PX:]]))
        behind = float(inside[max(to_y - 2, 0) : to_y + 3, max(to_x - 2, 0) : to_x + 3].max())
        if max(before, behind) > ALIKE * min(before, behind) + 1.0:
            continue
        share = np.linspace(0.0, 1.0, int(along) + 2)
        if (
            along > bare
            and (inside[(y + share * dy[i]).astype(int), (x + share * dx[i]).astype(int)] > 0.0).mean() < 0.95
        ):
            continue
        top, near = max(to_y - ON_PX, 0), max(to_x - ON_PX, 0)
        rows, columns = np.nonzero(left[top : to_y + ON_PX + 1, near : to_x + ON_PX + 1])
        on = np.column_stack((columns + near - to_x, rows + top - to_y)).astype(np.float64)
        on = on[on @ ahead >= 0.0]
        if len(on) < 4:
            continue
        way_on = on.mean(axis=0)
        turn = _turn_deg(ahead, way_on) if np.hypot(*way_on) > 1.0 else 90.0
        if turn <= GAP_DEG:
            made[i] = 0.2 * along + 1.5 * aside + 0.6 * turn
    return made
