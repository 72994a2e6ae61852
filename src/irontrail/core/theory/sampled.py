"""The sampled loop solved exactly: eigenvalues of what one loop of the program does to the state.

Between two decisions the robot's small motion is linear with a constant command, so that a matrix exponential takes it
from one to the next; samples, delay and the law's memory are states of their own.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import exp, log, pi

import numpy as np
from numpy.typing import NDArray

from irontrail.core.theory.linear import LinearLoop, UltimateGain

Floats = NDArray[np.float64]

# The state of the motion: lateral place, heading, wheel difference; then what each sensor sees, if it is slow.
BODY = 3
# The gain at which rocking starts is found to this share of itself.
_GAIN_SHARE = 1e-5


@dataclass(frozen=True)
class Swing:
    """How small swings go: their frequency, and the share of their height lost in a radian of them.

    Negative damping grows. A pair that does not swing has no frequency.
    """

    hertz: float
    damping_ratio: float
    growth_per_s: float


def swing(loop: LinearLoop) -> Swing:
    """The slowest-dying swing of a loop."""
    eigenvalues = np.linalg.eigvals(loop_matrix(loop))
    swinging = eigenvalues[np.abs(eigenvalues.imag) > 1e-9]
    if not swinging.size:
        size = float(np.abs(eigenvalues).max())
        return Swing(0.0, 1.0, log(max(size, 1e-300)) / loop.loop_time)
    dominant = swinging[np.argmax(np.abs(swinging))]
    s = np.log(dominant) / loop.loop_time
    return Swing(abs(float(s.imag)) / (2.0 * pi), -float(s.real) / float(abs(s)), float(s.real))


def ultimate_gain(loop: LinearLoop) -> UltimateGain | None:
    """The proportional gain at which steady rocking starts, ki and kd staying as they are; None if there is none."""
    return _from_calm(replace(loop, kp=0.0))


def calm_gain(loop: LinearLoop) -> float | None:
    """A small proportional gain at which swings die, ki and kd staying as they are; None if they grow at any.

    An integral may keep small gains from being calm.
    """
    return next((kp for kp in (0.001 * 2.0**doubled for doubled in range(18)) if not _grows(loop, kp)), None)


@lru_cache(maxsize=64)
def _from_calm(loop: LinearLoop) -> UltimateGain | None:
    """Raised from the smallest gain at which swings die until they no longer do, then halved in on."""
    calm = calm_gain(loop)
    if calm is None:
        return None
    low = high = calm
    while not _grows(loop, high):
        low, high = high, high * 1.5
        if high > 1e4:
            return None
    while high - low > _GAIN_SHARE * high:
        middle = 0.5 * (low + high)
        low, high = (low, middle) if _grows(loop, middle) else (middle, high)
    hertz = swing(replace(loop, kp=high)).hertz
    # What grows without swinging does not rock: at a standstill, say.
    return UltimateGain(high, hertz) if hertz > 0.0 else None


def _grows(loop: LinearLoop, kp: float) -> bool:
    return bool(np.abs(np.linalg.eigvals(loop_matrix(replace(loop, kp=kp)))).max() > 1.0)


def loop_matrix(loop: LinearLoop) -> Floats:
    """What one loop does to the state: the motion's, samples, the law's memory.

    The samples are those taken in the past intervals, newest first; the decision takes the oldest. A sample is
    `delay` old when it is acted on, and so lies within an earlier interval, at a fixed place of it.
    """
    whole = int(loop.delay / loop.loop_time + 1e-9)
    part = max(loop.delay - whole * loop.loop_time, 0.0)
    after = loop.loop_time - part if part > 1e-12 else 0.0
    kept = whole + (1 if after > 0.0 else 0)
    over_loop, over_sample = (
        _step(loop.speed, loop.track_width, loop.response_time, tuple((eye.ahead, eye.lag) for eye in loop.eyes), time)
        for time in (loop.loop_time, after)
    )
    # What a sample is of: the error by each sensor's place, or by what a slow one makes of it.
    moving = BODY + len(loop.eyes)
    sees = np.zeros(moving)
    for i, eye in enumerate(loop.eyes):
        if eye.lag > 0.0:
            sees[BODY + i] = eye.slope
        else:
            sees[:2] += eye.slope * np.array([1.0, eye.ahead])
    integrates, derives = loop.ki > 0.0, loop.kd > 0.0
    size = moving + kept + (1 if integrates else 0) + (2 if derives else 0)

    def once(state: Floats) -> Floats:
        motion, samples, memory = state[:moving], state[moving : moving + kept], state[moving + kept :]
        now = float(sees @ motion)
        # With no kept samples the decision takes the present one; with the delay a whole number of loops, the sample
        # taken at a decision is kept for later ones.
        error = float(samples[-1]) if kept else now
        command, memory = _decide(loop, error, memory)
        taken = sees @ (over_sample[:, :moving] @ motion + over_sample[:, moving] * command) if after > 0.0 else now
        after_loop = over_loop[:, :moving] @ motion + over_loop[:, moving] * command
        shifted = np.concatenate((np.atleast_1d(taken), samples[:-1])) if kept else samples
        return np.concatenate((after_loop, shifted, memory))

    return np.column_stack([once(unit) for unit in np.eye(size)])


def _decide(loop: LinearLoop, error: float, memory: Floats) -> tuple[float, Floats]:
    """The wheels' commanded speed difference (right less left) and what the law remembers."""
    dt = loop.loop_time
    steer, after = loop.kp * error, memory.copy()
    place = 0
    if loop.ki > 0.0:
        after[0] = memory[0] + error * dt
        steer += loop.ki * after[0]
        place = 1
    if loop.kd > 0.0:
        share = 1.0 - exp(-dt / loop.filter_time) if loop.filter_time > 0.0 else 1.0
        after[place] = memory[place] + ((error - memory[place + 1]) / dt - memory[place]) * share
        after[place + 1] = error
        steer += loop.kd * after[place]
    return -2.0 * steer * loop.top_speed / 100.0, after


@lru_cache(maxsize=64)
def _step(
    speed: float, track_width: float, response_time: float, eyes: tuple[tuple[float, float], ...], time: float
) -> Floats:
    """Motion after a time with a constant command: (n, n + 1), the last column for the command.

    `eyes` is how far ahead each sensor is, and its lag.
    """
    from scipy.linalg import expm

    tau = max(response_time, 1e-6)
    moving = BODY + len(eyes)
    rates = np.zeros((moving + 1, moving + 1))
    rates[0, 1] = speed
    rates[1, 2] = 1.0 / track_width
    rates[2, 2], rates[2, moving] = -1.0 / tau, 1.0 / tau
    # Without a lag nobody looks at what a slow sensor sees; it follows at once.
    for i, (ahead, lag) in enumerate(eyes, BODY):
        rates[i, 0], rates[i, 1], rates[i, i] = 1.0 / max(lag, 1e-6), ahead / max(lag, 1e-6), -1.0 / max(lag, 1e-6)
    return np.asarray(expm(rates * time)[:moving])
