"""A fair duel of steering laws: each tuned alike, then set side by side."""

from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.column import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.trade_off_picture import Point, TradeOffPicture
from irontrail.app.working import WorkingPanel
from irontrail.core import derive
from irontrail.core.capital import capital
from irontrail.core.project import KeptRun
from irontrail.core.quantity import Quantity
from irontrail.core.tune.candidates import Candidate, Limits
from irontrail.core.tune.duel import Duel, Duellist, DuelSpec, duel, in_words

SWING = Quantity(
    "swing at most",
    "mm",
    0.5,
    50.0,
    0.5,
    1.0,
    1,
    says="Each law may swing no more than this; at the upper end any swing will do.",
)


# What can duel: laws, or one sensor against two.
BETWEEN = ("laws", "sensors")


class DuelSheet(WorkingPanel):
    """A table of what each law can do at its best, and time against swing."""

    SAYS = "Every steering law at its best, side by side."
    GUESSED = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.duel: Duel | None = None
        self.about = self.add_words("", "quiet")
        self.between_row, row = self.add_row_apart()
        self.betweens = self.add_choice(
            "Between", BETWEEN, self._on_between, row, "Let {} duel: each tuned by the same search."
        )
        self.between = BETWEEN[0]
        self.swing = Dial(SWING, theme, 0.5, 50.0)
        self.swing.setObjectName("swing at most")
        self.swing.set_value(50.0)
        self.column.addWidget(self.swing)
        self.add_work("Let them duel", self.start, "Tune every law by the same search and compare them.")
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(8)
        self.column.addLayout(self._table)
        self.take_buttons: dict[str, QPushButton] = {}
        self.picture = TradeOffPicture(theme)
        self.picture.chosen.connect(self._on_chosen)
        self.column.addWidget(self.picture)
        self.says = self.add_words()
        self.keep = QPushButton("Keep them all, to race them")
        self.keep.setToolTip("Keep a run of each law in the logbook")
        self.keep.clicked.connect(self.keep_all)
        self.keep.setEnabled(False)
        self.column.addWidget(self.keep)
        self.finish()

    @property
    def of_sensors(self) -> bool:
        """One sensor against two, and not law against law."""
        return self.between == BETWEEN[1] and self.session.setup.second is not None

    def _on_between(self, between: str) -> None:
        self.between = between
        self.show_project()

    def show_project(self) -> None:
        super().show_project()
        self.between_row.setVisible(self.session.setup.second is not None)
        for name, button in self.betweens.items():
            button.setChecked(name == self.between)
        both = "One sensor on either edge, and two in every way they can work,"
        who = both if self.of_sensors else "Each law"
        verb = "are" if self.of_sensors else "is"
        pronoun = "they" if self.of_sensors else "it"
        self.about.setText(
            f"{who} {verb} tuned on this mat with this robot by the same search, to finish 95 % of shaken starts as "
            f"fast as {pronoun} can; then all drive the same fresh starts."
        )

    def start(self) -> None:
        """Tune each in turn."""
        swing = self.swing.value if self.swing.value < SWING.high else None
        spec = DuelSpec(self.session.setup, limits=Limits(swing_mm=swing), of_sensors=self.of_sensors)

        def job(tell):  # type: ignore[no-untyped-def]
            def told(so_far: Duel, name: str, done: int, of: int) -> bool:
                self.foresee(of)
                return tell((so_far, name), done)  # type: ignore[no-any-return]

            return duel(spec, told)

        self.begin(job, spec.runs)

    def show_partial(self, partial: tuple[Duel, str]) -> None:
        so_far, name = partial
        if self.duel is None or len(so_far.duellists) != len(self.duel.duellists) or so_far.spec is not self.duel.spec:
            self._show(so_far)
        self.says.setText(f"Tuning {name} …")

    def show_result(self, result: Duel) -> None:
        self._show(result)
        self.keep.setEnabled(True)
        self.says.setText(f"{capital(in_words(result))} Press one to take its numbers.")

    def _show(self, made: Duel) -> None:
        self.duel = made
        clear(self._table)
        self.take_buttons = {}
        what = "sensors" if made.spec.of_sensors else "law"
        for column, words in enumerate((what, "finish", "time, s", "swing", "before the next")):
            self._table.addWidget(self._label(words, "quiet"), 0, column)
        order = made.ranked or tuple(range(len(made.duellists)))
        for row, i in enumerate(order, 1):
            each = made.duellists[i]
            take = QPushButton(each.name)
            take.setProperty("small", "true")
            take.setToolTip(self._numbers(each))
            take.clicked.connect(lambda _checked=False, each=each: self.take(each))
            self._table.addWidget(take, row, 0)
            self.take_buttons[each.name] = take
            for column, text in enumerate(self._row(made, order, row - 1), 1):
                label = self._label(text, "heading" if made.winner == i else "words")
                label.setWordWrap(False)
                self._table.addWidget(label, row, column)
        shown = [each for each in made.duellists if self._best(each).finished > 0.0]
        points = tuple(
            Point(self._best(each).figure("time_s"), self._best(each).figure("wobble_mm"), each.name, i)
            for i, each in enumerate(shown)
        )
        self.picture.set_points(points, None, joined=False)

    @staticmethod
    def _best(each: Duellist) -> Candidate:
        assert each.found.best is not None
        return each.found.best

    def _row(self, made: Duel, order: tuple[int, ...], place: int) -> tuple[str, str, str, str]:
        """What stands beside one: how often it comes through, time, swing, and the gap to who comes after it by right.

        Who breaks a limit is not behind anyone.
        """
        i = order[place]
        each = made.duellists[i]
        best, tried = self._best(each), made.tried[i] if made.tried else None
        if tried is None:
            return f"{100 * best.finished:.0f} %", f"{best.figure('time_s'):.2f}", f"{best.figure('wobble_mm'):.1f}", ""
        after = order[place + 1] if place + 1 < len(order) else None
        gap = made.against(i, after).time if after is not None and made.duellists[after].keeps else None
        says = "" if gap is None else f"{gap.mean:.2f} ± {gap.high - gap.mean:.2f} s"
        if not each.keeps:
            says = "breaks a limit"
        often = f"{100 * tried.good / tried.starts:.0f} %"
        if not tried.good:
            return often, "–", "–", says
        return often, f"{tried.time_s:.2f}", f"{tried.swing_mm:.1f}", says

    @staticmethod
    def _numbers(each: Duellist) -> str:
        return ", ".join(
            f"{axis.quantity.label} {axis.shown(value)}"
            for axis, value in zip(each.found.spec.axes, DuelSheet._best(each).values, strict=True)
        )

    def _on_chosen(self, i: int) -> None:
        if self.duel is not None:
            self.take([each for each in self.duel.duellists if self._best(each).finished > 0.0][i])

    def take(self, each: Duellist) -> None:
        """Steer as one of them did, as one step."""
        setup = self.session.setup
        if (setup.mat, setup.robot, setup.second) == (each.setup.mat, each.setup.robot, each.setup.second):
            setup = replace(setup, program=each.setup.program)
            self.session.edit(f"{each.name} as tuned in the duel", setup)
            self.says.setText(f"{capital(each.name)}: {self._numbers(each)}.")
        else:
            self.session.notice("The mat or the robot is not what it was in this duel; let them duel again.")

    def keep_all(self) -> None:
        """Keep a run of each, so that they can race; as one step."""
        if self.duel is None:
            return
        project = self.session.project
        number = max((kept.number for kept in project.kept), default=0)
        made = [
            KeptRun(number + i, each.setup, derive.figures(each.setup), note=f"duel: {each.name}")
            for i, each in enumerate(self.duel.duellists, 1)
        ]
        self.session.document.apply("keep the duellists", replace(project, kept=(*project.kept, *made)))
        self.session.notice(f"Runs {made[0].number} to {made[-1].number} are kept; see the race.")
