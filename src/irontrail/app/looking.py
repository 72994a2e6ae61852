"""How a project is looked at: which stop and sheet, the strip's axis, the moment asked for, the trails of luck."""

from PySide6.QtCore import QObject, Signal

from irontrail.core.advice.luck import Luck
from irontrail.core.steering.pair import Which

STOPS = ("Mat", "Robot", "Light", "Steer", "Trip", "Run", "Compare", "Tune", "Pit")


class Looking(QObject):
    """What is in sight; none of it stands in a file."""

    stop_changed = Signal(str)
    row_asked = Signal(int)
    luck_changed = Signal()
    sensor_changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.stop = "Steer"
        # The sheet that each stop was last turned to.
        self.sheets: dict[str, str] = {}
        self.by_place = True
        self.luck: Luck | None = None
        # Which of two sensors is looked at.
        self.sensor: Which = "first"

    def go_to(self, stop: str) -> None:
        """Visit a stop of the work line."""
        self.stop = stop
        self.stop_changed.emit(stop)

    def show_row(self, row: int) -> None:
        """Go to a row of the trace and show it everywhere."""
        self.row_asked.emit(row)

    def look_at(self, sensor: Which) -> None:
        """Show one of two sensors wherever there is one to be shown."""
        if sensor != self.sensor:
            self.sensor = sensor
            self.sensor_changed.emit()

    def set_luck(self, luck: Luck | None) -> None:
        """Show the trails of many perturbed runs, or take them off."""
        self.luck = luck
        self.luck_changed.emit()
