"""The card for the table: the numbers, where to set it down and how exactly, and what to do if.

Every line of it was run for this setup; numbers that do not hold as they are get none.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from irontrail.core.advice.rooms import readings_here
from irontrail.core.capital import capital
from irontrail.core.errors import IronTrailError
from irontrail.core.pit.faults import FAULTS, Advice
from irontrail.core.pit.hall import HallRow, hall_rows
from irontrail.core.pit.setting_down import Placing, WheelCheck, placing, wheel_check
from irontrail.core.quantity import quantity_at, value_at
from irontrail.core.setup import Setup
from irontrail.core.steering.words import in_words
from irontrail.core.tune.tries import Tried, Trying

RUNS_GUESSED = 1600


@dataclass(frozen=True)
class Number:
    """A number to be typed into the robot, as on screen."""

    label: str
    value: str
    unit: str


@dataclass(frozen=True)
class Card:
    """All that stands on the card, as far as it is worked out."""

    setup: Setup
    numbers: tuple[Number, ...]
    words: tuple[str, ...]
    calibrate: tuple[str, ...]
    base: Tried | None = None
    placing: Placing | None = None
    wheels: WheelCheck | None = None
    advice: tuple[Advice, ...] = ()
    hall: tuple[HallRow, ...] = ()
    runs: int = 0
    whole: bool = False

    @property
    def same_everywhere(self) -> bool:
        """There are halls to tell of, and in each of them the numbers hold as they are."""
        return bool(self.hall) and all(row.leave and row.as_set.holds for row in self.hall)


def card_of(
    setup: Setup, tell: Callable[[Card, int], bool] = lambda _card, _done: True, threads: int | None = None
) -> Card:
    """Work a card out; `tell(card so far, runs done)` says whether to go on.

    Raises
    ------
    CalledOff
        If it says no.
    """
    card = first_card(setup)
    trying = Trying(lambda done: tell(card, done), threads)
    base = trying.one(setup)
    card = replace(card, base=base)
    if base.holds:
        # Of numbers that do not hold there is nothing else to be said.
        card = replace(card, placing=placing(setup, trying))
        card = replace(card, wheels=wheel_check(setup, trying))
        for fault in FAULTS:
            found = fault(base, trying)
            if found is not None:
                card = replace(card, advice=(*card.advice, found))
        card = replace(card, hall=hall_rows(base, trying))
    return replace(card, runs=trying.runs, whole=True)


def first_card(setup: Setup) -> Card:
    """What of a card needs no run: the numbers, the program in words, how to calibrate."""
    words = tuple(sentence.says for sentence in in_words(setup.program))
    return Card(setup, numbers(setup), words, _calibrating(setup))


def numbers(setup: Setup) -> tuple[Number, ...]:
    """What is typed into the robot: those of its law, or of its table, and of the loop around it."""
    program = setup.program
    law = program.chosen
    found = [] if program.astride else [Number("edge", program.edge, "")]
    paths = [each.path for each in law.dials if not (each.each_side and law.alike is not None and law.alike(program))]
    if law.uses_target and program.arrangement in ("one", "weighted"):
        paths.insert(1 if paths[:1] == ["speed"] else 0, "target")
    if program.arrangement in ("table", "each its side"):
        paths += ["pair.left_threshold", "pair.right_threshold"]
    if program.arrangement == "weighted":
        paths.append("pair.weight")
    if program.ease_off > 0.0:
        paths.append("ease_off")
    paths += ["loop_time_s"] + (["decision_loops"] if program.decision_loops > 1 else [])
    for path in paths:
        quantity = quantity_at(program, path)
        label = law.target_name if path == "target" else quantity.label
        found.append(Number(label, quantity.shown(value_at(program, path)), quantity.unit))
    return tuple(found)


def _calibrating(setup: Setup) -> tuple[str, ...]:
    """How to calibrate, a sentence a sensor."""
    if setup.light.sensor.names_colours:
        return ("The sensor gives names: there is nothing to calibrate.",)
    said = []
    for which in setup.sensors:
        try:
            here = readings_here(setup, which)
        except IronTrailError:
            return ("Line and mat read alike here: nothing can be calibrated.",)
        whose = "" if setup.second is None else f"The {which} sensor: "
        dark, bright = f"{here.dark:.0f}", f"{here.bright:.0f}"
        if setup.light.calibrate:
            words = f"hold it over the line, then over the mat. In practice it read {dark} and {bright} (raw)."
        else:
            words = f"the program does not calibrate: its numbers are for {dark} on the line and {bright} on the mat."
        said.append(whose + (words if whose else capital(words)))
    return tuple(said)
