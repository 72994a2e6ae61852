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


class Laid:
    """Strokes laid over the pixels of an RGB32 picture, and taken back; of its pixels a place has `ratio`."""

    def __init__(self, shape: tuple[int, int], ratio: float) -> None:
        # The engine is loaded by now: there is a run.
        from irontrail.app.ink import all_dry, empty_cover

        self._ratio = ratio
        self._whole = QRectF(0.0, 0.0, shape[1] / ratio, shape[0] / ratio)
        self._cover, self._wet = empty_cover(*shape), all_dry(*shape)

    def lay(self, pixels: NDArray[np.uint32], strokes: Iterable[Stroke]) -> None:
        """Lay strokes over what is there."""
        from irontrail.app.ink import lay_line

        for stroke in strokes:
            within = self._whole if stroke.within is None else stroke.within & self._whole
            sides = (within.left(), within.top(), within.right(), within.bottom())
            box = tuple(round(self._ratio * each) for each in sides)
            # Of one kind, whatever they are: for another the function would be compiled anew.
            x, y = (np.ascontiguousarray(each, np.float64) for each in (stroke.x, stroke.y))
            shown = np.ones(x.size, np.bool_) if stroke.shown is None else np.ascontiguousarray(stroke.shown)
            width, colour, full = float(stroke.width), int(stroke.colour[1:], 16), round(255.0 * stroke.opacity)
            lay_line(pixels, self._cover, self._wet, x, y, shown, self._ratio, width, colour, full, box)

    def take_back(self, pixels: NDArray[np.uint32], under: NDArray[np.uint32]) -> None:
        """Make of the pixels again what is under the strokes."""
        from irontrail.app.ink import take_back

        take_back(pixels, under, self._wet)
