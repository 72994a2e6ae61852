"""Questions that a team asks, each answered by runs made for it: a sentence, and how often each value holds."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from irontrail.core import derive
from irontrail.core.capital import capital
from irontrail.core.causes.cause import STARTS, Starts, starts_of
from irontrail.core.causes.ended import where_most_end
from irontrail.core.causes.look import Look
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tape import Gap, Piece, Straight
from irontrail.core.quantity import put, quantity_at, value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed

Proceed = Callable[[int], bool]
# A value holds if so many of its ten starts go well.
HOLDS = 9


@dataclass(frozen=True)
class Column:
    """One value that was tried: the share of starts that go well, their middle time, and whether it is today's."""

    label: str
    share: float
    time_s: float
    now: bool = False


@dataclass(frozen=True)
class Answer:
    """A sentence or two, and the values tried."""

    says: str
    columns: tuple[Column, ...]


@dataclass(frozen=True)
class Question:
    """What is asked, and how it is answered; `fits` says if it makes sense of a setup."""

    asks: str
    answer: Callable[[Setup, Proceed], Answer]
    fits: Callable[[Setup], bool] = lambda _setup: True


def _columns(labels: Sequence[str], over: Sequence[Starts], now: int = -1) -> tuple[Column, ...]:
    return tuple(
        Column(label, each.share, each.time_s, i == now)
        for i, (label, each) in enumerate(zip(labels, over, strict=True))
    )


def _good(over: Starts) -> int:
    return int(over.good.sum())


def _upward(path: str, values: Sequence[float], words: str, beyond: str) -> Callable[[Setup, Proceed], Answer]:
    """How far a number may grow from today's with every step to there holding."""

    def answer(setup: Setup, proceed: Proceed) -> Answer:
        quantity, today = quantity_at(setup, path), float(value_at(setup, path))
        tried = [today, *(value for value in values if value > today and value <= quantity.high)]
        over = starts_of([put(setup, path, value) for value in tried], proceed)
        labels = [quantity.shown(value) for value in tried]
        columns = _columns(labels, over, 0)
        if _good(over[0]) < HOLDS:
            return Answer(f"As it is only {_good(over[0])} of {STARTS} shaken starts go well: tune it first.", columns)
        last = 0
        while last + 1 < len(tried) and _good(over[last + 1]) >= HOLDS:
            last += 1
        if last + 1 == len(tried):
            return Answer(beyond.format(f"{labels[last]} {quantity.unit}".strip()), columns)
        most, fails = f"{labels[last]} {quantity.unit}".strip(), f"{labels[last + 1]} {quantity.unit}".strip()
        return Answer(
            f"{words.format(most)} At {fails} {_good(over[last + 1])} of {STARTS} shaken starts go well.", columns
        )

    return answer


def _crooked(setup: Setup, proceed: Proceed) -> Answer:
    angles = (5.0, 10.0, 20.0, 30.0, 45.0, 60.0, 80.0)
    now = setup.trial.start_angle_deg
    made = [put(setup, "trial.start_angle_deg", now + sign * angle) for angle in angles for sign in (1.0, -1.0)]
    over = starts_of(made, proceed)
    worse = [min(over[2 * i], over[2 * i + 1], key=lambda each: each.share) for i in range(len(angles))]
    last = 0
    while last < len(angles) and _good(worse[last]) >= HOLDS:
        last += 1
    columns = _columns([f"{angle:.0f}°" for angle in angles], worse)
    if last == len(angles):
        return Answer(f"Turned by {angles[-1]:.0f}° to either side it still finds its way.", columns)
    most = f"Up to {angles[last - 1]:.0f}° to either side." if last else "As straight as you can."
    return Answer(f"{most} At {angles[last]:.0f}° {_good(worse[last])} of {STARTS} shaken starts go well.", columns)


def _longest_straight(setup: Setup) -> int | None:
    pieces = setup.mat.line.pieces
    straights = [i for i, each in enumerate(pieces) if isinstance(each, Straight) and each.length_mm > 160.0]
    if setup.mat.goal or not straights:
        return None
    return max(straights, key=lambda i: _length(pieces[i]))


def _length(piece: Piece) -> float:
    return piece.length_mm if isinstance(piece, Straight) else 0.0


def _gap(setup: Setup, proceed: Proceed) -> Answer:
    i = _longest_straight(setup)
    if i is None:
        raise IronTrailError("no straight is long enough to cut a gap into", "the mat")
    pieces = setup.mat.line.pieces
    whole = _length(pieces[i])
    lengths = [length for length in (5.0, 10.0, 15.0, 20.0, 30.0, 45.0, 60.0, 90.0) if length < whole - 60.0]
    made = []
    for length in lengths:
        half = Straight(0.5 * (whole - length))
        made.append(with_value(setup, "mat.line.pieces", (*pieces[:i], half, Gap(length), half, *pieces[i + 1 :])))
    over = starts_of(made, proceed)
    last = 0
    while last < len(lengths) and _good(over[last]) >= HOLDS:
        last += 1
    columns = _columns([f"{length:.0f}" for length in lengths], over)
    if last == len(lengths):
        return Answer(f"Any gap tried, up to {lengths[-1]:.0f} mm, in its longest straight.", columns)
    most = f"Up to {lengths[last - 1]:.0f} mm in its longest straight." if last else "None, in its longest straight."
    return Answer(f"{most} With {lengths[last]:.0f} mm {_good(over[last])} of {STARTS} go well.", columns)


def _edge_and_way(setup: Setup, proceed: Proceed) -> Answer:
    ways = [(edge, back) for edge in ("left", "right") for back in (False, True)]
    made = [with_value(with_value(setup, "program.edge", edge), "trial.reverse", back) for edge, back in ways]
    over = starts_of(made, proceed)
    labels = [f"{edge}{', back' if back else ''}" for edge, back in ways]
    now = ways.index((setup.program.edge, setup.trial.reverse))
    best = max(range(len(ways)), key=lambda i: (_good(over[i]), -over[i].time_s))
    edge, back = ways[best]
    says = f"The {edge} edge, {'the other way round' if back else 'the way it was laid'}: "
    says += f"{_good(over[best])} of {STARTS} shaken starts go well"
    if over[best].good.any():
        says += f", in {over[best].time_s:.1f} s"
    says += f"; as it is {_good(over[now])}" if best != now else "; that is how it is set"
    return Answer(f"{says}.", _columns(labels, over, now))


def _sensor_place(setup: Setup, proceed: Proceed) -> Answer:
    track, now = setup.robot.drive.track_width_mm, setup.robot.mount.ahead_mm
    tried = sorted({now, *(float(round(share * track)) for share in (0.2, 0.35, 0.5, 0.65, 0.8, 1.0, 1.3))})
    over = starts_of([put(setup, "robot.mount.ahead_mm", ahead) for ahead in tried], proceed)
    best = max(range(len(tried)), key=lambda i: (_good(over[i]), -over[i].time_s))
    holding = [ahead for ahead, each in zip(tried, over, strict=True) if _good(each) >= HOLDS]
    columns = _columns([f"{ahead:.0f}" for ahead in tried], over, tried.index(now))
    if not holding:
        return Answer("With these numbers nowhere: tune them first.", columns)
    says = f"{tried[best]:.0f} mm before the axle: {_good(over[best])} of {STARTS}, in {over[best].time_s:.1f} s. "
    return Answer(says + f"It holds from {holding[0]:.0f} to {holding[-1]:.0f} mm.", columns)


def _terms(setup: Setup, proceed: Proceed) -> Answer:
    made = [setup, with_value(setup, "program.pid.kd", 0.0), with_value(setup, "program.pid.ki", 0.0)]
    over = starts_of(made, proceed)
    swings = [_swing(each) for each in made]
    columns = _columns(("both", "no D", "no I"), over, 0)
    said = []
    for name, i in (("D", 1), ("I", 2)):
        if _good(over[i]) < _good(over[0]) - 1:
            said.append(f"Without {name} only {_good(over[i])} of {STARTS} go well, with it {_good(over[0])}.")
        elif _good(over[i]) > _good(over[0]) + 1:
            said.append(f"Without {name} {_good(over[i])} of {STARTS} go well, with it only {_good(over[0])}.")
        elif abs(swings[i] - swings[0]) > 0.15 * swings[0]:
            less = "less" if swings[i] < swings[0] else "more"
            said.append(f"Without {name} it swings {less}: {swings[i]:.1f} mm, not {swings[0]:.1f}.")
        else:
            said.append(f"{name} does next to nothing here.")
    return Answer(" ".join(said), columns)


def _swing(setup: Setup) -> float:
    """The middle swing of three shaken runs."""
    return float(np.median([derive.figures(perturbed(setup, number)).wobble_mm for number in (1, 2, 3)]))


def _limiting_bend(setup: Setup, proceed: Proceed) -> Answer:
    axis = Look(setup).speed
    shares = (1.0, 1.1, 1.2, 1.35, 1.5, 1.7, 2.0)
    tried = [axis.put(setup, axis.of(setup) * share) for share in shares]
    tried = list(dict.fromkeys(tried))
    over = starts_of(tried, proceed)
    columns = _columns([f"{axis.of(each):.0f}" for each in tried], over, 0)
    for made, each in zip(tried, over, strict=True):
        if _good(each) < HOLDS - 1:
            where, count = where_most_end(made, [i for i, good in enumerate(each.good, 1) if not good])
            bad = STARTS - _good(each)
            words = f"at {axis.of(made):.0f} {axis.quantity.unit} {count} of {bad} that go wrong end there"
            return Answer(f"{capital(where)}: {words}.", columns)
    return Answer(f"None up to {axis.of(tried[-1]):.0f} {axis.quantity.unit}: it holds at every speed tried.", columns)


def _one_line(setup: Setup) -> bool:
    return setup.program.trip is None and setup.second is None


QUESTIONS: tuple[Question, ...] = (
    Question(
        "How slow may my loop be?",
        _upward(
            "program.loop_time_s", (0.015, 0.02, 0.03, 0.04, 0.06, 0.08, 0.12, 0.2), "Up to {} once round.",
            "Even at {} once round it holds.",
        ),
    ),
    Question("How crooked may I set it down?", _crooked),
    Question("How long a gap can it cross?", _gap, lambda setup: _longest_straight(setup) is not None),
    Question("Which edge, and which way round?", _edge_and_way, lambda setup: not setup.program.astride),
    Question("Where should the sensor sit?", _sensor_place),
    Question("Do D and I do anything?", _terms, lambda setup: "derivative" in setup.program.chosen.terms),
    Question("Which bend limits my speed?", _limiting_bend),
    Question(
        "How bright may the hall be?",
        _upward("light.room_light", (0.5, 0.6, 0.7, 0.8, 0.9, 1.0), "Up to {} of room light.", "Even at {} it holds."),
        lambda setup: not setup.light.sensor.names_colours,
    ),
)  # fmt: skip


def asked_of(setup: Setup) -> tuple[Question, ...]:
    """The questions that make sense of a setup."""
    return tuple(each for each in QUESTIONS if _one_line(setup) and each.fits(setup))


def answered(question: Question, setup: Setup, proceed: Proceed = lambda _done: True) -> Answer:
    """The answer; CalledOff if `proceed` says no."""
    return question.answer(setup, proceed)
