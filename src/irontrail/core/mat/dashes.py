"""Dashes of a drawn line as gaps in its tape."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from irontrail.core.mat.pieces import length_of, run_together
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke

# A shorter dash or gap is none.
LEAST_MM = 1.0
MOST_PIECES = 1200
MOST_GAP_MM = 1000.0


def with_dashes(stroke: Stroke, dashes: Sequence[float], from_mm: float = 0.0) -> Stroke:
    """A stroke with gaps where its dashes have them; as it is where they are too fine for tape, or too many.

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
    gone = from_mm
    for piece in stroke.pieces:
        if not isinstance(piece, Straight | Bend):
            pieces.append(piece)
            continue
        length = length_of(piece)
        cuts = _cuts(dashes, gone, length)
        if len(pieces) + len(cuts) > MOST_PIECES:
            return stroke
        for start, end in pairwise(cuts):
            off = _is_off(dashes, gone + 0.5 * (start + end))
            pieces += _part(piece, end - start, (end - start) / length, off)
        gone += length
    return replace(stroke, pieces=run_together(pieces))


def _cuts(dashes: Sequence[float], gone: float, length: float) -> list[float]:
    """Where to cut a piece that begins so far into the dashes, ends included; no part is shorter than one can be."""
    ends = np.cumsum(dashes)
    total = float(ends[-1])
    first = gone - gone % total
    rounds = int((length + total) / total) + 1
    if rounds * len(dashes) > MOST_PIECES:
        return [0.0, *([0.0] * MOST_PIECES), length]
    places = (first + total * np.arange(rounds)[:, None] + ends[None, :]).ravel() - gone
    cuts = [0.0]
    for place in places.tolist():
        if place - cuts[-1] >= LEAST_MM and length - place >= LEAST_MM:
            cuts.append(place)
    return [*cuts, length]


def _is_off(dashes: Sequence[float], place: float) -> bool:
    ends = np.cumsum(dashes)
    return bool(np.searchsorted(ends, place % float(ends[-1]), "right") % 2 == 1)


def _part(piece: Straight | Bend, length: float, share: float, off: bool) -> list[Piece]:
    if isinstance(piece, Straight):
        return _gap(length) if off else [Straight(length)]
    turn = piece.angle_deg * share
    half = 0.5 * float(np.radians(turn))
    chord = length * float(np.sinc(half / np.pi))
    if off and chord >= LEAST_MM:
        return [Corner(0.5 * turn), *_gap(chord), Corner(0.5 * turn)]
    return [replace(piece, angle_deg=turn)]


def _gap(length: float) -> list[Piece]:
    """A gap, in as many as it takes."""
    count = int(length / MOST_GAP_MM) + 1
    return [Gap(length / count)] * count
