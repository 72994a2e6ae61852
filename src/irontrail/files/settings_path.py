"""One setting of a setup named on the command line: PATH=VALUE, such as program.speed=60.

Lists and whole parts are written as in a project file, in JSON: light.areas=[], mat.finish=null.
"""

from dataclasses import fields, is_dataclass
from difflib import get_close_matches
from typing import Any, get_type_hints

from pydantic import TypeAdapter, ValidationError

from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import value_at, with_value
from irontrail.core.setup import Setup
from irontrail.files.problems import describe


def settable(part: Any, prefix: str = "") -> list[str]:
    """The paths of all values of a part, in their order: single ones, lists, and parts that may be left out."""
    found = []
    for field in fields(part):
        value = getattr(part, field.name)
        if is_dataclass(value):
            found += settable(value, f"{prefix}{field.name}.")
        if not is_dataclass(value) or "None" in str(field.type):
            found.append(prefix + field.name)
    return found


def apply_setting(setup: Setup, setting: str) -> Setup:
    """The setup with one setting changed.

    Raises
    ------
    IronTrailError
        If there is no such setting, or its value is of the wrong kind or out of range.
    """
    path, equals, text = setting.partition("=")
    paths = settable(setup)
    if not equals or path not in paths:
        near = get_close_matches(path, paths, 1)
        remedy = f"Did you mean {near[0]}?" if near else "Settings are written like program.speed=60."
        raise IronTrailError("no such setting", path or setting, remedy)
    parent_path, _, name = path.rpartition(".")
    parent = value_at(setup, parent_path) if parent_path else setup
    hint = get_type_hints(type(parent), include_extras=True)[name]
    try:
        adapter = TypeAdapter(hint)
        value = (
            adapter.validate_json(text)
            if text.startswith(("[", "{")) or text == "null"
            else adapter.validate_python(text)
        )
    except ValidationError as error:
        problems = "; ".join(problem.removeprefix("the file: ") for problem in describe(error))
        raise IronTrailError(problems, path) from error
    return with_value(setup, path, value)
