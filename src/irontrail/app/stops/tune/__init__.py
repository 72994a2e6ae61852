"""Tune: dials with what they do nearby, the map of two numbers, the rocking gain, a search, and the event."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.tune.dials import DialsSheet
from irontrail.app.stops.tune.event import EventSheet
from irontrail.app.stops.tune.map import MapSheet
from irontrail.app.stops.tune.rocking import RockingSheet
from irontrail.app.stops.tune.search import SearchSheet
from irontrail.app.theme import Theme

SHEETS = {
    "Dials": DialsSheet,
    "Map": MapSheet,
    "Rocking": RockingSheet,
    "Search": SearchSheet,
    "Event": EventSheet,
}


class TunePanel(SheetedPanel):
    """The panel of the Tune stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Tune", SHEETS)
