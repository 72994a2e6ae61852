"""A search for the best of a measure within limits, over chosen numbers; and the trade-offs it met, to pick from."""

from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.axis_picker import AxisPicker
from irontrail.app.widgets.course_picture import CoursePicture
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.trade_off_picture import FINISHING, Point, TradeOffPicture
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import Quantity
from irontrail.core.tune.axes import all_numbers, put_all, to_tune
from irontrail.core.tune.batch import MEASURES, OF_LINE, OF_SPOT
from irontrail.core.tune.candidates import Candidate, Limits, cost_of_safety
from irontrail.core.tune.event import Event
from irontrail.core.tune.search import search
from irontrail.core.tune.search_spec import LOOKS, Found, SearchSpec

MOST_AXES = 6
# Where the numbers are to be good.
GOALS = ("here", "at the event")
# What a search can be for, by its word.
SHORT = {name: measure.short for name, measure in MEASURES.items() if name != "clipped_share"}
FINISHES = Quantity(
    "finishes at least",
    "%",
    0.5,
    1.0,
    0.05,
    100.0,
    says="Only numbers with which so many of the tries finish are good enough.",
)
SWING = Quantity(
    "swing at most",
    "mm",
    0.5,
    50.0,
    0.5,
    1.0,
    1,
    says="Only numbers with less swing than this are good enough; at the upper end any will do.",
)
CLIPPED = Quantity(
    "clipped at most",
    "%",
    0.0,
    1.0,
    0.05,
    100.0,
    says="How much of the time the motors may be asked for more than they have; at the upper end any will do.",
)
REACHES = Quantity(
    "spots reached at least",
    "%",
    0.0,
    1.0,
    0.05,
    100.0,
    says="Only numbers with which so many of the tries reach their spots are good enough; at 0 any will do.",
)


class SearchSheet(WorkingPanel):
    """What may change and within what, the limits, the course, and time against swing."""

    SAYS = "Let the machine look for the best numbers."
    GUESSED = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.found: Found | None = None
        self.measure = "time_s"
        self._steers_by = ""
        self._measures = self.add_choice(
            "Least", tuple(SHORT.values()), self._set_measure, says="Look for the least {}.", across=len(OF_LINE) - 1
        )
        self.goals = self.add_choice("For", GOALS, self._set_goal, says="Judge every candidate as it is {}.")
        self.goal = GOALS[0]
        self.pickers: list[AxisPicker] = []
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(4)
        self.column.addLayout(self._grid)
        row = self.add_row()
        self.more, self.fewer = QPushButton("One number more"), QPushButton("One fewer")
        self.more.setToolTip("Let the search change one number more")
        self.fewer.setToolTip("Let the search leave the last number as it is")
        self.more.clicked.connect(lambda: self._set_count(len(self.pickers) + 1))
        self.fewer.clicked.connect(lambda: self._set_count(len(self.pickers) - 1))
        for button in (self.more, self.fewer):
            button.setProperty("small", "true")
            row.addWidget(button)
        self.best = QPushButton("Take the best")
        self.best.setToolTip("Give the robot the best numbers that were found")
        self.best.setProperty("small", "true")
        self.best.clicked.connect(self.take_best)
        row.addStretch(1)
        row.addWidget(self.best)
        self.finishes, self.swing, self.clipped, self.reaches = (
            self._limit(quantity, low, high, value)
            for quantity, low, high, value in (
                (FINISHES, 0.5, 1.0, 0.95), (SWING, 0.5, 50.0, 50.0), (CLIPPED, 0.0, 1.0, 1.0),
                (REACHES, 0.0, 1.0, 0.0),
            )
        )  # fmt: skip
        self.add_work("Search", self.start, "Look for the best numbers within the limits.")
        self.course = CoursePicture(theme)
        self.column.addWidget(self.course)
        self.picture = TradeOffPicture(theme)
        self.picture.chosen.connect(self.take)
        self.picture.pointed.connect(self._on_pointed)
        self.column.addWidget(self.picture)
        self.says = self.add_words()
        self.finish()

    def _limit(self, quantity: Quantity, low: float, high: float, value: float) -> Dial:
        dial = Dial(quantity, self.theme, low, high)
        dial.setObjectName(quantity.label)
        dial.set_value(value)
        self.column.addWidget(dial)
        return dial

    # --- choosing

    def _set_measure(self, short: str) -> None:
        self.measure = next(name for name, words in SHORT.items() if words == short)
        self.show_project()

    def _set_goal(self, goal: str) -> None:
        self.goal = goal
        self.show_project()

    def _set_count(self, count: int) -> None:
        """So many numbers to change."""
        paths = all_numbers(self.session.setup)
        while len(self.pickers) < min(max(count, 1), MOST_AXES):
            picker = AxisPicker(f"number {len(self.pickers) + 1}")
            taken = {each.axis.path for each in self.pickers if each.axis is not None}
            free = next(path for path in paths if path not in taken)
            picker.set_setup(self.session.setup, paths, free)
            self._grid.addWidget(picker, len(self.pickers), 0)
            self.pickers.append(picker)
        while len(self.pickers) > max(count, 1):
            picker = self.pickers.pop()
            self._grid.removeWidget(picker)
            picker.hide()
            picker.deleteLater()
        self.fewer.setEnabled(len(self.pickers) > 1)
        self.more.setEnabled(len(self.pickers) < MOST_AXES)

    # --- searching

    @property
    def limits(self) -> Limits:
        """The limits as set; a dial at its upper end sets none."""
        swing = self.swing.value if self.swing.value < SWING.high else None
        clipped = self.clipped.value if self.clipped.value < CLIPPED.high else None
        reaches = self.reaches.value if self.session.setup.mat.spots else 0.0
        return Limits(self.finishes.value, swing, clipped, reaches)

    def start(self) -> None:
        """Search from the settings as they are."""
        axes = tuple(picker.axis for picker in self.pickers if picker.axis is not None)
        if len({axis.path for axis in axes}) < len(axes):
            self.session.notice("A number stands twice among those to change; choose another.")
            return
        event = Event.of(self.session.project) if self.goal == GOALS[1] else None
        spec = SearchSpec(self.session.setup, axes, self.measure, self.limits, event=event)

        def job(tell):  # type: ignore[no-untyped-def]
            def told(found: Found, done: int) -> bool:
                self.foresee(found.of_runs)
                return tell(found, done)  # type: ignore[no-any-return]

            return search(spec, told)

        self.begin(job, spec.runs)

    def show_partial(self, partial: Found) -> None:
        if self.found is None or partial.runs != self.found.runs or partial.spec is not self.found.spec:
            self._show_found(partial)

    def show_result(self, result: Found) -> None:
        self._show_found(result)

    def _show_found(self, found: Found) -> None:
        self.found = found
        self.course.set_course(found.course, MEASURES[found.spec.measure].unit)
        view, now = self.session.view, None
        if found.spec.event is not None:
            points = tuple(Point(each.figure("time_s"), 100.0 * each.finished) for each in found.trade_offs)
            self.picture.set_points(points, None, against=FINISHING)
        else:
            points = tuple(Point(each.figure("time_s"), each.figure("wobble_mm")) for each in found.trade_offs)
            if view is not None and view.figures.outcome == "finished":
                now = Point(view.figures.time_s, view.figures.wobble_mm)
            self.picture.set_points(points, now)
        self.says.setText(self._words(found))
        self.best.setEnabled(found.best is not None)

    def _words(self, found: Found) -> str:
        best = found.best
        if best is None:
            return "Nothing has been tried yet."
        if not found.keeps:
            if not found.settled:
                return f"Nothing keeps the limits yet; the nearest finishes {100 * best.finished:.0f} %."
            return f"Nothing keeps all the limits. The nearest: {self._told(found, best)}."
        said = [f"Best: {self._told(found, best)}.", found.says]
        cost = cost_of_safety(found.trade_offs) if found.spec.event is not None and found.settled else None
        if cost is not None:
            said.append(f"From the fastest to the surest: {100 * cost[0]:.0f} % more finish, for {cost[1]:.2f} s.")
        return " ".join(said).strip()

    @staticmethod
    def _told(found: Found, candidate: Candidate) -> str:
        values = ", ".join(
            f"{axis.quantity.label} {axis.shown(value)}"
            for axis, value in zip(found.spec.axes, candidate.values, strict=True)
        )
        time, swing = candidate.figure("time_s"), candidate.figure("wobble_mm")
        sure = candidate.sure
        if sure is None:
            # Only looked at, or still being searched.
            often = f"finishes {100 * candidate.finished:.0f} %" + (
                f" of {LOOKS} starts" if found.settled else " so far"
            )
            return f"{values}: {time:.2f} s, swing {swing:.1f} mm, {often}"
        low, high = (100.0 * share for share in sure.share)
        where = "fresh starts" if found.spec.event is None else "fresh starts at the event"
        return (
            f"{values}: {time:.2f} s ({sure.time_s[0]:.2f} to {sure.time_s[1]:.2f}), swing {swing:.1f} mm; "
            f"{sure.good} of {sure.starts} {where} finish ({low:.1f} to {high:.1f} %)"
        )

    def _on_pointed(self, i: int) -> None:
        if self.found is not None:
            self.says.setText(
                f"{self._told(self.found, self.found.trade_offs[i])}. Press to take these numbers."
                if 0 <= i < len(self.found.trade_offs)
                else self._words(self.found)
            )

    def take(self, i: int) -> None:
        """Take the numbers of a trade-off, as one step."""
        if self.found is not None and i < len(self.found.trade_offs):
            self._take(self.found, self.found.trade_offs[i])

    def take_best(self) -> None:
        """Take the best numbers, as one step."""
        if self.found is not None and self.found.best is not None:
            self._take(self.found, self.found.best)

    def _take(self, found: Found, candidate: Candidate) -> None:
        setup = self.session.setup
        was = found.spec.setup.program
        try:
            setup = replace(setup, program=replace(setup.program, law=was.law, arrangement=was.arrangement))
            setup = put_all(setup, found.spec.axes, candidate.values)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit("numbers of the search", setup)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        paths = all_numbers(setup)
        if setup.program.steers_by != self._steers_by:
            self._steers_by = setup.program.steers_by
            self._set_count(0 if not self.pickers else len(self.pickers))
            foremost = to_tune(setup)[:MOST_AXES]
            self._set_count(len(foremost))
            for picker, path in zip(self.pickers, foremost, strict=True):
                picker.set_setup(setup, paths, path)
                picker.choose(path)
        for picker in self.pickers:
            picker.set_setup(setup, paths, picker.axis.path if picker.axis is not None else paths[0])
        self.reaches.setVisible(bool(setup.mat.spots))
        for name in OF_SPOT:
            self._measures[SHORT[name]].setVisible(bool(setup.mat.spots))
        if self.measure in OF_SPOT and not setup.mat.spots:
            self.measure = "time_s"
        for name, button in self.goals.items():
            button.setChecked(name == self.goal)
        for name, button in self._measures.items():
            button.setChecked(name == SHORT[self.measure])
        self.best.setEnabled(self.found is not None and self.found.best is not None)
