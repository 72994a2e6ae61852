"""Small things that several views draw alike."""

import numpy as np
import pyqtgraph.functions as pg_functions
from numpy.typing import NDArray
from PySide6.QtCore import QPointF
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from irontrail.app.theme import Theme

HANDLE_RADIUS = 6.0
# Points nearer to the last drawn one than this, in pixels, add nothing that can be seen.
LEAST_STEP_PX = 0.35


def draw_handle(painter: QPainter, theme: Theme, at: QPointF, held: bool, radius: float = HANDLE_RADIUS) -> None:
    """What can be grabbed: a rust ring on its ground's colour, filled while it is held."""
    painter.setPen(QPen(QColor(theme.rust), 2.0))
    painter.setBrush(QColor(theme.rust if held else theme.sheet))
    painter.drawEllipse(at, radius, radius)


def polygon(x: NDArray[np.float64], y: NDArray[np.float64]) -> QPolygonF:
    """A polyline in pixels, without the points that add nothing."""
    if x.size > 2:
        travelled = np.concatenate(([0.0], np.cumsum(np.hypot(np.diff(x), np.diff(y)))))
        keep = np.flatnonzero(np.diff(np.floor(travelled / LEAST_STEP_PX), prepend=-1.0))
        if keep[-1] != x.size - 1:
            keep = np.append(keep, x.size - 1)
        x, y = x[keep], y[keep]
    made: QPolygonF = pg_functions.arrayToQPolygonF(x, y)
    return made
