"""Steer: two sensors together, the law and its curve, the loop, the whole in words, and the robot let go."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.steer.law import LawSheet
from irontrail.app.stops.steer.loop import LoopSheet
from irontrail.app.stops.steer.pair import PairSheet
from irontrail.app.stops.steer.step_response import StepResponseSheet
from irontrail.app.stops.steer.words import WordsSheet
from irontrail.app.theme import Theme

SHEETS = {"Pair": PairSheet, "Law": LawSheet, "Loop": LoopSheet, "Words": WordsSheet, "Let go": StepResponseSheet}


class SteerPanel(SheetedPanel):
    """The panel of the Steer stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Steer", SHEETS)
