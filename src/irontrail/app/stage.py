"""The middle of the window, which never leaves: the mat, playing, the strip; joined to the session here."""

from dataclasses import replace

import numpy as np
from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from irontrail.app.lane_choice import LaneChoice
from irontrail.app.mat_timing import MatTiming
from irontrail.app.moments import close_up_at, robot_at, row_at
from irontrail.app.pictures import marks_of, pins_of, sentence_number, strip_picture, trail_of
from irontrail.app.playback import RATES
from irontrail.app.run_pictures import RunPictures
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.close_view import CloseView
from irontrail.app.widgets.mat_ground import Underlay
from irontrail.app.widgets.mat_scene import Scene
from irontrail.app.widgets.mat_tools import MatTools
from irontrail.app.widgets.mat_view import MatView
from irontrail.app.widgets.playback_bar import OUTCOME_LABELS, PlaybackBar
from irontrail.app.widgets.strip import USUAL_HEIGHT, Strip
from irontrail.app.widgets.strip_picture import lane_of
from irontrail.app.widgets.trail_picture import ROW_TOP
from irontrail.app.widgets.trail_shade import SHADES
from irontrail.core import derive
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import quantities
from irontrail.core.setup import Pull

STRIP_SHARE, LEAST_STRIP = 0.42, 150
WAITING = "Setting the robot down …"
PREPARING = "Compiling the engine, once: about a minute …"


class Stage(QWidget):
    """Mat, playback bar and strip; says `moment(row)` when another moment of the run is shown."""

    moment = Signal(int)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self.mat = MatView(theme)
        self.bar = PlaybackBar(theme)
        self.strip = Strip(theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.mat, 1)
        column.addWidget(self.bar)
        column.addWidget(self.strip)
        self.tools = MatTools(self.mat)
        self.tools.move(14, ROW_TOP)
        self.close_up = CloseView(theme, self.mat)
        self.lanes = LaneChoice(session, self.strip)
        self.shade = "plain"
        self._made = RunPictures()
        self.timing = MatTiming(session, self.mat, self.strip, self._scene_without_run)
        self._join()
        self.timing.show_mat()
        self.mat.set_words(PREPARING if session.preparing else WAITING)

    def _join(self) -> None:
        session, playback, bar = self.session, self.session.playback, self.bar
        session.view_changed.connect(self.show_view)
        session.preparing_changed.connect(lambda preparing: self.mat.set_words(PREPARING if preparing else WAITING))
        session.looking.luck_changed.connect(self.show_view)
        session.adviser.changed.connect(self._show_pins)
        session.looking.stop_changed.connect(lambda _stop: self._show_pins())
        session.looking.row_asked.connect(self._seek_row)
        session.lent.hand_changed.connect(self.mat.set_hand)
        session.lent.underlay_changed.connect(self.show_view)
        playback.moved.connect(self._on_moved)
        self.strip.glanced.connect(self._on_glanced)
        self.mat.glanced.connect(self._on_glanced)
        self.strip.stepped.connect(self.step)
        self.lanes.changed.connect(self.show_view)
        self.tools.shaded.connect(self.set_shade)
        self.tools.close_asked.connect(self.set_close_up)
        self.tools.follow_asked.connect(self.mat.set_following)
        self.tools.whole_asked.connect(self.mat.fit)
        self.mat.follow_changed.connect(self.tools.follow.setChecked)
        playback.changed.connect(self._show_playing)
        self.mat.sought.connect(self._seek_row)
        self.mat.robot_hand.pulled.connect(self._on_pulled)
        self.strip.sought.connect(self._seek_row)
        bar.scrubber.sought.connect(playback.seek)
        bar.scrubber.stepped.connect(self.step)
        bar.play.clicked.connect(playback.toggle)
        bar.back.clicked.connect(lambda: self.step(-1))
        bar.forward.clicked.connect(lambda: self.step(1))
        bar.rate.clicked.connect(self._choose_rate)
        bar.keep.clicked.connect(session.keep)
        self._show_playing()

    # --- acting

    def step(self, loops: int) -> None:
        """Move the playhead by some loops of the program."""
        self.session.playback.step(loops * self.session.setup.program.loop_time_s)

    def set_by_place(self, by_place: bool) -> None:
        """Lay the strip out by place, or by time."""
        self.session.looking.by_place = by_place
        self.show_view()

    def set_shade(self, name: str) -> None:
        """Colour the trail by something else."""
        self.shade = name
        self.tools.set_shade(name)
        self.show_view()

    def next_shade(self) -> None:
        """Colour the trail by the next thing."""
        names = list(SHADES)
        self.set_shade(names[(names.index(self.shade) + 1) % len(names)])

    def set_close_up(self, shown: bool) -> None:
        """Show or hide the robot close up, in the mat's corner."""
        self.tools.close_up.setChecked(shown)
        self.close_up.setVisible(shown)
        if shown:
            self.close_up.raise_()
            self._place_close_up()
            self.show_view()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        # Where the window is low, the mat and the strip share what there is.
        self.strip.setFixedHeight(min(USUAL_HEIGHT, max(int(STRIP_SHARE * self.height()), LEAST_STRIP)))
        self.tools.adjustSize()
        self._place_close_up()
        self.lanes.adjustSize()
        self.lanes.move(10, self.strip.height() - self.lanes.height() - 1)

    def _place_close_up(self) -> None:
        self.close_up.move(
            self.mat.width() - self.close_up.width() - 22, self.mat.height() - self.close_up.height() - 24
        )

    def _seek_row(self, row: int) -> None:
        if self.session.view is not None:
            times = self.session.view.run.trace.time_s
            self.session.playback.pause()
            self.session.playback.seek(float(times[min(row, times.size - 1)]))

    def _choose_rate(self) -> None:
        menu = QMenu(self)
        for rate in RATES:
            action = menu.addAction(f"{rate:g}×")
            action.setCheckable(True)
            action.setChecked(rate == self.session.playback.rate)
            action.triggered.connect(lambda _checked=False, rate=rate: self.session.playback.set_rate(rate))
        menu.popup(self.bar.rate.mapToGlobal(self.bar.rate.rect().bottomLeft()))

    # --- showing

    def _scene_without_run(self) -> Scene:
        """The newest mat, with the trails that were shown on it last."""
        session, setup, scene = self.session, self.session.setup, self.mat.scene
        marks, underlay = marks_of(setup, derive.route(setup.mat, setup.trial.reverse)), self._underlay(setup.mat)
        if session.view is None or scene is None or scene.mat.name != setup.mat.name:
            return Scene(setup.mat, marks, None, "", (), underlay=underlay)
        tries = self._made.tries(session.looking.luck, setup.mat)
        return replace(scene, mat=setup.mat, marks=marks, trouble="", tries=tries, underlay=underlay)

    def show_view(self) -> None:
        """Show the newest run everywhere."""
        session, view = self.session, self.session.view
        if view is None:
            return
        self.mat.set_words("")
        self.timing.run_comes(view.setup.mat)
        setup, run, kept = view.setup, view.run, self._made.kept(view, self.lanes.names)
        self.mat.set_scene(
            Scene(
                mat=setup.mat,
                marks=marks_of(setup, run.route),
                trail=trail_of(setup, run),
                trouble="" if run.outcome == "finished" else OUTCOME_LABELS[run.outcome].removesuffix(" after"),
                kept=tuple(trail for trail, _ in kept),
                tries=self._made.tries(session.looking.luck, session.setup.mat),
                shade=make_shade(run.trace) if (make_shade := SHADES[self.shade]) is not None else None,
                underlay=self._underlay(setup.mat),
                buttons_to=float(self.tools.geometry().right()),
            )
        )
        lanes = tuple(lane_of(name, view.run.sensors, setup.program.astride) for name in self.lanes.names)
        self.strip.set_picture(strip_picture(view, tuple(run for _, run in kept), self.session.looking.by_place, lanes))
        if self.close_up.isVisible():
            spot = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
            self.close_up.set_ground(setup.robot, spot, setup.mat)
        self.bar.show_figures(view.figures, view.kept[-1].kept.figures if view.kept else None)
        self._show_moment(self.session.playback.time_s)

    def _underlay(self, mat: Mat) -> Underlay | None:
        underlay = self.session.lent.underlay
        return underlay if underlay is not None and underlay.mat_name == mat.name else None

    def _show_pins(self) -> None:
        """The findings' numbers at their places, while they are looked at."""
        advice, view, session = self.session.adviser.advice, self.session.view, self.session
        looked_at = session.looking.stop == "Run" and session.looking.sheets.get("Run") == "Findings"
        if not looked_at or advice is None or view is None or not advice.findings or advice.request.setup != view.setup:
            self.mat.set_pins(())
            return
        self.mat.set_pins(pins_of(view, advice.findings))

    def row_at(self, time_s: float) -> int:
        """The row of the trace at a time."""
        view = self.session.view
        return row_at(view, time_s) if view is not None else 0

    def _on_glanced(self, row: int) -> None:
        """Show the moment under the pointer everywhere, without moving the playhead; -1 goes back to it."""
        view, playback = self.session.view, self.session.playback
        if view is None or playback.playing:
            return
        last = len(view.run.trace) - 1
        self._show_moment(float(view.run.trace.time_s[min(row, last)]) if row >= 0 else playback.time_s)

    def _on_moved(self, time_s: float) -> None:
        # While another run is on its way, the moment is shown with that.
        if self.session.idle or not self.session.playback.playing:
            self._show_moment(time_s)

    def _show_moment(self, time_s: float) -> None:
        """Mat, strip, close view and panel at one moment of the run; the playhead itself stays with the bar."""
        view = self.session.view
        if view is None:
            return
        row = row_at(view, time_s)
        rule = str(sentence_number(view.setup.program, view.run.trace, row))
        self.mat.set_robot(robot_at(view, time_s, rule))
        self.strip.set_cursor(row)
        playback = self.session.playback
        self.bar.scrubber.set_time(playback.time_s, playback.duration_s)
        # Its last loop begins before the run's end, and goes on beyond it.
        self.bar.time.set_time(min(time_s, view.run.time_s), view.run.time_s)
        if self.close_up.isVisible():
            self.close_up.set_moment(close_up_at(view, time_s))
        self.moment.emit(row)

    def _on_pulled(self, x_mm: float, y_mm: float, heading: float, settled: bool) -> None:
        """A hand drags the robot: the run goes on from where it is, and is watched once it is let go."""
        view, playback = self.session.view, self.session.playback
        if view is None:
            return
        playback.pause()
        time_s = float(view.run.trace.time_s[self.row_at(playback.time_s)])
        playback.seek(time_s)
        ranges = quantities(Pull)
        self.session.pull(
            Pull(time_s, ranges["x_mm"].clamped(x_mm), ranges["y_mm"].clamped(y_mm), float(np.degrees(heading)) % 360.0)
        )
        if settled:
            self.session.settle()
            playback.play()

    def _show_playing(self) -> None:
        playback = self.session.playback
        playing = playback.playing
        self.bar.play.set_sign("pause" if playing else "play", "Pause (Space)" if playing else "Play (Space)")
        self.bar.rate.setText(f"{playback.rate:g}×")
