"""Light under the hand: the sensor held over a place of the mat, and a cut drawn across the line."""

import numpy as np
from PySide6.QtCore import QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme, fade, font, pen
from irontrail.app.widgets.keys import ARROWS, Key, way, with_shift
from irontrail.app.widgets.mat_hand import MatHand, Touch
from irontrail.app.widgets.painting import draw_card, draw_handle

GRAB_PX = 16.0
KEY_MM = 1.0


class ProbeHand(MatHand):
    """The sensor by itself: says `moved(x, y, settled)` in mm as it is dragged, or moved by Shift and an arrow."""

    moved = Signal(float, float, bool)
    WHERE = "On the mat, holding the sensor"
    KEYS = (Key(with_shift(ARROWS), "move the sensor", lambda hand, name: hand.shift(*way(name))),)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.x_mm = self.y_mm = 0.0
        self._sigma_mm = 4.5
        self._words = ""
        self._held: tuple[tuple[str, float, float], ...] = ()
        self._grip: QPointF | None = None

    def set_probe(self, x_mm: float, y_mm: float, sigma_mm: float, words: str) -> None:
        """Show the sensor at a place, with what it reads there."""
        self.x_mm, self.y_mm, self._sigma_mm, self._words = x_mm, y_mm, sigma_mm, words
        self.changed.emit()

    def set_held(self, held: tuple[tuple[str, float, float], ...]) -> None:
        """Mark where readings were held: a sign each, and the place in mm."""
        self._held = held
        self.changed.emit()

    def _over(self, touch: Touch) -> bool:
        return touch.px_to(self.x_mm, self.y_mm) <= max(GRAB_PX, 2.0 * self._sigma_mm * touch.px_per_mm)

    def grips(self, touch: Touch) -> bool:
        if not self._over(touch):
            return False
        self._grip = touch.mm - QPointF(self.x_mm, self.y_mm)
        return True

    def drag(self, touch: Touch) -> None:
        if self._grip is not None:
            at = touch.mm - self._grip
            self.moved.emit(at.x(), at.y(), False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if self._grip is not None and dragged:
            at = touch.mm - self._grip
            self.moved.emit(at.x(), at.y(), True)
        self._grip = None

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        return Qt.CursorShape.SizeAllCursor if self._over(touch) else None

    def shift(self, right: float, up: float) -> None:
        """Move the sensor along the mat."""
        self.moved.emit(self.x_mm + KEY_MM * right, self.y_mm + KEY_MM * up, True)

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        scale = to_px.m11()
        for sign, x, y in self._held:
            at = to_px.map(QPointF(x, y))
            painter.setPen(pen(LIGHT.ink, 1.4))
            painter.setBrush(QColor(LIGHT.card))
            painter.drawEllipse(at, 7.5, 7.5)
            painter.setFont(font(10, True))
            painter.drawText(QRectF(at.x() - 8, at.y() - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, sign)
        at = to_px.map(QPointF(self.x_mm, self.y_mm))
        reach = max(2.0 * self._sigma_mm * scale, 7.0)
        painter.setPen(pen(LIGHT.rust, 2.0))
        painter.setBrush(fade(LIGHT.rust, 0.22))
        painter.drawEllipse(at, reach, reach)
        for dx, dy in ((1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)):
            painter.drawLine(at + QPointF(dx, dy) * reach, at + QPointF(dx, dy) * (reach + 6.0))
        draw_card(painter, LIGHT, at + QPointF(reach + 8.0, -reach - 24.0), self._words)


class CutHand(MatHand):
    """A cut across the line: says `drawn(x0, y0, x1, y1, settled)` in mm as an end or the whole is dragged.

    Shift and an arrow move it; Page Up and Page Down choose an end or the whole to be moved so.
    """

    drawn = Signal(float, float, float, float, bool)
    WHERE = "On the mat, drawing a cut"
    KEYS = (
        Key(("PgUp", "PgDown"), "an end, or the whole", lambda hand, name: hand.choose(1 if name == "PgDown" else -1)),
        Key(with_shift(ARROWS), "move it", lambda hand, name: hand.shift(*way(name))),
    )

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.ends = [QPointF(0.0, 0.0), QPointF(50.0, 0.0)]
        self._others: tuple[tuple[str, QPointF, QPointF], ...] = ()
        self._held: int | None = None
        # What keys move: an end, or with 2 the whole.
        self.chosen = 2
        self._from: tuple[QPointF, QPointF, QPointF] | None = None

    def set_cut(self, start: QPointF, end: QPointF, others: tuple[tuple[str, QPointF, QPointF], ...]) -> None:
        """Show the cut, and others kept for comparison: a letter each, and the ends."""
        self.ends, self._others = [start, end], others
        self.changed.emit()

    def _part_at(self, touch: Touch) -> int | None:
        """0 and 1 for the ends, 2 for what is between them."""
        away = [touch.px_to(end.x(), end.y()) for end in self.ends]
        way, from_start = self.ends[1] - self.ends[0], touch.mm - self.ends[0]
        length = float(np.hypot(way.x(), way.y()))
        # A short cut leaves its middle to be held, too.
        if min(away) <= min(GRAB_PX, max(0.3 * length * touch.px_per_mm, 4.0)):
            return int(np.argmin(away))
        if length < 1e-6:
            return None
        along = (from_start.x() * way.x() + from_start.y() * way.y()) / length
        aside = abs(way.x() * from_start.y() - way.y() * from_start.x()) / length
        return 2 if 0.0 <= along <= length and aside * touch.px_per_mm <= 7.0 else None

    def grips(self, touch: Touch) -> bool:
        self._held = self._part_at(touch)
        self._from = (self.ends[0], self.ends[1], touch.mm)
        return self._held is not None

    def drag(self, touch: Touch) -> None:
        self._draw_to(touch, False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if dragged:
            self._draw_to(touch, True)
        self._held = self._from = None
        self.changed.emit()

    def _draw_to(self, touch: Touch, settled: bool) -> None:
        if self._held is None or self._from is None:
            return
        start, end, grip = self._from
        if self._held == 2:
            start, end = start + touch.mm - grip, end + touch.mm - grip
        elif self._held == 0:
            start = touch.mm
        else:
            end = touch.mm
        self.drawn.emit(start.x(), start.y(), end.x(), end.y(), settled)

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        return Qt.CursorShape.SizeAllCursor if self._part_at(touch) is not None else None

    def choose(self, step: int) -> None:
        """Have the keys move the other end, or both."""
        self.chosen = (self.chosen + step) % 3
        self.changed.emit()

    def shift(self, right: float, up: float) -> None:
        """Move what is chosen along the mat."""
        by = QPointF(KEY_MM * right, KEY_MM * up)
        start, end = (place + by if self.chosen in (i, 2) else place for i, place in enumerate(self.ends))
        self.drawn.emit(start.x(), start.y(), end.x(), end.y(), True)

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        for letter, start, end in self._others:
            first, last = to_px.map(start), to_px.map(end)
            for colour, width in ((LIGHT.card, 4.0), (LIGHT.slate, 2.0)):
                painter.setPen(pen(colour, width))
                painter.drawLine(first, last)
            draw_card(painter, LIGHT, last + QPointF(6.0, -20.0), letter)
        first, last = (to_px.map(end) for end in self.ends)
        for colour, width in ((LIGHT.card, 4.5), (LIGHT.rust, 2.2)):
            painter.setPen(pen(colour, width))
            painter.drawLine(first, last)
        for i, place in enumerate((first, last)):
            draw_handle(painter, LIGHT, place, i in (self._held, self.chosen), 5.0)
