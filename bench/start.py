"""The second start, against importing Qt, NumPy and Numba: until the window stands, and until its first run does.

Each is a whole process, left without tidying up; timed in turn; prints the medians and their ratios.
Run:  .venv/bin/python bench/start.py
"""

import os
import statistics
import subprocess
import sys
import time

ROUNDS = 5

IMPORTS = "import os, PySide6.QtWidgets, numpy, numba; os._exit(0)"

# The window as ./start opens it, left as soon as it has been painted, or its first run has.
WINDOW = """
import os
from PySide6.QtCore import QTimer
from irontrail.app import main as app_main, window
from irontrail.cli.main import main

def leave():
    from PySide6.QtWidgets import QApplication
    QApplication.processEvents()
    os._exit(0)

class Leaving(window.Window):
    def __init__(self, session, settings):
        super().__init__(session, settings)
        {when}

app_main.Window = Leaving
main(["open"])
"""
STANDS = WINDOW.format(when="QTimer.singleShot(0, leave)")
RUNS = WINDOW.format(when="session.view_changed.connect(lambda: QTimer.singleShot(0, leave))")


def seconds(code: str) -> float:
    """How long a fresh process takes to run some code."""
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", code], check=True, env=environment, stderr=subprocess.DEVNULL)
    return time.perf_counter() - start


def main() -> int:
    """Time all in turn, print, and exit 0."""
    codes = {"importing Qt, NumPy and Numba": IMPORTS, "until the window stands": STANDS, "until its run does": RUNS}
    for code in codes.values():
        seconds(code)
    times: dict[str, list[float]] = {name: [] for name in codes}
    for _ in range(ROUNDS):
        for name, code in codes.items():
            times[name].append(seconds(code))
    imported = statistics.median(times["importing Qt, NumPy and Numba"])
    for name, values in times.items():
        print(f"{name:30} {statistics.median(values):.2f} s  {statistics.median(values) / imported:.2f}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
