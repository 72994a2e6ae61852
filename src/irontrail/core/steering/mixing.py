"""How a speed and a steer become the powers of both wheels."""

from typing import Literal, get_args

Mixing = Literal["both wheels", "left wheel only", "right wheel only", "inner wheel only"]
MIXING_NAMES: tuple[Mixing, ...] = get_args(Mixing)


def mixed_powers(mixing: int, speed: float, steer: float) -> tuple[float, float]:
    """Powers (left, right) of a speed and a steer (right positive) by the mixing of a place in MIXING_NAMES.

    Plain Python that Numba compiles for `control_step`; the curve's handles ask it as it is.

    >>> mixed_powers(3, 50.0, 20.0)
    (50.0, 30.0)
    """
    if mixing == 1:
        return speed + steer, speed
    if mixing == 2:
        return speed, speed - steer
    if mixing == 3:
        return speed + min(steer, 0.0), speed - max(steer, 0.0)
    return speed + steer, speed - steer
