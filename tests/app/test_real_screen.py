"""The window on a real X screen (a virtual one), driven from outside by mouse and keys."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

SCRIPT = """
import sys
from pathlib import Path
from PySide6.QtCore import QPoint, QSettings, Qt
from PySide6.QtTest import QTest
from irontrail.app.main import application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.demos import demo_project

app = application()
assert app.platformName() == "xcb", app.platformName()
session = Session(demo_project("lighthouse"))
window = Window(session, QSettings(str(Path(sys.argv[1]) / "s.ini"), QSettings.Format.IniFormat))
window.show()
assert QTest.qWaitForWindowExposed(window, 10000)
window.activateWindow()
QTest.qWaitForWindowActive(window, 3000)

def settle():
    for _ in range(4000):
        QTest.qWait(5)
        if session.idle and session.view and session.view.setup == session.setup:
            return
    raise AssertionError("not settled")

settle()
QTest.qWait(300)
assert session.playback.time_s > 0.1, "it does not play"
QTest.keyClick(window, Qt.Key.Key_Space)
assert not session.playback.playing
panel = window.panel("Steer").sheet("Law")
dial = panel.dials["program.proportional.gain"]
y = dial.height() - 11
QTest.mousePress(dial, Qt.MouseButton.LeftButton, pos=QPoint(80, y))
for x in range(90, 200, 10):
    QTest.mouseMove(dial, QPoint(x, y))
    settle()
QTest.mouseRelease(dial, Qt.MouseButton.LeftButton, pos=QPoint(200, y))
settle()
assert session.setup.program.proportional.gain > 1.5
swing = window.stage.bar.swing.text()
assert float(swing) > 12.0, swing
QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
settle()
assert session.setup.program.proportional.gain == 0.7
QTest.mouseClick(panel.laws["on-off"], Qt.MouseButton.LeftButton)
settle()
picture = window.screen().grabWindow(window.winId())
assert (picture.width(), picture.height()) == (1280, 800), picture.size()
image = picture.toImage()
colours = {image.pixelColor(x, y).name() for x in range(0, 1280, 7) for y in range(0, 800, 7)}
assert len(colours) > 30, len(colours)
session.looking.go_to("Mat")
window.panel("Mat").turn_to("Tape")
settle()
mat, hand = window.stage.mat, window.panel("Mat").sheet("Tape").hand
at = mat.to_px().map(hand.handles()["end", 0]).toPoint()
QTest.mousePress(mat, Qt.MouseButton.LeftButton, pos=at)
for away in range(4, 30, 4):
    QTest.mouseMove(mat, at + QPoint(away, 0))
    settle()
QTest.mouseRelease(mat, Qt.MouseButton.LeftButton, pos=at + QPoint(28, 0))
settle()
assert session.setup.mat.line.pieces[0].length_mm > 200.0, session.setup.mat.line.pieces[0]
assert session.view.setup.mat == session.setup.mat
session.document.mark_saved(session.project)
assert window.close()
print("driven")
"""


@unittest.skipUnless(shutil.which("Xvfb"), "no Xvfb here: sudo apt install xvfb")
class RealScreenTest(unittest.TestCase):
    def test_the_window_on_a_real_screen(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        read, write = os.pipe()
        with os.fdopen(read) as told:
            screen = subprocess.Popen(
                ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
                pass_fds=[write],
                stderr=subprocess.DEVNULL,
            )
            os.close(write)
            self.addCleanup(screen.wait)
            self.addCleanup(screen.terminate)
            display = told.readline().strip()
        self.assertTrue(display, "Xvfb did not start")
        script = Path(folder.name) / "drive.py"
        script.write_text(SCRIPT)
        environment = os.environ | {"DISPLAY": f":{display}", "QT_QPA_PLATFORM": "xcb"}
        environment.pop("WAYLAND_DISPLAY", None)
        done = subprocess.run(
            [sys.executable, str(script), folder.name], env=environment, capture_output=True, text=True, timeout=180
        )
        if "could not load the Qt platform plugin" in done.stderr.lower() or "xcb-cursor0" in done.stderr:
            self.skipTest("Qt's xcb libraries are missing: setup/debian-packages.txt lists them")
        self.assertEqual((done.returncode, done.stdout.strip()), (0, "driven"), done.stderr)


if __name__ == "__main__":
    unittest.main()
