"""Questions to ask of a run, each answered by runs made for it: a sentence, and how often each value goes well."""

from collections.abc import Callable

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from irontrail.app.panel import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.answer_columns import AnswerColumns
from irontrail.app.working import WorkingPanel
from irontrail.core.causes.changed import what_changed
from irontrail.core.causes.questions import Answer, Column, Question, answered, asked_of
from irontrail.core.project import KeptRun, Setup

# Runs that an answer takes, guessed.
RUNS_GUESSED = 90


class AskSheet(WorkingPanel):
    """A button for each question that makes sense here; the answer stands under them."""

    SAYS = "Questions of your own, answered by runs made for them."

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


def _comparer(kept: KeptRun) -> Callable[[Setup, Callable[[int], bool]], Answer]:
    """What changed since a kept run: each change undone, the one that did it first."""

    def ask(setup: Setup, proceed: Callable[[int], bool]) -> Answer:
        found = what_changed(kept.setup, setup, proceed)
        columns = [Column(f"run {kept.number}", found.before.share, found.before.time_s)]
        columns.append(Column("now", found.now.share, found.now.time_s, True))
        columns += [Column(f"without {each.says}", each.after.share, each.after.time_s) for each in found.undone[:3]]
        return Answer(found.says, tuple(columns))

    return ask
