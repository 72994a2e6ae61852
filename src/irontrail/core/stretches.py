"""Measures by stretch of the route: each straight and each bend by itself."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.measures import peak_to_peak, rms, wobbling
from irontrail.core.result import Run

# A straight shorter than this between two bends is counted to neither.
SHORTEST_MM = 5.0


@dataclass(frozen=True)
class Stretch:
    """A straight or a bend as the run went through it; lengths in mm from where the robot was set down.

    A bend has its letter, a straight the letters of the bends it lies between. A stretch the run did not get to the end
    of has the time spent in it.
    """

    name: str
    bend: bool
    start_mm: float
    end_mm: float
    time_s: float
    mean_speed_mm_s: float
    rms_edge_mm: float
    worst_edge_mm: float
    wobble_mm: float
    clipped_share: float
    whole: bool


def stretches(run: Run) -> tuple[Stretch, ...]:
    """The stretches that a run came to, in their order."""
    trace = run.trace
    reached = np.maximum.accumulate(trace.progress_mm)
    rising = first_times(run)
    loop = float(trace.time_s[1]) if len(trace) > 1 else 1.0
    wobble = wobbling(trace.edge_mm, loop)
    found = []
    for name, bend, start, end in _spans(run):
        if start >= reached[-1]:
            continue
        rows = (reached >= start) & (reached < end)
        if not rows.any():
            continue
        entered, left = (float(np.interp(place, *rising)) for place in (start, end))
        time = left - entered
        found.append(
            Stretch(
                name=name,
                bend=bend,
                start_mm=start,
                end_mm=end,
                time_s=time,
                mean_speed_mm_s=(min(end, float(reached[-1])) - start) / time if time > 0.0 else 0.0,
                rms_edge_mm=rms(trace.edge_mm[rows]),
                worst_edge_mm=float(np.abs(trace.edge_mm[rows]).max()),
                wobble_mm=peak_to_peak(wobble[rows]),
                clipped_share=float(trace.clipped[rows].mean()),
                whole=bool(reached[-1] >= end),
            )
        )
    return tuple(found)


def first_times(run: Run) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places of the way (mm from where the robot was set down) and when it first was there, both rising."""
    reached = np.maximum.accumulate(run.trace.progress_mm)
    first = np.concatenate(([True], np.diff(reached) > 0.0))
    return reached[first], run.trace.time_s[first]


def _spans(run: Run) -> list[tuple[str, bool, float, float]]:
    """Name, whether it bends, start and end of every stretch from where the robot is set down."""
    route, start_mm = run.route, run.start_mm
    whole = route.length_mm if route.closed else route.length_mm - start_mm
    bends = []
    for bend in route.bends:
        if bend.radius_mm == 0.0:
            continue
        start = (bend.start_mm - start_mm) % route.length_mm if route.closed else bend.start_mm - start_mm
        bends.append((bend.name, start, start + bend.end_mm - bend.start_mm))
    bends.sort(key=lambda each: each[1])
    spans, place, before = [], 0.0, "start"
    for name, start, end in [*bends, ("end", whole, whole)]:
        if start - place >= SHORTEST_MM:
            spans.append((f"{before} to {name}", False, place, start))
        if name != "end":
            spans.append((name, True, max(start, 0.0), min(end, whole)))
        place, before = end, name
    return spans
