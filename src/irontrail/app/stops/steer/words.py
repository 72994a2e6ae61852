"""The loop in plain numbered sentences, the one that decides now lit."""

import numpy as np
from PySide6.QtWidgets import QApplication, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.sentence_list import Line, SentenceList
from irontrail.app.widgets.term_bars import TermBars
from irontrail.core.steering.words import in_words


class WordsSheet(Panel):
    """What the robot does, told as one would tell a team mate."""

    SAYS = "The whole program in words."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_words(
            "What Pip does, over and over. Lit: what decides now. At the right: how often it decided on this run.",
            "quiet",
        )
        self.sentences = SentenceList(theme)
        self.column.addWidget(self.sentences)
        self.copy = QPushButton("Copy the words")
        self.copy.setToolTip("Copy the program in words, to paste it anywhere")
        self.copy.setToolTip("Copy these sentences, to keep beside the robot")
        self.copy.clicked.connect(self._copy)
        self.column.addWidget(self.copy)
        self.terms_heading = self.add_heading("What each term steers")
        self.terms = TermBars(theme)
        self.column.addWidget(self.terms)
        self._rules: np.ndarray = np.zeros(0, np.int64)
        self._places: dict[int, int] = {}
        self._row = 0
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        self._fill()

    def show_view(self) -> None:
        self._fill()

    def _fill(self) -> None:
        """The sentences of the program as it stands, with the shares of the run if it is that program's."""
        program, view = self.session.setup.effective_program, self.session.view
        said = in_words(program)
        self._places = {sentence.rule: i for i, sentence in enumerate(said) if sentence.rule is not None}
        self._rules = np.zeros(0, np.int64)
        shares: dict[int, float] = {}
        light: dict[int, bool] = {}
        if view is not None and view.setup.effective_program == program:
            trace = view.run.trace
            self._rules = trace.rule.astype(np.int64)
            for rule in self._places:
                here = self._rules == rule
                shares[rule] = float(here.mean())
                light[rule] = bool(trace.side[here].mean() >= 0.5) if here.any() else rule == 0
        several = len(self._places) > 1
        self.sentences.set_lines(
            tuple(
                Line(sentence.says, shares.get(sentence.rule), light.get(sentence.rule))
                if several and sentence.rule is not None
                else Line(sentence.says)
                for sentence in said
            )
        )
        told = bool(program.chosen.terms) and view is not None and view.setup.effective_program == program
        self.terms_heading.setVisible(told)
        self.terms.setVisible(told)
        if told and view is not None:
            trace = view.run.trace
            self.terms.set_terms(trace.p_term, trace.i_term, trace.d_term)
        self.show_now(self._row)

    def show_now(self, row: int) -> None:
        self._row = row
        if row < self._rules.size:
            self.sentences.set_lit(self._places.get(int(self._rules[row])))
        self.terms.set_now(row)

    def _copy(self) -> None:
        said = in_words(self.session.setup.effective_program)
        text = "\n".join(f"{i}. {sentence.says}" for i, sentence in enumerate(said, 1))
        QApplication.clipboard().setText(text)
        self.session.notice(f"Copied {len(said)} sentences.")
