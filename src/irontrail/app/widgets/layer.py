"""A part of a view that is drawn once and shown often, as a picture of the screen's own pixels."""

from collections.abc import Callable
from typing import Optional

from PySide6.QtGui import QPaintEngine, QPainter, QPixmap
from PySide6.QtWidgets import QWidget

# On these lines stay lines: what is kept in pixels is drawn there anew.
_VECTORS = (QPaintEngine.Type.SVG, QPaintEngine.Type.Pdf)


class Layer:
    """Draws what `draw` draws, over another layer if there is one under it."""

    def __init__(self, draw: Callable[[QPainter], None], under: Optional["Layer"] = None) -> None:
        self._draw = draw
        self._under = under
        self._kept: QPixmap | None = None

    def forget(self) -> None:
        """It is drawn anew when it is next shown."""
        self._kept = None

    def paint(self, painter: QPainter, view: QWidget) -> None:
        """Show it, as large as its view."""
        if painter.paintEngine().type() in _VECTORS:
            painter.save()
            if self._under is not None:
                self._under.paint(painter, view)
            self._draw(painter)
            painter.restore()
        else:
            painter.drawPixmap(0, 0, self._pixmap(view))

    def _pixmap(self, view: QWidget) -> QPixmap:
        if self._kept is None:
            made = self._under._pixmap(view).copy() if self._under is not None else _blank(view)
            painter = QPainter(made)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            try:
                self._draw(painter)
            finally:
                # A picture must not go while it is painted on, whatever went wrong with the painting.
                painter.end()
            self._kept = made
        return self._kept


def _blank(view: QWidget) -> QPixmap:
    ratio = view.devicePixelRatioF()
    pixmap = QPixmap(view.size() * ratio)
    pixmap.setDevicePixelRatio(ratio)
    return pixmap
