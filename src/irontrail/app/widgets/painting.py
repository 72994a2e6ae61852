"""Small things that several views draw alike."""

from collections.abc import Callable, Iterable
from functools import lru_cache
from math import ceil, isfinite

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPaintEngine, QPainter, QPen, QPolygonF
from shiboken6 import VoidPtr

from irontrail.app.theme import Theme, font

# On these lines stay lines: what is kept in pixels is drawn there anew.
VECTORS = (QPaintEngine.Type.SVG, QPaintEngine.Type.Pdf)
HANDLE_RADIUS = 6.0
# To so many parts of a pixel a handle stands where it should.
FINE = 4
# Points nearer to the last drawn one than this, in pixels, add nothing that can be seen.
LEAST_STEP_PX = 0.35
# A card is so far from the rim of what it is drawn on, and so far from its top.
CARD_GAP, CARD_TOP = 6.0, 28.0


def in_pixels(painter: QPainter, ratio: float) -> bool:
    """Whether pictures with so many pixels to a place may stand for what is drawn: not as lines, nor on a finer one."""
    return painter.paintEngine().type() not in VECTORS and painter.deviceTransform().m11() == ratio


def draw_handle(painter: QPainter, theme: Theme, at: QPointF, held: bool, radius: float = HANDLE_RADIUS) -> None:
    """What can be grabbed: a rust ring on its ground's colour, filled while it is held."""
    draw_handles(painter, theme, ((at, held, radius),))


def draw_handles(painter: QPainter, theme: Theme, handles: Iterable[tuple[QPointF, bool, float]]) -> None:
    """Handles by their places, whether they are held, and their radii."""
    ratio = painter.device().devicePixelRatioF()
    as_lines = not in_pixels(painter, ratio)
    for at, held, radius in handles:
        rim, inside = theme.rust, theme.rust if held else theme.sheet
        x, y = ratio * at.x(), ratio * at.y()
        if as_lines or not isfinite(x + y):
            _draw_handle(painter, at, rim, inside, radius)
            continue
        column, row = x // 1.0, y // 1.0
        picture, reach = _handle(rim, inside, radius, ratio, FINE * (x - column) // 1.0, FINE * (y - row) // 1.0)
        painter.drawImage(QPointF((column - reach) / ratio, (row - reach) / ratio), picture)


# A circuit has dozens, and a picture of one takes a twentieth of drawing it.
@lru_cache(maxsize=256)
def _handle(rim: str, inside: str, radius: float, ratio: float, right: float, down: float) -> tuple[QImage, int]:
    """A picture of a handle so many parts of a pixel off one's corner, and how many pixels lie before that one."""
    reach = ceil(ratio * (radius + 2.0))
    at = QPointF(*(reach + (part + 0.5) / FINE for part in (right, down))) / ratio
    wide = 2 * reach + 1
    return clear_picture(wide, wide, ratio, lambda painter: _draw_handle(painter, at, rim, inside, radius)), reach


def _draw_handle(painter: QPainter, at: QPointF, rim: str, inside: str, radius: float) -> None:
    painter.setPen(QPen(QColor(rim), 2.0))
    painter.setBrush(QColor(inside))
    painter.drawEllipse(at, radius, radius)


def draw_words(
    painter: QPainter,
    words: Iterable[tuple[float, float, str]],
    size: int,
    bold: bool,
    colour: str,
    align: float = 0.5,
) -> None:
    """Letters or words at places, x and y: of those that are drawn again and again there are pictures.

    Of a word's width that share lies before x: none, half or all of it; y is in its middle.
    """
    ratio = painter.device().devicePixelRatioF()
    as_lines = not in_pixels(painter, ratio)
    painter.setFont(font(size, bold))
    painter.setPen(QColor(colour))
    for x, y, word in words:
        picture, wide, high = _word(word, size, bold, colour, ratio)
        left, top = x - align * wide, y - 0.5 * high
        if as_lines:
            painter.drawText(QRectF(left, top, wide + 1.0, high), Qt.AlignmentFlag.AlignLeft, word)
        else:
            # On whole pixels.
            left, top = (ratio * left + 0.5) // 1.0, (ratio * top + 0.5) // 1.0
            painter.drawImage(QPointF(left / ratio, top / ratio), picture)


@lru_cache(maxsize=512)
def _word(word: str, size: int, bold: bool, colour: str, ratio: float) -> tuple[QImage, float, float]:
    """A word as a picture, clear round it, and how wide and high the word is."""
    metrics = QFontMetricsF(font(size, bold))
    advance, height = metrics.horizontalAdvance(word), metrics.height()
    box = QRectF(0.0, 0.0, ceil(advance) + 1.0, ceil(height))

    def draw(painter: QPainter) -> None:
        painter.setFont(font(size, bold))
        painter.setPen(QColor(colour))
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft, word)

    return clear_picture(ceil(ratio * box.width()), ceil(ratio * box.height()), ratio, draw), advance, height


def clear_picture(wide: int, high: int, ratio: float, draw: Callable[[QPainter], None]) -> QImage:
    """A picture of so many pixels, `ratio` to a place, clear but for what is drawn on it."""
    picture = QImage(wide, high, QImage.Format.Format_ARGB32_Premultiplied)
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw(painter)
    painter.end()
    return picture


def draw_focus(painter: QPainter, theme: Theme, box: QRect) -> None:
    """That a view takes the keys: a frame of rust just inside it."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(QPen(QColor(theme.rust), 2.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(box.adjusted(1, 1, -1, -1))
    painter.restore()


def polygon(x: NDArray[np.float64], y: NDArray[np.float64]) -> QPolygonF:
    """A polyline in pixels, without the points that add nothing."""
    if x.size > 2:
        travelled = np.concatenate(([0.0], np.cumsum(np.hypot(np.diff(x), np.diff(y)))))
        keep = np.flatnonzero(np.diff(np.floor(travelled / LEAST_STEP_PX), prepend=-1.0))
        if keep[-1] != x.size - 1:
            keep = np.append(keep, x.size - 1)
        x, y = x[keep], y[keep]
    return polygon_of(x, y)


def polygon_of(x: NDArray[np.float64], y: NDArray[np.float64]) -> QPolygonF:
    """A polyline in pixels, with all its points."""
    made = QPolygonF()
    made.resize(x.size)
    if x.size:
        # A polygon's points lie in memory as pairs of doubles.
        memory = np.frombuffer(VoidPtr(made.data(), 16 * x.size, True), np.float64)  # type: ignore[call-overload, call-arg, arg-type]
        memory[0::2], memory[1::2] = x, y
    return made


def draw_side_sign(painter: QPainter, theme: Theme, at: QPointF, number: str, light: bool | None) -> None:
    """Which rule decides: its number on a brass disc for the light side, on a slate square for the dark one."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.second if light is None else theme.brass if light else theme.slate))
    box = QRectF(at.x() - 8.5, at.y() - 8.5, 17.0, 17.0)
    if light:
        painter.drawEllipse(box)
    else:
        painter.drawRoundedRect(box, 2.5, 2.5)
    painter.setFont(font(11, True))
    painter.setPen(QColor(theme.sheet if light is None or not light else theme.on_brass))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, number)


def draw_ring(painter: QPainter, theme: Theme, at: QPointF, number: str, filled: bool = False) -> None:
    """A numbered ring: the same beside a sentence as where it points to."""
    painter.setPen(QPen(QColor(theme.rust), 1.6))
    painter.setBrush(QColor(theme.rust if filled else theme.card))
    painter.drawEllipse(at, 8.5, 8.5)
    painter.setFont(font(10, True))
    painter.setPen(QColor(theme.card if filled else theme.rust))
    painter.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), Qt.AlignmentFlag.AlignCenter, number)


def draw_card(
    painter: QPainter, theme: Theme, at: QPointF, words: str, colour: str | None = None, centred: bool = False
) -> QRectF:
    """A few words on a small card with its top left corner, or its middle, at a place; tells where it is.

    It stays in sight, below the row of buttons over the mat.
    """
    painter.setFont(font(11, True))
    card = QRectF(at.x(), at.y(), QFontMetricsF(painter.font()).horizontalAdvance(words) + 14.0, 20.0)
    if centred:
        card.moveCenter(at)
    room, ratio = painter.viewport(), painter.device().devicePixelRatioF()
    card.moveLeft(min(max(card.left(), CARD_GAP), room.width() / ratio - card.width() - CARD_GAP))
    card.moveTop(min(max(card.top(), CARD_TOP), room.height() / ratio - card.height() - CARD_GAP))
    if words:
        painter.setPen(QPen(QColor(theme.rule), 1.0))
        painter.setBrush(QColor(theme.card))
        painter.drawRoundedRect(card, 4.0, 4.0)
        painter.setPen(QColor(colour or theme.ink))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, words)
    return card
