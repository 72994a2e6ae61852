"""Pages for judges: which kept runs stand there, what the team itself says, and out as HTML, PDF or on paper."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QCheckBox, QLineEdit, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from irontrail.app import printing
from irontrail.app.asked_path import asked_path
from irontrail.app.column import clear
from irontrail.app.pages import evidence as pages
from irontrail.app.pages import paper
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.pit.evidence import Account, account_of, chosen, first_account, runs_needed

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

# What the team writes: its field, what it is called, and what might stand there.
SAID = (
    ("opening", "Opening", "Who you are, what your robot has to do"),
    ("tried", "What was tried, and why", "What you thought, what you changed, what came of it"),
    ("learned", "What we learned", "What you would tell another team"),
)
TEXT_HEIGHT = 58
# Of what stands beside a box there is room for so much.
BOX_PX = 270


class Words(QPlainTextEdit):
    """A few sentences; the Tab key goes on to what comes next."""

    def __init__(self, name: str, hint: str, tell: Callable[[str], None], settle: Callable[[], None]) -> None:
        super().__init__()
        self.setFixedHeight(TEXT_HEIGHT)
        self.setTabChangesFocus(True)
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)
        self.setToolTip(f"{name}: it is kept with the project")
        self._settle = settle
        self.textChanged.connect(lambda: tell(self.toPlainText()))

    def show_text(self, text: str) -> None:
        """Show what is kept, unless it is that already."""
        if text != self.toPlainText():
            self.blockSignals(True)
            self.setPlainText(text)
            self.blockSignals(False)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self._settle()
        super().focusOutEvent(event)


class EvidenceSheet(WorkingPanel):
    """The kept runs to choose from, the team's sentences, and the pages once they are worked out."""

    SAYS = "Pages for the judges, from the logbook and your own words."
    PRINTS = "the pages"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.account: Account | None = None
        self.add_heading("Runs on the pages")
        self.boxes: dict[int, QCheckBox] = {}
        holder = QWidget()
        self.list = QVBoxLayout(holder)
        self.list.setContentsMargins(0, 0, 0, 0)
        self.list.setSpacing(2)
        self.column.addWidget(holder)
        self.none = self.add_words("No run is kept yet. Keep some with K, then choose which to show.", "quiet")
        self.add_heading("Your words")
        self.title = QLineEdit()
        self.title.setPlaceholderText("Title")
        self.title.setAccessibleName("Title")
        self.title.setToolTip("Title of the pages: it is kept with the project")
        self.title.textEdited.connect(lambda text: self._say("title", text))
        self.title.editingFinished.connect(session.settle)
        self.column.addWidget(self.title)
        self.words: dict[str, Words] = {}
        for field, name, hint in SAID:
            words = Words(name, f"{name}: {hint[0].lower()}{hint[1:]}", self._teller(field), session.settle)
            self.column.addWidget(words)
            self.words[field] = words
        self.map = QCheckBox("with the map of its two foremost numbers")
        self.map.setToolTip("Some thousand runs more: every pair of two numbers about those of the last run")
        self.map.setChecked(True)
        self.map.toggled.connect(lambda _on: self.show_project())
        self.column.addWidget(self.map)
        self.add_work("Make the pages", self.start, "Run each chosen run from twenty shaken starts.")
        self.says = self.add_words("", "quiet")
        row = self.add_row()
        self.save, self.print = QPushButton("Save …"), QPushButton("Print …")
        self.save.setToolTip("Save the pages as one HTML file with its pictures inside, or as PDF")
        self.save.clicked.connect(self._ask_path)
        self.print.setToolTip("Print the pages (Ctrl+P)")
        self.print.clicked.connect(lambda: printing.ask(self, self.PRINTS, self.print_on))
        for button in (self.save, self.print):
            row.addWidget(button)
        self.finish()

    # --- choosing and writing

    def _teller(self, field: str) -> Callable[[str], None]:
        return lambda text: self._say(field, text)

    def _say(self, field: str, text: str) -> None:
        self._put(f"words: {field}", f"evidence {field}", **{field: text})

    def _put(self, label: str, key: str | None = None, **values: object) -> None:
        project = self.session.project
        evidence = replace(project.evidence, **values)  # type: ignore[arg-type]
        self.session.document.apply(label, replace(project, evidence=evidence), key)

    def _choose(self, number: int, on: bool) -> None:
        """A run is put on the pages, or taken off; without any, all are on them."""
        project = self.session.project
        shown = {run.number for run in chosen(project)}
        shown = shown | {number} if on else shown - {number}
        kept = [run.number for run in project.kept]
        runs = tuple(each for each in kept if each in shown)
        self._put("runs on the pages", runs=runs if len(runs) < len(kept) else ())

    # --- working out

    def start(self) -> None:
        """Work the pages out for the project as it stands."""
        project, with_map = self.session.project, self.map.isChecked()
        try:
            first_account(project)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.begin(lambda tell: account_of(project, with_map, tell), runs_needed(project, with_map))

    def show_result(self, result: Account) -> None:
        self.account = result
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        project = self.session.project
        shown = {run.number for run in chosen(project)}
        if [run.number for run in project.kept] != list(self.boxes):
            clear(self.list)
            self.boxes = {}
            for run in project.kept:
                box = QCheckBox()
                box.setToolTip("Show this run on the pages")
                box.toggled.connect(lambda on, number=run.number: self._choose(number, on))
                self.list.addWidget(box)
                self.boxes[run.number] = box
        for run in project.kept:
            box = self.boxes[run.number]
            end = f"{run.figures.time_s:.1f} s" if run.figures.outcome == "finished" else run.figures.outcome
            note = f", {run.note}" if run.note else ""
            said = f"{run.number}  {run.setup.program.steers_by}, {end}{note}"
            box.setText(box.fontMetrics().elidedText(said, Qt.TextElideMode.ElideRight, BOX_PX))
            box.setAccessibleName(said)
            box.blockSignals(True)
            box.setChecked(run.number in shown)
            box.blockSignals(False)
        self.none.setVisible(not project.kept)
        if self.title.text() != project.evidence.title:
            self.title.setText(project.evidence.title)
        for field, words in self.words.items():
            words.show_text(getattr(project.evidence, field))
        ready = self._current() is not None
        for button in (self.save, self.print):
            button.setEnabled(ready)
        self.button.setEnabled(bool(project.kept))
        if ready and self.account is not None:
            self.says.setText(f"Ready, from {self.account.runs:,} runs. Your words may still be changed.")
        else:
            self.says.setText("The pages have changed: make them again." if self.account is not None else "")

    def _current(self) -> Account | None:
        """The pages with the words of now, if the runs they were made from still are those chosen."""
        account, project = self.account, self.session.project
        if account is None or tuple(step.kept for step in account.steps) != chosen(project):
            return None
        if (account.map is not None) != self.map.isChecked():
            return None
        return replace(account, project=project)

    # --- out

    def _ask_path(self) -> None:
        name = f"{self.session.setup.mat.name}.html"
        path = asked_path(self, "Save the pages", name, {".html": "HTML", ".pdf": "PDF"})
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Save the pages as HTML or PDF by the name's ending; what is wrong is told."""
        account = self._current()
        if account is None:
            return
        try:
            pages.write(path, account)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.notice(f"The pages are in {path.name}.")

    def print_on(self, printer: "QPrinter") -> None:
        account = self._current()
        if account is None:
            self.session.notice("The pages are not made yet. Press Make the pages, then print them.")
            return
        paper.print_pages(pages.pages_of(account, paper.size_of(printer)), printer, pages.title_of(account))
