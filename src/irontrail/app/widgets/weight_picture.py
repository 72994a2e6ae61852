"""The lever of a weighted pair: both sensors and the axle from the side, and the weight that balances them to drag."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QAccessible, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way, with_shift
from irontrail.app.widgets.painting import draw_focus, draw_handle

HEIGHT, MARGIN = 104, 34.0
BAR_Y, GRAB_PX = 54.0, 16.0


@dataclass(frozen=True)
class Weighing:
    """How far ahead of the axle each sensor is (mm), the first one's weight, and where one that does the same would be.

    `lever_mm` is None where the two are nowhere even.
    """

    first_mm: float
    second_mm: float
    weight: float
    lever_mm: float | None


class WeightPicture(Keyed, Described, QWidget):
    """Says `dragged(weight, settled)`; the handle lies between the sensors, at the first with all weight on it."""

    dragged = Signal(float, bool)
    ROLE = QAccessible.Role.Slider
    WHERE = "On the weight of two sensors"
    KEYS = (
        Key(("Left", "Right"), "shift the weight", lambda view, name: view.nudge(0.01, way(name)[0])),
        Key(with_shift(("Left", "Right")), "ten at a time", lambda view, name: view.nudge(0.1, way(name)[0])),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.weighing: Weighing | None = None
        self._held = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Weight of the first sensor")
        self.setToolTip("Drag the weight toward the sensor that shall steer more, or shift it with the arrows.")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_weighing(self, weighing: Weighing) -> None:
        """Show another weight, or sensors elsewhere."""
        if weighing != self.weighing:
            self.weighing = weighing
            self.setAccessibleDescription(f"{100 * weighing.weight:.0f} % on the first sensor")
            self.update()

    # --- geometry

    def _ends(self) -> tuple[QPointF, QPointF]:
        """The second sensor and the first on the lever: by how far ahead they are, or side by side where as far."""
        assert self.weighing is not None
        first, second = self.weighing.first_mm, self.weighing.second_mm
        left, right = MARGIN, self.width() - MARGIN
        if first >= second:
            return QPointF(left, BAR_Y), QPointF(right, BAR_Y)
        return QPointF(right, BAR_Y), QPointF(left, BAR_Y)

    def handle(self) -> QPointF:
        """Where the weight is grabbed."""
        second, first = self._ends()
        return second + (first - second) * (self.weighing.weight if self.weighing is not None else 0.0)

    def _x_of(self, ahead_mm: float) -> float | None:
        """Where a place ahead of the axle is on the lever; None where both sensors are as far ahead, or far beyond."""
        weighing = self.weighing
        if weighing is None or abs(weighing.first_mm - weighing.second_mm) < 1.0:
            return None
        second, first = self._ends()
        share = (ahead_mm - weighing.second_mm) / (weighing.first_mm - weighing.second_mm)
        x = second.x() + share * (first.x() - second.x())
        return x if 4.0 <= x <= self.width() - 4.0 else None

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self.weighing is not None and (self.handle() - event.position()).manhattanLength() < GRAB_PX
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._drag(event.position().x(), False)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._drag(event.position().x(), True)
            self._held = False
            self.update()

    def _drag(self, x: float, settled: bool) -> None:
        second, first = self._ends()
        share = (x - second.x()) / (first.x() - second.x())
        self.dragged.emit(round(min(max(share, 0.0), 1.0), 2), settled)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def nudge(self, by: float, right: float) -> None:
        """Shift the weight to one side."""
        if self.weighing is not None:
            second, first = self._ends()
            toward = right if first.x() > second.x() else -right
            self.dragged.emit(round(min(max(self.weighing.weight + by * toward, 0.0), 1.0), 2), True)

    def range_told(self) -> tuple[float, float, float, float] | None:
        return None if self.weighing is None else (100.0 * self.weighing.weight, 0.0, 100.0, 1.0)

    def take_told(self, value: float) -> None:
        self.dragged.emit(min(max(0.01 * value, 0.0), 1.0), True)

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        weighing, theme = self.weighing, self.theme
        if weighing is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        second, first = self._ends()
        painter.setPen(pen(theme.ink, 4.0))
        painter.drawLine(second, first)
        for at, number, share, ahead in (
            (first, "1", weighing.weight, weighing.first_mm), (second, "2", 1.0 - weighing.weight, weighing.second_mm),
        ):  # fmt: skip
            painter.setPen(pen(theme.sheet, 1.5))
            painter.setBrush(QColor(theme.ink))
            painter.drawEllipse(at, 9.0, 9.0)
            painter.setFont(font(11, True))
            painter.setPen(QColor(theme.sheet))
            painter.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), Qt.AlignmentFlag.AlignCenter, number)
            painter.setPen(QColor(theme.ink))
            above = QRectF(at.x() - MARGIN, 6.0, 2 * MARGIN, 18.0)
            painter.drawText(above, Qt.AlignmentFlag.AlignCenter, f"{100 * share:.0f} %")
            painter.setFont(font(10))
            painter.setPen(QColor(theme.second))
            words = f"{ahead:g} mm".replace("-", "−")
            painter.drawText(QRectF(at.x() - MARGIN, 24.0, 2 * MARGIN, 14.0), Qt.AlignmentFlag.AlignCenter, words)
        self._paint_place(painter, self._x_of(0.0), "axle", theme.ink)
        if weighing.lever_mm is not None:
            words = f"as one at {weighing.lever_mm:.0f} mm".replace("-", "−")
            self._paint_place(painter, self._x_of(weighing.lever_mm), words, theme.rust, below=True)
        draw_handle(painter, theme, self.handle(), self._held or self.hasFocus(), 7.0)
        if self.hasFocus():
            draw_focus(painter, theme, self.rect())

    def _paint_place(self, painter: QPainter, x: float | None, words: str, colour: str, below: bool = False) -> None:
        """A wedge under the lever, and what stands there."""
        if x is None:
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour))
        wedge = [QPointF(x, BAR_Y + 5.0), QPointF(x - 5.0, BAR_Y + 14.0), QPointF(x + 5.0, BAR_Y + 14.0)]
        painter.drawPolygon(QPolygonF(wedge))
        painter.setFont(font(10))
        painter.setPen(QColor(colour))
        wide = 110.0
        left = min(max(x - wide / 2, 2.0), self.width() - wide - 2.0)
        box = QRectF(left, BAR_Y + (29.0 if below else 15.0), wide, 14.0)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
