"""The window: puts the parts together."""

from pathlib import Path

from PySide6.QtCore import QEvent, QSettings, QSize, Qt
from PySide6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeyEvent,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QVBoxLayout,
    QWidget,
)

from irontrail import __version__
from irontrail.app import printing
from irontrail.app.actions import Actions, WindowActs
from irontrail.app.exchange import Exchange
from irontrail.app.files_desk import FilesDesk
from irontrail.app.focus_keys import takes_key
from irontrail.app.left_behind import LeftBehind
from irontrail.app.looking import STOPS
from irontrail.app.looks import SYSTEM, Looks
from irontrail.app.panel import Panel
from irontrail.app.panel_stack import PanelStack
from irontrail.app.readiness import readiness
from irontrail.app.safekeeping import Safekeeping
from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stage import Stage
from irontrail.app.theme import dress
from irontrail.app.top_bar import TopBar
from irontrail.app.widgets.key_sheet import KeySheet
from irontrail.app.widgets.notice import Notice
from irontrail.app.widgets.work_line import WorkLine
from irontrail.core.steering.registry import LAW_NAMES

USUAL_SIZE = QSize(1280, 800)


class Window(QMainWindow):
    """One project's window."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session = session
        self.looks = Looks(settings)
        self.theme = self.looks.theme
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAcceptDrops(True)
        self.keeping = Safekeeping(session, self)
        self.files = FilesDesk(self, session, settings)
        self.stage = Stage(session, self.theme)
        self.line = WorkLine(STOPS, self.theme)
        self.stack = PanelStack(session, self.theme)
        self._keys: KeySheet | None = None
        self._left = False
        self.notice = Notice()
        self.left_behind = LeftBehind(self.files, self.keeping, self.notice)
        self.exchange = Exchange(
            session, self.stage, self.files.open, self._mat_files, lambda: self.panel(session.looking.stop)
        )
        acts = WindowActs(
            self.close, self.other_law, self.turn_sheet, self.ask_print, self.exchange.copy_focused,
            self.exchange.fill_copies, self.exchange.paste, self.full_screen, self.swap_axis, self.wear, self.show_keys,
            self.show_about,
        )  # fmt: skip
        self.actions_of = Actions(self, session, self.stage, self.files, acts)
        self._top = TopBar(self.actions_of, self.theme)
        self.setMenuWidget(self._top)
        self._lay_out()
        self._join()
        self.resize(self._usual_size())
        self.wear(self.looks.name)
        QGuiApplication.styleHints().colorSchemeChanged.connect(self._on_scheme)
        self.looks.take_up(self, session.looking)
        session.looking.go_to(session.looking.stop)
        self.stage.mat.setFocus()

    def _usual_size(self) -> QSize:
        """As large as on a first start, and no larger than the screen where it fits on that at all."""
        room, least = self.screen().availableSize(), self.minimumSizeHint()
        fits = room.width() >= least.width() and room.height() >= least.height()
        return USUAL_SIZE.boundedTo(room) if fits else USUAL_SIZE

    def _lay_out(self) -> None:
        middle = QWidget()
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.notice)
        column.addWidget(self.stage, 1)
        whole = QWidget()
        row = QHBoxLayout(whole)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.line)
        row.addWidget(middle, 1)
        row.addWidget(self.stack)
        self.setCentralWidget(whole)

    def panel(self, stop: str) -> SheetedPanel:
        """The panel of a stop."""
        return self.stack.panel(stop)

    def _join(self) -> None:
        session = self.session
        session.project_changed.connect(self._on_project)
        session.view_changed.connect(self._on_view)
        session.path_changed.connect(self._show_title)
        session.opened.connect(self._on_opened)
        session.looking.stop_changed.connect(self._on_stop)
        session.noticed.connect(self.notice.say)
        session.offered.connect(self.notice.ask)
        self.stage.moment.connect(self._on_moment)
        self.line.chosen.connect(session.looking.go_to)

    # --- acting

    def wear(self, name: str) -> None:
        """Change the theme of everything; "system" is light or dark as the desktop is, and follows it."""
        self.looks.wear(name)
        for part in (self._top, self.line, self.notice, self.stage, *([self._keys] if self._keys else [])):
            dress(part)
        self.stack.wear()
        self.actions_of.named[f"theme {name}"].setChecked(True)
        self._show_title()

    def _on_scheme(self) -> None:
        if self.looks.name == SYSTEM:
            self.wear(SYSTEM)

    def other_law(self) -> None:
        """Go on to the next law."""
        place = LAW_NAMES.index(self.session.setup.program.law)
        self.session.choose_law(LAW_NAMES[(place + 1) % len(LAW_NAMES)])

    def turn_sheet(self, by: int) -> None:
        """Turn to another sheet of the stop, if it has several."""
        self.panel(self.session.looking.stop).turn_on(by)

    def ask_print(self) -> None:
        """Ask for a printer for what is in sight, if it is something to print, else for the mat."""
        shown = self.panel(self.session.looking.stop).in_sight
        if shown.PRINTS:
            printing.ask(self, shown.PRINTS, shown.print_on)
        else:
            printing.ask(self, "the mat", self.files.print_mat)

    def full_screen(self) -> None:
        """Fill the whole screen, or be a window again."""
        self.setWindowState(self.windowState() ^ Qt.WindowState.WindowFullScreen)

    def changeEvent(self, event: QEvent) -> None:
        if event.type() == QEvent.Type.WindowStateChange:
            self.actions_of.named["full screen"].setChecked(self.isFullScreen())
        super().changeEvent(event)

    def swap_axis(self) -> None:
        """Lay the strip out the other way: by place or by time."""
        self.stage.set_by_place(not self.session.looking.by_place)
        self.actions_of.named["axis"].setChecked(not self.session.looking.by_place)

    def show_keys(self) -> None:
        """Show every key, beside the work; the sheet is made once, of some 250 labels."""
        if self._keys is None:
            self._keys = KeySheet(self, self.actions_of.named.values())
        self._keys.show()
        self._keys.raise_()
        self._keys.activateWindow()

    def show_about(self) -> None:
        """Say what this is."""
        self.session.notice(
            f"Iron Trail {__version__}: model a line-following robot, see why it swings, tune it, "
            "and carry the numbers to the real one."
        )

    # --- following

    def _on_project(self, _old: object, _new: object) -> None:
        self.notice.go_on()
        self.actions_of.show_history()
        self._show_title()

    def _on_opened(self) -> None:
        self.stack.forget()
        self.session.lent.lend(None)
        self.session.lent.lay_under(None)
        self.notice.forget_project()
        self._on_stop(self.session.looking.stop)

    def _on_view(self) -> None:
        self.line.set_states(readiness(self.session))
        self._on_moment(self.stage.row_at(self.session.playback.time_s))

    def _on_stop(self, stop: str) -> None:
        self.stack.go_to(stop)
        self.line.set_current(stop)
        self.line.set_states(readiness(self.session))

    def _on_moment(self, row: int) -> None:
        if self.session.view is not None:
            self.panel(self.session.looking.stop).show_now(row)

    def _show_title(self) -> None:
        session = self.session
        saved = session.document.is_saved
        state = ("saved" if session.path else "demo") if saved else "changed"
        self._top.set_words(session.setup.title, state)
        name = session.path.name if session.path else session.setup.title
        self.setWindowTitle(f"{name}{'' if saved else ' *'} — Iron Trail")

    def take_in(self, path: Path) -> None:
        """Come to sight, and open a file that the desktop gives."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.raise_()
        self.activateWindow()
        self.exchange.take_in(path)

    def _mat_files(self) -> Panel:
        """The sheet that takes pictures and drawings in, brought to sight."""
        self.session.looking.sheets["Mat"] = "Files"
        self.session.looking.go_to("Mat")
        mat = self.panel("Mat")
        mat.turn_to("Files")
        return mat.sheet("Files")

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self.exchange.takes(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        if self.exchange.takes(event.mimeData()):
            event.acceptProposedAction()
            self.exchange.take_dropped(event.mimeData())

    def leave_now(self) -> None:
        """End without a question, as there is no time for one: what is not saved is left behind for the next start."""
        self.files.gather()
        self.session.keep_all(wait=True)
        self.looks.remember(self, self.session.looking, self.session.path)
        self.keeping.now()
        self.keeping.close(leave_behind=not self.session.document.is_saved)
        self._left = True
        self.session.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._left:
            if not self.files.leave():
                event.ignore()
                return
            self.looks.remember(self, self.session.looking, self.session.path)
            self.keeping.close(leave_behind=False)
            self.session.close()
        super().closeEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Esc puts the notice away; Return presses the button that has the focus."""
        focused = QApplication.focusWidget()
        if event.key() == Qt.Key.Key_Escape and self.notice.isVisible():
            self.notice.hide()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and isinstance(focused, QAbstractButton):
            focused.click()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        """A key that whatever has the focus takes is not a shortcut; coming back, the file is looked at."""
        if event.type() == QEvent.Type.WindowActivate:
            self.files.look_at_disk()
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            focused = QApplication.focusWidget()
            if focused is not None and takes_key(focused, event):
                event.accept()
                return True
        return super().event(event)
