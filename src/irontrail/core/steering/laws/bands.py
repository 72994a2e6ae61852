"""Steering by bands: the reading's range cut in steps, a pair of wheel powers for each."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Any

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Part, Quantity, quantities
from irontrail.core.steering.law import Change, Handle, Law, Parts, Power, Sentence, Tuned, Unused
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import below, held, number

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

MAX_BANDS = 8
# Powers that differ by less are alike.
ALIKE = 2.0


@dataclass(frozen=True)
class Band(Part):
    """One band: readings below `below` and not below the band before it.

    The powers are those on the left edge of a dark line; on the right edge, or on a light line, left and right
    change places.
    """

    below: Annotated[float, Quantity("band below", "", 0.0, 101.0, 1.0, says="The band holds readings below this one.")]
    left: Annotated[
        float, Quantity("left wheel", "%", -100.0, 100.0, 1.0, says="The power of the left wheel in this band.")
    ]
    right: Annotated[
        float, Quantity("right wheel", "%", -100.0, 100.0, 1.0, says="The power of the right wheel in this band.")
    ]


@dataclass(frozen=True)
class Bands(Part):
    """The bands from dark to light; the last one takes all that is left."""

    steps: tuple[Band, ...] = (
        Band(20.0, 0.0, 50.0),
        Band(40.0, 25.0, 50.0),
        Band(60.0, 45.0, 45.0),
        Band(80.0, 50.0, 25.0),
        Band(101.0, 50.0, 0.0),
    )

    def __post_init__(self) -> None:
        super().__post_init__()
        if not 1 <= len(self.steps) <= MAX_BANDS:
            raise OutOfRangeError(f"{len(self.steps)} bands are outside 1 to {MAX_BANDS}", "Bands.steps")
        limits = [band.below for band in self.steps]
        if sorted(limits) != limits:
            raise OutOfRangeError("the limits do not rise from band to band", "Bands.steps", "Sort them.")

    def place_of(self, reading: float) -> int:
        """Which band a reading falls in, the darkest being 0."""
        return next((i for i, band in enumerate(self.steps[:-1]) if reading < band.below), len(self.steps) - 1)

    def with_step(self, i: int, **values: float) -> "Bands":
        """The bands with some numbers of one of them changed, each held inside its range."""
        return Bands((*self.steps[:i], held(self.steps[i], **values), *self.steps[i + 1 :]))


def more_bands(bands: Bands) -> Bands:
    """The widest band cut in two of the same powers; as it is with as many as there can be."""
    steps = list(bands.steps)
    if len(steps) >= MAX_BANDS:
        return bands
    limits, widths = _widths(bands)
    i = widths.index(max(widths))
    steps.insert(i, replace(steps[i], below=round(0.5 * (limits[i] + limits[i + 1]))))
    return Bands(tuple(steps))


def fewer_bands(bands: Bands) -> Bands:
    """The narrowest band given to the neighbour toward the middle; as it is with two left."""
    steps = list(bands.steps)
    if len(steps) <= 2:
        return bands
    _, widths = _widths(bands)
    i = widths.index(min(widths))
    if i >= len(steps) / 2:
        steps[i - 1] = replace(steps[i - 1], below=steps[i].below)
    del steps[i]
    return Bands(tuple(steps))


def _widths(bands: Bands) -> tuple[list[float], list[float]]:
    limits = [0.0, *(step.below for step in bands.steps[:-1]), 100.0]
    return limits, [high - low for low, high in pairwise(limits)]


def _step(law: Any, reading: float, _target: float, _memory: Any) -> tuple[float, float, float]:
    i = 0
    while i < law.count - 1 and reading >= law.below[i]:
        i += 1
    return float(i), law.left[i], law.right[i]


def _packed(law: Bands, _period_s: float) -> tuple[Any, ...]:
    def padded(values: list[float]) -> tuple[float, ...]:
        return (*values, *[0.0] * (MAX_BANDS - len(values)))

    steps = law.steps
    columns = ([step.below for step in steps], [step.left for step in steps], [step.right for step in steps])
    return len(steps), *map(padded, columns)


def _wheels(program: "Program", band: Band) -> tuple[float, float]:
    """The powers of a band's left and right wheel on the program's edge."""
    return (band.left, band.right) if steer_sign(program) > 0 else (band.right, band.left)


def _words(program: "Program") -> tuple[Sentence, ...]:
    said, steps = [], program.bands.steps
    for i, band in enumerate(steps):
        left, right = _wheels(program, band)
        which = below(program, band.below) if i + 1 < len(steps) else "Above"
        said.append(Sentence(f"{which}: left wheel {number(left)}, right wheel {number(right)}.", i))
    return tuple(said)


def _handles(program: "Program") -> tuple[Handle, ...]:
    """Both wheels' heights in the middle of each band, and the limits between the bands."""
    steps, found = program.bands.steps, []
    low, most = program.reach
    for i, band in enumerate(steps):
        high = min(band.below, most) if i + 1 < len(steps) else most
        middle, width = (low + high) / 2, high - low
        left, right = _wheels(program, band)
        # Side by side where both wheels have one height, so that each can be grabbed.
        apart = 0.18 * width if left == right else 0.0
        found.append(Handle(f"band {i} left", f"band {i + 1}, left wheel", middle - apart, left, "power"))
        found.append(Handle(f"band {i} right", f"band {i + 1}, right wheel", middle + apart, right, "power"))
        if i + 1 < len(steps):
            found.append(Handle(f"band {i} below", f"limit of band {i + 1}", high, 0.0, "reading"))
        low = high
    return tuple(found)


def _moved(program: "Program", name: str, reading: float, power: float, _alike: bool) -> "Program":
    _, place, what = name.split()
    i, bands = int(place), program.bands
    if what == "below":
        low = bands.steps[i - 1].below + 1.0 if i > 0 else 1.0
        changed = bands.with_step(i, below=min(max(reading, low), bands.steps[i + 1].below - 1.0))
    else:
        mirrored = steer_sign(program) < 0
        changed = bands.with_step(i, **{{"left": "right", "right": "left"}[what] if mirrored else what: power})
    return replace(program, bands=changed)


def _powers(program: "Program") -> tuple[Power, ...]:
    found, start = [], program.reach[0]
    for i, band in enumerate(program.bands.steps):
        for wheel in ("left", "right"):

            def put(other: "Program", power: float, i: int = i, wheel: str = wheel) -> "Program":
                return replace(other, bands=other.bands.with_step(i, **{wheel: power}))

            found.append(Power(f"In band {i + 1} the {wheel} wheel's", getattr(band, wheel), start, band.below, put))
        start = band.below
    return tuple(found)


def _swapped(program: "Program", reading: float) -> "Program":
    """Both wheels of the band of a reading changed over."""
    i = program.bands.place_of(reading)
    band = program.bands.steps[i]
    return replace(program, bands=program.bands.with_step(i, left=band.right, right=band.left))


def _unused(program: "Program", low: float, high: float) -> Iterator[Unused]:
    """Bands without room, and those that no reading from `low` to `high` falls in."""
    steps, start = program.bands.steps, 0.0
    for i, band in enumerate(steps):
        end = band.below if i + 1 < len(steps) else 101.0
        fewer = replace(program, bands=Bands(steps[:i] + steps[i + 1 :])) if len(steps) > 1 else None
        change = Change(f"Take band {i + 1} out", fewer) if fewer else None
        if end <= start:
            says = f"Band {i + 1} has no room: its limit {end:g} is that of the band before it."
            yield Unused(says, start, end, change)
        elif end <= low or start > high:
            yield Unused(
                f"Band {i + 1} ({start:g} to {min(end, 100.0):g}) never comes up:", start, min(end, 100.0), change
            )
        start = max(start, end)


def _speed(program: "Program") -> float:
    steps = program.bands.steps
    return sum(band.left + band.right for band in steps) / (2.0 * len(steps))


def _steer(program: "Program") -> float:
    steps = program.bands.steps
    return max(0.25 * (steps[0].right - steps[0].left + steps[-1].left - steps[-1].right), 0.0)


def _with(program: "Program", speed: float, steer: float) -> "Program":
    """The same bands with powers that go evenly from one outer band to the other."""
    steps = program.bands.steps
    last = max(len(steps) - 1, 1)
    made = []
    for i, band in enumerate(steps):
        turn = steer * (2.0 * i / last - 1.0)
        left, right = (min(max(power, -100.0), 100.0) for power in (speed + turn, speed - turn))
        made.append(replace(band, left=left, right=right))
    return replace(program, bands=Bands(tuple(made)))


def _out_of_order(program: "Program") -> int | None:
    """The first band that turns less toward its line than the darker one before it."""
    turns = [each.left - each.right for each in program.bands.steps]
    return next((i for i, (before, after) in enumerate(pairwise(turns), 1) if after < before - ALIKE), None)


def _disorder(program: "Program") -> str:
    steps, place = program.bands.steps, _out_of_order(program)
    if place is None:
        return ""
    which = f"below {steps[place].below:g}" if place + 1 < len(steps) else "the last one"
    return f"its bands are in the wrong order: the one {which} turns less toward its line than the darker one before it"


def _ordered(program: "Program") -> "Program":
    """The same powers in the order of how much they turn, from dark to light."""
    steps = program.bands.steps
    ranked = sorted(steps, key=lambda each: each.left - each.right)
    made = tuple(replace(power, below=band.below) for power, band in zip(ranked, steps, strict=True))
    return replace(program, bands=Bands(made))


def _rescaled(law: Bands, moved: Callable[[float], float], _times: float) -> Bands:
    steps = [replace(band, below=moved(band.below)) for band in law.steps[:-1]]
    return Bands((*sorted(steps, key=lambda band: band.below), law.steps[-1]))


def _listed(program: "Program") -> Steps:
    ranges, numbers, lines = quantities(Band), [], []
    for i, band in enumerate(program.bands.steps):
        last = i + 1 == len(program.bands.steps)
        if not last:
            numbers.append(Number.of(f"BAND_{i + 1}_BELOW", ranges["below"], band.below, f"band {i + 1} below"))
        for wheel in ("left", "right"):
            label = f"band {i + 1}: {wheel} wheel"
            numbers.append(Number.of(f"BAND_{i + 1}_{wheel.upper()}", ranges[wheel], getattr(band, wheel), label))
        if len(program.bands.steps) == 1:
            lines += [f"left = BAND_1_LEFT  #@{i}", f"right = BAND_1_RIGHT  #@{i}"]
            break
        lines.append("else:" if last else f"{'if' if i == 0 else 'elif'} value < BAND_{i + 1}_BELOW:")
        lines += [f"    {wheel} = BAND_{i + 1}_{wheel.upper()}  #@{i}" for wheel in ("left", "right")]
    return Steps(tuple(numbers), tuple(lines))


BANDS = Law(
    name="bands",
    field="bands",
    settings=Bands,
    record=(("count", "i8"), *((name, "f8", (MAX_BANDS,)) for name in ("below", "left", "right"))),
    packed=_packed,
    step=_step,
    gives="powers",
    says="Steer hard far from the target, and gently near it, in steps.",
    shape=((0.0, 0.0), (0.25, 0.0), (0.25, 0.35), (0.5, 0.35), (0.5, 0.65), (0.75, 0.65), (0.75, 1.0), (1.0, 1.0)),
    words=_words,
    handles=_handles,
    moved=_moved,
    powers=_powers,
    dials=(),
    tuned=(
        Tuned(
            "bands.speed", 10.0, 95.0,
            Quantity("speed of the bands", "%", 0.0, 100.0, 1.0, says="How fast all bands drive, together."),
            _speed, lambda program, speed: _with(program, speed, _steer(program)),
        ),
        Tuned(
            "bands.steer", 4.0, 80.0,
            Quantity("steer of the outer bands", "%", 0.0, 100.0, 1.0, says="How hard the outer bands turn."),
            _steer, lambda program, steer: _with(program, _speed(program), steer),
        ),
    ),
    uses_target=False,
    parts=Parts(
        "band",
        lambda program: len(program.bands.steps),
        lambda program: replace(program, bands=more_bands(program.bands)),
        lambda program: replace(program, bands=fewer_bands(program.bands)),
        _disorder,
        _ordered,
    ),
    both=_with,
    listed=_listed,
    swapped=_swapped,
    unused=_unused,
    rescaled=_rescaled,
)  # fmt: skip
