"""When the mat is drawn: a changed one together with its run, or without it where that takes long."""

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer

from irontrail.app.pictures import along_strip
from irontrail.app.session import Session
from irontrail.app.widgets.mat_scene import Scene
from irontrail.app.widgets.mat_view import MatView
from irontrail.app.widgets.strip import Strip
from irontrail.core import derive
from irontrail.core.mat.tape import Mat
from irontrail.core.project import Project

# So long what has changed on the mat waits for its run, to be drawn once and with it: painting holds the interpreter's
# lock, which the run would wait for.
SOON_MS = 40
# After so long the computing does without that lock for the most part: the mat can be drawn beside it.
GROUND_MS = 8


class MatTiming(QObject):
    """Has a mat drawn; `without_run` is the newest mat with the trails that were shown on it last."""

    def __init__(self, session: Session, mat: MatView, strip: Strip, without_run: Callable[[], Scene]) -> None:
        super().__init__(mat)
        self._session, self._mat, self._strip, self._without_run = session, mat, strip, without_run
        self.soon = QTimer(self, interval=SOON_MS, singleShot=True)
        self.soon.timeout.connect(self._waited)
        self._ground_soon = QTimer(self, interval=GROUND_MS, singleShot=True)
        self._ground_soon.timeout.connect(self._draw_ahead)
        self._lines_soon = QTimer(self, interval=0, singleShot=True)
        self._lines_soon.timeout.connect(self._take_lines_back)
        session.project_changed.connect(self._on_project)
        mat.hand_changed.connect(self._on_hand)

    def show_mat(self) -> None:
        """Show the mat itself; the run on it follows, and until then the last trail of this mat stays."""
        self.soon.stop()
        setup, view = self._session.setup, self._session.view
        self._mat.set_scene(self._without_run())
        if view is None or view.setup.mat.name != setup.mat.name:
            self._mat.set_robot(None)

    def run_comes(self, mat: Mat) -> None:
        """A run is about to be shown, on this mat."""
        if mat is self._session.setup.mat:
            self.soon.stop()
        else:
            # Another one is dragged on, and what is computed now is its run.
            self._ground_soon.start()

    def _on_project(self, old: Project, new: Project) -> None:
        if old.setup.mat.name != new.setup.mat.name or self._session.view is None:
            self.show_mat()
        elif old.setup.mat is not new.setup.mat:
            self._ground_soon.start()
            self._start_waiting()
        elif old.setup is not new.setup:
            self._lines_soon.start()

    def _on_hand(self) -> None:
        """What a hand draws is drawn with the run that is on its way; at once if there is none."""
        if self._session.idle or self._session.view is None:
            self._mat.update()
        else:
            self._start_waiting()

    def _start_waiting(self) -> None:
        if not self.soon.isActive():
            self.soon.start()

    def _waited(self) -> None:
        """The run takes long: what has changed on the mat is shown without it."""
        scene = self._mat.scene
        if scene is not None and scene.mat is self._session.setup.mat:
            self._mat.update()
        else:
            self.show_mat()

    def _take_lines_back(self) -> None:
        """Take back the lines of the run that is shown, while the next is computed, unless they are to be seen yet."""
        if not self._session.idle and not self._session.playback.playing:
            self._mat.begin_run()
            self._strip.begin_run()

    def _draw_ahead(self) -> None:
        """Draw the ground of the mat whose run is being computed, beside that: it is there when the run is."""
        session = self._session
        view = session.view
        if session.computes_newest and view is not None and view.setup.mat is not session.setup.mat:
            self._mat.draw_ahead(self._without_run())
            setup = session.setup
            self._strip.draw_ahead(*along_strip(derive.route(setup.mat, setup.trial.reverse), derive.start_mm(setup)))
