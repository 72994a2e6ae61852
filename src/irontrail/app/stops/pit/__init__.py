"""Pit: what goes to the table with the robot: a listing, a card, pages for judges, a film, the event in order."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.pit.card import CardSheet
from irontrail.app.stops.pit.evidence import EvidenceSheet
from irontrail.app.stops.pit.film import FilmSheet
from irontrail.app.stops.pit.listing import ListingSheet
from irontrail.app.stops.pit.venue import VenueSheet
from irontrail.app.theme import Theme

SHEETS = {
    "Listing": ListingSheet, "Card": CardSheet, "Pages": EvidenceSheet, "Film": FilmSheet, "Venue": VenueSheet,
}  # fmt: skip


class PitPanel(SheetedPanel):
    """The panel of the Pit stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Pit", SHEETS)
