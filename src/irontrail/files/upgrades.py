"""How files of older formats become those of the next: plain JSON to plain JSON, one step a version.

A step knows only what changed between two formats and leaves all else as it is, wrong or not: what is wrong is told
when the newest format is read.
"""

from collections.abc import Callable, Iterator
from math import floor
from typing import Any


def upgraded(content: dict[str, Any], version: int, newest: int) -> dict[str, Any]:
    """A file's content of an older version, 1 or more, as one of the newest."""
    for step in range(version, newest):
        content = STEPS[step](content) | {"format": step + 1}
    return content


def _to_2(content: dict[str, Any]) -> dict[str, Any]:
    """A decision is held for a whole number of loops, `decision_loops`, where it was held for a time, `hold_s`."""
    return _with_programs(content, _in_loops)


def _in_loops(program: dict[str, Any]) -> dict[str, Any]:
    hold, loop = program.get("hold_s", 0.0), program.get("loop_time_s", 0.01)
    if not _is_number(hold) or not _is_number(loop) or loop <= 0 or not 0.0 <= hold <= 2.0:
        return program
    made = {name: value for name, value in program.items() if name != "hold_s"}
    return made | {"decision_loops": max(1, floor(hold / loop + 0.5 + 1e-9))} if "hold_s" in program else made


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _with_programs(content: dict[str, Any], change: Callable[[dict[str, Any]], dict[str, Any]]) -> dict[str, Any]:
    """The content with the program of the setup and of every kept run changed, wherever there is one."""
    project = content.get("project")
    if not isinstance(project, dict):
        return content
    made = dict(project)
    for holder in _holders(made):
        setup = holder["setup"]
        if isinstance(setup, dict) and isinstance(setup.get("program"), dict):
            holder["setup"] = setup | {"program": change(setup["program"])}
    return content | {"project": made}


def _holders(project: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """Copies of all that holds a setup: the project itself and its kept runs, put back into it."""
    if "setup" in project:
        yield project
    kept = project.get("kept")
    if isinstance(kept, list):
        project["kept"] = [dict(run) if isinstance(run, dict) else run for run in kept]
        yield from (run for run in project["kept"] if isinstance(run, dict) and "setup" in run)


# By the version that each step starts from.
STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _to_2}
