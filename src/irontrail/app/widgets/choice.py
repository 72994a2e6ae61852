"""Buttons of which one is chosen: radio buttons to the desktop, and to the arrow keys."""

from collections.abc import Iterable

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QAbstractButton, QButtonGroup


def one_of(owner: QObject, buttons: Iterable[QAbstractButton]) -> QButtonGroup:
    """Make some buttons a choice of one; it ends with its owner."""
    group = QButtonGroup(owner)
    for button in buttons:
        button.setAutoExclusive(True)
        group.addButton(button)
    return group


def choose(group: QButtonGroup, chosen: QAbstractButton | None) -> None:
    """Show which one is chosen, or that none is."""
    if chosen is not None:
        chosen.setChecked(True)
    elif (now := group.checkedButton()) is not None:
        group.setExclusive(False)
        now.setChecked(False)
        group.setExclusive(True)
