"""Compiled: a sensor's noise, a stream of standard normal numbers drawn some at a time.

The draws of splitmix64 (Steele, Lea and Flood 2014), made normal after Box and Muller (1958). They depend on nothing
that a run does, so that a row of them is worked out at once: in a loop of a run each would have to be waited for.
"""

import numpy as np

from irontrail.core.compiled import compiled, inlined

DRAWN_AT_ONCE = 32
# The state of the stream, the numbers drawn last, and how many of them have been taken.
NOISE = np.dtype([("state", "u8"), ("taken", "i8"), ("normals", "f8", (DRAWN_AT_ONCE,))])

GAMMA = 0x9E3779B97F4A7C15


@inlined
def begin_noise(noise, seed):
    """A stream from its beginning."""
    noise.state, noise.taken = np.uint64(seed), DRAWN_AT_ONCE


@inlined
def next_normal(noise):
    """A standard normal number."""
    if noise.taken >= DRAWN_AT_ONCE:
        draw(noise.state, noise.normals)
        noise.state += np.uint64(2 * DRAWN_AT_ONCE) * np.uint64(GAMMA)
        noise.taken = 0
    noise.taken += 1
    return noise.normals[noise.taken - 1]


@compiled
def draw(state, normals):
    """Fill in normal numbers, two draws of the stream each."""
    for i in range(normals.size):
        first, second = uniform(state, 2 * i + 1), uniform(state, 2 * i + 2)
        normals[i] = np.sqrt(-2.0 * np.log(first)) * np.cos(2.0 * np.pi * second)


@inlined
def uniform(state, steps):
    """The number in (0, 1) so many steps of splitmix64 after a state."""
    z = state + np.uint64(steps) * np.uint64(GAMMA)
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return (np.float64(np.int64(z >> np.uint64(11))) + 0.5) / 9007199254740992.0
