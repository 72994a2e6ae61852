"""Long lines, as they are drawn on a page and as they are laid over the pixels of a view."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPolygonF

from irontrail.app.theme import fade, pen
from irontrail.app.widgets.painting import polygon

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Stroke:
    """A line from place to place (px, shape (n,)).

    Attributes
    ----------
    shown : ndarray of bool, shape (n,), or None
        Where it is false, the way on from a place is left out; None for all of it. So is that from and to a place
        that is not known (NaN).
    within : QRectF or None
        Nothing is drawn outside.
    """

    x: Floats
    y: Floats
    colour: str
    width: float = 1.0
    opacity: float = 1.0
    shown: NDArray[np.bool_] | None = None
    within: QRectF | None = None

    def on(self) -> NDArray[np.bool_]:
        """Whether there is a way on from each place."""
        known = np.isfinite(self.x) & np.isfinite(self.y)
        on: NDArray[np.bool_] = known.copy() if self.shown is None else known & self.shown
        on[:-1] &= known[1:]
        on[-1:] = False
        return on

    def parts(self) -> list[QPolygonF]:
        """The lines in one piece that it is made of."""
        edges = np.flatnonzero(np.diff(self.on().astype(np.int8), prepend=0, append=0)).tolist()
        return [polygon(self.x[a : b + 1], self.y[a : b + 1]) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def draw_strokes(painter: QPainter, strokes: Iterable[Stroke]) -> None:
    """Draw them by a painter, as lines."""
    for stroke in strokes:
        painter.save()
        if stroke.within is not None:
            painter.setClipRect(stroke.within)
        made = pen(stroke.colour, stroke.width)
        made.setColor(fade(stroke.colour, stroke.opacity))
        made.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(made)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for part in stroke.parts():
            painter.drawPolyline(part)
        painter.restore()


def pixels_of(image: QImage) -> NDArray[np.uint32]:
    """The pixels of an RGB32 picture, shape (rows, columns); what is written there is written on the picture."""
    return np.frombuffer(image.bits(), np.uint32).reshape(image.height(), image.width())


def lay_strokes(image: QImage, strokes: Iterable[Stroke]) -> None:
    """Lay them over an RGB32 picture, of whose pixels each of theirs takes as many as its ratio says."""
    # The engine is loaded by now: there is a run.
    from irontrail.app.ink import empty_cover, lay_line

    pixels, ratio = pixels_of(image), image.devicePixelRatio()
    cover = empty_cover(*pixels.shape)
    whole = QRectF(0.0, 0.0, image.width() / ratio, image.height() / ratio)
    for stroke in strokes:
        within = whole if stroke.within is None else stroke.within & whole
        box = tuple(round(ratio * each) for each in (within.left(), within.top(), within.right(), within.bottom()))
        # Of one kind, whatever they are: for another the function would be compiled anew.
        x, y = (np.ascontiguousarray(each, np.float64) for each in (stroke.x, stroke.y))
        shown = np.ones(x.size, np.bool_) if stroke.shown is None else np.ascontiguousarray(stroke.shown)
        colour, full = int(stroke.colour[1:], 16), round(255.0 * stroke.opacity)
        lay_line(pixels, cover, x, y, shown, ratio, float(stroke.width), colour, full, box)
