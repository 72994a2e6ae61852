"""How small pictures are drawn, with numbers made up: `python -m tests.drawings` writes the records anew.

A record holds every word with its place and colour, and every line with its box, colours and dash, to the pixel. Look
at what has changed in a record before it is written: it is what people see.
"""

import json
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np

from tests import on_mat
from tests.seen import seen
from tests.support import lighthouse

FOLDER = Path(__file__).parent / "drawings"


def record(view: Any) -> list[str]:
    """What a view draws, a line of text for each thing."""
    picture = seen(view)
    words = [f"word {word.text!r} at {word.x:.0f}, {word.y:.0f} in {word.colour}" for word in picture.words]
    lines = [
        f"line of {len(line.points)} in {line.colour or '-'} filled {line.fill or '-'} wide {line.width:.1f}"
        f"{' dashed' if line.dashed else ''} box {', '.join(f'{side:.0f}' for side in line.box)}"
        for line in picture.lines
    ]
    return words + lines


def views() -> dict[str, Callable[[], Any]]:
    """Each drawing by name, made and sized."""
    from PySide6.QtWidgets import QApplication, QWidget

    from irontrail.app.theme import LIGHT, apply, worn
    from irontrail.app.widgets.answer_columns import AnswerColumns
    from irontrail.app.widgets.arrangement_picture import ArrangementPicture
    from irontrail.app.widgets.bench_picture import BenchPicture
    from irontrail.app.widgets.close_view import CloseView, Moment
    from irontrail.app.widgets.colour_matrix import Cell, ColourMatrix
    from irontrail.app.widgets.course_picture import CoursePicture
    from irontrail.app.widgets.dial import Dial
    from irontrail.app.widgets.difference_picture import Apart, DifferencePicture
    from irontrail.app.widgets.edge_plot import EdgePlot
    from irontrail.app.widgets.figure import FigureView
    from irontrail.app.widgets.gain_bars import GainBars
    from irontrail.app.widgets.gain_scale import GainScale
    from irontrail.app.widgets.law_picture import LawPicture
    from irontrail.app.widgets.leg_picture import LegButton
    from irontrail.app.widgets.line_button import LineButton
    from irontrail.app.widgets.log_list import LogEntry, LogList
    from irontrail.app.widgets.loop_picture import LoopPicture, LoopTimes
    from irontrail.app.widgets.map_picture import MapPicture
    from irontrail.app.widgets.mat_thumbnail import MatThumbnail
    from irontrail.app.widgets.motor_picture import Motor, MotorPicture
    from irontrail.app.widgets.nearby_picture import NearbyPicture
    from irontrail.app.widgets.patch_picture import PatchPicture
    from irontrail.app.widgets.piece_button import PICTURES, PieceButton
    from irontrail.app.widgets.playback_bar import Scrubber, SignButton, TimeLabel
    from irontrail.app.widgets.robot_drawing import Eye
    from irontrail.app.widgets.robot_plan import RobotPlan
    from irontrail.app.widgets.sentence_list import Line, SentenceList
    from irontrail.app.widgets.side_view import SideView
    from irontrail.app.widgets.spread_bars import Spread, SpreadBars
    from irontrail.app.widgets.strain_bars import StrainBars
    from irontrail.app.widgets.stretch_bars import StretchBars, StretchRow
    from irontrail.app.widgets.swatches import ColourRow
    from irontrail.app.widgets.table_cases import CasesPicture, TableCases
    from irontrail.app.widgets.target_picture import TargetPicture
    from irontrail.app.widgets.term_bars import TermBars
    from irontrail.app.widgets.trade_off_picture import FINISHING, Point, TradeOffPicture
    from irontrail.app.widgets.trip_ribbon import RibbonLeg, TripRibbon
    from irontrail.app.widgets.turn_picture import Turning, TurnPicture, TurnScene
    from irontrail.app.widgets.way_back import Way, WayBack
    from irontrail.app.widgets.weight_picture import Weighing, WeightPicture
    from irontrail.app.widgets.work_line import State, WorkLine
    from irontrail.core.causes.questions import Column
    from irontrail.core.demos import demo_project
    from irontrail.core.figures import FIGURES
    from irontrail.core.light.profile import EdgeProfile
    from irontrail.core.quantity import quantities
    from irontrail.core.robot.mount import Mount
    from irontrail.core.steering.laws.table import Table
    from irontrail.core.steering.pair import ARRANGEMENTS
    from irontrail.core.steering.program import Program
    from irontrail.core.tune.axes import axis
    from irontrail.core.tune.batch import MEASURES
    from irontrail.core.tune.grid import GridMap, GridSpec
    from irontrail.core.tune.race import Difference
    from irontrail.core.tune.robustness import Strain, StrainResult

    app = QApplication.instance()
    assert isinstance(app, QApplication)
    apply(app, LIGHT)
    theme = worn(LIGHT)

    def sized(view: Any, width: int = 300, height: int | None = None, focused: bool = False) -> Any:
        view.resize(width, height or view.height())
        if focused:
            view.hasFocus = lambda: True
        return view

    def dial(focused: bool = False, enabled: bool = True) -> Any:
        view = Dial(quantities(Program)["loop_time_s"], theme, 0.0, 0.1)
        view.set_value(0.034)
        view.set_kept(0.07)
        view.setEnabled(enabled)
        return sized(view, focused=focused)

    def made(view: Any, *calls: tuple[Any, ...], **size: Any) -> Any:
        for name, *arguments in calls:
            getattr(view, name)(*arguments)
        return sized(view, **size)

    points = (Point(10.0, 6.0, "PID"), Point(12.0, 3.0, "bands", 1), Point(15.0, 2.0, "mixed", 2))
    across_mm = np.linspace(-40.0, 40.0, 81)
    edge, flat = (EdgeProfile(across_mm, 50.0 + by * np.tanh(across_mm / 6.0)) for by in (45.0, 30.0))
    shares = (Point(10.0, 91.0), Point(12.0, 97.5), Point(15.0, 100.0))
    axes = (axis(lighthouse(), path) for path in ("program.speed", "program.proportional.gain"))
    up, across = np.mgrid[0:4, 0:4].astype(float)
    grid_map = GridMap(
        GridSpec(lighthouse(), *axes, 4, 5), np.ones((4, 4), bool), np.clip(1.5 - 0.3 * across - 0.2 * up, 0.0, 1.0),
        dict.fromkeys(MEASURES, 10.0 + up + 2.0 * across),
    )  # fmt: skip
    strain = Strain("battery", "robot.drive.battery", "%", -0.2, 0.2, 100.0, True)
    held = StrainResult(strain, (-0.2, -0.1, 0.0, 0.1, 0.2), (2, 12, 20, 19, 8), 20)
    near = mock.Mock(
        values=(0.5, 0.6, 0.7, 0.8, 0.9), finished=(1.0, 1.0, 1.0, 0.8, 0.0), time_s=(20.0, 19.0, 18.5, 19.5, np.nan),
        wobble_mm=(3.0, 4.0, 5.0, 8.0, np.nan), room_mm=(40.0, 38.0, 30.0, 10.0, np.nan), today=2,
    )  # fmt: skip
    time = np.linspace(0.0, 2.0, 41)
    way, kept = Way(time, 10.0 * np.exp(-2.0 * time), 1.2), Way(time, -8.0 * np.exp(-time), None)
    sentences = (
        Line("Read the light.", None, True),
        Line("Dark: turn left.", 0.7, False),
        Line("Light: turn right.", 0.0, True),
    )
    of_terms = (np.array([20.0, -20.0]), np.array([5.0, 5.0]), np.array([-10.0, 0.0]))
    terms = dict(zip(("proportional", "integral", "derivative"), of_terms, strict=True))
    setup = lighthouse(robot__mount__aside_mm=20.0)
    robot = setup.robot
    cells = ((Cell(0.0, "no"), Cell(72.0, "yes")), (Cell(12.0, "hardly"), Cell(3.0, "no")))
    colours = (("black", "#202020"), ("white", "#ffffff"))
    rows = (StretchRow("A", True, 2.0, 3.0, 1.5, True), StretchRow("A to B", False, 1.0, 2.0, 1.4, False),
            StretchRow("B", True, 1.2, 4.0, None, True))  # fmt: skip
    spreads = (Spread("time", "s", 2, 10.0, 11.0, 14.0, 13.0), Spread("swing", "mm", 1, 2.0, 3.0, 4.0, None))
    table = CasesPicture(Table(), "#2a2b2d", "#f4f2ec", now="left")
    states = {
        "Mat": (State.READY, ""), "Light": (State.ATTENTION, "not calibrated"), "Run": (State.ATTENTION, "line lost"),
        "Pit": (State.EMPTY, ""),
    }  # fmt: skip
    apart = (Apart("with bands", -1.2, -2.0, -0.4, True), Apart("with more gain", 0.1, -0.3, 0.5, False))
    columns = (Column("0.5", 0.4, 20.0), Column("0.7", 1.0, 18.5, True))
    won = (Difference("A", True, 0.0, 300.0, 0.4, -1.0), Difference("A to B", False, 300.0, 500.0, -0.2, 0.5))
    motors = ("left", Motor(2, True, -40.0, 40.0), Motor(1, False, 40.0, 40.0))
    turning = (Turning(False, -40.0, 20.0, 80.0, 8.0), Turning(True, 40.0, 80.0, 20.0, -8.0))
    scene = TurnScene(robot, 4.5, 20.0, "#2a2b2d", "#f4f2ec", turning, setup.reference)
    legs = (
        RibbonLeg("straight", "straight at 40", "when the line is found", False, seconds=1.7, came=40, starts=40),
        RibbonLeg("turn", "turn left 90°", "after 90°", True, 90.0, 0.9, True, 31, 40),
        RibbonLeg("follow", "follow", "at the second crossing", False, seconds=2.0, ended=False),
    )
    moment = Moment(1000.0, 500.0, 0.5, 60.0, -20.0, 0.4, -0.1, True, 52.0, True)
    quarry, ropewalk = (demo_project(name).setup.mat for name in ("quarry", "ropewalk"))

    def close_up() -> Any:
        view: Any = CloseView(theme, table := QWidget())
        view.table = table
        view.set_ground(robot, 4.5, demo_project("lighthouse").setup.mat)
        view.set_moment(moment)
        return view

    runs = (
        LogEntry(2, "gain 0.70 → 0.80", "18.4 s, swing 5.3 mm", "smoother", True, 0, ""),
        LogEntry(1, "", "20.6 s, swing 4.2 mm", "", False, None, "20.9 s"),
    )

    found = {
        "motors": lambda: made(MotorPicture(theme), ("set_motors", *motors)),
        "differences": lambda: made(DifferencePicture(theme), ("set_rows", apart, 0.2)),
        "answers": lambda: made(AnswerColumns(theme), ("set_columns", columns)),
        "won and lost": lambda: made(GainBars(theme), ("set_rows", won)),
        "turns": lambda: made(TurnPicture(theme), ("set_scene", scene)),
        "ribbon": lambda: made(TripRibbon(theme), ("set_legs", legs, 1), height=200),
        "close up": close_up,
        "line to follow": lambda: sized(LineButton(ropewalk, "line, 2 m", "line, 2 m", theme), 96),
        "mat on the shelf": lambda: sized(MatThumbnail(quarry, theme), 140),
        "logbook": lambda: made(LogList(theme), ("set_entries", runs), ("choose", 1), height=200),
        "colour row": lambda: made(ColourRow(theme), ("__setattr__", "colour", "#2A2B2D"), focused=True),
        "dial": dial,
        "dial focused": lambda: dial(focused=True),
        "dial disabled": lambda: dial(enabled=False),
        "gain scale": lambda: made(GainScale(theme), ("set_gains", 0.5, 1.0, 1.1)),
        "gain scale, nothing known": lambda: made(GainScale(theme), ("set_gains", 0.5, None, None)),
        "spread bars": lambda: made(SpreadBars(theme), ("set_spreads", spreads)),
        "spread bars on one scale": lambda: made(SpreadBars(theme), ("set_spreads", spreads, True)),
        "stretch bars": lambda: made(StretchBars(theme), ("set_rows", rows), width=330),
        "target": lambda: made(
            TargetPicture(theme), ("set_scale", 10.0, 80.0, {"was": 30.0, "is": 45.0, "should be": 50.0})
        ),
        "target, upside down": lambda: made(TargetPicture(theme), ("set_scale", 80.0, 10.0, {"is": 2.0})),
        "course": lambda: made(CoursePicture(theme), ("set_course", (float("nan"), 14.0, 13.0, 12.5), "s")),
        "terms": lambda: made(TermBars(theme), ("set_terms", terms), ("set_now", 1)),
        "trade-offs": lambda: made(
            TradeOffPicture(theme), ("set_points", points, Point(11.0, 9.0), False), ("go", 1), focused=True
        ),
        "trade-offs joined": lambda: made(TradeOffPicture(theme), ("set_points", points, None)),
        "trade-offs at the event": lambda: made(
            TradeOffPicture(theme), ("set_points", shares, None, True, FINISHING), ("go", -1)
        ),
        "map": lambda: made(MapPicture(theme), ("set_map", grid_map, "time_s"), ("go", 1, 0), width=320, focused=True),
        "map by swing": lambda: made(MapPicture(theme), ("set_map", grid_map, "wobble_mm"), width=320),
        "edge plot": lambda: made(EdgePlot(theme), ("set_profile", edge, 40.0, 6.0, (flat,)), height=236),
        "what is under the sensor": lambda: made(
            PatchPicture(theme), ("set_words", "43", ("raw 52", "1.2 mm off the line"))
        ),
        "strains": lambda: made(StrainBars(theme), ("set_held", (held,)), width=330, height=44),
        "nearby": lambda: made(NearbyPicture(theme), ("set_near", near)),
        "loop": lambda: made(LoopPicture(theme), ("set_times", LoopTimes(0.01, 0.015, 2, 240.0)), height=90),
        "side view": lambda: made(SideView(theme), ("set_sensor", 9.0, 0.4, 4.5)),
        "side view focused": lambda: made(SideView(theme), ("set_sensor", 30.0, 0.8, 6.0), focused=True),
        "plan": lambda: made(RobotPlan(theme), ("set_robot", robot, 4.5), ("set_turns", 90.0, 140.0), focused=True),
        "plan of two": lambda: made(RobotPlan(theme), ("set_robot", robot, 4.5, Eye(Mount(-30.0, 25.0), 5.0))),
        "four cases": lambda: made(TableCases(theme), ("set_picture", table), ("choose", 3), focused=True),
        "four cases of a light line": lambda: made(
            TableCases(theme), ("set_picture", CasesPicture(Table(), "#fafafa", "#303030", False))
        ),
        "weight": lambda: made(WeightPicture(theme), ("set_weighing", Weighing(75.0, -35.0, 0.8, 53.0)), focused=True),
        "weight of two side by side": lambda: made(
            WeightPicture(theme), ("set_weighing", Weighing(60.0, 60.0, 0.5, None))
        ),
        "colours": lambda: made(ColourMatrix(theme), ("set_cells", colours, cells), ("go", 1, 0), focused=True),
        "figure, better": lambda: made(FigureView(FIGURES["time_s"], theme), ("set_figure", 10.0, 12.5), width=140),
        "figure, alike": lambda: made(FigureView(FIGURES["wobble_mm"], theme), ("set_figure", 3.0, 3.0), width=140),
        "figure, none": lambda: made(FigureView(FIGURES["time_s"], theme), ("set_figure", None), width=140),
        "way back": lambda: made(WayBack(theme), ("set_ways", way, kept)),
        "sentences": lambda: made(SentenceList(theme), ("set_lines", sentences), ("set_lit", 1)),
        "playhead": lambda: made(Scrubber(theme), ("set_time", 3.0, 12.0), width=200, focused=True),
        "sign play": lambda: made(SignButton("play", "Play", theme), width=26),
        "sign pause": lambda: made(SignButton("pause", "Pause", theme), width=26),
        "sign back": lambda: made(SignButton("back", "Back", theme), width=26),
        "sign forward": lambda: made(SignButton("forward", "Forward", theme), width=26),
        "time": lambda: made(TimeLabel(theme), ("set_time", 3.0, 12.0), width=92),
        "work line": lambda: made(
            WorkLine(("Mat", "Light", "Run", "Pit"), theme), ("set_states", states), ("set_current", "Run"), width=92,
            height=280,
        ),
    }  # fmt: skip
    found |= on_mat.drawings()
    for test in ("track width", "dead band", "mismatch", "top speed"):
        found[f"bench {test}"] = lambda test=test: made(BenchPicture(theme), ("set_test", test, ("1.20 m", "2.5 s")))
    for leg in ("follow", "straight", "turn", "creep", "wait"):
        found[f"leg {leg}"] = lambda leg=leg: sized(LegButton(leg, theme), 56)
    for kind in PICTURES:
        found[f"piece {kind}"] = lambda kind=kind: sized(PieceButton(kind, theme), 72)
    for law in ("on-off", "bands", "mixed", "proportional", "PID"):
        found[f"law {law}"] = lambda law=law: sized(LawPicture(law, theme), 96)
    for name in ARRANGEMENTS:
        found[f"two sensors {name}"] = lambda name=name: sized(ArrangementPicture(name, theme), 96)
    return found


def path_of(name: str) -> Path:
    """Where a record is kept."""
    return FOLDER / f"{name.replace(' ', '-').replace(',', '')}.json"


def main() -> int:
    """Write every record."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from irontrail.app.main import application

    application()
    FOLDER.mkdir(exist_ok=True)
    for name, make in views().items():
        path_of(name).write_text(json.dumps(record(make()), indent=1, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
