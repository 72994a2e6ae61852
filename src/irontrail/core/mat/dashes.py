"""Dashes of a drawn line as gaps in its tape."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke

# A shorter dash or gap is none.
LEAST_MM = 1.0
MOST_GAPS = 300


def with_dashes(stroke: Stroke, dashes: Sequence[float], from_mm: float = 0.0) -> Stroke:
    """A stroke with gaps where its dashes have them.

    A gap in a bend is straight, with a corner at either end, so that what follows lies where it lay.

    Parameters
    ----------
    dashes : sequence of float
        On and off in turn, in mm; an even count.
    from_mm : float
        How far into the dashes the stroke begins.
    """
    total = float(sum(dashes))
    if not dashes or min(dashes[1::2]) < LEAST_MM or total < 2.0 * LEAST_MM:
        return stroke
    pieces: list[Piece] = []
    place, left = _begin(dashes, from_mm % total)
    for piece in stroke.pieces:
        if not isinstance(piece, Straight | Bend):
            pieces.append(piece)
            continue
        length = (
            piece.length_mm
            if isinstance(piece, Straight)
            else piece.radius_mm * abs(float(np.radians(piece.angle_deg)))
        )
        done = 0.0
        while done < length - 1e-9:
            step = min(left, length - done)
            pieces += _part(piece, step, step / length, place % 2 == 1)
            done += step
            left -= step
            if left <= 1e-9:
                place = (place + 1) % len(dashes)
                left = dashes[place]
        if len(pieces) > 4 * MOST_GAPS:
            return stroke
    return replace(stroke, pieces=_joined(pieces))


def _begin(dashes: Sequence[float], into: float) -> tuple[int, float]:
    for place, length in enumerate(dashes):
        if into < length:
            return place, length - into
        into -= length
    return 0, dashes[0]


def _part(piece: Straight | Bend, length: float, share: float, off: bool) -> list[Piece]:
    if isinstance(piece, Straight):
        if off and length >= LEAST_MM:
            return [Gap(length)]
        return [Straight(max(length, LEAST_MM))]
    turn = piece.angle_deg * share
    if off and length >= LEAST_MM:
        half = 0.5 * float(np.radians(turn))
        chord = length * np.sinc(half / np.pi)
        return [Corner(0.5 * turn), Gap(max(float(chord), LEAST_MM)), Corner(0.5 * turn)]
    return [replace(piece, angle_deg=turn)]


def _joined(pieces: list[Piece]) -> tuple[Piece, ...]:
    """Gaps that follow one another as one."""
    joined: list[Piece] = []
    for piece in pieces:
        last = joined[-1] if joined else None
        if isinstance(piece, Gap) and isinstance(last, Gap):
            joined[-1] = Gap(min(last.length_mm + piece.length_mm, 1000.0))
        elif isinstance(piece, Straight) and isinstance(last, Straight):
            joined[-1] = Straight(last.length_mm + piece.length_mm)
        else:
            joined.append(piece)
    return tuple(joined)
