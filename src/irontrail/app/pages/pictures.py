"""Pictures of pages: drawn large, put into the page itself."""

from base64 import b64encode
from dataclasses import dataclass

from PySide6.QtCore import QBuffer, QByteArray, QIODevice
from PySide6.QtGui import QColor, QImage, QPainter

# So many dots are drawn for each that the page has at 96 to the inch.
FINE = 3.0
# Packed in two thirds of the usual time, to a twentieth more.
QUICKLY = 70


@dataclass(frozen=True)
class Picture:
    """A picture inside a page: its address, which holds all of it, and its size in dots of 96 to the inch."""

    address: str
    width: int
    height: int
    says: str


def blank(width: float, height: float, ground: str, fine: float = FINE) -> QImage:
    """A picture to draw on, with so many dots for each that it is told to be wide and high."""
    image = QImage(round(width * fine), round(height * fine), QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(fine)
    image.fill(QColor(ground))
    return image


def smooth(image: QImage) -> QPainter:
    """What draws on it."""
    painter = QPainter(image)
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
    return painter


def inside(image: QImage, says: str, width: float | None = None) -> Picture:
    """A picture with all of it in its address, as wide on the page as it was told to be, or as given.

    `says` is what is seen on it, for who cannot see it.
    """
    memory = QByteArray()
    buffer = QBuffer(memory)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG", QUICKLY)  # type: ignore[call-overload]
    buffer.close()
    size = image.deviceIndependentSize()
    address = "data:image/png;base64," + b64encode(bytes(memory.data())).decode()
    wide = size.width() if width is None else width
    return Picture(address, round(wide), round(size.height() * wide / size.width()), says)
