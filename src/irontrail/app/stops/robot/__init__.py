"""Robot: its plan and side view to scale, its drive and motors, and bench tests that measure them."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.robot.bench import BenchSheet
from irontrail.app.stops.robot.drive import DriveSheet
from irontrail.app.stops.robot.plan import PlanSheet
from irontrail.app.theme import Theme

SHEETS = {"Plan": PlanSheet, "Drive": DriveSheet, "Bench": BenchSheet}


class RobotPanel(SheetedPanel):
    """The panel of the Robot stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Robot", SHEETS)
