"""The edge profile: the reading over the sensor's distance from the edge, and all that stands on it."""

import numpy as np
import pyqtgraph as pg
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QColor

from irontrail.app.theme import KEPT_DASHES, Theme, fade, font
from irontrail.core.light.profile import EdgeProfile


class _Distance(pg.AxisItem):
    """An axis whose figures have a true minus sign."""

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        return [text.replace("-", "−") for text in super().tickStrings(values, scale, spacing)]


class EdgePlot(pg.PlotWidget):
    """Shows a profile with its noise band, bright, dark, midpoint and target, and others beside it.

    Dark side and light side are shaded; where the target has the robot ride stands a line.
    """

    def __init__(self, theme: Theme) -> None:
        super().__init__(enableMenu=False, axisItems={"bottom": _Distance("bottom")})
        self.theme = theme
        self.setProperty("plot", True)
        self.setAccessibleName("Edge profile: reading over distance from the edge")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.viewport().setFocusPolicy(Qt.FocusPolicy.NoFocus)
        item = self.getPlotItem()
        item.hideButtons()
        item.setMouseEnabled(False, False)
        self._dark = pg.LinearRegionItem((-1000.0, 0.0), movable=False)
        self._light = pg.LinearRegionItem((0.0, 1000.0), movable=False)
        self._upper, self._lower = pg.PlotCurveItem(), pg.PlotCurveItem()
        self._band = pg.FillBetweenItem(self._upper, self._lower)
        self._curve = pg.PlotCurveItem()
        self._levels = {name: pg.InfiniteLine(angle=0) for name in ("dark", "bright", "midpoint", "target")}
        self.rides = pg.InfiniteLine(angle=90)
        self._usable = pg.PlotCurveItem()
        self._usable_says = pg.TextItem(anchor=(0.5, 1.0))
        self._names = {name: pg.TextItem(anchor=(1.0, 1.0)) for name in ("dark", "bright", "target")}
        for part in (
            self._dark,
            self._light,
            self._band,
            self._curve,
            *self._levels.values(),
            self.rides,
            self._usable,
        ):
            self.addItem(part)
        # A band lies under its curve, and a plot lays it under all else.
        self._band.setZValue(1.0)
        self._curve.setZValue(2.0)
        for name in (*self._names.values(), self._usable_says):
            self.addItem(name, ignoreBounds=True)
        self.others: list[pg.PlotDataItem] = []
        self._recolour()

    def set_profile(
        self, curve: EdgeProfile, target: float, noise: float, others: tuple[EdgeProfile, ...] = ()
    ) -> None:
        """Show another profile; `noise` is the half width of the band that single readings scatter over."""
        self._curve.setData(curve.edge_mm, curve.reading, antialias=True)
        self._upper.setData(curve.edge_mm, np.minimum(curve.reading + noise, 100.0))
        self._lower.setData(curve.edge_mm, np.maximum(curve.reading - noise, 0.0))
        low, high = float(curve.reading.min()), float(curve.reading.max())
        left = max(float(curve.edge_mm[0]), -60.0) if curve.edge_mm[0] < 0.0 else float(curve.edge_mm[0])
        right = min(float(curve.edge_mm[-1]), 60.0)
        for name, value in (("dark", low), ("bright", high), ("midpoint", 0.5 * (low + high)), ("target", target)):
            self._levels[name].setValue(value)
            if name in self._names:
                self._names[name].setText(f"{name} {value:.0f}")
                self._names[name].setPos(left if name == "target" else right, value)
                self._names[name].setAnchor((0.0 if name == "target" else 1.0, 0.0 if name == "bright" else 1.0))
        first, last = curve.usable_mm
        self._usable.setData([first, first, last, last], [3.0, -1.0, -1.0, 3.0])
        self._usable_says.setText(f"{last - first:.0f} mm")
        self._usable_says.setPos(0.5 * (first + last), 0.0)
        place = curve.rides_at(target)
        self.rides.setVisible(place is not None)
        if place is not None:
            self.rides.setValue(place)
        self._show_others(others)
        self.setXRange(left, right, padding=0)
        self.setYRange(-4.0, 104.0, padding=0)

    def _show_others(self, others: tuple[EdgeProfile, ...]) -> None:
        for old in self.others:
            self.removeItem(old)
        self.others = []
        for i, other in enumerate(others):
            line = pg.mkPen(self.theme.kept[i % len(self.theme.kept)], width=2)
            line.setDashPattern(list(KEPT_DASHES[i % len(KEPT_DASHES)]))
            drawn = pg.PlotDataItem(other.edge_mm, other.reading, pen=line, antialias=True)
            self.addItem(drawn)
            self.others.append(drawn)

    def changeEvent(self, event: QEvent) -> None:
        """What was drawn in another theme is drawn anew."""
        if event.type() == QEvent.Type.StyleChange:
            self._recolour()
        super().changeEvent(event)

    def _recolour(self) -> None:
        """Give every item its colour: a plot's items follow no style."""
        theme = self.theme
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
        for edge in (self._upper, self._lower):
            edge.setPen(pg.mkPen(None))
        self._band.setBrush(fade(theme.second, 0.28))
        quiet = pg.mkPen(theme.second, width=1, style=Qt.PenStyle.DotLine)
        for name in ("dark", "bright", "midpoint"):
            self._levels[name].setPen(quiet)
        dashed = pg.mkPen(theme.brass_text, width=1, style=Qt.PenStyle.DashLine)
        self._levels["target"].setPen(dashed)
        self._usable.setPen(pg.mkPen(theme.ink, width=2))
        self._usable_says.setColor(QColor(theme.ink))
        self._usable_says.setFont(font(10, True))
        self.rides.setPen(pg.mkPen(theme.rust, width=1, style=Qt.PenStyle.DashLine))
        for name, text in self._names.items():
            text.setColor(QColor(theme.brass_text if name == "target" else theme.second))
            text.setFont(font(10))
