"""The finish does not lie on its way."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    # It drives past: at its end, or until its time is over.
    past = look.run.outcome in ("time-out", "lost", "off-mat", "stuck")
    return 1.0 if look.setup.mat.finish is not None and past else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "mat.finish", None)


def _says(_look: Look) -> str:
    return "the finish zone does not lie where it drives: it never comes into it"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("The line's end is the finish", setup)


FINISH = Supposition("finish off the line", _unusual, _undone, _says, _remedies)
