"""What a team changes at the table: so many times the speed or the gain, as it would be typed; and that in words."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from irontrail.core.advice.changes import changes
from irontrail.core.capital import capital
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import Axis, axis, of_law
from irontrail.core.tune.tries import Tried, Trying

Times = Callable[[Setup, float], Setup]


def speed(setup: Setup) -> Axis:
    """How fast it drives: its speed, or what moves all its driving powers together."""
    return axis(setup, of_law(setup.program.chosen.name)[0])


def gain(setup: Setup) -> Axis:
    """How hard it steers: the gain of its law, or what moves all its steering powers together."""
    return axis(setup, of_law(setup.program.chosen.name)[1])


def _times(number: Axis, setup: Setup, share: float) -> Setup:
    step = number.quantity.step
    return number.put(setup, number.quantity.clamped(round(number.of(setup) * share / step) * step))


def gain_times(setup: Setup, share: float) -> Setup:
    """A setup with so many times the gain."""
    return _times(gain(setup), setup, share)


def speed_times(setup: Setup, share: float) -> Setup:
    """A setup with so many times the speed."""
    return _times(speed(setup), setup, share)


def both_times(setup: Setup, share: float) -> Setup:
    """A setup with so many times both."""
    return speed_times(gain_times(setup, share), share)


@dataclass(frozen=True)
class Remedy:
    """A change that mends something: how far it went, and what it came to over starts that did not choose it."""

    change: Times
    share: float
    tried: Tried

    def made_of(self, setup: Setup) -> Setup:
        """Another setup with the change."""
        return self.change(setup, self.share)


def mended(
    worse: Setup, change: Times, shares: Sequence[float], good: Callable[[Tried], bool], trying: Trying
) -> Remedy | None:
    """A worse setup changed by the first share that makes it good, and again on starts that did not choose it."""
    for fresh, share in enumerate(shares, 1):
        changed = change(worse, share)
        if changed != worse and good(trying.one(changed)):
            confirmed = trying.one(changed, fresh)
            if good(confirmed):
                return Remedy(change, share, confirmed)
    return None


def to_do(before: Setup, after: Setup) -> str:
    """What to change in the robot, in a sentence: its numbers, or of a law of many powers all of them anew."""
    if after.program.chosen.gives == "powers":
        return " ".join(sentence.says for sentence in after.program.chosen.words(after.program))
    said = ", ".join(changes(before, after))
    return f"{capital(said)}."
