"""Will it hold at the event: in the hall as it is, each thing that may be off by itself, and all of them together."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from irontrail.core.advice.case import Case
from irontrail.core.errors import CalledOff
from irontrail.core.light.rooms import Room
from irontrail.core.quantity import put, value_at, with_unit
from irontrail.core.setup import Setup
from irontrail.core.shaking import Shaking
from irontrail.core.starts import perturbed, raised, worn
from irontrail.core.tune.chance import Comparison
from irontrail.core.tune.differences import share_between
from irontrail.core.tune.event import Event
from irontrail.core.tune.tries import Tried, Trying, on_fresh_starts

# Starts of each level of a strain, levels of a strain, starts of all together, and how many sets more of the hall as it
# is come at last.
TRIES, LEVELS, TOGETHER, MORE_SETS = 20, 7, 100, 5
# How many sets of starts on from the usual ones those of the event are.
AT_EVENT_SET = 41
# A strain is tried up to so many times what a team reckons with.
TIMES = 1.5
WORST = 6
LOWER_MM, SHIELDED, SLOWER = 2.0, 0.9, (0.9, 0.8)


@dataclass(frozen=True)
class Strain:
    """Something that is otherwise at the event: its name, where it stands, and the most it changes by either way."""

    name: str
    path: str
    unit: str
    least: float
    most: float
    factor: float = 1.0
    relative: bool = False

    def put(self, setup: Setup, change: float, pattern: int = 1) -> Setup:
        """A setup with it changed, held inside what can be; wear has a pattern."""
        if self.path == HEIGHT:
            return raised(setup, change)
        if self.path == WEAR:
            return replace(setup, mat=worn(setup.mat, change, pattern)) if change > 0.0 else setup
        now = float(value_at(setup, self.path))
        return put(setup, self.path, now * (1.0 + change) if self.relative else now + change)

    def shown(self, change: float) -> str:
        """A change as on screen."""
        return signed(change * self.factor, self.unit)


def signed(change: float, unit: str) -> str:
    """A change as on screen, with its sign unless it is none."""
    figure = f"{change:+.{0 if unit == '%' else 1}f}"
    return with_unit("0" if float(figure) == 0.0 else figure.replace("-", "−"), unit)


HEIGHT, WEAR = "robot.mount.height_mm", "mat.line.unevenness_mm"


def strains_of(shaken: Shaking) -> tuple[Strain, ...]:
    """What may be off at an event, each as far as one and a half times what a team reckons with there."""
    by = {
        "room light": ("light.room_light", "%", shaken.light, 100.0, False),
        "sensor height": (HEIGHT, "mm", shaken.height_mm, 1.0, False),
        "battery": ("robot.drive.battery", "%", shaken.battery, 100.0, True),
        "start off the edge": ("trial.start_off_mm", "mm", shaken.off_mm, 1.0, False),
        "start turned": ("trial.start_angle_deg", "°", shaken.angle_deg, 1.0, False),
        "line worn": (WEAR, "mm", shaken.wear_mm, 1.0, False),
        "wheels unlike": ("robot.drive.mismatch_percent", "%", shaken.unlike_percent, 1.0, False),
    }
    return tuple(
        Strain(name, path, unit, 0.0 if path == WEAR else -TIMES * most, TIMES * most, factor, relative)
        for name, (path, unit, most, factor, relative) in by.items()
        if most > 0.0
    )


@dataclass(frozen=True)
class StrainResult:
    """One strain's levels (changes, in stored units), and how many of the tries at each finished."""

    strain: Strain
    changes: tuple[float, ...]
    good: tuple[int, ...]
    tries: int

    @property
    def finished(self) -> tuple[float, ...]:
        """The shares that finished."""
        return tuple(each / self.tries for each in self.good)

    def says(self, i: int) -> str:
        """What a level came to, with its interval."""
        low, high = share_between(self.good[i], self.tries)
        return (
            f"{self.strain.name} {self.strain.shown(self.changes[i])}: {self.good[i]} of {self.tries} finish "
            f"(truly {100 * low:.0f} to {100 * high:.0f} %)"
        )


@dataclass(frozen=True, eq=False)
class Place:
    """Where it was tried: what that is called, and what it came to."""

    name: str
    over: Tried

    @property
    def share(self) -> tuple[float, float, float]:
        """The share that came through, and between what it truly lies."""
        return self.over.good / self.over.starts, *share_between(self.over.good, self.over.starts)


@dataclass(frozen=True, eq=False)
class Bought:
    """What one change does at the event, over the same starts as without it; None for `setup` if it is made there."""

    says: str
    setup: Setup | None
    against: Comparison


@dataclass(frozen=True)
class WorstCase:
    """A run that did not finish, or the slowest: its setup, and what was otherwise, in words."""

    setup: Setup
    says: str
    finished: bool
    progress_mm: float
    time_s: float


@dataclass(frozen=True, eq=False)
class Robustness:
    """How a setup holds, as far as it is worked out.

    `places`: here, and in the hall as it is set and calibrated there, all shaken as at the event but the first. The
    strains, each by itself, and the worst cases are of the hall as the event says; so is what each change buys, the
    most first. Those of the hall are tried over more starts at last.
    """

    setup: Setup
    event: Event
    places: tuple[Place, ...] = ()
    single: tuple[StrainResult, ...] = ()
    bought: tuple[Bought, ...] = ()
    worst: tuple[WorstCase, ...] = ()


def runs_needed(event: Event) -> int:
    """About how many runs it takes."""
    return (7 + 2 * MORE_SETS) * TOGETHER + len(strains_of(event.shaken)) * LEVELS * TRIES


def robustness_of(
    setup: Setup,
    event: Event,
    tell: Callable[[Robustness, int], bool] = lambda _holds, _done: True,
    threads: int | None = None,
) -> Robustness | None:
    """Try a setup at an event; `tell(holds, runs done)` says whether to go on. None if it says no."""
    holds = Robustness(setup, event)
    trying = Trying(lambda done: tell(holds, done), threads)
    try:
        ways = [Event(event.room, event.shaken, calibrated).there(setup) for calibrated in (False, True)]
        there = ways[event.calibrated]
        changes = list(_changes(setup, event))
        here = trying.one(setup, starts=TOGETHER)
        # All over the same starts, and those on one mat at once: what its sensors see is worked out for all of them.
        at_event = trying([*ways, *(event.there(made) for _, made, event in changes)], AT_EVENT_SET, TOGETHER)
        names = ("here", f"{event.room.name}, as set", f"{event.room.name}, calibrated there")
        places = tuple(Place(*each) for each in zip(names, (here, *at_event[:2]), strict=True))
        base = at_event[event.calibrated]
        bought = [
            Bought(says, made if made != setup else None, Comparison(base, tried))
            for (says, made, _), tried in zip(changes, at_event[2:], strict=True)
        ]
        bought.sort(key=lambda each: (-each.against.other.good, _time(each)))
        holds = replace(holds, places=places, bought=tuple(bought), worst=_worst(base))
        for strain in strains_of(event.shaken):
            holds = replace(holds, single=(*holds.single, _strained(setup, there, strain, trying)))
        for fresh in range(AT_EVENT_SET + 1, AT_EVENT_SET + 1 + MORE_SETS):
            places = holds.places[1:]
            more = trying([place.over.setup for place in places], fresh, TOGETHER)
            surer = (
                replace(place, over=place.over.with_more(tried)) for place, tried in zip(places, more, strict=True)
            )
            holds = replace(holds, places=(holds.places[0], *surer))
        return holds
    except CalledOff:
        return None


def _time(bought: Bought) -> float:
    time = bought.against.other.time_s
    return time if time == time else np.inf


def _levels(strain: Strain) -> tuple[float, ...]:
    """Changes from the least to the most, none among them."""
    return tuple(np.round(np.linspace(strain.least, strain.most, LEVELS), 6).tolist())


def _strained(setup: Setup, there: Setup, strain: Strain, trying: Trying) -> StrainResult:
    """One thing off at the event, all else as it is in practice."""
    base = replace(there, trial=replace(there.trial, shaken=setup.trial.shaken))
    changes = _levels(strain)
    starts = [perturbed(base, number) for number in range(1, TRIES + 1)]
    made = [strain.put(start, change, 1000 * k + 7) for change in changes for k, start in enumerate(starts)]
    good = np.array([each.good for each in trying(made, starts=1)]).reshape(len(changes), TRIES)
    return StrainResult(strain, changes, tuple(int(each) for each in good.sum(axis=1)), TRIES)


def _changes(setup: Setup, event: Event) -> Iterator[tuple[str, Setup, Event]]:
    """What a team might do about it: words, the setup, and the event as it then is."""
    room = event.room
    if not event.calibrated:
        yield "Calibrate there", setup, replace(event, calibrated=True)
    if room.shield < SHIELDED:
        yield f"Shield {100 * SHIELDED:.0f} %", setup, replace(event, room=_shielded(room))
    lower = max(room.height_mm - LOWER_MM, 2.0)
    if lower < room.height_mm:
        second = max(room.second_height_mm - LOWER_MM, 2.0)
        hung = replace(room, height_mm=lower, second_height_mm=second)
        yield f"Sensor {lower:g} mm high there", setup, replace(event, room=hung)
    for mend in Case.of(setup).faster_or_slower(SLOWER):
        yield mend.says, mend.setup, event


def _shielded(room: Room) -> Room:
    return replace(room, shield=SHIELDED, second_shield=max(SHIELDED, room.second_shield))


def _worst(tried: Tried) -> tuple[WorstCase, ...]:
    """The starts at the event that did not come through, those that came least far first; then the slowest."""
    there, found = on_fresh_starts(tried.setup, AT_EVENT_SET), []
    for k in range(tried.starts):
        made, time = perturbed(there, k + 1), float(tried.times_s[k])
        found.append(WorstCase(made, _otherwise(there, made), bool(np.isfinite(time)), float(tried.came_mm[k]), time))
    found.sort(key=lambda each: (each.finished, each.progress_mm if not each.finished else -each.time_s))
    return tuple(found[:WORST])


def _otherwise(there: Setup, made: Setup) -> str:
    """What of a start was otherwise than the event's, in words."""
    said = []
    for name, path, unit, factor in (
        ("aside", "trial.start_off_mm", "mm", 1.0), ("turned", "trial.start_angle_deg", "°", 1.0),
        ("light", "light.room_light", "%", 100.0), ("charge", "robot.drive.battery", "%", 100.0),
        ("wheels", "robot.drive.mismatch_percent", "%", 1.0), ("height", HEIGHT, "mm", 1.0),
        ("worn", WEAR, "mm", 1.0),
    ):  # fmt: skip
        by = factor * (float(value_at(made, path)) - float(value_at(there, path)))
        told = signed(by, unit)
        if told[0] in "+−":
            said.append(f"{name} {told}")
    return ", ".join(said)
