"""Questions to ask of a run, each answered by runs made for it: a sentence, and how often each value goes well."""

from collections.abc import Callable

from PySide6.QtWidgets import QComboBox, QPushButton, QVBoxLayout, QWidget

from irontrail.app.column import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.answer_columns import AnswerColumns
from irontrail.app.working import WorkingPanel
from irontrail.core.causes.changed import what_changed
from irontrail.core.causes.questions import Answer, Column, Question, answered, asked_of
from irontrail.core.project import KeptRun
from irontrail.core.setup import Setup

# Runs that an answer takes, guessed.
RUNS_GUESSED = 90


class AskSheet(WorkingPanel):
    """A button for each question that makes sense here; the answer stands under them."""

    SAYS = "Questions of your own, answered by runs made for them."
    GUESSED = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.answer: Answer | None = None
        self._of: Setup | None = None
        self._asks = ""
        holder = QWidget()
        self.list = QVBoxLayout(holder)
        self.list.setContentsMargins(0, 0, 0, 0)
        self.list.setSpacing(4)
        self.column.addWidget(holder)
        self.buttons: dict[str, QPushButton] = {}
        self.between_row, row = self.add_row_apart()
        self.earlier, self.later = QComboBox(), QComboBox()
        for box, name, tip in (
            (self.earlier, "the earlier run", "From this kept run"),
            (self.later, "the later run", "To this kept run, or to now"),
        ):
            box.setAccessibleName(name)
            box.setToolTip(tip)
            row.addWidget(box, 1)
        self.between = QPushButton("What changed?")
        self.between.setProperty("small", "true")
        self.between.setToolTip("Which of the changes from one to the other did it: each undone by itself")
        self.between.clicked.connect(self.ask_between)
        row.addWidget(self.between)
        self.none = self.add_words("Questions are asked of a robot that follows one line with one sensor.", "quiet")
        self.add_work("Stop", lambda: None, "Ask no more.")
        self.button.hide()
        self.question = self.add_words("", "heading")
        self.says = self.add_words("", "lead")
        self.picture = AnswerColumns(theme)
        self.column.addWidget(self.picture)
        self.under = self.add_words("", "quiet")
        self.finish()

    # --- which there are

    def _questions(self) -> list[tuple[str, Callable[[Setup, Callable[[int], bool]], Answer]]]:
        setup = self.session.setup
        found = [(each.asks, _asker(each)) for each in asked_of(setup)]
        kept = self.session.kept_runs.reference
        if kept is not None and kept.setup != setup and found:
            found.append((f"What changed since run {kept.number}?", _comparer(kept)))
        return found

    def show_project(self) -> None:
        super().show_project()
        found = self._questions()
        if [asks for asks, _ in found] != list(self.buttons):
            clear(self.list)
            self.buttons = {}
            for asks, ask in found:
                button = QPushButton(asks)
                button.setProperty("small", "true")
                button.setToolTip("Answered by some dozens of runs from shaken starts")
                button.clicked.connect(lambda _checked=False, asks=asks, ask=ask: self.ask(asks, ask))
                self.list.addWidget(button)
                self.buttons[asks] = button
        self._show_between()
        self.none.setVisible(not found)
        if self._of is not None and self._of != self.session.setup:
            # What was answered is of other numbers.
            self._of, self.answer = None, None
            if self.work.running:
                self.call_off()
        self._show_answer()

    def show_view(self) -> None:
        if self.buttons:
            self.show_project()

    def _show_between(self) -> None:
        """Any two kept runs may be asked about, or one and now."""
        kept = self.session.project.kept
        self.between_row.setVisible(bool(kept))
        names = [f"from run {run.number}" for run in kept]
        if [self.earlier.itemText(i) for i in range(self.earlier.count())] != names:
            for box, made in (
                (self.earlier, names),
                (self.later, ["to now", *(f"to run {run.number}" for run in kept)]),
            ):
                box.clear()
                box.addItems(made)
            self.earlier.setCurrentIndex(max(len(kept) - 2, 0))
            self.later.setCurrentIndex(len(kept) if len(kept) > 1 else 0)

    def ask_between(self) -> None:
        """Which of the changes from one run to another did it."""
        kept = self.session.project.kept
        one, other = kept[self.earlier.currentIndex()], self.later.currentIndex()
        later = None if other == 0 else kept[other - 1]
        to = "now" if later is None else f"run {later.number}"
        self.ask(f"What changed from run {one.number} to {to}?", _comparer(one, later))

    # --- asking

    def ask(self, asks: str, ask: Callable[[Setup, Callable[[int], bool]], Answer]) -> None:
        """Have a question answered for the settings as they are; another one under way is dropped."""
        setup = self.session.setup
        self._of, self._asks, self.answer = setup, asks, None
        self._show_answer()
        self.begin(lambda tell: ask(setup, lambda done: tell(None, done)), RUNS_GUESSED)
        self.button.show()

    def show_result(self, result: Answer) -> None:
        self.answer = result
        self._show_answer()

    def _at_rest(self) -> None:
        super()._at_rest()
        self.button.hide()

    def _show_answer(self) -> None:
        answer = self.answer
        self.question.setText(self._asks if self._of is not None else "")
        self.says.setText(answer.says if answer is not None else "")
        self.picture.set_columns(answer.columns if answer is not None else ())
        known = answer is not None and bool(answer.columns)
        self.under.setText("Of ten shaken starts so many go well; today's in rust." if known else "")


def _asker(question: Question) -> Callable[[Setup, Callable[[int], bool]], Answer]:
    return lambda setup, proceed: answered(question, setup, proceed)


def _comparer(kept: KeptRun, later: KeptRun | None = None) -> Callable[[Setup, Callable[[int], bool]], Answer]:
    """What changed since a kept run, till a later one or now: each change undone, the one that did it first."""

    def ask(setup: Setup, proceed: Callable[[int], bool]) -> Answer:
        found = what_changed(kept.setup, setup if later is None else later.setup, proceed)
        columns = [Column(f"run {kept.number}", found.before.share, found.before.time_s)]
        columns.append(
            Column("now" if later is None else f"run {later.number}", found.now.share, found.now.time_s, True)
        )
        columns += [Column(f"without {each.says}", each.after.share, each.after.time_s) for each in found.undone[:3]]
        return Answer(found.says, tuple(columns))

    return ask
