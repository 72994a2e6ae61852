"""The edge profile: the reading over the sensor's distance from the edge."""

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QSizePolicy

from irontrail.app.theme import Theme, font

# Within these readings a small step across the edge still changes what is read.
USABLE = (5.0, 95.0)


def usable_stretch_mm(edge_mm: NDArray[np.float64], reading: NDArray[np.float64]) -> float:
    """Length across the edge over which the reading changes: from USABLE's low to its high."""
    outside = np.flatnonzero((reading <= USABLE[0]) | (reading >= USABLE[1]))
    before, after = outside[edge_mm[outside] <= 0.0], outside[edge_mm[outside] > 0.0]
    low = edge_mm[before[-1]] if before.size else edge_mm[0]
    high = edge_mm[after[0]] if after.size else edge_mm[-1]
    return float(high - low)


class EdgePlot(pg.PlotWidget):
    """Shows a profile with the target on it; dark side and light side are shaded."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(enableMenu=False)
        self.theme = theme
        self.setFixedHeight(220)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Edge profile: reading over distance from the edge")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.viewport().setFocusPolicy(Qt.FocusPolicy.NoFocus)
        item = self.getPlotItem()
        item.hideButtons()
        item.setMouseEnabled(False, False)
        self._dark = pg.LinearRegionItem((-25.0, 0.0), movable=False)
        self._light = pg.LinearRegionItem((0.0, 25.0), movable=False)
        self._curve = pg.PlotCurveItem()
        self._target = pg.InfiniteLine(angle=0)
        for part in (self._dark, self._light, self._curve, self._target):
            self.addItem(part)
        self.setXRange(-25.0, 25.0, padding=0)
        self.setYRange(-2.0, 102.0, padding=0)
        self.set_theme(theme)

    def sizeHint(self) -> QSize:
        return QSize(300, 220)

    def set_profile(self, edge_mm: NDArray[np.float64], reading: NDArray[np.float64], target: float) -> None:
        """Show another profile."""
        self._curve.setData(edge_mm, reading, antialias=True)
        self._target.setValue(target)

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        self.theme = theme
        self.setBackground(QColor(theme.sheet))
        for name, label in (("left", "reading"), ("bottom", "distance from the edge, mm")):
            axis = self.getPlotItem().getAxis(name)
            axis.setPen(pg.mkPen(theme.rule))
            axis.setTextPen(pg.mkPen(theme.second))
            axis.setTickFont(font(10))
            axis.setLabel(label, color=theme.second, **{"font-size": "10px"})
        for region, colour in ((self._dark, theme.slate_wash), (self._light, theme.brass_wash)):
            region.setBrush(QColor(colour))
            for line in region.lines:
                line.setPen(pg.mkPen(None))
        self._curve.setPen(pg.mkPen(theme.ink, width=2))
        self._target.setPen(pg.mkPen(theme.brass_text, width=1, style=Qt.PenStyle.DashLine))
