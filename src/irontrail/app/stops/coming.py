"""The stops that are not built yet: each says plainly what will be there."""

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme

WILL_BE = {
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
        self.finish()
