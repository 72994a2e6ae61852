"""Two sensors: how they make one error, chosen by pictures; the table's four cases, the weight, the thresholds."""

from PySide6.QtWidgets import QGridLayout

from irontrail.app.panel import Panel
from irontrail.app.preloading import when_loaded
from irontrail.app.session import Session
from irontrail.app.stops.steer.curve import CurveOnSheet, is_alike
from irontrail.app.stops.steer.remarks import RemarksOnSheet
from irontrail.app.theme import Theme
from irontrail.app.widgets.arrangement_picture import ArrangementPicture
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.table_cases import CasesPicture, TableCases
from irontrail.app.widgets.weight_picture import Weighing, WeightPicture
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.table import CASES
from irontrail.core.steering.pair import ARRANGEMENTS, Arrangement
from irontrail.core.theory.pair import pair_point

WEIGHT, EDGES = "program.pair.weight", ("same", "opposite")
LEFT, RIGHT, TARGET = "program.pair.left_threshold", "program.pair.right_threshold", "program.target"
# Which numbers belong to which arrangement.
DIALS: dict[Arrangement, tuple[str, ...]] = {
    "table": (LEFT, RIGHT),
    "each its side": (LEFT, RIGHT),
    "weighted": (WEIGHT, TARGET),
}


class PairSheet(Panel):
    """The arrangements, and of the chosen one what there is to set."""

    SAYS = "How the two sensors steer together."
    FOR_TWO = True
    WANTS = frozenset({"remarks"})

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        grid = QGridLayout()
        grid.setSpacing(6)
        self.pictures = {name: ArrangementPicture(name, theme) for name in ARRANGEMENTS}
        for i, (name, picture) in enumerate(self.pictures.items()):
            picture.clicked.connect(lambda _checked=False, name=name: self.choose(name))
            grid.addWidget(picture, i // 3, i % 3)
        one_of(self, self.pictures.values())
        self.column.addLayout(grid)
        self.says = self.add_words()
        self.cases = TableCases(theme)
        self.cases.dragged.connect(self._on_case)
        self.column.addWidget(self.cases)
        self.on_sheet = CurveOnSheet(session, theme, lambda: is_alike(session.setup.program))
        self.curve = self.on_sheet.view
        self.column.addWidget(self.curve, 5)
        self.weight = WeightPicture(theme)
        self.weight.dragged.connect(self._on_weight)
        self.column.addWidget(self.weight)
        self.edge_row, row = self.add_row_apart()
        self.edges = self.add_choice(
            "Second on the", EDGES, self._on_edges, row, "The second sensor rides on the {} edge of the line."
        )
        row.addWidget(self._label("edge", "words"))
        self.add_dial(WEIGHT, 0.0, 1.0)
        self.add_dial(TARGET, 0.0, 100.0)
        self.add_dial(LEFT, 0.0, 100.0)
        self.add_dial(RIGHT, 0.0, 100.0)
        self.said = RemarksOnSheet(session, theme)
        self.remarks = self.said.view
        self.column.addWidget(self.remarks)
        self.finish()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        arrangement = setup.program.arrangement
        for name, picture in self.pictures.items():
            picture.setChecked(name == arrangement)
        self.says.setText(ARRANGEMENTS[arrangement])
        self.cases.setVisible(arrangement == "table")
        self.curve.setVisible(arrangement not in ("one", "table"))
        self.weight.setVisible(arrangement == "weighted")
        self.edge_row.setVisible(arrangement == "weighted")
        for path, dial in self.dials.items():
            dial.setVisible(path in DIALS.get(arrangement, ()))
        for edges, button in self.edges.items():
            button.setChecked(edges == setup.program.pair.edges)
        self._show_cases(setup, None)
        if not when_loaded(self, self._weigh):
            self._show_weight(setup, None)

    def _show_cases(self, setup: Setup, now: str | None) -> None:
        if setup.program.arrangement == "table":
            line = setup.mat.followed.colour
            dark = setup.effective_program.line == "dark"
            self.cases.set_picture(CasesPicture(setup.program.table, line, setup.mat.colour, dark, now))

    def _weigh(self) -> None:
        """Show the weight, and where one sensor that does the same would be; that takes the engine."""
        setup, second = self.session.setup, self.session.setup.second
        if second is None or setup.program.arrangement != "weighted":
            return
        try:
            slopes = pair_point(setup).slopes
            lever = (slopes[0] * setup.robot.mount.ahead_mm + slopes[1] * second.mount.ahead_mm) / sum(slopes)
        except IronTrailError:
            lever = None
        self._show_weight(setup, lever)

    def _show_weight(self, setup: Setup, lever_mm: float | None) -> None:
        if setup.second is not None:
            ahead_mm = setup.robot.mount.ahead_mm, setup.second.mount.ahead_mm
            self.weight.set_weighing(Weighing(*ahead_mm, setup.program.pair.weight, lever_mm))

    def show_view(self) -> None:
        self.on_sheet.show_view()

    def show_now(self, row: int) -> None:
        self.on_sheet.show_now(row)
        view = self.session.view
        if view is not None and view.setup == self.session.setup and view.setup.program.arrangement == "table":
            rule = int(view.run.trace.rule[row])
            self._show_cases(view.setup, list(CASES)[rule] if 0 <= rule < len(CASES) else None)

    def show_advice(self) -> None:
        self.said.show()
        self.curve.set_rings(self.on_sheet.rings())

    # --- editing

    def choose(self, arrangement: Arrangement) -> None:
        """Have the two sensors steer together otherwise."""
        setup = self.session.setup
        if arrangement != setup.program.arrangement:
            self.session.edit(f"two sensors: {arrangement}", with_value(setup, "program.arrangement", arrangement))
        self.show_project()

    def _on_case(self, case: str, wheel: str, power: float, settled: bool) -> None:
        path = f"program.table.{case}.{wheel}"
        self.session.set_value(path, power, f"case {case} {wheel}")
        if settled:
            self.session.settle()

    def _on_weight(self, weight: float, settled: bool) -> None:
        self.session.set_value(WEIGHT, weight, "weight")
        if settled:
            self.session.settle()

    def _on_edges(self, edges: str) -> None:
        setup = self.session.setup
        if edges != setup.program.pair.edges:
            self.session.edit(f"second on the {edges} edge", with_value(setup, "program.pair.edges", edges))
        self.show_project()
