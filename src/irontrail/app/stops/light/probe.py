"""The probe: the sensor held over the mat, readings held, and a calibration and a target made from them."""

import numpy as np
from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.light_hands import ProbeHand
from irontrail.app.widgets.patch_picture import PatchPicture
from irontrail.app.widgets.target_picture import TargetPicture
from irontrail.core import derive
from irontrail.core.advice.held import (
    KINDS,
    HeldReading,
    from_held,
    in_words,
    midway_target,
    raw_of,
    raw_target,
    what_it_does,
)
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.light.sensor import Calibration
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.pair import Which

MOST_HELD = 9


class ProbeSheet(Panel):
    """The patch magnified, the readings held, and what follows from them for calibration and target."""

    SAYS = "Hold the sensor over the mat and read it."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.probe_hand = ProbeHand(self)
        self.probe_hand.moved.connect(lambda x, y, _settled: self.carry_to(x, y))
        self.place: tuple[float, float] | None = None
        self._held_by: dict[Which, list[HeldReading]] = {"first": [], "second": []}
        self.was: float | None = None
        self.add_sensor_choice()
        self.patch = PatchPicture(theme)
        self.column.addWidget(self.patch)
        self.robot_says = self.add_words("", "quiet")
        row = self.add_row()
        row.addWidget(self._label("Hold as", "words"))
        self.hold_buttons: dict[str, QPushButton] = {}
        for kind, words in zip(KINDS, ("dark", "bright", "on the edge"), strict=True):
            button = QPushButton(words)
            button.setProperty("small", "true")
            button.setToolTip(f"Note this reading: the sensor is {'on the edge' if kind == 'edge' else f'on {kind}'}")
            button.clicked.connect(lambda _checked=False, kind=kind: self.hold(kind))
            row.addWidget(button)
            self.hold_buttons[kind] = button
        self._list = QGridLayout()
        self._list.setVerticalSpacing(2)
        self.column.addLayout(self._list)
        self.spread = self.add_words("", "quiet")
        self.add_rule()
        self.target_heading = self.add_heading("The target, in raw readings")
        self.target = TargetPicture(theme)
        self.column.addWidget(self.target)
        self.target_says = self.add_words()
        self._lay_out_calibrating()
        self.add_dial("light.calibration.dark", 0.0, 60.0)
        self.add_dial("light.calibration.bright", 20.0, 100.0)
        self.add_dial("program.target", 0.0, 100.0)
        self.finish()

    def _lay_out_calibrating(self) -> None:
        row = self.add_row()
        self.calibrate = QPushButton("By hand")
        self.calibrate.setToolTip("Hold the sensor well on the line, then well on the mat, and call them 0 and 100")
        self.calibrate.clicked.connect(self._by_hand)
        self.from_held = QPushButton("From held")
        self.from_held.setToolTip("Dark and bright become 0 and 100; a reading on the edge becomes the target")
        self.from_held.clicked.connect(self.calibrate_from_held)
        self.sweep = QPushButton("By a sweep")
        self.sweep.setToolTip("The robot turns to and fro across the line and calls its extremes 0 and 100")
        self.sweep.clicked.connect(self._sweep)
        self.session.view_changed.connect(self._show_what_can_be_pressed)
        self.midway = QPushButton("Midway")
        self.midway.setToolTip("Put the target midway between dark and bright")
        self.midway.clicked.connect(self._aim_midway)
        for button in (self.calibrate, self.from_held, self.sweep, self.midway):
            button.setProperty("small", "true")
            row.addWidget(button)

    # --- holding

    @property
    def held(self) -> list[HeldReading]:
        """The readings held of the sensor that is looked at."""
        return self._held_by[self.which]

    @held.setter
    def held(self, held: list[HeldReading]) -> None:
        self._held_by[self.which] = held

    def carry_to(self, x_mm: float, y_mm: float) -> None:
        """Hold the sensor over another place of the mat."""
        mat = self.session.setup.mat
        self.place = (min(max(x_mm, 0.0), mat.width_mm), min(max(y_mm, 0.0), mat.height_mm))
        self.show_view()

    def hold(self, kind: str) -> None:
        """Note what is read now; the oldest is let go when there are many."""
        if self.place is not None:
            self.held = [*self.held, HeldReading(kind, derive.probe(self.seen, *self.place))][-MOST_HELD:]
            self.show_view()

    def let_go(self, i: int) -> None:
        """Forget one held reading."""
        del self.held[i]
        self.show_view()

    def raw_of(self, kind: str) -> list[float]:
        """The raw readings held of one kind."""
        return raw_of(self.held, kind)

    # --- calibrating

    def calibrate_from_held(self) -> None:
        """Dark and bright become the calibration, a reading on the edge the target; what is not held stays."""
        try:
            made, target = from_held(self.held, self.seen.light.calibration)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._calibrate("calibrate from held readings", made, target)

    def _aim_midway(self) -> None:
        try:
            self._aim(midway_target(self.seen))
        except IronTrailError as error:
            self.session.notice(str(error))

    def _by_hand(self) -> None:
        setup = self.seen
        try:
            found = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._calibrate(f"calibrate: dark {found.dark:.0f}, bright {found.bright:.0f}", found, None)

    def _sweep(self) -> None:
        """Sweep at the start of the run, in this room's light."""
        before = self.seen.light.calibration
        try:
            found = derive.calibration_sweep(self.session.setup, self.which).calibration
        except IronTrailError as error:
            self.session.notice(f"The sweep found no line: {error}")
            return
        self._calibrate(f"sweep: dark {found.dark:.0f}, bright {found.bright:.0f}", found, None)
        self.session.notice(
            f"Swept across the line: dark {before.dark:.0f} → {found.dark:.0f}, bright {before.bright:.0f} → "
            f"{found.bright:.0f} of 100 raw."
        )

    def _calibrate(self, label: str, calibration: Calibration, target: float | None) -> None:
        setup = self.session.setup
        self.was = raw_target(self.seen)
        made = setup.with_eye(self.which, calibration=calibration)
        if target is not None:
            made = with_value(made, self._path("program.target"), float(round(target)))
        self.session.edit(label, made)

    def _aim(self, target: float) -> None:
        self.was = raw_target(self.seen)
        self.session.set_value(self._path("program.target"), target)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        self._show_what_can_be_pressed()
        setup = self.session.setup
        aims = setup.program.arrangement != "difference"
        for widget in (self.target_heading, self.target, self.target_says, self.midway, self.dials["program.target"]):
            widget.setVisible(aims)
        what = "target" if self._path("program.target") == "program.target" else "threshold"
        self.target_heading.setText(f"The {what}, in raw readings")
        self.dials["program.target"].set_label(what)

    def _show_what_can_be_pressed(self) -> None:
        names = self.seen.light.sensor.names_colours
        for button in (self.calibrate, self.midway, *self.hold_buttons.values()):
            button.setEnabled(not names)
        # The robot drives in a sweep: not before the engine is there, for which the window would stand still.
        self.sweep.setEnabled(not names and self.session.view is not None)

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        setup = view.setup.seen_by(self.which)
        if self.place is None:
            self.place = view.run.route.at(view.run.start_mm + 160.0)[:2]
        probed = derive.probe(setup, *self.place)
        sigma = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
        side = "light side" if probed.edge_mm >= 0.0 else "dark side"
        away = f"{abs(probed.edge_mm):.1f} mm to the {side}" if abs(probed.edge_mm) < 200.0 else "far from the line"
        unit = f"gives {probed.raw_output:.0f}" if setup.light.sensor.scale == "counts" else f"{probed.raw:.1f} raw"
        shade = f"room light × {probed.factor:.2f} here" if abs(probed.factor - 1.0) > 0.005 else ""
        self.patch.set_patch(derive.raster(setup.mat), *self.place, sigma)
        self.patch.set_words(
            f"{probed.reading:.0f}", (unit, f"noise ± {3.0 * setup.light.sensor.noise:.1f} raw", away, shade)
        )
        self.probe_hand.set_probe(*self.place, sigma, f"{probed.reading:.0f}")
        self.probe_hand.set_held(
            tuple((str(i), held.probed.x_mm, held.probed.y_mm) for i, held in enumerate(self.held, 1))
        )
        self._show_held()
        self._show_target(setup)
        times = view.run.trace.time_s
        self.show_now(min(int(np.searchsorted(times, self.session.playback.time_s)), times.size - 1))

    def _show_held(self) -> None:
        clear(self._list)
        for i, held in enumerate(self.held):
            at = held.probed
            for column, words in enumerate(
                (f"{i + 1}  {held.kind}", f"{at.raw:.1f} raw", f"at {at.x_mm:.0f}, {at.y_mm:.0f} mm")
            ):
                label = Label(words)
                label.setProperty("role", "words")
                self._list.addWidget(label, i, column)
            drop = QPushButton("×")
            drop.setProperty("small", "true")
            drop.setFixedWidth(24)
            drop.setAccessibleName(f"let go of {held.kind} {at.raw:.0f}")
            drop.clicked.connect(lambda _checked=False, i=i: self.let_go(i))
            self._list.addWidget(drop, i, 3)
        self.spread.setText(in_words(self.held) or "Drag the sensor over the mat, and hold what it reads.")
        self.from_held.setEnabled(bool(self.held) and not self.seen.light.sensor.names_colours)

    def _show_target(self, setup: Setup) -> None:
        """What the target was, is and should be, and what a wrong one does."""
        if self.session.setup.program.arrangement == "difference":
            return
        try:
            here = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
        except IronTrailError:
            self.target.setVisible(False)
            self.target_says.setText("Line and mat read the same here: no target lies between them.")
            return
        self.target.setVisible(True)
        now, best = raw_target(setup), 0.5 * (here.dark + here.bright)
        marks = {"is": now, "should be": best}
        if self.was is not None and abs(self.was - now) >= 0.5:
            marks = {"was": self.was, **marks}
        self.target.set_scale(here.dark, here.bright, marks)
        self.target_says.setText(what_it_does(now, here))

    def show_now(self, row: int) -> None:
        view = self.session.view
        if view is not None:
            trace = view.run.trace
            reading = trace.second_reading if self.which == "second" else trace.reading
            followed = "line's middle" if view.setup.program.astride else "edge"
            self.robot_says.setText(
                f"The robot reads {reading[row]:.0f} at {trace.time_s[row]:.2f} s, "
                f"{trace.edge_mm[row]:.1f} mm off the {followed}.".replace("-", "−")
            )
