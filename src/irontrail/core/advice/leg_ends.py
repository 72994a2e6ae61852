"""Where each leg of a trip leaves the robot, over many perturbed starts: how far that scatters, and how sure it is."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core import many
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed

Floats = NDArray[np.float64]

STARTS = 40
# An ellipse with half axes of so many standard deviations holds 95 of 100 places (two dimensions, normal).
ELLIPSE_SIGMAS = 2.4477


@dataclass(frozen=True, eq=False)
class LegEnd:
    """Where a leg left the robot in those starts in which it came to its end.

    Places in mm and headings in rad, shape (n,).
    """

    starts: int
    x_mm: Floats
    y_mm: Floats
    heading_rad: Floats

    @property
    def reached(self) -> int:
        """In how many starts it came to its end."""
        return self.x_mm.size

    @property
    def middle(self) -> tuple[float, float]:
        """The mean place, in mm."""
        return float(self.x_mm.mean()), float(self.y_mm.mean())

    @property
    def heading(self) -> float:
        """The mean heading, in rad."""
        return float(np.angle(np.exp(1j * self.heading_rad).mean()))

    @property
    def axes(self) -> tuple[float, float, float]:
        """Standard deviations along and across the direction of the greatest scatter (mm), and that direction (rad)."""
        if self.reached < 2:
            return 0.0, 0.0, 0.0
        spread, ways = np.linalg.eigh(np.cov(self.x_mm, self.y_mm))
        small, large = np.sqrt(np.maximum(spread, 0.0))
        return float(large), float(small), float(np.arctan2(ways[1, 1], ways[0, 1]))

    @property
    def spread_deg(self) -> float:
        """Standard deviation of the heading, in degrees."""
        if self.reached < 2:
            return 0.0
        off = np.angle(np.exp(1j * (self.heading_rad - self.heading)))
        return float(np.degrees(np.sqrt((off**2).sum() / (self.reached - 1))))


@dataclass(frozen=True, eq=False)
class LegEnds:
    """The ends of all legs of a setup's trip, and how many of the starts reach each spot of its mat."""

    setup: Setup
    legs: tuple[LegEnd, ...]
    spots: tuple[int, ...]
    starts: int


def leg_ends(setup: Setup, starts: int = STARTS, proceed: Callable[[int], bool] = lambda _done: True) -> LegEnds | None:
    """Where the legs end over perturbed starts (as under Luck); None without a trip, or if it was called off."""
    if setup.program.trip is None:
        return None
    tries = many.AtHand([perturbed(setup, number) for number in range(1, starts + 1)])
    swept = many.deal(tries, proceed=proceed)
    if (swept.outcome == 0).any():
        return None
    count = len(setup.program.trip.legs)
    found = []
    for stands in np.moveaxis(swept.stands[:, :count], 1, 0):
        came = stands[np.isfinite(stands[:, 0])]
        found.append(LegEnd(starts, came[:, 0], came[:, 1], came[:, 2]))
    reached = swept.spots.reached.sum(axis=0) if swept.spots is not None else np.zeros(0)
    return LegEnds(setup, tuple(found), tuple(int(each) for each in reached), starts)
