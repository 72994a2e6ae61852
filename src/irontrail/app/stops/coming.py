"""The stops that are not built yet: each says plainly what will be there."""

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme

WILL_BE = {
    "Compare": (
        "Kept runs set off together and race on one mat, with the gap in seconds as they go.",
        "Lanes laid over one another by place, and where each run gains and loses.",
        "Each run over the same shaken starts: better, or lucky?",
    ),
    "Tune": (
        "A map of any two numbers, coloured by any measure, with the cliff where runs are lost.",
        "A search for the best numbers within limits, and how sure to finish they are.",
        "The gain at which rocking starts, and starting values from it.",
    ),
    "Pit": (
        "The numbers to type into the real robot, for your motor sides and your loop time.",
        "A sheet to print and take to the table.",
    ),
}


class ComingPanel(Panel):
    """The panel of a stop that is not built yet."""

    def __init__(self, session: Session, theme: Theme, stop: str) -> None:
        super().__init__(session, theme, stop)
        self.add_words("This stop is not built yet. Here will be:", "quiet")
        for line in WILL_BE[stop]:
            self.add_words(line)
        if stop == "Compare":
            self.add_words("Until then: keep a run with K and see its figures beside the new ones at Run.", "quiet")
        self.finish()
