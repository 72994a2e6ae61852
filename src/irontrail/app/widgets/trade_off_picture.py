"""Time against swing, or against finishing: what each candidate came to, those that none beats joined, one to pick."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QAccessible, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.keys import Key, Keyed, way
from irontrail.app.widgets.painting import draw_focus
from irontrail.app.widgets.picture import Picture

LEFT, TOP, RIGHT, LOW = 40.0, 10.0, 12.0, 34.0
HEIGHT = 170
NEAR_PX = 14.0
# What time is weighed against: its name and unit.
SWING, FINISHING = ("swing", "mm"), ("finish at the event", "%")
# Each series has a sign of its own, so that none is told by colour alone.
SIGNS = ("disc", "square", "triangle", "diamond")


@dataclass(frozen=True)
class Point:
    """One outcome: time (s), what it is weighed against, a name, and which series it belongs to."""

    time_s: float
    up: float
    name: str = ""
    series: int = 0


class TradeOffPicture(Keyed, Picture):
    """Shows points; says `chosen(i)` when one is pressed, or Enter is, and `pointed(i)` over one (-1 over none)."""

    chosen = Signal(int)
    pointed = Signal(int)
    ROLE = QAccessible.Role.Chart
    WHERE = "On time against swing or finishing"
    KEYS = (
        Key(("Left", "Right"), "from point to point", lambda view, name: view.go(int(way(name)[0]))),
        Key(("Return",), "take its numbers", lambda view, _: view.take()),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "Time against swing", HEIGHT)
        self.points: tuple[Point, ...] = ()
        self.joined = True
        self.against = SWING
        self.now: Point | None = None
        self.at = -1
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Each point is a set of numbers: press one to take it, or use the arrows and Return.")
        self.setMouseTracking(True)

    def set_points(
        self, points: tuple[Point, ...], now: Point | None, joined: bool = True, against: tuple[str, str] = SWING
    ) -> None:
        """Show other points, and where the run as it is now stands; `joined` by a line in their order."""
        self.points, self.now, self.joined, self.against = points, now, joined, against
        self.at = min(self.at, len(points) - 1)
        self.setAccessibleName(f"Time against {against[0]}")
        self.setAccessibleDescription(self._told(points[:12]))
        self.update()

    def place(self, point: Point) -> QPointF:
        """Where a point is drawn."""
        (t0, t1), (w0, w1) = self._spans()
        room = self._room()
        return QPointF(
            room.left() + (point.time_s - t0) / (t1 - t0) * room.width(),
            room.bottom() - (point.up - w0) / (w1 - w0) * room.height(),
        )

    def _room(self) -> QRectF:
        return QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - LOW)

    def _spans(self) -> tuple[tuple[float, float], tuple[float, float]]:
        shown = [*self.points, *([self.now] if self.now is not None else [])]
        if not shown:
            return (0.0, 1.0), (0.0, 1.0)
        times, swings = [p.time_s for p in shown], [p.up for p in shown]
        pad = 0.08 * (max(times) - min(times)) + 0.05
        if self.against == FINISHING:
            return (min(times) - pad, max(times) + pad), (min(*swings, 90.0) - 2.0, 100.0)
        return (min(times) - pad, max(times) + pad), (0.0, 1.12 * max(swings) + 0.1)

    def _nearest(self, at: QPointF) -> int:
        away = [(self.place(point) - at).manhattanLength() for point in self.points]
        return int(np.argmin(away)) if away and min(away) <= NEAR_PX else -1

    def _point(self, i: int) -> None:
        if i != self.at:
            self.at = i
            self.tell()
            self.pointed.emit(i)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point(self._nearest(event.position()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        i = self._nearest(event.position())
        if i >= 0:
            self._point(i)
            self.chosen.emit(i)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def go(self, step: int) -> bool:
        """Point at the next point, or the one before; whether there are any."""
        if not self.points:
            return False
        self._point((self.at + step) % len(self.points))
        return True

    def take(self) -> bool:
        """Choose the point that is pointed at, if one is."""
        if self.at < 0:
            return False
        self.chosen.emit(self.at)
        return True

    def value_told(self) -> str:
        """All points, or the one that is pointed at."""
        if not self.points:
            return "nothing found yet"
        shown = self.points[:12] if self.at < 0 else (self.points[self.at],)
        return self._told(shown)

    def _told(self, points: tuple[Point, ...]) -> str:
        unit = self.against[1]
        return "; ".join(f"{point.name} {point.time_s:.2f} s, {point.up:.1f} {unit}".strip() for point in points)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme, room = QPainter(self), self.theme, self._room()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawLine(room.bottomLeft(), room.bottomRight())
        painter.drawLine(room.bottomLeft(), room.topLeft())
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        (t0, t1), (w0, w1) = self._spans()
        centre = Qt.AlignmentFlag.AlignCenter
        # Where nothing is to be seen yet, nothing is numbered.
        for k in range(3 if self.points or self.now is not None else 0):
            share = 0.5 * k
            x, y = room.left() + share * room.width(), room.bottom() - share * room.height()
            box = QRectF(x - 24.0, room.bottom() + 2.0, 48.0, 13.0)
            box.moveRight(min(box.right(), float(self.width())))
            painter.drawText(box, centre, f"{t0 + share * (t1 - t0):.1f}")
            words = QRectF(0.0, y - 7.0, LEFT - 4.0, 14.0)
            painter.drawText(
                words, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{w0 + share * (w1 - w0):.1f}"
            )
        painter.drawText(QRectF(LEFT, self.height() - 16.0, room.width(), 14.0), centre, "time, s")
        painter.drawText(QRectF(LEFT + 5.0, 0.0, 140.0, 14.0), Qt.AlignmentFlag.AlignVCenter, ", ".join(self.against))
        if self.joined and len(self.points) > 1:
            painter.setPen(pen(theme.slate, 1.4))
            painter.drawPolyline([self.place(point) for point in self.points])
        for i, point in enumerate(self.points):
            self._paint_point(painter, point, i == self.at)
        if self.now is not None:
            painter.setPen(pen(theme.rust, 2.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            at = self.place(self.now)
            painter.drawEllipse(at, 6.0, 6.0)
            # Beside it the way goes on.
            above = at.y() - 24.0 > TOP
            painter.drawText(QRectF(at.x() - 20.0, at.y() + (-22.0 if above else 8.0), 40.0, 14.0), centre, "now")
        if self.hasFocus():
            draw_focus(painter, theme, self.rect())

    def _paint_point(self, painter: QPainter, point: Point, chosen: bool) -> None:
        theme, at = self.theme, self.place(point)
        painter.setPen(pen(theme.ink if chosen else theme.slate, 2.0 if chosen else 1.2))
        painter.setBrush(QColor(theme.ink if chosen else theme.slate))
        side = 5.5 if chosen else 4.5
        sign = SIGNS[point.series % len(SIGNS)]
        if sign == "disc":
            painter.drawEllipse(at, side, side)
        elif sign == "square":
            painter.drawRect(QRectF(at.x() - side, at.y() - side, 2 * side, 2 * side))
        else:
            around = (
                ((0, -1.3), (1.2, 0.9), (-1.2, 0.9))
                if sign == "triangle"
                else ((0, -1.4), (1.3, 0), (0, 1.4), (-1.3, 0))
            )
            painter.drawPolygon([at + QPointF(side * x, side * y) for x, y in around])
        if point.name:
            painter.setFont(font(11, chosen))
            painter.setPen(QColor(theme.ink))
            wide = painter.fontMetrics().horizontalAdvance(point.name)
            left = at.x() + 9.0 if at.x() + 9.0 + wide < self.width() else at.x() - 9.0 - wide
            painter.drawText(QPointF(left, at.y() + 4.0), point.name)
