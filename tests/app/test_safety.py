"""Nothing falls over, nothing is forgotten: what a person did in the window outlives their mistakes and ours."""

import os
import signal
import subprocess
import sys
import threading
import time
import unittest
from dataclasses import replace
from importlib import import_module
from typing import Any
from unittest import mock

from irontrail.core.demos import demo_project
from irontrail.core.quantity import with_value
from irontrail.files import project_file, unsaved
from tests.support import FolderTest, StopTest, WindowTest


class FaultTest(WindowTest):
    """What fails in a handler or a slot."""

    def test_a_handler_that_fails_is_told_and_the_rest_goes_on(self) -> None:
        from PySide6.QtCore import QEvent
        from PySide6.QtWidgets import QVBoxLayout, QWidget

        went_on: list[str] = []

        class Inner(QWidget):
            def showEvent(self, _event: Any) -> None:
                raise ValueError("no show")

            def paintEvent(self, _event: Any) -> None:
                raise ValueError("no paint")

            def event(self, event: Any) -> bool:
                if event.type() == QEvent.Type.User:
                    raise ValueError("no event")
                return super().event(event)

        class Outer(QWidget):
            def __init__(self) -> None:
                super().__init__()
                self.inner = Inner()
                QVBoxLayout(self).addWidget(self.inner)
                self.inner.hide()

            def showEvent(self, event: Any) -> None:
                self.inner.setVisible(True)
                went_on.append("outer")
                super().showEvent(event)

        outer = Outer()
        outer.resize(200, 200)
        outer.show()
        outer.inner.grab()
        self.app.sendEvent(outer.inner, QEvent(QEvent.Type.User))
        self.assertEqual(went_on, ["outer"])
        self.assertEqual(self.warnings[:1], ["ValueError: no show"])
        self.assertIn("ValueError: no paint", self.warnings)
        self.assertIn("ValueError: no event", self.warnings)
        outer.close()
        self.warnings.clear()

    def test_a_fault_is_logged_and_told_once_with_a_text_to_copy_and_what_is_safe(self) -> None:
        from PySide6.QtGui import QGuiApplication

        from irontrail.app.trouble import Trouble

        self.window = self.open_window()
        trouble = Trouble(self.window.keeping.in_words)
        self.window.session.set_value("program.speed", 41.0)
        for _ in range(3):
            try:
                raise KeyError("a fault of ours")
            except KeyError:
                with self.assertLogs("irontrail.app.trouble", "ERROR"):
                    trouble.take(*sys.exc_info())
        self.app.processEvents()
        told = trouble.window
        self.assertTrue(told.isVisible())
        self.assertEqual(told.report.toPlainText().count("KeyError: "), 1)
        self.assertIn("put by", told.saved.text())
        told.buttons["copy"].click()
        self.assertIn("KeyError", QGuiApplication.clipboard().text())
        told.buttons["go on"].click()
        self.assertEqual([work.project for work in unsaved.left_behind()], [], "it is still held by this window")
        self.assertIsNone(trouble.window)
        # In a thread, too.
        with mock.patch("sys.excepthook"), mock.patch("threading.excepthook"):
            import threading

            trouble.watch()
            with self.assertLogs("irontrail.app.trouble", "ERROR"):
                thread = threading.Thread(target=lambda: 1 / 0)
                thread.start()
                thread.join()
            self.wait_for(lambda: trouble.window is not None)
            self.assertIn("ZeroDivisionError", trouble.window.report.toPlainText())
            trouble.window.accept()

    def test_every_stop_and_sheet_stands_every_edit_undone_and_every_demo(self) -> None:
        window = self.open_window()
        session = window.session
        places = self._places(window)

        def tape() -> Any:
            session.looking.go_to("Mat")
            window.panel("Mat").turn_to("Tape")
            return window.panel("Mat").sheet("Tape")

        def on_tape(act: str, *arguments: Any) -> None:
            getattr(tape(), act)(*arguments)

        def of_line(button: str) -> None:
            getattr(tape().editor, button).click()

        edits = {
            "fork": lambda: on_tape("lay", "fork"),
            "crossing": lambda: on_tape("lay", "crossing"),
            "straight": lambda: on_tape("lay", "straight"),
            "taken up": lambda: on_tape("take_up"),
            "twice": lambda: of_line("twice"),
            "law": window.other_law,
            "keep": session.keep,
            "turned": session.turn_round,
            "fork undone": lambda: (on_tape("lay", "fork"), session.document.undo()),
            "twice and taken": lambda: (of_line("twice"), of_line("take_up")),
            **{
                f"demo {name}": lambda name=name: window.actions_of.named[f"demo {name}"].trigger()
                for name in ("ferry", "quarry", "tannery", "lighthouse")
            },
        }
        for name, edit in edits.items():
            edit()
            session.document.mark_saved(session.project)
            for stop, sheet in places:
                session.looking.go_to(stop)
                if sheet:
                    window.panel(stop).turn_to(sheet)
                self.app.processEvents()
                self.assertEqual(self.warnings, [], (name, stop, sheet))
                self.assertTrue(window.panel(stop).isVisible(), (name, stop))
            session.document.undo()
            self.app.processEvents()
            self.assertEqual(self.warnings, [], f"{name}, undone")
            session.document.mark_saved(session.project)
        self.settle(session)

    @staticmethod
    def _places(window: Any) -> list[tuple[str, str]]:
        from irontrail.app.looking import STOPS
        from irontrail.app.sheets import SheetedPanel

        places = []
        for stop in STOPS:
            panel = window.panel(stop)
            places += [(stop, name) for name in panel.names] if isinstance(panel, SheetedPanel) else [(stop, "")]
        return places


class GarbageTest(WindowTest):
    """Views that refer to themselves are taken down on the interface thread, never on a worker's."""

    def test_it_is_collected_where_qt_lives(self) -> None:
        import gc
        import threading
        import weakref

        from PySide6.QtWidgets import QWidget

        self.assertFalse(gc.isenabled(), "another thread would collect it, too")
        ended: list[int] = []

        class View(QWidget):
            pass

        def forget_some() -> None:
            for _ in range(3):
                view = View()
                view.itself = view
                weakref.finalize(view, lambda: ended.append(threading.get_ident()))

        forget_some()

        def work() -> None:
            kept = [[i] for i in range(20_000)]
            self.assertEqual(len(kept), 20_000)

        thread = threading.Thread(target=work)
        thread.start()
        thread.join()
        self.assertEqual(ended, [])
        junk = [[i] for i in range(5_000)]
        self.wait_for(lambda: len(ended) == 3 or junk.append([0]) is not None, 20.0)
        self.assertEqual(set(ended), {threading.get_ident()})

    def test_what_a_thread_works_with_is_let_go_of_where_qt_lives(self) -> None:
        import threading
        import weakref

        from irontrail.app.long_work import LongWork
        from irontrail.app.worker import NewestWins

        class View:
            pass

        for kind in ("long work", "newest wins"):
            with self.subTest(kind):
                begun, go_on, ended = threading.Event(), threading.Event(), []
                view = View()
                weakref.finalize(view, lambda ended=ended: ended.append(threading.get_ident()))

                def act(_given: object, begun=begun, go_on=go_on, _view=view) -> None:
                    begun.set()
                    go_on.wait(20.0)

                work: Any
                if kind == "long work":
                    work = LongWork(lambda _done: None, lambda _given: None, lambda _error: None)
                    work.start(act)
                else:
                    work = NewestWins(act, lambda _asked, _given: None, lambda _asked, _error: None)
                    work.request(1)
                self.assertTrue(begun.wait(20.0))
                # The sheet that asked is gone while the thread is at it: it is the last to hold them.
                work.close()
                del work, act, view
                go_on.set()
                self.wait_for(lambda ended=ended: bool(ended), 20.0)
                self.assertEqual(ended, [threading.get_ident()])

    def test_it_waits_for_the_hand_that_drags_and_leaves_out_what_stays(self) -> None:
        import gc
        import weakref

        from PySide6.QtCore import QObject, QPoint, Qt
        from PySide6.QtTest import QTest

        from irontrail.app import garbage

        class Knot:
            def __init__(self) -> None:
                self.itself = self

        self.window = self.open_window()
        left, shown = Qt.MouseButton.LeftButton, self.window.windowHandle()
        looking = QObject()
        with mock.patch.object(garbage, "EVERY_MS", 1):
            garbage.Garbage(looking)
        knots = [weakref.ref(Knot()) for _ in range(2_000)]
        QTest.mousePress(shown, left, pos=QPoint(3, 3))
        QTest.qWait(60)
        self.assertNotIn(None, [ref() for ref in knots])
        with mock.patch.object(garbage, "MOST_LEFT", 1_000):
            self.wait_for(lambda: all(ref() is None for ref in knots))
        knots = [weakref.ref(Knot()) for _ in range(2_000)]
        QTest.mouseRelease(shown, left, pos=QPoint(3, 3))
        self.wait_for(lambda: all(ref() is None for ref in knots))
        before = gc.get_freeze_count()
        there = weakref.ref(Knot())
        garbage.keep_what_is_here()
        self.assertGreater(gc.get_freeze_count(), before)
        gc.collect()
        self.assertIsNotNone(there())
        gc.unfreeze()
        gc.collect()
        self.assertIsNone(there())


class PreloadingTest(WindowTest):
    def test_packages_are_loaded_one_at_a_time_while_nothing_is_dragged(self) -> None:
        from PySide6.QtCore import QPoint, Qt
        from PySide6.QtTest import QTest

        from irontrail.app import preloading

        for name in ("slow_to_load", "slower_to_load"):
            (self.folder / f"{name}.py").write_text("")
            self.addCleanup(sys.modules.pop, name, None)
        window, left, ended = self.open_window(), Qt.MouseButton.LeftButton, []
        shown, session = window.windowHandle(), window.session
        with (
            mock.patch.object(sys, "path", [str(self.folder), *sys.path]),
            mock.patch.multiple(preloading, PACKAGES=("slow_to_load", "slower_to_load"), EVERY_MS=1),
            mock.patch.object(preloading, "keep_what_is_here") as kept,
            # As it is while the engine is compiled.
            mock.patch.object(type(session), "preparing", True),
        ):
            loading = preloading.Preloading()
            loading.ended.connect(lambda: ended.append("slower_to_load" in sys.modules))
            QTest.mousePress(shown, left, pos=QPoint(3, 3))
            loading.follow(session)
            QTest.qWait(40)
            self.assertNotIn("slow_to_load", sys.modules)
            QTest.mouseRelease(shown, left, pos=QPoint(3, 3))
            self.wait_for(lambda: "slower_to_load" in sys.modules)
            QTest.qWait(20)
            # All is here but the engine.
            self.wait_for(lambda: kept.called)
            self.assertEqual(ended, [])
            session.view_changed.emit()
            self.wait_for(lambda: bool(ended))
        QTest.qWait(20)
        self.assertEqual(ended, [True])

    def test_a_project_is_opened_when_what_reads_one_is_there_unless_another_is_meanwhile(self) -> None:
        from PySide6.QtCore import QTimer

        from irontrail.app import preloading

        path, window, told = self.folder / "mine.irontrail", self.open_window(), []
        project_file.write(path, demo_project("quarry"))
        session, ferry = window.session, window.actions_of.named["demo ferry"]
        session.opened.connect(lambda: told.append("opened"))
        turn = QTimer()
        turn.timeout.connect(lambda: told.append("turn"))
        turn.start(0)
        for name in ("reads_one", "reads_another"):
            (self.folder / f"{name}.py").write_text("")
            self.addCleanup(sys.modules.pop, name, None)
            with (
                mock.patch.object(sys, "path", [str(self.folder), *sys.path]),
                mock.patch.multiple(preloading, FIRST=(name,), PACKAGES=(), LATER=(), EVERY_MS=1),
                mock.patch.object(preloading, "keep_what_is_here"),
                mock.patch.object(preloading, "load", lambda name: told.append(import_module(name).__name__)),
            ):
                loading = preloading.Preloading()
                loading.follow(session)
                # Of what is asked for, the last.
                window.take_in(self.folder / "none.irontrail")
                window.take_in(path)
                self.assertIsNone(session.path)
                if name == "reads_one":
                    ferry.trigger()
                # A good while longer than it takes.
                self.wait_for(lambda name=name: name in told and told[told.index(name) :].count("turn") > 200)
                self.settle(session)
                self.wait_for(lambda: preloading.Preloading.under_way is None)
            self.assertEqual(session.path, None if name == "reads_one" else path)
        self.assertFalse(window.notice.isVisible())
        # The window has had a turn between what takes long and what takes as long.
        self.assertIn("turn", told[told.index("reads_another") : told.index("opened", told.index("reads_another"))])
        # From now on nothing is waited for.
        project_file.write(self.folder / "other.irontrail", demo_project("orchard"))
        window.take_in(self.folder / "other.irontrail")
        self.assertEqual(session.path, self.folder / "other.irontrail")

    def test_one_that_cannot_be_loaded_is_told_of_once_and_the_others_are(self) -> None:
        from PySide6.QtCore import QObject
        from PySide6.QtTest import QTest
        from shiboken6 import delete

        from irontrail.app import preloading

        (self.folder / "sound_to_load.py").write_text("")
        self.addCleanup(sys.modules.pop, "sound_to_load", None)
        names, asked = ("missing_one", "sound_to_load", "missing_two"), []
        sheet, gone = QObject(), QObject()
        preloading.when_loaded(sheet, lambda: asked.append("at once"))
        self.assertEqual(asked, ["at once"])
        with (
            mock.patch.object(sys, "path", [str(self.folder), *sys.path]),
            mock.patch.multiple(preloading, PACKAGES=names, EVERY_MS=1),
        ):
            loading = preloading.Preloading()
            loading.engine_is_there()
            preloading.when_loaded(sheet, lambda: asked.append("before last"))
            preloading.when_loaded(sheet, lambda: asked.append("sound_to_load" in sys.modules))
            preloading.when_loaded(gone, lambda: asked.append("of one that is gone"))
            delete(gone)
            self.assertEqual(asked, ["at once"])
            self.wait_for(lambda: len(self.warnings) == 2)
            QTest.qWait(40)
        self.assertIn("sound_to_load", sys.modules)
        # Each that waits is answered once, with the last it asked for, even where something cannot be loaded.
        self.assertEqual(asked, ["at once", True])
        self.assertEqual([each.split("'")[1] for each in self.warnings], ["missing_one", "missing_two"])
        self.warnings.clear()

    def test_what_sheets_need_is_among_them(self) -> None:
        """In a fresh process in which they are loaded, nothing of the kind is imported further.

        Nor is a project read by looking through all that is installed.
        """
        code = (
            "import sys\n"
            "from irontrail.app.preloading import FIRST, PACKAGES, load\n"
            "import irontrail.app.stops.light\n"
            "assert 'pyqtgraph' not in sys.modules\n"
            "from irontrail.core import derive\n"
            "from irontrail.core.demos import demo_project\n"
            "setup = demo_project('lighthouse').setup\n"
            "derive.figures(setup)\n"
            "for name in (*FIRST, *PACKAGES): load(name)\n"
            "before = set(sys.modules)\n"
            "import irontrail.app.widgets.edge_plot\n"
            "from irontrail.core.causes.told import told\n"
            "from irontrail.core.tune.ultimate_gain import from_theory\n"
            "told(setup), from_theory(setup)\n"
            "import importlib.metadata\n"
            "importlib.metadata.distributions = None\n"
            "from irontrail.core.project import Project\n"
            "from irontrail.files import project_file\n"
            "project_file.from_text(project_file.to_text(Project(setup)), 'x')\n"
            "kinds = ('scipy', 'pyqtgraph', 'pydantic', 'irontrail.files.project_schema')\n"
            "print(*(name for name in set(sys.modules) - before if name.startswith(kinds)))\n"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=240)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(done.stdout.split(), [])


class TypedTest(StopTest):
    """What is being typed is part of the work."""

    def save(self) -> Any:
        """Save by its key to a file, and what stands in it."""
        path = self.folder / "typed.irontrail"
        self.session.path = path
        self.key("S", ctrl=True)
        return project_file.read(path)

    def key(self, key: str, ctrl: bool = False) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest

        held = Qt.KeyboardModifier.ControlModifier if ctrl else Qt.KeyboardModifier.NoModifier
        QTest.keyClick(self.app.focusWidget() or self.window, getattr(Qt.Key, f"Key_{key}"), held)

    def type(self, text: str) -> None:
        from PySide6.QtTest import QTest

        for letter in text:
            QTest.keyClicks(self.app.focusWidget(), letter)

    def test_a_dials_figure_is_saved_and_asked_about(self) -> None:
        dial = self.window.panel("Steer").sheet("Law").dials["program.speed"]
        dial.setFocus()
        self.type("61")
        self.assertTrue(self.session.document.is_saved, "it is only being typed")
        with mock.patch("irontrail.app.files_desk.QMessageBox") as box:
            box.StandardButton.Cancel = box().exec.return_value
            box().exec.reset_mock()
            self.assertFalse(self.window.files.leave())
            box().exec.assert_called_once()
        self.assertEqual(self.session.setup.program.speed, 61.0)
        dial.setFocus()
        self.type("62")
        self.assertEqual(self.save().setup.program.speed, 62.0)

    def test_a_note_and_a_mats_name_are_saved(self) -> None:
        self.session.keep()
        self.session.looking.go_to("Run")
        self.window.panel("Run").turn_to("Logbook")
        book = self.window.panel("Run").sheet("Logbook")
        book.list.choose(1)
        book.note.setFocus()
        self.type("wide bend")
        self.assertEqual(self.save().kept[0].note, "wide bend")
        self.session.looking.go_to("Mat")
        self.window.panel("Mat").turn_to("Shelf")
        shelf = self.window.panel("Mat").sheet("Shelf")
        shelf.name.setFocus()
        shelf.name.selectAll()
        self.type("Harbour wall")
        self.assertEqual(self.save().setup.mat.name, "Harbour wall")

    def test_keys_that_type_belong_to_what_has_the_focus(self) -> None:
        before = self.session.setup
        speed = self.window.panel("Steer").sheet("Law").dials["program.speed"]
        speed.setFocus()
        at = self.session.playback.time_s
        self.type(".5")
        self.assertEqual(speed._editor.text(), ".5")
        self.key("Escape")
        for key in "ELRKFGWCM":
            speed.setFocus()
            self.key(key)
        self.assertEqual((self.session.setup, self.session.project.kept), (before, ()))
        self.assertEqual(self.session.playback.time_s, at)
        self.session.looking.go_to("Tune")
        self.window.panel("Tune").turn_to("Dials")
        combo = self.window.panel("Tune").sheet("Dials").others
        combo.setFocus()
        for key in "ELRK":
            self.key(key)
        self.assertEqual((self.session.setup, self.session.project.kept), (before, ()))
        # Elsewhere they are shortcuts.
        self.window.stage.mat.setFocus()
        self.key("E")
        self.assertEqual(self.session.setup.program.edge, "right")

    def test_buttons_answer_space_and_return_and_playing_keeps_its_key_elsewhere(self) -> None:
        from PySide6.QtWidgets import QAbstractButton

        playing = self.session.playback.playing
        button = self.window.panel("Steer").sheet("Law").laws["bands"]
        self.assertIsInstance(button, QAbstractButton)
        for key, law in (("Space", "bands"), ("Return", "PID")):
            button = self.window.panel("Steer").sheet("Law").laws[law]
            button.setFocus()
            self.key(key)
            self.assertEqual(self.session.setup.program.law, law)
        self.assertEqual(self.session.playback.playing, playing)
        self.window.stage.mat.setFocus()
        self.key("Space")
        self.assertNotEqual(self.session.playback.playing, playing)


class KeptSafeTest(WindowTest):
    """Saving, leaving, other windows, and what is put by."""

    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "harbour.irontrail"
        project_file.write(self.path, demo_project("lighthouse"))
        self.window = self.open_window(path=self.path)
        self.session = self.window.session

    def change_elsewhere(self) -> None:
        other = demo_project("quarry")
        project_file.write(self.path, other)

    def test_a_file_changed_by_another_program_is_not_overwritten_unasked(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        self.session.set_value("program.speed", 44.0)
        self.change_elsewhere()
        asked = []

        def answer(name: str) -> Any:
            def press(box: QMessageBox) -> int:
                asked.append(box.text())
                next(button for button in box.buttons() if name in button.text().replace("&", "")).click()
                return 0

            return mock.patch.object(QMessageBox, "exec", press)

        with answer("Cancel"):
            self.assertFalse(self.window.files.save())
        self.assertEqual(project_file.read(self.path), demo_project("quarry"))
        self.assertFalse(self.session.document.is_saved)
        aside = self.folder / "aside.irontrail"
        with (
            answer("elsewhere"),
            mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=(str(aside), "")),
        ):
            self.assertTrue(self.window.files.save())
        self.assertEqual(project_file.read(aside).setup.program.speed, 44.0)
        self.assertEqual(project_file.read(self.path), demo_project("quarry"))
        self.session.set_value("program.speed", 45.0)
        project_file.write(aside, demo_project("quarry"))
        with answer("over"):
            self.assertTrue(self.window.files.save())
        self.assertEqual(project_file.read(aside).setup.program.speed, 45.0)
        self.assertEqual(len(asked), 3)
        # Saved from here, it is known again.
        self.session.set_value("program.speed", 46.0)
        self.assertTrue(self.window.files.save())

    def test_coming_back_to_the_window_tells_of_it_once_and_offers_what_the_file_holds(self) -> None:
        from PySide6.QtCore import QEvent

        self.app.sendEvent(self.window, QEvent(QEvent.Type.WindowActivate))
        self.assertFalse(self.window.notice.isVisible())
        self.change_elsewhere()
        self.app.sendEvent(self.window, QEvent(QEvent.Type.WindowActivate))
        self.assertIn("changed by another program", self.window.notice.words.text())
        self.window.notice.hide()
        self.app.sendEvent(self.window, QEvent(QEvent.Type.WindowActivate))
        self.assertFalse(self.window.notice.isVisible(), "it has been told")
        before = self.session.project
        self.window.actions_of.named["revert"].trigger()
        self.assertEqual(self.session.project, demo_project("quarry"))
        self.assertTrue(self.session.document.is_saved)
        self.window.actions_of.named["undo"].trigger()
        self.assertEqual(self.session.project, before)
        self.assertFalse(self.session.document.is_saved)

    def test_unsaved_work_is_put_by_and_gone_once_it_is_saved(self) -> None:
        folder = unsaved.folder()
        self.session.set_value("program.speed", 47.0)
        self.wait_for(lambda: any(folder.glob("*.unsaved")), 10.0)
        self.assertEqual(unsaved.left_behind(), (), "whoever works on it still lives")
        self.assertTrue(self.window.files.save())
        self.wait_for(lambda: not any(folder.glob("*")), 10.0)

    def test_what_is_left_behind_is_offered_and_taken_up(self) -> None:
        self.session.set_value("program.speed", 48.0)
        self.window.leave_now()
        self.window.close()
        self.assertEqual(project_file.read(self.path).setup.program.speed, 50.0, "the person's file is as it was")
        (left,) = unsaved.left_behind()
        self.assertEqual((left.project.setup.program.speed, left.path), (48.0, self.path))
        second = self.open_window()
        second.left_behind.offer()
        self.assertIn("was not saved", second.notice.words.text())
        second.notice.offered["Open it"].click()
        self.assertEqual(second.session.setup.program.speed, 48.0)
        self.assertEqual(second.session.path, self.path)
        self.assertFalse(second.session.document.is_saved)
        self.assertFalse(second.notice.isVisible())
        self.assertEqual(unsaved.left_behind(), ())
        self.assertEqual(len(list(unsaved.folder().glob("*.unsaved"))), 1, "it is put by here now")
        self.assertTrue(second.files.save())
        self.assertEqual(project_file.read(self.path).setup.program.speed, 48.0)

    def test_work_taken_up_does_not_overwrite_what_its_file_became_meanwhile(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        self.session.set_value("program.speed", 48.0)
        self.window.leave_now()
        self.window.close()
        self.change_elsewhere()
        second = self.open_window()
        second.left_behind.offer()
        second.notice.offered["Open it"].click()
        asked: list[str] = []
        with mock.patch.object(QMessageBox, "exec", lambda box: asked.append(box.text())):
            self.assertFalse(second.files.save())
        self.assertIn("has been changed by another program", asked[0])
        self.assertEqual(project_file.read(self.path), demo_project("quarry"))

    def test_a_name_without_its_ending_asks_of_the_file_that_is_meant(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        other = self.folder / "other.irontrail"
        project_file.write(other, demo_project("quarry"))
        self.session.set_value("program.speed", 48.0)
        asked: list[str] = []
        name = (str(self.folder / "other"), "")
        with (
            mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=name),
            mock.patch.object(QMessageBox, "exec", lambda box: asked.append(box.text())),
        ):
            self.assertFalse(self.window.files.ask_save_as())
        self.assertEqual(asked, ["other.irontrail is there already."])
        self.assertEqual(project_file.read(other), demo_project("quarry"))

    def test_a_save_elsewhere_that_fails_leaves_the_file_watched(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        self.session.set_value("program.speed", 48.0)
        nowhere = (str(self.folder / "no such folder" / "x.irontrail"), "")
        with mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=nowhere):
            self.assertFalse(self.window.files.ask_save_as())
        self.change_elsewhere()
        asked: list[str] = []
        with mock.patch.object(QMessageBox, "exec", lambda box: asked.append(box.text())):
            self.assertFalse(self.window.files.save())
        self.assertEqual(len(asked), 1)

    def test_what_is_left_behind_can_be_thrown_away_and_damaged_work_is_passed_over(self) -> None:
        self.session.set_value("program.speed", 48.0)
        self.window.leave_now()
        self.window.close()
        (unsaved.folder() / "1-2.unsaved").write_text("{")
        second = self.open_window()
        second.left_behind.offer()
        second.notice.offered["Throw it away"].click()
        self.assertEqual(unsaved.left_behind(), ())
        self.assertEqual(second.session.setup.program.speed, 50.0)

    def test_discarding_on_leaving_leaves_nothing_behind(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        self.session.set_value("program.speed", 49.0)
        self.window.keeping.now()
        with mock.patch.object(QMessageBox, "exec", return_value=QMessageBox.StandardButton.Discard):
            self.window.close()
        self.assertEqual(list(unsaved.folder().glob("*")), [])
        self.assertEqual(project_file.read(self.path).setup.program.speed, 50.0)

    def test_save_on_leaving_saves_and_a_cancelled_save_as_stays(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        self.session.set_value("program.speed", 52.0)
        self.assertIn("*", self.window.windowTitle())
        with mock.patch.object(QMessageBox, "exec", return_value=QMessageBox.StandardButton.Save):
            self.assertTrue(self.window.files.leave())
        self.assertEqual(project_file.read(self.path).setup.program.speed, 52.0)
        self.assertNotIn("*", self.window.windowTitle())
        self.session.path = None
        self.session.set_value("program.speed", 53.0)
        with mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=("", "")):
            self.assertFalse(self.window.files.save())
            with mock.patch.object(QMessageBox, "exec", return_value=QMessageBox.StandardButton.Save):
                self.assertFalse(self.window.close())
        self.assertFalse(self.session.document.is_saved)
        self.assertTrue(self.window.isVisible())


class WorkTest(StopTest):
    """Long work belongs to the project it was begun for, and never holds the window up."""

    def test_work_of_a_project_ends_with_it_and_gives_the_next_one_nothing(self) -> None:
        for stop, name in (("Tune", "Search"), ("Tune", "Event"), ("Compare", "Duel")):
            sheet = self.visit(stop, name)
            sheet.start()
            work = sheet.work
            self.wait_for(lambda work=work: work.running)
            self.window.actions_of.named["demo quarry"].trigger()
            self.assertFalse(work.running, name)
            again = self.visit(stop, name)
            self.assertIsNot(again, sheet)
            self.settle(self.session)
            self.assertEqual(self.session.project, demo_project("quarry"), name)
            self.window.actions_of.named["demo lighthouse"].trigger()
            self.settle(self.session)

    def test_watching_a_worst_case_takes_no_later_change_away(self) -> None:
        from irontrail.core.tune.robustness import Robustness, WorstCase

        sheet = self.visit("Tune", "Event")
        setup = self.session.setup
        cases = tuple(
            mock.Mock(spec=WorstCase, setup=with_value(setup, "program.speed", speed), says=says, finished=True,
                           time_s=12.0, progress_mm=100.0)
            for speed, says in ((55.0, "a, b"), (56.0, "c, d"))
        )  # fmt: skip
        sheet.holds = mock.Mock(spec=Robustness, setup=setup, worst=cases, places=())
        for case in cases:
            sheet.watch(case)
            self.assertEqual(self.session.setup, case.setup)
        self.session.set_value("program.target", 44.0)
        before = self.session.setup
        sheet.watch(cases[0])
        self.assertEqual(self.session.setup, before)
        self.assertIn("changed something", self.window.notice.words.text())

    def test_closing_while_work_runs_does_not_wait(self) -> None:
        self.visit("Tune", "Event").start()
        self.visit("Tune", "Dials")
        self.session.document.mark_saved(self.session.project)
        begun = time.monotonic()
        self.window.close()
        gone = time.monotonic() - begun
        self.assertFalse(self.window.isVisible())
        # Not a measure of speed: waiting for it would take seconds.
        self.assertLess(gone, 2.0)

    def test_a_trace_is_called_off_with_its_picture(self) -> None:
        import numpy as np

        from irontrail.core.errors import CalledOff

        asked = []

        def check(_share: float | None = None, /) -> None:
            asked.append(None)
            if len(asked) > 2:
                raise CalledOff

        pixels = np.full((300, 600, 3), 230, np.uint8)
        pixels[148:152, 50:550] = 30
        sheet = self.visit("Mat", "Files")
        sheet.tracing.begin("strip", pixels)
        with self.assertRaises(CalledOff):
            sheet.tracing.work.find_line(check)
        sheet.tracing.put_away()
        said = sheet.tracing.says.text()
        self.assertFalse(sheet.underway.work.running)
        self.app.processEvents()
        self.assertIsNone(sheet.tracing.found)
        self.assertEqual(sheet.tracing.says.text(), said)

    def test_a_run_to_be_kept_while_the_engine_is_made_ready_is_kept_though_it_is_changed(self) -> None:
        with mock.patch.object(type(self.session.compiler), "running", True):
            self.session.set_value("program.speed", 43.0)
            self.session.keep()
            self.session.set_value("program.speed", 44.0)
        self.session._on_prepared()
        self.settle(self.session)
        self.assertEqual([run.setup.program.speed for run in self.session.project.kept], [43.0])

    def test_keep_at_once_after_a_change_keeps_that_change(self) -> None:
        self.session.set_value("program.speed", 43.0)
        self.session.keep()
        self.settle(self.session)
        (kept,) = self.session.project.kept
        self.assertEqual(kept.setup.program.speed, 43.0)
        self.assertEqual(kept.figures, self.session.view.figures)
        # What is changed before it has been driven does not take its place.
        self.session.set_value("program.speed", 44.0)
        self.session.keep()
        self.edit("program.speed", 45.0)
        self.assertEqual([run.setup.program.speed for run in self.session.project.kept], [43.0, 44.0])
        self.assertEqual(self.session.setup.program.speed, 45.0)

    def test_a_run_to_be_kept_is_in_what_is_saved_or_left_at_once(self) -> None:
        path = self.folder / "at once.irontrail"
        for speeds in ((43.0, 44.0), (45.0,)):
            self.session.set_value("program.speed", speeds[0])
            self.session.keep()
            if len(speeds) > 1:
                self.session.set_value("program.speed", speeds[1])
            self.window.files.save_to(path, asked=True)
            self.assertEqual(project_file.read(path).kept[-1].setup.program.speed, speeds[0])
            # Nor is it kept again, once it has been driven beside.
            self.settle(self.session)
            self.assertTrue(self.session.document.is_saved)
        self.session.set_value("program.speed", 46.0)
        self.session.keep()
        self.window.leave_now()
        self.assertEqual(self.session.project.kept[-1].setup.program.speed, 46.0)

    def kept_before_its_first_run(self) -> tuple[Any, threading.Event]:
        """A window with what is to be kept, and what lets its first run come."""
        from irontrail.app.session import Session
        from irontrail.app.view import compute
        from irontrail.app.window import Window

        gate = threading.Event()
        self.addCleanup(gate.set)
        with mock.patch("irontrail.app.session.compute", lambda request: gate.wait(60.0) and compute(request)):
            window = Window(Session(demo_project("lighthouse")), self.settings())
        self._windows.append(window)
        window.show()
        window.session.keep()
        return window, gate

    def test_saving_does_not_wait_for_the_engine_and_what_is_to_be_kept_is_kept_with_the_first_run(self) -> None:
        from PySide6.QtWidgets import QMessageBox

        window, gate = self.kept_before_its_first_run()
        session, path = window.session, self.folder / "first.irontrail"
        with mock.patch("irontrail.app.run_keeper.derive.figures") as driven:
            window.files.save_to(path, asked=True)
        driven.assert_not_called()
        self.assertEqual(project_file.read(path).kept, ())
        # Nor is it lost unasked where that is left.
        self.assertTrue(session.document.is_saved)
        for answer in (QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Discard):
            texts: list[str] = []
            with mock.patch.object(QMessageBox, "exec", lambda box, said=texts, a=answer: said.append(box.text()) or a):
                self.assertEqual(window.files.leave(), answer == QMessageBox.StandardButton.Discard)
            self.assertEqual(len(texts), 1)
            self.assertIn("to be kept", texts[0])
        gate.set()
        self.settle(session)
        self.assertEqual([run.setup for run in session.project.kept], [session.setup])
        self.assertFalse(session.document.is_saved)

    def test_ended_before_the_first_run_what_is_to_be_kept_is_left_behind(self) -> None:
        window, gate = self.kept_before_its_first_run()
        session = window.session
        window.leave_now()
        self.assertEqual(len(session.project.kept), 1)
        self.assertIsNone(session.view)
        gate.set()


class NoticeTest(WindowTest):
    def test_a_notice_goes_by_escape_and_a_long_name_does_not_widen_the_window(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest

        from irontrail.app.top_bar import TopBar

        window = self.open_window()
        width = window.width()
        window.session.notice("/tmp/" + "a-very-long-folder-name/" * 14 + "x" * 200 + ".irontrail: cannot be read.")
        self.app.processEvents()
        self.assertEqual(window.width(), width)
        self.assertLessEqual(window.minimumSizeHint().width(), width)
        QTest.keyClick(window.stage.mat, Qt.Key.Key_Escape)
        self.assertFalse(window.notice.isVisible())
        window.session.notice("Read me.")
        window.session.set_value("program.speed", 42.0)
        self.assertTrue(window.notice.isVisible(), "it has only just been said")
        with mock.patch("irontrail.app.widgets.notice.READ_MS", -1):
            window.session.set_value("program.speed", 43.0)
            self.assertFalse(window.notice.isVisible())
            # What asks something stays until it is answered; its answers stand before what puts it away.
            window.notice.say("Take it?", {"Take": lambda: None, "Look": lambda: None})
            window.session.set_value("program.speed", 44.0)
        self.assertTrue(window.notice.isVisible())
        self.assertEqual(window.notice.accessibleName(), "Take it?")
        self.app.processEvents()
        buttons = [*window.notice.offered.values(), window.notice.away]
        self.assertEqual([button.text() for button in buttons], ["Take", "Look", "Close"])
        self.assertEqual(buttons, sorted(buttons, key=lambda button: button.x()))
        # The project's name stands in the middle of the window.
        name = window.findChild(TopBar).name
        self.assertEqual(name.alignment() & Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignHCenter)
        self.assertAlmostEqual(name.geometry().center().x(), window.width() / 2, delta=2)

    def test_a_long_notice_leaves_the_window_to_be_seen_and_a_name_is_no_markup(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtWidgets import QLabel

        from irontrail.app.widgets.label import plain_tip

        window = self.open_window()
        notice, high = window.notice, window.stage.mat.height()
        window.session.notice("problem. " * 500)
        self.app.processEvents()
        self.assertLessEqual(notice.height(), 7 * notice.fontMetrics().lineSpacing())
        self.assertGreater(window.stage.mat.height(), high / 2)
        self.assertGreater(notice.words.height(), notice.height(), "the rest is scrolled to")
        window.session.notice("a<b>bold</b>.irontrail: cannot be read.")
        self.app.processEvents()
        self.assertEqual(notice.words.textFormat(), Qt.TextFormat.PlainText)
        mat = replace(window.session.setup.mat, name="<h1>Quay</h1> & sons")
        window.session.choose_mat(mat)
        self.app.processEvents()
        every = window.findChildren(QLabel)
        told = [label for label in every if "<h1>" in label.text()]
        self.assertTrue(told)
        self.assertEqual({label.textFormat() for label in every}, {Qt.TextFormat.PlainText})
        self.assertEqual(plain_tip("a <b>\nb"), "<qt>a &lt;b&gt;<br>b</qt>")
        self.assertEqual(plain_tip("a & b"), "a & b")

    def test_f1_shows_one_sheet_of_keys(self) -> None:
        from PySide6.QtWidgets import QDialog

        window = self.open_window()
        for _ in range(3):
            window.actions_of.named["keys"].trigger()
        sheets = [each for each in window.findChildren(QDialog) if each.isVisible()]
        self.assertEqual(len(sheets), 1)
        sheets[0].close()
        self.app.processEvents()
        window.actions_of.named["keys"].trigger()
        # It is the same one: so many labels are made once.
        self.assertEqual([each for each in window.findChildren(QDialog) if each.isVisible()], sheets)
        self.assertEqual(len(window.findChildren(type(sheets[0]))), 1)
        sheets[0].close()


RUN = """
import sys
from PySide6.QtCore import QTimer
from irontrail.app import main as app_main, session

class Busy(session.Session):
    def __init__(self, *arguments):
        super().__init__(*arguments)
        self.view_changed.connect(self.work)
        self.done = False
    def work(self):
        if not self.done:
            self.done = True
            self.set_value("program.speed", 48.0)
            QTimer.singleShot(300, lambda: print("ready", flush=True))

app_main.Session = Busy
from irontrail.cli.main import main
sys.exit(main(sys.argv[1:]))
"""


class EndedTest(FolderTest):
    """Whole processes, ended from outside."""

    def setUp(self) -> None:
        super().setUp()
        self.environment = os.environ | {
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_STATE_HOME": str(self.folder / "state"),
            "XDG_CONFIG_HOME": str(self.folder / "config"),
            "XDG_RUNTIME_DIR": str(self.folder),
        }
        self.path = self.folder / "mine.irontrail"
        project_file.write(self.path, demo_project("lighthouse"))

    def start(self) -> subprocess.Popen[str]:
        process = subprocess.Popen(
            [sys.executable, "-c", RUN, str(self.path)],
            env=self.environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
        )
        assert process.stdout is not None
        self.assertEqual(process.stdout.readline().strip(), "ready")
        return process

    def left(self) -> tuple[unsaved.Unsaved, ...]:
        with mock.patch.dict(os.environ, {"XDG_STATE_HOME": str(self.folder / "state")}):
            return unsaved.left_behind()

    def test_interrupted_or_terminated_it_ends_in_order_and_the_work_is_found_again(self) -> None:
        for number, count in ((signal.SIGINT, 1), (signal.SIGTERM, 2)):
            process = self.start()
            process.send_signal(number)
            _, errors = process.communicate(timeout=30)
            self.assertEqual(process.returncode, 128 + number)
            self.assertNotIn("Traceback", errors)
            left = self.left()
            self.assertEqual(len(left), count)
            self.assertEqual(left[0].project.setup.program.speed, 48.0)
            self.assertEqual(left[0].path, self.path)
        self.assertEqual(project_file.read(self.path), demo_project("lighthouse"))

    def test_a_screen_that_does_not_answer_is_said_in_one_line(self) -> None:
        bare = {name: value for name, value in self.environment.items() if name != "QT_QPA_PLATFORM"}
        for names, said in (
            ({"DISPLAY": ":987", "WAYLAND_DISPLAY": ""}, "DISPLAY=:987"),
            ({"DISPLAY": "", "WAYLAND_DISPLAY": "no-such-desktop"}, "WAYLAND_DISPLAY=no-such-desktop"),
            ({"DISPLAY": "", "WAYLAND_DISPLAY": ""}, "no screen"),
        ):
            done = subprocess.run(
                [sys.executable, "-m", "irontrail"], env=bare | names, capture_output=True, text=True, timeout=60
            )
            self.assertEqual(done.returncode, 2, names)
            self.assertIn(said, done.stderr)
            self.assertEqual(len(done.stderr.splitlines()), 1)


if __name__ == "__main__":
    unittest.main()
