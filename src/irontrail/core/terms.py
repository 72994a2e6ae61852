"""The words of the trade that findings use, each with its meaning for who meets it first."""

import re

TERMS: dict[str, str] = {
    "axle": "The line through both wheels: the point midway between them is what turns.",
    "calibrated": "It was told what line and mat read, so that 0 is the dark and 100 the bright.",
    "clipped": "A wheel was asked for more than its full power, and got no more.",
    "contrast": "How far apart line and mat read.",
    "dead band": "Powers so small that no wheel turns.",
    "derivative": "The part of PID that steers against a reading that is changing quickly.",
    "edge": "Where line and mat meet: the sensor keeps half over either.",
    "full steer": "All the turning that its numbers allow.",
    "gain": "How hard it steers for each unit that the reading is off the target.",
    "grip": "How hard a tyre can push before it slips.",
    "integral": "The part of PID that steers for having been off to the same side for long.",
    "loop": "Once round the program: read, decide, set the wheels.",
    "mixing": "How a steer is shared out to the two wheels.",
    "noise": "What a reading jumps by, though nothing moves.",
    "PID": "Steering by how far off it is, for how long, and how quickly that changes.",
    "rocks": "Swings to and fro that die no more.",
    "shaken starts": "The same run again, set down a little otherwise, with other light, battery and noise.",
    "target": "The reading that it tries to keep.",
    "threshold": "The reading on either side of which it turns to one side or the other.",
    "wheels slipped": "They pushed harder than they grip.",
}
_ENDINGS = {"calibrated": "calibrated?", "shaken starts": "shaken starts?", "rocks": "rock(?:s|ed|ing)?"}
_FOUND = re.compile(
    r"\b(" + "|".join(_ENDINGS.get(term, re.escape(term)) for term in sorted(TERMS, key=len, reverse=True)) + r")\b",
    re.IGNORECASE,
)


def terms_in(text: str) -> tuple[tuple[str, int, int], ...]:
    """The terms of a text, each where it is first met: the term, and from where to where it stands.

    >>> terms_in("Its gain is high: a gain rocks.")
    (('gain', 4, 8), ('rocks', 25, 30))
    """
    found: dict[str, tuple[str, int, int]] = {}
    for match in _FOUND.finditer(text):
        term = _term_of(match.group())
        found.setdefault(term, (term, match.start(), match.end()))
    return tuple(found.values())


def _term_of(written: str) -> str:
    """The term that a word as written is a form of."""
    for term in TERMS:
        if re.fullmatch(_ENDINGS.get(term, re.escape(term)), written, re.IGNORECASE):
            return term
    raise KeyError(written)
