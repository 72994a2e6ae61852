"""The Pit in the window: the listing in its languages, with its options, what is lit, what changed, how it goes out."""

import shutil
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock

import pypdf
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from irontrail.core.listing.c99 import c99
from irontrail.core.listing.languages import changed_lines
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import Options
from irontrail.files import project_file
from tests.said import as_recorded
from tests.support import StopTest, lighthouse, setup_with

LEFT = Qt.MouseButton.LeftButton


class ListingSheetTest(StopTest):
    STOP, DEMO = "Pit", "lantern"

    def setUp(self) -> None:
        super().setUp()
        self.sheet: Any = self.window.panel("Pit").sheet("Listing")
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)

    def buttons(self) -> tuple[QWidget, ...]:
        return (self.sheet.copy, self.sheet.save, self.sheet.print)

    def lines_lit(self) -> list[str]:
        """What is lit on screen, as it reads."""
        return [each.cursor.block().text() for each in self.sheet.view.extraSelections()]


class ShownTest(ListingSheetTest):
    def test_each_language_shows_the_setup_as_it_is(self) -> None:
        self.assertEqual(self.sheet.view.toPlainText(), python(self.session.setup).text)
        self.press(self.sheet.languages["C"])
        self.assertEqual(self.sheet.view.toPlainText(), c99(self.session.setup).text)
        self.press(self.sheet.languages["words"])
        self.assertTrue(self.sheet.view.toPlainText().startswith("1. "))
        self.edit("program.speed", 37.0)
        self.assertIn("37", self.sheet.view.toPlainText())

    def test_options_go_into_the_text_and_grey_out_where_they_say_nothing(self) -> None:
        wheels = self.sheet.boxes["wheels"]
        self.assertFalse(wheels.isEnabled())
        self.press(self.sheet.boxes["log"])
        self.assertTrue(wheels.isEnabled())
        self.press(wheels)
        self.press(self.sheet.boxes["stop_button"])
        self.press(self.sheet.calibrates["by hand"])
        whole = Options(calibrate="by hand", log=True, wheels=True, stop_button=True)
        self.assertEqual(self.sheet.view.toPlainText(), python(self.session.setup, whole).text)
        self.press(self.sheet.languages["words"])
        for box in (*self.sheet.boxes.values(), *self.sheet.calibrates.values()):
            self.assertFalse(box.isEnabled(), box.text())

    def test_what_decides_is_lit_as_the_time_goes(self) -> None:
        trace = self.session.view.run.trace
        seen = {}
        for leg in sorted(set(trace.leg.tolist())):
            row = int((trace.leg == leg).nonzero()[0][3])
            self.session.playback.seek(float(trace.time_s[row]))
            self.settle(self.session)
            seen[leg] = "; ".join(self.lines_lit())
        self.assertEqual({seen[leg].strip() for leg in (2, 5, 6)}, {"steer = GAIN * error"})
        self.assertIn("LEG_7_POWER_PER_READING", seen[7])
        self.assertIn("left = -power", seen[4])
        self.assertNotEqual(seen[1], "")

    def test_in_words_a_leg_that_follows_lights_its_sentence_and_the_laws(self) -> None:
        self.press(self.sheet.languages["words"])
        trace = self.session.view.run.trace
        self.session.playback.seek(float(trace.time_s[(trace.leg == 2).nonzero()[0][3]]))
        self.settle(self.session)
        leg, law = self.lines_lit()
        self.assertIn("Leg 2: follow the line", leg)
        self.assertIn("Steer =", law)

    def test_what_gives_names_of_colours_has_nothing_to_calibrate(self) -> None:
        self.assertTrue(self.sheet.calibrates["by hand"].isEnabled())
        named = setup_with(self.session.setup, light__sensor__scale="colour names", program__law="on-off")
        self.put(named)
        self.assertFalse(self.sheet.calibrates["by hand"].isEnabled())
        self.assertTrue(self.sheet.calibrates["no"].isEnabled())

    def test_playing_brings_the_lit_line_into_sight_and_a_pause_leaves_the_reader_be(self) -> None:
        view, playback = self.sheet.view, self.session.playback
        playback.pause()
        playback.seek(0.5)
        self.settle(self.session)
        view.verticalScrollBar().setValue(0)
        playback.seek(4.0)
        self.settle(self.session)
        self.assertEqual(view.verticalScrollBar().value(), 0)
        playback.seek(0.5)
        playback.toggle()
        playback.seek(4.0)
        QApplication.processEvents()
        self.assertGreater(view.verticalScrollBar().value(), 0)
        playback.pause()

    def test_it_is_read_by_keys_and_cannot_be_typed_into(self) -> None:
        view = self.sheet.view
        before = view.toPlainText()
        QTest.keyClicks(view, "x")
        self.assertEqual(view.toPlainText(), before)
        self.assertTrue(view.accessibleName())
        self.assertTrue(all(button.toolTip() for button in self.buttons()))


class GoneOutTest(ListingSheetTest):
    def test_a_copy_is_the_text_and_what_changes_after_it_is_marked(self) -> None:
        self.assertIn("not gone out", self.sheet.says.text())
        self.press(self.sheet.copy)
        self.assertEqual(QApplication.clipboard().text(), self.sheet.view.toPlainText())
        self.assertEqual(self.sheet.view.changed, ())
        self.edit("program.speed", 37.0)
        changed = self.sheet.view.changed
        lines = self.sheet.view.toPlainText().splitlines()
        self.assertEqual([lines[i].split("#")[0].strip() for i in changed], ["SPEED = 37.0"])
        self.assertEqual("One line has changed since it last went out.", self.sheet.says.text())
        as_recorded(self, "listing changed", self.sheet)
        # Its line, and no other, has a mark at the left.
        view = self.sheet.view
        view.verticalScrollBar().setValue(0)
        picture = view.viewport().grab().toImage()
        slate = QColor(view.theme.slate).rgb()
        height = view.fontMetrics().lineSpacing()
        marked = {y // height for y in range(picture.height()) if picture.pixelColor(1, y).rgb() == slate}
        self.assertLessEqual(len(marked), 2)
        self.assertLessEqual(min(abs(line - changed[0]) for line in marked), 1)
        self.edit("program.proportional.gain", 0.7)
        self.assertEqual("2 lines have changed since it last went out.", self.sheet.says.text())
        self.press(self.sheet.copy)
        self.assertEqual(self.sheet.view.changed, ())
        # Those that are marked are lines of now.
        self.session.choose_law("on-off")
        self.settle(self.session)
        now = self.sheet.view.toPlainText().splitlines()
        before = set(QApplication.clipboard().text().splitlines())
        self.assertLessEqual({i for i, line in enumerate(now) if line not in before}, set(self.sheet.view.changed))

    def test_what_went_out_is_kept_in_the_project_and_undone(self) -> None:
        self.press(self.sheet.copy)
        taken = self.session.setup
        project_file.write(self.folder / "p.json", self.session.project)
        self.assertEqual(project_file.read(self.folder / "p.json").exported, taken)
        self.session.document.undo()
        self.settle(self.session)
        self.assertIsNone(self.session.project.exported)
        self.assertIn("not gone out", self.sheet.says.text())

    def test_saved_as_a_file_of_its_language(self) -> None:
        self.press(self.sheet.languages["C"])
        path = self.folder / "mine.c"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")) as asked:
            self.press(self.sheet.save)
        self.assertEqual(asked.call_args.args[2], "line_follower.c")
        self.assertEqual(path.read_text(), c99(self.session.setup).text)
        self.assertIn("in mine.c", self.window.notice.words.text())
        self.assertEqual(self.session.project.exported, self.session.setup)

    def test_saving_where_it_cannot_is_told_and_nothing_has_gone_out(self) -> None:
        self.sheet.save_to(self.folder / "no" / "such" / "mine.py")
        self.settle(self.session)
        self.assertIsNone(self.session.project.exported)
        self.assertIn("mine.py", self.window.notice.words.text())

    def test_printed_on_paper(self) -> None:
        path = self.folder / "listing.pdf"

        def accepted(dialog: QPrintDialog) -> int:
            dialog.printer().setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            dialog.printer().setOutputFileName(str(path))
            return int(QPrintDialog.DialogCode.Accepted)

        for ask in (lambda: self.press(self.sheet.print), lambda: self.window.actions_of.named["print"].trigger()):
            path.unlink(missing_ok=True)
            with mock.patch.object(QPrintDialog, "exec", accepted):
                ask()
            self.assertTrue(path.read_bytes().startswith(b"%PDF"))
            pages = pypdf.PdfReader(path).pages
            self.assertGreater(len(pages), 3)
            self.assertIn("LEG_1_POWER", pages[0].extract_text())
            self.assertIn("listing is printed", self.window.notice.words.text())
        self.assertEqual(self.session.project.exported, self.session.setup)


class PairListingTest(ListingSheetTest):
    DEMO = "ropewalk"

    def test_both_sensors_are_read_and_each_case_of_the_table_lights_its_line(self) -> None:
        self.assertIn("def read_second_light", self.sheet.view.toPlainText())
        setup = self.session.setup
        self.put(replace(setup, program=replace(setup.program, arrangement="table")))
        trace = self.session.view.run.trace
        seen = {}
        for rule in sorted({int(rule) for rule in trace.rule}):
            self.session.playback.seek(float(trace.time_s[(trace.rule == rule).nonzero()[0][0]]))
            self.settle(self.session)
            seen[rule] = tuple(self.lines_lit())
        self.assertGreater(len(seen), 1)
        self.assertEqual(len(set(seen.values())), len(seen))
        self.assertNotIn((), seen.values())


class ChangedLinesTest(unittest.TestCase):
    def test_lines_that_stand_otherwise_or_are_new(self) -> None:
        text = python(lighthouse()).text
        self.assertEqual(changed_lines(text, text), ())
        self.assertEqual(changed_lines("a\nb\nc\n", "a\nx\nc\nd\n"), (1, 3))
        self.assertEqual(changed_lines("a\nb\n", "a\n"), ())


if __name__ == "__main__":
    unittest.main()
