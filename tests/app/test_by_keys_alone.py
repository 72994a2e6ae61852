"""The whole way from on-off to a tuned PID, saved and printed, without ever touching the pointer."""

import unittest
from typing import Any
from unittest import mock

from PySide6.QtGui import QAccessible, QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from irontrail.core.project import Project
from irontrail.core.tune import search, search_spec
from irontrail.files import project_file
from tests.support import WindowTest, two_bends

# So many presses of Tab go round any sheet.
MOST_TABS = 400


class ByKeysAloneTest(WindowTest):
    def press(self, *keys: str) -> None:
        for key in keys:
            pressed = QKeySequence(key)[0]
            focused: Any = QApplication.focusWidget() or self.window
            QTest.keyClick(focused, pressed.key(), pressed.keyboardModifiers())
            self.app.processEvents()

    def tab_to(self, name: str) -> None:
        """Press Tab until what a screen reader calls by a name has the focus."""
        for _ in range(MOST_TABS):
            focused = QApplication.focusWidget()
            if focused is not None:
                told = QAccessible.queryAccessibleInterface(focused)
                if told.text(QAccessible.Text.Name) == name:
                    return
            self.press("Tab")
        self.fail(f"Tab never comes to “{name}”")

    def arrow_to(self, name: str, key: str) -> None:
        """Press an arrow among the buttons of a choice until one of a name has the focus, and so is chosen."""
        for _ in range(10):
            self.press(key)
            focused: Any = QApplication.focusWidget()
            if focused.accessibleName() == name:
                self.assertTrue(focused.isChecked())
                return
        self.fail(f"{key} never comes to “{name}”")

    def type(self, text: str) -> None:
        for letter in text:
            QTest.keyClicks(QApplication.focusWidget(), letter)

    def test_from_on_off_to_a_tuned_pid_saved_and_printed(self) -> None:
        from PySide6.QtPrintSupport import QPrintDialog

        self.window = self.open_window()
        session = self.session = self.window.session
        session.open(Project(two_bends()), None)
        self.settle(session)
        self.press("Ctrl+4")
        self.tab_to("proportional steering")
        self.arrow_to("on-off steering", "Up")
        self.settle(session)
        self.assertEqual(session.setup.program.law, "on-off")
        first = session.view.figures
        self.press("Shift+Tab", "Ctrl+6")
        self.window.stage.mat.setFocus()
        self.press("K")
        self.assertEqual(len(session.project.kept), 1)
        self.press("Ctrl+4")
        self.tab_to("on-off steering")
        self.arrow_to("proportional steering", "Down")
        self.arrow_to("PID steering", "Right")
        self.settle(session)
        self.tab_to("Speed")
        self.type("62")
        self.press("Return")
        self.settle(session)
        self.assertEqual(session.setup.program.speed, 62.0)
        # Let the machine look for the gains: a short search, as its sheet's own tests run it.
        self.enterContext(mock.patch.multiple(search_spec, LOOKS=20, FOREMOST=4, CONFIRMING=100, MOST_CONFIRMED=2))
        self.enterContext(mock.patch.object(search, "PATIENCE", 3))
        self.press("Ctrl+8")
        tune = self.window.panel("Tune")
        while tune.current != "Search":
            self.press("Ctrl+PgDown")
        self.tab_to("Search")
        self.press("Space")
        sheet = tune.sheet("Search")
        self.wait_for(lambda: not sheet.work.running)
        self.tab_to("Take the best")
        self.press("Space")
        self.settle(session)
        tuned = session.view.figures
        self.assertEqual((tuned.outcome, session.setup.program.law), ("finished", "PID"))
        self.assertLess(tuned.time_s, 0.5 * first.time_s)
        self.assertLess(tuned.wobble_mm, first.wobble_mm)
        # Keep it, with a note.
        self.tab_to("Mat with the robot and its trail")
        self.press("K")
        self.press("Ctrl+6")
        while self.window.panel("Run").current != "Logbook":
            self.press("Ctrl+PgUp")
        self.tab_to("Note on the chosen run")
        self.type("tuned by keys")
        # Saved: what is still being typed is in it.
        path = self.folder / "by keys.irontrail"
        # The dialogs that ask for a file and a printer are the desktop's own.
        with mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.press("Ctrl+S")
        saved = project_file.read(path)
        self.assertEqual(saved.setup, session.setup)
        self.assertEqual([run.note for run in saved.kept], ["", "tuned by keys"])
        self.assertTrue(session.document.is_saved)
        # Printed.
        paper = self.folder / "mat.pdf"

        def accept(dialog: QPrintDialog) -> int:
            dialog.printer().setOutputFileName(str(paper))
            return int(QPrintDialog.DialogCode.Accepted.value)

        with mock.patch.object(QPrintDialog, "exec", accept):
            self.press("Ctrl+P")
        self.assertIn("sheets: measure the check bar", self.window.notice.words.text())
        self.assertGreater(paper.stat().st_size, 2000)
        self.press("Escape")
        self.assertFalse(self.window.notice.isVisible())


if __name__ == "__main__":
    unittest.main()
