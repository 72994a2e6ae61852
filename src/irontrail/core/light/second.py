"""A second light sensor, for teams that mount one: where it sits, what it is, and its own calibration."""

from dataclasses import dataclass

from irontrail.core.light.sensor import Calibration, Sensor
from irontrail.core.quantity import Part
from irontrail.core.robot.mount import Mount


@dataclass(frozen=True)
class SecondSensor(Part):
    """The second sensor; whether readings are calibrated, and the room, it shares with the first."""

    mount: Mount = Mount(ahead_mm=75.0, aside_mm=-24.0)
    sensor: Sensor = Sensor()
    calibration: Calibration = Calibration()
