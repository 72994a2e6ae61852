"""Measures by stretch of the route: each straight and each bend by itself; of a trip each leg."""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.route import Route
from irontrail.core.measures import SINE_HEIGHT, peak_to_peak, rms, wobbling
from irontrail.core.result import LegRun, Run
from irontrail.core.setup import Setup
from irontrail.core.steering.leg_words import ended_words

# A straight shorter than this is counted to the bend before it.
SHORTEST_MM = 5.0
# A stretch no longer than this is none.
NOTHING_MM = 1e-6


@dataclass(frozen=True)
class Stretch:
    """A straight or a bend as the run went through it; lengths in mm from where the robot was set down.

    Or a leg of a trip, at lengths of what was driven; what is measured off the edge is 0 where no line was followed.

    A bend has its letter, a straight the letters of the bends it lies between; those of later laps say which. A bend
    that the robot is set down in has a rest to begin with, and its first part last. A stretch that the run did not get
    to the end of has the time spent in it.
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
    """The stretches that a run came to, in their order; their times add up to the run's.

    The last one ends where the run did. One that a hand carried the robot over is left out.
    """
    if run.legs:
        return _by_leg(run)
    trace = run.trace
    reached, times = first_times(run)
    loop = float(trace.time_s[1]) if len(trace) > 1 else 1.0
    wobble = wobbling(trace.edge_mm, loop)
    came = float(np.interp(run.time_s, trace.time_s, np.maximum.accumulate(trace.progress_mm)))
    spans = [span for span in _spans(run, came) if span.start_mm < came - NOTHING_MM or not span.start_mm]
    entered = np.interp([span.start_mm for span in spans], reached, times)
    moments = np.concatenate(([0.0], entered[1:], [run.time_s]))
    bounds = np.searchsorted(trace.time_s, moments, side="left")
    rows = _Rows(bounds[:-1], bounds[1:])
    off_rms, worst = rows.rms(trace.edge_mm).tolist(), rows.worst(trace.edge_mm).tolist()
    swing_rms, clipped = rows.rms(wobble).tolist(), rows.mean(trace.clipped).tolist()
    found = []
    for i, span in enumerate(spans):
        last = i + 1 == len(spans)
        start, end = float(moments[i]), float(moments[i + 1])
        if bounds[i] >= bounds[i + 1] and start - loop <= run.pull_s <= end + loop:
            continue
        came_to = min(came, span.end_mm) if last else span.end_mm
        found.append(
            Stretch(
                name=span.name,
                bend=span.bend,
                start_mm=span.start_mm,
                end_mm=came_to if run.outcome == "finished" else span.end_mm,
                time_s=end - start,
                mean_speed_mm_s=max(came_to - span.start_mm, 0.0) / (end - start) if end > start else 0.0,
                rms_edge_mm=off_rms[i],
                worst_edge_mm=worst[i],
                wobble_mm=SINE_HEIGHT * swing_rms[i],
                clipped_share=clipped[i],
                whole=not last or run.outcome == "finished",
            )
        )
    return tuple(found)


@dataclass(frozen=True, eq=False)
class _Rows:
    """Rows of a trace that follow one another, from `first` to before `behind`, shape (n,); measured all at once.

    What was driven through within a loop is judged by where the loop began.
    """

    first: NDArray[np.intp]
    behind: NDArray[np.intp]

    def rms(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Root of the mean square in each."""
        return np.asarray(np.sqrt(self.mean(values * values)))

    def mean(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """The mean in each."""
        return np.asarray(self._gathered(np.add, values) / np.maximum(self.behind - self.first, 1))

    def worst(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """What is farthest from 0 in each, without its sign."""
        return self._gathered(np.maximum, np.abs(values))

    def _gathered(self, gather: np.ufunc, values: NDArray[np.float64]) -> NDArray[np.float64]:
        driven = self.first < self.behind
        found = values[np.maximum(self.behind - 1, 0)]
        if driven.any():
            found[driven] = gather.reduceat(values[: self.behind[-1]], self.first[driven])
        return found


def leg_facts(setup: Setup, run: Run, leg: LegRun) -> dict[str, float | int | str | None]:
    """A leg of a run in plain figures: what it was, when, how far and how much it turned, where it left the robot.

    `ended_by` is None for the leg that the run ended in; distances and angles are to the end of the leg, the place that
    after it has braked, or rested.
    """
    trip, trace = setup.program.trip, run.trace
    asked = trip.legs[leg.number] if trip is not None else None
    end = leg.ended if leg.ended >= 0 else leg.over
    rests = leg is run.legs[-1]
    x, y, heading = (
        (run.rest_x_mm, run.rest_y_mm, run.rest_heading_rad)
        if rests
        else (float(trace.x_mm[leg.over]), float(trace.y_mm[leg.over]), float(trace.heading_rad[leg.over]))
    )
    return {
        "leg": leg.number + 1,
        "kind": asked.kind if asked is not None else "",
        "began_s": float(trace.time_s[leg.begun]),
        "ended_s": float(trace.time_s[end]),
        "ended_by": ended_words(asked, leg.ended_by) if asked is not None and leg.ended >= 0 else None,
        "counted_mm": leg.counted_mm,
        "driven_mm": leg.way_mm,
        "turned_deg": float(np.degrees(trace.heading_rad[end] - trace.heading_rad[leg.begun])),
        "x_mm": x,
        "y_mm": y,
        "heading_deg": float(np.degrees(heading)),
    }


@lru_cache(maxsize=16)
def driven_mm(run: Run) -> NDArray[np.float64]:
    """How far the axle's middle has come in each row, mm, shape (rows,); what a hand carried it does not count.

    Remembered for the run: what is given is not to be changed.
    """
    trace = run.trace
    steps = np.hypot(np.diff(trace.x_mm), np.diff(trace.y_mm))
    steps[(trace.time_s[1:] >= run.pull_s) & (trace.time_s[:-1] < run.pull_s)] = 0.0
    way = np.concatenate(([0.0], np.cumsum(steps)))
    way.setflags(write=False)
    return way


def _by_leg(run: Run) -> tuple[Stretch, ...]:
    """The legs that a run came to, in their order."""
    trace, way = run.trace, driven_mm(run)
    followed = trace.following > 0.0
    loop = float(trace.time_s[1]) if len(trace) > 1 else 1.0
    wobble = np.zeros(len(trace))
    wobble[followed] = wobbling(trace.edge_mm[followed], loop)
    found = []
    for leg in run.legs:
        rows = slice(leg.begun, max(leg.over, leg.begun + 1))
        on = followed[rows] if leg.route is not None else np.zeros(0, np.bool_)
        edge = trace.edge_mm[rows][on] if on.size else np.zeros(0)
        seconds = (run.time_s if leg is run.legs[-1] else float(trace.time_s[leg.over])) - float(
            trace.time_s[leg.begun]
        )
        start, end = float(way[leg.begun]), float(way[leg.over])
        found.append(
            Stretch(
                name=f"leg {leg.number + 1}",
                bend=False,
                start_mm=start,
                end_mm=end,
                time_s=seconds,
                mean_speed_mm_s=(end - start) / seconds if seconds > 0.0 else 0.0,
                rms_edge_mm=rms(edge),
                worst_edge_mm=float(np.abs(edge).max(initial=0.0)),
                wobble_mm=peak_to_peak(wobble[rows][on]) if on.size else 0.0,
                clipped_share=float(trace.clipped[rows].mean()),
                whole=leg.ended >= 0,
            )
        )
    return tuple(found)


def first_times(run: Run) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places of the way (mm from where the robot was set down) and when it first was there, both rising."""
    reached = np.maximum.accumulate(run.trace.progress_mm)
    first = np.concatenate(([True], np.diff(reached) > 0.0))
    return reached[first], run.trace.time_s[first]


@dataclass(frozen=True)
class _Span:
    name: str
    bend: bool
    start_mm: float
    end_mm: float


def _spans(run: Run, came_mm: float) -> list[_Span]:
    """The stretches of the way from where the robot is set down, one after the other without a gap, lap after lap."""
    route, lap = run.route, _lap(run.route, run.start_mm)
    if not route.closed:
        return list(lap)
    spans = list(lap)
    for i in range(1, ceil((came_mm - NOTHING_MM) / route.length_mm)):
        of_lap, begins = f", lap {i + 1}", i * route.length_mm
        spans += [_Span(each.name + of_lap, each.bend, begins + each.start_mm, begins + each.end_mm) for each in lap]
    return spans


# Of one route from one place for every run of a drag.
@lru_cache(maxsize=16)
def _lap(route: Route, start: float) -> tuple[_Span, ...]:
    """The stretches from a place on, once round a closed route."""
    whole = _round(route)
    if not route.closed:
        return tuple(_cut(whole, start, route.length_mm, 0.0))
    # From where it was set down to the end of the laid line, and from its beginning on.
    once = _cut(whole, start, route.length_mm, 0.0)
    again = _cut(whole, 0.0, start, route.length_mm - start)
    if once and again and once[-1].name == again[0].name and len(once) + len(again) > 2:
        # The seam of the laid line is nothing to the robot.
        once[-1] = replace(once[-1], end_mm=again.pop(0).end_mm)
    lap = once + again
    if len(lap) > 1 and lap[0].name == lap[-1].name:
        first, last = lap[0], lap[-1]
        before, after = first.name.split(" to ") if not first.bend else ("", "")
        lap[0] = replace(first, name=f"{first.name} (rest)" if first.bend else f"start to {after}")
        lap[-1] = replace(last, name=f"{last.name} (first part)" if last.bend else f"{before} to end")
    return tuple(lap)


def _round(route: Route) -> list[_Span]:
    """The stretches of the whole route as it is laid; a straight too short to matter goes to the bend before it."""
    bends = [bend for bend in route.bends if bend.radius_mm > 0.0]
    first = "start" if not route.closed or not bends else bends[-1].name
    last = "end" if not route.closed or not bends else bends[0].name
    spans: list[_Span] = []
    place, before = 0.0, first
    for bend in bends:
        if bend.start_mm - place >= SHORTEST_MM or (not spans and bend.start_mm > place):
            spans.append(_Span(f"{before} to {bend.name}", False, place, bend.start_mm))
        elif spans:
            spans[-1] = replace(spans[-1], end_mm=bend.start_mm)
        spans.append(_Span(bend.name, True, bend.start_mm, bend.end_mm))
        place, before = bend.end_mm, bend.name
    if route.length_mm - place >= SHORTEST_MM or not spans:
        spans.append(_Span(f"{before} to {last}", False, place, route.length_mm))
    else:
        spans[-1] = replace(spans[-1], end_mm=route.length_mm)
    return spans


def _cut(spans: list[_Span], start: float, end: float, begins_mm: float) -> list[_Span]:
    """What lies between two places of the route, counted from `begins_mm` at the first of them."""
    found = []
    for span in spans:
        low, high = max(span.start_mm, start), min(span.end_mm, end)
        if high - low > NOTHING_MM:
            found.append(replace(span, start_mm=begins_mm + low - start, end_mm=begins_mm + high - start))
    return found
