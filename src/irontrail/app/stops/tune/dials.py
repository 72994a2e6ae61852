"""Live dials for any numbers, each with what it does nearby; and what to change next."""

from PySide6.QtWidgets import QComboBox, QPushButton, QVBoxLayout

from irontrail.app.column import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.lines_button import LinesButton
from irontrail.app.widgets.nearby_picture import NearbyPicture
from irontrail.app.worker import NewestWins
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import Quantity
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import all_numbers, axis, foremost, own_numbers, put_all
from irontrail.core.tune.nearby import FAILED_TIMES, Advice, Nearby, look_nearby, runs_of_next, what_next
from irontrail.core.tune.tries import Tried

MOST_DIALS = 5
FAILED = Quantity(
    "a failed run counts", "times", 1.0, 10.0, 0.5, 1.0, 1,
    says="A run that fails counts as so many times as long as one that finishes: how much you fear it.",
)  # fmt: skip


class DialsSheet(WorkingPanel):
    """Some dials with their pictures, a list to choose another from, and advice."""

    SAYS = "Dials, with what each does to either side of now."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.paths: list[str] = []
        self.advice: tuple[Advice, ...] = ()
        self._steers_by = ""
        self._looked_at: Setup | None = None
        self.looker = NewestWins(self._look, self._on_looked, session.could_not("What the dials do nearby"))
        self.retired.connect(self.looker.close)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(1)
        self.column.addLayout(self._rows)
        self.shown: dict[str, tuple[Dial, NearbyPicture]] = {}
        row = self.add_row()
        self.others = QComboBox()
        self.others.setAccessibleName("one dial more")
        self.others.setToolTip("Show a dial for another number, too")
        self.others.activated.connect(self._on_other)
        self.drop = QPushButton("One dial fewer")
        self.drop.setToolTip("Take the last dial away; its number stays")
        self.drop.setProperty("small", "true")
        self.drop.clicked.connect(self._on_drop)
        row.addWidget(self.others, 1)
        row.addWidget(self.drop)
        self.add_rule()
        self.add_work("What to change next", self.ask_next, "Find the one or two changes that help most.")
        self.failed = self.add_number(FAILED, 1.0, 5.0, lambda _value, _settled: None)
        self.failed.set_value(FAILED_TIMES)
        self.says = self.add_words("", "quiet")
        self._advised = QVBoxLayout()
        self.column.addLayout(self._advised)
        self.try_buttons: list[QPushButton] = []
        self.finish()

    # --- dials

    def set_paths(self, paths: list[str]) -> None:
        """Show dials for these numbers."""
        self.paths = paths[:MOST_DIALS]
        clear(self._rows)
        self.shown = {}
        setup = self.session.setup
        for path in self.paths:
            which = axis(setup, path)
            dial = Dial(which.quantity, self.theme, which.low, which.high)
            dial.setObjectName(path)
            dial.edited.connect(lambda value, settled, path=path: self._on_edited(path, value, settled))
            picture = NearbyPicture(self.theme)
            self._rows.addWidget(dial)
            self._rows.addWidget(picture)
            self.shown[path] = (dial, picture)
        self._looked_at = None
        self.show_project()

    def _on_edited(self, path: str, value: float, settled: bool) -> None:
        which = axis(self.session.setup, path)
        label = f"{which.quantity.label} {which.in_unit(value)}"
        self.session.edit(label, which.put(self.session.setup, value), f"dial {path}")
        if settled:
            self.session.settle()

    def _on_other(self, _index: int) -> None:
        path = str(self.others.currentData())
        if path and path not in self.paths:
            self.set_paths([*self.paths[: MOST_DIALS - 1], path])

    def _on_drop(self) -> None:
        if len(self.paths) > 1:
            self.set_paths(self.paths[:-1])

    def _look(self, asked: tuple[Setup, tuple[str, ...]]) -> tuple[Nearby, ...] | None:
        """What some numbers of a setup do nearby; in the looker's thread."""
        return look_nearby(*asked, lambda _done: self.looker.wanted)

    def _on_looked(self, asked: tuple[Setup, tuple[str, ...]], found: tuple[Nearby, ...] | None) -> None:
        setup, paths = asked
        if found is not None and setup == self.session.setup:
            for path, near in zip(paths, found, strict=True):
                if path in self.shown:
                    self.shown[path][1].set_near(near)

    # --- what next

    def ask_next(self) -> None:
        """Look for the one or two changes that help most."""
        setup = self.session.setup
        paths = tuple(dict.fromkeys((*foremost(setup), *self.paths)))
        failed = self.failed.value

        def job(tell):  # type: ignore[no-untyped-def]
            return what_next(setup, paths, lambda done: tell(None, done), failed_times=failed)

        self.begin(job, runs_of_next(paths))

    def show_result(self, result: tuple[Advice, ...]) -> None:
        self.advice = result
        clear(self._advised)
        self.try_buttons = []
        if not result:
            self.says.setText("None of these numbers, changed by a third or less, surely makes today's runs better.")
            return
        self.says.setText(f"Now: {_told(result[0].before)}.")
        for advice in result:
            words = ", ".join(
                f"{which.quantity.label} {which.shown(was)} → {which.shown(to)}" for which, was, to in advice.changes
            )
            saves = advice.saves
            button = LinesButton(
                f"{words}\n{_told(advice.after)}\nsaves {saves.mean:.2f} s a run ({saves.low:.2f} to {saves.high:.2f})"
            )
            button.setToolTip(f"Try it: {words}")
            button.clicked.connect(lambda _checked=False, advice=advice: self._try(advice))
            self._advised.addWidget(button)
            self.try_buttons.append(button)

    def _try(self, advice: Advice) -> None:
        setup = self.session.setup
        try:
            axes, values = zip(*((which, value) for which, _, value in advice.changes), strict=True)
            setup = put_all(setup, axes, values)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit("what to change next", setup)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        if setup.program.steers_by != self._steers_by:
            self._steers_by = setup.program.steers_by
            self.set_paths([*own_numbers(setup), "robot.mount.ahead_mm"])
            return
        there = set(all_numbers(setup))
        if not there >= set(self.paths):
            # A leg has been taken out, or the second sensor off.
            self.set_paths([path for path in self.paths if path in there] or list(own_numbers(setup)))
            return
        for path, (dial, _) in self.shown.items():
            dial.set_value(axis(setup, path).of(setup))
        rest = [path for path in all_numbers(setup) if path not in self.paths]
        if [self.others.itemData(i) for i in range(1, self.others.count())] != rest:
            self.others.clear()
            self.others.addItem("Another dial …", "")
            for path in rest:
                quantity = axis(setup, path).quantity
                self.others.addItem(f"{quantity.label}, {quantity.unit}" if quantity.unit else quantity.label, path)
        self.drop.setEnabled(len(self.paths) > 1)

    def show_view(self) -> None:
        """When a run stands, look at what its numbers do nearby."""
        view = self.session.view
        if (
            view is not None
            and view.setup == self.session.setup
            and view.setup is not self._looked_at
            and self.isVisible()
        ):
            self._looked_at = view.setup
            self.looker.request((view.setup, tuple(self.paths)))


def _told(over: Tried) -> str:
    """How often it finishes, time and swing in words."""
    if not over.good:
        return "does not finish"
    return f"{over.time_s:.2f} s, swing {over.swing_mm:.1f} mm, {over.of_starts} finish"
