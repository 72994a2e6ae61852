"""A setup as it will be tried at the event: in the hall, shaken as much as a team must reckon with there."""

from dataclasses import dataclass, replace

from irontrail.core.advice.rooms import readings_here, setup_in, take_readings
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.rooms import Room
from irontrail.core.project import Project, Setup
from irontrail.core.shaking import Shaking


@dataclass(frozen=True)
class Event:
    """The hall with how the sensor is mounted there, how much starts differ, and whether it is calibrated there."""

    room: Room
    shaken: Shaking
    calibrated: bool = True

    @classmethod
    def of(cls, project: Project, calibrated: bool = True) -> "Event":
        """That of a project."""
        return cls(project.event, project.at_event, calibrated)

    def there(self, setup: Setup) -> Setup:
        """A setup as it is tried there; where line and mat read too much alike, as it is set."""
        made = setup_in(setup, self.room)
        if self.calibrated:
            made = calibrated_again(setup, made)
        return replace(made, trial=replace(made.trial, shaken=self.shaken))


def calibrated_again(setup: Setup, there: Setup) -> Setup:
    """A setup elsewhere, its sensors told what they read there; as it is where they tell too little."""
    made = there
    for which in there.sensors:
        alone = there.seen_by(which)
        try:
            found = calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)
            made = take_readings(made, which, found, readings_here(setup, which))[0]
        except IronTrailError:
            return there
    return made
