"""What the window says of some projects, sheet by sheet: `python -m tests.said` writes the records anew.

What a sheet says once something has been done on it is recorded by the test that does it: with RECORD_WORDS set it is
written anew. A record holds of each control its name, value, what is written on it, tooltip, and whether it can be used
and is chosen. Look at what has changed in a record before it is kept: it is what people read.
"""

import json
import os
import re
import sys
import unittest
from collections.abc import Iterator
from itertools import zip_longest
from pathlib import Path
from typing import Any

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.project import KeptRun, Project, RealRun
from tests.support import WindowTest, lighthouse

FOLDER = Path(__file__).parent / "said"
NUMBER = re.compile(r"\d[\d,]*(?:\.\d+)?")
# Another processor may round a run otherwise: by this share, or by so many units of the last digit; no small counts,
# and nothing that a person sets.
SHARE, UNITS, COUNTS = 0.02, 1.5, 10.0
SET = "Dial |"
# Where kept runs are told of, and a run that is lost.
KEPT_AT, LOST_AT = ("Run", "Compare", "Pit"), ("Steer", "Run", "Tune")


def projects() -> dict[str, tuple[Project, tuple[str, ...]]]:
    """What is looked at, and at which stops: the demos of each kind, kept runs, and a run that is lost."""
    from irontrail.app.looking import STOPS

    setups = {
        "on-off": lighthouse(program__law="on-off"),
        "gentle": lighthouse(program__law="proportional", program__proportional__gain=0.5),
        "PID": lighthouse(program__law="PID", program__speed=55.0),
    }
    kept = [KeptRun(i + 1, setup, derive.figures(setup), note) for i, (note, setup) in enumerate(setups.items())]
    kept[1] = KeptRun(2, kept[1].setup, kept[1].figures, "gentle", True, (RealRun(21.5), RealRun(9.0, False)))
    return {
        **{name: (demo_project(name), tuple(STOPS)) for name in ("lighthouse", "quarry", "lantern", "ropewalk")},
        # Several lines, with forks and crossings; patches, shadows, a worn line; corners.
        **{name: (demo_project(name), ("Mat", "Robot")) for name in ("ferry", "orchard", "tannery")},
        "kept": (Project(lighthouse(program__law="bands", program__speed=40.0), tuple(kept)), KEPT_AT),
        "lost": (Project(lighthouse(program__law="on-off", program__speed=90.0)), LOST_AT),
    }


def path_of(name: str) -> Path:
    """Where a record is kept."""
    return FOLDER / f"{name.replace(' ', '-')}.json"


def alike(was: str, now: str) -> bool:
    """Whether two lines say the same, but for what another processor may round otherwise."""
    if was.startswith(SET) or NUMBER.sub("#", was) != NUMBER.sub("#", now):
        return was == now
    return all(map(_near, NUMBER.findall(was), NUMBER.findall(now)))


def _near(one: str, other: str) -> bool:
    value, decimals = float(one.replace(",", "")), len(one.partition(".")[2])
    off = abs(value - float(other.replace(",", "")))
    return one == other or (
        off <= max(SHARE * value, UNITS * 10.0**-decimals) and not (value < COUNTS and not decimals)
    )


def changes(was: dict[str, list[str]], now: dict[str, list[str]]) -> list[str]:
    """Where a record is no longer what is said."""
    found = []
    for place in {**was, **now}:
        for before, after in zip_longest(was.get(place, ()), now.get(place, ()), fillvalue=""):
            if not alike(before, after):
                found.append(f"{place}: {before!r} is now {after!r}")
    return found


class Reader(WindowTest):
    """Opens one window, and reads it."""

    def setUp(self) -> None:
        super().setUp()
        self.window = self.open_window()
        # Each tooltip is told once.
        self.tips: set[str] = {""}

    def read(self, project: Project, stops: tuple[str, ...]) -> dict[str, list[str]]:
        """What the sheets of some stops say of a project, and what stands around them."""
        from PySide6.QtGui import QAction

        from irontrail.app.sheets import SheetedPanel

        window, session = self.window, self.window.session
        session.open(project, None)
        self.settle(session)
        session.playback.pause()
        session.playback.seek(2.0)
        found = {}
        for stop in stops:
            session.looking.go_to(stop)
            panel = window.panel(stop)
            for sheet in panel.there if isinstance(panel, SheetedPanel) else [""]:
                if sheet:
                    panel.turn_to(sheet)
                self.settle(session)
                self.wait_for(lambda panel=panel: at_rest(panel))
                self.app.processEvents()
                found[f"{stop} {sheet}".strip()] = list(self.lines(panel))
        found["around"] = list(self.lines(window, panel))
        found["actions"] = [
            " | ".join([each.text(), each.shortcut().toString(), *_state(each)])
            for each in window.findChildren(QAction)
        ]
        return found

    def lines(self, part: Any, but: Any = None) -> Iterator[str]:
        return lines_of(part, self.tips, self.folder, but)


def lines_of(part: Any, tips: set[str], folder: Path, but: Any = None) -> Iterator[str]:
    """A line for each control in sight in a part of the window, but for those in a part of that."""
    from PySide6.QtWidgets import QWidget

    for view in part.findChildren(QWidget):
        if view.isVisible() and not (but is not None and (view is but or but.isAncestorOf(view))):
            line = said_by(view, tips)
            if line:
                yield line.replace(str(folder), "FOLDER")


def as_recorded(test: WindowTest, name: str, part: Any) -> None:
    """Fails if a part of a window says anything else than when somebody last looked."""
    test.app.processEvents()
    now = {name: list(lines_of(part, {""}, test.folder))}
    if "RECORD_WORDS" in os.environ:
        path_of(name).write_text(json.dumps(now, indent=0, ensure_ascii=False) + "\n")
    test.assertEqual(changes(json.loads(path_of(name).read_text()), now), [])


def at_rest(panel: Any) -> bool:
    """Nothing is being worked out for a panel."""
    from PySide6.QtWidgets import QWidget

    from irontrail.app.long_work import LongWork
    from irontrail.app.worker import NewestWins

    held = [each for view in panel.findChildren(QWidget) for each in getattr(view, "__dict__", {}).values()]
    return not any(
        (isinstance(each, LongWork) and each.running) or (isinstance(each, NewestWins) and not each.idle)
        for each in held
    )


def said_by(view: Any, tips: set[str]) -> str:
    """What a control says of itself, its tooltip if that is a new one; nothing if it is only there to hold others."""
    from PySide6.QtGui import QAccessible
    from PySide6.QtWidgets import QAbstractButton

    from irontrail.app.widgets.dial import DIAL_KEYS

    told = QAccessible.queryAccessibleInterface(view)
    name, value = told.text(QAccessible.Text.Name), told.text(QAccessible.Text.Value)
    tip = view.toolTip().removesuffix(DIAL_KEYS).strip()
    written = view.text() if isinstance(view, QAbstractButton) else ""
    said = [name or value]
    for each in (value, written.replace("&", "")):
        if not any(each in other for other in said):
            said.append(each)
    if tip not in tips:
        said.append(tip)
    if not any(said):
        return ""
    tips.add(tip)
    return " | ".join([type(view).__name__, *said, *_state(view)])


def _state(control: Any) -> list[str]:
    chosen = "isChecked" in dir(control) and control.isChecked()
    return ["chosen"] * chosen + ["off"] * (not control.isEnabled())


class Recorder(Reader):
    """Writes the records."""

    def write(self) -> None:
        FOLDER.mkdir(exist_ok=True)
        for name, looked_at in projects().items():
            path_of(name).write_text(json.dumps(self.read(*looked_at), indent=0, ensure_ascii=False) + "\n")


def main() -> int:
    """Write every record."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    return 0 if unittest.TextTestRunner().run(unittest.TestSuite([Recorder("write")])).wasSuccessful() else 1


if __name__ == "__main__":
    sys.exit(main())
