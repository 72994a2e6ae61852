"""Compiled: a line laid over the pixels of a picture, its edges smooth.

Where a stretch of the line goes on more than it rises, each column of pixels is covered from the least to the greatest
height that it has there, and half its width beyond; where it is steep, each row so. Stretches that meet cover a pixel
as much as the one that covers it most. Thousands of short stretches are laid in a fraction of the time that a drawing
library takes, which makes an outline of each.
"""

import numpy as np

from irontrail.core.compiled import brief, inlined, unowned

FULL = 255
# Pixels of a row that are looked at together.
BLOCK = 32


@brief
def lay_line(pixels, x, y, width, colour, box, on, period):
    """Draw a line.

    Parameters
    ----------
    pixels : ndarray, shape (rows, columns), uint32
        0xffRRGGBB each; changed.
    x, y : ndarray, shape (n,)
        In pixels from the upper left corner. What is not a number parts the line.
    width : float
        In pixels; less than one is drawn fainter.
    colour : int
        0xRRGGBB.
    box : tuple of int
        Left, top, right and bottom, these two not included: what lies outside stays as it is. Within the picture.
    on, period : float
        Of each period along the picture's upper edge, in pixels, so much is drawn.
    """
    left, top, right, bottom = box
    if right <= left or bottom <= top:
        return
    cover = np.zeros((bottom - top, right - left), np.uint8)
    touched = np.zeros((bottom - top, (right - left) // BLOCK + 1), np.bool_)
    covering, touching = unowned(cover), unowned(touched)
    for i in range(1, x.size):
        from_x, from_y, to_x, to_y = x[i - 1] - left, y[i - 1] - top, x[i] - left, y[i] - top
        if not np.isfinite(from_x + from_y + to_x + to_y):
            continue
        if abs(to_x - from_x) >= abs(to_y - from_y):
            lay_stretch(covering, touching, from_x, from_y, to_x, to_y, width, False)
        else:
            lay_stretch(covering, touching, from_y, from_x, to_y, to_x, width, True)
    red, green, blue = (colour >> 16) & 255, (colour >> 8) & 255, colour & 255
    shown = np.empty(right - left, np.bool_)
    for column in range(right - left):
        shown[column] = (left + column) % period < on
    for row in range(bottom - top):
        for block in range(touched.shape[1]):
            if not touched[row, block]:
                continue
            for column in range(BLOCK * block, min(BLOCK * (block + 1), right - left)):
                share = np.int32(cover[row, column])
                if share > 0 and shown[column]:
                    old = np.int32(pixels[top + row, left + column])
                    pixels[top + row, left + column] = (
                        0xFF000000
                        | mixed((old >> 16) & 255, red, share) << 16
                        | mixed((old >> 8) & 255, green, share) << 8
                        | mixed(old & 255, blue, share)
                    )


@inlined
def lay_stretch(cover, touched, from_along, from_across, to_along, to_across, width, steep):
    """Cover what a straight stretch does, which goes on more along than across; `steep`: along is down the rows."""
    if to_along < from_along:
        from_along, from_across, to_along, to_across = to_along, to_across, from_along, from_across
    length = to_along - from_along
    slope = (to_across - from_across) / length if length > 0.0 else 0.0
    # As much as the line covers on the whole, were it laid exactly.
    half = max(0.5 * (width * np.sqrt(1.0 + slope * slope) - abs(slope)), 0.0)
    lines, places = (cover.shape[0], cover.shape[1]) if steep else (cover.shape[1], cover.shape[0])
    first, last = max(int(np.floor(from_along)), 0), min(int(np.floor(to_along)), lines - 1)
    for line in range(first, last + 1):
        begin, end = max(from_along, float(line)), min(to_along, line + 1.0)
        one, other = from_across + (begin - from_along) * slope, from_across + (end - from_along) * slope
        low, high = min(one, other) - half, max(one, other) + half
        for place in range(max(int(np.floor(low)), 0), min(int(np.floor(high)), places - 1) + 1):
            share = np.uint8(FULL * (min(high, place + 1.0) - max(low, float(place))))
            row, column = (line, place) if steep else (place, line)
            cover[row, column] = max(cover[row, column], share)
            touched[row, column // BLOCK] = True


@inlined
def mixed(old, new, share):
    """A share of a new tone over an old one, 0..255 each."""
    return old + ((new - old) * share + 127) // FULL
