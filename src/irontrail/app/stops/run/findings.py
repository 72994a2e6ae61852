"""What happened and why: each finding pinned to its moment on the mat, with the change that mends it."""

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.remark_list import RemarkList, Said
from irontrail.core import derive

OUTCOME_WORDS = {
    "finished": "Finished.",
    "off-mat": "The sensor left the mat.",
    "lost": "Lost: the sensor strayed too far from its edge.",
    "stuck": "Stuck: no progress along the line.",
    "time-out": "Out of time.",
    "stopped": "Stopped by its own rule before the finish.",
}


class FindingsSheet(Panel):
    """The outcome in a sentence, then the findings; a ring shows its moment."""

    SAYS = "Why the run went as it did, and what would help."

    WANTS = frozenset({"findings"})

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.outcome = self.add_words()
        self.list = RemarkList(theme, self._mend, self._show)
        self.column.addWidget(self.list)
        self.quiet = self.add_words(
            "Nothing more to say: it did not swing, slip or clip enough to be worth a sentence.", "quiet"
        )
        self.finish()

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        outcome = OUTCOME_WORDS[view.figures.outcome]
        trip = view.setup.program.trip
        if view.figures.outcome != "finished" and trip is not None:
            outcome += f" It ended in leg {len(view.run.legs)} of {len(trip.legs)}."
        elif view.figures.outcome != "finished":
            outcome += f" It had come {100.0 * derive.way_share(view.setup):.0f} % of the way."
        self.outcome.setText(outcome)

    def show_advice(self) -> None:
        advice = self.session.adviser.advice
        if advice is None or advice.findings is None:
            return
        self.list.set_said(tuple(Said(each.says, each.mend, True) for each in advice.findings))
        self.quiet.setVisible(not advice.findings)

    def _mend(self, place: int) -> None:
        advice = self.session.adviser.advice
        if advice is not None and advice.findings is not None and place < len(advice.findings):
            finding = advice.findings[place]
            if finding.mended is not None:
                self.session.try_mend(finding.mend, finding.mended)

    def _show(self, place: int) -> None:
        advice = self.session.adviser.advice
        if advice is not None and advice.findings is not None and place < len(advice.findings):
            self.session.looking.show_row(advice.findings[place].row)
