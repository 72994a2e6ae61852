"""Keys of what has the focus: each is made in one place, where it is also told what it does.

The sheet of all keys (F1) is read from here.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar

from PySide6.QtCore import QKeyCombination, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence

_WAYS = {"Left": (-1.0, 0.0), "Right": (1.0, 0.0), "Up": (0.0, 1.0), "Down": (0.0, -1.0)}
_SIGNS = "+-=*/.,;:"


@dataclass(frozen=True)
class Key:
    """Keys that do one thing: their names as Qt writes them, what they do in a few words, and how it is done.

    `act` is given whoever has the focus, and the name of the key that was pressed.
    """

    names: tuple[str, ...]
    says: str
    act: Callable[[Any, str], object]


ARROWS = ("Left", "Right", "Up", "Down")


def with_shift(names: tuple[str, ...]) -> tuple[str, ...]:
    """The same keys with Shift."""
    return tuple(f"Shift+{name}" for name in names)


def with_ctrl(names: tuple[str, ...]) -> tuple[str, ...]:
    """The same keys with Ctrl."""
    return tuple(f"Ctrl+{name}" for name in names)


def way(name: str) -> tuple[float, float]:
    """The way an arrow points, y up."""
    return _WAYS[name.rpartition("+")[2]]


def name_of(event: QKeyEvent) -> str:
    """A pressed key's name, as Qt writes it; signs without the Shift that some keyboards need for them."""
    held = event.modifiers() & ~(Qt.KeyboardModifier.KeypadModifier | Qt.KeyboardModifier.GroupSwitchModifier)
    key = Qt.Key(event.key())
    if event.text() and event.text() in _SIGNS:
        held &= ~Qt.KeyboardModifier.ShiftModifier
    if key == Qt.Key.Key_Enter:
        key = Qt.Key.Key_Return
    return QKeySequence(QKeyCombination(held, key)).toString(QKeySequence.SequenceFormat.PortableText)


class Keyed:
    """Whoever takes keys while it has the focus."""

    # Where the keys work, such as "On a dial".
    WHERE: ClassVar[str] = ""
    KEYS: ClassVar[tuple[Key, ...]] = ()
    # All that take keys, in the order they were made.
    EVERY: ClassVar[list[type["Keyed"]]] = []

    def __init_subclass__(cls, **keywords: Any) -> None:
        super().__init_subclass__(**keywords)
        if "KEYS" in vars(cls):
            Keyed.EVERY.append(cls)

    def take_key(self, event: QKeyEvent) -> bool:
        """Do what a key does here; whether it does anything."""
        name = name_of(event)
        for key in self.KEYS:
            if name in key.names:
                return key.act(self, name) is not False
        return False
