"""Random events on the real window, to see whether anything falls over: `python -m tests.hunt SEED EVENTS [stacks]`.

Clicks, drags, keys, wheels, resizes, demos, files, undo, stops and sheets, long work begun and called off. It tells of
every exception, every Qt warning, and every event after which the window stood still for half a second, with how much
of that the window's thread was at work, or waited for a processor: the rest it waited for other threads or the disk;
how long all threads together were at work, which they would at most have taken one after the other; and for how long
the machine lent its processors to others.
Asked for `stacks`, it tells what all threads did then; to look at them while they run can itself end the process. Not
run in ./check.
"""

import faulthandler
import os
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from pathlib import Path
from threading import get_native_id
from typing import Any
from unittest import mock

from PySide6.QtCore import QCoreApplication, QEvent, QPoint, QPointF, QSettings, Qt, qInstallMessageHandler
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QMenu, QMessageBox, QPushButton, QWidget
from shiboken6 import isValid

from irontrail.app.looking import STOPS
from irontrail.app.main import SWITCH_S, application
from irontrail.app.preloading import Preloading
from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.window import Window
from irontrail.app.working import WorkingPanel
from irontrail.core.demos import DEMOS, demo_project
from tests.mutated import KINDS, Mutating

HOME = tempfile.mkdtemp()
FROZEN_S = 0.5
KEYS = [
    *(getattr(Qt.Key, f"Key_{name}") for name in "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"),
    *(
        getattr(Qt.Key, f"Key_{name}")
        for name in (
            "Left", "Right", "Up", "Down", "Home", "End", "PageUp", "PageDown", "Tab", "Backtab", "Space", "Return",
            "Escape", "Delete", "Insert", "Backspace", "Plus", "Minus", "Slash", "Asterisk", "Period", "Comma",
            "BracketLeft", "BracketRight",
        )
    ),
]  # fmt: skip
TEXTS = {Qt.Key.Key_Plus: "+", Qt.Key.Key_Minus: "-", Qt.Key.Key_Slash: "/", Qt.Key.Key_Asterisk: "*",
         Qt.Key.Key_Period: ".", Qt.Key.Key_Comma: ",", Qt.Key.Key_Space: " ",
         Qt.Key.Key_BracketLeft: "[", Qt.Key.Key_BracketRight: "]"}  # fmt: skip
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 6 + [
    Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
]  # fmt: skip
# What leaves the window, or waits for a person.
LEFT_OUT = {"quit", "full screen"}


class Hunt:
    """One window and a stream of events."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.app = application()
        self.faults: Counter[str] = Counter()
        self.frozen: list[tuple[float, float, str]] = []
        self.last, self.since, self.worked, self.queued = "", time.perf_counter(), time.thread_time(), 0.0
        self.lent, self.together = 0.0, time.process_time()
        sys.excepthook = self._on_error
        qInstallMessageHandler(self._on_message)
        self.session = Session(demo_project("lighthouse"))
        self.window = Window(self.session, QSettings(str(Path(HOME) / "s.ini"), QSettings.Format.IniFormat))
        self.window.show()
        Preloading(self.window).follow(self.session)

    def _on_error(self, kind: type[BaseException], error: BaseException, trace: Any) -> None:
        text = "".join(traceback.format_exception(kind, error, trace))
        if text not in self.faults:
            print(f"--- after {self.last}\n{text}", flush=True)
        self.faults[text] += 1

    def _on_message(self, _kind: object, _where: object, text: str) -> None:
        if "This plugin does not support" not in text:
            if text not in self.faults:
                print(f"--- after {self.last}: Qt says {text}", flush=True)
            self.faults[text] += 1

    # --- events

    def widget(self) -> QWidget:
        """Some widget that is in sight: often the mat or something of the panel."""
        stage = self.window.stage
        if self.chance.random() < 0.25:
            return self.chance.choice((stage.mat, stage.strip, stage.bar.scrubber))
        panel = self.window.panel(self.session.looking.stop)
        inside = [each for each in panel.findChildren(QWidget) if each.isVisible()]
        if inside and self.chance.random() < 0.8:
            return self.chance.choice(inside)
        every = [each for each in self.window.findChildren(QWidget) if each.isVisible()]
        return self.chance.choice(every)

    def place(self, widget: QWidget) -> QPointF:
        return QPointF(self.chance.random() * widget.width(), self.chance.random() * widget.height())

    def mouse(self, widget: QWidget, kind: QEvent.Type, at: QPointF, button: Any, held: Any, keys: Any) -> None:
        # It may have been taken down by what came before.
        if isValid(widget):
            self.app.sendEvent(widget, QMouseEvent(kind, at, widget.mapToGlobal(at), button, held, keys))

    def click(self) -> None:
        widget = self.widget()
        at, keys = self.place(widget), self.chance.choice(MODIFIERS)
        button = Qt.MouseButton.LeftButton if self.chance.random() < 0.9 else Qt.MouseButton.RightButton
        self.last = f"click on {named(widget)}"
        self.mouse(widget, QEvent.Type.MouseButtonPress, at, button, button, keys)
        self.mouse(widget, QEvent.Type.MouseButtonRelease, at, button, Qt.MouseButton.NoButton, keys)
        if self.chance.random() < 0.1:
            self.mouse(widget, QEvent.Type.MouseButtonDblClick, at, button, button, keys)

    def drag(self) -> None:
        widget, keys, left = self.widget(), self.chance.choice(MODIFIERS), Qt.MouseButton.LeftButton
        at = self.place(widget)
        self.last = f"drag on {named(widget)}"
        self.mouse(widget, QEvent.Type.MouseButtonPress, at, left, left, keys)
        for _ in range(self.chance.randint(1, 6)):
            if not isValid(widget):
                return
            at = self.place(widget) * self.chance.choice((1.0, 1.0, 1.3)) - QPointF(5.0, 5.0)
            self.mouse(widget, QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, left, keys)
            self.live()
        self.mouse(widget, QEvent.Type.MouseButtonRelease, at, left, Qt.MouseButton.NoButton, keys)

    def hover(self) -> None:
        widget, none = self.widget(), Qt.MouseButton.NoButton
        self.last = f"hover over {type(widget).__name__}"
        self.mouse(widget, QEvent.Type.MouseMove, self.place(widget), none, none, Qt.KeyboardModifier.NoModifier)

    def wheel(self) -> None:
        widget = self.widget()
        at, turned = self.place(widget), QPoint(0, self.chance.choice((-360, -120, 120, 360)))
        keys = self.chance.choice(MODIFIERS)
        self.last = f"wheel on {type(widget).__name__}"
        no, phase = Qt.MouseButton.NoButton, Qt.ScrollPhase.NoScrollPhase
        self.app.sendEvent(widget, QWheelEvent(at, widget.mapToGlobal(at), QPoint(), turned, no, keys, phase, False))

    def key(self) -> None:
        if self.chance.random() < 0.3:
            self.widget().setFocus()
        focused = QApplication.focusWidget() or self.window
        key, keys = self.chance.choice(KEYS), self.chance.choice(MODIFIERS)
        if keys & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_Q:
            return
        name = Qt.Key(key).name.removeprefix("Key_")
        text = TEXTS.get(key, name.lower() if len(name) == 1 else "")
        self.last = f"key {keys} {name} on {named(focused)}"
        for kind in (QEvent.Type.ShortcutOverride, QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            event = QKeyEvent(kind, key, keys, text)
            self.app.sendEvent(focused, event)
            focused = QApplication.focusWidget() or self.window

    def action(self) -> None:
        named = self.window.actions_of.named
        name = self.chance.choice([each for each in named if each not in LEFT_OUT])
        self.last = f"action {name}"
        if named[name].isEnabled():
            named[name].trigger()

    def stop(self) -> None:
        stop = self.chance.choice(STOPS)
        self.last = f"stop {stop}"
        self.session.looking.go_to(stop)
        panel = self.window.panel(stop)
        if isinstance(panel, SheetedPanel):
            sheet = self.chance.choice(panel.there)
            self.last += f" {sheet}"
            panel.turn_to(sheet)

    def undo(self) -> None:
        self.last = "undo or redo"
        self.window.actions_of.named["undo" if self.chance.random() < 0.7 else "redo"].trigger()

    def demo(self) -> None:
        name = self.chance.choice(tuple(DEMOS))
        self.last = f"demo {name}"
        self.window.actions_of.named[f"demo {name}"].trigger()

    def take_in(self) -> None:
        """Open a drawing or a picture, whole or harmed, or paste a picture of what is in sight."""
        if self.chance.random() < 0.2:
            self.last = "copy and paste"
            self.window.exchange.copy_focused()
            self.window.exchange.paste()
            return
        kind, suffix = self.chance.choice((("drawing", "svg"), ("picture", "png"), ("project", "irontrail")))
        path = Path(HOME) / f"given.{suffix}"
        path.write_bytes(KINDS[kind][0](Mutating(self.chance.randrange(10_000))))
        self.last = f"open a {kind}"
        # Making it is none of the window's time.
        self.watch()
        self.window.take_in(path)

    def resize(self) -> None:
        wide, high = self.chance.randint(948, 1800), self.chance.randint(500, 1100)
        self.last = f"resize {wide} x {high}"
        self.window.resize(wide, high)

    def work(self) -> None:
        """Begin long work, or call it off."""
        working = [each for each in self.window.findChildren(WorkingPanel) if each.isVisible()]
        buttons = [each.button for each in working]
        buttons += [
            each
            for each in self.window.findChildren(QPushButton)
            if each.isVisible() and each.property("start") == "true" and each.isEnabled()
        ]
        if buttons:
            button = self.chance.choice(buttons)
            self.last = f"work {button.text()}"
            button.click()

    def watch(self) -> None:
        """From now on the window may stand still."""
        self.since, self.worked, self.queued = time.perf_counter(), time.thread_time(), queued_s()
        self.lent, self.together = lent_s(), time.process_time()
        if "stacks" in sys.argv:
            faulthandler.dump_traceback_later(FROZEN_S, file=sys.stdout)

    def live(self) -> None:
        self.app.processEvents()
        took, worked = time.perf_counter() - self.since, time.thread_time() - self.worked
        queued, lent, together = queued_s() - self.queued, lent_s() - self.lent, time.process_time() - self.together
        self.watch()
        if took > FROZEN_S:
            self.frozen.append((took, together, self.last))
            of_it = f"{worked:.2f} s at work, {queued:.2f} s waiting for a processor"
            of_it += f", {together:.2f} s at work with all threads, {lent:.2f} s lent"
            print(f"--- stood still for {took:.2f} s, {of_it}, after {self.last}", flush=True)
        # Outside of Qt's own loop, what is to be deleted waits to be asked for.
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def run(self, events: int) -> None:
        acts = (
            [self.click] * 30 + [self.drag] * 16 + [self.key] * 34 + [self.hover] * 8 + [self.wheel] * 5
            + [self.action] * 6 + [self.stop] * 5 + [self.undo] * 4 + [self.demo] + [self.take_in] + [self.resize]
            + [self.work] * 2
        )  # fmt: skip
        begun = time.monotonic()
        for i in range(events):
            self.watch()
            self.chance.choice(acts)()
            self.live()
            if (i + 1) % 2000 == 0:
                print(f"{i + 1} events in {time.monotonic() - begun:.0f} s", flush=True)
            popup = QApplication.activePopupWidget()
            if popup is not None:
                popup.close()
            for top in QApplication.topLevelWidgets():
                if top is not self.window and top.isVisible():
                    top.close()


def queued_s() -> float:
    """How long this thread has waited for a processor, s; 0 where the system does not tell."""
    try:
        return int(Path(f"/proc/self/task/{get_native_id()}/schedstat").read_text().split()[1]) / 1e9
    except OSError:
        return 0.0


def lent_s() -> float:
    """How long the machine's processors, taken together, have been lent to others, s; 0 where it does not tell."""
    try:
        return int(Path("/proc/stat").read_text().split(maxsplit=9)[8]) / os.sysconf("SC_CLK_TCK")
    except (OSError, IndexError):
        return 0.0


def named(widget: QWidget) -> str:
    """A widget as it is told of here."""
    words = widget.text() if isinstance(widget, QAbstractButton) else widget.accessibleName()
    return f"{type(widget).__name__} {words[:40]!r}"


def main() -> int:
    """Hunt, and say what was caught; 1 if anything was."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    for folder in ("STATE", "CONFIG", "DATA"):
        os.environ[f"XDG_{folder}_HOME"] = HOME
    faulthandler.enable()
    # As in the program itself.
    sys.setswitchinterval(SWITCH_S)
    seed, events = int(sys.argv[1]), int(sys.argv[2])
    answers = (QMessageBox.StandardButton.Discard, QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save)
    chance = random.Random(seed)
    with (
        mock.patch.object(QMessageBox, "exec", lambda _box: chance.choice(answers)),
        mock.patch.object(QFileDialog, "getOpenFileName", lambda *_: ("", "")),
        mock.patch.object(
            QFileDialog, "getSaveFileName", lambda *_: (chance.choice(("", str(Path(HOME) / "saved"))), "")
        ),
        mock.patch.object(QMenu, "exec", lambda *_: None),
        mock.patch("irontrail.app.printing.ask"),
    ):
        hunt = Hunt(seed)
        hunt.run(events)
        hunt.session.document.mark_saved(hunt.session.project)
        hunt.window.close()
    as_long = sum(together > FROZEN_S for _, together, _ in hunt.frozen)
    still = f"{len(hunt.frozen)} times still for half a second, {as_long} of them at work for as long"
    print(f"seed {seed}: {events} events, {len(hunt.faults)} faults, {still}")
    return 1 if hunt.faults or hunt.frozen else 0


if __name__ == "__main__":
    sys.exit(main())
