"""The window: puts the parts together."""

from PySide6.QtCore import QSettings, Qt
from PySide6.QtGui import QCloseEvent, QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from irontrail import __version__
from irontrail.app import panel, theme
from irontrail.app.actions import Actions, WindowActs
from irontrail.app.files_desk import FilesDesk
from irontrail.app.looking import STOPS
from irontrail.app.panel import Panel
from irontrail.app.readiness import readiness
from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stage import Stage
from irontrail.app.stops import make_panel
from irontrail.app.widgets.key_sheet import KeySheet
from irontrail.app.widgets.work_line import WorkLine
from irontrail.core.steering.registry import LAW_NAMES

THEMES = {"light": theme.LIGHT, "dark": theme.DARK}


class Window(QMainWindow):
    """One project's window."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session = session
        self._settings = settings
        self.theme = theme.worn(THEMES.get(str(settings.value("theme", "light")), theme.LIGHT))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.files = FilesDesk(self, session, settings)
        self.stage = Stage(session, self.theme)
        self.line = WorkLine(STOPS, self.theme)
        self.panels: dict[str, Panel] = {}
        self.areas: dict[str, QScrollArea] = {}
        self._stack = QStackedWidget()
        self.notice = _Notice()
        acts = WindowActs(
            self.close, self.other_law, self.next_sheet, self.swap_axis, self.wear, self.show_keys, self.show_about
        )
        self.actions_of = Actions(self, session, self.stage, self.files, acts)
        self._top = _TopBar(self.actions_of, self.theme)
        self.setMenuWidget(self._top)
        self._lay_out()
        self._join()
        self.resize(1280, 800)
        self.wear(self.theme.name)
        session.looking.go_to(session.looking.stop)
        self.stage.mat.setFocus()

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
        self._stack.setFixedWidth(panel.WIDTH)
        row.addWidget(self._stack)
        self.setCentralWidget(whole)
        for stop in STOPS:
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self._stack.addWidget(area)
            self.areas[stop] = area

    def panel(self, stop: str) -> Panel:
        """The panel of a stop, made when it is first asked for, so that the window opens sooner."""
        if stop not in self.panels:
            self.panels[stop] = make_panel(stop, self.session, self.theme)
            self.areas[stop].setWidget(self.panels[stop])
        return self.panels[stop]

    def _join(self) -> None:
        session = self.session
        session.project_changed.connect(self._on_project)
        session.view_changed.connect(self._on_view)
        session.path_changed.connect(self._show_title)
        session.looking.stop_changed.connect(self._on_stop)
        session.noticed.connect(self.notice.say)
        self.stage.moment.connect(self._on_moment)
        self.line.chosen.connect(session.looking.go_to)

    # --- acting

    def wear(self, name: str) -> None:
        """Change the theme of everything."""
        self.theme.wear(THEMES[name])
        self._settings.setValue("theme", name)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            theme.apply(app, self.theme)
        self.actions_of.named[f"theme {name}"].setChecked(True)
        self._show_title()

    def other_law(self) -> None:
        """Go on to the next law."""
        place = LAW_NAMES.index(self.session.setup.program.law)
        self.session.choose_law(LAW_NAMES[(place + 1) % len(LAW_NAMES)])

    def next_sheet(self) -> None:
        """Turn to the next sheet of the stop, if it has several."""
        shown = self.panel(self.session.looking.stop)
        if isinstance(shown, SheetedPanel):
            shown.turn_on()

    def swap_axis(self) -> None:
        """Lay the strip out the other way: by place or by time."""
        self.stage.set_by_place(not self.session.looking.by_place)
        self.actions_of.named["axis"].setChecked(not self.session.looking.by_place)

    def show_keys(self) -> None:
        """Show every key, beside the work."""
        KeySheet(self, self.actions_of.named.values()).show()

    def show_about(self) -> None:
        """Say what this is."""
        self.session.notice(
            f"Iron Trail {__version__}: model a line-following robot, see why it swings, tune it, "
            "and carry the numbers to the real one."
        )

    # --- following

    def _on_project(self, _old: object, _new: object) -> None:
        self.actions_of.show_history()
        self._show_title()

    def _on_view(self) -> None:
        self.line.set_states(readiness(self.session))
        self._on_moment(self.stage.row_at(self.session.playback.time_s))

    def _on_stop(self, stop: str) -> None:
        self.panel(stop)
        self._stack.setCurrentIndex(STOPS.index(stop))
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

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.files.leave():
            event.ignore()
            return
        self.session.close()
        super().closeEvent(event)


class _TopBar(QWidget):
    """Menus at the left, the project's name in the middle, its state at the right."""

    def __init__(self, actions: Actions, made: theme.Theme) -> None:
        super().__init__()
        self._theme = made
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 14, 1)
        row.addWidget(actions.bar)
        row.addStretch(1)
        self.state = QLabel()
        self.state.setProperty("role", "quiet")
        row.addWidget(self.state)
        self.name = QLabel(self)
        self.name.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.name.setFont(theme.font(12, True))
        self.name.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def set_words(self, name: str, state: str) -> None:
        """Show the project's name and state."""
        self.name.setText(name)
        self.state.setText(state)
        self._place()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()
        super().resizeEvent(event)

    def _place(self) -> None:
        width = min(self.name.sizeHint().width() + 8, max(self.width() - 720, 120))
        self.name.setGeometry((self.width() - width) // 2, 0, width, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._theme.sheet))
        painter.setPen(QColor(self._theme.rule))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)


class _Notice(QFrame):
    """A line over the mat that says what went wrong, until it is put away."""

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "notice")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 6, 10, 6)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        away = QPushButton("Close")
        away.clicked.connect(self.hide)
        row.addWidget(self.words, 1)
        row.addWidget(away)
        self.hide()

    def say(self, text: str) -> None:
        """Show a text."""
        self.words.setText(text)
        self.words.setAccessibleName(text)
        self.show()
