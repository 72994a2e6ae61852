"""The parts of a law do not turn more and more from dark to light."""

from collections.abc import Iterator
from dataclasses import replace

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup
from irontrail.core.steering.law import Parts


def _parts(look: Look) -> Parts | None:
    """What its law has several of, where one sensor decides."""
    return look.setup.program.chosen.parts if look.setup.second is None else None


def _says(look: Look) -> str:
    parts = _parts(look)
    return parts.disorder(look.setup.program) if parts is not None else ""


def _unusual(look: Look) -> float:
    return 2.6 if _says(look) else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    parts = _parts(look)
    if parts is not None:
        yield replace(look.setup, program=parts.ordered(look.setup.program))


def _remedies(look: Look) -> Iterator[Mend]:
    parts = _parts(look)
    if parts is not None:
        yield from (Mend(f"Put the {parts.one}s in order", setup) for setup in _undone(look))


PARTS_ORDER = Supposition("order of parts", _unusual, _undone, _says, _remedies)
