"""What the core works out for some setups and mats, line by line: `python -m tests.found` writes the records anew.

A record has what is said and every number of it, to five digits. It tells that something has become otherwise, not
what is right: look at what has changed in it before it is kept.
"""

import json
import re
import sys
from collections.abc import Callable, Iterator
from dataclasses import fields, is_dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.advice import leg_way, luck, rooms, step_response
from irontrail.core.advice.changes import changes
from irontrail.core.advice.leg_ends import leg_ends
from irontrail.core.advice.proofread import proofread
from irontrail.core.causes.questions import answered, asked_of
from irontrail.core.causes.told import told
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.light import contrast
from irontrail.core.light.sensor import LightArea
from irontrail.core.listing.c99 import c99
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import Options
from irontrail.core.mat import laying, lead_back, lines, pieces, tiles
from irontrail.core.mat.demands import demands
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Mat, Straight, Stroke
from irontrail.core.pit import card, setting_down
from irontrail.core.project import Project
from irontrail.core.robot.bench_tests import BENCH_TESTS, measured
from irontrail.core.setup import Pull, Setup
from irontrail.core.shaking import AT_EVENT
from irontrail.core.starts import perturbed
from irontrail.core.steering import handles, leg_words, planning
from irontrail.core.steering.laws.on_off import OnOff
from irontrail.core.steering.words import in_words
from irontrail.core.table import box_of, things
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.pair import pair_point
from irontrail.core.theory.turning import check_bends, tightest_turns
from irontrail.core.tune import axes, nearby, race, robustness, ultimate_gain
from irontrail.files import project_file, trace_csv
from irontrail.files.svg import out
from irontrail.files.svg import read as svg
from tests.support import lighthouse, setup_with, stretches_of

FOLDER = Path(__file__).parent / "found"
# Of an array so many values are told, besides its mean.
TOLD = 7
# Less is where a processor rounds.
NOTHING = 1e-9
# Whose listings are told too, and whose troubles.
LISTED = ("lantern", "mixed, dim", "PID", "counts", "names", "table", "weighted")
IN_TROUBLE = ("on-off, fast", "bands", "names", "off its line")


def setups() -> dict[str, Setup]:
    """A demo of each kind, and setups that read, steer, set off or end otherwise."""
    of = {name: demo_project(name).setup for name in ("lighthouse", "quarry", "lantern", "ropewalk")}
    pair = of["ropewalk"]
    return of | {
        "on-off, fast": lighthouse(program__law="on-off", program__on_off=OnOff(100.0, 20.0, 100.0, 20.0)),
        "bands": lighthouse(program__law="bands", program__edge="right", program__speed=35.0),
        "mixed, dim": setup_with(of["quarry"], program__law="mixed", light__room_light=0.8, light__calibrate=False),
        "PID": lighthouse(
            program__law="PID", program__ease_off=0.3, program__decision_loops=2, light__sensor__lag_s=0.01,
            trial__laps=2, trial__reverse=True,
        ),
        "counts": lighthouse(
            light__sensor__scale="counts", light__sensor__highest_count=1023, light__sensor__reads_high_on="dark",
            light__areas=(LightArea(900.0, 300.0, 200.0, 150.0, 0.6, 60.0),), trial__pull=Pull(4.0, 900.0, 120.0, 10.0),
        ),
        "names": lighthouse(light__sensor__scale="colour names", program__law="on-off", program__speed=40.0),
        "table": setup_with(pair, program__arrangement="table"),
        "weighted": setup_with(pair, program__arrangement="weighted", program__speed=40.0),
        "off its line": setup_with(of["lantern"], program__speed=60.0, robot__drive__mismatch_percent=4.0),
    }  # fmt: skip


def of_setup(setup: Setup) -> dict[str, Callable[[], Any]]:
    """What is asked about every setup."""
    run, legs = derive.run(setup), planning.legs_of(setup.program)
    asked: dict[str, Callable[[], Any]] = {
        "figures": lambda: derive.figures(setup),
        "stretches": lambda: stretches_of(setup),
        "curve": lambda: derive.curve(setup),
        "profile": lambda: derive.profile(setup),
        "way": lambda: (derive.start_mm(setup), derive.start_pose(setup), derive.way_share(setup)),
        "words": lambda: [each.says for each in in_words(setup.program)],
        "remarks": lambda: [(each.kind, each.says, each.mend) for each in proofread(setup)],
        "starts": lambda: [changes(setup, perturbed(setup, number)) for number in (1, 7)],
        "handles": lambda: [
            (each, changes(setup, replace(setup, program=handles.nudged(setup.program, each.name, 2.0, -3.0))))
            for each in handles.handles(setup.program)
        ],
        "theory": lambda: (linear_loop(setup), ultimate_gain.from_theory(setup)),
        "turns": lambda: (tightest_turns(setup), check_bends(setup, run.route)),
        "numbers": lambda: [
            (path, each.low, each.high, each.of(setup))
            for path in axes.all_numbers(setup)
            for each in [axes.axis(setup, path)]
        ],
        "to tune": lambda: (axes.to_tune(setup), axes.foremost(setup)),
        "colours": lambda: contrast.all_told_apart(setup.light, setup.robot.mount.height_mm, setup.mat.gloss)[:3],
        "rooms": lambda: rooms.look_at_rooms(Project(setup)),
        "verdict": lambda: rooms.verdict(Project(setup), rooms.look_at_rooms(Project(setup))),
        "things": lambda: [(each, box_of(setup, each)) for each in things(setup)],
        "trace": lambda: trace_csv.to_text(run.trace, len(setup.sensors)).splitlines()[:: len(run.trace) // 4],
        "to set": lambda: [(each.label, each.value) for each in card.numbers(setup)],
        "set down": lambda: setting_down.set_down(setup),
    }
    if setup.second is not None:
        asked["pair"] = lambda: pair_point(setup)
    if setup.program.trip is not None:
        asked |= {
            "legs": lambda: [leg_way.leg_way(setup, run, leg) for leg in run.legs],
            "leg words": lambda: [leg_words.leg_sentence(leg, place) for place, leg in enumerate(legs)],
            "leg ends": lambda: leg_ends(setup, 12),
        }  # fmt: skip
    elif setup.second is None:
        asked["step"] = lambda: step_response.step_response(setup, 12.0)
    return asked


def of_listing(setup: Setup) -> dict[str, Callable[[], Any]]:
    """The program in both languages."""
    return {
        "python": lambda: python(setup, Options("by hand", log=True)).text.splitlines(),
        "C": lambda: c99(setup, Options(stop_button=True)).text.splitlines(),
    }


def of_trouble(setup: Setup) -> dict[str, Callable[[], Any]]:
    """What is said of a run that went wrong, or could go better."""
    return {"told": lambda: [(each.kind, each.says, each.row, each.mend) for each in told(setup)]}


def with_many_runs(setup: Setup) -> dict[str, Callable[[], Any]]:
    """What takes many runs: asked about one setup."""
    return of_trouble(setup) | {
        "answers": lambda: [(each.asks, answered(each, setup)) for each in asked_of(setup)],
        "luck": lambda: luck.try_luck(setup, 3),
        "nearby": lambda: nearby.look_nearby(setup, axes.foremost(setup)[:2]),
        "race": lambda: race.differences(*map(stretches_of, (setup, setup_with(setup, program__speed=45.0)))),
        "strains": lambda: [(each.name, each.least, each.most) for each in robustness.strains_of(AT_EVENT)],
    }  # fmt: skip


def of_mat(mat: Mat) -> dict[str, Callable[[], Any]]:
    """What can be done to a mat's line, and how it is sent out."""
    line = mat.line
    places = range(len(line.pieces))
    shortest = replace(line, pieces=(Straight(1.0),), closed=False)

    def each(act: Callable[[int], Any]) -> list[Any]:
        return [_or_error(lambda i=i: act(i)) for i in places]

    def pulled(drag: Callable[..., Stroke], at: int, place: tuple[float, ...] | None) -> Any:
        return None if place is None else drag(line, at, place[0] + 23.0, place[1] - 37.0)

    ends = piece_joints(line)
    return {
        "demands": lambda: demands(derive.route(mat, False), line.width_mm, True),
        "joints": lambda: ends,
        "words": lambda: [laying.in_words(piece) for piece in line.pieces],
        "ends": lambda: each(lambda i: pulled(laying.drag_end, i, ends[i + 1])),
        "middles": lambda: each(lambda i: pulled(laying.drag_middle, i, laying.middle_place(line, i))),
        "removed": lambda: each(lambda i: laying.removed(line, i)),
        "inserted": lambda: each(lambda i: laying.inserted(line, i, laying.NEW_PIECES["wiggle"])),
        "back": lambda: (laying.reversed_stroke(line), pieces.turned_round(line)),
        "longer": lambda: (pieces.longer(line, 55.0), pieces.within_the_rim(line)),
        "joined": lambda: lead_back.led_back(laying.opened(line), mat.width_mm, mat.height_mm),
        "one millimetre": lambda: lead_back.led_back(shortest, 900.0, 600.0),
        "crossed": lambda: (lines.crossed(mat, 0, 0).lines[1:], lines.forked(mat, 0, 1).lines[1:]),
        "sheets": lambda: [tiles.cut(mat.width_mm, mat.height_mm, paper) for paper in ("A4", "A3")],
        "raster": lambda: derive.raster(mat)[::50, ::50].mean(axis=2),
        "svg": lambda: out.to_text(mat).splitlines(),
    }


PAGE = '<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
DRAWN = {
    "curves": '<path class="t" d="M200 800C600 800 500 300 900 300S1400 700 1500 500Q1600 300 1800 300"/>',
    "arcs and corners": '<path class="t" d="M150 850H800A150 150 0 0 0 950 700V400L1200 250H1800"/>',
    "a ring in lines": '<g transform="translate(0 1000) scale(1 -1)">'
    '<polyline class="t" points="500,300 1300,300 1300,700"/><path class="t" d="M1300 700H500V300"/></g>',
    "filled": '<path fill="#222" d="M200 200H1000V800H980V220H200Z"/><rect x="1200" y="300" width="500" height="25"/>',
    "a filled ring": '<path fill-rule="evenodd" d="M1300 500A300 300 0 1 0 700 500A300 300 0 1 0 1300 500Z'
    'M1280 500A280 280 0 1 0 720 500A280 280 0 1 0 1280 500Z"/>',
    "borders, dashes and things": '<path d="M200 500H1700" stroke="#fff" stroke-width="40" fill="none"/>'
    '<path class="t" d="M200 500H1700" stroke-dasharray="300 25"/><path class="t" d="M900 500V150"/>'
    '<rect x="1500" y="100" width="120" height="90" fill="#3060c0" transform="rotate(20 1560 145)"/>'
    '<circle cx="300" cy="200" r="15"/><text x="400" y="400">north</text>',
    "nothing": "<text>north</text>",
    "from its very rim": '<path class="t" d="M0.4 999.6H700"/>'
    '<rect x="100" y="100" width="90" height="60" fill="#3060c0" transform="rotate(.4 145 130)"/>',
    "filled to its rim": '<rect width="900" height="30"/>',
    "off the page": '<path class="t" d="M-300 500H2500"/>',
}  # fmt: skip
STYLE = "<style>.t{fill:none;stroke:#112233;stroke-width:20} @media print{.t{stroke-width:3}}</style>"


def of_drawings() -> dict[str, Callable[[], Any]]:
    """What drawings are read as: some by hand, and the demos' mats as they are sent out, without what only we read."""

    def read(text: str) -> Any:
        made = svg.from_bytes(text.encode(), "drawn", "drawn.svg")
        mat = made.mat
        rest = (mat.name, mat.width_mm, mat.height_mm, mat.colour, mat.spots, len(made.choices))
        return [*mat.lines, *mat.patches, rest, made.left_out, made.off_mm]

    sent = {name: re.sub(r' data-[\w-]+="[^"]*"', "", out.to_text(make())) for name, make in DEMO_MATS.items()}
    return {
        **{name: lambda body=body: read(f"{PAGE}{STYLE}{body}</svg>") for name, body in DRAWN.items()},
        **{f"{name}, sent": lambda text=text: read(text) for name, text in sent.items()},
    }


def of_files() -> dict[str, Callable[[], Any]]:
    """What is said of project files that are not as they should be."""
    whole = json.loads(project_file.to_text(demo_project("lighthouse")))

    def with_part(*place: str, value: Any) -> Callable[[], Any]:
        made = json.loads(json.dumps(whole))
        inside = made
        for name in place[:-1]:
            inside = inside.setdefault(name, {})
        inside[place[-1]] = value
        return lambda: project_file.from_text(json.dumps(made), "evening.irontrail")

    return {
        "no JSON": lambda: project_file.from_text("{", "evening.irontrail"),
        "a list": lambda: project_file.from_text("[]", "evening.irontrail"),
        "newer": with_part("format", value=99),
        "older": with_part("format", value=0),
        "true": with_part("format", value=True),
        "no number": with_part("format", value="two"),
        "a name": with_part("project", "setup", "program", "sped", value=50.0),
        "a word": with_part("project", "setup", "program", "speed", value="fast"),
        "too much": with_part("project", "setup", "program", "speed", value=5000.0),
        "a law": with_part("project", "setup", "program", "law", value="PDI"),
        "elsewhere": with_part("program", value={}),
        "nothing": with_part("project", "setup", "program", "speed", value=None),
        "no pieces": with_part("project", "setup", "mat", "line", "pieces", value=[]),
    }


def of_robot() -> dict[str, Callable[[], Any]]:
    """What is measured on the floor, from a try with the usual numbers and one with a little less."""
    drive = lighthouse().robot.drive

    def tried(test: Any) -> Any:
        first = {name: usual for name, _, usual in test.asks}
        return measured(test, [first, {name: 0.97 * value for name, value in first.items()}], drive)

    return {test.name: lambda test=test: tried(test) for test in BENCH_TESTS.values()}


def found() -> Iterator[tuple[str, dict[str, list[str]]]]:
    """Each record by its name: the lines of each thing that is asked."""
    for name, setup in setups().items():
        more = (of_listing(setup) if name in LISTED else {}) | (of_trouble(setup) if name in IN_TROUBLE else {})
        yield name, _answers(of_setup(setup) | more)
    yield "many runs", _answers(with_many_runs(lighthouse(program__speed=58.0)))
    for name, make in DEMO_MATS.items():
        yield f"mat {name}", _answers(of_mat(make()))
    yield "robot", _answers(of_robot())
    yield "drawings", _answers(of_drawings())
    yield "files", _answers(of_files())


def _answers(asked: dict[str, Callable[[], Any]]) -> dict[str, list[str]]:
    answers = {}
    for what, act in asked.items():
        answer = _or_error(act)
        each = answer if isinstance(answer, list | tuple) else [answer]
        answers[what] = [shown(part) for part in each]
    return answers


def _or_error(act: Callable[[], Any]) -> Any:
    try:
        return act()
    except IronTrailError as error:
        return f"refused: {error}"


def shown(value: Any) -> str:
    """A value with all its parts, in one line; of a setup nothing, of an array some values."""
    if isinstance(value, Setup):
        return "setup"
    if isinstance(value, float | np.floating):
        return f"{value:.5g}" if abs(value) > NOTHING else "0"
    if isinstance(value, np.ndarray) and value.dtype.kind in "fiub":
        flat = value.ravel()
        some = flat[np.linspace(0, flat.size - 1, min(TOLD, flat.size)).astype(int)] if flat.size else flat
        mean = f" mean {shown(float(np.mean(flat)))}" if flat.size > TOLD else ""
        return f"[{flat.size}: {', '.join(shown(each.item()) for each in some)}{mean}]"
    if is_dataclass(value) and not isinstance(value, type):
        told = [each for each in fields(value) if getattr(value, each.name) is not each.default]
        parts = [f"{each.name} {shown(getattr(value, each.name))}" for each in told]
        return f"{type(value).__name__}({', '.join(parts)})"
    if isinstance(value, dict):
        return "{" + ", ".join(f"{key}: {shown(part)}" for key, part in value.items()) + "}"
    if isinstance(value, list | tuple):
        return "(" + ", ".join(map(shown, value)) + ")"
    return str(value) if isinstance(value, str | int | bool | None) else type(value).__name__


def path_of(name: str) -> Path:
    """Where a record is kept."""
    return FOLDER / f"{name}.json"


def main() -> int:
    """Write every record."""
    FOLDER.mkdir(exist_ok=True)
    for name, answers in found():
        path_of(name).write_text(json.dumps(answers, indent=0, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
