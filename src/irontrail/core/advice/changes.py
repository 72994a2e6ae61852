"""What was changed from one setup to another, in words."""

from dataclasses import fields, is_dataclass, replace
from typing import Any

from irontrail.core.light.second import SecondSensor
from irontrail.core.quantity import Quantity, quantities, with_unit
from irontrail.core.setup import Setup
from irontrail.core.steering.leg_words import all_ends
from irontrail.core.steering.legs import Leg, Trip
from irontrail.core.steering.registry import LAW_FIELDS

# How the choices that are no numbers are called.
NAMES = {
    "law": "law",
    "edge": "edge",
    "line": "line",
    "mixing": "steer by",
    "sloped_side": "sloped side",
    "lamp": "lamp",
    "scale": "scale",
    "reads_high_on": "reads high on",
    "colour": "colour",
    "border_colour": "border colour",
    "calibrate": "calibrated",
    "reverse": "turned round",
    "closed": "closed",
    "name": "name",
    "steps": "bands",
    "areas": "shadows and glares",
    "patches": "patches",
    "other_lines": "other lines",
    "pieces": "pieces of the line",
    "palette": "palette",
    "left_output": "left wheel on output",
    "right_output": "right wheel on output",
    "left_mirrored": "left motor mirrored",
    "right_mirrored": "right motor mirrored",
    "pull": "pull of the robot",
    "start": "start zone",
    "finish": "finish zone",
    "spots": "spots",
    "set_down": "set down",
    "trip": "trip",
    "then": "then",
    "about": "turns about",
    "held": "held straight",
    "side": "side",
    "mark": "mark",
    "sensor": "sensor",
    "second": "second sensor",
    "arrangement": "steers by",
    "edges": "second sensor's edge",
    "first_input": "first sensor on input",
    "second_input": "second sensor on input",
}


def changes(before: Setup, after: Setup) -> tuple[str, ...]:
    """Each change in a few words; another mat is one change, whatever lies on it. Empty if nothing was changed."""
    said: list[str] = []
    if before.mat.name != after.mat.name:
        said.append(f"mat {after.mat.name}")
    elif before.mat != after.mat:
        said += _changed(before.mat, after.mat)
    used = after.program.chosen.field
    for part in ("program", "robot", "light", "trial"):
        said += _changed(getattr(before, part), getattr(after, part), used)
    return (*said, *_second_changed(before.second, after.second))


def _second_changed(before: SecondSensor | None, after: SecondSensor | None) -> list[str]:
    if before is None or after is None:
        return [] if before is after else ["a second sensor" if before is None else "no second sensor"]
    return [f"second sensor {change}" for change in _changed(before, after)]


def _changed(before: Any, after: Any, used: str = "") -> list[str]:
    """The changes of a part and of the parts inside it, its own values first; of the laws only of the one in use."""
    ranges, said = quantities(type(after)), []
    for field in sorted(fields(after), key=lambda field: is_dataclass(getattr(after, field.name))):
        was, now = getattr(before, field.name), getattr(after, field.name)
        if isinstance(now, Trip) and isinstance(was, Trip):
            said += _legs_changed(was.legs, now.legs)
            continue
        of_another_law = field.name in LAW_FIELDS and used and field.name != used
        # No run depends on how a team's starts differ.
        if was == now or of_another_law or field.name == "shaken":
            continue
        if field.name in ranges:
            said.append(_moved(ranges[field.name], was, now))
        elif is_dataclass(now) and type(was) is type(now):
            said += _changed(was, now, used)
        elif isinstance(now, tuple) or now is None or was is None or is_dataclass(now):
            said.append(f"other {NAMES.get(field.name, field.name)}")
        elif isinstance(now, bool):
            said.append(f"{NAMES.get(field.name, field.name)}: {'yes' if now else 'no'}")
        else:
            said.append(f"{NAMES.get(field.name, field.name)} {was} → {now}")
    return said


def _legs_changed(was: tuple[Leg, ...], now: tuple[Leg, ...]) -> list[str]:
    """What was changed about a trip: by leg where there are as many of the same kinds, or else how many there are."""
    if [leg.kind for leg in was] != [leg.kind for leg in now]:
        return ["legs in another order" if len(was) == len(now) else f"{len(was)} → {len(now)} legs"]
    said: list[str] = []
    for i, (old, new) in enumerate(zip(was, now, strict=True), 1):
        numbers = _changed(replace(old, ends=new.ends), new)
        if [end.kind for end in old.ends] != [end.kind for end in new.ends]:
            numbers.append(f"ends {all_ends(new)}")
        else:
            for before, after in zip(old.ends, new.ends, strict=True):
                numbers += _changed(before, after)
        said += [f"leg {i} {number}" for number in numbers]
    return said


def _moved(quantity: Quantity, was: float, now: float) -> str:
    old, new = quantity.shown(was), quantity.shown(now)
    if old == new:  # a change too fine for the figures on screen
        old, new = (f"{value * quantity.shown_per_stored:.6g}".replace("-", "−") for value in (was, now))
    return f"{quantity.label} {old} → {with_unit(new, quantity.unit)}"
