"""A run as findings look at it, what they say, and the mends they try."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.figures import Figures
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.mat.route import Bending
from irontrail.core.quantity import quantity_at, value_at, with_value
from irontrail.core.result import Run, point_way
from irontrail.core.setup import Setup
from irontrail.core.steering.program import Program

Floats = NDArray[np.float64]

# The reading tells its distance within this many standard deviations of the spot either side of the edge.
SEEN_SIGMAS = 2.0
# A place of the way before this is its start.
AT_START_M = 0.02


@dataclass(frozen=True)
class Finding:
    """What happened, at which row of the trace, and a change that was tried and mends it."""

    kind: str
    says: str
    row: int
    mend: str = ""
    mended: Setup | None = None


@dataclass(frozen=True)
class Mend:
    """A change to try, by what its button says."""

    says: str
    setup: Setup


@dataclass(frozen=True, eq=False)
class Case:
    """A setup with its run and figures."""

    setup: Setup
    run: Run
    figures: Figures

    @classmethod
    def of(cls, setup: Setup) -> "Case":
        return cls(setup, derive.run(setup), derive.figures(setup))

    @cached_property
    def sensor(self) -> tuple[Floats, Floats]:
        """Where the sensor that is judged, or the middle between two, was in each row, in mm."""
        return point_way(self.run.trace, self.setup.reference)

    @property
    def loop_s(self) -> float:
        return self.setup.program.loop_time_s

    @property
    def seen_mm(self) -> float:
        """How far from what it follows the sensor, or the middle between two, can be and still tell how far it is."""
        setup = self.setup
        seen = SEEN_SIGMAS * spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
        if setup.second is None or not setup.program.astride:
            return seen
        apart = abs(setup.robot.mount.aside_mm - setup.second.mount.aside_mm)
        return seen + 0.5 * (apart + setup.mat.followed.width_mm)

    @property
    def midway(self) -> float | None:
        """The target midway between what is read on and off the line; None where no target is steered by."""
        program = self.setup.program
        if program.arrangement not in ("one", "weighted") or program.pair.edges == "opposite":
            return None
        reading = derive.profile(self.setup).reading
        return float(round(program.target + 0.5 * float(reading.min() + reading.max()) - program.aim))

    def shielded(self, share: float) -> Mend:
        """Another skirt round each of its sensors."""
        setup = with_value(self.setup, "light.sensor.shield", share)
        if setup.second is not None:
            setup = with_value(setup, "second.sensor.shield", share)
        return Mend(f"Shield {100 * share:g} %", setup)

    @property
    def gain_path(self) -> str | None:
        """Where the gain of the law is; None for laws without a slope."""
        path = self.setup.program.chosen.gain_path
        return f"program.{path}" if path else None

    def place_mm(self, row: int) -> float:
        """Arc length along the route at a row."""
        s = self.run.start_mm + float(self.run.trace.progress_mm[row])
        return s % self.run.route.length_mm if self.run.route.closed else s

    def bend_at(self, row: int, slack_mm: float = 25.0) -> Bending | None:
        """The bend that the sensor is in, has just left or is about to enter, at a row."""
        place, length = self.place_mm(row), self.run.route.length_mm
        for bend in self.run.route.bends:
            for lap in (-length, 0.0, length) if self.run.route.closed else (0.0,):
                if bend.start_mm + lap - slack_mm <= place <= bend.end_mm + lap + slack_mm:
                    return bend
        return None

    def where(self, row: int) -> str:
        """A row's place in words."""
        bend = self.bend_at(row)
        if bend is not None:
            return f"{'corner' if bend.radius_mm == 0.0 else 'bend'} {bend.name}"
        came = float(self.run.trace.progress_mm[row]) / 1000.0
        return f"the straight at {came:.2f} m" if came >= AT_START_M else "the straight at the start"

    def rows(self, seconds: float) -> int:
        """So many rows last that long, at least one."""
        return max(1, round(seconds / self.loop_s))

    def gathered(self, values: NDArray[np.float64], seconds: float) -> NDArray[np.float64]:
        """What each row's value and those about it, over so long or the whole run, come to together."""
        about = np.ones(min(self.rows(seconds), values.size))
        return np.convolve(values, about, "same")

    # --- mends

    def first_that_finishes(self, mends: Iterable[Mend]) -> Mend | None:
        """The first change with which the run is finished."""
        return next((mend for mend in mends if derive.figures(mend.setup).outcome == "finished"), None)

    def faster_or_slower(self, shares: tuple[float, ...]) -> list[Mend]:
        """All powers that the law's settings name, changed to some shares of what they are."""
        mends = []
        for share in shares:
            program, powers = self.setup.program, self.setup.program.chosen.powers(self.setup.program)
            for power in powers:
                program = power.put(program, float(round(power.value * share)))
            says = f"Speed {program.speed:g}" if len(powers) == 1 else f"All powers × {share:g}"
            mends.append(Mend(says, self.with_program(program)))
        return [mend for mend in mends if mend.setup != self.setup]

    def with_program(self, program: Program) -> Setup:
        """The setup with another program."""
        return replace(self.setup, program=program)

    def other_gain(self, gains: Iterable[float]) -> list[Mend]:
        """The law's gain set to some values inside its range."""
        if self.gain_path is None:
            return []
        quantity, now = quantity_at(self.setup, self.gain_path), value_at(self.setup, self.gain_path)
        values = (round(quantity.clamped(gain), 2) for gain in gains)
        return [Mend(f"Gain {gain:g}", with_value(self.setup, self.gain_path, gain)) for gain in values if gain != now]

    def gain_times(self, shares: tuple[float, ...]) -> list[Mend]:
        """The law's gain changed to some shares of what it is."""
        if self.gain_path is None:
            return []
        return self.other_gain(share * value_at(self.setup, self.gain_path) for share in shares)

    def with_number(self, path: str, value: float, says: str) -> Mend:
        """One number of the setup changed."""
        return Mend(says, with_value(self.setup, path, value))


def finding(kind: str, says: str, row: int, mend: Mend | None = None) -> Finding:
    """A finding with the mend that was found for it, if any."""
    return Finding(kind, says, row, mend.says if mend else "", mend.setup if mend else None)
