"""A part of a view that is drawn once and shown often, as a picture of the screen's own pixels."""

from collections.abc import Callable, Iterable
from typing import Optional

import numpy as np
from PySide6.QtGui import QImage, QPaintEngine, QPainter
from PySide6.QtWidgets import QWidget

from irontrail.app.widgets.strokes import Stroke, draw_strokes, lay_strokes, pixels_of

# On these lines stay lines: what is kept in pixels is drawn there anew.
VECTORS = (QPaintEngine.Type.SVG, QPaintEngine.Type.Pdf)


class Layer:
    """Draws what `draw` draws, over long lines if there are any, over another layer if there is one under it.

    A layer with nothing under it covers its whole view.
    """

    def __init__(
        self,
        draw: Callable[[QPainter], None] = lambda _painter: None,
        under: Optional["Layer"] = None,
        strokes: Callable[[], Iterable[Stroke]] = tuple,
    ) -> None:
        self._draw = draw
        self._strokes = strokes
        self._under = under
        self._image = QImage()
        self._drawn = False

    def forget(self) -> None:
        """It is drawn anew when it is next shown."""
        self._drawn = False

    def paint(self, painter: QPainter, view: QWidget) -> None:
        """Show it, as large as its view."""
        if painter.paintEngine().type() in VECTORS:
            painter.save()
            if self._under is not None:
                self._under.paint(painter, view)
            draw_strokes(painter, self._strokes())
            self._draw(painter)
            painter.restore()
        else:
            painter.drawImage(0, 0, self.image(view))

    def image(self, view: QWidget) -> QImage:
        """The pixels."""
        if not self._drawn:
            image = self._of_size(view)
            if self._under is not None:
                np.copyto(pixels_of(image), pixels_of(self._under.image(view)))
            strokes = tuple(self._strokes())
            if strokes:
                lay_strokes(image, strokes)
            painter = QPainter(image)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            try:
                self._draw(painter)
            finally:
                # A picture must not go while it is painted on, whatever went wrong with the painting.
                painter.end()
            self._drawn = True
        return self._image

    def _of_size(self, view: QWidget) -> QImage:
        """The picture to draw on: the last one, if it is of the right size."""
        ratio = view.devicePixelRatioF()
        size = view.size() * ratio
        if self._image.size() != size or self._image.devicePixelRatio() != ratio:
            self._image = QImage(size, QImage.Format.Format_RGB32)
            self._image.setDevicePixelRatio(ratio)
        return self._image
