"""What a steering law is: one description, read by all that computes, shows, tunes or words it.

A law is a file in `laws/` with its frozen settings, its step and its `Law`, and a line in `registry.py`. Nothing else
in the program asks which law it is.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Literal

from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.listed import Steps

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

# What a law remembers from decision to decision: first the shares of its last steer, then what is its own.
P_SHARE, I_SHARE, D_SHARE = range(3)
OWN_MEMORY = 3

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Handle:
    """A place of the steering curve that can be grabbed.

    `moves` tells which ways it goes: "power", "reading" or "both".
    """

    name: str
    label: str
    reading: float
    power: float
    moves: str = "both"


@dataclass(frozen=True)
class Sentence:
    """One thing the robot does in its loop; a rule is one of several that may decide, told by its number.

    A leg of a trip is told by its number, from 1.
    """

    says: str
    rule: int | None = None
    leg: int | None = None


@dataclass(frozen=True)
class DialRange:
    """A number of the program that has a dial, and what the dial's track covers; `each_side`: only if sides differ.

    One that stands for both sides while they are alike says so: what it is called then, and how it is `put`, which is
    told whether they are.
    """

    path: str
    low: float
    high: float
    each_side: bool = False
    label: str = ""
    of_both: str = ""
    put: "Callable[[Program, float, bool], Program] | None" = None


@dataclass(frozen=True)
class PerLoop:
    """A number of the program as a loop written by hand has it: `factor` times its own, by the decision period (s)."""

    path: str
    quantity: Quantity
    factor: Callable[[float], float]


@dataclass(frozen=True)
class Parts:
    """What a law has several of, from dark to light: what one is called, how many, and with one more or one fewer.

    `disorder` says where one turns less toward its line than the darker one before it; empty where none does.
    """

    one: str
    count: "Callable[[Program], int]"
    more: "Callable[[Program], Program]"
    fewer: "Callable[[Program], Program]"
    disorder: "Callable[[Program], str]"
    ordered: "Callable[[Program], Program]"


@dataclass(frozen=True)
class Tuned:
    """A number that is tuned: where it is, and what a search usually covers.

    A law of many powers has numbers that move several of them together; these have a meaning, a way to read them and a
    way to set them, and a path of their own.
    """

    path: str
    low: float
    high: float
    quantity: Quantity | None = None
    of: "Callable[[Program], float] | None" = None
    put: "Callable[[Program, float], Program] | None" = None


@dataclass(frozen=True)
class Power:
    """A power that the settings name: whose it is, the readings (0..100) it is for, and how to set it."""

    whose: str
    value: float
    low: float | None
    high: float | None
    put: "Callable[[Program, float], Program]"


@dataclass(frozen=True)
class Change:
    """A change of a program, by what its button says."""

    says: str
    program: "Program"


@dataclass(frozen=True)
class Unused:
    """A part of a law that no reading brings up: why, its readings, and the program without it."""

    says: str
    low: float
    high: float
    change: Change | None


@dataclass(frozen=True)
class Gains:
    """What a law is near its target: steer = kp e + ki integral of e dt + kd filtered de/dt."""

    kp: float
    ki: float = 0.0
    kd: float = 0.0
    filter_s: float = 0.0


@dataclass(frozen=True, eq=False)
class Law:
    """A steering law.

    Parameters
    ----------
    name : str
        As in files and on screen.
    field : str
        The field of the program that holds its settings.
    record : tuple of (name, numpy format[, shape])
        Its settings as plain numbers.
    packed : callable
        (settings, decision period in s) -> the record's values.
    step : callable
        (record, reading, target, memory) -> (rule, one, other): plain Python that Numba compiles, so that it calls
        nothing but NumPy. A law that gives "steer" returns it as `one`, positive toward the line; one that gives
        "powers" returns those of the left and the right wheel as on the left edge of a dark line.
    memory : int
        Numbers it remembers, from memory[OWN_MEMORY] on.
    gain : str
        The field of its settings that is the slope of its steer; empty if it has none.
    terms : tuple of str
        What the shares of its steer are called, where there are several.
    powers : callable
        The powers that its settings name.
    gains : callable
        What it is near its target, for theory; None where it is no such thing.
    listed : callable
        Its steps in a listing, which do to the letter what `step` does.
    per_loop : tuple of PerLoop
        Those of its numbers that a loop written by hand has otherwise.
    parts : Parts
        What it has several of, if it has.
    dark_ratio : callable
        How many times as hard it steers on the dark side.
    calmed_by : str
        The name of a law that damps the swing that it has.
    says : str
        What it does, in a sentence that a newcomer understands.
    """

    name: str
    field: str
    settings: type[Part]
    record: tuple[tuple[Any, ...], ...]
    packed: Callable[[Any, float], tuple[Any, ...]]
    step: Callable[..., Any]
    gives: Literal["powers", "steer"]
    shape: Points
    words: "Callable[[Program], tuple[Sentence, ...]]"
    handles: "Callable[[Program], tuple[Handle, ...]]"
    moved: "Callable[[Program, str, float, float, bool], Program]"
    powers: "Callable[[Program], tuple[Power, ...]]"
    dials: tuple[DialRange, ...]
    tuned: tuple[Tuned, ...]
    listed: "Callable[[Program], Steps]"
    says: str = ""
    nudged: "Callable[[Program, str, float, bool], Program | None]" = lambda *_: None
    memory: int = 0
    gain: str = ""
    terms: tuple[str, ...] = ()
    target_name: str = "target"
    uses_target: bool = True
    tuned_in_duels: bool = True
    both: "Callable[[Program, float, float], Program] | None" = None
    alike: "Callable[[Program], bool] | None" = None
    evened: "Callable[[Program], Program] | None" = None
    gains: "Callable[[Program], Gains | None]" = lambda _program: None
    per_loop: tuple[PerLoop, ...] = ()
    parts: Parts | None = None
    dark_ratio: "Callable[[Program], float]" = lambda _program: 1.0
    calmed_by: str = ""
    swapped: "Callable[[Program, float], Program | None]" = lambda *_: None
    unused: "Callable[[Program, float, float], Iterator[Unused]]" = lambda *_: iter(())
    within: "Callable[[Program, float, float, bool], Change] | None" = None
    rescaled: "Callable[[Any, Callable[[float], float], float], Any]" = lambda settings, *_: settings

    @property
    def gain_path(self) -> str:
        """The path of its gain in a program; empty if it has none."""
        return f"{self.field}.{self.gain}" if self.gain else ""
