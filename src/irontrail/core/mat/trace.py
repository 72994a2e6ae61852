"""A picture of a mat -> the tape on it: what stands out as a line, thinned to its middle, followed and fitted."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError, carry_on
from irontrail.core.mat.biarcs import deviation, laid_along
from irontrail.core.mat.fit import Fit, fit_stroke
from irontrail.core.mat.frames import chords_mm, is_frame
from irontrail.core.mat.middles import SHORTEST_MM, WIDEST_MM, middles
from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.seen_line import Look, as_hex, look_of, with_true_ends
from irontrail.core.mat.seen_patches import patches_in
from irontrail.core.mat.tape import Gap, Mat, Patch, Piece, Straight, Stroke

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# Over this a picture is smoothed, against the grain of a camera.
GRAIN_MM = 1.5
# Surroundings change slowly.
COARSE_MM = 4.0
# A shorter break of a line is no gap.
LEAST_GAP_MM = 5.0
MOST_LINES = 6
# A narrower border is the blur of an edge.
LEAST_BORDER_MM = 2.0
# A fit in few pieces that lies farther off is none; then the way is smoothed over so much and laid as near as it goes.
FAR_OFF_MM, SMOOTH_MM, MOST_FITTED_MM = 8.0, 5.0, 60_000.0
# What stands out by so much of what is asked for is line too, where it goes on from what stands out enough.
WEAKER = 0.55
# Lines may be so thin.
THINNEST_MM = 4.0
# Pieces of a word are no longer, on the whole.
SMALL_MM = 60.0
# Of lines there is no more on a mat than this.
MOST_SHARE = 0.4
# How different from its surroundings (0..1, in sRGB) something is at least to be a line.
LEAST_CONTRAST = 0.08


@dataclass(frozen=True, eq=False)
class Traced:
    """The lines found in a picture, the one taken to be the route first, how each looks, and the mat's own colour.

    `patches` are the coloured rectangles on it.
    """

    fits: tuple[Fit, ...]
    looks: tuple[Look, ...]
    ground: str
    patches: tuple[Patch, ...] = ()

    @property
    def colour(self) -> str:
        """That of the route."""
        return self.looks[0].colour

    @property
    def width_mm(self) -> float:
        """That of the route."""
        return self.looks[0].width_mm

    def mat(self, name: str, width_mm: float, height_mm: float, first: int = 0) -> Mat:
        """A mat with these lines, one of them as the one to follow."""
        strokes = [_dressed(fit.stroke, look) for fit, look in zip(self.fits, self.looks, strict=True)]
        others = tuple(stroke for i, stroke in enumerate(strokes) if i != first)
        return Mat(
            name, strokes[first], width_mm, height_mm, self.ground, patches=self.patches, other_lines=others
        )  # fmt: skip


def _dressed(stroke: Stroke, look: Look) -> Stroke:
    return replace(
        stroke, width_mm=round(float(np.clip(look.width_mm, 4.0, 80.0)), 1), colour=look.colour,
        border_mm=round(min(look.border_mm, 60.0), 1) if look.border_mm >= LEAST_BORDER_MM else 0.0,
        border_colour=look.border_colour,
    )  # fmt: skip


def trace(
    picture: Picture,
    mm_per_px: float,
    colour: str | None = None,
    likeness: float = 0.5,
    check: Callable[[], None] = carry_on,
) -> Traced:
    """The lines in a picture taken from straight above.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns, 3), float32
        sRGB, 0..1; row 0 is the mat's bottom edge.
    colour : str, optional
        Of the line; what stands out most from what is around it, if none is given.
    likeness : float
        0..1: how much of the way from the ground to the line's colour a point must be to count as line.
    check : callable
        Called every now and then; raises `CalledOff` to give up.

    Raises
    ------
    IronTrailError
        If nothing in it looks like a line.
    """
    check()
    mask = line_mask(picture, mm_per_px, colour, likeness)
    check()
    paths = middles(mask, mm_per_px)
    if not paths:
        raise IronTrailError(
            "no line was found in it", "picture", "Pick the line's colour, or lower how alike its points must be."
        )
    fits: list[Fit] = []
    looks: list[Look] = []
    for way, closed in paths[:MOST_LINES]:
        check()
        half = _half_width_px(mask, way)
        points = (way + 0.5) * mm_per_px
        if not closed:
            points = _with_square_ends(points, half * mm_per_px, mm_per_px)
        try:
            fit = _fitted(points, closed, mm_per_px, check)
            look = look_of(picture, mm_per_px, fit.stroke, 2.0 * half * mm_per_px)
            stroke = with_true_ends(fit.stroke, picture, mm_per_px, look)
            if fits and _is_scribble(fit, stroke, look, looks[0]):
                continue
            fits.append(replace(fit, stroke=with_gaps(stroke, mask, mm_per_px)))
            looks.append(look)
        except IronTrailError:
            continue
    if not fits:
        raise IronTrailError("the line found in it cannot be laid as tape", "picture", "Pick the line's colour.")
    wide, high = picture.shape[1] * mm_per_px, picture.shape[0] * mm_per_px
    order = sorted(range(len(fits)), key=lambda i: is_frame(fits[i].stroke, wide, high))
    fits, looks = [fits[i] for i in order], [looks[i] for i in order]
    ground = as_hex(np.median(picture[~mask], axis=0))
    patches = patches_in(picture, mm_per_px, _covered(fits, looks, mask.shape, mm_per_px), ground)
    return Traced(tuple(fits), tuple(looks), ground, patches)


def _fitted(points: Floats, closed: bool, mm_per_px: float, check: Callable[[], None]) -> Fit:
    """The tape along points of a picture: in few pieces, or where those lie too far off, as near as it goes."""
    if length_of(points) > MOST_FITTED_MM:
        raise IronTrailError("a line longer than any mat's", "picture", "Pick the line's colour.")
    fit = fit_stroke(points, closed, max(0.5, 0.4 * mm_per_px), check)
    if fit.worst_mm <= FAR_OFF_MM:
        return fit
    smooth = smoothed(points, closed, SMOOTH_MM)
    way = np.concatenate((smooth, smooth[:1])) if closed else smooth
    stroke = laid_along([way], (float(way[0, 0]), float(way[0, 1])), closed)
    near = Fit(replace(stroke, closed=closed), fit.rms_mm, deviation(stroke, points))
    return near if near.worst_mm < fit.worst_mm else fit


def _rgb(colour: str) -> Floats:
    return np.array([int(colour[i : i + 2], 16) / 255.0 for i in (1, 3, 5)])


def line_mask(picture: Picture, mm_per_px: float, colour: str | None, likeness: float) -> NDArray[np.bool_]:
    """Which points of a picture belong to a line.

    Each is set against its own surroundings (a grey closing and opening wider than any line), so that a lamp to one
    side of the table does no harm.
    """
    from scipy import ndimage

    picture = ndimage.gaussian_filter(picture, (GRAIN_MM / mm_per_px, GRAIN_MM / mm_per_px, 0.0))
    lit, dim = _surroundings(picture, mm_per_px)
    darker = np.clip(lit - picture, 0.0, None).max(axis=-1)
    lighter = np.clip(picture - dim, 0.0, None).max(axis=-1)
    if colour is None:
        stands_out = darker if np.percentile(darker, 99.0) >= 0.8 * np.percentile(lighter, 99.0) else lighter
        top = float(np.percentile(stands_out, 99.5))
        if top < LEAST_CONTRAST:
            raise IronTrailError(
                "nothing in it stands out as a line", "picture", "Pick the line's colour, or take a sharper picture."
            )
        mask = _grown(stands_out, max(likeness * top, 0.5 * LEAST_CONTRAST), WEAKER)
    else:
        wanted = _rgb(colour)
        dark_line = float(linear_light(colour).mean()) < float(np.median(picture) ** 2.2)
        ground = lit if dark_line else dim
        way = wanted - ground
        length = np.maximum((way**2).sum(axis=-1), 1e-4)
        share = ((picture - ground) * way).sum(axis=-1) / length
        aside = np.sqrt((((picture - ground) - share[..., None] * way) ** 2).sum(axis=-1))
        mask = (share > likeness) & (aside < 0.35) & (np.sqrt(length) > LEAST_CONTRAST)
    if mask.mean() > MOST_SHARE:
        raise IronTrailError("nothing in it stands out as a line", "picture", "Pick the line's colour.")
    thin = ndimage.binary_opening(mask, iterations=1)
    # Opening takes away lines of two pixels; they come back from what is left of them.
    mask = thin if mm_per_px * 3.0 <= THINNEST_MM else mask
    return _without_blots(np.asarray(ndimage.binary_closing(mask, iterations=2), np.bool_), mm_per_px)


def _grown(stands_out: NDArray[np.floating], least: float, weaker: float) -> NDArray[np.bool_]:
    """What stands out enough, and what goes on from it and stands out nearly so: a lamp's glare pales a line."""
    from scipy import ndimage

    labels, count = ndimage.label(stands_out > weaker * least, np.ones((3, 3)))
    sure = np.zeros(count + 1, np.bool_)
    sure[np.unique(labels[stands_out > least])] = True
    sure[0] = False
    return np.asarray(sure[labels])


def _surroundings(picture: Picture, mm_per_px: float) -> tuple[Picture, Picture]:
    """A picture without its dark lines, and without its light ones, looked at coarsely."""
    from scipy import ndimage

    step = max(1, int(COARSE_MM / mm_per_px))
    coarse = picture[::step, ::step]
    size = max(3, int(np.ceil(WIDEST_MM / (mm_per_px * step))) | 1)
    found = []
    for look in (ndimage.grey_closing, ndimage.grey_opening):
        flat = look(coarse, (size, size, 1))
        rows, columns = picture.shape[:2]
        j, i = np.arange(rows) // step, np.arange(columns) // step
        whole = flat[np.ix_(np.minimum(j, flat.shape[0] - 1), np.minimum(i, flat.shape[1] - 1))]
        found.append(ndimage.uniform_filter(whole, (2 * step + 1, 2 * step + 1, 1)))
    return found[0], found[1]


def _without_blots(mask: NDArray[np.bool_], mm_per_px: float) -> NDArray[np.bool_]:
    """The mask without what is too small, or too wide, to be a line."""
    from scipy import ndimage

    inside = ndimage.distance_transform_edt(mask)
    wide = inside > 0.5 * WIDEST_MM / mm_per_px
    if wide.any():
        mask = mask & (ndimage.distance_transform_edt(~wide) > 0.5 * WIDEST_MM / mm_per_px + 3.0)
    labels, count = ndimage.label(mask, np.ones((3, 3)))
    if count == 0:
        return mask
    boxes = ndimage.find_objects(labels)
    keep = np.zeros(count + 1, np.bool_)
    for i, box in enumerate(boxes, 1):
        across = max(part.stop - part.start for part in box) * mm_per_px
        keep[i] = across >= 0.5 * SHORTEST_MM
    return np.asarray(keep[labels])


def with_gaps(stroke: Stroke, mask: NDArray[np.bool_], mm_per_px: float) -> Stroke:
    """A stroke with a gap in each straight where a mask has no line under it."""
    pieces: list[Piece] = []
    for piece, (x, y, heading) in zip(stroke.pieces, piece_joints(stroke), strict=False):
        if not isinstance(piece, Straight):
            pieces.append(piece)
            continue
        along = np.arange(0.0, piece.length_mm, 1.0)
        i = np.clip((x + along * np.cos(heading)) / mm_per_px, 0, mask.shape[1] - 1).astype(int)
        j = np.clip((y + along * np.sin(heading)) / mm_per_px, 0, mask.shape[0] - 1).astype(int)
        bare = np.concatenate(([False], ~mask[j, i], [False]))
        edges = np.flatnonzero(np.diff(bare.astype(int)))
        done = 0.0
        for start, end in zip(edges[::2], edges[1::2], strict=True):
            if end - start >= LEAST_GAP_MM and start >= LEAST_GAP_MM and end <= piece.length_mm - LEAST_GAP_MM:
                pieces += [Straight(float(start) - done), Gap(float(end - start))]
                done = float(end)
        pieces.append(Straight(piece.length_mm - done))
    return replace(stroke, pieces=tuple(pieces))


def _covered(fits: list[Fit], looks: list[Look], shape: tuple[int, ...], mm_per_px: float) -> NDArray[np.bool_]:
    """Where the lines that were found lie, borders included."""
    from scipy import ndimage

    covered = np.zeros(shape, np.bool_)
    for fit, look in zip(fits, looks, strict=True):
        count = int(2.0 * chords_mm(replace(fit.stroke, closed=False)) / mm_per_px) + 2
        x, y = stroke_points(replace(fit.stroke, closed=False), np.linspace(0.0, 1.0, count))
        middle = np.ones(shape, np.bool_)
        i = np.clip(x / mm_per_px, 0, shape[1] - 1).astype(int)
        middle[np.clip(y / mm_per_px, 0, shape[0] - 1).astype(int), i] = False
        covered |= ndimage.distance_transform_edt(middle) * mm_per_px <= 0.5 * look.width_mm + look.border_mm
    return covered


def _is_scribble(fit: Fit, stroke: Stroke, look: Look, main: Look) -> bool:
    """Whether a thinner line is rather a word: rough, or in many small pieces."""
    small = len(stroke.pieces) > 2 + chords_mm(replace(stroke, closed=False)) / SMALL_MM
    return look.width_mm < 0.5 * main.width_mm and (small or fit.worst_mm > FAR_OFF_MM / 4.0)


def length_of(points: Floats) -> float:
    """How long a way through points is."""
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


def smoothed(points: Floats, closed: bool, over_mm: float) -> Floats:
    """Points of a way with the steps of a picture's pixels taken out; an open way keeps its ends."""
    from scipy import ndimage

    step = length_of(points) / max(len(points) - 1, 1)
    sigma = over_mm / max(step, 1e-6) / 2.0
    if closed:
        return np.asarray(ndimage.gaussian_filter1d(points, sigma, axis=0, mode="wrap"))
    mirrored = ndimage.gaussian_filter1d(points, sigma, axis=0, mode="mirror")
    return np.concatenate((points[:1], mirrored[1:-1], points[-1:]))


def _half_width_px(mask: NDArray[np.bool_], way: Floats) -> float:
    """Half the usual width of a line, from how far its middle is from where it ends."""
    from scipy import ndimage

    inside = ndimage.distance_transform_edt(mask)
    return float(np.median(inside[way[:, 1].astype(int), way[:, 0].astype(int)]))


def _with_square_ends(points: Floats, half_mm: float, mm_per_px: float) -> Floats:
    """Points of an open line with its ends as the tape's: thinning bends the last half width and leaves some off."""
    cut = int(np.ceil(half_mm / mm_per_px))
    if len(points) < 4 * cut + 24:
        return points
    inner = points[cut : len(points) - cut]
    ends = []
    for tip, before in ((inner[0], inner[10]), (inner[-1], inner[-11])):
        out = (tip - before) / max(float(np.hypot(*(tip - before))), 1e-9)
        ends.append(tip + 2.0 * half_mm * out)
    return np.concatenate(([ends[0]], inner, [ends[1]]))
