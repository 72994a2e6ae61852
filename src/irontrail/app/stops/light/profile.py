"""What the sensor reads across the edge, its calibration, and the target."""

from PySide6.QtWidgets import QHBoxLayout, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.edge_plot import EdgePlot, usable_stretch_mm
from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.quantity import with_value

# Midway between bright and dark, in calibrated percent.
MIDWAY = 50.0


class ProfileSheet(Panel):
    """The edge profile with the target on it, the calibration, the room."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.plot = EdgePlot(theme)
        self.column.addWidget(self.plot)
        self.says = self.add_words()
        self.add_dial("program.target", 0.0, 100.0)
        self.add_dial("light.calibration.dark", 0.0, 60.0)
        self.add_dial("light.calibration.bright", 20.0, 100.0)
        buttons = QHBoxLayout()
        self.calibrate = QPushButton("Calibrate by hand")
        self.calibrate.setToolTip("Hold the sensor over the line, then over the mat, and call them 0 and 100")
        self.calibrate.clicked.connect(self._calibrate)
        self.sweep = QPushButton("Let it sweep")
        self.sweep.setToolTip("The robot turns to and fro across the line and calls its extremes 0 and 100")
        self.sweep.clicked.connect(self._sweep)
        self.midway = QPushButton("Target midway")
        self.midway.clicked.connect(lambda: self.session.set_value("program.target", MIDWAY))
        buttons.addWidget(self.calibrate)
        buttons.addWidget(self.sweep)
        buttons.addWidget(self.midway)
        for button in (self.calibrate, self.sweep, self.midway):
            button.setProperty("small", "true")
        self.column.addLayout(buttons)
        self.add_dial("robot.mount.height_mm", 2.0, 25.0, "sensor height")
        self.add_dial("light.room_light", 0.0, 1.0)
        self.add_dial("light.sensor.shield", 0.0, 1.0)
        self.add_dial("light.sensor.noise", 0.0, 5.0)
        self.finish()

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        profile, target, sensor = view.profile, view.setup.program.target, view.setup.light.sensor
        for button in (self.calibrate, self.sweep):
            button.setEnabled(not sensor.names_colours)
        self.plot.set_profile(profile.edge_mm, profile.reading, target)
        stretch = usable_stretch_mm(profile.edge_mm, profile.reading)
        low, high = float(profile.reading.min()), float(profile.reading.max())
        if sensor.names_colours:
            trace = view.run.trace
            names = [sensor.palette[i].name for i in sorted({int(i) for i in trace.given})]
            self.says.setText(
                f"The sensor gives names; on this run {', '.join(names)}. A name reads as one number, so the reading "
                f"jumps. Its narrowest margin to another name was {100 * float(trace.margin.min()):.1f} %."
            )
            return
        counts = ""
        if sensor.scale == "counts":
            given = view.run.trace.given
            counts = f" The sensor gave counts from {given.min():.0f} to {given.max():.0f} of {sensor.highest_count}."
        self.says.setText(
            f"Reads {low:.0f} on the line and {high:.0f} off it. The reading changes over {stretch:.0f} mm: "
            f"that is all the room that proportional steering has.{counts}"
        )

    def _calibrate(self) -> None:
        setup = self.session.setup
        found = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
        label = f"calibrate: dark {found.dark:.0f}, bright {found.bright:.0f}"
        self.session.edit(label, with_value(setup, "light.calibration", found))

    def _sweep(self) -> None:
        """Sweep at the start of the run, in this room's light."""
        setup = self.session.setup
        before = setup.light.calibration
        try:
            found = derive.calibration_sweep(setup).calibration
        except IronTrailError as error:
            self.session.notice(f"The sweep found no line: {error}")
            return
        label = f"sweep: dark {found.dark:.0f}, bright {found.bright:.0f}"
        self.session.edit(label, with_value(setup, "light.calibration", found))
        self.session.notice(
            f"Swept across the line: dark {before.dark:.0f} → {found.dark:.0f}, bright {before.bright:.0f} → "
            f"{found.bright:.0f} of 100 raw."
        )
