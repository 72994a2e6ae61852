"""The shelf: ready mats and the team's own, and what the one on the table asks of the robot."""

from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.choice import choose, one_of
from irontrail.app.widgets.demand_hand import DemandHand
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.mat_thumbnail import MatThumbnail
from irontrail.core import derive
from irontrail.core.counted import counted
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demands import demands
from irontrail.core.mat.demos import DEMO_MATS, blank_mat
from irontrail.core.mat.tape import Mat
from irontrail.files import mat_file

COLUMNS = 3
WAYS = {"there": False, "back": True}


class ShelfSheet(Panel):
    """Mats to choose, what the one on the table asks of the robot, and where on it the run starts."""

    SAYS = "Ready mats, and your own."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.demand_hand = DemandHand(self)
        self.add_heading("On the shelf")
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        self.column.addLayout(self._grid)
        self.thumbnails: dict[str, MatThumbnail] = {}
        self.own: tuple[mat_file.Shelved, ...] = ()
        row = self.add_row()
        self.name = QLineEdit()
        self.name.setAccessibleName("name of this mat")
        self.name.setToolTip("What the mat on the table is called")
        self.name.editingFinished.connect(self._rename)
        self.keep = QPushButton("Put on the shelf")
        self.keep.setToolTip("Keep this mat for other projects; one of the same name is replaced")
        self.keep.clicked.connect(self.put_on_shelf)
        self.forget = QPushButton("Take off")
        self.forget.setToolTip("Take this mat off the shelf; it stays on the table")
        self.forget.clicked.connect(self.take_off_shelf)
        row.addWidget(self.name, 1)
        for button in (self.keep, self.forget):
            button.setProperty("small", "true")
            row.addWidget(button)
        self._lay_out_demands()
        self.add_rule()
        self.add_heading("Where the run starts")
        self.add_dial("trial.start_mm", 0.0, 3000.0, "along the line")
        self.add_dial("trial.laps", 1.0, 10.0)
        self.fill_shelf()
        self.finish()

    def _lay_out_demands(self) -> None:
        self.add_rule()
        self.add_heading("What it asks of the robot")
        self.asks = self.add_words()
        grid = QGridLayout()
        grid.setSpacing(5)
        for column, way in enumerate(WAYS, 1):
            grid.addWidget(self._label(f"tightest {way}", "quiet"), 0, column)
        self.tightest: dict[tuple[str, bool], QPushButton] = {}
        for row, edge in enumerate(("left", "right"), 1):
            name = Label(f"{edge} edge")
            name.setProperty("role", "words")
            grid.addWidget(name, row, 0)
            for column, (way, reverse) in enumerate(WAYS.items(), 1):
                button = QPushButton()
                button.setCheckable(True)
                button.setProperty("choice", "true")
                button.setToolTip(f"Follow the {edge} edge, {way}")
                button.clicked.connect(lambda _checked=False, edge=edge, reverse=reverse: self._follow(edge, reverse))
                grid.addWidget(button, row, column)
                self.tightest[edge, reverse] = button
        one_of(self, self.tightest.values())
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(2, 1)
        self.column.addLayout(grid)

    # --- the shelf

    def fill_shelf(self) -> None:
        """Show the ready mats, a blank one, and those in the team's folder."""
        clear(self._grid)
        self.own = mat_file.shelf()
        mats = {name: make() for name, make in DEMO_MATS.items()} | {"blank": blank_mat()}
        mats |= {f"own {shelved.path.name}": shelved.mat for shelved in self.own}
        self.thumbnails = {}
        for i, (name, mat) in enumerate(mats.items()):
            thumbnail = MatThumbnail(mat, self.theme)
            thumbnail.clicked.connect(lambda _checked=False, mat=mat: self._choose(mat))
            self._grid.addWidget(thumbnail, i // COLUMNS, i % COLUMNS)
            self.thumbnails[name] = thumbnail
        self._mats = one_of(self, self.thumbnails.values())

    def put_on_shelf(self) -> None:
        """Keep the mat on the table for other projects."""
        mat = self.session.setup.mat
        try:
            mat_file.put_on_shelf(mat)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.fill_shelf()
        self.show_project()
        self.session.notice(f"“{mat.name}” is on the shelf, for every project.")

    def take_off_shelf(self) -> None:
        """Forget the team's own mat of this name."""
        for shelved in self._of_this_name():
            try:
                mat_file.take_off_shelf(shelved.path)
            except IronTrailError as error:
                self.session.notice(str(error))
        self.fill_shelf()
        self.show_project()

    def _of_this_name(self) -> list[mat_file.Shelved]:
        return [shelved for shelved in self.own if shelved.mat.name == self.session.setup.mat.name]

    def _rename(self) -> None:
        name, mat = self.name.text().strip(), self.session.setup.mat
        if name and name != mat.name:
            self.session.edit(f"call the mat {name}", replace(self.session.setup, mat=replace(mat, name=name)))
        self.show_project()

    def _choose(self, mat: Mat) -> None:
        self.session.choose_mat(mat)
        self.show_project()

    def _follow(self, edge: str, reverse: bool) -> None:
        setup = self.session.setup
        program, trial = replace(setup.program, edge=edge), replace(setup.trial, reverse=reverse)  # type: ignore[arg-type]
        self.session.edit(
            f"{edge} edge, {'back' if reverse else 'there'}", replace(setup, program=program, trial=trial)
        )
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        choose(self._mats, next((each for each in self.thumbnails.values() if each.mat.name == setup.mat.name), None))
        if not self.name.hasFocus():
            self.name.setText(setup.mat.name)
        self.forget.setEnabled(bool(self._of_this_name()))
        self._show_demands(setup.mat, setup.program.edge, setup.trial.reverse)

    def _show_demands(self, mat: Mat, edge: str, reverse: bool) -> None:
        half = 0.5 * mat.followed.width_mm
        for (which, back), button in self.tightest.items():
            route = derive.route(mat, back)
            asks = demands(route, mat.followed.width_mm, which == "left")
            corner = asks.tightest_mm == 0.0
            bend = next((bend for bend in route.bends if bend.name == asks.tightest_bend), None)
            button.setText(
                "no bend"
                if bend is None
                else f"corner {bend.name}"
                if corner
                else f"{asks.tightest_mm:.0f} mm, {bend.name}"
            )
            button.setChecked((which, back) == (edge, reverse))
            if (which, back) == (edge, reverse):
                self.demand_hand.set_bend(route, bend, half if which == "left" else -half, asks.tightest_mm)
                share = f"{100 * asks.straight_share:.0f} % straight"
                self.asks.setText(
                    f"{asks.length_mm / 1000:.2f} m of line on {mat.width_mm:.0f} × {mat.height_mm:.0f} mm, {share}; "
                    f"{counted(asks.bends, 'bend')}, {counted(asks.corners, 'corner')}."
                )
