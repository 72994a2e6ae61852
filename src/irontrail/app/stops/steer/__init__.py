"""Steer: the law and its curve, the loop around it, the whole in words, and the robot let go beside its edge."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.steer.law import LawSheet
from irontrail.app.stops.steer.loop import LoopSheet
from irontrail.app.stops.steer.step_response import StepResponseSheet
from irontrail.app.stops.steer.words import WordsSheet
from irontrail.app.theme import Theme

SHEETS = {"Law": LawSheet, "Loop": LoopSheet, "Words": WordsSheet, "Let go": StepResponseSheet}


class SteerPanel(SheetedPanel):
    """The panel of the Steer stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Steer", SHEETS)
