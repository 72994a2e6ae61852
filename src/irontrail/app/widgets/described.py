"""What a view that paints itself tells those who cannot see it; `accessible.py` brings it to the desktop."""

from typing import ClassVar

from PySide6.QtGui import QAccessible, QAccessibleValueChangeEvent
from PySide6.QtWidgets import QWidget


class Described:
    """A view with a role, a name, a value in words, and maybe a number in a range."""

    ROLE: ClassVar[QAccessible.Role] = QAccessible.Role.Graphic

    def name_told(self) -> str:
        """What it is called."""
        assert isinstance(self, QWidget)
        return self.accessibleName()

    def value_told(self) -> str:
        """What it shows now, in words."""
        assert isinstance(self, QWidget)
        return self.accessibleDescription()

    def range_told(self) -> tuple[float, float, float, float] | None:
        """Its number now, the least, the greatest, and a step; None if it has none."""
        return None

    def take_told(self, value: float) -> None:
        """Take another number."""

    def tell(self) -> None:
        """What it shows has changed."""
        if QAccessible.isActive():
            assert isinstance(self, QWidget)
            QAccessible.updateAccessibility(QAccessibleValueChangeEvent(self, self.value_told()))
