"""The Pit's pages in the window: card, pages for judges, film, and the event, from the press to the file."""

import re
import time
import unittest
from collections.abc import Callable
from dataclasses import replace
from io import BytesIO
from pathlib import Path
from typing import Any
from unittest import mock

import av
import numpy as np
import pypdf
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QFileDialog, QLabel, QPushButton

from irontrail.app.asked_path import asked_path
from irontrail.app.pages import charts, paper
from irontrail.app.pages import evidence as evidence_page
from irontrail.app.pages.card import check_words, in_words, page_of
from irontrail.app.pages.evidence import SIGNS, difference_words, html_of
from irontrail.app.pages.film import WIDTHS, Driven, FilmSpec, film_of, still
from irontrail.app.pages.mat import LOOKS
from irontrail.core import derive
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.pit import next_run, setting_down
from irontrail.core.pit.card import card_of, first_card
from irontrail.core.pit.evidence import account_of
from irontrail.core.pit.hall import HallRow
from irontrail.core.pit.readings import take_in
from irontrail.core.pit.runs_needed import spread_of
from irontrail.core.pit.setting_down import Placing, WheelCheck, set_down
from irontrail.core.pit.venue import venue_of
from irontrail.core.project import Evidence, KeptRun, RealRun
from irontrail.core.quantity import with_value
from irontrail.core.tune.axes import axis
from irontrail.core.tune.differences import Difference, runs_to_see
from irontrail.core.tune.grid import GridSpec, explore
from irontrail.core.tune.tries import Trying
from irontrail.files import project_file
from tests.said import as_recorded
from tests.support import StopTest, WindowTest, lighthouse, pixels_near, rgb_of, setup_with, two_bends

LEFT = Qt.MouseButton.LeftButton


def pages_in(path: Path) -> list[str]:
    """What is on the pages of a PDF, with single blanks."""
    return [" ".join(page.extract_text().split()) for page in pypdf.PdfReader(path).pages]


def once_each(work: Callable[..., Any]) -> Callable[..., Any]:
    """Long work, each of which is done once for all tests; its last argument is whom it tells."""
    kept: dict[Any, Any] = {}

    def told(*asked: Any) -> Any:
        *of, tell = asked
        key = tuple(of)
        if key not in kept:
            kept[key] = work(*of, tell)
        if not tell(kept[key], kept[key].runs):
            raise CalledOff
        return kept[key]

    return told


def without_end(*asked: Any) -> None:
    """Work that goes on until it is told to stop."""
    while asked[-1](None, 1):
        time.sleep(0.01)
    raise CalledOff


CARD, VENUE = once_each(card_of), once_each(venue_of)


class PitTest(StopTest):
    """The window at one sheet of the Pit."""

    STOP = "Pit"
    sheet_name = ""

    def setUp(self) -> None:
        super().setUp()
        self.enterContext(mock.patch("irontrail.app.stops.pit.card.card_of", CARD))
        self.enterContext(mock.patch("irontrail.app.stops.pit.venue.venue_of", VENUE))
        # How well the next run is chosen is asked in the core's own tests.
        self.enterContext(mock.patch.object(next_run, "ROBOTS", 40))
        self.panel: Any = self.window.panel("Pit")
        self.sheet: Any = self.turn_to(self.sheet_name)

    def work(self) -> None:
        """Press the button that starts the work, and wait for its end."""
        self.press(self.sheet.button)
        self.wait_for(lambda: not self.sheet.work.running)
        self.app.processEvents()

    def said(self) -> str:
        """All that the sheet says."""
        return "\n".join(label.text() for label in self.sheet.findChildren(QLabel) if label.isVisible())

    def notice(self) -> str:
        return str(self.window.notice.words.text())

    def printed(self, ask: Any) -> list[str]:
        """What is on the pages that come out of a printer that prints to a file."""
        path = self.folder / "printed.pdf"

        def accepted(dialog: QPrintDialog) -> int:
            dialog.printer().setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            dialog.printer().setOutputFileName(str(path))
            return int(QPrintDialog.DialogCode.Accepted)

        with mock.patch.object(QPrintDialog, "exec", accepted):
            ask()
        return pages_in(path)


class CardSheetTest(PitTest):
    sheet_name = "Card"

    def test_the_numbers_stand_there_at_once_and_the_rest_after_a_press(self) -> None:
        self.assertIn("0.70", self.said())
        self.assertFalse(self.sheet.save.isEnabled() or self.sheet.print.isEnabled())
        self.assertTrue(self.sheet.hint.isVisible())
        self.work()
        self.assertFalse(self.sheet.hint.isVisible())
        card = self.sheet.card
        self.assertTrue(card.whole)
        self.assertEqual(card.setup, self.session.setup)
        said = self.said()
        self.assertGreaterEqual(len(card.advice), 3)
        as_recorded(self, "card worked out", self.sheet)
        for line in card.advice:
            self.assertIn(line.do, said)
            self.assertIn(line.tried, said)
        self.assertTrue(self.sheet.save.isEnabled() and self.sheet.print.isEnabled())
        base = card.base
        self.assertTrue(base.holds)
        self.assertIn(f"{base.of_starts} starts came through, in {base.time_s:.1f} s.", said)
        shown = [label.text() for label in self.sheet.lines.findChildren(QLabel)]
        start = shown.index("Set it down")
        placed = [set_down(card.setup), in_words(card.placing), "Check the wheels", check_words(card.wheels)]
        self.assertEqual(shown[start + 1 : start + 5], placed)
        # Each number stands under its name.
        first, grid = card.numbers[0], self.sheet.numbers
        over, under = (grid.itemAtPosition(row, 0).widget() for row in (0, 1))
        self.assertEqual((over.text().split(",")[0], under.text()), (first.label, first.value))
        self.assertLess(over.y(), under.y())
        seldom = replace(base, times_s=np.where(np.arange(base.times_s.size) < 3, base.times_s, np.inf))
        self.assertFalse(seldom.holds)
        halls = HallRow(8.0, 31.0, "set 8 and 31", seldom, base), HallRow(20.0, 70.0, "set 20 and 70", base, seldom)
        self.sheet.show_partial(replace(card, hall=halls))
        self.app.processEvents()
        said = self.said()
        self.assertEqual(said.count("The hall reads, raw, on the line and on the mat:"), 1)
        self.assertIn(f"8 and 31: set 8 and 31 ({base.of_starts}, as now {seldom.of_starts}).", said)
        self.assertIn(f"20 and 70: leave the numbers ({base.of_starts}).", said)
        self.sheet.show_partial(card)
        self.sheet.show_result(replace(card, base=seldom))
        self.assertIn(f"Only {seldom.of_starts} starts came through: tune the numbers", self.said())

    def test_what_a_hall_reads_is_told_from_dark_to_bright(self) -> None:
        self.put(setup_with(self.session.setup, light__calibrate=False))
        self.work()
        rows = self.sheet.card.hall
        self.assertFalse(self.sheet.card.same_everywhere)
        for row in rows:
            self.assertLess(row.dark, row.bright)
            self.assertIn(f"{row.dark:.0f} and {row.bright:.0f}: {row.says}", self.said())

    def test_what_was_worked_out_of_other_numbers_is_gone(self) -> None:
        self.work()
        self.edit("program.speed", 48.0)
        self.assertEqual(self.sheet.card, first_card(self.session.setup))
        self.assertFalse(self.sheet.save.isEnabled())
        self.assertNotIn("It rocks", self.said())
        self.assertIn("48", self.said())

    @mock.patch("irontrail.app.stops.pit.card.card_of", without_end)
    def test_a_change_ends_the_work_on_what_was(self) -> None:
        self.press(self.sheet.button)
        self.assertTrue(self.sheet.work.running)
        self.edit("program.speed", 48.0)
        self.assertFalse(self.sheet.work.running)
        self.assertIsNone(self.sheet.card.base)
        self.assertIn("Called off", self.sheet.bar.words)

    def test_saved_as_one_page_of_the_chosen_paper(self) -> None:
        self.work()
        for name, (wide, high) in paper.PAPERS.items():
            self.press(self.sheet.papers[name])
            path = self.folder / f"card {name}.pdf"
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
                self.press(self.sheet.save)
            (page,) = pypdf.PdfReader(path).pages
            size = [float(each) * 25.4 / 72.0 for each in page.mediabox[2:]]
            self.assertAlmostEqual(size[0], wide, delta=0.5)
            self.assertAlmostEqual(size[1], high, delta=0.5)
            (text,) = pages_in(path)
            for line in self.sheet.card.advice:
                self.assertIn(" ".join(line.do.split()), text)
            self.assertIn("0.70", text)
            self.assertIn(f"{self.sheet.card.runs:,} runs", text)
            self.assertIn(f"one page of {name}", self.notice())

    def test_printed_from_its_button_and_by_the_key(self) -> None:
        self.sheet.print_on(QPrinter())
        self.assertIn("not worked out yet", self.notice())
        self.work()
        for ask in (lambda: self.press(self.sheet.print), lambda: self.window.actions_of.named["print"].trigger()):
            (page,) = self.printed(ask)
            self.assertIn("It rocks", page)

    def test_saving_where_it_cannot_is_told(self) -> None:
        self.work()
        self.sheet.save_to(self.folder / "no" / "card.pdf")
        self.assertIn("card.pdf", self.notice())


class CardPageTest(WindowTest):
    def test_every_demo_and_law_has_a_card_of_one_page_with_lines_that_change_something(self) -> None:
        setups = {name: demo.make() for name, demo in DEMOS.items()}
        setups |= {law: two_bends(program__law=law) for law in ("on-off", "bands", "mixed", "PID")}
        pair = with_value(setups["ropewalk"], "program.arrangement", "table")
        setups["table"] = replace(pair, mat=two_bends().mat)
        cards = {"lighthouse": CARD(setups.pop("lighthouse"), lambda _card, _done: True)}
        # In how fine steps it is looked how exactly to set one down, the core's own tests ask.
        coarse = {"OFF_MM": (8.0, 30.0), "TURNED_DEG": (10.0, 40.0), "MISMATCH_PERCENT": (4.0, 16.0)}
        with mock.patch.multiple(setting_down, **coarse):
            cards |= {name: card_of(setup) for name, setup in setups.items()}
        self.assertGreater(sum(len(card.advice) for card in cards.values()), 15)
        for name, card in cards.items():
            for size in paper.PAPERS.values():
                self.assertEqual(page_of(card, size).pageCount(), 1, name)
            for line in card.advice:
                with self.subTest(name, line=line.when):
                    self.assertRegex(line.tried, r"\d+ of 20")
                    self.assertEqual(line.setup == card.setup, "eave the numbers" in line.do)
                    self.assertEqual(replace(line.setup, program=card.setup.program), card.setup)

    def test_letters_are_as_large_as_one_page_lets_them_be(self) -> None:
        def fill(words: int) -> Any:
            return lambda scale: f'<p style="font-size: {10 * scale}pt">{"word " * words}</p>'

        size = paper.PAPERS["A5"]
        few, many = (paper.on_one_page(fill(words), size).size().height() for words in (20, 700))
        self.assertLess(few, many)
        with self.assertRaisesRegex(IronTrailError, "Choose larger paper"):
            paper.on_one_page(fill(5000), size)

    def test_how_exactly_to_set_it_down_and_what_the_wheels_do_in_words(self) -> None:
        for placing, words in (
            (Placing(12.0, 0.0, 40), "Aside up to 12 mm; turned as exactly as you can (40 starts a step, to either"),
            (Placing(None, 7.0, 40), "Aside by 40 mm it still came through; turned up to 7° (40 starts a step, "),
            (Placing(0.0, None, 40), "Aside as exactly as you can; turned by 40° it still came through (40 starts"),
        ):  # fmt: skip
            self.assertTrue(in_words(placing).startswith(words), in_words(placing))
        drives = "Both wheels at 50: 480 mm in 2 s. "
        for aside, percent, words in (
            (35.0, 3.0, "Over 1 m it may drift 35 mm aside, not more (40 starts a step)."),
            (0.0, 0.0, "Any drift aside costs starts: mend it first."),
            (None, 6.0, "Wheels 6 % unlike still came through (40 starts)."),
        ):
            check = WheelCheck(50.0, 2.0, 480.0, 1000.0, aside, percent, 40)
            self.assertEqual(check_words(check), drives + words)

    def test_the_mat_takes_two_fifths_of_the_pages_width(self) -> None:
        size = paper.PAPERS["A5"]
        with mock.patch.object(paper, "filled", side_effect=paper.filled) as filled:
            page_of(first_card(lighthouse()), size)
        wide = (size[0] - 2 * paper.MARGIN_MM) * paper.DOTS_PER_INCH / paper.MM_PER_INCH
        self.assertAlmostEqual(filled.call_args.kwargs["mat"].width / wide, 0.4, delta=0.01)

    def test_names_are_text_and_never_markup(self) -> None:
        setup = lighthouse()
        named = replace(setup, mat=replace(setup.mat, name="<b>Loop</b> & <img src=x>"))
        text = page_of(first_card(named), paper.PAPERS["A5"]).toPlainText()
        self.assertIn("<b>Loop</b> & <img src=x>", text)


class PagesSheetTest(PitTest):
    sheet_name = "Pages"

    def keep_some(self) -> None:
        for law, speed in (("on-off", 50.0), ("proportional", 50.0), ("proportional", 54.0)):
            self.session.choose_law(law)
            self.edit("program.speed", speed)
            self.session.keep()
        self.settle(self.session)

    def test_without_a_kept_run_it_says_what_to_do(self) -> None:
        self.assertIn("Keep some with K", self.said())
        self.assertFalse(self.sheet.button.isEnabled())

    def test_runs_are_chosen_on_their_boxes_and_kept_in_the_project(self) -> None:
        self.keep_some()
        self.assertTrue(all(box.isChecked() for box in self.sheet.boxes.values()))
        self.edit("trial.time_limit_s", 3.0)
        self.session.keep()
        self.settle(self.session)
        time_s = self.session.project.kept[0].figures.time_s
        self.assertEqual(self.sheet.boxes[1].text(), f"1  on-off, {time_s:.1f} s")
        self.assertEqual(self.sheet.boxes[4].text(), "4  proportional, time-out")
        self.session.kept_runs.annotate(4, "too short")
        self.assertEqual(self.sheet.boxes[4].text(), "4  proportional, time-out, too short")
        self.session.document.undo()
        self.session.document.undo()
        self.press(self.sheet.boxes[2])
        self.assertEqual(self.session.project.evidence.runs, (1, 3))
        self.press(self.sheet.boxes[2])
        self.assertEqual(self.session.project.evidence.runs, ())
        self.press(self.sheet.boxes[1])
        self.session.document.undo()
        self.app.processEvents()
        self.assertTrue(self.sheet.boxes[1].isChecked())

    def test_the_teams_words_are_kept_as_they_are_typed_and_undone_as_one(self) -> None:
        words = self.sheet.words["opening"]
        words.setFocus()
        QTest.keyClicks(words, "We are Saltmarsh. ")
        # Left and come back to, it is another step of history.
        self.sheet.title.setFocus()
        words.setFocus()
        QTest.keyClicks(words, "Since May.")
        self.session.document.undo()
        self.app.processEvents()
        self.assertEqual(words.toPlainText(), "We are Saltmarsh. ")
        QTest.keyClicks(self.sheet.title, "Pip")
        self.assertEqual(self.session.project.evidence, Evidence(title="Pip", opening="We are Saltmarsh. "))
        path = self.folder / "p.irontrail"
        project_file.write(path, self.session.project)
        self.assertEqual(project_file.read(path).evidence, self.session.project.evidence)
        self.session.document.undo()
        self.session.document.undo()
        self.app.processEvents()
        self.assertEqual(self.session.project.evidence, Evidence())
        self.assertEqual((words.toPlainText(), self.sheet.title.text()), ("", ""))
        QTest.keyClick(words, Qt.Key.Key_Tab)
        self.assertFalse(words.hasFocus())

    def test_made_saved_as_html_and_pdf_with_the_words_of_now(self) -> None:
        self.keep_some()
        self.session.kept_runs.annotate(3, note="smooth & wide <here>", star=True)
        self.assertFalse(self.sheet.save.isEnabled())
        self.work()
        self.assertTrue(self.sheet.save.isEnabled())
        QTest.keyClicks(self.sheet.words["learned"], "Speed costs <swing>.")
        as_recorded(self, "pages made", self.sheet)
        path = self.folder / "pages.html"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.press(self.sheet.save)
        html = path.read_text()
        self.assertIn("Speed costs &lt;swing&gt;.", html)
        self.assertIn("smooth &amp; wide &lt;here&gt;", html)
        self.assertIn("speed 50 → 54 %", html)
        pdf = self.folder / "pages.pdf"
        self.sheet.save_to(pdf)
        text = " ".join(pages_in(pdf))
        for wanted in ("Speed costs <swing>.", "speed 50 → 54 %", "Run 3 took", "20 of 20"):
            self.assertIn(wanted, text)
        self.assertRegex(text, r"1 of \d")
        pages = self.printed(lambda: self.press(self.sheet.print))
        self.assertIn("how Pip was tuned", pages[0])

    def test_another_choice_asks_to_be_made_again(self) -> None:
        self.keep_some()
        self.press(self.sheet.map)
        self.work()
        self.assertIn("from 60 runs", self.said())
        self.press(self.sheet.boxes[1])
        self.assertFalse(self.sheet.save.isEnabled())
        self.assertIn("make them again", self.said())
        self.press(self.sheet.boxes[1])
        self.assertTrue(self.sheet.save.isEnabled())
        # With the map they are other pages.
        self.press(self.sheet.map)
        self.assertFalse(self.sheet.save.isEnabled())


class EvidencePageTest(WindowTest):
    def test_all_is_in_one_file_without_script_or_address(self) -> None:
        project = demo_project("lighthouse")
        slower = with_value(project.setup, "program.speed", 40.0)
        real = (RealRun(20.9), RealRun(11.0, False))
        kept = (
            KeptRun(1, slower, derive.figures(slower)),
            KeptRun(2, project.setup, derive.figures(project.setup), real=real),
        )
        account = account_of(replace(project, kept=kept))
        html = html_of(account)
        addresses = re.findall(r'src="([^"]*)"', html)
        self.assertEqual(len(addresses), 6)
        for address in addresses:
            self.assertTrue(address.startswith("data:image/png;base64,"))
        without = re.sub(r'src="[^"]*"', "", html)
        for never in ("<script", "http", "href", "url(", "@import"):
            self.assertNotIn(never, without)
        self.assertIn("20.90 s, failed", html)
        self.assertIn("1 failed", html)
        spec = account.map.spec
        self.assertIn(f"Each of {spec.cells**2} squares is a speed and a gain, run {spec.repeats} times", html)
        self.assertNotEqual(spec.cells, spec.repeats)
        self.assertTrue(all(alt for alt in re.findall(r'alt="([^"]*)"', html)))
        self.assertEqual(html.count("<img"), html.count(' alt="'))

    def test_runs_are_told_as_they_came_out_and_compared(self) -> None:
        project = demo_project("lighthouse")
        speeds = (62.0, 90.0, 50.0)
        setups = [with_value(project.setup, "program.speed", speed) for speed in speeds]
        kept = tuple(KeptRun(i, setup, derive.figures(setup)) for i, setup in enumerate(setups, 1))
        account = account_of(replace(project, kept=kept), with_map=False)
        with (
            mock.patch.object(charts, "spreads_of", side_effect=charts.spreads_of) as spread,
            mock.patch.object(charts, "strip_of", side_effect=charts.strip_of) as strip,
        ):
            html = html_of(account)
        rows = [re.sub(r"<[^>]*>", "|", row) for row in re.findall(r"<tr><td><b>\d.*?</tr>", html)]
        first, lost, last = (step.kept.figures for step in account.steps)
        self.assertIn(f"|{first.time_s:.2f} s||{first.wobble_mm:.1f} mm||{account.steps[0].tried.of_starts}|", rows[0])
        self.assertIn(f"|lost||{lost.wobble_mm:.1f} mm||0 of 20|", rows[1])
        self.assertIn(f"|{last.time_s:.2f} s||{last.wobble_mm:.1f} mm||20 of 20|", rows[2])
        came = account.steps[0].tried.good
        self.assertLess(came, 20)
        self.assertIn(f"Over the same 20 shaken starts run 3 came through 20 times, run 1 {came} times.", html)
        names = "run 3", "run 1"
        self.assertIn(f"<p>{difference_words('took', account.faster, 's', names)}</p>", html)
        self.assertIn(f"<p>{difference_words('swung', account.calmer, 'mm', names)}</p>", html)
        self.assertIn("<td>2000 × 1000 mm</td>", html)
        # The last run is drawn plainest, as it is on the mat.
        signs = re.findall(r'<span style="color: ([^"]*)">([^<]*)</span> run (\d)', html)
        self.assertEqual([(LOOKS[i][0], SIGNS[i], str(3 - i)) for i in (2, 1, 0)], signs)
        self.assertEqual(strip.call_args.args[2], ("reading", "wheels", "off edge"))
        for call, of in zip(spread.call_args_list, ("times_s", "swings_mm"), strict=True):
            values = [getattr(step.tried, of) for step in account.steps if step.tried.good]
            shown = [(each.low, each.middle, each.high) for each in call.args[0]]
            self.assertEqual(shown, [(np.nanmin(v), np.nanmedian(v), np.nanmax(v)) for v in values])

    def test_the_map_is_of_time(self) -> None:
        setup = lighthouse()
        spec = GridSpec(setup, axis(setup, "program.speed"), axis(setup, "program.proportional.gain"), 10, 1, 0.8)
        made = explore(spec)
        shown = charts.map_of(made, 300).address
        for name, alike in (("wobble_mm", True), ("time_s", False)):
            other = replace(made, values=made.values | {name: made.values[name][::-1].copy()})
            self.assertEqual(charts.map_of(other, 300).address == shown, alike, name)

    def test_pictures_show_the_mat_its_trails_and_the_robot(self) -> None:
        from base64 import b64decode

        from PySide6.QtGui import QImage

        from irontrail.app.pages.charts import robot_of
        from irontrail.app.pages.mat import mat_picture

        setup = lighthouse()
        slower = with_value(setup, "program.law", "on-off")
        picture = mat_picture(setup, [(slower, derive.run(slower)), (setup, derive.run(setup))], 600.0)
        image = QImage.fromData(b64decode(picture.address.partition(",")[2]))
        self.assertEqual(image.width(), 1800)
        for colour in ("#2a2b2d", LOOKS[0][0], LOOKS[1][0]):
            self.assertGreater(pixels_near(image, colour), 400, colour)
        robot = QImage.fromData(b64decode(robot_of(setup).address.partition(",")[2]))
        self.assertGreater(pixels_near(robot, "#23272B"), 2000)
        # It points to the right, whole: its tip is as far from that side as its rear from the other.
        inked = np.flatnonzero((rgb_of(robot).min(axis=2) < 200).any(axis=0))
        left, right = int(inked[0]), robot.width() - 1 - int(inked[-1])
        self.assertGreater(min(left, right), 20)
        self.assertLess(abs(left - right), 0.2 * robot.width())
        wider = robot_of(with_value(setup, "robot.drive.track_width_mm", 200.0))
        self.assertGreater(wider.height, robot_of(setup).height)

    def test_a_difference_is_told_with_its_interval_or_as_none(self) -> None:
        names = "run 4", "run 1"
        self.assertEqual(
            difference_words("took", Difference(1.5, 1.2, 1.8, 19), "s", names),
            "Run 4 took 1.50 s less than run 1 (1.20 to 1.80 at 95 %, 19 starts that both came through).",
        )
        self.assertIn("Run 1 swung 0.50 mm less than run 4 (0.30 to 0.70", difference_words(
            "swung", Difference(-0.5, -0.7, -0.3, 20), "mm", names))  # fmt: skip
        none = difference_words("took", Difference(0.1, -0.1, 0.3, 20), "s", names)
        self.assertTrue(none.startswith("No difference is shown"))
        self.assertIn("between −0.10 and +0.30 s", none)

    def test_of_a_trip_of_two_sensors_and_of_runs_that_are_lost(self) -> None:
        for name, speed in (("lantern", 45.0), ("ropewalk", 32.0), ("lighthouse", 90.0)):
            setup = with_value(DEMOS[name].make(), "program.speed", speed)
            project = replace(demo_project(name), setup=setup, kept=(KeptRun(1, setup, derive.figures(setup)),))
            pages = evidence_page.pages_of(account_of(project, with_map=False))
            self.assertGreaterEqual(pages.pageCount(), 1)
            self.assertIn(setup.mat.name, pages.toPlainText())


class FilmTest(WindowTest):
    def driven(self, *setups: Any) -> tuple[Driven, ...]:
        names = [str(i) for i in range(1, len(setups))] + ["now"]
        return tuple(Driven(name, setup, derive.run(setup)) for name, setup in zip(names, setups, strict=True))

    def test_another_library_plays_it_as_long_and_as_large_as_was_said(self) -> None:
        setup = DEMOS["orchard"].make()
        for width, speed in ((640, 4.0), (960, 2.0)):
            spec = FilmSpec(self.driven(with_value(setup, "program.speed", 60.0), setup), width, speed, ".mp4")
            made = film_of(spec)
            with av.open(BytesIO(made)) as container:
                stream = container.streams.video[0]
                frames = [frame.to_ndarray(format="rgb24") for frame in container.decode(video=0)]
                self.assertEqual(len(frames), spec.frames)
                self.assertEqual((stream.width, stream.height), spec.size)
                self.assertAlmostEqual(container.duration / 1e6, spec.seconds, delta=0.1)
            run = spec.driven[-1].run
            self.assertAlmostEqual(spec.seconds, run.trace.time_s[-1] / speed + 1.0, delta=0.1)
            # The robots have moved from where they were set down, and the trail is left behind.
            changed = (np.abs(frames[-1].astype(int) - frames[0]).max(axis=2) > 60).sum()
            self.assertGreater(changed, 500)
            self.assertTrue(np.abs(frames[-1].astype(int) - frames[-5]).max() < 40)

    def test_as_a_moving_picture(self) -> None:
        spec = FilmSpec(self.driven(DEMOS["orchard"].make()), 640, 4.0, ".webp")
        with Image.open(BytesIO(film_of(spec))) as picture:
            self.assertEqual(picture.size, spec.size)
            lasted = 0
            for i in range(picture.n_frames):
                picture.seek(i)
                picture.load()
                lasted += picture.info["duration"]
        self.assertAlmostEqual(lasted / 1000.0, spec.seconds, delta=0.06)

    def test_each_robot_is_where_its_run_is_at_that_time(self) -> None:
        setup = lighthouse()
        faster = with_value(setup, "program.law", "PID")
        faster = with_value(faster, "program.speed", 58.0)
        spec = FilmSpec(self.driven(faster, setup), 960, 1.0, ".mp4")
        from irontrail.app.pages.mat import fitted
        from irontrail.app.widgets.mat_scene import KEPT_ON_MAT

        to_px, _ = fitted(setup.mat, 960)
        image = still(spec, 9.0)
        trace = spec.driven[0].run.trace
        row = int(np.searchsorted(trace.time_s, 9.0))
        x, y = to_px.map(float(trace.x_mm[row]), float(trace.y_mm[row]))
        about = image.copy(int(x) - 40, int(y) - 40, 80, 80)
        self.assertGreater(pixels_near(about, KEPT_ON_MAT[0]), 60)
        trace = spec.driven[1].run.trace
        row = int(np.searchsorted(trace.time_s, 9.0))
        x, y = to_px.map(float(trace.x_mm[row]), float(trace.y_mm[row]))
        about = image.copy(int(x) - 30, int(y) - 30, 60, 60)
        self.assertGreater(pixels_near(about, "#23272B"), 100)
        self.assertGreater(pixels_near(about, "#FFFDF8", 8), 200)

    def test_called_off_it_gives_nothing(self) -> None:
        spec = FilmSpec(self.driven(DEMOS["orchard"].make()), 640, 4.0, ".mp4")
        for kind in (".mp4", ".webp"):
            with self.assertRaises(CalledOff):
                film_of(replace(spec, kind=kind), lambda done: done < 10)

    def test_what_cannot_be_filmed_is_refused_in_words(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "one mat"):
            FilmSpec(self.driven(DEMOS["orchard"].make(), lighthouse()), 640, 1.0, ".mp4")
        stuck = lighthouse(program__speed=5.0, trial__time_limit_s=600.0, trial__laps=5)
        with self.assertRaisesRegex(IronTrailError, "Choose a higher speed"):
            FilmSpec(self.driven(stuck), 640, 0.5, ".mp4")

    def test_a_run_that_is_lost_says_so_at_its_end(self) -> None:
        spec = FilmSpec(self.driven(lighthouse(program__speed=90.0)), 640, 1.0, ".mp4")
        self.assertNotEqual(spec.driven[0].run.outcome, "finished")
        before, after = still(spec, spec.longest_s - 0.05), still(spec, spec.longest_s)
        self.assertGreater(pixels_near(after, "#B3471D"), pixels_near(before, "#B3471D") + 60)


class FilmSheetTest(PitTest):
    sheet_name = "Film"
    DEMO = "orchard"

    def test_it_says_how_long_and_how_large_it_will_be_and_shows_a_still(self) -> None:
        self.press(self.sheet.speeds["2×"])
        self.press(self.sheet.widths["640"])
        for width in WIDTHS:
            self.press(self.sheet.widths[str(width)])
            self.assertEqual(self.sheet.spec.width, width)
        spec = self.sheet.spec
        self.assertEqual(spec.speed, 2.0)
        for choices, now in ((self.sheet.kinds, "MP4"), (self.sheet.widths, str(width)), (self.sheet.speeds, "2×")):
            self.assertEqual([name for name, button in choices.items() if button.isChecked()], [now])
        self.assertIn(f"{spec.frames:,} frames of {spec.size[0]} × {spec.size[1]}", self.said())
        self.assertGreater(pixels_near(self.sheet.still.pixmap().toImage(), "#2a2b2d", 60), 200)
        with mock.patch("irontrail.app.stops.pit.film.FilmSpec", side_effect=IronTrailError("longer than any film")):
            self.sheet.show_project()
        self.assertIn("longer than any film", self.said())
        self.assertFalse(self.sheet.button.isEnabled())
        self.sheet.show_project()
        self.assertTrue(self.sheet.button.isEnabled())

    def test_in_a_race_the_run_of_now_drives_once(self) -> None:
        self.session.keep()
        self.settle(self.session)
        self.press(self.sheet.ofs["the race"])
        self.assertEqual([each.name for each in self.sheet.spec.driven], ["now"])
        self.edit("program.speed", 45.0)
        self.assertEqual([each.name for each in self.sheet.spec.driven], ["1", "now"])

    def test_the_still_is_of_where_the_playhead_is(self) -> None:
        self.session.playback.pause()
        stills = []
        for share in (0.0, 0.5):
            self.session.playback.seek(share * self.session.playback.duration_s)
            self.press(self.sheet.widths["640"])
            shown = self.sheet.still.pixmap().toImage()
            film = still(self.sheet.spec, self.session.playback.time_s)
            film = film.scaledToWidth(shown.width(), Qt.TransformationMode.SmoothTransformation)
            here, there = (rgb_of(image) for image in (shown, film))
            self.assertLess(float(np.abs(here - there).mean()), 0.05)
            stills.append(here)
        self.assertGreater(float(np.abs(stills[0] - stills[1]).mean()), 0.5)

    def test_filmed_to_a_file_in_the_background(self) -> None:
        self.press(self.sheet.speeds["4×"])
        self.press(self.sheet.widths["640"])
        path = self.folder / "run"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "MP4 (*.mp4)")) as asked:
            self.press(self.sheet.button)
        self.assertIn(f"{self.session.setup.mat.name}.mp4", asked.call_args.args[2])
        self.assertIn("frames", self.sheet.bar.words)
        self.wait_for(lambda: not self.sheet.work.running)
        with av.open(str(path.with_suffix(".mp4"))) as container:
            self.assertEqual(sum(1 for _ in container.decode(video=0)), self.sheet.spec.frames)
        size = path.with_suffix(".mp4").stat().st_size
        self.assertEqual(self.notice(), f"The film is in run.mp4: {size / 1e6:.2f} MB.")

    def test_stopped_it_leaves_the_old_file_as_it_was(self) -> None:
        path = self.folder / "run.mp4"
        path.write_text("before")
        self.sheet.film_to(path)
        self.press(self.sheet.button)
        self.assertFalse(self.sheet.work.running)
        self.app.processEvents()
        QTest.qWait(300)
        self.assertEqual(path.read_text(), "before")
        self.assertEqual([each.name for each in self.folder.iterdir() if each.name.startswith(".")], [])

    def test_a_race_needs_a_kept_run_and_takes_those_shown(self) -> None:
        race = self.sheet.ofs["the race"]
        self.assertFalse(race.isEnabled())
        self.session.keep()
        self.edit("program.speed", 58.0)
        self.assertTrue(race.isEnabled())
        self.press(race)
        self.assertEqual([each.name for each in self.sheet.spec.driven], ["1", "now"])
        self.session.kept_runs.show(1, False)
        self.settle(self.session)
        self.assertEqual(len(self.sheet.spec.driven), 1)

    def test_the_name_offered_has_the_ending_of_its_kind(self) -> None:
        self.press(self.sheet.kinds["WebP"])
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=("", "")) as asked:
            self.press(self.sheet.button)
        self.assertTrue(asked.call_args.args[2].endswith(f"{self.session.setup.mat.name}.webp"))

    def test_where_it_cannot_be_written_is_told(self) -> None:
        self.press(self.sheet.speeds["4×"])
        self.sheet.film_to(self.folder / "no" / "run.mp4")
        self.wait_for(lambda: not self.sheet.work.running)
        self.assertIn("cannot be written", self.notice())


class VenueSheetTest(PitTest):
    sheet_name = "Venue"

    def type_readings(self, dark: float, bright: float) -> None:
        for dial, value in ((self.sheet.dark, dark), (self.sheet.bright, bright)):
            dial.edit_to(value)
        self.app.processEvents()

    def test_two_readings_say_what_changes_and_are_taken(self) -> None:
        self.assertEqual((self.sheet.dark.value, self.sheet.bright.value), (6.0, 77.0))
        self.type_readings(15.0, 60.0)
        self.assertIn("Calibrated on dark 15 and bright 60", self.said())
        mat = self.session.setup.mat
        self.press(self.sheet.take)
        self.settle(self.session)
        self.assertEqual(self.session.setup.light.calibration.dark, 15.0)
        self.assertIs(self.session.setup.mat, mat)
        # What was typed stays, also when something else is changed, and is not taken again.
        self.edit("program.speed", 48.0)
        self.assertEqual((self.sheet.dark.value, self.sheet.bright.value), (15.0, 60.0))
        self.assertIn("The numbers are for these readings.", self.said())
        self.assertFalse(self.sheet.take.isEnabled())
        self.type_readings(50.0, 51.0)
        self.assertFalse(self.sheet.take.isEnabled())
        self.assertIn("too much alike", self.said())

    def test_readings_that_are_the_same_are_told_and_nothing_is_worked_out(self) -> None:
        self.type_readings(0.0, 0.0)
        self.assertIn("are the same", self.said())
        self.press(self.sheet.button)
        self.assertFalse(self.sheet.work.running)
        self.assertIn("are the same", self.window.notice.words.text())
        self.type_readings(15.0, 60.0)
        self.press(self.sheet.button)
        self.assertTrue(self.sheet.work.running)
        # What is under way is of other readings now.
        self.type_readings(30.0, 30.0)
        self.assertIn("are the same", self.said())
        self.assertIn("Not worked out yet", self.said())
        self.press(self.sheet.button)

    def test_worked_out_it_says_what_the_readings_do_where_it_strays_and_what_to_drive_next(self) -> None:
        self.type_readings(15.0, 60.0)
        self.assertIn("Not worked out yet", self.said())
        self.assertFalse(self.sheet.next_do.isVisible())
        self.work()
        self.assertTrue(self.sheet.next_do.isVisible())
        said = self.said()
        as_recorded(self, "venue worked out", self.sheet)
        taken = take_in(self.session.setup, self.sheet._asked.found)
        anew, as_set = (Trying().one(each).of_starts for each in (taken.anew, taken.there))
        self.assertIn(f"With that {anew} starts come through, as it is set {as_set}.", said)
        venue = self.sheet.venue
        for i, place in enumerate(venue.places, 1):
            self.assertIn(f"{i}  {place.name}: it strays {place.worst_mm:.0f} mm.", said)
        marked = [(str(i), place.x_mm, place.y_mm) for i, place in enumerate(venue.places, 1)]
        self.assertEqual(list(self.sheet.hand.places), marked)
        self.assertEqual(len(marked), 3)
        self.assertNotIn("It does as well", said)
        better = venue.readings.with_new
        self.assertTrue(better.holds)
        self.sheet.show_result(replace(venue, readings=replace(venue.readings, as_set=better)))
        self.assertIn(f"as it is set {better.of_starts}. It does as well as it is.", self.said())
        self.assertIn(self.sheet.next_do.text(), [*(run.do for run in venue.next_runs), "The numbers you have."])
        self.assertIn("of 100", said)
        self.edit("program.speed", 48.0)
        self.assertIn("Not worked out yet", self.said())
        self.assertEqual(self.sheet.hand.places, ())

    def test_places_are_drawn_on_the_mat_while_the_sheet_is_in_sight(self) -> None:
        before = self.window.stage.mat.grab().toImage()
        self.sheet.hand.set_places((("1", 1000.0, 700.0),))
        self.app.processEvents()
        self.assertNotEqual(before, self.window.stage.mat.grab().toImage())
        self.panel.turn_to("Card")
        self.app.processEvents()
        self.assertEqual(before, self.window.stage.mat.grab().toImage())

    def test_real_times_are_written_to_the_kept_run_that_was_driven(self) -> None:
        self.press(self.sheet.times.finished)
        self.assertIn("Type the time", self.notice())
        self.sheet.times.time.edit_to(20.9)
        self.press(self.sheet.times.finished)
        self.settle(self.session)
        (kept,) = self.session.project.kept
        self.assertEqual((kept.setup, kept.real), (self.session.setup, (RealRun(20.9),)))
        self.sheet.times.time.edit_to(7.0)
        self.press(self.sheet.times.failed)
        self.settle(self.session)
        self.assertEqual(self.session.project.kept[0].real, (RealRun(20.9), RealRun(7.0, False)))
        self.assertIn("Run 1: 20.90, failed s", self.said())
        buttons = [each for each in self.sheet.findChildren(QPushButton) if each.isVisible()]
        self.press(next(each for each in buttons if each.text().startswith("Strike")))
        self.assertEqual(self.session.project.kept[0].real, (RealRun(20.9),))
        self.session.document.undo()
        self.app.processEvents()
        self.assertEqual(len(self.session.project.kept[0].real), 2)
        path = self.folder / "p.irontrail"
        project_file.write(path, self.session.project)
        self.assertEqual(project_file.read(path), self.session.project)

    def test_another_kept_run_can_be_chosen(self) -> None:
        self.session.keep()
        self.settle(self.session)
        self.edit("program.speed", 45.0)
        self.assertEqual(self.sheet.times.of_run.itemText(0), "these settings (kept then)")
        self.sheet.times.of_run.setCurrentIndex(self.sheet.times.of_run.findData(1))
        self.sheet.times.time.edit_to(21.5)
        self.press(self.sheet.times.finished)
        self.settle(self.session)
        self.assertEqual([run.real for run in self.session.project.kept], [(RealRun(21.5),)])
        self.sheet.times.of_run.setCurrentIndex(0)
        self.press(self.sheet.times.finished)
        self.settle(self.session)
        self.assertEqual([run.real for run in self.session.project.kept], [(RealRun(21.5),), (RealRun(21.5),)])
        # The newest first; only times of the chosen one are struck out.
        self.assertEqual([self.sheet.times.of_run.itemText(i) for i in range(2)], ["run 2, now", "run 1"])
        buttons = [each for each in self.sheet.times.findChildren(QPushButton) if each.isVisible()]
        (strike,) = (each for each in buttons if each.text().startswith("Strike"))
        self.assertIn("of run 2 ", strike.toolTip())

    def test_foretold_times_stand_beside_the_real_ones_and_stay_as_more_are_typed(self) -> None:
        self.sheet.times.time.edit_to(20.4)
        self.press(self.sheet.times.finished)
        self.settle(self.session)
        self.work()
        over = Trying().one(self.session.setup)
        self.assertIn(f"foretold {over.time_s:.1f} s", self.said())
        self.assertIn("1 of 1 real times within", self.said())
        self.press(self.sheet.times.finished)
        self.settle(self.session)
        self.assertIn("2 of 2 real times within", self.said())

    def test_how_many_runs_goes_by_the_difference_asked_for(self) -> None:
        self.assertIn("Not known yet", self.sheet.runs_say.text())
        self.work()
        deviation = float(np.std(self.sheet.venue.tried.times_s, ddof=1))
        self.assertEqual(self.sheet.difference.value, 0.2)
        _, whence = spread_of((), self.sheet.venue.tried)
        self.assertIn(f"single runs differ by ± {deviation:.2f} s ({whence}).", self.sheet.runs_say.text())
        # In pairs it takes fewer, but of so large a difference, which the least number shows either way.
        for difference, fewer in ((0.2, True), (60.0, False)):
            self.sheet.difference.edit_to(difference)
            self.assertEqual("In pairs" in self.sheet.runs_say.text(), fewer, difference)
        for difference in (0.5, 0.3):
            self.sheet.difference.edit_to(difference)
            self.assertIn(f"{runs_to_see(difference, deviation)} runs of each", self.sheet.runs_say.text())

    @mock.patch("irontrail.app.stops.pit.venue.venue_of", without_end)
    def test_a_press_stops_it(self) -> None:
        self.press(self.sheet.button)
        self.assertTrue(self.sheet.work.running)
        self.press(self.sheet.button)
        self.assertFalse(self.sheet.work.running)
        self.assertIn("Called off", self.sheet.bar.words)


class PairVenueTest(PitTest):
    sheet_name = "Venue"
    DEMO = "ropewalk"

    def test_of_two_sensors_it_says_whose_readings_they_are(self) -> None:
        self.sheet.dark.edit_to(15.0)
        self.sheet.bright.edit_to(60.0)
        self.assertIn("They are the first sensor's", self.said())
        self.press(self.sheet.take)
        self.settle(self.session)
        self.assertAlmostEqual(self.session.setup.second.calibration.bright, 60.0, delta=1.0)


class TripVenueTest(PitTest):
    sheet_name = "Venue"
    DEMO = "lantern"

    def test_of_a_trip_it_points_to_its_ends_and_readings_that_do_harm_are_left(self) -> None:
        self.work()
        # That trip is calibrated on a border that is brighter than the mat.
        self.assertIn("Leave it as it is.", self.said())
        self.assertIn("Trip ▸ Ends", self.said())


class EverySheetTest(PitTest):
    sheet_name = "Card"

    def test_no_sheet_is_wider_than_its_room_and_every_control_has_a_name_and_a_tip(self) -> None:
        for name in self.panel.names:
            self.panel.turn_to(name)
            self.app.processEvents()
            sheet = self.panel.sheet(name)
            self.assertLessEqual(sheet.minimumSizeHint().width(), 332, name)
            controls = sheet.findChildren(QPushButton) + sheet.findChildren(QCheckBox)
            self.assertTrue(controls)
            for control in controls:
                self.assertTrue(control.toolTip(), f"{name}: {control.text()}")

    def test_pictures_on_pages_are_of_paper_in_the_dark_theme_too(self) -> None:
        project = demo_project("orchard")
        project = replace(project, kept=(KeptRun(1, project.setup, derive.figures(project.setup)),))
        account = account_of(project, with_map=False)
        light = html_of(account)
        self.window.wear("dark")
        self.app.processEvents()
        self.assertEqual(html_of(account), light)
        self.window.wear("light")

    def test_the_name_asked_for_gets_its_ending(self) -> None:
        for given, chosen, wanted in (
            ("a", "PDF (*.pdf)", "a.pdf"),
            ("a", "", "a.html"),
            ("a.PDF", "HTML (*.html)", "a.PDF"),
            ("a.b", "PDF (*.pdf)", "a.b.pdf"),
        ):
            answer = (str(self.folder / given), chosen)
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=answer):
                path = asked_path(self.sheet, "Save", "a.html", {".html": "HTML", ".pdf": "PDF"})
            self.assertEqual(path, self.folder / wanted)
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=("", "")):
            self.assertIsNone(asked_path(self.sheet, "Save", "a.html", {".html": "HTML"}))

    def test_a_file_that_the_ending_makes_of_a_name_is_asked_about(self) -> None:
        (self.folder / "mat.png").write_bytes(b"old")
        names = [(str(self.folder / "mat"), ""), (str(self.folder / "other"), "")]
        for answer, wanted in (("over", "mat.png"), ("elsewhere", "other.png"), ("", None)):
            with (
                mock.patch.object(QFileDialog, "getSaveFileName", side_effect=names),
                mock.patch("irontrail.app.asked_path.what_of", return_value=answer) as asked,
            ):
                path = asked_path(self.sheet, "Save", "mat.png", {".png": "PNG"})
            self.assertEqual(path, self.folder / wanted if wanted else None)
            asked.assert_called_once_with(self.sheet, self.folder / "mat.png", "mat.png is there already.")
        # Typed whole, the dialog itself has asked.
        typed = (str(self.folder / "mat.png"), "")
        with (
            mock.patch.object(QFileDialog, "getSaveFileName", return_value=typed),
            mock.patch("irontrail.app.asked_path.what_of", side_effect=AssertionError("asked twice")),
        ):
            self.assertEqual(asked_path(self.sheet, "Save", "mat.png", {".png": "PNG"}), self.folder / "mat.png")


if __name__ == "__main__":
    unittest.main()
