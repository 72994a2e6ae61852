"""Trip: the legs that a run is made of, where each ends, and how surely."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.trip.legs import LegsSheet
from irontrail.app.stops.trip.spread import SpreadSheet
from irontrail.app.theme import Theme

SHEETS = {"Legs": LegsSheet, "Ends": SpreadSheet}


class TripPanel(SheetedPanel):
    """The sheets of the stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Trip", SHEETS)
