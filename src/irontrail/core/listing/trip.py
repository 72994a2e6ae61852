"""The legs of a trip in a listing: what ends each, and what each sets the wheels to, as `control/trip.py` has it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import radians

from irontrail.core.control.legs import mean_power
from irontrail.core.listing.leg_ends import LegEnds, named_in
from irontrail.core.listing.parts import Function
from irontrail.core.steering.leg_words import leg_sentence
from irontrail.core.steering.legs import (
    HOLD_PER_MM,
    RAMP_LEAST,
    STANDS_MM_S,
    AfterDistance,
    AtMark,
    AtReading,
    CreepLeg,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    TurnLeg,
    leg_edge,
)
from irontrail.core.steering.listed import Variable
from irontrail.core.steering.side import steer_sign

GIVEN = ("reading", "second", "now", "left_rolled", "right_rolled", "pressed", "at_finish")


@dataclass
class TripSource(LegEnds):
    """The functions of a trip, its numbers and what it remembers; empty without one."""

    functions: list[Function] = field(default_factory=list)

    def __post_init__(self) -> None:
        if self.legs:
            self.functions += [self._begin(), self._ended()]
            self.functions.append(self._follow())
        if any(_ramp_of(leg) for leg in self.legs):
            self.functions.append(self._ramp())
        if any(not isinstance(leg, FollowLeg) for leg in self.legs):
            self.functions.append(self._powers())

    @property
    def follows(self) -> bool:
        """A law steers in some of its legs, at a speed and on an edge of the leg's own."""
        return bool(self.legs)

    @property
    def memory(self) -> tuple[Variable, ...]:
        if not self.legs:
            return ()
        ends = range(1, max(len(leg.ends) for leg in self.legs) + 1)
        of_ends = [
            Variable(f"{name}_{k}", begins)
            for k in ends
            for name, begins in (("beyond", 0), ("since", 0.0), ("on", 0), ("seen", 0))
            if self._uses(k)
        ]
        return (
            Variable("leg", 0, "the leg that is driven, from 1"),
            Variable("braking", 0, "1 between a leg's end and standing"),
            Variable("done", 0),
            *((Variable("bordered", 0),) if any(isinstance(leg, CreepLeg) for leg in self.legs) else ()),
            Variable("began", 0.0, "when the leg began"),
            Variable("left_from", 0.0, "what the wheels had counted then"),
            Variable("right_from", 0.0),
            Variable("driven", 0.0, "how far the wheels have turned since, either way"),
            Variable("last_left", 0.0),
            Variable("last_right", 0.0),
            Variable("last_now", 0.0),
            *of_ends,
        )

    def _uses(self, k: int) -> bool:
        """Whether any leg's k-th end remembers what was read."""
        return any(
            len(leg.ends) >= k and isinstance(leg.ends[k - 1], AtReading | AtMark | LineFound) for leg in self.legs
        )

    # --- the functions

    def _follow(self) -> Function:
        begun, ended = self.functions
        begin = ", ".join(begun.takes[1:])
        follows = [i for i, leg in enumerate(self.legs, 1) if isinstance(leg, FollowLeg)]
        brakes = [i for i, leg in enumerate(self.legs[:-1], 1) if leg.then == "brake"]
        lines = [
            "if leg == 0:",
            f"    begin_leg(1, {begin})",
            f"    return {1 if follows[:1] == [1] else 0}",
            "left = left_rolled - last_left",
            "right = right_rolled - last_right",
            "passed = now - last_now",
            "driven = driven + 0.5 * (abs(left) + abs(right))",
            "last_left = left_rolled",
            "last_right = right_rolled",
            "last_now = now",
            "stands = 0",
            f"if max(abs(left), abs(right)) <= {STANDS_MM_S} * passed:",
            "    stands = 1",
            "if braking == 0:",
            f"    ended = {ended.call()}",
            "    if ended == 0:",
            "        return 0",
            f"    if leg == {len(self.legs)}:",
            "        done = 1",
            "        return 0",
        ]
        if brakes:
            lines += [
                f"    if stands == 0 and ({_any('leg', brakes)}):",
                "        braking = 1",
                "        return 0",
            ]
        lines += ["elif stands == 0:", "    return 0", f"begin_leg(leg + 1, {begin})"]
        lines += [f"if {_any('leg', follows)}:", "    return 1"] if follows else []
        lines.append("return 0")
        return Function(
            "next_leg",
            named_in(lines, self.given),
            tuple(lines),
            "End the leg and begin the next where it is time; 1 if that follows the line.",
            True,
        )

    def _ramp(self) -> Function:
        lines = ["share = 1.0"]
        for place, leg in enumerate(self.legs, 1):
            within = _ramp_of(leg)
            if not within:
                continue
            lines.append(f"if leg == {place}:")
            if "ramp_up_mm" in within:
                lines.append(f"    share = min(share, driven / {self._of(place, leg, 'ramp_up_mm')})")
            if "ramp_down_mm" in within:
                down = self._of(place, leg, "ramp_down_mm")
                lines.append(f"    share = min(share, ({self._length(place, leg)} - driven) / {down})")
        lines.append(f"return max(share, {RAMP_LEAST})")
        return Function(
            "ramp", (), tuple(lines), "The share of its power that a leg asks for, at its beginning and before its end."
        )

    def _length(self, place: int, leg: Leg) -> str:
        if isinstance(leg, TurnLeg):
            return f"0.5 * LEG_{place}_TURN"
        shortest = min((end.distance_mm, k) for k, end in enumerate(leg.ends, 1) if isinstance(end, AfterDistance))
        return f"LEG_{place}_END_{shortest[1]}_DISTANCE_MM"

    def _powers(self) -> Function:
        lines = ["left = 0.0", "right = 0.0"]
        takes: list[str] = []
        for place, leg in enumerate(self.legs, 1):
            within = self._powers_of(place, leg)
            if within:
                lines += [f"if leg == {place}:", *(f"    {line}" for line in within)]
        body = "\n".join(lines)
        takes = [name for name in ("reading", "second", "left_rolled", "right_rolled") if name in body]
        lines += ["wanted_left = left", "wanted_right = right"]
        return Function(
            "leg_powers", tuple(takes), tuple(lines), "What a leg that does not follow the line wants of the wheels."
        )

    def _powers_of(self, place: int, leg: Leg) -> list[str]:
        share = " * ramp()" if _ramp_of(leg) else ""
        mark = f"  #@leg {place}"
        if isinstance(leg, StraightLeg):
            power = f"power = {self._of(place, leg, 'power')}{share}"
            if not leg.held:
                return [power, f"left = power{mark}", f"right = power{mark}"]
            ahead = "ahead = (left_rolled - left_from) - (right_rolled - right_from)"
            return [
                power,
                ahead,
                f"left = power - {HOLD_PER_MM} * ahead{mark}",
                f"right = power + {HOLD_PER_MM} * ahead{mark}",
            ]
        if isinstance(leg, TurnLeg):
            power = f"power = {self._of(place, leg, 'power')}{share}"
            inner = "0.0" if leg.about == "wheel" else "-power"
            # As the engine takes it: an angle may be too small to have a sign there.
            left, right = (inner, "power") if radians(leg.angle_deg) >= 0.0 else ("power", inner)
            return [power, f"left = {left}{mark}", f"right = {right}{mark}"]
        if isinstance(leg, CreepLeg):
            per, least = self._of(place, leg, "power_per_reading"), self._of(place, leg, "least_power")
            return [f"left = max({least}, {per} * {self._seen(leg)}){mark}", f"right = left{mark}"]
        return []

    # --- the decision

    def decide(self, error: Sequence[str], steer_takes: Sequence[str], law_memory: Sequence[Variable]) -> list[str]:
        """Lines of a decision: the legs, and in those that follow the law."""
        follows = [i for i, leg in enumerate(self.legs, 1) if isinstance(leg, FollowLeg)]
        call = self.functions[2].call()
        law_memory = law_memory if follows else ()
        lines = [f"began_to_follow = {call}" if law_memory else call]
        if law_memory:
            lines += ["if began_to_follow == 1:", *(f"    {each.name} = {each.begins!r}" for each in law_memory)]
        lines += ["if done == 1:", "    stopped = 1", "if done == 1 or braking == 1:", "    wanted_left = 0.0",
                  "    wanted_right = 0.0"]  # fmt: skip
        if follows:
            lines += [f"elif {_any('leg', follows)}:", *(f"    {line}" for line in self._following(error, steer_takes))]
        if len(follows) < len(self.legs):
            lines += ["else:", f"    {self.functions[-1].call()}"]
        return lines

    def _following(self, error: Sequence[str], steer_takes: Sequence[str]) -> list[str]:
        program, effective = self.setup.program, self.setup.effective_program
        own = steer_sign(effective)
        mean, lines = mean_power(program), list(error)
        powers = program.chosen.gives == "powers"
        lines.append("turned = 0")
        lines.append("scale = 1.0" if powers else "speed = SPEED")
        for place, leg in enumerate(self.legs, 1):
            if not isinstance(leg, FollowLeg):
                continue
            within = []
            edge = program.edge if program.astride else leg_edge(leg, program.edge)
            sign = own if edge == program.edge else -own
            if sign < 0.0:
                within.append("turned = 1")
            share = " * ramp()" if _ramp_of(leg) else ""
            if powers:
                scale = "1.0"
                if leg.speed > 0.0 and mean > 0.0:
                    scale = self._number(
                        f"LEG_{place}_SCALE", leg.speed / mean, f"leg {place}: its speed by the law's mean power"
                    )
                if scale != "1.0" or share:
                    within.append(f"scale = {scale}{share}")
            else:
                speed = self._of(place, leg, "speed") if leg.speed > 0.0 else "SPEED"
                if speed != "SPEED" or share:
                    within.append(f"speed = {speed}{share}")
            if within:
                lines += [f"if leg == {place}:", *(f"    {line}" for line in within)]
        return [*lines, f"steer_by({', '.join(steer_takes)})"]

    def sentences(self) -> list[str]:
        """The legs in words."""
        return [leg_sentence(leg, i) for i, leg in enumerate(self.legs, 1)]


def _ramp_of(leg: Leg) -> tuple[str, ...]:
    """Which ramps of a leg do anything: one before an end only where it is known how far off that is."""
    found = ("ramp_up_mm",) if getattr(leg, "ramp_up_mm", 0.0) > 0.0 else ()
    known = isinstance(leg, TurnLeg) or any(isinstance(end, AfterDistance) for end in leg.ends)
    return (*found, "ramp_down_mm") if getattr(leg, "ramp_down_mm", 0.0) > 0.0 and known else found


def _any(name: str, values: Sequence[int]) -> str:
    return " or ".join(f"{name} == {value}" for value in values)
