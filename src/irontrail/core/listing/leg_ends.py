"""What ends each leg of a trip in a listing, and what is remembered for it, as `control/trip.py` has it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import radians
from re import findall

from irontrail.core.listing.parts import INPUTS, Function
from irontrail.core.quantity import quantities
from irontrail.core.setup import Setup
from irontrail.core.steering.leg_words import end_words, own_end_words
from irontrail.core.steering.legs import (
    OFF_LINE,
    OWN_END,
    AfterDistance,
    AfterTime,
    AtButton,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    End,
    Leg,
    LineFound,
    TurnLeg,
    WaitLeg,
)
from irontrail.core.steering.listed import Number


def named_in(lines: Sequence[str], names: Sequence[str]) -> tuple[str, ...]:
    """Those of some names that stand in lines."""
    words = set(findall(r"[a-z_]+", " ".join(line for line in lines if not line.lstrip().startswith("#"))))
    return tuple(name for name in names if name in words)


@dataclass
class LegEnds:
    """The legs of a trip, the numbers that they have in a listing, and the functions that begin and end them."""

    setup: Setup
    numbers: list[Number] = field(default_factory=list)

    @property
    def legs(self) -> tuple[Leg, ...]:
        trip = self.setup.program.trip
        return trip.legs if trip is not None else ()

    @property
    def second(self) -> bool:
        """A leg, or an end of one, looks at the second sensor."""
        looked = [getattr(part, "sensor", "") for leg in self.legs for part in (leg, *leg.ends)]
        return "second" in looked

    @property
    def asks(self) -> list[str]:
        """What a decision must be given for the legs."""
        ends = [end for leg in self.legs for end in leg.ends]
        found = ["now", "left_rolled", "right_rolled"]
        found += ["pressed"] if any(isinstance(end, AtButton) for end in ends) else []
        return found + (["at_finish"] if any(isinstance(end, AtFinish) for end in ends) else [])

    @property
    def given(self) -> tuple[str, ...]:
        """What the functions of a trip hand on."""
        readings = ("reading", *(("second",) if self.second else ()))
        return readings + tuple(name for name in INPUTS if name in self.asks)

    # --- numbers and readings

    def _number(self, name: str, value: float, says: str) -> str:
        self.numbers.append(Number(name, float(value), says))
        return name

    def _of(self, place: int, part: object, name: str, end: int = 0) -> str:
        """A number of a leg, or of one of its ends, by name."""
        quantity = quantities(type(part))[name]
        where = f"LEG_{place}" + (f"_END_{end}" if end else "")
        made = Number.of(
            f"{where}_{name.upper()}", quantity, float(getattr(part, name)), f"leg {place}: {quantity.label}"
        )
        self.numbers.append(made)
        return made.name

    def _seen(self, part: object) -> str:
        return "second" if getattr(part, "sensor", "first") == "second" else "reading"

    def _sign(self, end: End) -> float:
        if isinstance(end, AtReading):
            return 1.0 if end.side == "above" else -1.0
        if isinstance(end, AtMark):
            return 1.0 if end.mark == "bright mark" else -1.0
        return -1.0 if self.setup.effective_program.line == "dark" else 1.0

    def _off(self, place: int, end: End, k: int) -> str:
        """How far beyond its value an end's reading is."""
        value = f"LEG_{place}_END_{k}_READING"
        seen = self._seen(end)
        return f"{seen} - {value}" if self._sign(end) > 0.0 else f"{value} - {seen}"

    def _begin(self) -> Function:
        lines = [
            "leg = number", "braking = 0", "began = now", "left_from = left_rolled", "right_from = right_rolled",
            "driven = 0.0", "last_left = left_rolled", "last_right = right_rolled", "last_now = now",
        ]  # fmt: skip
        if any(isinstance(leg, CreepLeg) for leg in self.legs):
            lines.append("bordered = 0")
        for place, leg in enumerate(self.legs, 1):
            within = []
            for k, end in enumerate(leg.ends, 1):
                if isinstance(end, AtReading | AtMark | LineFound):
                    within += [f"beyond_{k} = 0", f"if {self._off(place, end, k)} >= 0.0:", f"    beyond_{k} = 1"]
                    within += [f"since_{k} = 0.0", f"seen_{k} = 0"]
                    within += [f"on_{k} = {f'beyond_{k}' if isinstance(end, AtMark) else 0}"]
            if within:
                lines += [f"if number == {place}:", *(f"    {line}" for line in within)]
        takes = ("number", *named_in(lines, self.given))
        return Function("begin_leg", takes, tuple(lines), "A leg begins; what its ends remember begins anew.")

    def _ended(self) -> Function:
        lines = ["found = 0"]
        for place, leg in enumerate(self.legs, 1):
            within: list[str] = []
            for k, end in enumerate(leg.ends, 1):
                within += [f"# {end_words(end)}", "came = 0", *self._comes(place, leg, end, k)]
                within += ["if came == 1 and found == 0:", f"    found = {k}"]
            within += self._own(place, leg)
            lines += [f"if leg == {place}:", *(f"    {line}" for line in within)]
        lines.append("return found")
        return Function(
            "leg_ended",
            named_in(lines, self.given),
            tuple(lines),
            f"Which of its ends the leg has come to, from 1; {OWN_END} for its own.",
            True,
        )

    def _comes(self, place: int, leg: Leg, end: End, k: int) -> list[str]:
        if isinstance(end, AfterTime):
            return [f"if now - began >= {self._of(place, end, 'time_s', k)} - 1e-9:", "    came = 1"]
        if isinstance(end, AtButton):
            return ["if pressed == 1:", "    came = 1"]
        if isinstance(end, AtFinish):
            return ["if at_finish == 1:", "    came = 1"]
        if isinstance(end, AfterDistance):
            way = "abs(0.5 * ((left_rolled - left_from) + (right_rolled - right_from)))"
            return [f"if {way} >= {self._of(place, end, 'distance_mm', k)}:", "    came = 1"]
        self._of(place, end, "reading", k)
        off = f"off = {self._off(place, end, k)}"
        if isinstance(end, LineFound):
            return [
                off, f"if off <= -{OFF_LINE}:", f"    on_{k} = 1", f"if on_{k} == 1 and off >= 0.0:", "    came = 1",
            ]  # fmt: skip
        assert isinstance(end, AtReading | AtMark)
        # A robot that stands turns no wheel while a reading is to be held.
        held = "0.0" if isinstance(leg, WaitLeg) else self._of(place, end, "for_mm", k)
        lines = [off, "beyond = 0", "if off >= 0.0:", "    beyond = 1"]
        lines += [f"if beyond != beyond_{k}:", f"    since_{k} = driven", f"beyond_{k} = beyond"]
        if isinstance(end, AtReading):
            return [*lines, f"if beyond == 1 and driven - since_{k} >= {held}:", "    came = 1"]
        return [
            *lines, f"if driven - since_{k} >= {held}:", f"    if beyond > on_{k}:", f"        seen_{k} = seen_{k} + 1",
            f"    on_{k} = beyond", f"if seen_{k} >= {self._of(place, end, 'count', k)}:", "    came = 1",
        ]  # fmt: skip

    def _own(self, place: int, leg: Leg) -> list[str]:
        """The end that a leg has by itself."""
        if isinstance(leg, TurnLeg):
            turn = radians(leg.angle_deg) * self.setup.robot.drive.track_width_mm
            name = self._number(
                f"LEG_{place}_TURN", abs(turn), f"leg {place}: {leg.angle_deg:g}° as the wheels' counts differ, mm"
            )
            ahead, behind = ("right", "left") if turn >= 0.0 else ("left", "right")
            way = f"({ahead}_rolled - {ahead}_from) - ({behind}_rolled - {behind}_from)"
            return [f"# {own_end_words(leg)}", f"if found == 0 and {way} >= {name}:", f"    found = {OWN_END}"]
        if isinstance(leg, CreepLeg):
            seen, dark = self._seen(leg), self._of(place, leg, "dark_reading")
            border = self._of(place, leg, "border_reading")
            return [
                f"# {own_end_words(leg)}", f"if found == 0 and {seen} >= {border}:", "    bordered = 1",
                f"if found == 0 and bordered == 1 and {seen} <= {dark}:", f"    found = {OWN_END}",
            ]  # fmt: skip
        return []
