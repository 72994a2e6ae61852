"""Frames: closed lines round a mat's rim, which are drawn to look at, not to follow."""

import numpy as np

from irontrail.core.mat.route import piece_joints, plain_joints
from irontrail.core.mat.tape import Stroke

# A closed line with so much of the mat inside, square to it, is a frame.
FRAME_SHARE, SQUARE_SHARE = 0.8, 0.93


def is_frame(stroke: Stroke, wide_mm: float, high_mm: float) -> bool:
    """Whether a line runs round a mat, square to it."""
    joints = np.array([(x, y) for x, y, _ in piece_joints(stroke)])
    meets = stroke.closed or float(np.hypot(*(joints[-1] - joints[0]))) < 0.05 * (wide_mm + high_mm)
    across, up = np.ptp(joints[:, 0]), np.ptp(joints[:, 1])
    large = across >= FRAME_SHARE * wide_mm and up >= FRAME_SHARE * high_mm
    return bool(meets and large and chords_mm(stroke) > SQUARE_SHARE * 2.0 * (across + up))


def chords_mm(stroke: Stroke) -> float:
    """How long a line is, from joint to joint."""
    return sum(float(np.hypot(b[0] - a[0], b[1] - a[1])) for _, a, b in plain_joints(stroke))
