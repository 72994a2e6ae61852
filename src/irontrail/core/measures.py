"""Measures of a run, from its trace; docs/model.md says how each is defined.

Those of the line count, in a trip, only what was driven while a line was followed.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from irontrail.core.figures import Figures
from irontrail.core.mat.spots import misses
from irontrail.core.mat.tape import Spot
from irontrail.core.result import Run, stands

Floats = NDArray[np.float64]

# Wobble is what is left of a signal after its mean over this time is taken off: long enough to hold a whole swing
# of the slowest rocking met, short enough to take off the steady offset in a bend.
WOBBLE_WINDOW_S = 1.0
# Where the frequency of the wobble is looked for.
WOBBLE_BAND_HZ = (0.7, 20.0)
# From its lowest to its highest point a sine measures so many times its RMS.
SINE_HEIGHT = 2.0 * float(np.sqrt(2.0))
# A wobble with an RMS below this share of a millimetre has no frequency worth telling.
STILL_MM = 0.02


def measure(run: Run, spots: Sequence[Spot] = ()) -> Figures:
    """All the figures of a run, on a mat with these spots."""
    trace = run.trace
    on = slice(None) if not run.legs else trace.following > 0.0
    edge = trace.edge_mm[on]
    steps = np.hypot(np.diff(trace.x_mm), np.diff(trace.y_mm))
    steps[(trace.time_s[1:] >= run.pull_s) & (trace.time_s[:-1] < run.pull_s)] = 0.0  # a hand's, not the wheels'
    path = float(steps.sum())
    progress = float(trace.progress_mm[-1])
    loop = float(trace.time_s[1]) if len(trace) > 1 else 1.0
    wobble, swing = wobbling(edge, loop), wobbling(trace.angle_rad[on], loop)
    crossings = int(np.count_nonzero(np.diff(edge >= 0.0)))
    followed_s = run.time_s if not run.legs else loop * edge.size
    return Figures(
        outcome=run.outcome,
        time_s=run.time_s,
        route_length_mm=run.route.length_mm,
        path_length_mm=path,
        progress_mm=progress,
        mean_speed_mm_s=progress / followed_s if followed_s > 0.0 else 0.0,
        rms_edge_mm=rms(edge),
        worst_edge_mm=float(np.abs(edge).max(initial=0.0)),
        wobble_hz=dominant_hz(wobble, loop),
        wobble_mm=peak_to_peak(wobble),
        heading_swing_deg=float(np.degrees(peak_to_peak(swing))),
        crossings_per_m=1000.0 * crossings / path if path > 0.0 else 0.0,
        clipped_share=float(trace.clipped[on].mean()) if edge.size else 0.0,
        skid_mm=run.skid_mm,
        coast_mm=run.coast_mm,
        end_angle_deg=float(np.degrees(run.end_angle_rad)),
        seed=run.seed,
        steer_effort=rms(np.diff(trace.steer[on])) / loop if edge.size > 1 else 0.0,
        slide_deg=float(np.degrees(run.slide_rad)),
        **_spots(run, spots),
    )


def _spots(run: Run, spots: Sequence[Spot]) -> dict[str, float]:
    """How nearly the spots are reached; where no leg came to its end, by where the run ended."""
    if not spots:
        return {}
    where = stands(run)
    missed = misses(spots, where) if where.size else None
    if missed is None:
        rest = np.array([[run.rest_x_mm, run.rest_y_mm, run.rest_heading_rad]])
        far = misses(spots, rest)
        return {"spots_missed": 1.0, "spot_miss_mm": float(far.worst_mm), "spot_miss_deg": float(far.worst_deg)}
    return {
        "spots_missed": float(missed.missed_share),
        "spot_miss_mm": float(missed.worst_mm),
        "spot_miss_deg": float(missed.worst_deg),
    }


def rms(values: Floats) -> float:
    """Root of the mean square; 0 of nothing."""
    if not values.size:
        return 0.0
    return float(np.sqrt(np.dot(values, values) / values.size))


def peak_to_peak(wobble: Floats) -> float:
    """Height of the sine that has the same RMS: 2 sqrt(2) RMS.

    A smooth function of the run, unlike the highest peak less the lowest, which one bend decides.
    """
    return SINE_HEIGHT * rms(wobble)


def wobbling(values: Floats, loop_s: float) -> Floats:
    """The to-and-fro part of a signal: less its mean over WOBBLE_WINDOW_S centred on each row.

    At the ends the window is cut, not padded.
    """
    size = values.size
    half = min(max(1, round(0.5 * WOBBLE_WINDOW_S / loop_s)), size)
    total = np.concatenate(([0.0], np.cumsum(values)))
    up_to, before = np.concatenate((total[half + 1 :], np.full(half, total[-1]))), np.zeros(size)
    before[half:] = total[: size - half]
    aside = np.minimum(np.arange(size), half)
    mean: Floats = (up_to - before) / (aside + 1 + aside[::-1])
    return values - mean


def dominant_hz(wobble: Floats, loop_s: float) -> float:
    """Frequency of the highest peak of the spectrum (Hann window, parabola through the peak's three points).

    0 where nothing swings or the run is too short to tell.
    """
    if wobble.size < 16 or rms(wobble) < STILL_MM:
        return 0.0
    padded = 1 << (2 * wobble.size - 1).bit_length()
    step = 1.0 / (padded * loop_s)
    low = max(1, int(np.ceil(WOBBLE_BAND_HZ[0] / step)))
    high = min(padded // 2, int(WOBBLE_BAND_HZ[1] / step))
    power = np.abs(np.fft.rfft(wobble * np.hanning(wobble.size), padded)[: high + 1])
    if high <= low:
        return 0.0
    peak = low + int(np.argmax(power[low:high]))
    a, b, c = np.log(power[peak - 1 : peak + 2] + 1e-300)
    bow = a - 2.0 * b + c
    shift = 0.5 * (a - c) / bow if bow < 0.0 else 0.0
    return float(step * (peak + min(max(shift, -0.5), 0.5)))
