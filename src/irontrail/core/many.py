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
    """Setups that are made when their turn comes."""

    def __len__(self) -> int: ...

    def part(self, chunk: slice) -> list[Setup]:
        """Those of a slice."""


def deal(
    setups: Dealt, threads: int | None = None, proceed: Callable[[int], bool] = lambda _done: True
) -> "SweepResult":
    """The measures of many setups that share what `shared` says, in their order, each packed when its turn comes."""
    from irontrail.core.engine import sweep as engine
    from irontrail.core.engine.pack import pack

    first = setups.part(slice(0, 1))[0]
    with COMPUTING.taken():
        way, seen = derive.route(first.mat, first.trial.reverse), derive.fields(first)

    def make(chunk: slice) -> "tuple[NDArray[np.void], Packed]":
        packed = [pack(setup, way, *seen) for setup in setups.part(chunk)]
        return joined([each.parameters for each in packed]), packed[0]

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

    def part(self, chunk: slice) -> list[Setup]:
        """Those of a slice."""
        return list(self.setups[chunk])
