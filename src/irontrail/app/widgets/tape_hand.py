"""Tape under the hand: joints, bends and whole lines are dragged on the mat."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QObject, QPointF, Qt, Signal
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme, pen
from irontrail.app.widgets.keys import ARROWS, Key, way, with_shift
from irontrail.app.widgets.mat_hand import MatHand, Touch
from irontrail.app.widgets.painting import draw_handles
from irontrail.app.widgets.tape_drawing import draw_grid, draw_measures, draw_way
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.laying import (
    FREE,
    GRID,
    Snap,
    drag_end,
    drag_middle,
    middle_place,
    moved,
    turned,
)
from irontrail.core.mat.route import piece_joints, piece_lengths, stroke_route
from irontrail.core.mat.tape import Mat, Stroke

GRAB_PX = 13.0
# How far behind its start a line is turned by.
STALK_MM = 60.0
# A key moves a handle at most so many steps, to land on another one of the grid.
MOST_FOLDS = 7
Handle = tuple[str, int]


@dataclass(frozen=True)
class TapeWork:
    """The piece that is chosen, and the grid of a mat of some size (mm) if it is held."""

    stroke: Stroke
    piece: int
    sheet: tuple[float, float] | None

    def draw(self, painter: QPainter, to_px: QTransform) -> None:
        """Draw it on the mat."""
        if self.sheet is not None:
            draw_grid(painter, *self.sheet, to_px)
        draw_way(painter, self.stroke, self.piece, to_px)


class TapeHand(MatHand):
    """Drags the tape of one line, and chooses pieces and lines by a press.

    Says `picked(line, piece)`, `laid(line, stroke, label, settled)`, and `taken_up()` and `doubled()` for the keys
    Delete and Insert; `brought_together()` when the open end has been let go on the
    start. Lengths and angles land on whole steps unless Ctrl is held.
    """

    picked = Signal(int, int)
    laid = Signal(int, object, str, bool)
    taken_up = Signal()
    doubled = Signal()
    brought_together = Signal()
    WHERE = "On the mat, laying tape"
    KEYS = (
        Key(("PgUp", "PgDown"), "choose a piece", lambda hand, name: hand.choose(1 if name == "PgDown" else -1)),
        Key(
            ("Return",),
            "grip the line, the end or middle of the piece",
            lambda hand, _: hand.grip_next(),
        ),
        Key(with_shift(ARROWS), "move what is gripped", lambda hand, name: hand.shift(GRID.length_mm, *way(name))),
        Key(("Ins",), "lay the piece once more", lambda hand, _: hand.doubled.emit()),
        Key(("Del", "Backspace"), "take the piece up", lambda hand, _: hand.taken_up.emit()),
    )

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.line = 0
        self.piece = 0
        self._mat: Mat | None = None
        self._held: Handle | None = None
        # What keys move: "line", or a handle of the chosen piece.
        self.grip = "line"
        # The line as it was when it was taken hold of, and where.
        self._from: tuple[Stroke, QPointF] | None = None

    def set_line(self, mat: Mat, line: int, piece: int) -> None:
        """Work on a line of a mat, with one of its pieces chosen."""
        self._mat, self.line, self.piece = mat, line, piece
        self.changed.emit()

    @property
    def stroke(self) -> Stroke | None:
        """The line worked on."""
        return self._mat.lines[self.line] if self._mat is not None else None

    def handles(self) -> dict[Handle, QPointF]:
        """Where things can be held, in mm: joints, the chosen piece's middle, the line's start and the way it turns."""
        stroke = self.stroke
        if stroke is None:
            return {}
        joints = [QPointF(x, y) for x, y, _ in piece_joints(stroke)]
        heading = piece_joints(stroke)[0][2]
        found: dict[Handle, QPointF] = {}
        middle = middle_place(stroke, self.piece)
        if middle is not None:
            found["middle", self.piece] = QPointF(*middle)
        found.update({("end", i): joint for i, joint in enumerate(joints[1:])})
        if stroke.closed:
            del found["end", len(stroke.pieces) - 1]
        found["start", 0] = joints[0]
        if not stroke.closed:
            back = QTransform().rotateRadians(heading).map(QPointF(-STALK_MM, 0.0))
            found["turn", 0] = joints[0] + back
        return found

    # --- the pointer

    def _handle_at(self, touch: Touch) -> Handle | None:
        near = {name: touch.px_to(place.x(), place.y()) for name, place in self.handles().items()}
        # Where two lie together, as at a corner, that of the chosen piece is meant.
        order = sorted(near, key=lambda name: (round(near[name], 3), name[1] != self.piece))
        return order[0] if order and near[order[0]] <= GRAB_PX else None

    def _tape_at(self, touch: Touch) -> tuple[int, int] | None:
        """The line and piece whose tape lies under the pointer, that of the chosen line first."""
        if self._mat is None:
            return None
        numbers = sorted(range(len(self._mat.lines)), key=lambda number: number != self.line)
        for number in numbers:
            stroke = self._mat.lines[number]
            route = stroke_route(stroke, self._mat.name)
            away = np.hypot(route.x_mm - touch.mm.x(), route.y_mm - touch.mm.y()) * touch.px_per_mm
            least = int(np.argmin(away))
            if away[least] <= max(0.5 * stroke.width_mm * touch.px_per_mm, 5.0) + 1.0:
                along, piece = float(route.s_mm[least]), 0
                for length in piece_lengths(stroke)[:-1]:
                    if along <= length:
                        break
                    along, piece = along - length, piece + 1
                return number, piece
        return None

    def grips(self, touch: Touch) -> bool:
        stroke = self.stroke
        if stroke is None:
            return False
        self._held = self._handle_at(touch)
        if self._held is None:
            at = self._tape_at(touch)
            if at is None:
                return False
            self.picked.emit(*at)
            self._held = ("line", 0)
        elif self._held[0] in ("end", "middle"):
            self.picked.emit(self.line, self._held[1])
        stroke = self.stroke
        assert stroke is not None
        self._from = (stroke, touch.mm)
        self.changed.emit()
        return True

    def drag(self, touch: Touch) -> None:
        self._lay(touch, False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if dragged:
            self._lay(touch, True)
            if self._meets_start(touch):
                self.brought_together.emit()
        self._held, self._from = None, None
        self.changed.emit()

    def _meets_start(self, touch: Touch) -> bool:
        """Whether the open end of the line is held over its start."""
        stroke = self.stroke
        if stroke is None or stroke.closed or self._held != ("end", len(stroke.pieces) - 1) or len(stroke.pieces) < 2:
            return False
        return touch.px_to(stroke.x_mm, stroke.y_mm) <= GRAB_PX

    def _lay(self, touch: Touch, settled: bool) -> None:
        if self._held is None or self._from is None or self.stroke is None:
            return
        made, label = _moved(*self._held, *self._from, touch.mm, FREE if touch.ctrl else GRID)
        self.laid.emit(self.line, made if made is not None else self.stroke, label, settled)

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:
        if self._handle_at(touch) is not None:
            return Qt.CursorShape.SizeAllCursor
        return Qt.CursorShape.PointingHandCursor if self._tape_at(touch) is not None else None

    # --- keys

    def choose(self, step: int) -> bool:
        """Choose the next piece of the line, or the one before."""
        if self.stroke is None:
            return False
        self.picked.emit(self.line, (self.piece + step) % len(self.stroke.pieces))
        return True

    def grip_next(self) -> bool:
        """Have the keys move another handle: the whole line, the chosen piece's end, its middle, the line's start."""
        grips = self._grips()
        if not grips:
            return False
        self.grip = grips[(grips.index(self.grip) + 1) % len(grips)] if self.grip in grips else grips[0]
        self.changed.emit()
        return True

    def _grips(self) -> list[str]:
        handles = self.handles()
        of_piece = [kind for kind in ("end", "middle") if (kind, self.piece) in handles]
        of_line = [kind for kind in ("turn",) if (kind, 0) in handles]
        return ["line", *of_piece, *of_line] if self.stroke is not None else []

    def _gripped(self) -> Handle:
        """The handle that keys move; the whole line if the chosen piece has no such handle."""
        grip = self.grip if self.grip in self._grips() else "line"
        return grip, self.piece if grip in ("end", "middle") else 0

    def shift(self, by_mm: float, right: float, up: float) -> bool:
        """Move what is gripped, as the pointer would; so far that it lands on another step of the grid."""
        stroke = self.stroke
        if stroke is None:
            return False
        kind, at = self._gripped()
        place = QPointF(stroke.x_mm, stroke.y_mm) if kind == "line" else self.handles()[kind, at]
        for fold in range(1, MOST_FOLDS):
            to = place + QPointF(right, up) * (by_mm * fold)
            made, label = _moved(kind, at, stroke, place, to, GRID)
            if made is not None and made != stroke:
                self.laid.emit(self.line, made, label, False)
                break
        return True

    # --- drawing

    def work(self) -> "TapeWork | None":
        if self._mat is None:
            return None
        sheet = (self._mat.width_mm, self._mat.height_mm) if self._held is not None else None
        return TapeWork(self._mat.lines[self.line], self.piece, sheet)

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        stroke = self.stroke
        if stroke is None:
            return
        handles = self.handles()
        if ("turn", 0) in handles:
            painter.setPen(pen(LIGHT.rust, 1.0, (3.0, 3.0)))
            painter.drawLine(to_px.map(handles["start", 0]), to_px.map(handles["turn", 0]))
        chosen = (("end", self.piece), ("middle", self.piece))
        draw_handles(
            painter,
            LIGHT,
            ((to_px.map(at), name == self._held, 5.5 if name in chosen else 4.0) for name, at in handles.items()),
        )
        whole = self._held is not None and self._held[0] in ("start", "line", "turn")
        draw_measures(painter, stroke, None if whole else self.piece, to_px)


def _moved(kind: str, at: int, before: Stroke, grip: QPointF, to: QPointF, snap: Snap) -> tuple[Stroke | None, str]:
    """A line with a handle of it brought from where it was gripped to another place, and what that is called.

    None where the tape cannot follow.
    """
    x, y = to.x(), to.y()
    try:
        if kind == "end":
            return drag_end(before, at, x, y, snap), "drag a joint"
        if kind == "middle":
            return drag_middle(before, at, x, y, snap), "drag a bend"
    except IronTrailError:
        return None, "drag the tape"
    if kind == "turn":
        angle = float(np.degrees(np.arctan2(before.y_mm - y, before.x_mm - x)))
        return turned(before, snap.angle(angle)), "turn the line"
    by = to - grip
    return moved(before, snap.length(before.x_mm + by.x()), snap.length(before.y_mm + by.y())), "move the line"
