"""The compiled step of each steering law: from a reading to the powers of both wheels, not yet limited."""

from numba import njit

# Codes of the laws, as pack.LAWS gives them.
ON_OFF, PROPORTIONAL = 0, 1


@njit(cache=True, nogil=True)
def decide(p, reading):
    """The law's powers (left, right), not yet limited."""
    if p.law == ON_OFF:
        return on_off_powers(p, reading)
    return proportional_powers(p, reading)


@njit(cache=True, nogil=True)
def on_off_powers(p, reading):
    """Powers (left, right) for a reading; one at the threshold counts as light."""
    if reading >= p.target:
        outer, inner, turn = p.light_outer, p.light_inner, p.light_turn
    else:
        outer, inner, turn = p.dark_outer, p.dark_inner, -p.light_turn
    return (outer, inner) if turn > 0.0 else (inner, outer)


@njit(cache=True, nogil=True)
def proportional_powers(p, reading):
    """Powers (left, right), not yet limited: both wheels share the steer."""
    steer = p.light_turn * p.gain * (reading - p.target)
    return p.speed + steer, p.speed - steer
