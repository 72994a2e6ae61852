"""Compare: the race, where time is won and lost, better or lucky, and a fair duel of laws."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.compare.chance import ChanceSheet
from irontrail.app.stops.compare.duel import DuelSheet
from irontrail.app.stops.compare.race import RaceSheet
from irontrail.app.stops.compare.stretches import StretchSheet
from irontrail.app.theme import Theme

SHEETS = {"Race": RaceSheet, "Stretches": StretchSheet, "Chance": ChanceSheet, "Duel": DuelSheet}


class ComparePanel(SheetedPanel):
    """The panel of the Compare stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Compare", SHEETS)
