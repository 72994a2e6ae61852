"""Robot: the robot to scale, and the numbers of its drive."""

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.robot_plan import RobotPlan
from irontrail.core.light.sensor import spot_sigma_mm


class RobotPanel(Panel):
    """The panel of the Robot stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Robot")
        self.plan = RobotPlan(theme)
        self.column.addWidget(self.plan)
        self.add_dial("robot.mount.ahead_mm", 0.0, 160.0, "sensor ahead of the axle")
        self.add_dial("robot.mount.aside_mm", -60.0, 60.0, "sensor aside, to the left")
        self.add_dial("robot.drive.track_width_mm", 60.0, 200.0)
        self.add_dial("robot.drive.wheel_diameter_mm", 20.0, 100.0)
        self.add_dial("robot.drive.top_speed_mm_s", 100.0, 1000.0)
        self.add_dial("robot.drive.response_time_s", 0.0, 0.2)
        self.add_dial("robot.drive.battery", 0.5, 1.1)
        self.add_dial("robot.drive.grip", 0.1, 1.5)
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        self.plan.set_robot(setup.robot, spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm))
