"""The program in plain numbered sentences, with today's numbers; a trace's `rule` and `leg` tell which one decides."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.steering.law import Sentence
from irontrail.core.steering.leg_words import leg_sentence
from irontrail.core.steering.mixing import Mixing
from irontrail.core.steering.program import Program
from irontrail.core.steering.slope import number

_MIXED: dict[Mixing, str] = {
    "both wheels": "Left wheel {speed} + steer, right wheel {speed} − steer.",
    "left wheel only": "Left wheel {speed} + steer, right wheel {speed}.",
    "right wheel only": "Left wheel {speed}, right wheel {speed} − steer.",
    "inner wheel only": "The inner wheel {speed} less the size of steer, the outer wheel {speed}.",
}


def in_words(program: Program) -> tuple[Sentence, ...]:
    """The legs of its trip, if it has one, then a sentence for each thing it does in its loop while it follows."""
    legs = program.trip.legs if program.trip is not None else ()
    trip = tuple(Sentence(leg_sentence(leg, i), leg=i) for i, leg in enumerate(legs, 1))
    return trip + _loop_in_words(program)


def deciding(program: Program, rules: NDArray[np.int64], legs: NDArray[np.int64]) -> NDArray[np.int64]:
    """Which sentence (from 0) decides in each row of a trace: the rule of the law, or else the leg that is driven."""
    said = in_words(program)
    by_rule = {sentence.rule: i for i, sentence in enumerate(said) if sentence.rule is not None}
    by_leg = {sentence.leg: i for i, sentence in enumerate(said) if sentence.leg is not None}
    of_rule = np.array([by_rule[rule] for rule in range(len(by_rule))] or [0])
    of_leg = np.array([0, *(by_leg[leg] for leg in range(1, len(by_leg) + 1))])
    return np.where(rules >= 0, of_rule[np.maximum(rules, 0)], of_leg[legs])


def _loop_in_words(program: Program) -> tuple[Sentence, ...]:
    light = "the light" if program.arrangement == "one" else "both sensors"
    first = Sentence(f"Every {1000 * program.loop_time_s:g} ms: read {light}.")
    if program.decision_loops > 1:
        first = Sentence(
            f"Every {1000 * program.decision_time_s:g} ms ({program.decision_loops} loops of "
            f"{1000 * program.loop_time_s:g} ms): read {light} and decide; in between hold the decision."
        )
    if program.chosen.gives == "powers":
        made = () if program.arrangement in ("one", "table") else (_error(program),)
        return first, *_dark(program), *made, *program.chosen.words(program), *_stop(program)
    error = _error(program)
    eased, last = number(program.speed), []
    if program.ease_off > 0.0:
        share = number(100.0 * program.ease_off)
        last = [Sentence(f"Speed = {eased}, less up to {share} % of it as the error grows to 50.")]
        eased = "speed"
    mixed = Sentence(_MIXED[program.mixing].format(speed=eased))
    return first, *_dark(program), error, *program.chosen.words(program), *last, mixed, *_stop(program)


def _dark(program: Program) -> tuple[Sentence, ...]:
    """When a sensor of a table is on the line."""
    if program.arrangement != "table":
        return ()
    side, pair = "below" if program.line == "dark" else "above", program.pair
    left, right = number(pair.left_threshold), number(pair.right_threshold)
    return (Sentence(f"The left sensor is on the line {side} {left}, the right one {side} {right}."),)


def _error(program: Program) -> Sentence:
    """What the error is of what the sensors read."""
    pair, target = program.pair, number(program.target)
    if program.arrangement == "difference":
        return Sentence("Error = left reading − right reading.")
    if program.arrangement == "each its side":
        far = "below" if program.line == "dark" else "above"
        # Of a light line the law's steer is the other way round, so that its words say the right sign.
        first, second = ("right", "left") if program.line == "dark" else ("left", "right")
        return Sentence(
            f"Error = how far the {first} sensor reads {far} "
            f"{number(getattr(pair, first + '_threshold'))} − how far the {second} one reads {far} "
            f"{number(getattr(pair, second + '_threshold'))}; a sensor that does not counts as 0."
        )
    if program.arrangement == "weighted":
        sign = "+" if pair.edges == "same" else "−"
        return Sentence(
            f"Error = {number(pair.weight)} × (first reading − {target}) {sign} "
            f"{number(1.0 - pair.weight)} × (second reading − {target})."
        )
    return Sentence(f"Error = reading − {target}.")


def _stop(program: Program) -> tuple[Sentence, ...]:
    """When it stops by itself, before the finish."""
    stop, rules = program.stop, []
    if stop.time_s > 0.0:
        rules.append(f"after {number(stop.time_s)} s")
    if stop.distance_mm > 0.0:
        rules.append(f"after {stop.distance_mm:.0f} mm by the wheels' counts")
    if stop.reading > 0.0:
        rules.append(f"at a reading of {number(stop.reading)} or more")
    return (Sentence(f"Stop {', or '.join(rules)}."),) if rules else ()
