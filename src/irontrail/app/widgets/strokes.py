"""Long lines, as they are drawn on a page and as they are laid over the pixels of a view."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPolygonF

from irontrail.app.theme import fade, pen
from irontrail.app.widgets.painting import polygon

Floats = NDArray[np.float64]


class Line(Protocol):
    """What is drawn on a page by a painter, and laid over pixels in a view."""

    def draw(self, painter: QPainter) -> None:
        """Draw it as a line."""

    def lay(self, pixels: NDArray[np.uint32], laid: "Laid") -> None:
        """Lay it over what is there."""


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

    def draw(self, painter: QPainter) -> None:
        painter.save()
        if self.within is not None:
            painter.setClipRect(self.within)
        made = pen(self.colour, self.width)
        made.setColor(fade(self.colour, self.opacity))
        made.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(made)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for part in self.parts():
            painter.drawPolyline(part)
        painter.restore()

    def lay(self, pixels: NDArray[np.uint32], laid: "Laid") -> None:
        box, ratio = laid.box, laid.ratio
        if self.within is not None:
            within = self.within & laid.whole
            sides = (within.left(), within.top(), within.right(), within.bottom())
            box = tuple([round(ratio * each) for each in sides])
        # Of one kind, whatever they are: for another the function would be compiled anew.
        x, y = np.ascontiguousarray(self.x, np.float64), np.ascontiguousarray(self.y, np.float64)
        shown = np.ones(x.size, np.bool_) if self.shown is None else np.ascontiguousarray(self.shown)
        width, colour, full = float(self.width), int(self.colour[1:], 16), round(255.0 * self.opacity)
        laid.ink.lay_line(pixels, laid.cover, laid.wet, x, y, shown, ratio, width, colour, full, box)


def pixels_of(image: QImage) -> NDArray[np.uint32]:
    """The pixels of an RGB32 picture, shape (rows, columns); what is written there is written on the picture."""
    if image.isNull():
        return np.zeros((0, 0), np.uint32)
    return np.frombuffer(image.bits(), np.uint32).reshape(image.height(), image.width())


class Laid:
    """Lines laid over the pixels of an RGB32 picture, and taken back; of its pixels a place has `ratio`.

    `cover` is the room in which a line is noted first, and `wet` where anything has been laid (`app/ink.py`).
    """

    def __init__(self, shape: tuple[int, int], ratio: float) -> None:
        # The engine is loaded by now: there is a run.
        from irontrail.app import ink

        self.ink = ink
        self.ratio = ratio
        self.whole = QRectF(0.0, 0.0, shape[1] / ratio, shape[0] / ratio)
        self.box: tuple[int, ...] = (0, 0, shape[1], shape[0])
        self.cover, self.wet = ink.empty_cover(*shape), ink.all_dry(*shape)

    def lay(self, pixels: NDArray[np.uint32], lines: Iterable[Line]) -> None:
        """Lay lines over what is there."""
        for line in lines:
            line.lay(pixels, self)

    def take_back(self, pixels: NDArray[np.uint32], under: NDArray[np.uint32]) -> None:
        """Make of the pixels again what is under the lines."""
        self.ink.take_back(pixels, under, self.wet)

    def start_anew(self, pixels: NDArray[np.uint32], under: NDArray[np.uint32]) -> None:
        """Make of all pixels what is under the lines: that has changed itself."""
        np.copyto(pixels, under)
        self.wet[:] = False
