"""A map of 50 by 50 cells with 5 repeats of the demo's run, drawn in the window, and how long the window ever stalls.

Prints the time of the whole map, runs a second, and the longest pause of the event loop while it was made: a timer asks
for a turn every 5 ms, and the longest it had to wait beyond that is the stall; and how long calling off takes.
Run:  .venv/bin/python bench/map.py
"""

import os
import sys
import tempfile
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QSettings, QTimer
from PySide6.QtWidgets import QApplication

from irontrail.app.main import SWITCH_S, application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.demos import demo_project

TURN_MS = 5


class Stalls:
    """Notes how long the event loop goes without a turn."""

    def __init__(self) -> None:
        self.waits: list[float] = []
        self.last = time.perf_counter()
        self.timer = QTimer()
        self.timer.timeout.connect(self._turn)
        self.timer.start(TURN_MS)

    def _turn(self) -> None:
        now = time.perf_counter()
        self.waits.append(1000.0 * (now - self.last) - TURN_MS)
        self.last = now


def live(until) -> None:
    """Let the window live until something holds."""
    while not until():
        QApplication.processEvents(
            QEventLoop.ProcessEventsFlag.AllEvents | QEventLoop.ProcessEventsFlag.WaitForMoreEvents
        )


def opened(folder: str) -> tuple[Session, Window]:
    """A window on the demo, its first run shown and standing still; its settings are in a folder."""
    sys.setswitchinterval(SWITCH_S)
    application()
    session = Session(demo_project("lighthouse"))
    window = Window(session, QSettings(f"{folder}/settings.ini", QSettings.Format.IniFormat))
    window.show()
    live(lambda: session.idle and session.view is not None)
    session.playback.pause()
    return session, window


def main() -> int:
    """Draw the map, print, and exit 0."""
    settings = tempfile.TemporaryDirectory()
    session, window = opened(settings.name)
    session.looking.go_to("Tune")
    panel = window.panel("Tune")
    panel.turn_to("Map")
    sheet = panel.sheet("Map")
    live(lambda: session.idle)
    # Speeds about the demo's, so that a run takes about 20 s.
    sheet.across.low.setText("44")
    sheet.across.high.setText("56")
    sheet.across.low.editingFinished.emit()
    sheet.up.low.setText("0.6")
    sheet.up.high.setText("1.0")
    sheet.up.low.editingFinished.emit()
    sheet._set_cells("50")
    began = time.perf_counter()
    idle = Stalls()
    live(lambda: time.perf_counter() - began > 2.0)
    idle.timer.stop()
    stalls = Stalls()
    before = time.perf_counter()
    sheet.draw_map()
    live(lambda: not sheet.work.running)
    took = time.perf_counter() - before
    runs = sheet.map.spec.runs
    waits = sorted(stalls.waits)
    print(
        f"map 50 x 50, 5 repeats: {took:.1f} s, {runs / took:.0f} runs a second; longest stall {waits[-1]:.1f} ms, "
        f"99 of 100 turns within {waits[int(0.99 * len(waits))]:.1f} ms (idle before: {max(idle.waits[20:]):.1f} ms)"
    )
    sheet.draw_map()
    began = time.perf_counter()
    live(lambda: time.perf_counter() - began > 1.0)
    before = time.perf_counter()
    sheet.call_off()
    sheet.work._pool.submit(lambda: None).result()
    print(f"called off within {1000.0 * (time.perf_counter() - before):.0f} ms")
    session.document.mark_saved(session.project)
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
