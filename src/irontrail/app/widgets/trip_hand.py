"""The legs of a trip on the mat: each in its own stretch of the trail, its end a numbered mark that can be dragged."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, QPointF, Qt, Signal, SignalInstance
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, Theme, fade, pen
from irontrail.app.widgets.keys import Key, way, with_shift
from irontrail.app.widgets.mat_hand import MatHand, Touch
from irontrail.app.widgets.painting import draw_card, draw_ring, polygon

Floats = NDArray[np.float64]

GRAB_PX = 12.0
# A mark that would lie on another one moves aside by this.
APART_PX = 19.0
# Every other leg is drawn in this, a middling slate that stands out from the trail's rust on any mat.
OTHER = LIGHT.slate
# Headings are drawn so far from where the axle stands.
FAN_PX = 30.0
MOST_IN_FAN = 40


@dataclass(frozen=True, eq=False)
class MarkedLeg:
    """A leg on the mat: the way of its sensor (mm, shape (n,)), and where it left the axle and the sensor.

    `ended` is False for the leg that the run ended in. `scatter` is where it ended over many starts.
    """

    x_mm: Floats
    y_mm: Floats
    axle: tuple[float, float]
    sensor: tuple[float, float]
    ended: bool
    scatter: "Scatter | None" = None


@dataclass(frozen=True, eq=False)
class Scatter:
    """An ellipse: its middle (mm), half axes (mm) and direction (rad); and the headings (rad) that the robot had."""

    middle: tuple[float, float]
    half: tuple[float, float]
    turned: float
    headings: Floats


class TripHand(MatHand):
    """Drags the ends of legs.

    Says `picked(leg)` when a mark is pressed, `dragged(leg, mm, free, settled)` while one is held, `nudged(leg, steps)`
    for keys, and `doubled(leg)` and `taken_out(leg)`.
    """

    picked = Signal(int)
    dragged = Signal(int, QPointF, bool, bool)
    nudged = Signal(int, float)
    doubled = Signal(int)
    taken_out = Signal(int)
    WHERE = "On the mat, among the ends of legs"
    KEYS = (
        Key(("PgUp", "PgDown"), "choose a leg", lambda hand, name: hand.choose(1 if name == "PgDown" else -1)),
        Key(
            with_shift(("Left", "Right", "Up", "Down")),
            "move its end on or back",
            lambda hand, name: hand.nudge(sum(way(name))),
        ),
        Key(("Ins",), "the same leg once more", lambda hand, _: hand.tell_of(hand.doubled)),
        Key(("Del", "Backspace"), "take the leg out", lambda hand, _: hand.tell_of(hand.taken_out)),
    )

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.legs: tuple[MarkedLeg, ...] = ()
        self.chosen = -1
        self.count = 0
        self.words = ""
        self._held: int | None = None
        self._to_px = QTransform()
        # The ways of the legs in pixels, for the legs and the view that they were made for.
        self._lines: tuple[tuple[MarkedLeg, ...], QTransform, tuple[QPolygonF, ...]] = ((), QTransform(), ())

    def set_legs(self, legs: tuple[MarkedLeg, ...], chosen: int, count: int) -> None:
        """Show other legs, as far as the run came to them; `count` are in the trip."""
        self.legs, self.chosen, self.count = legs, chosen, count
        self.changed.emit()

    def set_words(self, words: str) -> None:
        """What is said beside the mark that is held."""
        self.words = words
        self.changed.emit()

    def marks_px(self, to_px: QTransform) -> list[QPointF]:
        """Where the numbered marks are; one that would cover the one before lies beside it."""
        found: list[QPointF] = []
        for leg in self.legs:
            at = to_px.map(QPointF(*leg.sensor))
            while any(abs(at.x() - other.x()) + abs(at.y() - other.y()) < APART_PX - 2.0 for other in found):
                at = at + QPointF(APART_PX, 0.0)
            found.append(at)
        return found

    # --- held

    def _mark_at(self, touch: Touch) -> int | None:
        at = self._to_px.map(touch.mm)
        near = [
            (float(np.hypot(mark.x() - at.x(), mark.y() - at.y())), i)
            for i, mark in enumerate(self.marks_px(self._to_px))
        ]
        away, i = min(near, default=(np.inf, -1))
        return i if away <= GRAB_PX else None

    def grips(self, touch: Touch) -> bool:
        mark = self._mark_at(touch)
        if mark is None:
            return False
        self._held = mark
        self.picked.emit(mark)
        return True

    def drag(self, touch: Touch) -> None:
        if self._held is not None:
            self.dragged.emit(self._held, touch.mm, touch.ctrl, False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        held, self._held = self._held, None
        self.words = ""
        if dragged and held is not None:
            self.dragged.emit(held, touch.mm, touch.ctrl, True)
        self.changed.emit()

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        return Qt.CursorShape.SizeAllCursor if self._mark_at(touch) is not None else None

    # --- keys

    def choose(self, step: int) -> bool:
        """Choose the next leg, or the one before; whether there are any."""
        if not self.count:
            return False
        self.picked.emit(min(max(self.chosen + step, 0), self.count - 1))
        return True

    def nudge(self, steps: float) -> bool:
        """Move the chosen leg's end; whether there is one."""
        if not 0 <= self.chosen < self.count:
            return False
        self.nudged.emit(self.chosen, steps)
        return True

    def tell_of(self, what: SignalInstance) -> bool:
        """Ask something of the chosen leg, if there is one."""
        if not 0 <= self.chosen < self.count:
            return False
        what.emit(self.chosen)
        return True

    # --- drawn

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        self._to_px = QTransform(to_px)
        for i, line in enumerate(self._lines_px(to_px)):
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if i == self.chosen:
                painter.setPen(pen(LIGHT.rust, 4.0))
                painter.drawPolyline(line)
            elif i % 2:
                painter.setPen(pen(OTHER, 2.4))
                painter.drawPolyline(line)
        for i, leg in enumerate(self.legs):
            if leg.scatter is not None:
                self._draw_scatter(painter, leg.scatter, to_px, i == self.chosen)
        for i, (leg, mark) in enumerate(zip(self.legs, self.marks_px(to_px), strict=True)):
            axle = to_px.map(QPointF(*leg.axle))
            painter.setPen(QPen(QColor(LIGHT.ink), 1.4))
            painter.drawLine(axle, to_px.map(QPointF(*leg.sensor)))
            painter.setBrush(QColor(LIGHT.ink))
            painter.drawEllipse(axle, 2.4, 2.4)
            if leg.ended:
                draw_ring(painter, LIGHT, mark, str(i + 1), filled=i in (self._held, self.chosen))
            else:
                draw_card(painter, LIGHT, mark + QPointF(6.0, -9.0), f"{i + 1} waits", LIGHT.rust)
        if self._held is not None and self._held < len(self.legs) and self.words:
            at = self.marks_px(to_px)[self._held]
            draw_card(painter, LIGHT, at + QPointF(14.0, -28.0), self.words, LIGHT.rust)

    def _lines_px(self, to_px: QTransform) -> tuple[QPolygonF, ...]:
        """The way of each leg in pixels, made once for many paintings."""
        legs, at, lines = self._lines
        if legs is not self.legs or at != to_px:
            lines = tuple(
                polygon(leg.x_mm * to_px.m11() + to_px.dx(), leg.y_mm * to_px.m22() + to_px.dy()) for leg in self.legs
            )
            self._lines = (self.legs, QTransform(to_px), lines)
        return lines

    @staticmethod
    def _draw_scatter(painter: QPainter, scatter: Scatter, to_px: QTransform, chosen: bool) -> None:
        """The ellipse that holds 95 of 100 ends, and the fan of headings."""
        middle, scale = to_px.map(QPointF(*scatter.middle)), to_px.m11()
        painter.setPen(QPen(fade(LIGHT.ink, 0.5 if chosen else 0.22), 1.0))
        for heading in scatter.headings[:MOST_IN_FAN]:
            tip = QPointF(float(np.cos(heading)), -float(np.sin(heading))) * FAN_PX
            painter.drawLine(middle, middle + tip)
        painter.save()
        painter.translate(middle)
        painter.rotate(-float(np.degrees(scatter.turned)))
        painter.setPen(QPen(QColor(LIGHT.rust if chosen else LIGHT.ink), 1.6 if chosen else 1.1))
        painter.setBrush(fade(LIGHT.rust if chosen else LIGHT.ink, 0.16))
        painter.drawEllipse(QPointF(0.0, 0.0), max(scatter.half[0] * scale, 2.0), max(scatter.half[1] * scale, 2.0))
        painter.restore()
