"""A setup as it will be tried at the event: in the hall, shaken as much as a team must reckon with there."""

from contextlib import suppress
from dataclasses import dataclass, replace

from irontrail.core.advice.rooms import calibrated_anew, setup_in
from irontrail.core.errors import IronTrailError
from irontrail.core.light.rooms import Room
from irontrail.core.project import Project
from irontrail.core.setup import Setup
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
            with suppress(IronTrailError):
                made = calibrated_anew(setup, made)
        return replace(made, trial=replace(made.trial, shaken=self.shaken))
