"""Run: what happened and why, questions to ask, the figures, the logbook of kept runs, and how much of it is luck."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.run.ask import AskSheet
from irontrail.app.stops.run.figures import FiguresSheet
from irontrail.app.stops.run.findings import FindingsSheet
from irontrail.app.stops.run.logbook import LogbookSheet
from irontrail.app.stops.run.luck import LuckSheet
from irontrail.app.theme import Theme

SHEETS = {
    "Findings": FindingsSheet,
    "Ask": AskSheet,
    "Figures": FiguresSheet,
    "Logbook": LogbookSheet,
    "Luck": LuckSheet,
}


class RunPanel(SheetedPanel):
    """The panel of the Run stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Run", SHEETS)
