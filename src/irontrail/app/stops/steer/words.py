"""The loop in plain numbered sentences, the one that decides now lit."""

import numpy as np
from PySide6.QtWidgets import QApplication, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.sentence_list import Line, SentenceList
from irontrail.app.widgets.term_bars import TermBars
from irontrail.core.steering.words import deciding, in_words


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
        self.copy.setToolTip("Copy these sentences, to keep beside the robot")
        self.copy.clicked.connect(self._copy)
        self.column.addWidget(self.copy)
        self.terms_heading = self.add_heading("What each term steers")
        self.terms = TermBars(theme)
        self.column.addWidget(self.terms)
        self._decides: np.ndarray = np.zeros(0, np.int64)
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
        deciders = [i for i, each in enumerate(said) if each.rule is not None or each.leg is not None]
        self._decides = np.zeros(0, np.int64)
        lines = [Line(sentence.says) for sentence in said]
        if view is not None and view.setup.effective_program == program:
            trace = view.run.trace
            self._decides = deciding(program, trace.rule.astype(np.int64), trace.leg.astype(np.int64))
            for i in deciders if len(deciders) > 1 else ():
                # A leg that follows the line lasts, while the law's rules decide in it.
                rule, leg = said[i].rule, said[i].leg
                here = self._decides == i if leg is None else trace.leg == leg
                light = bool(trace.side[here].mean() >= 0.5) if here.any() else rule == 0
                lines[i] = Line(said[i].says, float(here.mean()), light if rule is not None else None)
        self.sentences.set_lines(tuple(lines))
        told = bool(program.chosen.terms) and view is not None and view.setup.effective_program == program
        self.terms_heading.setVisible(told)
        self.terms.setVisible(told)
        if told and view is not None:
            trace = view.run.trace
            shares = (trace.p_term, trace.i_term, trace.d_term)
            self.terms.set_terms(dict(zip(program.chosen.terms, shares, strict=False)))
        self.show_now(self._row)

    def show_now(self, row: int) -> None:
        self._row = row
        if row < self._decides.size:
            self.sentences.set_lit(int(self._decides[row]))
        self.terms.set_now(row)

    def _copy(self) -> None:
        said = in_words(self.session.setup.effective_program)
        text = "\n".join(f"{i}. {sentence.says}" for i, sentence in enumerate(said, 1))
        QApplication.clipboard().setText(text)
        self.session.notice(f"Copied {len(said)} sentences.")
