"""Compiled: from the field under the sensor to a reading."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def round_half_away(value):
    """Nearest whole number, halves away from zero."""
    return np.floor(value + 0.5) if value >= 0.0 else np.ceil(value - 0.5)


@njit(cache=True, nogil=True)
def next_random(state):
    """One step of splitmix64 (Steele, Lea and Flood 2014): the new state and a uniform number in (0, 1)."""
    state = state + np.uint64(0x9E3779B97F4A7C15)
    z = state
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return state, (np.float64(z >> np.uint64(11)) + 0.5) / 9007199254740992.0


@njit(cache=True, nogil=True)
def next_normal(state):
    """The new state and a standard normal number (Box and Muller 1958)."""
    state, first = next_random(state)
    state, second = next_random(state)
    return state, np.sqrt(-2.0 * np.log(first)) * np.cos(2.0 * np.pi * second)


@njit(cache=True, nogil=True)
def field_at(field, x, y):
    """Bilinear value of a field at a point in pixels; pixel centres lie at halves, the rim is held."""
    rows, columns = field.shape
    px = min(max(x - 0.5, 0.0), columns - 1.000001)
    py = min(max(y - 0.5, 0.0), rows - 1.000001)
    i, j = int(px), int(py)
    fx, fy = px - i, py - j
    low = field[j, i] * (1.0 - fx) + field[j, i + 1] * fx
    high = field[j + 1, i] * (1.0 - fx) + field[j + 1, i + 1] * fx
    return low * (1.0 - fy) + high * fy


@njit(cache=True, nogil=True)
def reading_of(p, level, normal):
    """The calibrated reading of a level in raw percent: noise, range, rounding, calibration."""
    raw = min(max(level + p.noise * normal, 0.0), 100.0)
    if p.reading_step > 0.0:
        raw = p.reading_step * round_half_away(raw / p.reading_step)
    reading = 100.0 * (raw - p.dark) / (p.bright - p.dark)
    return min(max(reading, 0.0), 100.0)


@njit(cache=True, nogil=True)
def delayed_level(p, field, trail_x, trail_y, newest, age):
    """The level, in raw percent, where the sensor was `age` steps ago (between steps: in proportion)."""
    size = trail_x.size
    whole = int(age)
    part = age - whole
    near, far = (newest - whole) % size, (newest - whole - 1) % size
    x = trail_x[near] * (1.0 - part) + trail_x[far] * part
    y = trail_y[near] * (1.0 - part) + trail_y[far] * part
    return p.level_per_field * field_at(field, x / p.mm_per_px, y / p.mm_per_px) + p.dark_level
