"""A picture of a mat -> the tape on it: what stands out as a line, thinned to its middle, followed and fitted."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.fit import Fit, fit_stroke
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Gap, Mat, Piece, Straight, Stroke
from irontrail.core.mat.thin import thin_out

Floats = NDArray[np.float64]
Picture = NDArray[np.float32]

# Nothing wider than this on a mat is a line.
WIDEST_MM = 60.0
# Over this a picture is smoothed, against the grain of a camera.
GRAIN_MM = 1.5
# Surroundings change slowly.
COARSE_MM = 4.0
# A line shorter than this is a blot.
SHORTEST_MM = 80.0
# A line goes on behind a gap or a crossing no longer than this, if it is found so nearly straight ahead.
GAP_MM, GAP_DEG = 60.0, 25.0
LEAST_GAP_MM = 5.0
# A way that leads off from where lines meet has more points than this.
LEAST_ARM_PX = 3
MOST_LINES = 6
# How different from its surroundings (0..1, in sRGB) something is at least to be a line.
LEAST_CONTRAST = 0.08


@dataclass(frozen=True, eq=False)
class Traced:
    """The lines found in a picture, the longest first, and the colours of line and mat (sRGB)."""

    fits: tuple[Fit, ...]
    colour: str
    ground: str
    width_mm: float

    def mat(self, name: str, width_mm: float, height_mm: float) -> Mat:
        """A mat with these lines."""
        strokes = [_dressed(fit.stroke, self.width_mm, self.colour) for fit in self.fits]
        return Mat(name, strokes[0], width_mm, height_mm, self.ground, other_lines=tuple(strokes[1:]))


def _dressed(stroke: Stroke, width_mm: float, colour: str) -> Stroke:
    return replace(stroke, width_mm=float(np.clip(width_mm, 4.0, 80.0)), colour=colour)


def trace(picture: Picture, mm_per_px: float, colour: str | None = None, likeness: float = 0.5) -> Traced:
    """The lines in a picture taken from straight above.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns, 3), float32
        sRGB, 0..1; row 0 is the mat's bottom edge.
    colour : str, optional
        Of the line; what stands out most from what is around it, if none is given.
    likeness : float
        0..1: how much of the way from the ground to the line's colour a point must be to count as line.

    Raises
    ------
    IronTrailError
        If nothing in it looks like a line.
    """
    mask = line_mask(picture, mm_per_px, colour, likeness)
    paths = middles(mask, mm_per_px)
    if not paths:
        raise IronTrailError(
            "no line was found in it", "picture", "Pick the line's colour, or lower how alike its points must be."
        )
    half = _half_width_px(mask, paths[0][0])
    fits = []
    for way, closed in paths[:MOST_LINES]:
        points = (way + 0.5) * mm_per_px
        if not closed:
            points = _with_square_ends(points, half * mm_per_px, mm_per_px)
        try:
            fit = fit_stroke(points, closed, noise_mm=max(0.5, 0.4 * mm_per_px))
            fits.append(replace(fit, stroke=with_gaps(fit.stroke, mask, mm_per_px)))
        except IronTrailError:
            continue
    if not fits:
        raise IronTrailError("the line found in it cannot be laid as tape", "picture", "Pick the line's colour.")
    on, off = picture[mask], picture[~mask]
    return Traced(tuple(fits), _hex(np.median(on, axis=0)), _hex(np.median(off, axis=0)), 2.0 * half * mm_per_px)


def _hex(colour: NDArray[np.floating]) -> str:
    return "#" + "".join(f"{round(255 * float(np.clip(part, 0.0, 1.0))):02x}" for part in colour)


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
        mask = stands_out > max(likeness * top, 0.5 * LEAST_CONTRAST)
    else:
        wanted = _rgb(colour)
        dark_line = float(linear_light(colour).mean()) < float(np.median(picture) ** 2.2)
        ground = lit if dark_line else dim
        way = wanted - ground
        length = np.maximum((way**2).sum(axis=-1), 1e-4)
        share = ((picture - ground) * way).sum(axis=-1) / length
        aside = np.sqrt((((picture - ground) - share[..., None] * way) ** 2).sum(axis=-1))
        mask = (share > likeness) & (aside < 0.35) & (np.sqrt(length) > LEAST_CONTRAST)
    mask = ndimage.binary_opening(mask, iterations=1)
    return _without_blots(np.asarray(ndimage.binary_closing(mask, iterations=2), np.bool_), mm_per_px)


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
    """The mask without what is too small to be a line."""
    from scipy import ndimage

    labels, count = ndimage.label(mask, np.ones((3, 3)))
    if count == 0:
        return mask
    boxes = ndimage.find_objects(labels)
    keep = np.zeros(count + 1, np.bool_)
    for i, box in enumerate(boxes, 1):
        across = max(part.stop - part.start for part in box) * mm_per_px
        keep[i] = across >= 0.5 * SHORTEST_MM
    return np.asarray(keep[labels])


def middles(mask: NDArray[np.bool_], mm_per_px: float) -> list[tuple[Floats, bool]]:
    """The middles of the lines in a mask, the longest first: points (x, y) in pixels, and whether it is closed."""
    thin = np.ascontiguousarray(mask, np.uint8)
    thin[0, :] = thin[-1, :] = thin[:, 0] = thin[:, -1] = 0
    thin_out(thin)
    left = _without_clumps(thin.astype(np.bool_), mask)
    reach = max(3.0, WIDEST_MM / 4.0 / mm_per_px)
    found: list[tuple[float, Floats, bool]] = []
    for _ in range(40):
        start = _start(left)
        if start is None:
            break
        way = _followed(left, [start], mm_per_px)
        # Begun in the midst of a line, or beside a hole, it goes on at its other side.
        back = _followed(left, [(int(x), int(y)) for x, y in way[8::-1]], mm_per_px)
        way = np.concatenate((back[::-1], way[9:]))
        length = float(np.hypot(*np.diff(way, axis=0).T).sum()) * mm_per_px if len(way) > 1 else 0.0
        closed = length > 4 * SHORTEST_MM and float(np.hypot(*(way[0] - way[-1]))) <= 2.0 * reach
        if length >= SHORTEST_MM:
            found.append((length, way, closed))
    found.sort(key=lambda each: -each[0])
    return [(way, closed) for _, way, closed in found]


def _without_clumps(thin: NDArray[np.bool_], mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Thinned lines without the burrs that thinning leaves, and cut clean where lines cross or fork.

    Near a crossing the middles are bent towards each other; a way finds straight over the hole.
    """
    from scipy import ndimage

    if not thin.any():
        return thin
    inside = ndimage.distance_transform_edt(mask)
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
    count = ndimage.convolve(thin.astype(np.uint8), around, mode="constant") - 1
    joints = thin & (count >= 3)
    # Steps of a staircase have three neighbours too; where lines meet, three ways lead off.
    hole = ndimage.binary_dilation(joints, iterations=2)
    pieces, number = ndimage.label(hole, around)
    for i, box in enumerate(ndimage.find_objects(pieces), 1):
        reach = int(half) + 2
        grown = tuple(slice(max(part.start - reach, 0), part.stop + reach) for part in box)
        here = pieces[grown] == i
        arms, count_here = ndimage.label(thin[grown] & ~here, around)
        touching = set(arms[ndimage.binary_dilation(here, around, iterations=2)].tolist()) - {0}
        ways = sum(int((arms == arm).sum()) > LEAST_ARM_PX for arm in range(1, count_here + 1) if arm in touching)
        if ways < 3:
            hole[grown] &= ~here
    away = ndimage.distance_transform_edt(~hole) if number and hole.any() else np.full(thin.shape, np.inf)
    return np.asarray(thin & (away > 1.1 * half), np.bool_)


def _ends(thin: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The points of thinned lines with one neighbour: (column, row)."""
    from scipy import ndimage

    count = ndimage.convolve(thin.astype(np.uint8), np.ones((3, 3), np.uint8), mode="constant")
    rows, columns = np.nonzero(thin & (count == 2))
    return [(int(x), int(y)) for x, y in zip(columns, rows, strict=True)]


def _start(left: NDArray[np.bool_]) -> tuple[int, int] | None:
    """An end of a line that is left, or any point of one: (column, row)."""
    from scipy import ndimage

    rows, columns = np.nonzero(left)
    if rows.size == 0:
        return None
    around = ndimage.convolve(left.astype(np.uint8), np.ones((3, 3), np.uint8), mode="constant")[rows, columns]
    i = int(np.argmin(around))
    return int(columns[i]), int(rows[i])


def _followed(left: NDArray[np.bool_], way: list[tuple[int, int]], mm_per_px: float) -> Floats:
    """A way, and on from it along what is left, as straight as it can be; what it passes is left no more."""
    far = int(np.ceil(GAP_MM / mm_per_px))
    rows, columns = left.shape
    left[way[0][1], way[0][0]] = False
    while True:
        x, y = way[-1]
        back = way[max(0, len(way) - 9)]
        ahead = np.array([x - back[0], y - back[1]], np.float64)
        known = float(np.hypot(*ahead)) >= 3.0
        for reach in (1, 3, far):
            top, low = max(y - reach, 0), min(y + reach + 1, rows)
            near, end = max(x - reach, 0), min(x + reach + 1, columns)
            dy, dx = np.nonzero(left[top:low, near:end])
            if dx.size == 0:
                continue
            dx, dy = dx + near - x, dy + top - y
            away = np.hypot(dx, dy)
            if known:
                turn = np.degrees(np.abs(np.arctan2(ahead[0] * dy - ahead[1] * dx, ahead[0] * dx + ahead[1] * dy)))
                limit = 115.0 if reach <= 3 else GAP_DEG
                good = turn <= limit
                if not good.any():
                    continue
                price = np.where(good, away + turn / (20.0 if reach <= 3 else 10.0), np.inf)
            else:
                if reach > 3:
                    return np.array(way, np.float64)
                price = away
            i = int(np.argmin(price))
            way.append((x + int(dx[i]), y + int(dy[i])))
            break
        else:
            return np.array(way, np.float64)
        nx, ny = way[-1]
        left[ny, nx] = False
        if max(abs(nx - x), abs(ny - y)) <= 3:
            # What lies beside the way, as at a clump of a crossing, is passed too.
            left[min(y, ny) : max(y, ny) + 1, min(x, nx) : max(x, nx) + 1] = False


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
