"""The card for the table: the numbers, and what to do if, worked out by runs; saved as PDF or printed."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from irontrail.app import printing
from irontrail.app.asked_path import asked_path
from irontrail.app.column import clear
from irontrail.app.pages import card as card_page
from irontrail.app.pages import paper
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.pit.card import RUNS_GUESSED, Card, card_of, first_card
from irontrail.core.pit.setting_down import set_down
from irontrail.files import atomic

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

# Numbers in a row.
ACROSS = 3


class CardSheet(WorkingPanel):
    """The numbers at once; the rest after a press, since it takes some thousand runs."""

    SAYS = "A page for the table: the numbers, and what to do if."
    GUESSED = True
    PRINTS = "the card"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.card: Card = first_card(session.setup)
        self.paper = next(iter(paper.PAPERS))
        self.numbers = QGridLayout()
        self.numbers.setVerticalSpacing(2)
        self.column.addLayout(self.numbers)
        self.base = self.add_words()
        self.add_work("Work it out", self.start, "Run it with faults, and with what mends them, from many starts.")
        self.hint = self.add_words(
            "How exactly it must be set down, and what to do if it rocks, leaves the line or the battery is low: "
            "each is tried on this robot and mat before it stands on the card.",
            "quiet",
        )
        self.lines = QWidget()
        self.list = QVBoxLayout(self.lines)
        self.list.setContentsMargins(0, 0, 0, 0)
        self.list.setSpacing(3)
        self.column.addWidget(self.lines)
        self.add_rule()
        self.papers = self.add_choice("Paper", tuple(paper.PAPERS), self._choose_paper, says="One page of {}.")
        row = self.add_row()
        self.save, self.print = QPushButton("Save PDF …"), QPushButton("Print …")
        self.save.setToolTip("Save the card as a page to print")
        self.save.clicked.connect(self._ask_path)
        self.print.setToolTip("Print the card (Ctrl+P)")
        self.print.clicked.connect(lambda: printing.ask(self, self.PRINTS, self.print_on))
        for button in (self.save, self.print):
            row.addWidget(button)
        self.finish()

    # --- working it out

    def start(self) -> None:
        """Work the card out for the settings as they are."""
        setup = self.session.setup
        self.begin(lambda tell: card_of(setup, tell), RUNS_GUESSED)

    def show_partial(self, partial: Card) -> None:
        self._show(partial)

    def show_result(self, result: Card) -> None:
        self._show(result)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        for name, button in self.papers.items():
            button.setChecked(name == self.paper)
        if self.card.setup != self.session.setup:
            # What was worked out is of another robot.
            if self.work.running:
                self.call_off()
            self._show(first_card(self.session.setup))
        else:
            self._show(self.card)

    def _show(self, card: Card) -> None:
        self.card = card
        clear(self.numbers)
        for i, number in enumerate(card.numbers):
            name = f"{number.label}, {number.unit}" if number.unit else number.label
            label, value = self._label(name, "quiet"), Label(number.value)
            label.setWordWrap(True)
            value.setProperty("role", "number")
            row, column = 2 * (i // ACROSS), i % ACROSS
            self.numbers.addWidget(label, row, column)
            self.numbers.addWidget(value, row + 1, column)
        base = card.base
        self.base.setVisible(base is not None)
        if base is not None and base.holds:
            self.base.setText(f"{base.of_starts} starts came through, in {base.time_s:.1f} s.")
        elif base is not None:
            self.base.setText(f"Only {base.of_starts} starts came through: tune the numbers before you print them.")
        self.hint.setVisible(base is None and not self.work.running)
        clear(self.list)
        for when, do, tried in _told(card):
            if when:
                self.list.addSpacing(4)
                self.list.addWidget(self._label(when, "heading"))
            self.list.addWidget(self._label(do, "lead"))
            if tried:
                self.list.addWidget(self._label(tried, "quiet"))
        for button in (self.save, self.print):
            button.setEnabled(card.whole)

    # --- out

    def _choose_paper(self, name: str) -> None:
        self.paper = name

    def _ask_path(self) -> None:
        name = f"{self.session.setup.mat.name} card.pdf"
        path = asked_path(self, "Save the card", name, {".pdf": "PDF"})
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Save the card as PDF; what is wrong is told."""
        size = paper.PAPERS[self.paper]
        try:
            page = card_page.page_of(self.card, size)
            atomic.write_bytes(path, paper.pdf(page, size, f"{self.card.setup.title}: card"))
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.notice(f"The card is in {path.name}: one page of {self.paper}, from {self.card.runs:,} runs.")

    def print_on(self, printer: "QPrinter") -> None:
        if not self.card.whole:
            self.session.notice("The card is not worked out yet. Press Work it out, then print it.")
            return
        try:
            page = card_page.page_of(self.card, paper.size_of(printer))
            paper.print_pages(page, printer, self.card.setup.title)
        except IronTrailError as error:
            self.session.notice(str(error))


def _told(card: Card) -> list[tuple[str, str, str]]:
    """What the card says beside its numbers: a heading, what to do, and how it was tried."""
    told = []
    if card.placing is not None:
        told.append(("Set it down", set_down(card.setup), card_page.in_words(card.placing)))
    if card.wheels is not None:
        told.append(("Check the wheels", card_page.check_words(card.wheels), ""))
    told += [(f"{line.when}:", line.do, line.tried) for line in card.advice]
    if card.same_everywhere:
        halls = ", ".join(f"{row.dark:.0f} and {row.bright:.0f}" for row in card.hall)
        told.append(
            (
                "In a dim hall or a bright one:",
                "Leave the numbers.",
                f"Reading {halls} raw, the starts came "
                f"through: {', '.join(row.as_set.of_starts for row in card.hall)}.",
            )
        )
        return told
    for i, row in enumerate(card.hall):
        came = row.as_set.of_starts if row.leave else f"{row.anew.of_starts}, as now {row.as_set.of_starts}"
        heading = "The hall reads, raw, on the line and on the mat:" if not i else ""
        told.append((heading, f"{row.dark:.0f} and {row.bright:.0f}: {row.says} ({came}).", ""))
    return told
