"""What stands out of a picture of a mat as a line does: darker or lighter than what is around it, and not too wide."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.middles import SHORTEST_MM, WIDEST_MM
from irontrail.core.mat.reflectance import linear_light, shares_of
from irontrail.core.mat.spread import closed, opened

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# Over this a picture is smoothed, against the grain of a camera.
GRAIN_MM = 1.5
# Surroundings change slowly.
COARSE_MM = 4.0
# How different from its surroundings (0..1, in sRGB) something is at least to be a line.
LEAST_CONTRAST = 0.08
# A thin line on a large mat is this little of the picture: all but so many in a hundred stand out less.
FOREMOST = 99.8
# What stands out by so much of what is asked for is line too, where it goes on from what stands out enough.
WEAKER = 0.55
# Lines may be so thin.
THINNEST_MM = 4.0
# Of lines there is no more on a mat than this.
MOST_SHARE = 0.4


def inside_lines(
    picture: Picture, mm_per_px: float, colour: str | None, likeness: float, check: Check = carry_on
) -> Floats:
    """How far inside a line each point of a picture is, in pixels, shape (rows, columns); 0 where there is none.

    Each is set against its own surroundings (a grey closing and opening wider than any line), so that a lamp to one
    side of the table does no harm. `check` is called between its steps.
    """
    from scipy import ndimage

    picture = ndimage.gaussian_filter(picture, (GRAIN_MM / mm_per_px, GRAIN_MM / mm_per_px, 0.0))
    check()
    lit, dim = _surroundings(picture, mm_per_px, check)
    check()
    darker = _most(lit - picture)
    lighter = _most(picture - dim)
    if colour is None:
        stands_out = darker if np.percentile(darker, FOREMOST) >= 0.8 * np.percentile(lighter, FOREMOST) else lighter
        top = float(np.percentile(stands_out, FOREMOST))
        if top < LEAST_CONTRAST:
            raise IronTrailError(
                "nothing in it stands out as a line", "picture", "Pick the line's colour, or take a sharper picture."
            )
        mask = _grown(stands_out, max(likeness * top, 0.5 * LEAST_CONTRAST), WEAKER)
    else:
        wanted = shares_of(colour)
        dark_line = float(linear_light(colour).mean()) < float(np.median(picture) ** 2.2)
        ground = lit if dark_line else dim
        way = wanted - ground
        length = np.maximum((way**2).sum(axis=-1), 1e-4)
        share = ((picture - ground) * way).sum(axis=-1) / length
        aside = np.sqrt((((picture - ground) - share[..., None] * way) ** 2).sum(axis=-1))
        mask = (share > likeness) & (aside < 0.35) & (np.sqrt(length) > LEAST_CONTRAST)
    if mask.mean() > MOST_SHARE:
        raise IronTrailError("nothing in it stands out as a line", "picture", "Pick the line's colour.")
    check()
    thin = opened(mask, 1)
    # Opening takes away lines of two pixels; they come back from what is left of them.
    mask = thin if mm_per_px * 3.0 <= THINNEST_MM else mask
    mask = closed(mask, 2)
    check()
    return _without_blots(mask, mm_per_px)


def _most(differences: Picture) -> Picture:
    """The largest of a difference's three colours that is not below 0, point by point."""
    # Three whole pictures at a time: NumPy takes ten times as long over an axis of three.
    red, green, blue = np.moveaxis(differences, -1, 0)
    return np.asarray(np.maximum(np.maximum(np.maximum(red, green), blue), 0.0))


def _grown(stands_out: NDArray[np.floating], least: float, weaker: float) -> NDArray[np.bool_]:
    """What stands out enough, and what goes on from it and stands out nearly so: a lamp's glare pales a line."""
    from scipy import ndimage

    labels, count = ndimage.label(stands_out > weaker * least, np.ones((3, 3)))
    sure = np.zeros(count + 1, np.bool_)
    sure[np.unique(labels[stands_out > least])] = True
    sure[0] = False
    return np.asarray(sure[labels])


def _surroundings(picture: Picture, mm_per_px: float, check: Check) -> tuple[Picture, Picture]:
    """A picture without its dark lines, and without its light ones, looked at coarsely."""
    from scipy import ndimage

    step = max(1, int(COARSE_MM / mm_per_px))
    coarse = picture[::step, ::step]
    size = max(3, int(np.ceil(WIDEST_MM / (mm_per_px * step))) | 1)
    found = []
    for look in (ndimage.grey_closing, ndimage.grey_opening):
        check()
        whole = look(coarse, (size, size, 1))
        # Smoothed down its few columns before there are as many as in the picture.
        for axis in (0, 1):
            fine = np.minimum(np.arange(picture.shape[axis]) // step, whole.shape[axis] - 1)
            whole = ndimage.uniform_filter1d(whole.take(fine, axis), 2 * step + 1, axis)
        found.append(whole)
    return found[0], found[1]


def _without_blots(mask: NDArray[np.bool_], mm_per_px: float) -> Floats:
    """How far inside the mask each point is, without what is too small, or too wide, to be a line."""
    from scipy import ndimage

    inside = ndimage.distance_transform_edt(mask)
    wide = inside > 0.5 * WIDEST_MM / mm_per_px
    if wide.any():
        mask = mask & (ndimage.distance_transform_edt(~wide) > 0.5 * WIDEST_MM / mm_per_px + 3.0)
        inside = ndimage.distance_transform_edt(mask)
    labels, count = ndimage.label(mask, np.ones((3, 3)))
    boxes = ndimage.find_objects(labels)
    keep = np.zeros(count + 1, np.bool_)
    for i, box in enumerate(boxes, 1):
        across = max(part.stop - part.start for part in box) * mm_per_px
        keep[i] = across >= 0.5 * SHORTEST_MM
    # What is apart from a line is no part of how far inside it a point is.
    return np.asarray(np.where(keep[labels], inside, 0.0))
