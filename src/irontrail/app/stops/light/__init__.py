"""Light: the probe and calibrating, the edge profile, two rooms, and the colours that can be told apart."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.light.colours import ColoursSheet
from irontrail.app.stops.light.probe import ProbeSheet
from irontrail.app.stops.light.profile import ProfileSheet
from irontrail.app.stops.light.rooms import RoomsSheet
from irontrail.app.theme import Theme

SHEETS = {"Probe": ProbeSheet, "Profile": ProfileSheet, "Rooms": RoomsSheet, "Colours": ColoursSheet}


class LightPanel(SheetedPanel):
    """The panel of the Light stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Light", SHEETS)
