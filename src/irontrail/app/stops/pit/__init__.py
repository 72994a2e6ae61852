"""Pit: what goes to the table with the robot; the program as a listing."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.pit.coming import ComingSheet
from irontrail.app.stops.pit.listing import ListingSheet
from irontrail.app.theme import Theme

SHEETS = {"Listing": ListingSheet, "To come": ComingSheet}


class PitPanel(SheetedPanel):
    """The panel of the Pit stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Pit", SHEETS)
