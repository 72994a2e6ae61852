"""The same program again and again under other noise, starts and light: what of a run is skill, and what is luck."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.advice.case import Case
from irontrail.core.figures import OF_SPOTS, Figures
from irontrail.core.measures import measure
from irontrail.core.project import Setup
from irontrail.core.quantity import quantities
from irontrail.core.result import Run

Floats = NDArray[np.float64]

# How far each try is perturbed either way, evenly spread: what a team cannot set exactly.
START_OFF_MM = 4.0
START_ANGLE_DEG = 6.0
START_ALONG_MM = 15.0
ROOM_LIGHT = 0.2
BATTERY = 0.05
TRAIL_POINTS = 600

# The figures whose spread is told.
SPREAD = ("time_s", "wobble_mm", "rms_edge_mm", "worst_edge_mm", "clipped_share", "end_angle_deg", *OF_SPOTS)


@dataclass(frozen=True, eq=False)
class Try:
    """One perturbed run: its setup, figures, and where its sensor went, shape (n,)."""

    setup: Setup
    figures: Figures
    x_mm: Floats
    y_mm: Floats


@dataclass(frozen=True, eq=False)
class Luck:
    """All tries of a setup."""

    setup: Setup
    tries: tuple[Try, ...]

    @property
    def finished(self) -> int:
        """How many finished."""
        return sum(each.figures.outcome == "finished" for each in self.tries)

    def spread(self, name: str) -> tuple[float, float, float] | None:
        """Least, middle and greatest value of a figure among the tries that finished; None if none did."""
        values = [getattr(each.figures, name) for each in self.tries if each.figures.outcome == "finished"]
        if not values:
            return None
        return min(values), float(np.median(values)), max(values)


def perturbed(setup: Setup, number: int) -> Setup:
    """A setup as another try would find it; the same for the same seed and number."""
    random = np.random.default_rng([setup.trial.seed, number])
    off, angle, along, light, battery = random.uniform(-1.0, 1.0, 5)

    def moved(part: object, name: str, by: float) -> float:
        return quantities(type(part))[name].clamped(getattr(part, name) + by)

    trial, drive = setup.trial, setup.robot.drive
    return replace(
        setup,
        trial=replace(
            trial,
            start_off_mm=moved(trial, "start_off_mm", START_OFF_MM * off),
            start_angle_deg=moved(trial, "start_angle_deg", START_ANGLE_DEG * angle),
            start_mm=moved(trial, "start_mm", START_ALONG_MM * along),
            seed=int(random.integers(2**31 - 1)),
        ),
        light=replace(setup.light, room_light=moved(setup.light, "room_light", ROOM_LIGHT * light)),
        robot=replace(setup.robot, drive=replace(drive, battery=moved(drive, "battery", BATTERY * battery))),
    )


def try_luck(setup: Setup, count: int, proceed: Callable[[int], bool] = lambda _done: True) -> Luck | None:
    """Run a setup so many times, perturbed; `proceed` is told how many are done, and None returned if it says no."""
    tries = []
    for number in range(1, count + 1):
        tries.append(_try(perturbed(setup, number)))
        if not proceed(number):
            return None
    return Luck(setup, tuple(tries))


def _try(setup: Setup) -> Try:
    run: Run = derive.run_once(setup)
    figures = measure(run, setup.mat.spots)
    x, y = Case(setup, run, figures).sensor
    step = max(1, x.size // TRAIL_POINTS)
    return Try(setup, figures, x[::step].copy(), y[::step].copy())
