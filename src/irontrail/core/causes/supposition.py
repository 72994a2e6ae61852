"""What may be the cause of a trouble: one thing, how far from usual it is, and the same setup without it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import islice

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.setup import Setup


@dataclass(frozen=True, eq=False)
class Supposition:
    """One thing that may be wrong.

    Parameters
    ----------
    name : str
        In a word or two.
    unusual : callable
        How far from usual it is, in doublings; 0 where it is not worth asking. What is plainly so or not is 2.
    undone : callable
        The setup without it, at most a few ways, the mildest first. What cannot be changed at a table may be undone
        all the same: no shadow, twice the grip.
    says : callable
        What is wrong, as a phrase after "Because", with its figures.
    remedies : callable
        What a team can change about it, the mildest first.
    """

    name: str
    unusual: Callable[[Look], float]
    undone: Callable[[Look], Iterable[Setup]]
    says: Callable[[Look], str]
    remedies: Callable[[Look], Iterable[Mend]]


# Of the remedies of either of two things, so many are tried with each other.
OF_EACH = 3


def both(one: Supposition, other: Supposition) -> Supposition:
    """Two things that are wrong together: the first undone as far as it can be, and then the second."""

    def undone(look: Look) -> Iterable[Setup]:
        ways = list(one.undone(look))
        return other.undone(Look(ways[-1])) if ways else ()

    def remedies(look: Look) -> Iterable[Mend]:
        for first in islice(one.remedies(look), OF_EACH):
            for second in islice(other.remedies(Look(first.setup)), OF_EACH):
                yield Mend(f"{first.says}; {second.says}", second.setup)

    return Supposition(
        name=f"{one.name} and {other.name}",
        unusual=lambda look: min(one.unusual(look), other.unusual(look)),
        undone=undone,
        says=lambda look: f"two things are wrong together: {one.says(look)}; and {other.says(look)}",
        remedies=remedies,
    )
