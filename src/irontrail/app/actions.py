"""The menus: every action with its shortcut, joined to what it does."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMenu, QMenuBar, QWidget

from irontrail.app.files_desk import FilesDesk
from irontrail.app.looking import STOPS
from irontrail.app.session import Session
from irontrail.app.stage import Stage
from irontrail.app.widgets.figure_editor import take_typed
from irontrail.core.capital import capital
from irontrail.core.demos import DEMOS


@dataclass(frozen=True)
class WindowActs:
    """What only the window itself can do."""

    close: Callable[[], object]
    other_law: Callable[[], object]
    turn_sheet: Callable[[int], object]
    ask_print: Callable[[], object]
    copy_picture: Callable[[], object]
    fill_copies: Callable[[QMenu], object]
    paste_picture: Callable[[], object]
    full_screen: Callable[[], object]
    swap_axis: Callable[[], object]
    wear: Callable[[str], object]
    show_keys: Callable[[], object]
    show_about: Callable[[], object]


class Actions:
    """All actions by name, the menu bar that holds them, and the widget that their keys work in."""

    def __init__(self, holder: QWidget, session: Session, stage: Stage, files: FilesDesk, acts: WindowActs) -> None:
        self._holder, self._session, self._stage, self._files, self._acts = holder, session, stage, files, acts
        self.named: dict[str, QAction] = {}
        self.bar = QMenuBar()
        self._fill_file(self.bar.addMenu("&File"))
        self._fill_edit(self.bar.addMenu("&Edit"))
        self._fill_view(self.bar.addMenu("&View"))
        self._fill_run(self.bar.addMenu("&Run"))
        self._fill_help(self.bar.addMenu("&Help"))
        self.show_history()

    def add(
        self, menu: QMenu, name: str, text: str, act: Callable[[], object], keys: str | QKeySequence.StandardKey = ""
    ) -> QAction:
        """One action; its shortcut works anywhere in the window but while a figure is typed.

        Triggered while one is, as by what reads the screen, it takes that first: it is of what is chosen until then.
        """
        action = QAction(text, self._holder)
        if keys:
            action.setShortcut(QKeySequence(keys))

        def do() -> None:
            take_typed(self._holder)
            act()

        action.triggered.connect(lambda _checked=False: do())
        menu.addAction(action)
        self._holder.addAction(action)
        self.named[name] = action
        return action

    def _fill_file(self, menu: QMenu) -> None:
        files = self._files
        demos = menu.addMenu("Open &Demo")
        for name, demo in DEMOS.items():
            self.add(demos, f"demo {name}", demo.title, partial(files.open_demo, name))
        self.add(menu, "new", "&New", files.new, QKeySequence.StandardKey.New)
        self.add(menu, "open", "&Open …", files.ask_open, QKeySequence.StandardKey.Open)
        self.recent = menu.addMenu("Open &Recent")
        self.recent.aboutToShow.connect(lambda: files.fill_recent(self.recent))
        menu.addSeparator()
        self.add(menu, "save", "&Save", files.save, QKeySequence.StandardKey.Save)
        self.add(menu, "save as", "Save &As …", files.ask_save_as, "Ctrl+Shift+S")
        self.add(menu, "revert", "&Revert to the File", files.revert)
        menu.addSeparator()
        self.add(menu, "print", "&Print …", self._acts.ask_print, QKeySequence.StandardKey.Print)
        self.add(menu, "trace", "Export &Trace as CSV …", files.ask_trace)
        menu.addSeparator()
        self.add(menu, "quit", "&Quit", self._acts.close, "Ctrl+Q")

    def _fill_edit(self, menu: QMenu) -> None:
        session = self._session
        document = session.document
        self.add(menu, "undo", "&Undo", document.undo, QKeySequence.StandardKey.Undo)
        self.add(menu, "redo", "&Redo", document.redo, "Ctrl+Shift+Z")
        menu.addSeparator()
        self.add(menu, "copy", "&Copy a Picture", self._acts.copy_picture, QKeySequence.StandardKey.Copy)
        copies = menu.addMenu("Copy a Picture &of")
        copies.aboutToShow.connect(lambda: self._acts.fill_copies(copies))
        self.add(menu, "paste", "&Paste a Picture of a Mat", self._acts.paste_picture, QKeySequence.StandardKey.Paste)
        menu.addSeparator()
        self.add(menu, "swap", "Follow the Other &Edge", session.swap_edge, "E")
        self.add(menu, "turn", "&Turn the Direction Round", session.turn_round, "R")
        self.add(menu, "law", "The Next &Law", self._acts.other_law, "L")
        menu.aboutToShow.connect(self.show_history)

    def _fill_view(self, menu: QMenu) -> None:
        stage = self._stage
        mat = stage.mat
        self.add(menu, "fit", "&Whole Mat", mat.fit, "F")
        self.add(menu, "zoom in", "Zoom &In", lambda: mat.zoom(1.25), "Ctrl++")
        self.add(menu, "zoom out", "Zoom &Out", lambda: mat.zoom(0.8), "Ctrl+-")
        follow = self.add(menu, "follow", "&Follow the Robot", lambda: mat.set_following(not mat.following), "G")
        follow.setCheckable(True)
        mat.follow_changed.connect(follow.setChecked)
        close = self.add(
            menu, "close up", "The Robot &Close Up", lambda: stage.set_close_up(not stage.close_up.isVisible()), "W"
        )
        close.setCheckable(True)
        stage.tools.close_asked.connect(close.setChecked)
        self.add(menu, "shade", "&Colour the Trail by the Next", stage.next_shade, "C")
        # The one over the mat: it marks which is chosen.
        menu.addMenu(stage.tools.menu)
        self.named |= {f"shade {name}": action for name, action in stage.tools.actions_of.items()}
        menu.addSeparator()
        self.add(menu, "mark", "&Mark on the Strip", stage.strip.mark, "M")
        lanes = menu.addMenu("Strip &Lanes")
        lanes.aboutToShow.connect(lambda: self._stage.lanes.fill(lanes))
        self.add(menu, "axis", "Strip by &Time", self._acts.swap_axis, "T").setCheckable(True)
        self.add(menu, "strip all", "Strip: Whole Run", stage.strip.show_all, "Shift+F")
        menu.addSeparator()
        themes = menu.addMenu("T&heme")
        for name in ("system", "light", "dark"):
            self.add(themes, f"theme {name}", capital(name), partial(self._acts.wear, name))
        _one_of(themes)
        menu.addSeparator()
        self.add(menu, "full screen", "F&ull Screen", self._acts.full_screen, "F11").setCheckable(True)
        menu.addSeparator()
        self.add(menu, "sheet", "Next &Sheet of the Stop", partial(self._acts.turn_sheet, 1), "Ctrl+PgDown")
        self.add(menu, "sheet before", "The Sheet &Before", partial(self._acts.turn_sheet, -1), "Ctrl+PgUp")
        stops = menu.addMenu("&Stop")
        for i, stop in enumerate(STOPS, 1):
            self.add(stops, f"stop {stop}", stop, partial(self._session.looking.go_to, stop), f"Ctrl+{i}")
        _one_of(stops)
        stops.aboutToShow.connect(lambda: self.named[f"stop {self._session.looking.stop}"].setChecked(True))

    def _fill_run(self, menu: QMenu) -> None:
        playback, stage = self._session.playback, self._stage
        self.add(menu, "play", "&Play or Pause", playback.toggle, "Space")
        self.add(menu, "forward", "Step a Loop &Forward", lambda: stage.step(1), ".")
        self.add(menu, "back", "Step a Loop &Back", lambda: stage.step(-1), ",")
        self.add(menu, "start", "To the &Start", lambda: playback.seek(0.0), "Home")
        self.add(menu, "end", "To the &End", lambda: playback.seek(playback.duration_s), "End")
        menu.addSeparator()
        self.add(menu, "faster", "F&aster", lambda: playback.change_rate(1), "]")
        self.add(menu, "slower", "S&lower", lambda: playback.change_rate(-1), "[")
        loops = self.add(menu, "loops", "&Over and Over", lambda: playback.set_loops(not playback.loops))
        loops.setCheckable(True)
        loops.setChecked(True)
        menu.addSeparator()
        self.add(menu, "keep", "&Keep this Run", self._session.keep, "K")

    def _fill_help(self, menu: QMenu) -> None:
        self.add(menu, "keys", "&Keys", self._acts.show_keys, "F1")
        self.add(menu, "about", "&About Iron Trail", self._acts.show_about)

    def show_history(self) -> None:
        """Say what undo and redo would do, and whether there is anything to do it to."""
        document = self._session.document
        for name, label in (("undo", document.undo_label), ("redo", document.redo_label)):
            action = self.named[name]
            action.setEnabled(label is not None)
            action.setText(f"&{capital(name)}" + (f": {label}" if label else ""))


def _one_of(menu: QMenu) -> None:
    """Of a menu's actions one is chosen at a time."""
    group = QActionGroup(menu)
    for action in menu.actions():
        action.setCheckable(True)
        group.addAction(action)
