"""Coloured rectangles that are seen on a mat beside its lines."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.reflectance import as_hex, shares_of
from irontrail.core.mat.spread import opened, spread
from irontrail.core.mat.tape import Patch

Picture = NDArray[np.float32]

# How different a patch is from the ground (0..1 in sRGB), how large at least, and how full of it its box is.
DIFFERS, LEAST_SIDE_MM, FULL, MOST = 0.12, 25.0, 0.88, 12
COARSE_MM = 2.0
LARGEST_MM = 4000.0


def patches_in(picture: Picture, mm_per_px: float, lines: NDArray[np.bool_], ground: str) -> tuple[Patch, ...]:
    """The patches in a picture; what lies within a line's reach is none.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns, 3), float32
        sRGB, 0..1; row 0 is the mat's bottom edge.
    lines : ndarray, shape (rows, columns)
        Where lines have been found.
    """
    from scipy import ndimage

    step = max(1, round(COARSE_MM / mm_per_px))
    size = step * mm_per_px
    rows = ndimage.uniform_filter1d(picture, step, 0)[::step]
    coarse = ndimage.uniform_filter1d(rows, step, 1)[:, ::step]
    taken = spread(lines[::step, ::step], max(1, int(6.0 / size)))
    plain = shares_of(ground)
    other = (np.abs(coarse - plain).max(axis=2) > DIFFERS) & ~taken
    other = opened(other, max(1, int(5.0 / size)))
    labels, count = ndimage.label(other)
    found: list[tuple[float, Patch]] = []
    for i, box in enumerate(ndimage.find_objects(labels), 1):
        rows, columns = box
        here = labels[box] == i
        high, wide = here.shape[0] * size, here.shape[1] * size
        # Its rim is blended with the ground.
        low, top = np.percentile(coarse[box][here], (15, 85), axis=0)
        even = (top - low).max() < DIFFERS
        if min(high, wide) < LEAST_SIDE_MM or here.mean() < FULL or not even or max(high, wide) > LARGEST_MM:
            continue
        x, y = 0.5 * (columns.start + columns.stop) * size, 0.5 * (rows.start + rows.stop) * size
        colour = as_hex(np.median(coarse[box][here], axis=0))
        found.append((high * wide, Patch(round(x, 1), round(y, 1), round(wide, 1), round(high, 1), colour)))
        if count > 2000:
            break
    found.sort(key=lambda each: -each[0])
    return tuple(patch for _, patch in found[:MOST])
