"""The compiled steps: from a reading to the powers of both wheels, not yet limited.

Bands and on-off set the wheels themselves; the other laws give a steer, which a mixing turns into powers.
"""

from numba import njit

# Codes of the laws, as pack.LAWS gives them.
ON_OFF, BANDS, MIXED, PROPORTIONAL, PID = range(5)
# Codes of the mixings, as pack.MIXINGS gives them.
BOTH, LEFT_ONLY, RIGHT_ONLY, INNER_ONLY = range(4)

# What a law remembers from loop to loop: integral of the error, filtered derivative, last error, whether there is one.
INTEGRAL, DERIVATIVE, LAST_ERROR, STARTED = range(4)
# What it did last: the share of each term in the steer.
P_TERM, I_TERM, D_TERM = 4, 5, 6
MEMORY_SIZE = 7

# Half the calibrated span: at this error ease-off takes all of its share of the speed.
HALF_SPAN = 50.0


@njit(cache=True, nogil=True)
def decide(p, reading, memory):
    """The law's powers (left, right) for a reading; `memory` is carried from loop to loop."""
    memory[P_TERM] = memory[I_TERM] = memory[D_TERM] = 0.0
    if p.law == ON_OFF:
        return on_off_powers(p, reading)
    if p.law == BANDS:
        return band_powers(p, reading)
    error = reading - p.target
    if p.law == MIXED:
        steer = mixed_steer(p, error)
    elif p.law == PID:
        steer = pid_steer(p, error, memory)
    else:
        steer = p.gain * error * (p.dark_ratio if error < 0.0 else 1.0)
        memory[P_TERM] = steer
    speed = p.speed * (1.0 - p.ease_off * min(1.0, abs(error) / HALF_SPAN))
    return mixed_powers(p, speed, p.light_turn * steer)


@njit(cache=True, nogil=True)
def on_off_powers(p, reading):
    """Powers (left, right) for a reading; one at the threshold counts as light."""
    if reading >= p.target:
        outer, inner, turn = p.light_outer, p.light_inner, p.light_turn
    else:
        outer, inner, turn = p.dark_outer, p.dark_inner, -p.light_turn
    return (outer, inner) if turn > 0.0 else (inner, outer)


@njit(cache=True, nogil=True)
def band_of(p, reading):
    """Which band a reading falls in, the darkest being 0."""
    for i in range(p.band_count - 1):
        if reading < p.band_below[i]:
            return i
    return p.band_count - 1


@njit(cache=True, nogil=True)
def band_powers(p, reading):
    """Powers (left, right) of the band of a reading."""
    i = band_of(p, reading)
    left, right = p.band_left[i], p.band_right[i]
    return (left, right) if p.light_turn > 0.0 else (right, left)


@njit(cache=True, nogil=True)
def mixed_steer(p, error):
    """A slope on one side of the target, a fixed turn on the other; 0 at the target counts as light."""
    light = error >= 0.0
    if light == (p.sloped_light > 0.0):
        return p.mixed_gain * error
    return p.fixed_steer if light else -p.fixed_steer


@njit(cache=True, nogil=True)
def pid_steer(p, error, memory):
    """One step of the PID law; the first error has no derivative yet."""
    if memory[STARTED] > 0.0:
        slope = (error - memory[LAST_ERROR]) / p.decision_time
        memory[DERIVATIVE] += (slope - memory[DERIVATIVE]) * p.derivative_share
    memory[LAST_ERROR], memory[STARTED] = error, 1.0
    memory[INTEGRAL] += error * p.decision_time
    if p.ki > 0.0:
        most = p.integral_limit / p.ki
        memory[INTEGRAL] = min(max(memory[INTEGRAL], -most), most)
    memory[P_TERM], memory[I_TERM] = p.kp * error, p.ki * memory[INTEGRAL]
    memory[D_TERM] = p.kd * memory[DERIVATIVE]
    return memory[P_TERM] + memory[I_TERM] + memory[D_TERM]


@njit(cache=True, nogil=True)
def mixed_powers(p, speed, steer):
    """Powers (left, right) of a speed and a steer (right positive) by the chosen mixing."""
    if p.mixing == LEFT_ONLY:
        return speed + steer, speed
    if p.mixing == RIGHT_ONLY:
        return speed, speed - steer
    if p.mixing == INNER_ONLY:
        return speed + min(steer, 0.0), speed - max(steer, 0.0)
    return speed + steer, speed - steer
