"""Things under the hand: patches, zones, shadows and glares are dragged on the mat, and by a corner made larger."""

from dataclasses import replace

import numpy as np
from PySide6.QtCore import QObject, QPointF, Qt, Signal, SignalInstance
from PySide6.QtGui import QPainter, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, Theme, pen
from irontrail.app.widgets.keys import ARROWS, Key, way, with_ctrl, with_shift
from irontrail.app.widgets.mat_hand import MatHand, Touch
from irontrail.app.widgets.painting import draw_card, draw_handle
from irontrail.core.mat.laying import FREE, GRID, Snap
from irontrail.core.table import Box, Thing

GRAB_PX = 13.0


class ThingHand(MatHand):
    """Drags things about and makes them larger.

    Says `picked(thing)`, `laid(thing, box, label, settled)`, and `taken_away()` and `doubled()` for Delete and Insert.
    Places and sizes land on whole steps unless Ctrl is held.
    """

    picked = Signal(object)
    laid = Signal(object, object, str, bool)
    taken_away = Signal()
    doubled = Signal()
    WHERE = "On the mat, among its things"
    KEYS = (
        Key(("PgUp", "PgDown"), "choose a thing", lambda hand, name: hand.choose(1 if name == "PgDown" else -1)),
        Key(with_shift(ARROWS), "move it", lambda hand, name: hand.shift(*way(name), corner=False)),
        Key(with_ctrl(with_shift(ARROWS)), "make it larger", lambda hand, name: hand.shift(*way(name), corner=True)),
        Key(("Ins",), "put down the same once more", lambda hand, _: hand.tell(hand.doubled)),
        Key(("Del", "Backspace"), "take it away", lambda hand, _: hand.tell(hand.taken_away)),
    )

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.boxes: dict[Thing, Box] = {}
        self.chosen: Thing | None = None
        self._held = ""
        self._from: tuple[Box, QPointF] | None = None

    def set_things(self, boxes: dict[Thing, Box], chosen: Thing | None) -> None:
        """Work on these things, one of them chosen."""
        self.boxes, self.chosen = boxes, chosen
        self.changed.emit()

    def corner(self) -> QPointF | None:
        """Where the chosen thing is made larger, in mm."""
        if self.chosen is None or self.chosen not in self.boxes:
            return None
        box = self.boxes[self.chosen]
        return _out(box, QPointF(0.5 * box.width_mm, 0.5 * box.height_mm))

    def _thing_at(self, at: QPointF) -> Thing | None:
        """The thing under a place: the chosen one if it is there, or else the uppermost."""
        under = [thing for thing, box in self.boxes.items() if _holds(box, at)]
        if self.chosen in under:
            return self.chosen
        return under[-1] if under else None

    def _over_corner(self, touch: Touch) -> bool:
        corner = self.corner()
        if corner is None or self.chosen is None or touch.px_to(corner.x(), corner.y()) > GRAB_PX:
            return False
        # Of what is small both are near.
        box = self.boxes[self.chosen]
        return touch.px_to(corner.x(), corner.y()) < touch.px_to(box.x_mm, box.y_mm)

    def grips(self, touch: Touch) -> bool:
        self._held = "corner" if self._over_corner(touch) else ""
        if not self._held:
            thing = self._thing_at(touch.mm)
            if thing is None:
                return False
            self._held = "middle"
            self.picked.emit(thing)
        if self.chosen is None:
            return False
        self._from = (self.boxes[self.chosen], touch.mm)
        return True

    def drag(self, touch: Touch) -> None:
        self._lay(touch, False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if dragged:
            self._lay(touch, True)
        self._held, self._from = "", None
        self.changed.emit()

    def _lay(self, touch: Touch, settled: bool) -> None:
        if self._from is None or self.chosen is None:
            return
        (box, grip), snap = self._from, FREE if touch.ctrl else GRID
        if self._held == "corner":
            made = _stretched(box, _within(box, touch.mm), snap)
        else:
            by = touch.mm - grip
            made = replace(box, x_mm=snap.length(box.x_mm + by.x()), y_mm=snap.length(box.y_mm + by.y()))
        self.laid.emit(self.chosen, made, f"drag the {self.chosen.kind}", settled)

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        if self._over_corner(touch):
            return Qt.CursorShape.SizeBDiagCursor
        return Qt.CursorShape.SizeAllCursor if self._thing_at(touch.mm) is not None else None

    def tell(self, what: SignalInstance) -> bool:
        """Ask something of the chosen thing, if there is one."""
        if self.chosen is None or self.chosen not in self.boxes:
            return False
        what.emit()
        return True

    def choose(self, step: int) -> bool:
        """Choose the next thing, or the one before; whether there are any."""
        order = list(self.boxes)
        if not order:
            return False
        at = order.index(self.chosen) + step if self.chosen in self.boxes else 0
        self.picked.emit(order[at % len(order)])
        return True

    def shift(self, right: float, up: float, corner: bool) -> bool:
        """Move the chosen thing along the mat, or the corner that it is made larger by; whether there is one."""
        if self.chosen is None or self.chosen not in self.boxes:
            return False
        box, by = self.boxes[self.chosen], QPointF(GRID.length_mm * right, GRID.length_mm * up)
        if corner:
            made = _stretched(box, QPointF(0.5 * box.width_mm, 0.5 * box.height_mm) + by, GRID)
        else:
            made = replace(box, x_mm=box.x_mm + by.x(), y_mm=box.y_mm + by.y())
        self.laid.emit(self.chosen, made, f"{'stretch' if corner else 'move'} the {self.chosen.kind}", False)
        return True

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        corner = self.corner()
        if self.chosen is None or corner is None:
            return
        box = self.boxes[self.chosen]
        half = (0.5 * box.width_mm, 0.5 * box.height_mm)
        rim = [_out(box, QPointF(a * half[0], b * half[1])) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        painter.setPen(pen(LIGHT.rust, 1.4, (4.0, 3.0)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(to_px.map(QPolygonF(rim)))
        draw_handle(painter, LIGHT, to_px.map(corner), self._held == "corner", 5.0)
        size = f"{box.width_mm:.4g} × {box.height_mm:.4g} mm"
        draw_card(painter, LIGHT, to_px.map(corner) + QPointF(10.0, -22.0), size, LIGHT.rust)


def _stretched(box: Box, corner: QPointF, snap: Snap) -> Box:
    """A box with its corner drawn to a place along its sides; the corner across from it stays where it is."""
    wide = max(snap.length(corner.x() + 0.5 * box.width_mm), snap.length_mm)
    high = max(snap.length(corner.y() + 0.5 * box.height_mm), snap.length_mm)
    middle = _out(box, QPointF(0.5 * (wide - box.width_mm), 0.5 * (high - box.height_mm)))
    return replace(box, x_mm=middle.x(), y_mm=middle.y(), width_mm=wide, height_mm=high)


def _within(box: Box, at: QPointF) -> QPointF:
    """A place of the mat, seen from a box's middle along its sides."""
    return QTransform().rotate(-box.turned_deg).map(at - QPointF(box.x_mm, box.y_mm))


def _out(box: Box, at: QPointF) -> QPointF:
    """A place seen from a box's middle along its sides, on the mat."""
    return QTransform().rotate(box.turned_deg).map(at) + QPointF(box.x_mm, box.y_mm)


def _holds(box: Box, at: QPointF) -> bool:
    inside = _within(box, at)
    return bool(np.abs(inside.x()) <= 0.5 * box.width_mm and np.abs(inside.y()) <= 0.5 * box.height_mm)
