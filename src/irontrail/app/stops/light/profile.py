"""What the sensor reads across the edge, wherever a cut is drawn, and beside other places, heights and rooms."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.preloading import when_loaded
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.view import RunView
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.light_hands import CutHand
from irontrail.core import derive
from irontrail.core.light.profile import REACH_MM, EdgeProfile
from irontrail.core.light.reading import reading_per_raw
from irontrail.core.setup import Setup

if TYPE_CHECKING:
    from irontrail.app.widgets.edge_plot import EdgePlot

MOST_KEPT = 3
PLOT_HEIGHT = 236
# Single readings are within so many standard deviations of the mean.
SIGMAS = 3.0


@dataclass(frozen=True, eq=False)
class Kept:
    """A profile put by: its letter, where it was cut, and the conditions, in words."""

    letter: str
    profile: EdgeProfile
    start: QPointF
    end: QPointF
    says: str


class ProfileSheet(Panel):
    """The edge profile of a cut, what it says of target and room, and others to compare it with."""

    SAYS = "What the sensor reads as it crosses the edge."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.cut_hand = CutHand(self)
        self.cut_hand.drawn.connect(self._on_drawn)
        self.cut: tuple[QPointF, QPointF] | None = None
        self.kept: list[Kept] = []
        self.add_sensor_choice()
        self.plot: EdgePlot | None = None
        room = QWidget()
        room.setFixedHeight(PLOT_HEIGHT)
        self._plotted = QVBoxLayout(room)
        self._plotted.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(room)
        self.says = self.add_words()
        row = self.add_row()
        self.keep = QPushButton("Keep to compare")
        self.keep.setToolTip("Keep this profile; then draw another cut, or change height or room")
        self.keep.clicked.connect(self.keep_profile)
        self.at_start = QPushButton("Cut at the start")
        self.at_start.setToolTip("Square across the line where the run starts")
        self.at_start.clicked.connect(self._cut_at_start)
        for button in (self.keep, self.at_start):
            button.setProperty("small", "true")
            row.addWidget(button)
        row.addStretch(1)
        self._list = QGridLayout()
        self._list.setVerticalSpacing(2)
        self.column.addLayout(self._list)
        self.add_dial("program.target", 0.0, 100.0)
        self.add_dial("robot.mount.height_mm", 2.0, 25.0, "sensor height")
        self.add_dial("light.room_light", 0.0, 1.0)
        self.add_dial("light.sensor.shield", 0.0, 1.0)
        self.add_dial("light.sensor.noise", 0.0, 5.0)
        self.finish()
        when_loaded(self, self._lay_out_plot)

    def _lay_out_plot(self) -> None:
        """The plot: its library takes as long to load as all else of the stop, and waits for this sheet."""
        from irontrail.app.widgets.edge_plot import EdgePlot

        self.plot = EdgePlot(self.theme)
        self._plotted.addWidget(self.plot)
        if self.isVisible():
            self.show_view()

    def _on_drawn(self, x0: float, y0: float, x1: float, y1: float, _settled: bool) -> None:
        self.cut = (QPointF(x0, y0), QPointF(x1, y1))
        self.show_view()

    def _cut_at_start(self) -> None:
        self.cut = None
        self.show_view()

    def keep_profile(self) -> None:
        """Put the profile by, to be drawn beside others; the oldest goes when there are many."""
        view = self.session.view
        if view is None or self.cut is None:
            return
        setup, (start, end) = view.setup.seen_by(self.which), self.cut
        letter = next(letter for letter in "ABCD" if letter not in {kept.letter for kept in self.kept[-2:]})
        light = setup.light
        says = (
            f"at {0.5 * (start.x() + end.x()):.0f}, {0.5 * (start.y() + end.y()):.0f}; {setup.robot.mount.height_mm:g} "
            f"mm up, room {100 * light.room_light:.0f} %"
        )
        self.kept = [*self.kept, Kept(letter, self.profile_here(setup), start, end, says)][-MOST_KEPT:]
        self.show_view()

    def let_go(self, i: int) -> None:
        """Compare with one of the kept profiles no more."""
        del self.kept[i]
        self.show_view()

    def profile_here(self, setup: Setup) -> EdgeProfile:
        """The profile along the cut that there is."""
        assert self.cut is not None
        (start, end) = self.cut
        return derive.profile_along(setup, (start.x(), start.y()), (end.x(), end.y()))

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        if self.cut is None:
            self.cut = _across_start(view)
        setup = view.setup.seen_by(self.which)
        profile = self.profile_here(setup)
        noise = SIGMAS * setup.light.sensor.noise * reading_per_raw(setup.light)
        others = tuple(kept.profile for kept in self.kept)
        if self.plot is not None:
            self.plot.set_profile(profile, setup.program.target, noise, others)
        self.cut_hand.set_cut(*self.cut, tuple((kept.letter, kept.start, kept.end) for kept in self.kept))
        self._show_kept()
        self.says.setText(
            self._names(view, setup) if setup.light.sensor.names_colours else self._words(view, setup, profile)
        )

    def _show_kept(self) -> None:
        clear(self._list)
        for i, kept in enumerate(self.kept):
            low, high = kept.profile.usable_mm
            label = Label(f"{kept.letter}: {kept.says}; {high - low:.0f} mm usable")
            label.setProperty("role", "quiet")
            label.setWordWrap(True)
            self._list.addWidget(label, i, 0)
            drop = QPushButton("×")
            drop.setProperty("small", "true")
            drop.setFixedWidth(24)
            drop.setAccessibleName(f"compare with {kept.letter} no more")
            drop.clicked.connect(lambda _checked=False, i=i: self.let_go(i))
            self._list.addWidget(drop, i, 1)

    def _given(self, view: RunView) -> NDArray[np.float64]:
        """What the sensor looked at gave on the run."""
        return view.run.trace.second_raw_output if self.which == "second" else view.run.trace.raw_output

    def _names(self, view: RunView, setup: Setup) -> str:
        palette = setup.light.sensor.palette
        names = [palette[i].name for i in sorted({int(i) for i in self._given(view)})]
        margin = ""
        if self.which == "first":
            narrowest = 100.0 * float(view.run.trace.margin.min())
            margin = f" Its narrowest margin to another name was {narrowest:.1f} %."
        return (
            f"The sensor gives names; on this run {', '.join(names)}. A name reads as one number, so the reading "
            f"jumps.{margin}"
        )

    def _words(self, view: RunView, setup: Setup, profile: EdgeProfile) -> str:
        target, sensor = setup.program.target, setup.light.sensor
        low, high = profile.usable_mm
        said = [
            f"Reads {profile.reading.min():.0f} to {profile.reading.max():.0f}; it changes over {high - low:.0f} mm: "
            "all the room that proportional steering has."
        ]
        place = profile.rides_at(target)
        if place is None:
            said.append(f"It never reads the target, {target:g}, here.")
        else:
            side = "on the edge" if abs(place) < 0.3 else f"{abs(place):.1f} mm {'off' if place > 0 else 'on'} the line"
            said.append(
                f"At target {target:g} the sensor rides {side}, with {place - low:.0f} and {high - place:.0f} mm to go."
            )
        if sensor.scale == "counts":
            given = self._given(view)
            said.append(
                f"The sensor gave counts from {given.min():.0f} to {given.max():.0f} of {sensor.highest_count}."
            )
        return " ".join(said)


def _across_start(view: RunView) -> tuple[QPointF, QPointF]:
    """A cut square across the followed edge where the run starts, from the dark side to the light side."""
    setup = view.setup
    x, y, heading = view.run.route.at(view.run.start_mm)
    side = 1.0 if setup.program.edge == "left" else -1.0
    half = 0.5 * setup.mat.followed.width_mm
    across = QPointF(-float(np.sin(heading)), float(np.cos(heading))) * side
    return QPointF(x, y) + across * (half - REACH_MM), QPointF(x, y) + across * (half + REACH_MM)
