"""The legs of a trip as one ribbon in driving order: each as long as it takes, with its end and how sure that is."""

from dataclasses import dataclass

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal, SignalInstance
from PySide6.QtGui import QAccessible, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way, with_shift
from irontrail.app.widgets.leg_picture import draw_leg
from irontrail.app.widgets.painting import draw_focus
from irontrail.core.counted import counted

BAND = 34.0
LEFT, GAP, MARGIN = 4.0, 9.0, 8.0
LEAST_HEIGHT, STRETCH = 36.0, 70.0
RIGHT = 62.0
DRAG_PX = 5.0
# An end that comes less often than this is not to be counted on.
SURE = 0.9


@dataclass(frozen=True)
class RibbonLeg:
    """A leg as the ribbon shows it.

    `seconds` is how long it took, None where the run did not come to it; `ended`: it came to its end. `came` and
    `starts` are how often it did over many starts, None while that is not known.
    """

    kind: str
    title: str
    ends: str
    brakes: bool
    turn_deg: float = 0.0
    seconds: float | None = None
    ended: bool = True
    came: int | None = None
    starts: int = 0


class TripRibbon(Keyed, Described, QWidget):
    """Shows legs, one of them chosen.

    Says `picked(i)`, `moved(i, to)` when one is dragged elsewhere, `gap_pressed(at, place)` where one is to be put in,
    and for keys `doubled(i)` and `taken_out(i)`.
    """

    picked = Signal(int)
    moved = Signal(int, int)
    gap_pressed = Signal(int, QPoint)
    doubled = Signal(int)
    taken_out = Signal(int)
    ROLE = QAccessible.Role.List
    WHERE = "On the ribbon of a trip"
    KEYS = (
        Key(("Up", "Down"), "the leg before, the next leg", lambda ribbon, name: ribbon.choose(-int(way(name)[1]))),
        Key(
            with_shift(("Up", "Down")), "move the leg up or down", lambda ribbon, name: ribbon.shift(-int(way(name)[1]))
        ),
        Key(("+", "=", "Return"), "put a leg in after it", lambda ribbon, _: ribbon.ask_after()),
        Key(("Ins",), "the same leg once more", lambda ribbon, _: ribbon.tell_of(ribbon.doubled)),
        Key(("Del", "Backspace"), "take the leg out", lambda ribbon, _: ribbon.tell_of(ribbon.taken_out)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.legs: tuple[RibbonLeg, ...] = ()
        self.chosen = -1
        self._laid_out = False
        self._pressed: tuple[int, QPointF] | None = None
        self._dragged_to: int | None = None
        self._over_gap: int | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Legs of the trip")
        self.setToolTip(
            "The legs in driving order: press one to work on it, drag it elsewhere, press a gap to put one in (+)."
        )
        self.set_legs((), -1)

    def set_legs(self, legs: tuple[RibbonLeg, ...], chosen: int) -> None:
        """Show other legs; `chosen` is the number of the one that is worked on, -1 for none."""
        if (legs, chosen) == (self.legs, self.chosen) and self._laid_out:
            return
        self.legs, self.chosen, self._laid_out = legs, chosen, True
        self.setFixedHeight(int(self.tops()[-1] + GAP + 2 * MARGIN - GAP))
        self.setAccessibleDescription(self.value_told())
        self.tell()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(280, self.height())

    def value_told(self) -> str:
        if not 0 <= self.chosen < len(self.legs):
            return counted(len(self.legs), "leg")
        leg = self.legs[self.chosen]
        sure = f"; {leg.came} of {leg.starts} starts come to its end" if leg.came is not None else ""
        return f"leg {self.chosen + 1} of {len(self.legs)}: {leg.title}, {leg.ends}{sure}"

    # --- geometry

    def tops(self) -> list[float]:
        """Where each leg begins, and where the last one ends."""
        whole = sum(leg.seconds or 0.0 for leg in self.legs)
        tops = [MARGIN]
        for leg in self.legs:
            tops.append(tops[-1] + LEAST_HEIGHT + (STRETCH * (leg.seconds or 0.0) / whole if whole > 0.0 else 0.0))
        return tops

    def box(self, i: int) -> QRectF:
        """The part of the ribbon that is a leg."""
        tops = self.tops()
        return QRectF(LEFT, tops[i], BAND, tops[i + 1] - tops[i])

    def leg_at(self, at: QPointF) -> int | None:
        """The leg under a place."""
        tops = self.tops()
        return next((i for i in range(len(self.legs)) if tops[i] <= at.y() < tops[i + 1]), None)

    def gap_at(self, at: QPointF) -> int | None:
        """The gap between two legs, or before or after all of them, at a place of the band; None if it is none."""
        if at.x() > LEFT + BAND + 4.0:
            return None
        return next((i for i, top in enumerate(self.tops()) if abs(at.y() - top) <= 0.5 * GAP + 1.0), None)

    # --- acting

    def choose(self, step: int) -> None:
        """Work on the next leg, or the one before."""
        if self.legs:
            self.picked.emit(min(max(self.chosen + step, 0), len(self.legs) - 1))

    def shift(self, step: int) -> None:
        """Move the chosen leg up or down."""
        if 0 <= self.chosen < len(self.legs) and 0 <= self.chosen + step < len(self.legs):
            self.moved.emit(self.chosen, self.chosen + step)

    def ask_after(self) -> None:
        """Ask for a leg after the chosen one."""
        at = self.chosen + 1
        self.gap_pressed.emit(at, self.mapToGlobal(QPoint(int(LEFT + BAND), int(self.tops()[at]))))

    def tell_of(self, what: SignalInstance) -> bool:
        """Ask something of the chosen leg, if there is one."""
        if not 0 <= self.chosen < len(self.legs):
            return False
        what.emit(self.chosen)
        return True

    # --- events

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        gap, leg = self.gap_at(at), self.leg_at(at)
        if gap is not None:
            self.gap_pressed.emit(gap, event.globalPosition().toPoint())
        elif leg is not None:
            self._pressed = (leg, at)
            self.picked.emit(leg)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pressed is not None:
            leg, pressed = self._pressed
            if self._dragged_to is not None or abs(at.y() - pressed.y()) > DRAG_PX:
                tops = self.tops()
                nearest = min(range(len(tops)), key=lambda i: abs(tops[i] - at.y()))
                self._dragged_to = nearest - 1 if nearest > leg else nearest
                self.update()
            return
        gap = self.gap_at(at)
        if gap != self._over_gap:
            self._over_gap = gap
            self.update()
        over_leg = gap is None and self.leg_at(at) is not None
        shape = Qt.CursorShape.PointingHandCursor if gap is not None else Qt.CursorShape.OpenHandCursor
        self.setCursor(shape if gap is not None or over_leg else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        pressed, to = self._pressed, self._dragged_to
        self._pressed, self._dragged_to = None, None
        if pressed is not None and to is not None and to != pressed[0]:
            self.moved.emit(pressed[0], to)
        self.update()

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tops = self.tops()
        whole = QRectF(LEFT, tops[0], BAND, tops[-1] - tops[0])
        painter.setPen(pen(theme.edge, 1.0))
        painter.setBrush(QColor(theme.card))
        painter.drawRect(whole)
        for i, leg in enumerate(self.legs):
            self._paint_leg(painter, i, leg)
        for i, top in enumerate(tops):
            self._paint_gap(painter, i, top)
        if self._dragged_to is not None and self._pressed is not None:
            to = self._dragged_to + (1 if self._dragged_to >= self._pressed[0] else 0)
            painter.setPen(QPen(QColor(theme.rust), 3.0))
            painter.drawLine(QPointF(0.0, tops[to]), QPointF(self.width(), tops[to]))
        if self.hasFocus():
            draw_focus(painter, theme, self.rect())

    def _paint_leg(self, painter: QPainter, i: int, leg: RibbonLeg) -> None:
        theme, box, chosen = self.theme, self.box(i), i == self.chosen
        reached = leg.seconds is not None
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(fade(theme.rust, 0.10))
            painter.drawRect(QRectF(box.left(), box.top(), self.width() - box.left(), box.height()))
            painter.setPen(QPen(QColor(theme.rust), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        painter.setOpacity(1.0 if reached else 0.45)
        middle = min(box.center().y(), box.top() + 0.5 * LEAST_HEIGHT + 8.0)
        draw_leg(painter, theme, QRectF(box.left() + 4, middle - 12, BAND - 8, 24), leg.kind, leg.turn_deg)
        painter.setOpacity(1.0)
        left, wide = box.right() + 9.0, self.width() - box.right() - 9.0 - RIGHT
        painter.setFont(font(12, True))
        painter.setPen(QColor(theme.ink if reached else theme.second))
        title = painter.fontMetrics().elidedText(f"{i + 1}  {leg.title}", Qt.TextElideMode.ElideRight, int(wide))
        painter.drawText(QRectF(left, box.top() + 3, wide, 17), Qt.AlignmentFlag.AlignVCenter, title)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second if leg.ended else theme.rust))
        words = leg.ends if leg.ended or not reached else f"waits: {leg.ends}"
        words = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(self.width() - left - RIGHT))
        painter.drawText(QRectF(left, box.top() + 19, wide, 16), Qt.AlignmentFlag.AlignVCenter, words)
        self._paint_figures(painter, box, leg)

    def _paint_figures(self, painter: QPainter, box: QRectF, leg: RibbonLeg) -> None:
        """How long it took, and how often it came to its end."""
        theme, right = self.theme, self.width() - 6.0
        aligned = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.setFont(font(11))
        painter.setPen(QColor(theme.ink))
        text = f"{leg.seconds:.2f} s" if leg.seconds is not None else "–"
        painter.drawText(QRectF(right - RIGHT, box.top() + 3, RIGHT, 17), aligned, text)
        if leg.came is None or not leg.starts:
            return
        sure = leg.came / leg.starts
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second if sure >= SURE else theme.rust))
        painter.drawText(QRectF(right - RIGHT, box.top() + 18, RIGHT, 12), aligned, f"{leg.came} of {leg.starts}")
        bar = QRectF(right - 46.0, box.top() + 31.0, 46.0, 3.0)
        painter.fillRect(bar, QColor(theme.rule))
        painter.fillRect(
            QRectF(bar.left(), bar.top(), bar.width() * sure, 3.0), QColor(theme.good if sure >= SURE else theme.rust)
        )

    def _paint_gap(self, painter: QPainter, i: int, top: float) -> None:
        """Between two legs: a bar where the robot stands, an open point where it rolls on; a plus where one goes in."""
        theme, middle = self.theme, LEFT + 0.5 * BAND
        if 0 < i <= len(self.legs):
            painter.setPen(QPen(QColor(theme.ink), 2.4 if self.legs[i - 1].brakes else 1.2))
            if self.legs[i - 1].brakes:
                painter.drawLine(QPointF(LEFT + 3, top), QPointF(LEFT + BAND - 3, top))
            else:
                painter.drawPolyline(
                    [QPointF(middle - 5, top - 3), QPointF(middle, top + 2), QPointF(middle + 5, top - 3)]
                )
        if i in (self._over_gap, len(self.legs)) or not self.legs:
            painter.setPen(QPen(QColor(theme.rust), 1.4))
            painter.setBrush(QColor(theme.rust if i == self._over_gap else theme.card))
            painter.drawEllipse(QPointF(middle, top), 6.5, 6.5)
            painter.setPen(QPen(QColor(theme.card if i == self._over_gap else theme.rust), 1.6))
            painter.drawLine(QPointF(middle - 3, top), QPointF(middle + 3, top))
            painter.drawLine(QPointF(middle, top - 3), QPointF(middle, top + 3))
