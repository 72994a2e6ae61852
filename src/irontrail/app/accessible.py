"""Brings what painted views tell of themselves to the desktop's assistive technology."""

from typing import Any

from PySide6.QtGui import QAccessible, QAccessibleInterface, QAccessibleValueInterface
from PySide6.QtWidgets import QAccessibleWidget, QWidget
from shiboken6 import VoidPtr, getCppPointer, isValid

from irontrail.app.widgets.described import Described

# Interfaces are held until Qt has deleted them with their widgets: it does not know that Python made them.
_made: list["_Interface"] = []
# How many there may be before those that are gone are let go of.
PRUNE_AT = 500


def install() -> None:
    """Have Qt ask here for the interfaces of widgets; those that paint nothing themselves keep Qt's own."""
    QAccessible.installFactory(_interface)


def _interface(_class_name: str, thing: Any) -> QAccessibleInterface | None:
    if not (isinstance(thing, QWidget) and isinstance(thing, Described)):
        return None
    if len(_made) > PRUNE_AT:
        _made[:] = [each for each in _made if isValid(each)]
    _made.append(_Interface(thing))
    return _made[-1]


class _Interface(QAccessibleWidget):
    """A described widget."""

    def __init__(self, widget: QWidget) -> None:
        assert isinstance(widget, Described)
        super().__init__(widget, widget.ROLE, widget.name_told())
        self._value = _Value(self)

    @property
    def told(self) -> Described:
        """Whoever is described."""
        thing = self.object()
        assert isinstance(thing, Described)
        return thing

    def text(self, which: QAccessible.Text) -> str:
        if which == QAccessible.Text.Name:
            return self.told.name_told()
        if which == QAccessible.Text.Value:
            return self.told.value_told()
        return str(super().text(which))

    def interface_cast(self, which: QAccessible.InterfaceType) -> Any:
        """The part of the interface that Qt asks for, as the address of a C++ object.

        For what there is not, the address 0: None would be taken for the address of None.
        """
        if which == QAccessible.InterfaceType.ValueInterface and self.told.range_told() is not None:
            return VoidPtr(getCppPointer(self._value)[0])
        found = super().interface_cast(which) if which != QAccessible.InterfaceType.ValueInterface else None
        return found if found is not None else VoidPtr(0)


class _Value(QAccessibleValueInterface):
    """The number of a described widget."""

    def __init__(self, of: _Interface) -> None:
        super().__init__()
        self._of = of

    def _range(self) -> tuple[float, float, float, float]:
        return self._of.told.range_told() or (0.0, 0.0, 0.0, 0.0)

    def currentValue(self) -> float:  # noqa: N802
        return self._range()[0]

    def minimumValue(self) -> float:  # noqa: N802
        return self._range()[1]

    def maximumValue(self) -> float:  # noqa: N802
        return self._range()[2]

    def minimumStepSize(self) -> float:  # noqa: N802
        return self._range()[3]

    def setCurrentValue(self, value: float) -> None:  # noqa: N802
        self._of.told.take_told(float(value))
