"""Which keys belong to what has the focus, and are no shortcuts while it has it."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QComboBox, QLineEdit, QPlainTextEdit, QWidget

from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.keys import Keyed, name_of

_PRESSING = (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter)
_MOVING = (
    Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End,
    Qt.Key.Key_PageUp, Qt.Key.Key_PageDown,
)  # fmt: skip
# What is typed into, and what finds an entry by the letters typed.
_TYPED = (QLineEdit, QPlainTextEdit, QComboBox, QAbstractItemView)
_NOT_PLAIN = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.MetaModifier


def takes_key(focused: QWidget, event: QKeyEvent) -> bool:
    """Whether a key is for the widget that has the focus: letters to type, moving about in it, pressing a button."""
    if event.modifiers() & _NOT_PLAIN:
        return False
    if isinstance(focused, QAbstractButton):
        return event.key() in _PRESSING
    if isinstance(focused, Keyed) and any(name_of(event) in key.names for key in focused.KEYS):
        return True
    if isinstance(focused, Dial):
        return event.text().isprintable() and event.text().strip() != ""
    if isinstance(focused, _TYPED):
        return event.key() in (*_PRESSING, *_MOVING) or (event.text().isprintable() and event.text() != "")
    return False
