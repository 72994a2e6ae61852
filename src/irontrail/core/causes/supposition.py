"""What may be the cause of a trouble: one thing, how far from usual it is, and the same setup without it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.project import Setup


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
