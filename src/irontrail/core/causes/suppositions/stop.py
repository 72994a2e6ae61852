"""It stops by a rule of its own."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

RULES = {"time_s": "after {:g} s", "distance_mm": "after {:.0f} mm", "reading": "at a reading of {:g}"}


def _unusual(look: Look) -> float:
    return 4.0 if look.run.outcome == "stopped" else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    setup = look.setup
    for name in RULES:
        setup = with_value(setup, f"program.stop.{name}", 0.0)
    yield setup


def _says(look: Look) -> str:
    stop = look.setup.program.stop
    rules = [words.format(getattr(stop, name)) for name, words in RULES.items() if getattr(stop, name) > 0.0]
    return f"it stops by itself {' or '.join(rules)}, before it is there"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Stop by no rule", setup)


STOP = Supposition("stop rule", _unusual, _undone, _says, _remedies)
