"""How long the window takes to paint itself anew while another thread works in Python.

Qt's drawing lets go of the interpreter, some twenty times a frame, and each time it is had back only when the other
thread has had its turn, as long as Python gives one. Prints the median and the worst frame for several turns, the
program's own among them, and that of a window that nothing works beside.
Run:  .venv/bin/python bench/beside.py
"""

import os
import statistics
import sys
import tempfile
import time
from threading import Event, Thread

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from irontrail.app.main import SWITCH_S, application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.demos import demo_project

FRAMES = 40


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


def main() -> int:
    """Paint, print, and exit 0."""
    application()
    session = Session(demo_project("lighthouse"))
    with tempfile.TemporaryDirectory() as folder:
        window = Window(session, QSettings(f"{folder}/settings.ini", QSettings.Format.IniFormat))
        window.show()
        while not (session.idle and session.advised and session.view is not None):
            QApplication.processEvents()
        # A trail and curves to be drawn.
        session.playback.seek(0.5 * session.playback.duration_s)
        session.playback.pause()
        paint(window)
        alone = paint(window)
        tell("nothing beside it", alone, alone)
        for interval in (0.005, 0.001, SWITCH_S):
            sys.setswitchinterval(interval)
            stop = Event()
            thread = Thread(target=work, args=(stop,))
            thread.start()
            tell(f"after {1000 * interval:g} ms", paint(window), alone)
            stop.set()
            thread.join()
        window.close()
    return 0


def tell(name: str, times: list[float], alone: list[float]) -> None:
    """One line of figures."""
    median = statistics.median(times)
    print(f"{name:18} median {median:5.1f} ms ({median / statistics.median(alone):.1f}), worst {max(times):5.1f} ms")


if __name__ == "__main__":
    sys.exit(main())
