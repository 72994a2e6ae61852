"""What lies under the strip's curves: shades of the bends, lanes, names, the axis."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from irontrail.app.theme import Theme, fade, font, mixed, pen
from irontrail.app.widgets.painting import draw_words
from irontrail.app.widgets.strip_axis import LABEL_WIDTH, RIGHT_MARGIN, StripAxis

# Least distance between two letters, so that those of neighbouring bends do not run together.
LETTER_PX = 11.0
SHADE = 0.055
WORD_GAP = 4.0


# How a lane's curves are dashed, in pixels on and off, so that they are told apart without colour.
CURVE_DASHES: tuple[tuple[float, ...], ...] = ((), (9.0, 4.0), (2.0, 3.0))


def curve_colours(theme: Theme) -> tuple[str, str, str]:
    """The colours of a lane's curves, in the order of its columns."""
    return theme.rust, theme.ink, theme.kept[1]


def draw_names(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    """Draw what stands beside the lanes: it changes with what they show, and not with the way."""
    painter.fillRect(QRectF(QPointF(0.0, 0.0), axis.size), QColor(theme.desk))
    for row in range(len(axis.lanes)):
        _draw_name(painter, theme, axis, row)


def names_of(axis: StripAxis) -> tuple[object, ...]:
    """What they depend on."""
    return axis.lanes, axis.ranges, axis.size


def draw_ground(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    """Draw all else that does not change with the run's curves, over the names."""
    _draw_shades(painter, theme, axis)
    for row in range(len(axis.lanes)):
        _draw_lane(painter, theme, axis, row)
    _draw_axis(painter, theme, axis)
    _draw_letters(painter, theme, axis)
    _draw_legs(painter, theme, axis)


def _draw_shades(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    # Not let through, which takes ten times as long: under it is but the desk.
    plot, shade = axis.plot, mixed(theme.desk, theme.ink, SHADE)
    leftmost, rightmost, low = plot.left(), plot.right(), plot.bottom()
    for _, start, end in axis.bends:
        left, right = max(float(axis.x_px(start)), leftmost), min(float(axis.x_px(end)), rightmost)
        if right >= left:
            painter.fillRect(QRectF(left, 0.0, max(right - left, 2.0), low), shade)


def _draw_lane(painter: QPainter, theme: Theme, axis: StripAxis, row: int) -> None:
    """A lane's rule and its middle line."""
    lane, box, (low, high) = axis.lanes[row], axis.lane(row), axis.ranges[row]
    painter.setPen(QColor(theme.rule))
    painter.drawLine(QPointF(0.0, box.bottom()), QPointF(axis.size.width(), box.bottom()))
    reading = lane.name == "reading"
    centre = axis.target if reading else 0.0
    if low < centre < high:
        painter.setPen(QPen(QColor(theme.brass if reading else theme.rule), 1.0, Qt.PenStyle.DashLine))
        y = float(axis.y_px(row, centre))
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))


def _draw_name(painter: QPainter, theme: Theme, axis: StripAxis, row: int) -> None:
    """A lane's name, unit, curves and range."""
    lane, box, (low, high) = axis.lanes[row], axis.lane(row), axis.ranges[row]
    top, x = box.top(), 12.0
    draw_words(painter, ((x, top + 12.0, lane.name),), 11, False, theme.ink, align=0.0)
    painter.setFont(font(10))
    metrics = painter.fontMetrics()
    if lane.unit:
        draw_words(painter, ((x, top + 26.0, lane.unit),), 10, False, theme.second, align=0.0)
        x += metrics.horizontalAdvance(lane.unit) + WORD_GAP
    for curve, colour, dash in zip(lane.curves, curve_colours(theme), CURVE_DASHES, strict=False):
        wide = metrics.horizontalAdvance(curve)
        painter.setPen(pen(colour, 1.4, dash))
        painter.drawLine(QPointF(x, top + 35), QPointF(x + wide, top + 35))
        draw_words(painter, ((x, top + 26.0, curve),), 10, False, colour, align=0.0)
        x += WORD_GAP + wide
    right = LABEL_WIDTH - 6.0
    ends = [(right, y, f"{value:g}".replace("-", "−")) for value, y in ((high, top + 9.0), (low, box.bottom() - 10.0))]
    draw_words(painter, ends, 10, False, theme.second, align=1.0)


def _draw_axis(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    words, unit = [], "m" if axis.by_place else "s"
    step = _round_step((axis.high - axis.low) / 8)
    value = float(np.ceil(axis.low / step) * step)
    while value <= axis.high + 1e-9:
        text = f"{value:.6g} {unit}" if value == 0.0 else f"{value:.6g}"
        words.append((float(axis.x_px(value)), axis.plot.bottom() + 10.0, text))
        value += step
    draw_words(painter, words, 10, False, theme.second)


def _draw_letters(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    letters, last = [], -100.0
    for name, start, end in axis.bends:
        x = float(axis.x_px((start + end) / 2))
        if axis.plot.left() <= x <= axis.plot.right() and x - last > LETTER_PX:
            letters.append((x, 8.0, name))
            last = x
    draw_words(painter, letters, 10, True, theme.ink)


def _draw_legs(painter: QPainter, theme: Theme, axis: StripAxis) -> None:
    """The legs of a trip along the top: every other one shaded, each with its number and, if there is room, its name.

    One that stands takes no room by place, and is a mark.
    """
    plot, free = axis.plot, -np.inf
    for leg in axis.legs:
        start, end = leg.places_m if axis.by_place else leg.times_s
        left, right = max(float(axis.x_px(start)), plot.left()), min(float(axis.x_px(end)), plot.right())
        if right < left:
            continue
        if leg.number % 2 == 0:
            painter.fillRect(QRectF(left, 0.0, max(right - left, 2.0), plot.bottom()), fade(theme.ink, SHADE))
        painter.setPen(QPen(QColor(theme.second), 1.0))
        painter.drawLine(QPointF(left, 2.0), QPointF(left, plot.top()))
        painter.setFont(font(10, True))
        metrics = painter.fontMetrics()
        text = str(leg.number)
        if metrics.horizontalAdvance(f"{text} {leg.title}") + 8.0 <= right - left:
            text = f"{text} {leg.title}"
        at = max(left + 3.0, free)
        if at + metrics.horizontalAdvance(text) <= plot.right() + RIGHT_MARGIN:
            painter.setPen(QColor(theme.ink))
            painter.drawText(
                QRectF(at, 1.0, metrics.horizontalAdvance(text) + 2.0, 14.0), Qt.AlignmentFlag.AlignLeft, text
            )
            free = at + metrics.horizontalAdvance(text) + 5.0


def _round_step(least: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    power = 10.0 ** np.floor(np.log10(max(least, 1e-9)))
    return float(next(each * power for each in (1.0, 2.0, 5.0, 10.0) if each * power >= least))
