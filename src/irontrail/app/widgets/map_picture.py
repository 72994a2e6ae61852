"""A map of two numbers to point at and choose from: tone for the measure, size for how often a cell finishes."""

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QAccessible,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.map_drawing import MapDrawing, room_in
from irontrail.app.widgets.painting import draw_focus
from irontrail.core.tune.batch import MEASURES
from irontrail.core.tune.grid import GridMap

HEIGHT = 330


class MapPicture(Keyed, Described, QWidget):
    """Shows a map; says `pointed(i, j)` over a cell (-1, -1 over none) and `chosen(i, j)` when one is pressed."""

    pointed = Signal(int, int)
    chosen = Signal(int, int)
    ROLE = QAccessible.Role.Chart
    WHERE = "On the map"
    KEYS = (
        Key(ARROWS, "from cell to cell", lambda view, name: view.go(*way(name))),
        Key(("Return",), "take the numbers of a cell", lambda view, _: view.take()),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.map: GridMap | None = None
        self.measure = "time_s"
        self.at: tuple[int, int] | None = None
        self._picture = Layer(self._draw)
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Each square is a pair of numbers: press one to take it, or use the arrows and Return.")
        self.setMouseTracking(True)
        self.setAccessibleName("Map of two numbers")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def changeEvent(self, event: QEvent) -> None:
        """What was drawn in another theme is drawn anew."""
        if event.type() == QEvent.Type.StyleChange:
            self._picture.forget()
        super().changeEvent(event)

    def set_map(self, made: GridMap | None, measure: str) -> None:
        """Show another map, or another measure of it."""
        self.map, self.measure = made, measure
        self._picture.forget()
        self.update()

    # --- geometry

    def room(self) -> QRectF:
        """Where the cells are."""
        return room_in(QSizeF(self.size()))

    def cell_rect(self, i: int, j: int) -> QRectF:
        """Where a cell of the map that there is is drawn."""
        assert self.map is not None
        return self._drawing(self.map).cell_rect(i, j)

    def cell_at(self, at: QPointF) -> tuple[int, int] | None:
        """The cell under a place."""
        room = self.room()
        if self.map is None or not room.contains(at):
            return None
        n = self.map.spec.cells
        i = int((at.x() - room.left()) / room.width() * n)
        j = int((room.bottom() - at.y()) / room.height() * n)
        return min(max(i, 0), n - 1), min(max(j, 0), n - 1)

    # --- events

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._picture.forget()
        super().resizeEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point(self.cell_at(event.position()))

    def leaveEvent(self, event: QEvent) -> None:
        self._point(None)
        super().leaveEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.cell_at(event.position())
        if at is not None:
            self._point(at)
            self.chosen.emit(*at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def go(self, right: float, up: float) -> bool:
        """Point at a neighbour cell; from the middle if none is pointed at. Whether there are cells."""
        if self.map is None:
            return False
        last = self.map.spec.cells - 1
        i, j = self.at or (self.map.spec.cells // 2, self.map.spec.cells // 2)
        self._point((min(max(i + int(right), 0), last), min(max(j + int(up), 0), last)))
        return True

    def take(self) -> bool:
        """Choose the cell that is pointed at, if one is."""
        if self.at is None:
            return False
        self.chosen.emit(*self.at)
        return True

    def value_told(self) -> str:
        """How much of the map is there, and the numbers and outcome of the cell that is pointed at."""
        if self.map is None:
            return "not drawn yet"
        spec = self.map.spec
        said = f"{spec.x.quantity.label} across, {spec.y.quantity.label} up, {int(self.map.done.sum())} cells"
        if self.at is None:
            return said
        i, j = self.at
        values, share = self.map.shown(self.measure)
        here = f"{spec.x.shown(spec.value(spec.x, i))} and {spec.y.shown(spec.value(spec.y, j))}"
        often = share[j, i]
        does = "not run yet" if often != often else f"finishes {100 * often:.0f} %"
        if often == often and values[j, i] == values[j, i]:
            measure = MEASURES[self.measure]
            does += f", {measure.in_unit(values[j, i])}"
        return f"{said}; at {here}: {does}"

    def _point(self, at: tuple[int, int] | None) -> None:
        if at != self.at:
            self.at = at
            self.tell()
            self.pointed.emit(*(at if at is not None else (-1, -1)))
            self.update()

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        if self.map is None:
            painter.setPen(pen(theme.rule, 1.0))
            painter.drawRect(self.room())
            if self.hasFocus():
                draw_focus(painter, theme, self.rect())
            return
        self._picture.paint(painter, self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._drawing(self.map).draw_today(painter)
        if self.at is not None:
            painter.setPen(pen(theme.ink, 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.cell_rect(*self.at))
        if self.hasFocus():
            draw_focus(painter, theme, self.rect())

    def _draw(self, painter: QPainter) -> None:
        if self.map is not None:
            self._drawing(self.map).draw(painter, self.devicePixelRatioF())

    def _drawing(self, made: GridMap) -> MapDrawing:
        return MapDrawing(self.theme, made, self.measure, QSizeF(self.size()))
