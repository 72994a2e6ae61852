"""What is asked of a search, about how many runs that takes, and what it tells."""

from dataclasses import dataclass

from irontrail.core.setup import Setup
from irontrail.core.tune.axes import Axis, put_all
from irontrail.core.tune.candidates import Candidate, Limits, keeps
from irontrail.core.tune.event import Event

# There are so many rounds at least and at most.
LEAST_ROUNDS, MOST_ROUNDS = 3, 5
# So many of the foremost of a round are looked at anew, over so many starts that the search did not see.
FOREMOST, LOOKS = 10, 80
# At last the best is moved by such shares of a range.
POLISHING = (0.03, 0.008)
# What is told is told of so many starts that chose nothing; so many candidates may come to that.
CONFIRMING, AT_EVENT, MOST_CONFIRMED = 1000, 300, 8


@dataclass(frozen=True)
class SearchSpec:
    """A search: where it begins, what it may change, what is to be least, the limits, and how long it may take.

    With an `event`, all is judged as it is there. `repeats` are the starts of a candidate, `generations` those of a
    round at most.
    """

    setup: Setup
    axes: tuple[Axis, ...]
    measure: str = "time_s"
    limits: Limits = Limits()
    repeats: int = 6
    generations: int = 40
    seed: int = 1
    event: Event | None = None
    rounds: int = MOST_ROUNDS

    @property
    def population(self) -> int:
        """Candidates in a generation."""
        return 8 + 4 * len(self.axes)

    @property
    def confirming(self) -> int:
        """Over how many starts what it tells is confirmed."""
        return CONFIRMING if self.event is None else AT_EVENT

    @property
    def of_round(self) -> int:
        """About how many runs a round takes: it ends after two thirds of its generations, as a rule."""
        return self.population * self.repeats * self.generations * 2 // 3 + 3 * FOREMOST // 2 * LOOKS

    @property
    def of_ending(self) -> int:
        """About how many runs it takes to polish the best and to confirm it, where nothing falls off."""
        return 2 * len(self.axes) * len(POLISHING) * LOOKS + self.confirming

    @property
    def runs(self) -> int:
        """About how many runs it takes, before anything is known."""
        return min(LEAST_ROUNDS, self.rounds) * self.of_round + self.of_ending

    def setup_of(self, values: tuple[float, ...]) -> Setup:
        """The setup with some values on its axes."""
        return put_all(self.setup, self.axes, values)

    def tried_as(self, values: tuple[float, ...]) -> Setup:
        """That setup as it is tried: here, or as it will be at the event."""
        made = self.setup_of(values)
        return made if self.event is None else self.event.there(made)


@dataclass(frozen=True)
class Found:
    """A search as far as it has come: the best so far, its course, and the trade-offs.

    `course` holds the best value after each generation of all rounds, NaN while none kept the limits; `trade_offs` are
    those that none beats in both time and swing, or at an event in both time and finishing. It is
    `settled` once it is over, and has `agreed` if the best of two rounds came near to each other.
    """

    spec: SearchSpec
    best: Candidate | None
    course: tuple[float, ...]
    trade_offs: tuple[Candidate, ...]
    runs: int
    says: str = ""
    settled: bool = False
    agreed: bool = False
    of_runs: int = 0

    @property
    def keeps(self) -> bool:
        """Whether the best keeps the limits."""
        return self.best is not None and keeps(self.spec.limits, self.best)
