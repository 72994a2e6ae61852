"""A picture taken at an angle, seen from straight above: its four corners are laid on the mat's."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError

Floats = NDArray[np.float64]

# Of a rectified picture; more shows nothing more of a line.
MOST_PIXELS = 4_000_000


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
    from irontrail.core.mat.resample import resample

    shape = (max(2, round(height_mm / mm_per_px)), max(2, round(width_mm / mm_per_px)))
    back = np.linalg.inv(to_mat(corners, width_mm, height_mm))
    seen = np.empty((*shape, 3), np.float32)
    resample(np.require(picture, np.uint8, ["C", "W"]), back, float(mm_per_px), seen)
    return seen


def scaled_to(corners: Floats, size_mm: tuple[float, float], ends: Floats, length_mm: float) -> tuple[float, float]:
    """The mat's size if a line between two pixels (`ends`, shape (2, 2)) is so long; the mat keeps its shape."""
    on_mat = mapped(to_mat(corners, *size_mm), ends)
    now = float(np.hypot(*(on_mat[1] - on_mat[0])))
    if now < 1.0:
        raise IronTrailError("the known length has no length", "picture", "Drag its two ends apart.")
    return size_mm[0] * length_mm / now, size_mm[1] * length_mm / now
