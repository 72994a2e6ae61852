"""The gain at which rocking starts, from theory and from the engine, and starting values from it."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton

from irontrail.app.preloading import when_loaded
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.gain_scale import GainScale
from irontrail.app.worker import NewestWins
from irontrail.app.working import WorkingPanel
from irontrail.core.capital import capital
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures
from irontrail.core.setup import Setup
from irontrail.core.theory.linear import UltimateGain
from irontrail.core.tune.ultimate_gain import (
    RULES,
    by_rules,
    from_engine,
    from_theory,
    never_calm,
    with_rule,
    without_gains,
)


class RockingSheet(WorkingPanel):
    """Two figures, a scale with today's gain, and a row for each rule."""

    SAYS = "The gain at which it rocks, and starting values from it."
    GUESSED = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.theory: UltimateGain | None = None
        self.engine: UltimateGain | None = None
        self._raised_for: Setup | None = None
        self.ruler = NewestWins(
            lambda asked: by_rules(*asked), self._on_ruled, session.could_not("What the starting values do")
        )
        self.retired.connect(self.ruler.close)
        self.add_words(
            "Raise a proportional gain, and at some value the robot rocks to and fro without end. Everything below "
            "follows from that gain and the time one rocking takes.",
            "quiet",
        )
        self.scale = GainScale(theme)
        self.column.addWidget(self.scale)
        self.theory_says = self.add_words()
        self.add_work(
            "Raise it in the engine", self.raise_gain, "Raise the gain until the simulated robot rocks without end."
        )
        self.engine_says = self.add_words()
        self.add_rule()
        self.add_heading("Starting values: try them, then tune")
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        self.rows: list[tuple[QLabel, QLabel, QPushButton]] = []
        for i, rule in enumerate(RULES):
            name = self._label(capital(rule.name), "heading")
            name.setToolTip(rule.source)
            gains, does = self._label("", "words"), self._label("", "quiet")
            take = QPushButton("Try")
            take.setProperty("small", "true")
            take.setToolTip(f"Try these gains; undo takes them back. From: {rule.source}")
            take.setAccessibleName(f"try {rule.name}")
            take.clicked.connect(lambda _checked=False, i=i: self.take(i))
            grid.addWidget(name, 3 * i, 0)
            grid.addWidget(take, 3 * i, 1)
            grid.addWidget(gains, 3 * i + 1, 0, 1, 2)
            grid.addWidget(does, 3 * i + 2, 0, 1, 2)
            self.rows.append((gains, does, take))
        grid.setColumnStretch(0, 1)
        self.column.addLayout(grid)
        self.add_rule()
        self.add_words("\n".join(f"{capital(rule.name)}: {rule.source}." for rule in RULES), "quiet")
        self.finish()

    def raise_gain(self) -> None:
        """Raise the gain on a straight till the engine's robot rocks."""
        setup = self._raised_for = self.session.setup

        def raised(tell: Callable[[object, int], bool]) -> UltimateGain | str:
            try:
                found = from_engine(setup, lambda done: tell(None, done))
            except IronTrailError as error:
                return f"Engine says nothing here: {error.what}."
            return found or "Engine: it did not rock at any gain up to 20."

        self.begin(raised, 24)

    def show_result(self, result: UltimateGain | str) -> None:
        self.engine = result if isinstance(result, UltimateGain) else None
        if isinstance(result, str):
            self.engine_says.setText(result)
        self._show()

    def show_project(self) -> None:
        super().show_project()
        if self._raised_for is not None and without_gains(self._raised_for) != without_gains(self.session.setup):
            self.engine, self._raised_for = None, None
        if not when_loaded(self, self._tell_theory):
            # Of other settings than these.
            self.theory = None
            self.theory_says.setText("")
            self._show()

    def _tell_theory(self) -> None:
        try:
            self.theory = from_theory(self.session.setup)
            if self.theory is None:
                any_or_none = "rocks at any gain, however small" if never_calm(self.session.setup) else "never rocks"
                self.theory_says.setText(f"Theory: it {any_or_none}.")
        except IronTrailError as error:
            self.theory = None
            self.theory_says.setText(f"Theory says nothing here: {error.what}.")
        self._show()

    def _show(self) -> None:
        setup, theory, engine = self.session.setup, self.theory, self.engine
        law = setup.program.chosen.gains(setup.program)
        now = law.kp if law is not None else setup.program.proportional.gain
        self.scale.set_gains(now, theory.gain if theory else None, engine.gain if engine else None)
        if theory is not None:
            self.theory_says.setText(f"Theory: gain {theory.gain:.3f}, {theory.hertz:.2f} times a second.")
        if engine is not None:
            words = f"Engine: gain {engine.gain:.3f}, {engine.hertz:.2f} times a second"
            if theory is not None:
                apart = 100.0 * (engine.gain / theory.gain - 1.0)
                words += f"; {abs(apart):.1f} % {'above' if apart >= 0 else 'below'} theory"
            if engine.clipped:
                words += "; a wheel was at its limit while it rocked, so that the gain may be too high"
            self.engine_says.setText(f"{words}.")
        elif engine is None and self._raised_for is None:
            self.engine_says.setText("Engine: not raised yet for these settings.")
        start = engine or theory
        for rule, (gains, does, take) in zip(RULES, self.rows, strict=True):
            take.setEnabled(start is not None)
            if start is None:
                gains.setText("–")
                does.setText("")
                continue
            kp, ki, kd = rule.gains(start.gain, start.period_s)
            numbers = (
                [f"gain {kp:.2f}"]
                if ki == kd == 0.0
                else [f"proportional {kp:.2f}", f"integral {ki:.2f}", f"derivative {kd:.3f}"]
            )
            gains.setText(", ".join(numbers))
        if start is not None:
            self.ruler.request((setup, start))

    def _on_ruled(self, _asked: tuple[Setup, UltimateGain], ruled: tuple[Figures | str, ...]) -> None:
        if self.engine is None and self.theory is None:
            # Asked while there was something to start from.
            return
        for (_, does, _), figures in zip(self.rows, ruled, strict=True):
            if isinstance(figures, str):
                does.setText(figures)
            elif figures.outcome == "finished":
                does.setText(f"On this mat: {figures.time_s:.2f} s, swing {figures.wobble_mm:.1f} mm.")
            else:
                does.setText(f"On this mat: {figures.outcome.replace('-', ' ')} after {figures.time_s:.1f} s.")

    def take(self, i: int) -> None:
        """Try a rule's starting values, as one step."""
        start = self.engine or self.theory
        if start is not None:
            try:
                self.session.edit(f"starting values: {RULES[i].name}", with_rule(self.session.setup, RULES[i], start))
            except IronTrailError as error:
                self.session.notice(str(error))
