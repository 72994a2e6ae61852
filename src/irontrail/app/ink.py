"""Compiled: smooth lines laid over the pixels of a picture.

A run is thousands of short pieces, drawn anew at every move of a dial; Qt's own lines take five to ten times as long.
How much of each pixel a line covers is noted first, and its colour blended in once: where its pieces overlap it is not
darker than elsewhere.
"""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled, inlined

# Points nearer than this (px, squared) to the one before add nothing that can be seen.
NEAR_PX2 = 0.3
# Pixels of a row that are looked at together for whether any is covered, as numbers of eight bytes.
WORDS = 4
BLOCK = 8 * WORDS
# Rows of blocks that are taken back together.
HIGH = 8
# Places across a line are whole numbers, of which so many are a pixel.
BITS = 16
ONE = 1 << BITS


def empty_cover(rows: int, columns: int) -> NDArray[np.uint64]:
    """Room to note in how far each pixel of a picture is covered: none is. Shape (rows, blocks, words of a block)."""
    return np.zeros((rows, -(-columns // BLOCK), WORDS), np.uint64)


def all_dry(rows: int, columns: int) -> NDArray[np.bool_]:
    """Room to note in where anything is laid on a picture: nothing is. Shape (HIGH rows, blocks)."""
    return np.zeros((-(-rows // HIGH), -(-columns // BLOCK)), np.bool_)


@compiled
def lay_line(pixels, cover, wet, x, y, shown, scale, width, colour, full, box):
    """Lay a line over pixels (uint32, 0xFFRRGGBB, shape (rows, columns)).

    Parameters
    ----------
    cover : ndarray of uint64
        An `empty_cover` of the pixels' size; it is left empty.
    wet : ndarray of bool
        An `all_dry` of the pixels' size, or what has been made of that; true where anything is laid then.
    x, y, width : ndarray of float, shape (n,); float
        Places and width, each `scale` times as many pixels.
    shown : ndarray of bool, shape (n,)
        Where it is false, or a place or the next one is no number, the way on from there is left out.
    colour : int
        0xRRGGBB.
    full : int
        How much of the pixel's old colour goes where the line covers it wholly, of 255.
    box : tuple of int
        Left, top, right, bottom: nothing is laid outside.
    """
    left, top, right, bottom = box
    bytes_of = cover.view(np.uint8).reshape(cover.shape[0], BLOCK * cover.shape[1])
    high, low = _cover_line(bytes_of, x, y, shown, scale, 0.5 * scale * width, float(full), left, top, right, bottom)
    _blend_in(pixels, bytes_of, cover, wet, colour, left, high, right, low)


@compiled
def lay_cover(pixels, wet, cover, place, colour, full):
    """Lay a colour over pixels, by the share (0..1) of each that is covered.

    Parameters
    ----------
    cover, place : ndarray of float32, shape (n, CELL, CELL); ndarray of int32, shape (rows, columns) of cells
        A `cover_of`, of the pixels' size.
    full : int
        How much of the pixel's old colour goes where it is covered wholly, of 255.
    """
    rows, columns = pixels.shape
    side = cover.shape[1]
    for n in range(place.shape[0]):
        for m in range(place.shape[1]):
            if place[n, m] < 0:
                continue
            wet[n * side // HIGH, m * side // BLOCK] = True
            for row in range(n * side, min((n + 1) * side, rows)):
                here = pixels[row, m * side : min((m + 1) * side, columns)]
                shares = cover[place[n, m], row - n * side]
                for i in range(here.size):
                    here[i] = _mixed(here[i], colour, np.uint32(shares[i] * full + np.float32(0.5)))


@compiled
def lay_bars(pixels, wet, left, right, top, bottom, colours, full):
    """Lay upright bars over pixels: each from a column to that before another, and from a row to that before `bottom`.

    Parameters
    ----------
    left, right, top, colours : ndarray of int64, shape (n,)
        Within the pixels; 0xRRGGBB.
    full : int
        How much of the pixel's old colour goes, of 255.
    """
    share = np.uint32(full)
    for n in range(left.size):
        for row in range(top[n], bottom):
            for column in range(left[n], right[n]):
                wet[row // HIGH, column // BLOCK] = True
                pixels[row, column] = _mixed(pixels[row, column], colours[n], share)


@compiled
def take_back(pixels, under, wet):
    """Where anything is laid on pixels, make them again what they were; it is all dry then."""
    rows, columns = pixels.shape
    for n in range(wet.shape[0]):
        for block in range(wet.shape[1]):
            if wet[n, block]:
                wet[n, block] = False
                left, right = block * BLOCK, min((block + 1) * BLOCK, columns)
                for row in range(n * HIGH, min((n + 1) * HIGH, rows)):
                    here, before = pixels[row, left:right], under[row, left:right]
                    for i in range(right - left):
                        here[i] = before[i]


@compiled
def _cover_line(cover, x, y, shown, scale, half_px, full, left, top, right, bottom):
    """Note how far a line of some half width covers each pixel; where it comes to go another way it is round.

    Comes to the first row that it may reach, and that behind the last.
    """
    turned = cover.T
    at, way_before = 0, 0
    high, low = np.inf, -np.inf
    for i in range(1, x.size):
        x0, y0, x1, y1 = scale * x[at], scale * y[at], scale * x[i], scale * y[i]
        dx, dy = x1 - x0, y1 - y0
        d2 = dx * dx + dy * dy
        if shown[at] and shown[i] and d2 < NEAR_PX2 and i < x.size - 1:
            continue
        # Of what is no number no comparison holds.
        drawn = shown[at] and d2 > 0.0 and d2 < np.inf
        at, way = i, 0
        if drawn:
            high, low = min(high, y0, y1), max(low, y0, y1)
        if drawn and abs(dx) >= abs(dy):
            way = 1 if dx > 0.0 else 2
            _cover_flat(cover, x0, y0, x1, y1, half_px, full, left, top, right, bottom)
        elif drawn:
            way = 3 if dy > 0.0 else 4
            _cover_flat(turned, y0, x0, y1, x1, half_px, full, top, left, bottom, right)
        if drawn and way != way_before:
            _cover_disc(cover, x0, y0, half_px, full, left, top, right, bottom)
        way_before = way
    if high > low:
        return bottom, top
    # A slanted line is at most one and a half times as high as it is wide.
    reach = 1.5 * half_px + 2.0
    return int(min(max(high - reach, top), bottom)), int(min(max(low + reach + 1.0, top), bottom))


@inlined
def _cover_flat(cover, x0, y0, x1, y1, half_px, full, left, top, right, bottom):
    """A piece that is rather flat, in each column whose middle it passes."""
    dx, dy = x1 - x0, y1 - y0
    cosine = abs(dx) / np.sqrt(dx * dx + dy * dy)
    slope, reach, per = ONE * dy / dx, int(ONE * (half_px + 0.5) / cosine), int(ONE * cosine * full)
    begin, most = ONE * y0 + slope * (0.5 - x0), int(full)
    # A line of a pixel's width reaches three pixels at most: one after the other they take less than going round.
    thin = 2 * reach < 3 * ONE and min(y0, y1) > top + 3.0 and max(y0, y1) < bottom - 4.0
    for column in range(max(int(min(x0, x1) + 0.5), left), min(int(max(x0, x1) + 0.5), right)):
        middle = int(begin + slope * column)
        row = (middle - reach + ONE // 2) >> BITS
        if thin:
            away = (row << BITS) + ONE // 2 - middle
            _raise(cover, row, column, (reach - abs(away)) * per >> 2 * BITS, most)
            _raise(cover, row + 1, column, (reach - abs(away + ONE)) * per >> 2 * BITS, most)
            _raise(cover, row + 2, column, (reach - abs(away + 2 * ONE)) * per >> 2 * BITS, most)
            continue
        for at in range(max(row, top), min(((middle + reach) >> BITS) + 1, bottom)):
            _raise(cover, at, column, (reach - abs((at << BITS) + ONE // 2 - middle)) * per >> 2 * BITS, most)


@inlined
def _raise(cover, row, column, share, most):
    """Have a pixel covered by so much, of 255, if it is not yet."""
    # Without a sign: else it is looked at each time for being counted from the end.
    i, j = np.uintp(row), np.uintp(column)
    cover[i, j] = max(cover[i, j], np.uint8(min(max(share, 0), most)))


@inlined
def _cover_disc(cover, x, y, half_px, full, left, top, right, bottom):
    """As far as half the line's width all round a place."""
    reach = half_px + 0.5
    for row in range(max(int(y - reach), top), min(int(y + reach) + 1, bottom)):
        for column in range(max(int(x - reach), left), min(int(x + reach) + 1, right)):
            across, down = column + 0.5 - x, row + 0.5 - y
            inside = min(reach - np.sqrt(across * across + down * down), 1.0)
            cover[row, column] = max(cover[row, column], np.uint8(max(inside, 0.0) * full + 0.5))


@compiled
def _blend_in(pixels, cover, blocks, wet, colour, left, top, right, bottom):
    """Blend a colour into pixels by how far they are covered, and clear the cover."""
    for row in range(top, bottom):
        for block in range(left // BLOCK, (right + BLOCK - 1) // BLOCK):
            words = blocks[row, block]
            if words[0] | words[1] | words[2] | words[3] == 0:
                continue
            wet[row // HIGH, block] = True
            first = block * BLOCK
            old, covered = pixels[row, first : first + BLOCK], cover[row, first : first + BLOCK]
            for i in range(old.size):
                old[i] = _mixed(old[i], colour, np.uint32(covered[i]))
            words[:] = 0


@inlined
def _mixed(old, colour, share):
    """A pixel of which so much, of 255, takes on a colour."""
    red_blue, green = np.uint32(colour & 0xFF00FF), np.uint32(colour >> 8 & 0xFF)
    rest = np.uint32(255) - share
    # Two colours of a pixel at once, each in its own half; x / 255 is (x + 128) * 257 / 65536, rounded.
    two = np.uint32((old & np.uint32(0xFF00FF)) * rest + red_blue * share + np.uint32(0x800080))
    two = np.uint32(two + (two >> np.uint32(8) & np.uint32(0xFF00FF)))
    one = np.uint32((old >> np.uint32(8) & np.uint32(0xFF)) * rest + green * share + np.uint32(0x80))
    one = np.uint32(one + (one >> np.uint32(8)))
    return np.uint32(0xFF000000) | (two >> np.uint32(8) & np.uint32(0xFF00FF)) | (one & np.uint32(0xFF00))


@compiled
def travelled(x, y):
    """How far a line has come at each of its places, from the first on, shape (n,)."""
    way = np.zeros(x.size)
    for i in range(1, x.size):
        dx, dy = x[i] - x[i - 1], y[i] - y[i - 1]
        way[i] = way[i - 1] + np.sqrt(dx * dx + dy * dy)
    return way


@compiled
def calmed(level, way, shortest):
    """The levels of a line's places, every stretch shorter than that given the level of the one before it.

    Parameters
    ----------
    level, way : ndarray of int64, of float, shape (n,)
        `way` is that to each place.
    """
    calm = level.copy()
    start = 0
    for i in range(1, level.size + 1):
        if i == level.size or level[i] != level[start]:
            # Until the next one begins.
            if start > 0 and way[min(i, level.size - 1)] - way[start] < shortest:
                calm[start:i] = calm[start - 1]
            start = i
    return calm


def compile_all() -> None:
    """Have it compiled, or taken from the cache."""
    pixels, wet, way = np.zeros((1, 1), np.uint32), all_dry(1, 1), np.zeros(2)
    none = np.zeros(0, np.int64)
    lay_bars(pixels, wet, none, none, none, 1, none, 255)
    lay_cover(pixels, wet, np.zeros((1, 8, 8), np.float32), np.zeros((1, 1), np.int32), 0, 255)
    lay_line(pixels, empty_cover(1, 1), wet, way, way, way == 0.0, 1.0, 1.0, 0, 255, (0, 0, 1, 1))
    take_back(pixels, pixels, wet)
    calmed(np.zeros(2, np.int64), travelled(way, way), 1.0)
