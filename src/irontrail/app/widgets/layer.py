"""A part of a view that is drawn once and shown often, as a picture of the screen's own pixels."""

from collections.abc import Callable, Iterable
from typing import Optional

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QWidget

from irontrail.app.widgets.painting import in_pixels
from irontrail.app.widgets.strokes import Laid, Line, pixels_of


class Layer:
    """Draws what `draw` draws, over another layer if there is one under it, and lays long lines between the two.

    A layer with nothing under it covers its whole view; one with nothing to lay or draw has no picture of its own.
    """

    def __init__(
        self,
        draw: Callable[[QPainter], None] | None = None,
        under: Optional["Layer"] = None,
        lines: Callable[[], Iterable[Line]] = tuple,
    ) -> None:
        self._draw = draw
        self._lines = lines
        self._under = under
        self._image = QImage()
        # What the picture was made for: its width and height in places, and how many pixels one has; and its pixels.
        self._size = (0, 0, 1.0)
        self._pixels = np.zeros((0, 0), np.uint32)
        self._laid: Laid | None = None
        self._drawn = self._begun = self._bare = False
        # How often it has been drawn, and how often what is under it had been then.
        self._times = self._under_times = 0

    def forget(self) -> None:
        """It is drawn anew when it is next shown."""
        self._drawn = False

    def paint(self, painter: QPainter, view: QWidget) -> None:
        """Show it, as large as its view."""
        if not in_pixels(painter, view.devicePixelRatioF()):
            painter.save()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            if self._under is not None:
                self._under.paint(painter, view)
            for line in self._lines():
                line.draw(painter)
            if self._draw is not None:
                self._draw(painter)
            painter.restore()
        else:
            painter.drawImage(0, 0, self.image(view))

    def image(self, view: QWidget) -> QImage:
        """The picture."""
        if not self._drawn:
            lines = tuple(self._lines())
            self._bare = self._under is not None and self._draw is None and not lines
            if not self._bare:
                self._make(lines, view)
            self._drawn = True
            self._times += 1
        return self._under.image(view) if self._bare and self._under is not None else self._image

    def begin(self, view: QWidget) -> None:
        """Have all that lies under it drawn, and it made ready to be: what it is to show is not known yet."""
        if not self._drawn and self._under is not None:
            self._fit(view)
            self._begin_as(self._under, view)

    def _make(self, lines: tuple[Line, ...], view: QWidget) -> None:
        """Draw it."""
        self._fit(view)
        if self._under is not None:
            self._begin_as(self._under, view)
        self._begun = False
        if lines:
            self._laid = self._laid or Laid(self._pixels.shape, self._size[2])
            self._laid.lay(self._pixels, lines)
        if self._draw is not None:
            painter = QPainter(self._image)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            try:
                self._draw(painter)
            finally:
                # A picture must not go while it is painted on, whatever went wrong with the painting.
                painter.end()

    def _begin_as(self, under: "Layer", view: QWidget) -> None:
        """Make of a picture what is under it; if that has not changed, and lines are all that lies over it, there."""
        before = under.pixels(view)
        if self._begun and self._under_times == under._times:
            return
        self._begun = True
        if self._laid is None:
            np.copyto(self._pixels, before)
        elif self._draw is None and self._under_times == under._times:
            self._laid.take_back(self._pixels, before)
        else:
            self._laid.start_anew(self._pixels, before)
        self._under_times = under._times

    def pixels(self, view: QWidget) -> NDArray[np.uint32]:
        """The pixels, shape (rows, columns)."""
        self.image(view)
        return self._under.pixels(view) if self._bare and self._under is not None else self._pixels

    def _fit(self, view: QWidget) -> None:
        """Have a picture to draw on: the last one, if it is of the right size."""
        size = (view.width(), view.height(), view.devicePixelRatioF())
        if size != self._size:
            self._size = size
            self._image = QImage(view.size() * size[2], QImage.Format.Format_RGB32)
            self._image.setDevicePixelRatio(size[2])
            self._pixels = pixels_of(self._image)
            self._laid, self._begun = None, False
