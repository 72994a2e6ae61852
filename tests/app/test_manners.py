"""How it behaves among other programs: installed, started twice, dropped on, remembered, printed."""

import io
import os
import shutil
import subprocess
import sys
import unittest
from contextlib import redirect_stdout
from pathlib import Path
from typing import Any
from unittest import mock

from irontrail.cli import install
from irontrail.core.demos import demo_project
from irontrail.core.mat.tape import Mat, Straight, Stroke
from irontrail.core.project import blank_project
from irontrail.files import project_file
from tests.support import FolderTest, WindowTest


class MannersTest(WindowTest):
    def drop(self, window: Any, path: Path) -> bool:
        """Drop a file on the window; whether it would take it."""
        from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
        from PySide6.QtGui import QDragEnterEvent, QDropEvent

        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        enter = QDragEnterEvent(QPoint(400, 300), Qt.DropAction.CopyAction, data, left, none)
        enter.ignore()
        self.app.sendEvent(window, enter)
        if enter.isAccepted():
            self.app.sendEvent(window, QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, data, left, none))
            self.app.processEvents()
        return enter.isAccepted()

    def test_files_dropped_on_the_window_open(self) -> None:
        import numpy as np
        from PIL import Image

        window = self.open_window()
        mine = self.folder / "mine.irontrail"
        project_file.write(mine, demo_project("quarry"))
        self.assertTrue(self.drop(window, mine))
        self.assertEqual((window.session.path, window.session.project), (mine, demo_project("quarry")))
        pixels = np.full((300, 600, 3), 230, np.uint8)
        pixels[148:152, 50:550] = 30
        photo = self.folder / "photo.png"
        Image.fromarray(pixels).save(photo)
        self.assertTrue(self.drop(window, photo))
        self.assertEqual((window.session.looking.stop, window.panel("Mat").current), ("Mat", "Files"))
        sheet = window.panel("Mat").sheet("Files")
        self.wait_for(lambda: not sheet.underway.work.running)
        self.assertEqual(sheet.tracing.work.name, "photo")
        self.wait_for(lambda: not sheet.underway.work.running)
        self.assertFalse(self.drop(window, self.folder / "notes.txt"))
        self.settle(window.session)

    def test_it_comes_back_as_it_was_left(self) -> None:
        mine = self.folder / "mine.irontrail"
        project_file.write(mine, demo_project("ferry"))
        window = self.open_window(path=mine)
        window.resize(1211, 745)
        window.session.looking.go_to("Mat")
        window.panel("Mat").turn_to("Things")
        window.wear("dark")
        window.close()
        self.assertEqual(self.settings().value("last"), str(mine))
        again = self.open_window()
        # The offscreen screen is 800 px wide, which no window of ours is.
        self.assertEqual(again.height(), 745)
        self.assertEqual((again.session.looking.stop, again.panel("Mat").current), ("Mat", "Things"))
        self.assertEqual(again.theme.name, "dark")

    def test_the_systems_dark_theme_is_followed_unless_one_is_chosen(self) -> None:
        from PySide6.QtCore import Qt

        window = self.open_window()
        with mock.patch("irontrail.app.looks.QGuiApplication.styleHints") as hints:
            hints().colorScheme.return_value = Qt.ColorScheme.Dark
            window._on_scheme()
            self.assertEqual(window.theme.name, "dark")
            window.actions_of.named["theme light"].trigger()
            window._on_scheme()
            self.assertEqual(window.theme.name, "light")
            window.actions_of.named["theme system"].trigger()
            self.assertEqual(window.theme.name, "dark")
        window.wear("light")

    def test_new_full_screen_and_the_sheet_before_by_their_keys(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest

        window = self.open_window()
        control, none = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.NoModifier
        mat = window.stage.mat
        QTest.keyClick(mat, Qt.Key.Key_N, control)
        self.assertEqual((window.session.project, window.session.path), (blank_project(), None))
        self.settle(window.session)
        QTest.keyClick(mat, Qt.Key.Key_F11, none)
        self.assertTrue(window.isFullScreen())
        self.assertTrue(window.actions_of.named["full screen"].isChecked())
        QTest.keyClick(mat, Qt.Key.Key_F11, none)
        self.assertFalse(window.isFullScreen())
        # The desktop may do it too.
        for full in (True, False):
            window.setWindowState(Qt.WindowState.WindowFullScreen if full else Qt.WindowState.WindowNoState)
            self.app.processEvents()
            self.assertEqual(window.actions_of.named["full screen"].isChecked(), full)
        window.session.looking.go_to("Steer")
        names = window.panel("Steer").there
        first = window.panel("Steer").current
        QTest.keyClick(mat, Qt.Key.Key_PageUp, control)
        self.assertEqual(window.panel("Steer").current, names[names.index(first) - 1])
        QTest.keyClick(mat, Qt.Key.Key_PageDown, control)
        self.assertEqual(window.panel("Steer").current, first)

    def test_the_mat_is_printed_at_true_scale_on_the_printers_paper(self) -> None:
        from pypdf import PdfReader
        from PySide6.QtGui import QPageSize
        from PySide6.QtPrintSupport import QPrinter

        window = self.open_window()
        for size, sheets in ((QPageSize.PageSizeId.A4, 12), (QPageSize.PageSizeId.A3, 6)):
            paper = self.folder / f"{size.name}.pdf"
            printer = QPrinter(QPrinter.PrinterMode.HighResolution)
            printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            printer.setOutputFileName(str(paper))
            printer.setPageSize(QPageSize(size))
            window.files.print_mat(printer)
            pages = PdfReader(paper).pages
            self.assertGreaterEqual(len(pages), sheets // 2)
            self.assertIn(f"{len(pages)} sheets", window.notice.words.text())
            self.assertIn("100 mm: if it is not", " ".join(pages[0].extract_text().split()))
            sides = sorted(float(side) * 25.4 / 72 for side in pages[0].mediabox[2:])
            self.assertAlmostEqual(sides[0], {"A4": 210, "A3": 297}[size.name], delta=1.0)
        window.session.choose_mat(Mat("small", Stroke(20.0, 100.0, 0.0, (Straight(160.0),)), 200.0, 200.0))
        window.files.print_mat(printer)
        self.assertEqual(window.notice.words.text(), "The mat is on 1 sheet: measure the check bar.")
        printer.setPageSize(QPageSize(QPageSize.PageSizeId.B5))
        window.files.print_mat(printer)
        self.assertIn("Choose A4, A3, Letter", window.notice.words.text())

    def test_a_second_start_with_a_file_opens_it_in_the_window_that_is_there(self) -> None:
        from irontrail.app.running import Running
        from irontrail.cli.hand_over import hand_over

        with mock.patch.dict(os.environ, {"XDG_RUNTIME_DIR": str(self.folder)}):
            self.assertFalse(hand_over(Path("mine.irontrail")), "no window is there")
            running = Running()
            taken: list[Path] = []
            running.asked.connect(taken.append)
            self.assertTrue(running.listens)
            self.assertFalse(Running().listens, "the first one is spoken to")
            code = "import sys; from pathlib import Path; from irontrail.cli.hand_over import hand_over\n"
            code += "sys.exit(not hand_over(Path('mine.irontrail')))"
            caller = subprocess.Popen([sys.executable, "-c", code], cwd=self.folder)
            self.wait_for(lambda: caller.poll() is not None)
            self.assertEqual(caller.returncode, 0)
            self.assertEqual(taken, [self.folder / "mine.irontrail"])
            for garbage in (b"{\n", b'{"open": 3}\n', b"[]\n"):
                self.speak(garbage)
            self.assertEqual(len(taken), 1)
            running.close()
            # One that ended without a word leaves its socket behind.
            (self.folder / "irontrail.socket").touch()
            again = Running()
            self.assertTrue(again.listens)
            again.close()

    def speak(self, text: bytes) -> None:
        import socket

        with socket.socket(socket.AF_UNIX) as there:
            there.connect(str(self.folder / "irontrail.socket"))
            there.sendall(text)
            there.setblocking(False)
            ended = []

            def heard() -> bool:
                try:
                    ended.append(there.recv(16))
                except BlockingIOError:
                    return False
                except ConnectionError:
                    ended.append(b"")
                return True

            self.wait_for(heard)
            self.assertEqual(ended, [b""])


class InstallTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        self.home = self.folder / "ho me"
        self.home.mkdir()
        self.data = self.home / ".local" / "share"

    def run_it(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        environment = os.environ | {"HOME": str(self.home), "NUMBA_CACHE_DIR": str(self.home / "cache")}
        for name in ("XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CONFIG_HOME"):
            environment.pop(name, None)
        return subprocess.run(
            [sys.executable, "-m", "irontrail", *arguments], env=environment, capture_output=True, text=True
        )

    def test_installed_it_is_a_good_application_and_uninstalled_it_is_gone(self) -> None:
        self.assertEqual(self.run_it("install").returncode, 0)
        entry = self.data / "applications" / "irontrail.desktop"
        text = entry.read_text()
        self.assertIn("MimeType=application/vnd.irontrail+json;", text)
        self.assertNotIn("@", text)
        command = self.home / ".local" / "bin" / "irontrail"
        said = subprocess.run(
            [str(command), "--version"],
            capture_output=True,
            text=True,
            env=os.environ | {"NUMBA_CACHE_DIR": str(self.home / "cache")},
        )
        self.assertTrue(said.stdout.startswith("Iron Trail"), said)
        for place in ("mime/packages/irontrail.xml", "icons/hicolor/scalable/apps/irontrail.svg"):
            self.assertTrue((self.data / place).is_file())
        self.assertEqual(self.run_it("uninstall").returncode, 0)
        left = [path for path in self.home.rglob("*irontrail*") if path.is_file() and "cache" not in path.parts]
        self.assertEqual([path for path in left if "man1" in path.parts or "bin" in path.parts], [])
        self.assertFalse(entry.exists())

    def installed(self, place: str) -> str:
        with mock.patch.dict(os.environ, {"HOME": str(self.home), "XDG_DATA_HOME": ""}), redirect_stdout(io.StringIO()):
            install.install()
        return str(self.data / place)

    @unittest.skipUnless(
        shutil.which("desktop-file-validate"), "no desktop-file-validate: sudo apt install desktop-file-utils"
    )
    def test_its_desktop_entry_is_valid(self) -> None:
        entry = self.installed(install.PLACES["irontrail.desktop"])
        done = subprocess.run(["desktop-file-validate", entry], capture_output=True, text=True)
        self.assertEqual((done.returncode, done.stdout + done.stderr), (0, ""))

    @unittest.skipUnless(shutil.which("man"), "no man: sudo apt install man-db")
    def test_its_manual_page_is_whole(self) -> None:
        page = subprocess.run(
            ["man", "--warnings", "-l", self.installed(install.PLACES["irontrail.1"])],
            capture_output=True,
            text=True,
            env=os.environ | {"MANWIDTH": "90", "LC_ALL": "C.UTF-8"},
        )
        self.assertEqual(page.stderr, "")
        self.assertIn("uninstall", page.stdout)

    def test_another_program_of_the_name_is_let_be(self) -> None:
        command = self.home / ".local" / "bin" / "irontrail"
        command.parent.mkdir(parents=True)
        command.write_text("#!/bin/sh\necho mine\n")
        done = self.run_it("install")
        self.assertEqual(done.returncode, 2)
        self.assertIn("another program of this name", done.stderr)
        self.run_it("uninstall")
        self.assertEqual(command.read_text(), "#!/bin/sh\necho mine\n")

    def test_a_command_is_quoted_as_a_desktop_entry_wants_it(self) -> None:
        self.assertEqual(install._quoted("/opt/a b/start"), '"/opt/a b/start"')
        self.assertEqual(install._quoted('50%"$'), '"50%%\\\\"\\\\$"')

    def test_the_icon_and_the_man_page_name_every_command(self) -> None:
        from PySide6.QtGui import QIcon

        from irontrail.app.main import ICON, application
        from irontrail.cli.main import build_parser

        application()
        self.assertFalse(QIcon(str(ICON)).pixmap(64, 64).isNull())
        page = (ICON.parent / "irontrail.1").read_text()
        said = build_parser().format_help()
        for name in ("open", "demos", "run", "bench", "schema", "shots", "export", "install", "uninstall"):
            self.assertIn(name, said)
            self.assertRegex(page, rf"\.BR? {name}\b")


if __name__ == "__main__":
    unittest.main()
