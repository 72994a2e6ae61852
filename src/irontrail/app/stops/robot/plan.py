"""The robot from above and from the side, to scale: wheels and sensor are dragged, and the run follows."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from irontrail.app.panel import Panel
from irontrail.app.preloading import when_loaded
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.robot_drawing import Eye
from irontrail.app.widgets.robot_plan import RobotPlan
from irontrail.app.widgets.side_view import SideView
from irontrail.core.errors import IronTrailError
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.setup import with_one, with_second
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import swing
from irontrail.core.theory.turning import check_bends

AHEAD, ASIDE, TRACK = "robot.mount.ahead_mm", "robot.mount.aside_mm", "robot.drive.track_width_mm"
HEIGHT, SHIELD = "robot.mount.height_mm", "light.sensor.shield"
# A single sensor leads; one of two may trail.
AHEAD_OF_ONE, AHEAD_OF_TWO = (0.0, 160.0), (-80.0, 160.0)


class PlanSheet(Panel):
    """Two pictures to grab, what moving the sensor does to the run, and the numbers of the drive."""

    SAYS = "The robot from above and from the side."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.plan = RobotPlan(theme)
        self.plan.sensor_dragged.connect(self._on_sensor)
        self.plan.second_dragged.connect(self._on_second)
        self.plan.second_asked.connect(self._ask_for_second)
        self.plan.track_dragged.connect(lambda value, settled: self._set({TRACK: value}, "drag track", settled))
        self.column.addWidget(self.plan)
        row = self.add_row()
        self.add_sensor_choice(row)
        self.second = QPushButton()
        self.second.setProperty("small", "true")
        row.addWidget(self.second, 0, Qt.AlignmentFlag.AlignRight)
        self.second.clicked.connect(lambda: self._ask_for_second(self.session.setup.second is None))
        self.side = SideView(theme)
        self.side.height_dragged.connect(
            lambda mm, settled: self._set({self._path(HEIGHT): mm}, "drag height", settled)
        )
        self.side.shield_dragged.connect(
            lambda share, settled: self._set({self._path(SHIELD): share}, "drag shield", settled)
        )
        self.column.addWidget(self.side)
        self.says = self.add_words()
        self.add_dial(AHEAD, AHEAD_OF_ONE[0], AHEAD_OF_ONE[1], "sensor ahead of the axle")
        self.add_dial(ASIDE, -60.0, 60.0, "sensor aside, to the left")
        self.add_dial(HEIGHT, 2.0, 25.0, "sensor height")
        self.add_dial(SHIELD, 0.0, 1.0)
        self.add_dial(TRACK, 60.0, 200.0)
        self.add_dial("robot.drive.wheel_diameter_mm", 20.0, 100.0)
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        second = None
        if setup.second is not None:
            other = setup.second
            second = Eye(other.mount, spot_sigma_mm(other.sensor, other.mount.height_mm))
        sigma = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
        self.plan.set_robot(setup.robot, sigma, second)
        seen = self.seen
        sensor, height = seen.light.sensor, seen.robot.mount.height_mm
        self.side.set_sensor(height, sensor.shield, spot_sigma_mm(sensor, height))
        self.second.setText("Mount a second sensor" if second is None else "Take it off")
        self.second.setAccessibleName("Mount a second sensor" if second is None else "Take the second sensor off")
        self.second.setToolTip(
            "A second light sensor beside the first (Insert on the plan)"
            if second is None
            else "Follow with the first sensor alone (Delete on the plan)"
        )
        self.dials[AHEAD].set_track(*(AHEAD_OF_ONE if second is None else AHEAD_OF_TWO))

    def show_view(self) -> None:
        if not when_loaded(self, self._say):
            self.says.setText("")
            self.plan.set_turns(None, None)

    def _say(self) -> None:
        view = self.session.view
        if view is None:
            return
        setup = view.setup
        said = [f"Swings {view.figures.wobble_mm:.1f} mm, the heading {view.figures.heading_swing_deg:.0f}°."]
        try:
            small = swing(linear_loop(setup))
            ratio = f"{small.damping_ratio:.3f}".replace("-", "−")
            said.append(f"Small swings: {small.hertz:.2f} Hz, damping ratio {ratio}.")
        except IronTrailError:
            pass
        checks = check_bends(setup, view.run.route)
        turns = room = None
        if checks:
            hard = min(checks, key=lambda check: check.room_mm - check.turns_mm)
            turns, room = hard.turns_mm, hard.room_mm
            said.append(
                f"Turns within {turns:.0f} mm at full steer; bend {hard.bend.name} leaves {room:.0f} mm."
                if turns != float("inf")
                else f"Does not turn the way bend {hard.bend.name} goes."
            )
        self.plan.set_turns(turns, room)
        self.says.setText(" ".join(said))

    def _on_sensor(self, ahead: float, aside: float, settled: bool) -> None:
        self._set({AHEAD: ahead, ASIDE: aside}, "drag sensor", settled)

    def _on_second(self, ahead: float, aside: float, settled: bool) -> None:
        self._set({"second.mount.ahead_mm": ahead, "second.mount.aside_mm": aside}, "drag second", settled)

    def _ask_for_second(self, there: bool) -> None:
        """Mount a second sensor beside the first, or take it off again."""
        setup = self.session.setup
        if there and setup.second is None:
            self.session.edit("a second sensor", with_second(setup))
        elif not there and setup.second is not None:
            self.session.edit("no second sensor", with_one(setup))

    def _set(self, values: dict[str, float], key: str, settled: bool) -> None:
        self.session.set_values(values, key)
        if settled:
            self.session.settle()
