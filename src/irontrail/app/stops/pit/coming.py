"""What of the Pit is not built yet: it says plainly what will be there."""

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme

WILL_BE = (
    "A card to print and take to the table: the numbers, how to calibrate, "
    "and what to do if it rocks or the hall is brighter.",
    "Pages for the judges, from the logbook.",
    "The event in order, with the times of real runs beside the foretold ones.",
)


class ComingSheet(Panel):
    """What will be here."""

    SAYS = "What will be here, and is not built yet."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_words("These sheets are not built yet. Here will be:", "quiet")
        for line in WILL_BE:
            self.add_words(line)
        self.finish()
