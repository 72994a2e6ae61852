"""How often it finishes under each strain: a row of squares, as large as it finishes often."""

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QHelpEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QToolTip

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.picture import Picture
from irontrail.core.tune.robustness import StrainResult

ROW = 40.0
LABEL = 96.0


class StrainBars(Picture):
    """A row for each strain, its least change at the left, its most at the right, today's framed."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "How often it finishes under each strain", 0)
        self.held: tuple[StrainResult, ...] = ()

    def set_held(self, held: tuple[StrainResult, ...]) -> None:
        """Show other strains."""
        self.held = held
        self.setFixedHeight(int(ROW * len(held)))
        self.setAccessibleDescription("; ".join(each.says(int(np.argmin(each.good))) for each in held))
        self.setMouseTracking(True)
        self.update()

    def level_at(self, at: QPointF) -> tuple[int, int] | None:
        """Which strain and which of its levels is at a point; None if none is."""
        k = int(at.y() // ROW)
        if not 0 <= k < len(self.held) or at.x() < LABEL:
            return None
        count = len(self.held[k].changes)
        return k, min(int((at.x() - LABEL) / (self.width() - LABEL) * count), count - 1)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            found = self.level_at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), self.held[found[0]].says(found[1]) if found is not None else "", self)
            return True
        return super().event(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for k, held in enumerate(self.held):
            top = k * ROW
            painter.setFont(font(11))
            painter.setPen(QColor(theme.ink))
            painter.drawText(QRectF(0.0, top, LABEL, 22.0), Qt.AlignmentFlag.AlignVCenter, held.strain.name)
            step = (self.width() - LABEL) / len(held.changes)
            for i, (change, share) in enumerate(zip(held.changes, held.finished, strict=True)):
                middle = LABEL + (i + 0.5) * step
                full = QRectF(middle - 8.5, top + 2.0, 17.0, 17.0)
                painter.setPen(pen(theme.rust if change == 0.0 else theme.rule, 1.6 if change == 0.0 else 1.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(full)
                side = 15.0 * share**0.5
                painter.fillRect(
                    QRectF(middle - side / 2, full.center().y() - side / 2, side, side),
                    QColor(theme.good if share >= 0.95 else theme.brass if share >= 0.5 else theme.rust),
                )
            painter.setFont(font(10))
            painter.setPen(QColor(theme.second))
            for change, place, align in (
                (held.changes[0], LABEL + 2.0, Qt.AlignmentFlag.AlignLeft),
                (held.changes[-1], self.width() - 82.0, Qt.AlignmentFlag.AlignRight),
            ):
                painter.drawText(QRectF(place, top + 21.0, 80.0, 14.0), align, held.strain.shown(change))
