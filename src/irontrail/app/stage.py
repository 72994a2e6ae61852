"""The middle of the window, which never leaves: the mat, playing, the strip; joined to the session here."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from irontrail.app.playback import RATES
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.view import RunView
from irontrail.app.widgets.mat_ground import Marks
from irontrail.app.widgets.mat_view import MatView, RobotNow, Scene, Trail
from irontrail.app.widgets.playback_bar import PlaybackBar
from irontrail.app.widgets.strip import Strip
from irontrail.app.widgets.strip_picture import LANES, StripPicture, StripRun
from irontrail.core import derive
from irontrail.core.advice.luck import Luck
from irontrail.core.light.sensor import spot_sigma_mm
from irontrail.core.project import KeptRun, Project, Pull, Setup
from irontrail.core.quantity import quantities
from irontrail.core.result import Run
from irontrail.core.steering.program import Program
from irontrail.core.steering.words import deciding, in_words

OUTCOME_LABELS = {
    "finished": "finished in",
    "off-mat": "off the mat after",
    "lost": "line lost after",
    "stuck": "stuck after",
    "time-out": "out of time after",
    "stopped": "stopped itself after",
}
WAITING = "Setting the robot down …"
PREPARING = "Compiling the engine, once: a few seconds …"


class Stage(QWidget):
    """Mat, playback bar and strip."""

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
        self._kept: dict[int, tuple[Trail, StripRun]] = {}
        self._tries_of: Luck | None = None
        self._try_trails: tuple[Trail, ...] = ()
        # The number of the sentence that decides in each row.
        self._rules = np.zeros(1, np.int64)
        self._join()
        self._show_mat()
        self.mat.set_words(PREPARING if session.preparing else WAITING)

    def _join(self) -> None:
        session, playback, bar = self.session, self.session.playback, self.bar
        session.project_changed.connect(self._on_project)
        session.view_changed.connect(self.show_view)
        session.preparing_changed.connect(lambda preparing: self.mat.set_words(PREPARING if preparing else WAITING))
        session.luck_changed.connect(self.show_view)
        session.advice_changed.connect(self._show_pins)
        session.stop_changed.connect(lambda _stop: self._show_pins())
        session.row_asked.connect(self._seek_row)
        playback.moved.connect(self._on_moved)
        playback.changed.connect(self._show_playing)
        self.mat.sought.connect(self._seek_row)
        self.mat.pulled.connect(self._on_pulled)
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
        self.session.by_place = by_place
        self.show_view()

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        for part in (self.mat, self.bar, self.strip):
            part.set_theme(theme)

    def _seek_row(self, row: int) -> None:
        if self.session.view is not None:
            self.session.playback.pause()
            self.session.playback.seek(float(self.session.view.run.trace.time_s[row]))

    def _choose_rate(self) -> None:
        menu = QMenu(self)
        for rate in RATES:
            action = menu.addAction(f"{rate:g}×")
            action.setCheckable(True)
            action.setChecked(rate == self.session.playback.rate)
            action.triggered.connect(lambda _checked=False, rate=rate: self.session.playback.set_rate(rate))
        menu.popup(self.bar.rate.mapToGlobal(self.bar.rate.rect().bottomLeft()))

    # --- showing

    def _on_project(self, old: Project, new: Project) -> None:
        if old.setup.mat is not new.setup.mat or self.session.view is None:
            self._show_mat()

    def _show_mat(self) -> None:
        """The mat itself, at once, before there is a run on it."""
        setup = self.session.setup
        route = derive.route(setup.mat, setup.trial.reverse)
        marks = Marks(route, derive.start_mm(setup), setup.trial.reverse, setup.light.areas)
        self.mat.set_scene(Scene(setup.mat, marks, None, "", ()))
        self.mat.set_robot(None)

    def show_view(self) -> None:
        """Show the newest run everywhere."""
        view = self.session.view
        if view is None:
            return
        self.mat.set_words("")
        setup, run, kept = view.setup, view.run, self._kept_pictures(view)
        self.mat.set_scene(
            Scene(
                mat=setup.mat,
                marks=Marks(run.route, run.start_mm, setup.trial.reverse, setup.light.areas),
                trail=_trail(setup, run),
                trouble="" if run.outcome == "finished" else OUTCOME_LABELS[run.outcome].removesuffix(" after"),
                kept=tuple(trail for trail, _ in kept),
                tries=self._tries(),
            )
        )
        self.strip.set_picture(_strip_picture(view, tuple(run for _, run in kept), self.session.by_place))
        self._show_figures(view)
        self._rules = _sentence_numbers(setup.program, run)
        self._on_moved(self.session.playback.time_s)

    def _tries(self) -> tuple[Trail, ...]:
        """The trails of shaken runs on this mat, made once each."""
        luck = self.session.luck
        if luck is None or luck.setup.mat != self.session.setup.mat:
            return ()
        if self._tries_of is not luck:
            self._tries_of, self._try_trails = luck, tuple(Trail(each.x_mm, each.y_mm) for each in luck.tries)
        return self._try_trails

    def _show_pins(self) -> None:
        """The findings' numbers at their places, while they are looked at."""
        advice, view, session = self.session.advice, self.session.view, self.session
        looked_at = session.stop == "Run" and session.sheets.get("Run") == "Findings"
        if not looked_at or advice is None or view is None or not advice.findings or advice.request.setup != view.setup:
            self.mat.set_pins(())
            return
        trail = _trail(view.setup, view.run)
        last = trail.x_mm.size - 1
        rows = [min(each.row, last) for each in advice.findings]
        self.mat.set_pins(
            tuple((str(i), float(trail.x_mm[row]), float(trail.y_mm[row])) for i, row in enumerate(rows, 1))
        )

    def _kept_pictures(self, view: RunView) -> list[tuple[Trail, StripRun]]:
        """Trail and lanes of each kept run shown, made once each."""
        shown = {each.kept.number: each for each in view.kept}
        self._kept = {number: made for number, made in self._kept.items() if number in shown}
        for number, each in shown.items():
            if number not in self._kept:
                self._kept[number] = (_trail(each.kept.setup, each.run), _strip_run(each.run))
        return [self._kept[number] for number in shown]

    def _show_figures(self, view: RunView) -> None:
        reference: KeptRun | None = view.kept[-1].kept if view.kept else None
        figures, kept = view.figures, reference.figures if reference else None
        both = kept is not None and kept.outcome == figures.outcome == "finished"
        bar = self.bar
        kept_time = kept.time_s if both and kept is not None else None
        bar.outcome.set_figure(figures.time_s, kept_time, OUTCOME_LABELS[figures.outcome])
        bar.swing.set_figure(figures.wobble_mm, kept.wobble_mm if kept else None)
        bar.clipped.set_figure(100.0 * figures.clipped_share, 100.0 * kept.clipped_share if kept else None)

    def row_at(self, time_s: float) -> int:
        """The row of the trace at a time."""
        view = self.session.view
        if view is None:
            return 0
        times = view.run.trace.time_s
        return int(np.clip(np.searchsorted(times, time_s + 1e-9, side="right") - 1, 0, times.size - 1))

    def _on_moved(self, time_s: float) -> None:
        view = self.session.view
        if view is None:
            return
        row, trace = self.row_at(time_s), view.run.trace
        share = 0.0
        if row + 1 < len(trace):
            share = (time_s - trace.time_s[row]) / (trace.time_s[row + 1] - trace.time_s[row])
        following = min(row + 1, len(trace) - 1)
        x, y, heading = (
            float(column[row] + share * (column[following] - column[row]))
            for column in (trace.x_mm, trace.y_mm, trace.heading_rad)
        )
        mount = view.setup.robot.mount
        spot = spot_sigma_mm(view.setup.light.sensor, mount.height_mm)
        rule = str(self._rules[row])
        self.mat.set_robot(RobotNow(view.setup.robot, spot, x, y, heading, bool(trace.side[row] > 0.5), rule))
        self.strip.set_cursor(row)
        self.bar.scrubber.set_time(time_s, self.session.playback.duration_s)
        self.bar.time.set_time(time_s, self.session.playback.duration_s)

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
            Pull(time_s, ranges["x_mm"].clamped(x_mm), ranges["y_mm"].clamped(y_mm), float(np.degrees(heading)))
        )
        if settled:
            self.session.settle()
            playback.play()

    def _show_playing(self) -> None:
        playback = self.session.playback
        playing = playback.playing
        self.bar.play.set_sign("pause" if playing else "play", "Pause (Space)" if playing else "Play (Space)")
        self.bar.rate.setText(f"{playback.rate:g}×")


def _sentence_numbers(program: Program, run: Run) -> NDArray[np.int64]:
    """Which sentence of the program in words decides in each row."""
    numbers = {sentence.rule: i for i, sentence in enumerate(in_words(program), 1) if sentence.rule is not None}
    by_rule = np.array([numbers[rule] for rule in range(len(numbers))])
    return np.asarray(by_rule[deciding(program, run.trace.side, run.trace.band)], np.int64)


def _trail(setup: Setup, run: Run) -> Trail:
    """Where the sensor went."""
    trace, mount = run.trace, setup.robot.mount
    c, s = np.cos(trace.heading_rad), np.sin(trace.heading_rad)
    return Trail(
        trace.x_mm + mount.ahead_mm * c - mount.aside_mm * s, trace.y_mm + mount.ahead_mm * s + mount.aside_mm * c
    )


def _strip_run(run: Run) -> StripRun:
    trace = run.trace
    columns = {name: getattr(trace, name) for lane in LANES for name in lane.columns}
    return StripRun.of(trace.progress_mm / 1000.0, trace.time_s, columns, run.outcome == "finished")


def _strip_picture(view: RunView, kept: tuple[StripRun, ...], by_place: bool) -> StripPicture:
    """The strip's picture; places are counted from where the robot is set down."""
    route, start = view.run.route, view.run.start_mm
    whole = route.length_mm
    bends = []
    for bend in route.bends:
        begins = (bend.start_mm - start) % whole if route.closed else bend.start_mm - start
        bends.append((bend.name, begins / 1000.0, (begins + bend.end_mm - bend.start_mm) / 1000.0))
    length = (whole if route.closed else whole - start) / 1000.0
    return StripPicture(_strip_run(view.run), kept, view.setup.program.target, tuple(bends), length, by_place)
