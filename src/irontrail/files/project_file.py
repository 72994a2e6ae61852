"""Project files: JSON with an integer `format`, checked field by field; docs/format/ describes them.

The project's own frozen parts are the schema: their types, limits and defaults are read off by pydantic, which
also reports every problem of a file at once (`project_schema.py`, imported once a file is read).
"""

import json
from dataclasses import fields, replace
from pathlib import Path
from typing import Any

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import stroke_route
from irontrail.core.project import Evidence, KeptRun, Project
from irontrail.core.quantity import Part
from irontrail.core.setup import Setup
from irontrail.files import atomic
from irontrail.files.reading import json_of, read_bytes, text_of
from irontrail.files.upgrades import upgraded

SUFFIX = ".irontrail"
WHAT = "a project file"
FORMAT = 2
# Far above any real project; a larger file is not one of ours.
MAX_BYTES = 64 * 1024 * 1024


def schema() -> dict[str, Any]:
    """The published JSON schema of a project file."""
    from irontrail.files.project_schema import PROJECT_FILE

    return PROJECT_FILE.json_schema() | {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Iron Trail project, format {FORMAT}",
    }


def to_text(project: Project) -> str:
    """A project as the text of its file: the setup spread out to be read, each kept run on a line of its own."""
    made: dict[int, Any] = {}
    setup = _dumped(_plain(project.setup, made), 1)
    kept = ",\n".join(f"  {_dumped(_kept(run, made))}" for run in project.kept)
    inner = setup.replace("\n", "\n  ")
    rooms = "".join(f'  "{name}": {_dumped(_plain(getattr(project, name), made))},\n' for name in ("practice", "event"))
    taken = "" if project.exported is None else f'  "exported": {_dumped(_plain(project.exported, made))},\n'
    if project.evidence != Evidence():
        taken += f'  "evidence": {_dumped(_plain(project.evidence, made))},\n'
    return (
        f'{{\n "format": {FORMAT},\n "project": {{\n{rooms}  "setup": {inner},\n{taken}'
        f'  "kept": [\n{kept}\n  ]\n }}\n}}\n'
    )


def _kept(run: KeptRun, made: dict[int, Any]) -> Any:
    """A kept run as plain dicts; one that the real robot has not driven says nothing of it."""
    plain = _plain(run, made)
    return plain if run.real else {name: value for name, value in plain.items() if name != "real"}


def _dumped(plain: Any, indent: int | None = None) -> str:
    return json.dumps(plain, indent=indent, ensure_ascii=False, allow_nan=False)


def _plain(value: Any, made: dict[int, Any]) -> Any:
    """A part as plain lists and dicts; parts that many runs share are only taken apart once."""
    if isinstance(value, Part):
        if id(value) not in made:
            # Its own values before the parts inside it: a program's law before the settings of every law.
            names = sorted(
                (field.name for field in fields(value)), key=lambda name: isinstance(getattr(value, name), Part)
            )
            made[id(value)] = {name: _plain(getattr(value, name), made) for name in names}
        return made[id(value)]
    return [_plain(each, made) for each in value] if isinstance(value, tuple) else value


def from_text(text: str, where: str) -> Project:
    """The project in the text of a file called `where`.

    Raises
    ------
    IronTrailError
        With every problem found, each with its field.
    """
    content = json_of(text, where, WHAT)
    found = content.get("format") if isinstance(content, dict) else None
    if isinstance(found, int) and not isinstance(found, bool) and found > FORMAT:
        raise IronTrailError(
            f"format {found} is newer than this Iron Trail knows ({FORMAT})", where, "Update Iron Trail."
        )
    if isinstance(found, int) and not isinstance(found, bool) and 1 <= found < FORMAT:
        text = json.dumps(upgraded(content, found, FORMAT))
    from pydantic import ValidationError

    from irontrail.files.problems import describe, refusal
    from irontrail.files.project_schema import PROJECT_FILE

    try:
        project = PROJECT_FILE.validate_json(text, strict=True).project
    except ValidationError as error:
        raise refusal(where, describe(error)) from error
    project = _shared(project)
    _check_lines(project, where)
    return project


def _shared(project: Project) -> Project:
    """The same project with equal parts of its runs being one object, as they are while they are worked on."""
    one: dict[Any, Any] = {}

    def shared(setup: Setup) -> Setup:
        parts = {name: getattr(setup, name) for name in ("mat", "robot", "light", "program", "trial")}
        return replace(setup, **{name: one.setdefault(part, part) for name, part in parts.items()})

    kept = tuple(replace(run, setup=shared(run.setup)) for run in project.kept)
    exported = project.exported and shared(project.exported)
    return replace(project, setup=shared(project.setup), kept=kept, exported=exported)


def _check_lines(project: Project, where: str) -> None:
    """Every line of the project can be laid."""
    problems: list[str] = []
    setups = [("project.setup", project.setup)]
    setups += [(f"project.kept.{i}.setup", kept.setup) for i, kept in enumerate(project.kept)]
    setups += [("project.exported", project.exported)] if project.exported is not None else []
    fine: set[int] = set()
    for path, setup in setups:
        if id(setup.mat) in fine:
            continue
        before = len(problems)
        names = ("line", *(f"other_lines.{j}" for j in range(len(setup.mat.other_lines))))
        for name, stroke in zip(names, setup.mat.lines, strict=True):
            try:
                stroke_route(stroke, setup.mat.name)
            except IronTrailError as error:
                problems.append(f"{path}.mat.{name}: {error.what}")
        if len(problems) == before:
            fine.add(id(setup.mat))
    if problems:
        from irontrail.files.problems import refusal

        raise refusal(where, problems)


def read(path: Path) -> Project:
    """Read a project file; IronTrailError if it cannot be read or is not one."""
    return from_text(text_of(read_bytes(path, MAX_BYTES, WHAT), str(path), WHAT), str(path))


def write(path: Path, project: Project) -> None:
    """Write a project file in one step; IronTrailError if it cannot be written."""
    atomic.write_text(path, to_text(project))
