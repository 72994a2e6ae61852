"""Mat: which mat lies on the table, and what it asks of the robot."""

from PySide6.QtWidgets import QGridLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.mat_thumbnail import MatThumbnail
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.tape import Mat


class ShelfSheet(Panel):
    """Mats to choose, what the one on the table asks of the robot, and where on it the run starts."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_heading("On the shelf")
        shelf = QGridLayout()
        shelf.setSpacing(8)
        self.thumbnails: dict[str, MatThumbnail] = {}
        for i, (name, make) in enumerate(DEMO_MATS.items()):
            mat = make()
            thumbnail = MatThumbnail(mat, theme)
            thumbnail.clicked.connect(lambda _checked=False, mat=mat: self._choose(mat))
            shelf.addWidget(thumbnail, i // 2, i % 2)
            self.thumbnails[name] = thumbnail
        self.column.addLayout(shelf)
        self.add_heading("What it asks of the robot")
        self.asks = self.add_words()
        self.add_rule()
        self.add_dial("trial.start_mm", 0.0, 3000.0, "start along the line")
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        name = self.session.setup.mat.name
        for thumbnail in self.thumbnails.values():
            thumbnail.setChecked(thumbnail.mat.name == name)

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        asks, mat, edge = view.demands, view.setup.mat, view.setup.program.edge
        if asks.tightest_mm == 0.0:
            tight = f"a corner at {asks.tightest_bend}"
        elif asks.tightest_mm == float("inf"):
            tight = "no bend at all"
        else:
            tight = f"radius {asks.tightest_mm:.0f} mm at bend {asks.tightest_bend}"
        self.asks.setText(
            f"{asks.length_mm / 1000:.2f} m of line on {mat.width_mm:.0f} × {mat.height_mm:.0f} mm.\n"
            f"{asks.bends} bends, {asks.corners} corners, {100 * asks.straight_share:.0f} % straight.\n"
            f"Tightest along the {edge} edge: {tight}."
        )

    def _choose(self, mat: Mat) -> None:
        self.session.choose_mat(mat)
        self.show_project()
