"""A picture of a mat -> the tape on it: what stands out as a line, thinned to its middle, followed and fitted."""

from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.biarcs import laid_along
from irontrail.core.mat.drawn_way import deviation, length_of
from irontrail.core.mat.fit import Fit, fit_stroke
from irontrail.core.mat.frames import chords_mm, is_frame
from irontrail.core.mat.middles import middles
from irontrail.core.mat.raster import hidden_by
from irontrail.core.mat.reflectance import as_hex
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.seen_line import Look, look_of
from irontrail.core.mat.seen_patches import patches_in
from irontrail.core.mat.seen_place import centred, with_sharp_corners, with_true_ends
from irontrail.core.mat.stands_out import inside_lines
from irontrail.core.mat.tape import Gap, Mat, Patch, Piece, Straight, Stroke

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# A shorter break of a line is no gap.
LEAST_GAP_MM = 5.0
MOST_LINES = 6
# A narrower border is the blur of an edge.
LEAST_BORDER_MM = 2.0
# A fit in few pieces that lies farther off is none; then the way is smoothed over so much and laid as near as it goes.
FAR_OFF_MM, SMOOTH_MM, MOST_FITTED_MM = 8.0, 5.0, 60_000.0
# Pieces of a word are no longer, on the whole.
SMALL_MM = 60.0


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
    check: Check = carry_on,
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
        Called every now and then with the share that is done; raises `CalledOff` to give up.

    Raises
    ------
    IronTrailError
        If nothing in it looks like a line.
    """
    check(0.1)
    inside = inside_lines(picture, mm_per_px, colour, likeness, check)
    mask = inside > 0.0
    check(0.4)
    paths = middles(inside, mm_per_px, check)
    if not paths:
        raise IronTrailError(
            "no line was found in it", "picture", "Pick the line's colour, or lower how alike its points must be."
        )
    fits: list[Fit] = []
    looks: list[Look] = []
    for number, (way, closed) in enumerate(paths[:MOST_LINES]):
        check(0.6 + 0.4 * number / len(paths[:MOST_LINES]))
        # Half the usual width of a line: how far its middle is from where it ends.
        half = float(np.median(inside[way[:, 1].astype(int), way[:, 0].astype(int)]))
        points = (way + 0.5) * mm_per_px
        if not closed:
            points = _with_square_ends(points, half * mm_per_px, mm_per_px)
        try:
            fit = _fitted(points, closed, mm_per_px, check)
            check()
            look = look_of(picture, mm_per_px, fit.stroke, 2.0 * half * mm_per_px)
            # The middle of its pixels is a pixel or two off; that of its edges is not.
            with suppress(IronTrailError):
                fit = _fitted(centred(picture, mm_per_px, fit.stroke, look), closed, mm_per_px, check)
                check()
                look = look_of(picture, mm_per_px, fit.stroke, look.width_mm)
            check()
            stroke = with_sharp_corners(fit.stroke, picture, mm_per_px, look)
            check()
            stroke = with_true_ends(stroke, picture, mm_per_px, look)
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
    check()
    # A colour at a time: NumPy takes thrice as long to pick points of three.
    ground = as_hex(np.array([np.median(light[~mask]) for light in np.moveaxis(picture, -1, 0)]))
    laid = [_dressed(replace(fit.stroke, closed=False), look) for fit, look in zip(fits, looks, strict=True)]
    check()
    patches = patches_in(picture, mm_per_px, hidden_by(laid, picture.shape[:2], mm_per_px), ground)
    return Traced(tuple(fits), tuple(looks), ground, patches)


def _fitted(points: Floats, closed: bool, mm_per_px: float, check: Check) -> Fit:
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


def _is_scribble(fit: Fit, stroke: Stroke, look: Look, main: Look) -> bool:
    """Whether a thinner line is rather a word: rough, or in many small pieces."""
    small = len(stroke.pieces) > 2 + chords_mm(replace(stroke, closed=False)) / SMALL_MM
    return look.width_mm < 0.5 * main.width_mm and (small or fit.worst_mm > FAR_OFF_MM / 4.0)


def smoothed(points: Floats, closed: bool, over_mm: float) -> Floats:
    """Points of a way with the steps of a picture's pixels taken out; an open way keeps its ends."""
    from scipy import ndimage

    step = length_of(points) / max(len(points) - 1, 1)
    sigma = over_mm / max(step, 1e-6) / 2.0
    if closed:
        return np.asarray(ndimage.gaussian_filter1d(points, sigma, axis=0, mode="wrap"))
    mirrored = ndimage.gaussian_filter1d(points, sigma, axis=0, mode="mirror")
    return np.concatenate((points[:1], mirrored[1:-1], points[-1:]))


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
