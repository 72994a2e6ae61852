"""Builders and the base of tests that open windows."""

import gc
import os
import sys
import tempfile
import time
import unittest
import weakref
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.mat.tape import Bend, Mat, Straight, Stroke
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.stretches import Stretch, stretches


def setup_with(setup: Setup, **values: Any) -> Setup:
    """A setup with some values changed; a double underscore stands for a dot."""
    for name, value in values.items():
        setup = with_value(setup, name.replace("__", "."), value)
    return setup


def stretches_of(setup: Setup) -> tuple[Stretch, ...]:
    """The measures of a setup's run, each straight and bend by itself."""
    return stretches(derive.run(setup))


def lighthouse(**values: Any) -> Setup:
    """The demo's setup, changed."""
    return setup_with(demo_project("lighthouse").setup, **values)


def two_bends(**values: Any) -> Setup:
    """The demo's robot on a line a third as long: what takes thousands of runs takes a third of the time."""
    line = Stroke(200.0, 300.0, 0.0, (Straight(400.0), Bend(180.0, 90.0), Bend(150.0, -90.0), Straight(700.0)))
    return setup_with(replace(demo_project("lighthouse").setup, mat=Mat("two bends", line, 1700.0, 800.0)), **values)


def straight_mat(length_mm: float = 1600.0, **line: Any) -> Mat:
    """A mat with one straight line along its middle."""
    return Mat("straight", Stroke(200.0, 500.0, 0.0, (Straight(length_mm),), **line))


def ring_mat(radius_mm: float) -> Mat:
    """A mat with a circle that turns left all the way."""
    return Mat("ring", Stroke(1000.0, 500.0 - radius_mm, 0.0, (Bend(radius_mm, 360.0),), closed=True))


def rgb_of(image: Any) -> NDArray[np.int64]:
    """The colours of an image, shape (height, width, 3)."""
    image = image.convertToFormat(image.Format.Format_RGB32)
    pixels = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), 4)
    return pixels[:, :, 2::-1].astype(np.int64)


def pixels_near(image: Any, colour: str, within: int = 30) -> int:
    """How many pixels of a picture have about a colour."""
    from PySide6.QtGui import QColor

    wanted = QColor(colour)
    away = np.abs(rgb_of(image) - [wanted.red(), wanted.green(), wanted.blue()]).max(axis=2)
    return int((away < within).sum())


class FolderTest(unittest.TestCase):
    """With a folder of its own."""

    def setUp(self) -> None:
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))


class WindowTest(unittest.TestCase):
    """Opens the real window; any Qt warning fails, and so does a closed window that is not collected."""

    warnings: list[str]
    session: Any

    @classmethod
    def setUpClass(cls) -> None:
        from PySide6.QtCore import qInstallMessageHandler

        from irontrail.app.main import application

        cls.app = application()
        cls.warnings = []

        def note(_kind: object, _where: object, text: str) -> None:
            # The offscreen platform says so of windows it shows and raises.
            if "This plugin does not support" not in text:
                cls.warnings.append(text)

        qInstallMessageHandler(note)

    @classmethod
    def tearDownClass(cls) -> None:
        from PySide6.QtCore import qInstallMessageHandler

        qInstallMessageHandler(None)

    def setUp(self) -> None:
        self.warnings.clear()
        # What fails in a slot is printed and forgotten; here it fails the test.
        hook = sys.excepthook
        self.addCleanup(setattr, sys, "excepthook", hook)
        sys.excepthook = lambda kind, error, _trace: self.warnings.append(f"{kind.__name__}: {error}")
        self._folder = tempfile.TemporaryDirectory()
        self.folder = Path(self._folder.name)
        # The team's shelf and unsaved work are in the user's folders; a test has its own.
        own = mock.patch.dict(
            os.environ, {"XDG_DATA_HOME": str(self.folder / "data"), "XDG_STATE_HOME": str(self.folder / "state")}
        )
        own.start()
        self.addCleanup(own.stop)
        # Nobody's hand moves on here: what is said of a run need not wait for it.
        self.enterContext(mock.patch.multiple("irontrail.app.adviser", AFTER_MS=1, AFTER_MANY_MS=1))
        self._windows: list[Any] = []
        # Only what the test makes is looked at for what can go.
        gc.freeze()

    def tearDown(self) -> None:
        from PySide6.QtCore import QCoreApplication, QEvent
        from shiboken6 import isValid

        watched = []
        for window in self._windows:
            watched.append(weakref.ref(window))
            if not isValid(window):
                # The test has closed it.
                continue
            window.files.gather()
            window.session.document.mark_saved(window.session.project)
            # Nobody could answer a question here.
            with mock.patch("PySide6.QtWidgets.QMessageBox.exec", side_effect=AssertionError("asked on closing")):
                window.close()
        self._windows.clear()
        for name in list(vars(self)):
            if name in ("window", "session", "steer", "stage"):
                delattr(self, name)
        window = None
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.app.processEvents()
        gc.collect()
        # What a thread is still at is let go of here when it has ended.
        soon = time.monotonic() + 20.0
        while any(ref() is not None for ref in watched) and time.monotonic() < soon:
            time.sleep(0.01)
            self.app.processEvents()
            gc.collect()
        self._folder.cleanup()
        self.assertEqual(self.warnings, [], "Qt warned, or a slot failed")
        self.assertEqual([ref() for ref in watched if ref() is not None], [], "a closed window is still held")

    def sheet_of(self, window: Any, stop: str, name: str) -> Any:
        """Turn to a sheet of a window's stop with the mouse."""
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest

        window.session.looking.go_to(stop)
        panel = window.panel(stop)
        QTest.mouseClick(panel.names[name], Qt.MouseButton.LeftButton)
        self.settle(window.session)
        return panel.sheet(name)

    def open_window(self, demo: str = "lighthouse", path: Path | None = None, stop: str = "Steer") -> Any:
        """The window on a demo or a file, at a stop, shown and settled, paused at the start."""
        from irontrail.app.session import Session
        from irontrail.app.window import Window
        from irontrail.files import project_file

        session = Session(project_file.read(path) if path else demo_project(demo), path)
        session.looking.stop = stop
        window = Window(session, self.settings())
        self._windows.append(window)
        window.show()
        # Played until all is said of it, it would be drawn many times.
        self.wait_for(lambda: session.view is not None)
        session.playback.pause()
        self.settle(session)
        session.playback.seek(0.0)
        return window

    def settings(self) -> Any:
        """Settings of this test alone."""
        from PySide6.QtCore import QSettings

        return QSettings(str(self.folder / "settings.ini"), QSettings.Format.IniFormat)

    def settle(self, session: Any) -> None:
        """Wait until the run of the project as it stands is shown."""
        self.wait_for(lambda: session.advised and session.view is not None and session.view.setup == session.setup)
        self.app.processEvents()

    def drag(self, widget: Any, start: Any, by: Any) -> None:
        """Drag from a place of a widget, in two moves; the window has a `session`."""
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest

        left, at = Qt.MouseButton.LeftButton, start.toPoint()
        QTest.mousePress(widget, left, pos=at)
        QTest.mouseMove(widget, at + by / 2)
        self.settle(self.session)
        QTest.mouseMove(widget, at + by)
        QTest.mouseRelease(widget, left, pos=at + by)
        self.settle(self.session)

    def wait_for(self, condition: Callable[[], bool], seconds: float = 240.0) -> None:
        """Let the window live until something holds; fails if it takes far too long."""
        from PySide6.QtCore import QDeadlineTimer, QEventLoop

        deadline = QDeadlineTimer(int(1000 * seconds))
        while not condition():
            if deadline.hasExpired():
                self.fail("waited in vain")
            self.app.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
            # What is waited for goes on in other threads, which want the processor.
            time.sleep(0.002)

    def painted(self, widget: Any, *colours: str, least: int = 12) -> Any:
        """The picture of a widget, in which each of some colours of the light theme (or #rrggbb) is seen."""
        from irontrail.app.theme import LIGHT

        image = widget.grab().toImage()
        for colour in colours:
            seen = pixels_near(image, getattr(LIGHT, colour, colour))
            self.assertGreaterEqual(seen, least, f"{type(widget).__name__} shows {seen} pixels of {colour}")
        return image

    def drag_along(self, widget: Any, path: list[Any], keys: Any = None, release: bool = True) -> None:
        """Drag with the left button along points of a widget."""
        from PySide6.QtCore import QEvent, QPointF, Qt
        from PySide6.QtGui import QMouseEvent

        left, none, keys = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton, keys or Qt.KeyboardModifier.NoModifier
        steps = [(QEvent.Type.MouseButtonPress, path[0], left, left)]
        steps += [(QEvent.Type.MouseMove, point, none, left) for point in path[1:]]
        steps += [(QEvent.Type.MouseButtonRelease, path[-1], left, none)] if release else []
        for kind, point, button, held in steps:
            at = QPointF(point)
            self.app.sendEvent(widget, QMouseEvent(kind, at, widget.mapToGlobal(at), button, held, keys))
            self.app.processEvents()

    def drag_on_mat(self, start: tuple[float, float], end: tuple[float, float], keys: Any = None) -> None:
        """Drag on the mat of the window in `self.window`, from and to places in mm."""
        from PySide6.QtCore import QPointF

        mat = self.window.stage.mat
        shares = (0.0, 0.25, 0.5, 0.75, 1.0)
        places = [(start[0] + k * (end[0] - start[0]), start[1] + k * (end[1] - start[1])) for k in shares]
        self.drag_along(mat, [mat.to_px().map(QPointF(*place)) for place in places], keys)


class StopTest(WindowTest):
    """A window, at a stop if one is named, whose sheets are turned to and whose buttons are pressed with the mouse."""

    STOP = "Steer"
    DEMO = "lighthouse"

    def setUp(self) -> None:
        super().setUp()
        self.window = self.open_window(self.DEMO, stop=self.STOP)
        self.session, self.stage = self.window.session, self.window.stage

    def visit(self, stop: str, name: str) -> Any:
        """Turn to a sheet of any stop."""
        return self.sheet_of(self.window, stop, name)

    def put(self, setup: Any) -> None:
        """Put another setup in the window, and wait for its run."""
        self.session.edit("another setup", setup)
        self.settle(self.session)

    def edit(self, name: str, value: float) -> None:
        """Change a number, and wait for the run."""
        self.session.set_value(name, value)
        self.settle(self.session)

    def turn_to(self, name: str) -> Any:
        """Turn to a sheet."""
        panel = self.window.panel(self.STOP)
        self.press(panel.names[name])
        return panel.sheet(name)

    def press(self, button: Any) -> None:
        """Press a button, and wait for the run."""
        from PySide6.QtCore import QPoint, Qt
        from PySide6.QtTest import QTest
        from PySide6.QtWidgets import QCheckBox

        # A check box is pressed on its box.
        at = QPoint(8, button.rect().center().y()) if isinstance(button, QCheckBox) else button.rect().center()
        QTest.mouseClick(button, Qt.MouseButton.LeftButton, pos=at)
        self.settle(self.session)
