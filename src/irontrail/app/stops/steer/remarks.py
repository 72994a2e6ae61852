"""What proofreading says of the program, on a sheet, each with its mend to try."""

from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.remark_list import RemarkList, Said


class RemarksOnSheet:
    """Joins a list of remarks to the session; a sheet that has one wants "remarks"."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.session = session
        self.view = RemarkList(theme, self.mend)

    def show(self) -> None:
        """Show what is said of the newest run, if anything is."""
        advice = self.session.adviser.advice
        if advice is not None and advice.remarks is not None and self.session.view is not None:
            self.view.set_said(tuple(Said(remark.says, remark.mend) for remark in advice.remarks))
            self.view.setVisible(bool(advice.remarks))

    def mend(self, place: int) -> None:
        """Try what one of them offers."""
        advice = self.session.adviser.advice
        if advice is not None and advice.remarks is not None and place < len(advice.remarks):
            remark = advice.remarks[place]
            if remark.mended is not None:
                self.session.try_mend(remark.mend, remark.mended)
