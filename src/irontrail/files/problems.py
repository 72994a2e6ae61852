"""The problems that pydantic finds in a file, as sentences that name the field and the mend."""

import json
from dataclasses import fields, is_dataclass
from difflib import get_close_matches
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tape import Piece
from irontrail.core.project import Project
from irontrail.core.steering.legs import End, Leg

# So many problems of a file are told, and so much of a text in it.
SHOWN, MOST_LETTERS = 10, 60
NO_COLOUR = "is not a colour like '#2a2b2d'"
NOT_PLAIN = "has signs in it that cannot be read"
MEND = "Mend that with a text editor, or open another copy."

# What a part of a list may be, by the name of its class: the kinds that its list holds.
_KINDS: dict[str, tuple[str, ...]] = {
    part.__name__: tuple(sorted(each.__dataclass_fields__["kind"].default for each in get_args(union)))
    for union in (Piece, Leg, End)
    for part in get_args(union)
}

Place = tuple[int | str, ...]


def refusal(where: str, problems: list[str]) -> IronTrailError:
    """A file is refused: the first of its problems, and how many there are."""
    count = "one problem" if len(problems) == 1 else f"{len(problems):,} problems"
    more = f"; and {len(problems) - SHOWN:,} more" if len(problems) > SHOWN else ""
    return IronTrailError(f"{count}: {'; '.join(problems[:SHOWN])}{more}", where, MEND)


def describe(error: ValidationError) -> list[str]:
    """One sentence for each problem, in the order of the file.

    A piece, a leg, or an end of a leg is tried as each kind in turn, and each failure is reported; only the kind that
    it says it is counts.
    """
    details = error.errors(include_url=False)
    readings = {reading for detail in details for reading in _readings(detail["loc"])}
    wrong = {detail["loc"][:-1] for detail in details if detail["loc"][-1:] == ("kind",)} & readings
    right = {reading[:-1] for reading in readings - wrong}
    sentences: dict[str, None] = {}
    for detail in details:
        loc = detail["loc"]
        missed = next((reading for reading in _readings(loc) if reading in wrong), None)
        if missed is None:
            sentence = _sentence(_without_readings(loc), detail, len(sentences) < SHOWN)
        elif missed[:-1] not in right and loc == (*missed, "kind"):
            kinds = ", ".join(_KINDS[str(missed[-1])])
            sentence = f"{_dotted((*_without_readings(missed[:-1]), 'kind'))}: must be one of {kinds}"
        else:
            continue
        sentences[sentence] = None
    return list(sentences)


def _readings(loc: Place) -> list[Place]:
    """The places down to each name of a kind that something on the way was read as, the outermost first."""
    return [loc[: i + 1] for i in range(1, len(loc)) if isinstance(loc[i - 1], int) and loc[i] in _KINDS]


def _without_readings(loc: Place) -> Place:
    """A place as it stands in the file."""
    names = {len(reading) - 1 for reading in _readings(loc)}
    return tuple(name for i, name in enumerate(loc) if i not in names)


def _dotted(loc: tuple[int | str, ...]) -> str:
    return ".".join(_short(str(name)) for name in loc) or "the file"


def _short(text: str) -> str:
    """So much of a text that it can be told, without what is no letter."""
    plain = "".join(letter if letter.isprintable() else "�" for letter in text[: MOST_LETTERS + 1])
    return plain if len(plain) <= MOST_LETTERS else plain[:MOST_LETTERS] + "…"


def _sentence(loc: tuple[int | str, ...], detail: ErrorDetails, with_nearest: bool) -> str:
    kind, context = detail["type"], detail.get("ctx", {})
    found = _short(_as_written(detail["input"]))
    if kind in ("extra_forbidden", "unexpected_keyword_argument"):
        name = str(loc[-1])[:MOST_LETTERS]
        known = name in _known_names()
        near = get_close_matches(name, _known_names(), 1) if with_nearest and not known else ()
        text = "has no place here" if known else "unknown field" + (f", perhaps '{near[0]}' is meant" if near else "")
    elif kind in ("missing", "missing_argument"):
        text = "missing"
    elif kind == "greater_than_equal":
        text = f"{_short(str(detail['input']))} is below {context['ge']:g}"
    elif kind == "less_than_equal":
        text = f"{_short(str(detail['input']))} is above {context['le']:g}"
    elif kind == "literal_error":
        text = f"must be {context['expected']}, not {found}"
    elif kind == "predicate_failed":
        colour = "is_colour" in detail["msg"]
        text = f"{found} {NO_COLOUR if colour else NOT_PLAIN}"
    elif kind == "string_too_long":
        text = f"a text of more than {context['max_length']:,} letters"
    elif kind == "value_error":
        text = getattr(context.get("error"), "what", detail["msg"])
    else:
        text = detail["msg"][0].lower() + detail["msg"][1:]
    return f"{_dotted(loc)}: {text}"


def _as_written(value: Any) -> str:
    """A value as it stands in the file."""
    return json.dumps(value) if value is None or isinstance(value, bool) else repr(value)


@cache
def _known_names() -> tuple[str, ...]:
    """Every field name that a project has anywhere."""
    names: set[str] = {"format", "project"}
    seen: set[Any] = set()

    def visit(part: Any) -> None:
        if part in seen:
            return
        seen.add(part)
        if is_dataclass(part) and isinstance(part, type):
            names.update(field.name for field in fields(part))
            for hint in get_type_hints(part).values():
                visit(hint)
        for inner in get_args(part):
            visit(inner)

    visit(Project)
    return tuple(sorted(names))
