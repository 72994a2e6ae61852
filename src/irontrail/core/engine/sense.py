"""Compiled: from the place of the sensor over the mat to what it gives, in its own units; it knows no target."""

import numpy as np

from irontrail.core.compiled import bring_near, compiled, inlined
from irontrail.core.control.step import round_half_away
from irontrail.core.engine.noise import next_normal
from irontrail.core.light.names import MAX_NAMES
from irontrail.core.light.sensor import MAX_AREAS

# A level is lamp_share * field + room_share * shadows * (field + gloss) + dark_level, in raw percent.
SENSOR = np.dtype(
    [
        (name, "f8")
        for name in (
            "lamp_share", "room_share", "gloss", "dark_level", "noise", "raw_step", "output_step", "highest", "lag",
            "named_share", "mm_per_px", "ahead", "aside",
        )
    ]
    + [(name, "i8") for name in ("inverted", "area_count", "name_count")]
    + [(name, "f8", (MAX_NAMES,)) for name in ("name_red", "name_green", "name_blue")]
    + [
        (name, "f8", (MAX_AREAS,))
        for name in ("area_x", "area_y", "area_half_width", "area_half_height", "area_soft", "area_factor")
    ]
)  # fmt: skip


@inlined
def field_at(field, channel, x, y):
    """Bilinear value of a field's channel at a point in pixels; pixel centres lie at halves, the rim is held."""
    _, rows, columns = field.shape
    px = min(max(x - 0.5, 0.0), columns - 1.000001)
    py = min(max(y - 0.5, 0.0), rows - 1.000001)
    i, j = int(px), int(py)
    fx, fy = px - i, py - j
    low = field[channel, j, i] * (1.0 - fx) + field[channel, j, i + 1] * fx
    high = field[channel, j + 1, i] * (1.0 - fx) + field[channel, j + 1, i + 1] * fx
    return low * (1.0 - fy) + high * fy


@inlined
def expect_at(p, field, x, y):
    """The sensor will come to about there: what it will see of the mat is fetched from memory meanwhile."""
    channels, rows, columns = field.shape
    i, j = int(x / p.mm_per_px - 0.5), int(y / p.mm_per_px - 0.5)
    if 0 <= i < columns and 0 <= j < rows - 1:
        for channel in range(channels):
            place = (channel * rows + j) * columns + i
            bring_near(field, place)
            bring_near(field, place + columns)


@inlined
def sense(p, levels, noise):
    """What the sensor gives for its levels in raw percent; one draw of its noise a channel.

    Returns
    -------
    raw_output : percent, counts, or the place of a name in the palette
    margin : how far the colour is from having another name; 0 for other scales
    """
    if p.name_count > 0:
        return sense_name(p, levels, noise)
    raw = min(max(levels[0] + p.noise * next_normal(noise), 0.0), 100.0)
    if p.inverted:
        raw = 100.0 - raw
    if p.raw_step > 0.0:
        return min(p.output_step * round_half_away(raw / p.raw_step), p.highest), 0.0
    return raw, 0.0


@compiled
def sense_name(p, levels, noise):
    """As `sense`, for a sensor that gives the nearest name of its palette; names.py is the same for whole arrays."""
    red, green, blue = next_normal(noise), next_normal(noise), next_normal(noise)
    r, g, b = name_place(p, levels[0], red), name_place(p, levels[1], green), name_place(p, levels[2], blue)
    nearest, least = 0, np.inf
    for i in range(p.name_count):
        square = (r - p.name_red[i]) ** 2 + (g - p.name_green[i]) ** 2 + (b - p.name_blue[i]) ** 2
        if square < least:
            nearest, least = i, square
    margin = np.inf
    for i in range(p.name_count):
        if i != nearest:
            square = (r - p.name_red[i]) ** 2 + (g - p.name_green[i]) ** 2 + (b - p.name_blue[i]) ** 2
            apart = np.sqrt(
                (p.name_red[nearest] - p.name_red[i]) ** 2
                + (p.name_green[nearest] - p.name_green[i]) ** 2
                + (p.name_blue[nearest] - p.name_blue[i]) ** 2
            )
            margin = min(margin, (square - least) / (2.0 * apart))
    return float(nearest), margin


@compiled
def name_place(p, level, normal):
    """Where a channel's level stands among the names: the square root of the reflectance it is taken for."""
    raw = min(max(level + p.noise * normal, 0.0), 100.0)
    return np.sqrt(min(max((raw - p.dark_level) / p.named_share, 0.0), 1.0))


@compiled
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


@inlined
def levels_at(p, field, x, y, levels):
    """Fill in the level of each channel of the field, in raw percent before noise, with the sensor at a point."""
    room = p.room_share if p.area_count == 0 else p.room_share * room_factor(p, x, y)
    share, veil = p.lamp_share + room, room * p.gloss + p.dark_level
    for channel in range(field.shape[0]):
        levels[channel] = share * field_at(field, channel, x / p.mm_per_px, y / p.mm_per_px) + veil


@compiled
def follow_levels(p, length, before, now, lagged):
    """Bring the levels of a slow sensor on by `length` seconds in which the light went evenly from `before` to `now`.

    A first-order lag with the input held by a straight line, in closed form; `before` becomes `now`.
    """
    decay = np.exp(-length / p.lag)
    for channel in range(now.size):
        slope = (now[channel] - before[channel]) / length
        off = lagged[channel] - before[channel] + slope * p.lag
        lagged[channel] = now[channel] - slope * p.lag + off * decay
        before[channel] = now[channel]
