"""How a map of two numbers is drawn: its cells' tones and sizes, the cliff, the axes, and today's settings."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QImage, QPainter

from irontrail.app.theme import Theme, font, pen
from irontrail.core.tune.batch import MEASURES
from irontrail.core.tune.grid import GridMap

Floats = NDArray[np.float64]

LEFT, TOP, RIGHT, LOW = 46.0, 8.0, 8.0, 62.0
# The best value and the worst shown, as tones; light paper to dark slate.
TONES = ("#F4D9A6", "#DFA35F", "#B96B4B", "#7A4B5E", "#33406A")


def room_in(size: QSizeF) -> QRectF:
    """Where the cells are in a picture of a size."""
    return QRectF(LEFT, TOP, size.width() - LEFT - RIGHT, size.height() - TOP - LOW)


@dataclass(frozen=True, eq=False)
class MapDrawing:
    """A map and a measure of it, drawn in a picture of a size."""

    theme: Theme
    made: GridMap
    measure: str
    size: QSizeF

    @property
    def room(self) -> QRectF:
        """Where the cells are."""
        return room_in(self.size)

    def cell_rect(self, i: int, j: int) -> QRectF:
        """Where a cell is."""
        room, n = self.room, self.made.spec.cells
        wide, high = room.width() / n, room.height() / n
        return QRectF(room.left() + i * wide, room.bottom() - (j + 1) * high, wide, high)

    def draw(self, painter: QPainter, ratio: float) -> None:
        """Everything but today's settings, on a screen with so many pixels for each of the picture's."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.fillRect(QRectF(QPointF(0.0, 0.0), self.size), QColor(self.theme.sheet))
        values, share = self.made.shown(self.measure)
        low, high = _span(values)
        self._draw_cells(painter, (values - low) / max(high - low, 1e-9), np.nan_to_num(share), ratio)
        self._draw_cliff(painter, share, self.made.spec.share)
        self._draw_axes(painter, low, high)

    def _draw_cells(self, painter: QPainter, tones: Floats, share: Floats, ratio: float) -> None:
        """Every cell's square at once, as one picture: thousands of rectangles would make the window wait."""
        room, n = self.room, tones.shape[0]
        wide, high = round(room.width() * ratio), round(room.height() * ratio)
        x, y = (np.arange(wide) + 0.5) * n / wide, n - (np.arange(high) + 0.5) * n / high
        i, j = np.minimum(x.astype(int), n - 1), np.clip(y.astype(int), 0, n - 1)
        half = 0.5 * np.sqrt(np.where(np.isnan(tones), 0.0, share))[np.ix_(j, i)]
        inside = (np.abs(x - i - 0.5)[None, :] <= half) & (np.abs(y - j - 0.5)[:, None] <= half) & (half > 0.0)
        scale = np.linspace(0.0, 1.0, len(TONES))
        parts = np.array([[colour.red(), colour.green(), colour.blue()] for colour in map(QColor, TONES)])
        known = np.nan_to_num(np.clip(tones, 0.0, 1.0))
        cells = np.stack([np.interp(known, scale, parts[:, k]) for k in range(3)], axis=-1).astype(np.uint8)
        pixels = np.empty((high, wide, 4), np.uint8)
        pixels[..., :3] = cells[np.ix_(j, i)]
        pixels[..., 3] = 255 * inside
        image = QImage(pixels.data, wide, high, 4 * wide, QImage.Format.Format_RGBA8888)
        painter.drawImage(room, image)

    def _draw_cliff(self, painter: QPainter, share: Floats, least: float) -> None:
        """A strong line between cells that finish as often as is asked for and cells that do not."""
        painter.setPen(pen(self.theme.ink, 1.6))
        known, good = np.isfinite(share), np.nan_to_num(share) >= least - 1e-9
        aside = known[:, :-1] & known[:, 1:] & (good[:, :-1] != good[:, 1:])
        above = known[:-1] & known[1:] & (good[:-1] != good[1:])
        for j, i in zip(*np.nonzero(aside), strict=True):
            cell = self.cell_rect(int(i), int(j))
            painter.drawLine(cell.topRight(), cell.bottomRight())
        for j, i in zip(*np.nonzero(above), strict=True):
            cell = self.cell_rect(int(i), int(j))
            painter.drawLine(cell.topLeft(), cell.topRight())

    def _draw_axes(self, painter: QPainter, low: float, high: float) -> None:
        theme, room, spec = self.theme, self.room, self.made.spec
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawRect(room)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        centre = Qt.AlignmentFlag.AlignCenter
        for k in range(5):
            x, y = room.left() + 0.25 * k * room.width(), room.bottom() - 0.25 * k * room.height()
            box = QRectF(x - 26.0, room.bottom() + 2.0, 52.0, 14.0)
            box.moveRight(min(box.right(), self.size.width()))
            painter.drawText(box, centre, spec.x.shown(spec.x.at(0.25 * k)))
            at = QRectF(0.0, min(max(y - 7.0, 0.0), self.size.height() - 14.0), LEFT - 5.0, 14.0)
            painter.drawText(
                at, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, spec.y.shown(spec.y.at(0.25 * k))
            )
        painter.setPen(QColor(theme.ink))
        painter.setFont(font(11, True))
        painter.drawText(
            QRectF(LEFT, room.bottom() + 15.0, room.width(), 15.0),
            centre,
            _named(spec.x.quantity.label, spec.x.quantity.unit),
        )
        painter.save()
        painter.translate(9.0, room.center().y())
        painter.rotate(-90.0)
        painter.drawText(QRectF(-90.0, -8.0, 180.0, 14.0), centre, _named(spec.y.quantity.label, spec.y.quantity.unit))
        painter.restore()
        self._draw_legend(painter, room, low, high)

    def _draw_legend(self, painter: QPainter, room: QRectF, low: float, high: float) -> None:
        measure = MEASURES[self.measure]
        y, tones = room.bottom() + 38.0, [QColor(tone) for tone in TONES]
        bar = QRectF(LEFT + 22.0, y, 80.0, 9.0)
        for k in range(40):
            painter.fillRect(QRectF(bar.left() + 2.0 * k, y, 2.2, 9.0), _tone(tones, k / 39.0))
        painter.setFont(font(10))
        painter.setPen(QColor(self.theme.second))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(0.0, y - 3.0, bar.left() - 4.0, 15.0), right, measure.in_unit(low))
        painter.drawText(
            QRectF(bar.right() + 4.0, y - 3.0, 60.0, 15.0), Qt.AlignmentFlag.AlignVCenter, measure.shown(high)
        )
        x = bar.right() + 44.0
        for share in (1.0, 0.6, 0.2):
            side = 10.0 * float(np.sqrt(share))
            painter.fillRect(QRectF(x + 5.0 - side / 2, y + 4.5 - side / 2, side, side), QColor(self.theme.second))
            x += 15.0
        painter.drawText(QRectF(x + 3.0, y - 3.0, 90.0, 15.0), Qt.AlignmentFlag.AlignVCenter, "finishes")

    def draw_today(self, painter: QPainter) -> None:
        """A ring at today's settings, if they are on the map."""
        spec, room = self.made.spec, self.room
        shares = [(axis.of(spec.setup) - axis.low) / max(axis.high - axis.low, 1e-9) for axis in (spec.x, spec.y)]
        if all(0.0 <= share <= 1.0 for share in shares):
            at = QPointF(room.left() + shares[0] * room.width(), room.bottom() - shares[1] * room.height())
            for colour, width in ((self.theme.card, 4.5), (self.theme.rust, 2.2)):
                painter.setPen(pen(colour, width))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 6.5, 6.5)


def _span(values: Floats) -> tuple[float, float]:
    """The least value, and one that most do not exceed, so that a few bad ones do not flatten the rest."""
    known = values[np.isfinite(values)]
    if known.size == 0:
        return 0.0, 1.0
    return float(known.min()), float(np.percentile(known, 92.0))


def _named(label: str, unit: str) -> str:
    return f"{label}, {unit}" if unit else label


def _tone(tones: list[QColor], share: float) -> QColor:
    """A tone between those of a row, by a share (0..1)."""
    place = min(max(share, 0.0), 1.0) * (len(tones) - 1)
    i = min(int(place), len(tones) - 2)
    part, first, second = place - i, tones[i], tones[i + 1]
    return QColor(
        round(first.red() + part * (second.red() - first.red())),
        round(first.green() + part * (second.green() - first.green())),
        round(first.blue() + part * (second.blue() - first.blue())),
    )
