"""Bench tests: measure, add tries, and take what they come to."""

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.bench_picture import BenchPicture
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.dial import Dial
from irontrail.core.capital import capital
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import quantities
from irontrail.core.robot.bench_tests import BENCH_TESTS, BenchTest, Measured, counts_per_cm, measured
from irontrail.core.robot.drive import Drive


class BenchSheet(Panel):
    """The tests by name, the chosen one drawn with its numbers, its tries, and what they come to."""

    SAYS = "Measure your robot on the table and take the numbers."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        names = QGridLayout()
        names.setSpacing(5)
        self.tests: dict[str, QPushButton] = {}
        for i, name in enumerate(BENCH_TESTS):
            button = QPushButton(name)
            button.setCheckable(True)
            button.setProperty("small", "true")
            button.setToolTip(f"Measure this on the table: {name}")
            button.clicked.connect(lambda _checked=False, name=name: self.choose(name))
            names.addWidget(button, i // 3, i % 3)
            self.tests[name] = button
        one_of(self, self.tests.values())
        self.column.addLayout(names)
        self.do = self.add_words()
        self.picture = BenchPicture(theme)
        self.column.addWidget(self.picture)
        self.asked: dict[str, dict[str, Dial]] = {name: self._dials(test) for name, test in BENCH_TESTS.items()}
        row = QHBoxLayout()
        self.add = QPushButton("Add this try")
        self.add.setToolTip("Keep these numbers as one try more")
        self.add.clicked.connect(self._add)
        self.clear = QPushButton("Start over")
        self.clear.setToolTip("Forget the tries of this test")
        self.clear.clicked.connect(self._clear)
        row.addWidget(self.add)
        row.addWidget(self.clear)
        self.column.addLayout(row)
        self.says = self.add_words()
        self.take = QPushButton("Take it")
        self.take.setToolTip("Give the robot the number that the tries come to")
        self.take.setProperty("start", "true")
        self.take.clicked.connect(self._take)
        self.column.addWidget(self.take)
        self.tries: dict[str, list[dict[str, float]]] = {name: [] for name in BENCH_TESTS}
        self.chosen = next(iter(BENCH_TESTS))
        self.finish()
        self.choose(self.chosen)

    def _dials(self, test: BenchTest) -> dict[str, Dial]:
        """A dial for each number of a try."""
        dials = {}
        for name, quantity, usual in test.asks:
            dial = Dial(quantity, self.theme, quantity.low, min(quantity.high, 4.0 * abs(usual)))
            dial.setObjectName(f"{test.name} {name}")
            dial.set_value(usual)
            dial.edited.connect(lambda value, _settled, dial=dial: self._on_number(dial, value))
            self.column.addWidget(dial)
            dials[name] = dial
        return dials

    # --- showing

    def choose(self, name: str) -> None:
        """Do another test."""
        self.chosen = name
        for other, button in self.tests.items():
            button.setChecked(other == name)
        for test, dials in self.asked.items():
            for dial in dials.values():
                dial.setVisible(test == name)
        self._show()

    def show_project(self) -> None:
        super().show_project()
        self._show()

    def numbers(self) -> dict[str, float]:
        """The present try."""
        return {name: dial.value for name, dial in self.asked[self.chosen].items()}

    def _show(self) -> None:
        test, drive = BENCH_TESTS[self.chosen], self.session.setup.robot.drive
        self.do.setText(test.do)
        self.picture.set_test(test.name, self._labels(test))
        tries = self.tries[self.chosen]
        self.clear.setEnabled(bool(tries))
        found, problem = self.measured_now()
        self.take.setEnabled(found is not None)
        if found is None:
            self.says.setText(problem)
            return
        quantity, now = quantities(Drive)[test.gives], getattr(drive, test.gives)
        words = f"{capital(quantity.label)} {quantity.in_unit(found.value)}"
        if found.off_by is not None:
            words += f", give or take {quantity.shown(found.off_by)} ({found.tries} tries, 19 times in 20)"
        elif tries:
            words += "; one try does not tell how sure that is"
        else:
            words += " by this try"
        words += f". Now {quantity.shown(now)}."
        if "counts_per_turn" in self.asked[self.chosen]:
            per_turn = self.asked[self.chosen]["counts_per_turn"].value
            words += f" That is {counts_per_cm(drive, per_turn):.1f} counts for each centimetre now."
        self.says.setText(words)

    def _labels(self, test: BenchTest) -> tuple[str, ...]:
        """The numbers of the try as written on the drawing."""
        return tuple(quantity.in_unit(self.asked[test.name][name].value) for name, quantity, _ in test.asks)

    def measured_now(self) -> tuple[Measured | None, str]:
        """What the tries come to, the present one if there are none yet; or what is wrong."""
        tries = self.tries[self.chosen] or [self.numbers()]
        try:
            return measured(BENCH_TESTS[self.chosen], tries, self.session.setup.robot.drive), ""
        except IronTrailError as error:
            return None, str(error)

    # --- doing

    def _on_number(self, dial: Dial, value: float) -> None:
        dial.set_value(dial.quantity.clamped(value))
        self._show()

    def _add(self) -> None:
        self.tries[self.chosen].append(self.numbers())
        self._show()

    def _clear(self) -> None:
        self.tries[self.chosen].clear()
        self._show()

    def _take(self) -> None:
        found, _ = self.measured_now()
        if found is None:
            return
        test, drive = BENCH_TESTS[self.chosen], self.session.setup.robot.drive
        quantity, before = quantities(Drive)[test.gives], getattr(drive, test.gives)
        self.session.set_value(f"robot.drive.{test.gives}", found.value)
        self.session.notice(f"{capital(quantity.label)}: {quantity.shown(before)} → {quantity.in_unit(found.value)}.")
