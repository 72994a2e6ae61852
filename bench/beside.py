"""How long the window takes to paint itself anew while another thread works in Python.

Qt's drawing lets go of the interpreter, some twenty times a frame, and each time it is had back only when the other
thread has had its turn, as long as Python gives one. Prints the median and the worst frame for several turns, the
program's own among them, and that of a window that nothing works beside. Then beside four pieces of long work at once,
with no more threads at a time than there are cores, and with all that they have.
Run:  .venv/bin/python bench/beside.py
"""

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from threading import Event, Thread
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QSettings
from PySide6.QtWidgets import QApplication

from irontrail.app.main import SWITCH_S, application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.demos import demo_project
from irontrail.core.engine import sweep
from irontrail.core.tune.batch import run_batch
from irontrail.core.turns import Turns

FRAMES, WORKS = 40, 4


def paint(window: Window) -> list[float]:
    """Milliseconds that each of some frames takes, all of the window painted."""
    times = []
    for _ in range(FRAMES):
        before = time.perf_counter()
        window.repaint()
        window.stage.mat.repaint()
        window.stage.strip.repaint()
        QApplication.processEvents()
        times.append(1000.0 * (time.perf_counter() - before))
        time.sleep(0.01)
    return times


def work(stop: Event) -> None:
    """What holds the interpreter for as long as it may."""
    total = 0
    while not stop.is_set():
        for i in range(10_000):
            total += i


def search(stop: Event) -> None:
    """What searches and maps do: many starts, again and again."""
    setup = demo_project("lighthouse").setup
    while not stop.is_set():
        run_batch([setup], 400, lambda _done: not stop.is_set())


def beside(window: Window, act: Callable[[Event], None], count: int = 1) -> list[float]:
    """As `paint`, beside so many threads that act."""
    stop = Event()
    threads = [Thread(target=act, args=(stop,)) for _ in range(count)]
    for thread in threads:
        thread.start()
    time.sleep(0.3)
    times = paint(window)
    stop.set()
    for thread in threads:
        thread.join()
    return times


def main() -> int:
    """Paint, print, and exit 0."""
    application()
    session = Session(demo_project("lighthouse"))
    with tempfile.TemporaryDirectory() as folder:
        window = Window(session, QSettings(f"{folder}/settings.ini", QSettings.Format.IniFormat))
        window.show()
        while not (session.idle and session.advised and session.view is not None):
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        # A trail and curves to be drawn.
        session.playback.seek(0.5 * session.playback.duration_s)
        session.playback.pause()
        paint(window)
        alone = paint(window)
        tell("nothing beside it", alone, alone)
        for interval in (0.005, 0.001, SWITCH_S):
            sys.setswitchinterval(interval)
            tell(f"after {1000 * interval:g} ms", beside(window, work), alone)
        for name, turns in (("as many as cores", sweep.COMPUTING), ("all at once", Turns(1_000))):
            with mock.patch.object(sweep, "COMPUTING", turns):
                tell(f"{WORKS} long, {name}", beside(window, search, WORKS), alone)
        window.close()
    return 0


def tell(name: str, times: list[float], alone: list[float]) -> None:
    """One line of figures."""
    median = statistics.median(times)
    print(f"{name:24} median {median:5.1f} ms ({median / statistics.median(alone):.1f}), worst {max(times):5.1f} ms")


if __name__ == "__main__":
    sys.exit(main())
