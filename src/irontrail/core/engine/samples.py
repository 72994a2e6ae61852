"""Compiled: what each sensor has seen, from the instant of a sample to the decision on it.

Samples on their way lie in a ring, of as many places as there are loops between the two; a slow sensor's level follows
the light beside it.
"""

import numpy as np

from irontrail.core.compiled import compiled, inlined
from irontrail.core.engine.noise import NOISE, begin_noise
from irontrail.core.engine.plant import point_of
from irontrail.core.engine.sense import expect_at, follow_levels, levels_at, sense

# Channels of the field: one, or red, green and blue.
MOST_CHANNELS = 3
# Samples that can be on their way: those of the longest delay in the shortest loop.
MOST_SAMPLES = 502
# What is kept of a sensor: its noise; the ring of its samples on their way; the light that a slow one saw at its last
# node, where its level has got to, and room for the next light; where a sample was taken last.
SEEN = np.dtype(
    [("noise", NOISE), ("samples", "f8", (MOST_SAMPLES, MOST_CHANNELS)), ("x", "f8"), ("y", "f8")]
    + [(name, "f8", (MOST_CHANNELS,)) for name in ("light", "lagged", "now")]
)


@inlined
def sense_all(p, work, sample):
    """What each sensor gives for a place of its ring."""
    decision, first, second = work.decision, work.first, work.second
    decision.raw_output, decision.margin = sense(p.sensor, first.samples[sample], first.noise)
    if p.sensors > 1:
        decision.second_raw_output, _ = sense(p.second, second.samples[sample], second.noise)


@inlined
def first_looks(p, work, field, second_field):
    """All that each sensor has seen so far is the place where the robot is set down; its noise begins."""
    begin_noise(work.first.noise, p.seed)
    begin_noise(work.second.noise, p.second_seed)
    places = work.timing.late + 1
    look_at_once(p.sensor, work.plant, work.first, field, places)
    _copy(work.first.light, work.first.lagged)
    if p.sensors > 1:
        look_at_once(p.second, work.plant, work.second, second_field, places)
        _copy(work.second.light, work.second.lagged)


@compiled
def look_at_once(sensor, plant, seen, field, places):
    """Look where the robot has been put: so many of the samples on their way are of that place."""
    x, y = point_of(sensor, plant)
    levels_at(sensor, field, x, y, seen.light)
    seen.x, seen.y = x, y
    for place in range(places):
        _copy(seen.light, seen.samples[place])


@inlined
def _copy(levels, to):
    """Light, channel by channel: to compile an assignment of whole arrays takes seconds, for the words of its error."""
    for channel in range(levels.size):
        to[channel] = levels[channel]


@inlined
def look_on(sensor, plant, seen, field, length):
    """What a slow sensor sees a stride later."""
    x, y = point_of(sensor, plant)
    levels_at(sensor, field, x, y, seen.now)
    follow_levels(sensor, length, seen.light, seen.now, seen.lagged)


@inlined
def take_sample(sensor, plant, slow, seen, field, place):
    """Put what a sensor sees into its ring."""
    if slow:
        _copy(seen.lagged, seen.samples[place])
    else:
        x, y = point_of(sensor, plant)
        levels_at(sensor, field, x, y, seen.samples[place])
        expect_at(sensor, field, 2.0 * x - seen.x, 2.0 * y - seen.y)
        seen.x, seen.y = x, y
