"""From input to painted frame: each move of a drag is timed until all that shows it is painted.

Prints the median, the 95th percentile and the worst over a drag, each as a share of 33 ms: the gain's dial without a
kept run, with one, and with everything on screen (a kept run, the trail coloured, the robot close up, six lanes); then
a joint of the circuit's tape, which has the mat rastered, seen and driven anew; the end of a leg of a trip.
Run:  .venv/bin/python bench/drag.py
"""

import os
import statistics
import sys
import tempfile
import time
from dataclasses import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtCore import QEvent, QEventLoop, QObject, QPoint, QPointF, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from irontrail.app.garbage import keep_what_is_here
from irontrail.app.main import SWITCH_S, application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.demos import demo_project
from irontrail.core.project import Project
from irontrail.core.steering.legs import AfterTime, Trip, WaitLeg

FRAME_MS = 33.0
MOVES = 120
GAIN = "program.proportional.gain"


class Painted(QObject):
    """Notes which of some widgets have been painted."""

    def __init__(self, widgets: list[QWidget]) -> None:
        super().__init__()
        self.widgets = widgets
        self.missing: set[QWidget] = set()
        for widget in widgets:
            widget.installEventFilter(self)

    def expect(self) -> None:
        """From now on, all are to be painted."""
        self.missing = set(self.widgets)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Paint:
            self.missing.discard(watched)
        return False


def settle(session: Session) -> None:
    """Wait until the view is the project's and nothing is left to paint."""
    while not session.idle:
        QApplication.processEvents()
    for _ in range(5):
        QApplication.processEvents()


def drag(session: Session, window: Window) -> list[float]:
    """Milliseconds of each move of a drag over most of the track, there and back."""
    panel, stage = window.panel("Steer").sheet("Law"), window.stage
    dial = panel.dials[GAIN]
    painted = Painted([stage.mat, stage.strip, panel.curve, stage.bar.swing])
    session.view_changed.connect(painted.expect)
    times = []
    y, left, right = dial.height() - 11, 60, dial.width() - 60
    QTest.mousePress(dial, Qt.MouseButton.LeftButton, pos=QPoint(left, y))
    settle(session)
    for i in range(MOVES):
        share = i / (MOVES - 1)
        x = left + round((right - left) * (1 - abs(2 * share - 1)))
        before, gain = time.perf_counter(), session.setup.program.proportional.gain
        QTest.mouseMove(dial, QPoint(x, y))
        if session.setup.program.proportional.gain == gain:
            continue
        while session.view.setup is not session.setup or painted.missing:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        times.append(1000.0 * (time.perf_counter() - before))
    QTest.mouseRelease(dial, Qt.MouseButton.LeftButton, pos=QPoint(left, y))
    settle(session)
    session.view_changed.disconnect(painted.expect)
    return times


def drag_tape(session: Session, window: Window, way: int) -> list[float]:
    """Milliseconds of each move of a joint of the tape, to and fro over 12 cm, to the right (1) or the left (-1)."""
    session.looking.go_to("Mat")
    sheet = window.panel("Mat").sheet("Tape")
    window.panel("Mat").turn_to("Tape")
    settle(session)
    return drag_on_mat(session, window, sheet.hand.handles()["end", 0], way)


def drag_leg(session: Session, window: Window, way: int) -> list[float]:
    """The same of the end of a leg in the middle of a trip, a distance."""
    session.looking.go_to("Trip")
    sheet = window.panel("Trip").sheet("Legs")
    settle(session)
    return drag_on_mat(session, window, QPointF(*sheet.hand.legs[2].sensor), way)


def ellipses_after(session: Session) -> float:
    """Milliseconds from letting go of a number of a trip until the ellipses of its legs are known."""
    before = time.perf_counter()
    session.set_value("program.speed", session.setup.program.speed + 1.0)
    session.settle()
    while not session.advised or session.adviser.advice.leg_ends.setup != session.setup:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    return 1000.0 * (time.perf_counter() - before)


def drag_on_mat(session: Session, window: Window, at: QPointF, way: int) -> list[float]:
    """Milliseconds of each move of what lies at a place of the mat."""
    mat = window.stage.mat
    painted = Painted([mat, window.stage.strip])
    session.view_changed.connect(painted.expect)
    times = []
    start = mat.to_px().map(at).toPoint()
    QTest.mousePress(mat, Qt.MouseButton.LeftButton, pos=start)
    settle(session)
    for i in range(MOVES // 2):
        share = i / (MOVES // 2 - 1)
        x = start.x() + way * round(50 * (1 - abs(2 * share - 1)))
        before, setup = time.perf_counter(), session.setup
        QTest.mouseMove(mat, QPoint(x, start.y()))
        if session.setup is setup:
            continue
        while session.view.setup is not session.setup or painted.missing:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        times.append(1000.0 * (time.perf_counter() - before))
    QTest.mouseRelease(mat, Qt.MouseButton.LeftButton, pos=start)
    settle(session)
    session.view_changed.disconnect(painted.expect)
    return times


def tell(name: str, times: list[float]) -> None:
    """One line of figures."""
    median, most, worst = statistics.median(times), float(np.percentile(times, 95.0)), max(times)
    print(
        f"{name:15} {len(times)} moves: median {median:5.1f} ms ({median / FRAME_MS:.2f} of a frame of 33 ms), "
        f"95 of 100 within {most:5.1f} ms ({most / FRAME_MS:.2f}), worst {worst:5.1f} ms ({worst / FRAME_MS:.2f})"
    )


def main() -> int:
    """Drag, print, and exit 0."""
    sys.setswitchinterval(SWITCH_S)
    application()
    session = Session(demo_project("lighthouse"))
    settings = tempfile.TemporaryDirectory()
    window = Window(session, QSettings(f"{settings.name}/settings.ini", QSettings.Format.IniFormat))
    window.show()
    session.looking.go_to("Steer")
    window.panel("Steer").turn_to("Law")
    settle(session)
    session.playback.pause()
    keep_what_is_here()
    drag(session, window)
    for name in ("no kept run", "one kept run", "everything on"):
        if name == "everything on":
            window.stage.set_shade("distance")
            window.stage.set_close_up(True)
            window.stage.lanes.choose(("reading", "steer", "wheels", "off edge", "heading", "speeds"))
            settle(session)
        times = drag(session, window)
        tell(name, times)
        if not session.project.kept:
            session.keep()
        settle(session)
    session.open(demo_project("lighthouse"), None)
    window.stage.set_shade("plain")
    window.stage.set_close_up(False)
    settle(session)
    tell("tape", drag_tape(session, window, 1))
    window.stage.set_close_up(True)
    settle(session)
    tell("tape, close up", drag_tape(session, window, -1))
    window.stage.set_close_up(False)
    session.open(eight_legs(), None)
    settle(session)
    tell("trip, a leg", drag_leg(session, window, 1))
    known = [ellipses_after(session) for _ in range(9)]
    print(
        f"ellipses of 8 legs over 40 starts: known {statistics.median(known):.0f} ms after the change, "
        f"worst {max(known):.0f}"
    )
    session.document.mark_saved(session.project)
    window.close()
    settings.cleanup()
    return 0


def eight_legs() -> Project:
    """The lantern's trip with a wait that makes it eight legs and 40 s long, twice the demo's lap."""
    setup = demo_project("lantern").setup
    legs = (*setup.program.trip.legs, WaitLeg((AfterTime(28.0),)))
    return Project(replace(setup, program=replace(setup.program, trip=Trip(legs))))


if __name__ == "__main__":
    sys.exit(main())
