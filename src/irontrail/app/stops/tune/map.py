"""The map: any two numbers by any measure, coarse first and then ever finer, with the cliff to where runs are lost."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from irontrail.app.asked_path import asked_path
from irontrail.app.pictures import trail_of
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.axis_picker import AxisPicker
from irontrail.app.widgets.map_picture import MapPicture
from irontrail.app.widgets.trail_hand import TrailHand
from irontrail.app.worker import NewestWins
from irontrail.app.working import WorkingPanel
from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.result import Run
from irontrail.core.setup import Setup
from irontrail.core.tune import map_words
from irontrail.core.tune.axes import all_numbers, foremost, put_all
from irontrail.core.tune.batch import MEASURES, OF_LINE, OF_SPOT
from irontrail.core.tune.grid import (
    CONFIRMING,
    LEEWAY_STARTS,
    LEEWAY_STEPS,
    BestCell,
    GridMap,
    GridSpec,
    Leeway,
    best_cell,
    explore,
    leeway_of,
)  # fmt: skip
from irontrail.files import map_csv

CELLS = (10, 20, 30, 50, 100)
REPEATS = (1, 5, 10, 20)
SHARES = (80, 90, 95, 99)
SAYS_HEIGHT = 76
SHORT = {name: measure.short for name, measure in MEASURES.items()}


def _pointed_run(setup: Setup) -> Run:
    """The run of a cell that is pointed at."""
    return derive.run(setup)


class MapSheet(WorkingPanel):
    """Two numbers to choose, the map, what the pointer is over, and how far today's settings are from the cliff."""

    SAYS = "Two numbers against each other, with the cliff."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.trail_hand = TrailHand(self)
        self.map: GridMap | None = None
        self.best: BestCell | None = None
        self.leeway: Leeway | None = None
        self.measure, self.cells, self.repeats, self.share = "time_s", 20, 5, 95
        self._pointer = NewestWins(_pointed_run, self._on_pointed_run, session.could_not("This cell's run"))
        self.retired.connect(self._pointer.close)
        self.across, self.up = AxisPicker("across"), AxisPicker("up")
        for picker in (self.across, self.up):
            self.column.addWidget(picker)
        self.cell_buttons = self.add_choice(
            "Cells", tuple(map(str, CELLS)), self._set_cells, says="The map has {} cells a side: more take longer."
        )
        self.repeat_buttons = self.add_choice(
            "Each run",
            tuple(f"{n}×" for n in REPEATS),
            self._set_repeats,
            says="Each cell is driven {}, each time a little differently.",
        )
        self.share_buttons = self.add_choice(
            "Finish", tuple(f"{share} %" for share in SHARES), self._set_share, says="A cell holds if {} finish."
        )
        self.add_work("Draw the map", self.draw_map, "Drive every pair of the two numbers and draw what comes of it.")
        self.measure_buttons = self.add_choice(
            "Tone by", tuple(SHORT.values()), self._set_measure, says="The darker, the less {}.", across=len(OF_LINE)
        )
        self.picture = MapPicture(theme)
        self.picture.pointed.connect(self._on_pointed)
        self.picture.chosen.connect(self.take)
        self.column.addWidget(self.picture)
        self.says = self.add_words()
        # Room for what is said at most: the sheet is not laid out anew while the map grows.
        self.says.setFixedHeight(SAYS_HEIGHT)
        self.says.setAlignment(Qt.AlignmentFlag.AlignTop)
        row = self.add_row()
        for words, tip, act in (
            ("Take the best", "The numbers of the best cell that holds with all beside it", self.take_best),
            ("CSV …", "Save the map as a table", lambda: self._ask("CSV", "csv", self.save_csv)),
            ("PNG …", "Save the map as a picture", lambda: self._ask("PNG", "png", self.save_png)),
        ):
            button = QPushButton(words)
            button.setProperty("small", "true")
            button.setToolTip(tip)
            button.clicked.connect(lambda _checked=False, act=act: act())
            row.addWidget(button)
        row.addStretch(1)
        self.finish()

    # --- choosing

    def _set_cells(self, text: str) -> None:
        self.cells = int(text)
        self.show_project()

    def _set_repeats(self, text: str) -> None:
        self.repeats = int(text.rstrip("×"))
        self.show_project()

    def _set_share(self, text: str) -> None:
        self.share = int(text.rstrip(" %"))
        self.show_project()

    def _set_measure(self, short: str) -> None:
        self.measure = next(name for name, words in SHORT.items() if words == short)
        self._show_map(self.map)
        self._confirm()
        self.show_project()

    # --- drawing

    def draw_map(self) -> None:
        """Run every cell, the coarse ones first."""
        if self.across.axis is None or self.up.axis is None:
            return
        if self.across.axis.path == self.up.axis.path:
            self.session.notice("A map takes two different numbers.")
            return
        spec = GridSpec(
            self.session.setup, self.across.axis, self.up.axis, self.cells, self.repeats, self.share / 100.0
        )
        self.leeway = None
        self._show_map(None)
        measure = self.measure

        def job(tell):  # type: ignore[no-untyped-def]
            made = explore(spec, tell)
            if made is None:
                return None
            best = best_cell(made, measure, lambda done: tell(made, spec.runs + done))
            return made, measure, best, leeway_of(spec, lambda done: tell(made, spec.runs + CONFIRMING + done))

        self.begin(job, spec.runs + CONFIRMING + 2 * min(spec.cells, LEEWAY_STEPS) * LEEWAY_STARTS)

    def _confirm(self) -> None:
        """The best cell by another measure, over fresh starts."""
        made, measure, leeway = self.map, self.measure, self.leeway
        if made is None or not made.done.all() or self.work.running:
            return

        def job(tell):  # type: ignore[no-untyped-def]
            return made, measure, best_cell(made, measure, lambda done: tell(None, done)), leeway

        self.begin(job, CONFIRMING)

    def show_partial(self, partial: GridMap) -> None:
        if partial.done.any() and (self.map is None or partial.done.sum() != self.map.done.sum()):
            self._show_map(partial)

    def show_result(self, result: tuple[GridMap, str, BestCell | None, Leeway | None]) -> None:
        made, measure, best, self.leeway = result
        self._show_map(made, best)
        if measure != self.measure:
            self._confirm()

    def _show_map(self, made: GridMap | None, best: BestCell | None = None) -> None:
        self.map, self.best = made, best
        self.picture.set_map(made, self.measure)
        self.says.setText(self._cliff(made) if made is not None else "")

    def _cliff(self, made: GridMap) -> str:
        """How far today's settings may move, and what the best cell does."""
        if not made.done.all():
            return ""
        said = [map_words.of_today(made, self.leeway)]
        if self.best is not None or not self.work.running:
            said.append(map_words.of_best(made, self.measure, self.best))
        return " ".join(said).strip()

    # --- pointing and taking

    def _on_pointed(self, i: int, j: int) -> None:
        if self.map is None:
            return
        if i < 0:
            self.trail_hand.set_trail(None)
            self.says.setText(self._cliff(self.map))
            return
        self.says.setText(f"{map_words.of_cell(self.map, self.measure, i, j)}. Press to take these numbers.")
        self._pointer.request(self.map.spec.setup_at(i, j))

    def _on_pointed_run(self, setup: Setup, run: Run) -> None:
        if self.picture.at is not None and self.isVisible():
            words = f"{run.time_s:.2f} s" if run.outcome == "finished" else run.outcome.replace("-", " ")
            self.trail_hand.set_trail(trail_of(setup, run), words)

    def take(self, i: int, j: int) -> None:
        """Take a cell's numbers, as one step."""
        if self.map is not None:
            spec = self.map.spec
            try:
                values = spec.value(spec.x, i), spec.value(spec.y, j)
                setup = put_all(self.session.setup, (spec.x, spec.y), values)
            except IronTrailError as error:
                self.session.notice(str(error))
                return
            self.session.edit(map_words.numbers_of(spec, i, j), setup)

    def take_best(self) -> None:
        """Take the numbers of the best cell that holds."""
        if self.best is None:
            self.session.notice("There is no cell yet that holds together with all beside it.")
        else:
            self.take(*self.best.cell)

    # --- out

    def _ask(self, kind: str, suffix: str, save: Callable[[Path], None]) -> None:
        if self.map is None:
            self.session.notice("Draw the map first.")
            return
        path = asked_path(self, f"Save the map as {kind}", f"map.{suffix}", {f".{suffix}": kind})
        if path is not None:
            save(path)

    def save_csv(self, path: Path) -> None:
        """Save the map as a table."""
        if self.map is None:
            return
        try:
            map_csv.write(path, self.map)
        except IronTrailError as error:
            self.session.notice(str(error))
        else:
            self.session.notice(f"{path} holds {int(self.map.done.sum()):,} cells.")

    def save_png(self, path: Path) -> None:
        """Save the map as a picture."""
        if not self.picture.grab().save(str(path), "PNG"):
            self.session.notice(f"{path}: cannot be written. Choose another folder.")
        else:
            self.session.notice(f"{path} holds the map.")

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        first = foremost(setup)
        paths = all_numbers(setup)
        self.across.set_setup(setup, paths, first[0])
        self.up.set_setup(setup, paths, first[1])
        for name in OF_SPOT:
            self.measure_buttons[SHORT[name]].setVisible(bool(setup.mat.spots))
        if self.measure in OF_SPOT and not setup.mat.spots:
            self.measure = "time_s"
        for buttons, chosen in (
            (self.cell_buttons, str(self.cells)),
            (self.repeat_buttons, f"{self.repeats}×"),
            (self.share_buttons, f"{self.share} %"),
            (self.measure_buttons, SHORT[self.measure]),
        ):
            for name, button in buttons.items():
                button.setChecked(name == chosen)
