"""A picture taken at an angle, seen from straight above: its four corners are laid on the mat's."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError

Floats = NDArray[np.float64]

# Of a rectified picture; more shows nothing more of a line.
MOST_PIXELS = 4_000_000
# So many of its rows are worked out at a time: what they take stays near the processor.
BAND_ROWS = 16


def to_mat(corners: Floats, width_mm: float, height_mm: float) -> Floats:
    """The homography that takes a picture's pixels (y down) to millimetres on a mat (y up).

    Parameters
    ----------
    corners : ndarray, shape (4, 2)
        Where the mat's corners are in the picture: top left, top right, bottom right, bottom left.

    Raises
    ------
    IronTrailError
        If the corners are not those of a quadrangle that bulges outward everywhere.
    """
    check_corners(corners)
    goal = np.array([[0.0, height_mm], [width_mm, height_mm], [width_mm, 0.0], [0.0, 0.0]])
    rows = []
    for (x, y), (u, v) in zip(corners, goal, strict=True):
        rows.append([x, y, 1.0, 0.0, 0.0, 0.0, -u * x, -u * y])
        rows.append([0.0, 0.0, 0.0, x, y, 1.0, -v * x, -v * y])
    eight = np.linalg.solve(np.array(rows), goal.ravel())
    return np.append(eight, 1.0).reshape(3, 3)


def check_corners(corners: Floats) -> None:
    """IronTrailError if four points are not the corners of a mat seen from above."""
    sides = np.roll(corners, -1, axis=0) - corners
    turns = sides[:, 0] * np.roll(sides[:, 1], -1) - sides[:, 1] * np.roll(sides[:, 0], -1)
    if not (turns > 1e-6).all():
        raise IronTrailError(
            "the four corners cross or fold", "picture", "Put them on the mat's corners, in the same order."
        )


def mapped(homography: Floats, points: Floats) -> Floats:
    """Points, shape (n, 2), taken by a homography."""
    whole = np.column_stack((points, np.ones(len(points)))) @ homography.T
    return np.asarray(whole[:, :2] / whole[:, 2:])


def usual_step(width_mm: float, height_mm: float) -> float:
    """Millimetres a pixel for a mat's picture: fine enough for its line, and not too many."""
    return float(max(1.0, np.sqrt(width_mm * height_mm / MOST_PIXELS)))


def rectified(
    picture: NDArray[np.uint8], corners: Floats, width_mm: float, height_mm: float, mm_per_px: float
) -> NDArray[np.float32]:
    """The mat in a picture seen from straight above.

    Parameters
    ----------
    picture : ndarray, shape (rows, columns, 3), uint8, sRGB
        Row 0 is at the top.

    Returns
    -------
    ndarray, shape (height, width, 3), float32
        sRGB, 0..1; row 0 is the mat's bottom edge. What lies beyond the picture takes the colour of its rim.
    """
    shape = (max(2, round(height_mm / mm_per_px)), max(2, round(width_mm / mm_per_px)))
    back = np.linalg.inv(to_mat(corners, width_mm, height_mm)).astype(np.float64)
    u, v = (np.arange(shape[1]) + 0.5) * mm_per_px, (np.arange(shape[0]) + 0.5) * mm_per_px
    seen = np.empty((*shape, 3), np.float32)
    for first in range(0, shape[0], BAND_ROWS):
        band = slice(first, first + BAND_ROWS)
        x, y, depth = (row[0] * u + (row[1] * v[band, None] + row[2]) for row in back)
        seen[band] = _sampled(picture, x / depth - 0.5, y / depth - 0.5)
    return seen


def _sampled(picture: NDArray[np.uint8], x: Floats, y: Floats) -> NDArray[np.float32]:
    """The picture's colours, 0..1, at places between its pixels: shape of x and y, and 3."""
    rows, columns = picture.shape[:2]
    x, y = np.clip(x, 0.0, columns - 1.001), np.clip(y, 0.0, rows - 1.001)
    left, top = x.astype(np.intp), y.astype(np.intp)
    fx, fy = (x - left).astype(np.float32)[..., None], (y - top).astype(np.float32)[..., None]
    pixels, at = picture.reshape(-1, 3), top * columns + left
    upper = pixels[at] * (1 - fx) + pixels[at + 1] * fx
    lower = pixels[at + columns] * (1 - fx) + pixels[at + columns + 1] * fx
    return np.asarray((upper * (1 - fy) + lower * fy) / np.float32(255.0), np.float32)


def scaled_to(corners: Floats, size_mm: tuple[float, float], ends: Floats, length_mm: float) -> tuple[float, float]:
    """The mat's size if a line between two pixels (`ends`, shape (2, 2)) is so long; the mat keeps its shape."""
    on_mat = mapped(to_mat(corners, *size_mm), ends)
    now = float(np.hypot(*(on_mat[1] - on_mat[0])))
    if now < 1.0:
        raise IronTrailError("the known length has no length", "picture", "Drag its two ends apart.")
    return size_mm[0] * length_mm / now, size_mm[1] * length_mm / now
