"""A trip in words: what each leg does, what ends it, and what comes then."""

from irontrail.core.steering.legs import (
    OWN_END,
    AfterDistance,
    AfterTime,
    AtButton,
    AtMark,
    AtReading,
    CreepLeg,
    End,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    TurnLeg,
)

_ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


def number(value: float) -> str:
    """A number to six figures, with a true minus sign: distances go into thousands."""
    return f"{value:.6g}".replace("-", "−")


def ordinal(count: int) -> str:
    """First, second, ...; from the eleventh on in figures."""
    return _ORDINALS[count - 1] if count <= len(_ORDINALS) else f"{count}th"


def end_words(end: End) -> str:
    """What ends a leg, in a few words."""
    if isinstance(end, AfterTime):
        return f"after {number(end.time_s)} s"
    if isinstance(end, AfterDistance):
        return f"after {number(end.distance_mm)} mm"
    # The first sensor is what is meant where none is named.
    second = " by the second sensor" if getattr(end, "sensor", "first") == "second" else ""
    if isinstance(end, AtReading):
        held = f" for {number(end.for_mm)} mm" if end.for_mm > 0.0 else ""
        return f"at a reading of {number(end.reading)} or {'more' if end.side == 'above' else 'less'}{held}{second}"
    if isinstance(end, AtMark):
        return f"at the {ordinal(end.count)} {end.mark}{second and ' seen' + second}"
    if isinstance(end, LineFound):
        return f"when the line is found{second}"
    if isinstance(end, AtButton):
        return f"at the button, after {number(end.time_s)} s"
    return "at the finish"


def own_end_words(leg: Leg) -> str:
    """What ends a leg by itself; empty if nothing does."""
    if isinstance(leg, TurnLeg):
        return f"after {number(abs(leg.angle_deg))}°"
    if isinstance(leg, CreepLeg):
        second = " by the second sensor" if leg.sensor == "second" else ""
        return f"at a reading of {number(leg.dark_reading)} or less{second}"
    return ""


def ended_words(leg: Leg, ended_by: int) -> str:
    """What ended a leg, by its number in a run."""
    if ended_by == OWN_END:
        return own_end_words(leg)
    return end_words(leg.ends[ended_by - 1]) if 0 < ended_by <= len(leg.ends) else ""


def all_ends(leg: Leg) -> str:
    """All that may end a leg, in a few words."""
    words = [end_words(end) for end in leg.ends]
    own = own_end_words(leg)
    return ", or ".join([*words, *([own] if own else [])])


def leg_title(leg: Leg) -> str:
    """What a leg does, in a word or two."""
    if isinstance(leg, FollowLeg):
        edge = "" if leg.edge == "the program's" else f" {leg.edge} edge"
        return f"follow{edge}" + (f" at {number(leg.speed)}" if leg.speed else "")
    if isinstance(leg, StraightLeg):
        return f"straight at {number(leg.power)}" if leg.power >= 0.0 else f"back at {number(-leg.power)}"
    if isinstance(leg, TurnLeg):
        way = "left" if leg.angle_deg >= 0.0 else "right"
        return f"turn {way} {number(abs(leg.angle_deg))}°"
    return leg.kind


def leg_sentence(leg: Leg, place: int) -> str:
    """A leg as a sentence; `place` is its number, from 1."""
    then = "then brake to a stand" if leg.then == "brake" else "then roll on"
    return f"Leg {place}: {_does(leg)}{_ramps(leg)}; it ends {all_ends(leg)}, {then}."


def _does(leg: Leg) -> str:
    if isinstance(leg, FollowLeg):
        edge = "" if leg.edge == "the program's" else f" along its {leg.edge} edge"
        return f"follow the line{edge}" + (f" at a speed of {number(leg.speed)}" if leg.speed else "")
    if isinstance(leg, StraightLeg):
        held = ", both wheels' counts kept alike" if leg.held else ""
        way = "straight on" if leg.power >= 0.0 else "straight back"
        return f"drive {way} at {number(abs(leg.power))}{held}"
    if isinstance(leg, TurnLeg):
        about = "on the spot" if leg.about == "spot" else "about the inner wheel"
        way = "left" if leg.angle_deg >= 0.0 else "right"
        return f"turn {way} {about} at {number(leg.power)}"
    if isinstance(leg, CreepLeg):
        which = "second sensor's " if leg.sensor == "second" else ""
        waits = f", once the light has read {number(leg.border_reading)} or more" if leg.border_reading else ""
        return (
            f"creep straight on at {number(leg.power_per_reading)} × the {which}reading, at least "
            f"{number(leg.least_power)}{waits}"
        )
    return "stand and wait"


def _ramps(leg: Leg) -> str:
    up, down = getattr(leg, "ramp_up_mm", 0.0), getattr(leg, "ramp_down_mm", 0.0)
    said = ""
    if up > 0.0:
        said += f", speeding up over {number(up)} mm"
    if down > 0.0:
        said += f", slowing down over the last {number(down)} mm"
    return said
