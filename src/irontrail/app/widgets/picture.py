"""The base of small pictures in a panel: as wide as it, of a fixed height, in the theme's colours."""

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.described import Described


class Picture(Described, QWidget):
    """A view that paints itself; subclasses say what is on it in `paintEvent`."""

    def __init__(self, theme: Theme, name: str, height: int) -> None:
        super().__init__()
        self.theme = theme
        self.setFixedHeight(height)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        return QSize(300, self.height())
