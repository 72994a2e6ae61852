"""The problems that pydantic finds in a file, as sentences that name the field and the mend."""

from dataclasses import fields, is_dataclass
from difflib import get_close_matches
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from irontrail.core.mat.tape import Piece
from irontrail.core.project import Project

_KINDS = {kind.__name__ for kind in get_args(Piece)}


def describe(error: ValidationError) -> list[str]:
    """One sentence for each problem, in the order of the file."""
    details = error.errors(include_url=False)
    wrong_kind = {
        (parent, kind)
        for detail in details
        if (place := _branch(detail["loc"])) is not None
        and (parent := place[0]) is not None
        and (kind := place[1]) is not None
        and place[2] == ("kind",)
    }
    parents_with_a_match = {
        place[0]
        for detail in details
        if (place := _branch(detail["loc"])) is not None and (place[0], place[1]) not in wrong_kind
    }
    sentences: list[str] = []
    for detail in details:
        place = _branch(detail["loc"])
        if place is None:
            sentence = _sentence(detail["loc"], detail)
        elif (place[0], place[1]) not in wrong_kind:
            sentence = _sentence(place[0] + place[2], detail)
        elif place[0] not in parents_with_a_match and place[2] == ("kind",):
            kinds = ", ".join(sorted(kind.lower() for kind in _KINDS))
            sentence = f"{_dotted((*place[0], 'kind'))}: must be one of {kinds}"
        else:
            continue
        if sentence not in sentences:
            sentences.append(sentence)
    return sentences


def _branch(loc: tuple[int | str, ...]) -> tuple[tuple[int | str, ...], str, tuple[int | str, ...]] | None:
    """A place inside one reading of a piece, split into the piece, the kind it was read as, and the rest.

    A piece is tried as each kind in turn, and each failure is reported; only the kind it says it is counts.
    """
    for i, name in enumerate(loc):
        if i > 0 and isinstance(loc[i - 1], int) and isinstance(name, str) and name in _KINDS:
            return loc[:i], name, loc[i + 1 :]
    return None


def _dotted(loc: tuple[int | str, ...]) -> str:
    return ".".join(map(str, loc)) or "the file"


def _sentence(loc: tuple[int | str, ...], detail: ErrorDetails) -> str:
    kind, context = detail["type"], detail.get("ctx", {})
    if kind in ("extra_forbidden", "unexpected_keyword_argument"):
        near = get_close_matches(str(loc[-1]), _known_names(), 1)
        text = "unknown field" + (f", did you mean '{near[0]}'?" if near else "")
    elif kind in ("missing", "missing_argument"):
        text = "missing"
    elif kind == "greater_than_equal":
        text = f"{detail['input']} is below {context['ge']:g}"
    elif kind == "less_than_equal":
        text = f"{detail['input']} is above {context['le']:g}"
    elif kind == "literal_error":
        text = f"must be {context['expected']}, not {detail['input']!r}"
    elif kind == "predicate_failed":
        text = f"{detail['input']!r} is not a colour like '#2a2b2d'"
    elif kind == "value_error":
        text = getattr(context.get("error"), "what", detail["msg"])
    else:
        text = detail["msg"][0].lower() + detail["msg"][1:]
    return f"{_dotted(loc)}: {text}"


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
