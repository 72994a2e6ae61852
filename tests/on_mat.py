"""What is drawn over a mat, each by itself, with numbers made up: recorded with the other drawings."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.route import stroke_route
from irontrail.core.table import box_of, things


def drawings() -> dict[str, Callable[[], Any]]:
    """Each by name, on a table of 2 m by 1 m, two and a half millimetres a pixel."""
    from PySide6.QtCore import QObject, QPointF
    from PySide6.QtGui import QPainter, QPaintEvent, QTransform
    from PySide6.QtWidgets import QWidget

    from irontrail.app.pictures import marks_of
    from irontrail.app.theme import LIGHT
    from irontrail.app.widgets.demand_hand import DemandHand
    from irontrail.app.widgets.light_hands import CutHand, ProbeHand
    from irontrail.app.widgets.mat_hand import RobotNow, Touch
    from irontrail.app.widgets.mat_scene import Scene, draw_over_tape, draw_robot_now, draw_run, draw_sheet, tapes_of
    from irontrail.app.widgets.painting import polygon
    from irontrail.app.widgets.picture_hand import PictureHand
    from irontrail.app.widgets.place_hand import PlaceHand
    from irontrail.app.widgets.race_hand import RaceHand, Racer, Won
    from irontrail.app.widgets.robot_drawing import Eye
    from irontrail.app.widgets.tape_hand import TapeHand
    from irontrail.app.widgets.thing_hand import ThingHand
    from irontrail.app.widgets.trail_hand import TrailHand
    from irontrail.app.widgets.trail_picture import Trail
    from irontrail.app.widgets.trip_hand import MarkedLeg, Scatter, TripHand

    to_px = QTransform(0.4, 0.0, 0.0, -0.4, 10.0, 420.0)
    lighthouse, ferry, orchard, lantern, ropewalk = (
        demo_project(name).setup for name in ("lighthouse", "ferry", "orchard", "lantern", "ropewalk")
    )

    areas = LightArea(500.0, 500.0, 80.0, 60.0, 0.5), LightArea(1500.0, 500.0, 80.0, 60.0, 1.5)
    ferry = replace(ferry, light=replace(ferry.light, areas=areas))

    class Table(QWidget):
        """Shows what is drawn over a mat."""

        def __init__(self, draw: Callable[[QPainter], None]) -> None:
            super().__init__()
            self.draw = draw
            self.resize(820, 440)

        def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
            self.draw(QPainter(self))

    def hand(kind: type[Any], *calls: tuple[Any, ...]) -> Table:
        made = kind(owner := QObject())
        for name, *arguments in calls:
            getattr(made, name)(*arguments)

        def draw(painter: QPainter) -> None:
            if (work := made.work()) is not None:
                work.draw(painter, to_px)
            made.draw(painter, LIGHT, to_px)

        table: Any = Table(draw)
        table.owner = owner
        return table

    def ground(setup: Any, trail: bool = False) -> Table:
        marks = marks_of(setup, derive.route(setup.mat, setup.trial.reverse))
        driven = Trail(x, y) if trail else None
        scene = Scene(setup.mat, marks, driven, "line lost" if trail else "", (driven,) * 2 if driven else ())

        def draw(painter: QPainter) -> None:
            draw_sheet(painter, scene, LIGHT, to_px)
            for tape in tapes_of(scene, to_px):
                tape.draw(painter)
            draw_over_tape(painter, scene, to_px)
            draw_run(painter, scene, to_px, 820)

        return Table(draw)

    def robot(setup: Any, **seen: Any) -> Table:
        now = RobotNow(setup.robot, 4.5, 800.0, 500.0, 0.6, True, **seen)
        return Table(lambda painter: draw_robot_now(painter, now, LIGHT, to_px, 0.4))

    route = stroke_route(orchard.mat.lines[0], "orchard")
    x, y, s = route.x_mm[::40], route.y_mm[::40], route.s_mm[::40]
    half = int(np.argmin(np.abs(s - 0.5 * s[-1])))
    ends = [MarkedLeg(x[:half], y[:half], (400.0, 400.0), (470.0, 420.0), True,
                      Scatter((470.0, 420.0), (30.0, 12.0), 0.5, np.array([0.1, 0.3, 0.5]))),
            MarkedLeg(x[half:], y[half:], (900.0, 500.0), (970.0, 500.0), True),
            MarkedLeg(x[:2], y[:2], (1200.0, 600.0), (1270.0, 640.0), False)]  # fmt: skip
    way = derive.route(lighthouse.mat, False)
    bend = way.bends[1]
    there = {thing: box_of(orchard, thing) for thing in things(orchard)}
    corners = np.array([[20.0, 10.0], [380.0, 20.0], [370.0, 190.0], [10.0, 180.0]])
    known = np.array([[100.0, 100.0], [300.0, 110.0]])
    joint = Touch(QPointF(*(float(each[-1]) for each in (route.x_mm, route.y_mm))), 0.4)
    racers = (Racer("1", lighthouse.robot, 400.0, 400.0, 0.5, 1), Racer("2", lighthouse.robot, 900.0, 500.0, -2.0, 0))
    won = (Won(polygon(x[:half], y[:half]), 0.42), Won(polygon(x[half:], y[half:]), -0.13))
    others = (("A", QPointF(600.0, 300.0), QPointF(700.0, 380.0)),)
    other_eye = Eye(ropewalk.second.mount, 5.0, True)
    return {
        "hand of tape": lambda: hand(TapeHand, ("set_line", orchard.mat, 0, 1)),
        "hand of tape, held": lambda: hand(TapeHand, ("set_line", orchard.mat, 0, 1), ("grips", joint)),
        "hand of tape, of another line": lambda: hand(TapeHand, ("set_line", ropewalk.mat, 1, 0)),
        "hand of things": lambda: hand(ThingHand, ("set_things", there, list(there)[1])),
        "hand of a picture": lambda: hand(
            PictureHand,
            ("set_picture", np.full((200, 400, 3), 230, np.uint8), (2000.0, 1000.0)),
            ("set_places", corners, known, (2000.0, 1000.0), lighthouse.mat),
            ("choose", 4),
        ),
        "hand of a trip": lambda: hand(TripHand, ("set_legs", tuple(ends), 0, 4)),
        "hand of a race": lambda: hand(RaceHand, ("set_racers", racers)),
        "hand of stretches": lambda: hand(RaceHand, ("set_stretches", won)),
        "hand of a probe": lambda: hand(
            ProbeHand, ("set_probe", 700.0, 500.0, 6.0, "43"), ("set_held", (("D", 300.0, 300.0), ("B", 350.0, 420.0)))
        ),
        "hand of a probe at the rim": lambda: hand(ProbeHand, ("set_probe", 1990.0, 995.0, 6.0, "43, of 100")),
        "hand of a cut": lambda: hand(CutHand, ("set_cut", QPointF(400.0, 300.0), QPointF(520.0, 360.0), others)),
        "hand of a bend": lambda: hand(DemandHand, ("set_bend", way, bend, 10.0, bend.radius_mm - 10.0)),
        "hand of places": lambda: hand(PlaceHand, ("set_places", (("1", 400.0, 300.0), ("2", 900.0, 640.0)))),
        "hand of a trail": lambda: hand(TrailHand, ("set_trail", Trail(x, y), "19.40 s")),
        "table, lighthouse and its run": lambda: ground(lighthouse, True),
        "table, ferry": lambda: ground(ferry),
        "table, lantern": lambda: ground(lantern),
        "robot on light": lambda: robot(lighthouse, rule="2"),
        "robot of two sensors": lambda: robot(ropewalk, first_light=False, second=other_eye),
    }
