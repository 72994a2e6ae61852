"""Many setups of one mat, as their sensors see it, run in one go."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.records import joined
from irontrail.core.setup import Setup
from irontrail.core.turns import COMPUTING

if TYPE_CHECKING:
    from irontrail.core.engine.pack import Packed
    from irontrail.core.engine.sweep import SweepResult
    from irontrail.core.mat.route import Route


def shared(setup: Setup) -> tuple[object, ...]:
    """What setups must have in common to be run in one go: the very same mat, direction, and what the sensors see.

    And what is followed: an edge of the lines, or their middle.
    """
    eyes = []
    for alone in (setup.seen_by(which) for which in setup.sensors):
        sensor = alone.light.sensor
        eyes += [sensor.names_colours, sensor.lamp, sensor.spot_base_mm, sensor.spot_growth]
        eyes.append(alone.robot.mount.height_mm)
    return (id(setup.mat), setup.trial.reverse, setup.program.astride, setup.program.trip is not None, *eyes)


class Dealt(Protocol):
    """Setups that share what `shared` says, whose numbers are worked out when their turn comes."""

    def __len__(self) -> int: ...

    @property
    def first(self) -> Setup:
        """One of them."""

    def packed(self, chunk: slice, route: "Route") -> "list[NDArray[np.void]]":
        """The numbers of those of a slice, of run_records.PARAMETERS, shape (1,) each."""


def deal(
    setups: Dealt, threads: int | None = None, proceed: Callable[[int], bool] = lambda _done: True
) -> "SweepResult":
    """The measures of many setups, in their order."""
    from irontrail.core.engine import sweep as engine
    from irontrail.core.engine.pack import pack

    first = setups.first
    with COMPUTING.taken():
        route = derive.route(first.mat, first.trial.reverse)
        packed = pack(first, route, *derive.fields(first))

    def make(chunk: slice) -> "tuple[NDArray[np.void], Packed]":
        return joined(setups.packed(chunk, route)), packed

    loops = first.trial.time_limit_s / first.program.loop_time_s
    return engine.dealt(len(setups), make, threads, proceed, first.mat.spots, loops)


def sweep(setups: Sequence[Setup], threads: int | None = None) -> "SweepResult":
    """The measures of many setups of one mat, direction, lamp and sensor height, in their order; ValueError if not."""
    first = setups[0]
    if any(setup.mat != first.mat or shared(setup)[1:] != shared(first)[1:] for setup in setups):
        raise ValueError("the setups of a sweep share mat, direction, lamp, spot and sensor height")
    return deal(AtHand(setups), threads)


@dataclass(frozen=True)
class AtHand:
    """Setups that have been made already, to be dealt out."""

    setups: Sequence[Setup]

    def __len__(self) -> int:
        return len(self.setups)

    @property
    def first(self) -> Setup:
        """The first of them."""
        return self.setups[0]

    def packed(self, chunk: slice, route: "Route") -> "list[NDArray[np.void]]":
        """The numbers of those of a slice."""
        from irontrail.core.engine.pack import parameters_of

        return [parameters_of(setup, route) for setup in self.setups[chunk]]
