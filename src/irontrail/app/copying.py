"""Pictures for the clipboard: of the mat, the strip, or any plot, twice as fine as the screen."""

from PySide6.QtCore import QPoint
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtWidgets import QAbstractButton, QWidget

from irontrail.app.widgets.described import Described

FINER = 2.0
# Plots that others draw say so by this property.
PLOT = "plot"
# What is smaller is a sign, not a plot.
LEAST_WIDE, LEAST_HIGH = 150, 70


def picture_of(widget: QWidget) -> QImage:
    """What a widget shows."""
    image = QImage(widget.size() * FINER, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(FINER)
    image.fill(widget.palette().window().color())
    painter = QPainter(image)
    try:
        # A scene has a `render` of its own, which takes other things.
        QWidget.render(widget, painter, QPoint())
    finally:
        painter.end()
    return image


def copy(widget: QWidget) -> None:
    """Put a picture of a widget on the clipboard."""
    QGuiApplication.clipboard().setImage(picture_of(widget))


def is_plot(widget: QWidget) -> bool:
    """Whether a widget is a picture of something, large enough to be worth a copy."""
    drawn = isinstance(widget, Described) and not isinstance(widget, QAbstractButton)
    large = widget.width() >= LEAST_WIDE and widget.height() >= LEAST_HIGH
    return bool((drawn or widget.property(PLOT)) and large and widget.isVisible())


def plots_in(panel: QWidget) -> dict[str, QWidget]:
    """The plots to be seen in a panel, by what each is called."""
    found = [widget for widget in panel.findChildren(QWidget) if is_plot(widget)]
    return {_name(widget): widget for widget in found}


def _name(widget: QWidget) -> str:
    told = widget.name_told() if isinstance(widget, Described) else widget.accessibleName()
    return told or "the plot"
