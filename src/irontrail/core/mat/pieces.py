"""What pieces of tape are together: how long each is, from which end they are laid, and those in a row that are one."""

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke

# A place is on the rim if it is no farther beside it.
TOUCHES_MM = 1e-6
# Bends whose radii differ by no more than this share are one.
ALIKE = 1e-6
LONGEST_GAP_MM, LONGEST_STRAIGHT_MM, MOST_CORNER_DEG, MOST_BEND_DEG = 1000.0, 10_000.0, 170.0, 360.0


def length_of(piece: Piece) -> float:
    """How long a straight, a bend or a gap is, in mm; a corner has no length."""
    if isinstance(piece, Bend):
        return piece.radius_mm * abs(float(np.radians(piece.angle_deg)))
    return piece.length_mm if isinstance(piece, Straight | Gap) else 0.0


def turned_round(stroke: Stroke) -> Stroke:
    """An open stroke from its other end."""
    x, y, heading = piece_joints(stroke)[-1]
    pieces = tuple(
        replace(piece, angle_deg=-piece.angle_deg) if isinstance(piece, Bend | Corner) else piece
        for piece in reversed(stroke.pieces)
    )
    back = (float(np.degrees(heading)) + 360.0) % 360.0 - 180.0
    # What rounding leaves of an end on the mat's rim is not beside it.
    x, y = (0.0 if -TOUCHES_MM < value < 0.0 else float(value) for value in (x, y))
    return replace(stroke, x_mm=x, y_mm=y, heading_deg=back, pieces=pieces)


def within_the_rim(stroke: Stroke) -> Stroke:
    """An open stroke that does not end beyond the left or the lower rim, where none may start."""
    x, y, heading = piece_joints(stroke)[-1]
    ways = ((x, float(np.cos(heading))), (y, float(np.sin(heading))))
    over = max(value / towards if value < 0.0 and towards < 0.0 else 0.0 for value, towards in ways)
    return longer(stroke, -over) if over > 0.0 else stroke


def longer(stroke: Stroke, by_mm: float) -> Stroke:
    """An open stroke that goes on so much farther as it ends, or is so much shorter; as it is if it cannot be."""
    last, rest = stroke.pieces[-1], stroke.pieces[:-1]
    if isinstance(last, Straight) and last.length_mm + by_mm >= 1.0:
        return replace(stroke, pieces=(*rest, replace(last, length_mm=last.length_mm + by_mm)))
    more = float(np.degrees(by_mm / last.radius_mm)) if isinstance(last, Bend) else 0.0
    if isinstance(last, Bend) and 1.0 <= abs(last.angle_deg) + more <= MOST_BEND_DEG:
        angle = float(np.copysign(abs(last.angle_deg) + more, last.angle_deg))
        return replace(stroke, pieces=(*rest, replace(last, angle_deg=angle)))
    return replace(stroke, pieces=(*stroke.pieces, Straight(by_mm))) if by_mm >= 1.0 else stroke


def run_together(pieces: Iterable[Piece]) -> tuple[Piece, ...]:
    """The same way with straights in a row as one, and so gaps, corners, and arcs of one bend."""
    joined: list[Piece] = []
    for piece in pieces:
        whole = _one(joined[-1], piece) if joined else None
        if whole is None:
            joined.append(piece)
        else:
            joined[-1] = whole
    return tuple(joined)


def _one(first: Piece, second: Piece) -> Piece | None:
    """Two pieces as one; None if they are two, or would be more than a piece can be."""
    if isinstance(first, Straight) and isinstance(second, Straight):
        length = first.length_mm + second.length_mm
        return replace(first, length_mm=length) if length <= LONGEST_STRAIGHT_MM else None
    if isinstance(first, Gap) and isinstance(second, Gap):
        length = first.length_mm + second.length_mm
        return replace(first, length_mm=length) if length <= LONGEST_GAP_MM else None
    if isinstance(first, Corner) and isinstance(second, Corner):
        turn = first.angle_deg + second.angle_deg
        return replace(first, angle_deg=turn) if abs(turn) < MOST_CORNER_DEG else None
    if isinstance(first, Bend) and isinstance(second, Bend):
        turn = first.angle_deg + second.angle_deg
        alike = abs(first.radius_mm - second.radius_mm) <= ALIKE * first.radius_mm
        one_way = first.angle_deg * second.angle_deg > 0.0 and abs(turn) <= MOST_BEND_DEG
        return replace(first, angle_deg=turn) if alike and one_way else None
    return None
