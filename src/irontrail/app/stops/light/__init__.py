"""Light: the edge profile and its calibration, and the colours that the sensor can tell apart."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.light.colours import ColoursSheet
from irontrail.app.stops.light.profile import ProfileSheet
from irontrail.app.theme import Theme

SHEETS = {"Profile": ProfileSheet, "Colours": ColoursSheet}


class LightPanel(SheetedPanel):
    """The panel of the Light stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Light", SHEETS)
