"""The Mat stop's ways in and out: a photo made into a mat, drawings, and PDF measured from its own content."""

import base64
import io
import threading
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
import pypdf
from PIL import Image
from pypdf.generic import ContentStream
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QGuiApplication, QImage, QPageSize
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMenu

from irontrail.app import print_mat
from irontrail.app.main import application
from irontrail.core.demos import demo_project
from irontrail.core.errors import CalledOff, Check, IronTrailError
from irontrail.core.mat.demos import DEMO_MATS, lighthouse_loop
from irontrail.core.mat.perspective import to_mat
from irontrail.core.mat.raster import make_raster
from irontrail.core.mat.reflectance import srgb
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Mat, Straight, Stroke, Zone
from irontrail.files import picture, png_mat
from irontrail.files.drawn_mat import DrawnMat
from irontrail.files.png_mat import PAINTED
from tests.app.test_mat import LEFT, MatTest
from tests.said import as_recorded
from tests.support import WindowTest

# Where the mat's corners are in the photo: top left, top right, bottom right, bottom left.
CORNERS = [(260.0, 240.0), (1340.0, 180.0), (1540.0, 1000.0), (90.0, 1060.0)]
MM_PER_POINT = 25.4 / 72.0


def photo(path: Path, mat: Mat) -> None:
    """A photo of a mat, taken at an angle, with grain and a lamp to one side, as JPEG."""
    seen = srgb(make_raster(mat))
    seen = seen * (0.7 + 0.3 * np.arange(seen.shape[1])[None, :, None] / seen.shape[1])
    flat = Image.fromarray((255 * seen[::-1]).astype(np.uint8))
    homography = to_mat(np.array(CORNERS), mat.width_mm, mat.height_mm)
    # Pillow wants, for each pixel of the photo, the pixel of the flat picture, whose rows go down.
    down = np.array([[1.0, 0.0, 0.0], [0.0, -1.0, mat.height_mm], [0.0, 0.0, 1.0]]) @ homography
    taken = flat.transform(
        (1600, 1200), Image.Transform.PERSPECTIVE, tuple((down / down[2, 2]).ravel()[:8]), Image.Resampling.BICUBIC,
        fillcolor=(120, 95, 70),
    )  # fmt: skip
    grain = np.random.default_rng(3).normal(0.0, 5.0, (1200, 1600, 3))
    Image.fromarray(np.clip(np.asarray(taken) + grain, 0, 255).astype(np.uint8)).save(path, quality=88)


class PhotoTest(MatTest):
    SHEET = "Files"
    DEMO = "quarry"

    def on_a_small_mat(self, width_mm: float = 800.0, height_mm: float = 400.0) -> Mat:
        """Make the mat on the table small: a picture is first taken to be as wide, and looked through the sooner."""
        self.session.set_values({"mat.width_mm": width_mm, "mat.height_mm": height_mm})
        self.settle(self.session)
        return self.session.setup.mat

    def found(self) -> None:
        self.wait_for(lambda: not self.sheet.underway.work.running)
        self.app.processEvents()

    def opened(self) -> None:
        """Wait until the file that was opened has come in."""
        self.wait_for(lambda: self.sheet.tracing.work is not None or not self.sheet.underway.work.running)
        self.app.processEvents()

    def place(self, which: int, x: float, y: float) -> None:
        """Drag a handle to a pixel of the picture."""
        hand = self.sheet.tracing.picture_hand
        start, goal = hand.handles()[which], hand.to_mm().map(QPointF(x, y))
        self.drag_on_mat((start.x(), start.y()), (goal.x(), goal.y()))

    def test_a_photo_at_an_angle_becomes_the_mat(self) -> None:
        photo(self.folder / "harbour.jpg", lighthouse_loop())
        before = self.on_a_small_mat(1000.0, 500.0)
        with mock.patch("PySide6.QtWidgets.QFileDialog.getOpenFileName") as asked:
            asked.return_value = (str(self.folder / "harbour.jpg"), "")
            QTest.mouseClick(self.sheet.open_button, LEFT)
        self.opened()
        tracing, work = self.sheet.tracing, self.sheet.tracing.work
        inset = [(64.0, 48.0), (1536.0, 48.0), (1536.0, 1152.0), (64.0, 1152.0)]
        np.testing.assert_allclose(work.corners, inset)
        self.assertEqual((work.width_mm, work.height_mm), (1000.0, 750.0))
        self.assertEqual((tracing.wide.value, tracing.high.value), (1000.0, 750.0))
        for i, corner in enumerate(CORNERS):
            self.place(i, *corner)
        self.sheet.tracing.wide.edit_to(500.0)
        self.sheet.tracing.high.edit_to(250.0)
        # The mat was half as large as the loop's. The known length: from 100 to 400 mm along its lower edge.
        back = np.linalg.inv(to_mat(np.array(CORNERS), 1000.0, 500.0))
        for i, x in ((4, 100.0), (5, 400.0)):
            at = back @ (x, 30.0, 1.0)
            self.place(i, at[0] / at[2], at[1] / at[2])
        self.assertEqual(tracing.known.value, 500.0)
        tracing.known.edit_to(300.0)
        QTest.mouseClick(self.sheet.tracing.scale_button, LEFT)
        self.found()
        self.assertLess(abs(self.sheet.tracing.work.width_mm - 1000.0), 7.5)
        found = tracing.found
        as_recorded(self, "picture traced", self.sheet)
        self.assertEqual(
            tracing.says.text(),
            f"A circuit of {len(found.fits[0].stroke.pieces)} pieces, {found.width_mm:.0f} mm wide, {found.colour} on "
            f"{found.ground}. It lies within {found.fits[0].worst_mm:.1f} mm of the picture's.",
        )
        self.painted(self.mat, "rust", least=200)  # the line that was found, over its picture
        tracing.known.edit_to(60.0)
        QTest.mouseClick(tracing.scale_button, LEFT)
        self.assertRegex(
            self.window.notice.words.text(),
            r"^Then the mat would be \d+ × 1\d\d mm, and a mat is 200 to 4000 mm: check",
        )
        self.assertLess(abs(tracing.work.width_mm - 1000.0), 7.5)
        QTest.mouseClick(self.sheet.tracing.lay, LEFT)
        self.assertEqual(
            self.window.notice.words.text(),
            "harbour is on the table, over its picture: correct its tape on the sheet “Tape”.",
        )
        self.settle(self.session)
        mat = self.session.setup.mat
        self.assertEqual(mat.name, "harbour")
        self.assertLess(abs(make_route(mat).length_mm - 0.5 * make_route(lighthouse_loop()).length_mm), 22.0)
        self.assertLess(abs(mat.line.width_mm - 10.0), 1.25)
        self.assertIsNone(self.sheet.tracing.work)
        # The photo lies under the tape until it is taken from there.
        tape = self.turn_to("Tape")
        photo_seen = self.painted(self.mat)
        self.session.choose_mat(DEMO_MATS["orchard"]())
        self.assertFalse(tape.no_picture.isVisible())
        self.session.document.undo()
        self.press(tape.no_picture)
        self.assertNotEqual(self.painted(self.mat), photo_seen)
        self.assertFalse(tape.no_picture.isVisible())
        self.session.document.undo()
        self.assertEqual(self.session.setup.mat, before)

    def test_the_lines_colour_is_picked_and_keys_move_a_corner(self) -> None:
        mat = Mat("red", Stroke(100.0, 200.0, 0.0, (Straight(600.0),), colour="#c8302a"), 800.0, 400.0)
        on_table = self.on_a_small_mat()
        linear = np.clip(make_raster(mat), 0.0, 1.0) ** (1 / 2.2)
        Image.fromarray((255 * linear[::-1]).astype(np.uint8)).save(self.folder / "red.png")
        self.sheet.open(self.folder / "red.png")
        self.found()
        self.mat.setFocus()
        before = self.sheet.tracing.work.corners.copy()
        QTest.keyClick(self.mat, Qt.Key.Key_PageDown)
        QTest.keyClick(self.mat, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertGreater(self.sheet.tracing.work.corners[1, 0], before[1, 0])
        self.assertTrue((self.sheet.tracing.work.corners[0] == before[0]).all())
        # Up in the picture, whose rows are counted from its top.
        QTest.keyClick(self.mat, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        lower = self.sheet.tracing.work.corners[1, 1]
        self.assertGreater(lower, before[1, 1])
        QTest.keyClick(self.mat, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertLess(self.sheet.tracing.work.corners[1, 1], lower)
        QTest.mouseClick(self.sheet.tracing.pick, LEFT)
        self.assertEqual(self.sheet.tracing.says.text(), "Press on the line in the picture.")
        at = self.sheet.tracing.picture_hand.to_mm().map(QPointF(400.0, 200.0))
        QTest.mouseClick(self.mat, LEFT, pos=self.mat.to_px().map(at).toPoint())
        self.assertFalse(self.sheet.tracing.pick.isChecked())
        self.assertTrue(self.sheet.tracing.work.colour.startswith("#c"))
        self.found()
        self.assertEqual(len(self.sheet.tracing.found.fits), 1)
        QTest.mouseClick(self.sheet.tracing.any_colour, LEFT)
        self.assertIsNone(self.sheet.tracing.work.colour)
        # Another picture is looked at with the usual likeness.
        self.sheet.tracing.likeness.edit_to(0.7)
        self.assertEqual(self.sheet.tracing.work.likeness, 0.7)
        self.sheet.open(self.folder / "red.png")
        self.found()
        self.assertEqual((self.sheet.tracing.likeness.value, self.sheet.tracing.work.likeness), (0.5, 0.5))
        QTest.mouseClick(self.sheet.tracing.away, LEFT)
        self.assertFalse(self.sheet.tracing.lay.isVisible())
        self.assertEqual(self.session.setup.mat, on_table)

    def test_folded_corners_and_bad_files_are_told(self) -> None:
        (self.folder / "bad.png").write_bytes(b"\x89PNG\r\n")
        self.sheet.open(self.folder / "bad.png")
        self.opened()
        self.assertIn("bad.png", self.window.notice.words.text())
        (self.folder / "bad.svg").write_text("<svg")
        self.sheet.open(self.folder / "bad.svg")
        self.opened()
        self.assertIn("not an SVG drawing", self.window.notice.words.text())
        self.on_a_small_mat()
        Image.new("RGB", (400, 200), "white").save(self.folder / "blank.png")
        self.sheet.open(self.folder / "blank.png")
        self.found()
        self.assertIn("stands out", self.sheet.tracing.says.text())
        self.assertFalse(self.sheet.tracing.lay.isEnabled())
        self.place(0, 390.0, 190.0)
        self.assertIn("cross or fold", self.sheet.tracing.says.text())
        self.painted(self.mat, "rust")

    def test_svg_out_and_in_again(self) -> None:
        self.sheet.out.save_svg(self.folder / "quarry.svg")
        self.session.choose_mat(DEMO_MATS["orchard"]())
        self.sheet.open(self.folder / "quarry.svg")
        self.opened()
        self.settle(self.session)
        self.assertEqual(self.session.setup.mat.name, "quarry")
        self.assertEqual(len(self.session.setup.mat.line.pieces), 23)
        self.assertEqual(self.session.view.run.outcome, "finished")

    def test_which_line_is_followed_is_picked_and_what_is_not_taken_over_is_told(self) -> None:
        tape = 'fill="none" stroke="#112233" stroke-width="20"'
        (self.folder / "two.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
            f'<path d="M300 300 H900" {tape}/><path id="b" d="M300 500 H1200" {tape}/><text>words</text></svg>'
        )
        self.sheet.open(self.folder / "two.svg")
        self.opened()
        self.assertIn("two: 2 lines, 1 piece, within 0.1 mm", self.window.notice.words.text())
        self.assertIn("Not taken over: words.", self.window.notice.words.text())
        self.assertEqual(self.session.setup.mat.line.y_mm, 500.0)
        self.assertEqual([each.text() for each in self.sheet.choices.buttons], ["line, 0.9 m", "line, 0.6 m"])
        self.painted(self.sheet.choices.buttons[1], "rust", least=20)
        self.assertEqual([each.isChecked() for each in self.sheet.choices.buttons], [True, False])
        self.press(self.sheet.choices.buttons[1])
        self.assertEqual(self.session.setup.mat.line.y_mm, 700.0)
        self.assertEqual([each.isChecked() for each in self.sheet.choices.buttons], [False, True])
        self.session.document.undo()
        self.assertEqual(self.session.setup.mat.line.y_mm, 500.0)
        self.session.choose_mat(DEMO_MATS["orchard"]())
        self.settle(self.session)
        self.assertEqual(self.sheet.choices.buttons, [])
        self.assertFalse(self.sheet.choices.isVisible())

    def test_a_picture_that_comes_when_another_sheet_is_in_sight_waits_on_its_own(self) -> None:
        Image.new("RGB", (400, 200), "white").save(self.folder / "late.png")
        sheet, lent = self.sheet, []
        self.session.lent.hand_changed.connect(lent.append)
        sheet.open(self.folder / "late.png")
        self.session.looking.go_to("Light")
        self.wait_for(lambda: sheet.tracing.work is not None)
        self.assertNotIn(sheet.tracing.picture_hand, lent)
        self.session.looking.go_to("Mat")
        self.assertIs(lent[-1], sheet.tracing.picture_hand)
        self.session.looking.go_to("Light")
        self.session.open(demo_project("ferry"), None)
        self.settle(self.session)
        self.session.looking.go_to("Steer")
        self.assertIsNot(lent[-1], sheet.tracing.picture_hand)
        QTest.keyClick(self.window.stage.mat, Qt.Key.Key_PageUp)
        QTest.keyClick(self.window.stage.mat, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)

    def test_what_is_asked_of_a_project_goes_with_it(self) -> None:
        picture = io.BytesIO()
        Image.new("RGB", (60, 30), "white").save(picture, "PNG")
        inside = base64.b64encode(picture.getvalue())
        (self.folder / "in.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
            '<path d="M300 300 H1500" fill="none" stroke="#112233" stroke-width="20"/>'
            f'<image width="900" height="450" href="data:image/png;base64,{inside.decode()}"/></svg>'
        )
        self.sheet.open(self.folder / "in.svg")
        self.opened()
        notice = self.window.notice
        self.assertTrue(notice.isVisible())
        self.assertEqual(list(notice.offered), ["Trace the picture in it"])
        self.session.open(demo_project("ferry"), None)
        self.settle(self.session)
        self.assertFalse(notice.isVisible())
        self.assertEqual(notice.offered, {})
        # What is said by the window itself stays.
        notice.say("Found.", {"Open it": lambda: None})
        self.session.open(demo_project("quarry"), None)
        self.assertTrue(notice.isVisible())
        self.assertEqual(list(notice.offered), ["Open it"])

    def test_tape_that_cannot_follow_is_asked_about_and_opening_is_left(self) -> None:
        before = self.session.setup.mat
        (self.folder / "back.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
            '<path d="M300 300 H900 L300 301 V600" fill="none" stroke="#112233" stroke-width="20"/></svg>'
        )
        with mock.patch("irontrail.app.stops.mat.files.ASKED_MM", 0.5):
            self.sheet.open(self.folder / "back.svg")
            self.opened()
        self.assertIn("tape can follow its line only to", self.window.notice.words.text())
        self.assertEqual(self.session.setup.mat, before)
        QTest.mouseClick(self.window.notice.offered["Lay it so"], LEFT)
        self.assertEqual(self.session.setup.mat.name, "back")
        self.session.document.undo()
        self.sheet.open(self.folder / "back.svg")
        self.sheet.underway.call_off()
        self.opened()
        self.assertEqual(self.session.setup.mat, before)

    def test_what_is_under_way_shows_how_far_it_is_and_is_called_off(self) -> None:
        told, release = [], threading.Event()

        def slow(path: Path, check: Check) -> DrawnMat:
            told.append(path.name)
            check(0.25)
            while not release.wait(0.03):
                check()
            raise AssertionError("it was not called off")

        self.on_a_small_mat()
        self.assertFalse(self.sheet.underway.isVisible())
        with mock.patch("irontrail.files.mat_in.read", slow):
            self.sheet.open(self.folder / "long.svg")
            self.wait_for(lambda: self.sheet.underway.isVisible() and self.sheet.underway.bar.share == 0.25)
        self.assertEqual((told, self.sheet.underway.bar.words), (["long.svg"], "Opening long.svg …"))
        before = self.session.setup
        QTest.mouseClick(self.sheet.underway.stop, LEFT)
        self.assertFalse(self.sheet.underway.isVisible())
        self.sheet.open(self.folder / "nothing.svg")
        self.wait_for(lambda: not self.sheet.underway.work.running)
        self.assertIn("nothing.svg", self.window.notice.words.text())
        self.assertFalse(self.sheet.underway.isVisible())
        self.assertIs(self.session.setup, before)
        # Stopped while a line is looked for, it can be looked for again.
        pixels = np.full((300, 600, 3), 230, np.uint8)
        pixels[148:152, 50:550] = 30
        self.sheet.tracing.begin("strip", pixels)
        self.assertTrue(self.sheet.underway.work.running)
        QTest.mouseClick(self.sheet.underway.stop, LEFT)
        self.assertIn("“Find it” looks again", self.sheet.tracing.says.text())
        self.assertFalse(self.sheet.tracing.lay.isEnabled() or self.sheet.underway.work.running)
        QTest.mouseClick(self.sheet.tracing.any_colour, LEFT)
        self.found()
        self.assertTrue(self.sheet.tracing.lay.isEnabled(), self.sheet.tracing.says.text())

    def test_a_picture_that_is_being_written_is_called_off_and_the_old_one_stays(self) -> None:
        path = self.folder / "quarry.png"
        path.write_bytes(b"the old one")
        self.on_a_small_mat()
        shares: list[float] = []

        def off_at(most: float) -> Check:
            def check(share: float | None = None, /) -> None:
                shares.append(shares[-1] if share is None else share)
                if shares[-1] >= most:
                    raise CalledOff

            return check

        for most in (0.3, PAINTED * 0.9):
            with self.assertRaises(CalledOff):
                png_mat.write(path, self.session.setup.mat, 100.0, off_at(most))
            shares.clear()
            with self.assertRaises(CalledOff):
                print_mat.write_pdf(path, self.session.setup.mat, "A4", False, "", off_at(most))

        def off_in_packing(share: float | None = None, /) -> None:
            if share is None:
                raise CalledOff

        with self.assertRaises(CalledOff):
            png_mat.write(path, self.session.setup.mat, 100.0, off_in_packing)
        self.assertEqual(path.read_bytes(), b"the old one")
        shares.clear()
        png_mat.write(path, self.session.setup.mat, 100.0, off_at(2.0))
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(len(shares), 3 * self.session.setup.mat.height_mm / 25.4 * 100 / png_mat.ROWS)

    def test_a_picture_inside_a_drawing_and_one_from_the_clipboard_are_traced(self) -> None:
        self.on_a_small_mat()
        mat = Mat("in", Stroke(100.0, 200.0, 0.0, (Straight(600.0),)), 800.0, 400.0)
        image = Image.fromarray((255 * srgb(make_raster(mat))[::-1]).astype(np.uint8))
        memory = io.BytesIO()
        image.save(memory, "PNG")
        inside = base64.b64encode(memory.getvalue()).decode()
        (self.folder / "scan.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="800mm" '
            f'height="400mm"><image xlink:href="data:image/png;base64,{inside}"/></svg>'
        )
        self.sheet.open(self.folder / "scan.svg")
        self.found()
        self.assertEqual(self.sheet.tracing.work.name, "scan")
        self.assertIn("An open line", self.sheet.tracing.says.text())
        self.sheet.tracing.put_away()
        image.save(self.folder / "a.png")
        QGuiApplication.clipboard().setImage(QImage(str(self.folder / "a.png")))
        self.window.actions_of.named["paste"].trigger()
        self.found()
        self.assertEqual(
            (self.sheet.tracing.work.name, self.sheet.tracing.work.picture.shape), ("pasted", (400, 800, 3))
        )
        self.assertIn("An open line", self.sheet.tracing.says.text())
        with mock.patch.object(picture, "WORKING_SIDE_PX", 400):
            self.window.actions_of.named["paste"].trigger()
        self.assertEqual(self.sheet.tracing.work.picture.shape, (200, 400, 3))
        self.window.notice.hide()
        with mock.patch("irontrail.app.exchange.QGuiApplication.clipboard") as none:
            none.return_value.mimeData.return_value = None
            self.window.actions_of.named["paste"].trigger()
        self.assertIn("no picture on the clipboard", self.window.notice.words.text())
        QGuiApplication.clipboard().setText("words")
        self.window.actions_of.named["paste"].trigger()
        self.assertIn("no picture on the clipboard", self.window.notice.words.text())

    def test_a_file_is_not_given_up_for_the_next(self) -> None:
        let_go = threading.Event()

        def slow(_path: Path, *_asked: object) -> tuple[int, int]:
            let_go.wait(60.0)
            return 1, 2

        out = self.sheet.out
        with mock.patch("irontrail.files.png_mat.write", slow):
            out.save_png(self.folder / "first.png")
            out.save_pdf(self.folder / "second.pdf")
            self.assertIn("second.pdf is not written", self.window.notice.words.text())
            let_go.set()
            self.wait_for(lambda: not out.underway.work.running)
        self.assertIn("1 × 2 pixels", self.window.notice.words.text())
        self.assertFalse((self.folder / "second.pdf").exists())
        self.assertFalse(out.underway.isVisible())

    def test_a_file_that_cannot_be_written_is_told_and_its_bar_goes(self) -> None:
        let_go = threading.Event()

        def fails(*_asked: object) -> tuple[int, int]:
            let_go.wait(60.0)
            raise IronTrailError("There is no room for it.")

        out = self.sheet.out
        with mock.patch("irontrail.files.png_mat.write", fails):
            out.save_png(self.folder / "first.png")
            self.wait_for(lambda: out.underway.isVisible())
            self.assertIn("first.png", out.underway.bar.words)
            let_go.set()
            self.wait_for(lambda: not out.underway.work.running)
        self.assertIn("There is no room for it.", self.window.notice.words.text())
        self.assertFalse(out.underway.isVisible())

    def test_pictures_of_the_mat_the_strip_and_a_plot_go_to_the_clipboard(self) -> None:
        def copied() -> QImage:
            return QGuiApplication.clipboard().image()

        self.mat.setFocus()
        size = self.mat.size()
        QTest.keyClick(self.mat, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(copied().size(), size * 2)
        strip = self.window.stage.strip
        self.assertNotEqual(strip.height(), size.height())
        # The strip where that has the focus, and the mat where nothing has that could be copied.
        for focused, plot in ((strip, strip), (self.window.stage.bar.scrubber, self.mat)):
            focused.setFocus()
            QTest.keyClick(focused, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
            self.assertEqual(copied().size(), plot.size() * 2)
        self.session.looking.go_to("Steer")
        self.settle(self.session)
        menu = QMenu()
        self.window.exchange.fill_copies(menu)
        names = [action.text() for action in menu.actions()]
        self.assertEqual(names[:2], ["The mat", "The strip"])
        self.assertGreater(len(names), 2)
        menu.actions()[1].trigger()
        self.assertEqual(copied().size(), self.window.stage.strip.size() * 2)
        menu.actions()[2].trigger()
        self.assertGreater(copied().width(), 300)
        self.assertGreater(len({copied().pixel(x, copied().height() // 2) for x in range(0, copied().width(), 3)}), 3)

    def test_each_button_asks_for_a_path_and_writes_its_own_kind(self) -> None:
        out = self.sheet.out
        self.on_a_small_mat()
        begins = {"pdf": b"%PDF", "png": b"\x89PNG", "svg": b"<"}
        for kind, button in (("pdf", out.pdf), ("png", out.png), ("svg", out.svg)):
            answer = (str(self.folder / f"mat.{kind}"), "")
            with mock.patch("PySide6.QtWidgets.QFileDialog.getSaveFileName", return_value=answer) as asked:
                QTest.mouseClick(button, LEFT)
            self.wait_for(lambda: not out.underway.work.running)
            self.assertEqual(asked.call_args.args[1], f"Save the mat as {kind.upper()}")
            self.assertIn(f"Quarry Switchback.{kind}", asked.call_args.args[2])
            self.assertTrue((self.folder / f"mat.{kind}").read_bytes().startswith(begins[kind]), kind)

    def test_what_each_kind_comes_to_is_told_before(self) -> None:
        out = self.sheet.out
        self.assertTrue(out.wanted.isVisible())
        QTest.mouseClick(out.papers["whole"], LEFT)
        self.assertEqual(out.pdf_says.text(), "One page of 2020 × 1032 mm.")
        self.assertFalse(out.wanted.isVisible())
        self.assertRegex(out.png_says.text(), r"^PNG: 7,874 × 3,937 pixels; at most \d+ dpi\.$")
        for uneven, told in ((0.0, False), (2.0, True)):
            self.session.set_value("mat.line.unevenness_mm", uneven)
            out.save_svg(self.folder / "mat.svg")
            self.assertEqual("felt-pen edges are drawn straight" in self.window.notice.words.text(), told)

    def test_what_is_saved_is_told_and_so_is_what_cannot_be(self) -> None:
        self.sheet.out.dpi.edit_to(50.8)
        self.sheet.out.save_png(self.folder / "quarry.png")
        self.wait_for(lambda: not self.sheet.out.underway.work.running)
        self.assertIn("4,000 × 2,000 pixels", self.window.notice.words.text())
        QTest.mouseClick(self.sheet.out.papers["A3"], LEFT)
        self.assertIn("16 sheets, 3 × 8 less 8 with nothing on,", self.sheet.out.pdf_says.text())
        self.sheet.out.ground.click()
        self.assertIn("24 sheets, 3 × 8, taped", self.sheet.out.pdf_says.text())
        self.sheet.out.ground.click()

        def saved(path: Path) -> None:
            self.sheet.out.save_pdf(path)
            self.wait_for(lambda: not self.sheet.out.underway.work.running)
            self.app.processEvents()

        saved(self.folder / "quarry.pdf")
        self.assertIn("holds the mat on 16 sheets", self.window.notice.words.text())
        self.assertEqual(len(pypdf.PdfReader(self.folder / "quarry.pdf").pages), 16)
        self.sheet.out.wanted.setText("2-4, 7")
        saved(self.folder / "some.pdf")
        words = " ".join(pypdf.PdfReader(self.folder / "some.pdf").pages[0].extract_text().split())
        self.assertIn("not fitted to the page A3 Quarry Switchback", words)
        self.assertEqual(len(pypdf.PdfReader(self.folder / "some.pdf").pages), 4)
        self.sheet.out.wanted.setText("17")
        saved(self.folder / "none.pdf")
        self.assertIn("there is no sheet 17. There are 1 to 16.", self.window.notice.words.text())
        self.sheet.out.wanted.setText("")
        for save in (self.sheet.out.save_pdf, self.sheet.out.save_png, self.sheet.out.save_svg):
            self.window.notice.hide()
            save(self.folder / "no such folder" / "x")
            self.wait_for(self.window.notice.isVisible)
            self.assertIn("cannot be written", self.window.notice.words.text())


class PdfTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        application()

    def lines(self, page: pypdf.PageObject) -> list[tuple[float, float, float, float]]:
        """The straight strokes on a page in mm from its bottom left, by its own content."""
        found, stack = [], []
        now, last = np.eye(3), None
        for operands, operator in ContentStream(page.get_contents(), page.pdf).operations:
            values = [float(number) for number in operands] if operator in (b"cm", b"m", b"l") else []
            if operator == b"q":
                stack.append(now)
            elif operator == b"Q":
                now = stack.pop()
            elif operator == b"cm":
                a, b, c, d, e, f = values
                now = np.array([[a, b, 0.0], [c, d, 0.0], [e, f, 1.0]]) @ now
            elif values:
                x, y = (np.array([*values, 1.0]) @ now)[:2] * MM_PER_POINT
                if operator == b"l" and last is not None:
                    found.append((*last, x, y))
                last = (x, y)
        return found

    def test_the_check_bar_and_the_tape_are_true_to_scale(self) -> None:
        tape = Stroke(250.0, 300.0, 0.0, (Straight(1500.0),))
        mat = Mat("bar", tape, 2000.0, 600.0)
        path = self.folder / "bar.pdf"
        print_mat.write_pdf(path, mat, "whole", False)
        page = pypdf.PdfReader(path).pages[0]
        self.assertLess(abs(float(page.mediabox.width) * MM_PER_POINT - 2020.0), 0.4)
        lines = self.lines(page)
        lengths = [np.hypot(c - a, d - b) for a, b, c, d in lines]
        self.assertLess(min(abs(length - 100.0) for length in lengths), 0.1)
        # The tape is one line after another, from end to end.
        level = [line for line in lines if abs(line[1] - line[3]) < 1e-3 and 250.0 < line[1] < 345.0]
        left, right = min(min(a, c) for a, _, c, _ in level), max(max(a, c) for a, _, c, _ in level)
        self.assertLess(abs(right - left - 1500.0), 1.5)
        self.assertLess(abs(left - 260.0), 0.2)

    def test_zones_are_named_and_the_ground_is_printed_if_it_is_asked_for(self) -> None:
        tape = Stroke(250.0, 300.0, 0.0, (Straight(1500.0),))
        zone = Zone(300.0, 300.0, 100.0, 100.0)
        path = self.folder / "zone.pdf"
        for name, other in (("start", "finish"), ("finish", "start")):
            mat = Mat("bar", tape, 2000.0, 600.0, **{name: zone, other: None}, colour="#ddc0a0")
            for ground in (False, True):
                print_mat.write_pdf(path, mat, "whole", ground)
                page = pypdf.PdfReader(path).pages[0]
                words = page.extract_text().split()
                self.assertEqual((name in words, other in words), (True, False))
                wanted = [int(mat.colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
                filled = [
                    [float(each) for each in operands]
                    for operands, operator in ContentStream(page.get_contents(), page.pdf).operations
                    if operator == b"scn" and len(operands) == 3
                ]
                self.assertEqual(any(np.allclose(each, wanted, atol=2e-3) for each in filled), ground)

    def test_the_check_bar_has_a_tick_each_centimetre(self) -> None:
        path = self.folder / "bar.pdf"
        print_mat.write_pdf(path, lighthouse_loop(), "A4", True)
        lines = self.lines(pypdf.PdfReader(path).pages[0])
        ticks = {
            round(line[0], 1): round(abs(line[3] - line[1]), 1)
            for line in lines
            if abs(line[0] - line[2]) < 1e-6 and abs(line[3] - line[1]) < 3.5
        }
        self.assertEqual(ticks, {10.0 + 10.0 * i: 3.0 if i % 5 == 0 else 1.5 for i in range(11)})

    def test_a_printer_is_turned_as_the_sheets_lie_and_prints_those_asked_for(self) -> None:
        mat = lighthouse_loop()
        path = self.folder / "printed.pdf"
        for paper_name, size in (("A3", QPageSize.PageSizeId.A3), ("A4", QPageSize.PageSizeId.A4)):
            made = print_mat.sheets(mat, paper_name, False)
            for first, last in ((0, 0), (2, 3), (2, 999)):
                printer = QPrinter()
                printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
                printer.setOutputFileName(str(path))
                printer.setPageSize(QPageSize(size))
                printer.setFromTo(first, last)
                printed = print_mat.print_on(printer, mat, ground=False)
                pages = pypdf.PdfReader(path).pages
                part = made.tiles[first - 1 : last] if first else made.tiles
                self.assertEqual((printed.tiles, len(pages)), (part, len(part)))
                box = pages[0].mediabox
                wide, high = (float(each) * MM_PER_POINT for each in (box.width, box.height))
                if pages[0].rotation % 180:
                    wide, high = high, wide
                self.assertLess(max(abs(wide - made.page_mm[0]), abs(high - made.page_mm[1])), 1.0)
                self.assertIn(part[0].name, pages[0].extract_text())

    def test_tiles_with_nothing_on_them_are_left_out(self) -> None:
        corner = Mat("corner", Stroke(60.0, 60.0, 0.0, (Straight(900.0),)), 1800.0, 1200.0, start=None, finish=None)
        path = self.folder / "corner.pdf"
        made = print_mat.write_pdf(path, corner, "A4", False)
        self.assertEqual(len(pypdf.PdfReader(path).pages), len(made.tiles))
        # A line along the bottom, up to 960 mm: its sheets and no others.
        whole = print_mat.write_pdf(self.folder / "whole.pdf", corner, "A4", True)
        on = [tile for tile in whole.tiles if tile.y_mm < 70.0 and tile.x_mm < 959.0]
        self.assertEqual(made.tiles, tuple(on))
        self.assertEqual(whole.left_out, 0)
        self.assertEqual(made.left_out, len(whole.tiles) - len(on))
        # No dashed line stands for a neighbour that is not there.
        level = [line for line in self.lines(pypdf.PdfReader(path).pages[0]) if abs(line[1] - line[3]) < 1e-6]
        foot = made.page_mm[1] - 10.0 - made.tiles[0].height_mm
        self.assertEqual([line for line in level if min(line[0], line[2]) < 7.0 and line[1] > foot - 12.0], [])
        # A zone, a patch or another line keeps its sheet.
        zoned = replace(corner, finish=Zone(1500.0, 1000.0, 100.0, 100.0))
        more = set(print_mat.sheets(zoned, "A4", False).tiles) - set(made.tiles)
        self.assertTrue(more)
        self.assertTrue(all(tile.x_mm + tile.width_mm > 1450.0 for tile in more))

    def test_neighbouring_tiles_show_the_same_overlap(self) -> None:
        path = self.folder / "tiles.pdf"
        made = print_mat.write_pdf(path, lighthouse_loop(), "A4", True)
        reader = pypdf.PdfReader(path)
        self.assertEqual(len(reader.pages), len(made.tiles))
        first, second = made.tiles[0], made.tiles[1]
        self.assertIn(second.name, reader.pages[1].extract_text().replace("\t", " "))
        # The dashed line on the first tile stands where the second one's left edge comes.
        dashed = [line for line in self.lines(reader.pages[0]) if abs(line[0] - line[2]) < 1e-6]
        place = 10.0 + second.x_mm - first.x_mm
        self.assertLess(min(abs(line[0] - place) for line in dashed), 0.02)
        # And a level one where that of the row below does.
        below = next(tile for tile in made.tiles if (tile.row, tile.column) == (1, 0))
        level = [line for line in self.lines(reader.pages[0]) if abs(line[1] - line[3]) < 1e-6 and line[0] < 7.0]
        top = float(reader.pages[0].mediabox.height) * MM_PER_POINT - 10.0
        height = top - (first.y_mm + first.height_mm - below.y_mm - below.height_mm)
        self.assertLess(min(abs(line[1] - height) for line in level), 0.02)


if __name__ == "__main__":
    unittest.main()
