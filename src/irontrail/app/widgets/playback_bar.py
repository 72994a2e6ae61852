"""Playing a run: play, step, scrub, how fast; and the run's main figures beside it."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QAccessible,
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
)
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QLayout, QPushButton, QSizePolicy, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.figure import FigureView
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_shift
from irontrail.app.widgets.painting import draw_handle
from irontrail.core.figures import FIGURES, Figures

HEIGHT, LEAST_WIDTH = 50, 536

OUTCOME_LABELS = {
    "finished": "finished in",
    "off-mat": "off the mat after",
    "lost": "line lost after",
    "stuck": "stuck after",
    "time-out": "out of time after",
    "stopped": "stopped itself after",
}


class SignButton(QAbstractButton):
    """A small button told by a drawn sign: play, pause, back or forward."""

    def __init__(self, sign: str, name: str, theme: Theme, width: int = 26) -> None:
        super().__init__()
        self.theme, self.sign = theme, sign
        self.setFixedSize(width, 30)
        self.set_name(name)

    def set_name(self, name: str) -> None:
        """What it does, for tool tip and screen reader."""
        self.setAccessibleName(name)
        self.setToolTip(name)

    def set_sign(self, sign: str, name: str) -> None:
        """Show another sign."""
        self.sign = sign
        self.set_name(name)
        self.update()

    def sizeHint(self) -> QSize:
        return self.size()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colour = QColor(self.theme.rust if self.sign in ("play", "pause") else self.theme.ink)
        middle = QPointF(self.rect().center()) + QPointF(0.5, 0.5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        if self.sign == "play":
            painter.drawPolygon(QPolygonF([middle + QPointF(-6, -9), middle + QPointF(10, 0), middle + QPointF(-6, 9)]))
        elif self.sign == "pause":
            for x in (-7.0, 2.0):
                painter.drawRect(QRectF(middle.x() + x, middle.y() - 8.5, 5.0, 17.0))
        else:
            way = -1.0 if self.sign == "back" else 1.0
            tip = [QPointF(-3 * way, -6), QPointF(5 * way, 0), QPointF(-3 * way, 6)]
            painter.drawPolygon(QPolygonF([middle + point for point in tip]))
            painter.drawRect(QRectF(middle.x() - 5.5 * way - 1.0, middle.y() - 6, 2.0, 12))
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.theme.rust), 1.0, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)


class Scrubber(Keyed, Described, QWidget):
    """The run as a track with the playhead on it; says `sought(time)`."""

    sought = Signal(float)
    stepped = Signal(int)
    ROLE = QAccessible.Role.Slider
    WHERE = "On the playhead"
    KEYS = (
        Key(ARROWS, "a loop back or on", lambda bar, name: bar.stepped.emit(int(sum(way(name))))),
        Key(with_shift(ARROWS), "ten loops", lambda bar, name: bar.stepped.emit(int(10 * sum(way(name))))),
        Key(("Home",), "to the start", lambda bar, _: bar.sought.emit(0.0)),
        Key(("End",), "to the end", lambda bar, _: bar.sought.emit(bar._duration_s)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._time_s, self._duration_s = 0.0, 0.0
        self._held = False
        self.setMinimumWidth(90)
        self.setFixedHeight(30)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Playhead")
        self.setToolTip("Drag to any moment of the run; the arrows step a loop")

    def set_time(self, time_s: float, duration_s: float) -> None:
        """Show the playhead somewhere else."""
        before = self._at()
        self._time_s, self._duration_s = time_s, duration_s
        # A run a little longer does not move a playhead at its start.
        if self._at() != before:
            self.update()

    def _track(self) -> QRectF:
        return QRectF(8.0, self.height() / 2 - 1.5, self.width() - 16.0, 3.0)

    def _at(self) -> float:
        """Where the playhead stands."""
        share = self._time_s / self._duration_s if self._duration_s > 0.0 else 0.0
        return self._track().left() + share * self._track().width()

    def _seek(self, x: float) -> None:
        track = self._track()
        share = min(max((x - track.left()) / track.width(), 0.0), 1.0)
        self.sought.emit(share * self._duration_s)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = True
        self._seek(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._seek(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self._held = False
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def value_told(self) -> str:
        return f"{self._time_s:.2f} of {self._duration_s:.2f} s"

    def range_told(self) -> tuple[float, float, float, float]:
        return self._time_s, 0.0, self._duration_s, 0.01

    def take_told(self, value: float) -> None:
        self.sought.emit(min(max(value, 0.0), self._duration_s))

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        track, at = self._track(), self._at()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.theme.edge))
        painter.drawRoundedRect(track, 1.5, 1.5)
        painter.setBrush(QColor(self.theme.ink))
        painter.drawRoundedRect(QRectF(track.left(), track.top(), at - track.left(), 3.0), 1.5, 1.5)
        if self.hasFocus():
            painter.setPen(QColor(self.theme.rust))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(at, track.center().y()), 9.5, 9.5)
        draw_handle(painter, self.theme, QPointF(at, track.center().y()), self._held)


class TimeLabel(QWidget):
    """The playhead's time over the whole run's, figures lined up."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._text = ""
        self.setFixedSize(92, 30)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def set_time(self, time_s: float, duration_s: float) -> None:
        """Show a time."""
        text = f"{time_s:.2f} / {duration_s:.2f} s"
        if text != self._text:
            self._text = text
            self.setAccessibleName(text)
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.theme.sheet))
        painter.setFont(font(11))
        painter.setPen(QColor(self.theme.second))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self._text)


class PlaybackBar(QWidget):
    """The bar between mat and strip."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setFixedHeight(HEIGHT)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.play = SignButton("play", "Play (Space)", theme, 30)
        self.back = SignButton("back", "Step a loop back (,)", theme)
        self.forward = SignButton("forward", "Step a loop forward (.)", theme)
        self.scrubber = Scrubber(theme)
        self.time = TimeLabel(theme)
        self.rate = QPushButton("1×")
        self.rate.setFixedWidth(48)
        self.rate.setAccessibleName("Playing speed")
        self.rate.setToolTip("Playing speed ([ slower, ] faster)")
        self.keep = QPushButton("Keep")
        self.keep.setProperty("start", "true")
        self.keep.setFixedWidth(62)
        self.keep.setToolTip("Keep this run to compare with (K)")
        self.outcome = FigureView(FIGURES["time_s"], theme)
        self.swing = FigureView(FIGURES["wobble_mm"], theme)
        self.clipped = FigureView(FIGURES["clipped_share"], theme)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 4, 12, 4)
        row.setSpacing(4)
        for widget in (self.back, self.play, self.forward):
            row.addWidget(widget)
        row.addWidget(self.scrubber, 1)
        row.addWidget(self.time)
        row.addSpacing(4)
        row.addWidget(self.rate)
        row.addWidget(self.keep)
        row.addSpacing(10)
        for figure in (self.outcome, self.swing, self.clipped):
            row.addWidget(figure)
        # Where the window is narrow, what can be seen elsewhere too is left out.
        row.setSizeConstraint(QLayout.SizeConstraint.SetNoConstraint)
        self.setMinimumWidth(LEAST_WIDTH)
        self.clipped.setFixedWidth(106)
        self.outcome.setFixedWidth(124)
        self.swing.setFixedWidth(116)

    def show_figures(self, figures: Figures, kept: Figures | None) -> None:
        """Show what a run came to, beside the kept run's; times are compared where both finish."""
        both = kept is not None and kept.outcome == figures.outcome == "finished"
        kept_time = kept.time_s if both and kept is not None else None
        self.outcome.set_figure(figures.time_s, kept_time, OUTCOME_LABELS[figures.outcome])
        self.swing.set_figure(figures.wobble_mm, kept.wobble_mm if kept else None)
        self.clipped.set_figure(figures.clipped_share, kept.clipped_share if kept else None)

    def resizeEvent(self, event: QResizeEvent) -> None:
        for widget, needs in ((self.clipped, 792), (self.time, 684), (self.rate, 596)):
            widget.setVisible(self.width() >= needs)
        super().resizeEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.theme.sheet))
        painter.setPen(QColor(self.theme.rule))
        painter.drawLine(0, 0, self.width(), 0)
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
