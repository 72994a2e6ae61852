"""Buttons of which one is chosen: radio buttons to the desktop, and to the arrow keys."""

from collections.abc import Iterable

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QAbstractButton, QButtonGroup


def one_of(owner: QObject, buttons: Iterable[QAbstractButton]) -> QButtonGroup:
    """Make some buttons a choice of one; it ends with its owner."""
    group = QButtonGroup(owner)
    for button in buttons:
        button.setAutoExclusive(True)
        group.addButton(button)
    group.buttonToggled.connect(lambda _button, on: _let_tab_come_to(group) if on else None)
    _let_tab_come_to(group)
    return group


def _let_tab_come_to(group: QButtonGroup) -> None:
    """Tab comes to the one that is chosen, or the first; the arrows go from there to the others."""
    buttons = group.buttons()
    chosen = group.checkedButton() or (buttons[0] if buttons else None)
    for button in buttons:
        button.setFocusPolicy(Qt.FocusPolicy.StrongFocus if button is chosen else Qt.FocusPolicy.ClickFocus)


def choose(group: QButtonGroup, chosen: QAbstractButton | None) -> None:
    """Show which one is chosen, or that none is."""
    if chosen is not None:
        chosen.setChecked(True)
    elif (now := group.checkedButton()) is not None:
        group.setExclusive(False)
        now.setChecked(False)
        group.setExclusive(True)
