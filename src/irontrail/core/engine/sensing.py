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
    if p.inverted:
        raw = 100.0 - raw
    if p.reading_step > 0.0:
        raw = min(p.reading_step * round_half_away(raw / p.reading_step), 100.0)
    if not p.calibrate:
        return raw
    reading = 100.0 * (raw - p.dark) / (p.bright - p.dark)
    return min(max(reading, 0.0), 100.0)


@njit(cache=True, nogil=True)
def room_factor(p, x, y):
    """What shadows and glares make of the room light at a point; each comes back to 1 over its soft edge."""
    factor = 1.0
    for i in range(p.area_count):
        dx, dy = (x - p.area_x[i]) / p.area_half_width[i], (y - p.area_y[i]) / p.area_half_height[i]
        radius = np.sqrt(dx * dx + dy * dy)
        if radius <= 1.0:
            factor *= p.area_factor[i]
        else:
            # How far beyond the ellipse, along the line to its middle.
            away = np.hypot(x - p.area_x[i], y - p.area_y[i]) * (1.0 - 1.0 / radius)
            share = min(away / p.area_soft[i], 1.0)
            smooth = share * share * (3.0 - 2.0 * share)
            factor *= p.area_factor[i] + (1.0 - p.area_factor[i]) * smooth
    return factor


@njit(cache=True, nogil=True)
def level_at(p, field, x, y):
    """The level, in raw percent before noise, with the sensor at a point."""
    share = p.lamp_share + (p.room_share if p.area_count == 0 else p.room_share * room_factor(p, x, y))
    return share * field_at(field, x / p.mm_per_px, y / p.mm_per_px) + p.dark_level


@njit(cache=True, nogil=True)
def delayed_level(p, field, trail_x, trail_y, newest, age):
    """The level where the sensor was `age` steps ago (between steps: in proportion)."""
    size = trail_x.size
    whole = int(age)
    part = age - whole
    near, far = (newest - whole) % size, (newest - whole - 1) % size
    x = trail_x[near] * (1.0 - part) + trail_x[far] * part
    y = trail_y[near] * (1.0 - part) + trail_y[far] * part
    return level_at(p, field, x, y)


@njit(cache=True, nogil=True)
def lagged_level(p, field, trail_x, trail_y, newest, age, steps, share, lagged):
    """The level of a slow sensor `age` steps ago, given what it was `steps` steps before that.

    The filter is taken over every step since, each with the level where the sensor was then.
    """
    for back in range(steps - 1, -1, -1):
        lagged += (delayed_level(p, field, trail_x, trail_y, newest, age + back) - lagged) * share
    return lagged
