"""The second start: from the command to a window with its first run shown, against importing Qt, NumPy and Numba.

Each is a whole process, timed in turn; prints the medians and their ratio.
Run:  .venv/bin/python bench/start.py
"""

import os
import statistics
import subprocess
import sys
import time

ROUNDS = 5

IMPORTS = "import PySide6.QtWidgets, numpy, numba"

# The window as ./start opens it, left as soon as its first run has been painted.
WINDOW = """
import sys
from PySide6.QtCore import QTimer
from irontrail.app import session
from irontrail.cli.main import main

class Leaving(session.Session):
    def __init__(self, *arguments):
        super().__init__(*arguments)
        self.view_changed.connect(lambda: QTimer.singleShot(0, self.leave))

    def leave(self):
        from PySide6.QtWidgets import QApplication
        QApplication.processEvents()
        QApplication.quit()

import irontrail.app.main
irontrail.app.main.Session = Leaving
sys.exit(main(["open"]))
"""


def seconds(code: str) -> float:
    """How long a fresh process takes to run some code."""
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", code], check=True, env=environment, stderr=subprocess.DEVNULL)
    return time.perf_counter() - start


def main() -> int:
    """Time both in turn, print, and exit 0."""
    for code in (IMPORTS, WINDOW):
        seconds(code)
    imports, windows = [], []
    for _ in range(ROUNDS):
        imports.append(seconds(IMPORTS))
        windows.append(seconds(WINDOW))
    imported, shown = statistics.median(imports), statistics.median(windows)
    print(
        f"importing Qt, NumPy, Numba {imported:.2f} s; window with its first run {shown:.2f} s: {shown / imported:.2f}"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
