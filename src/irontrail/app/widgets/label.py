"""A label that shows a text as it is: a name that looks like markup is a name."""

import html

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """Shows plain text."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text=text, textFormat=Qt.TextFormat.PlainText, parent=parent)


def plain_tip(text: str) -> str:
    """A text as a tooltip that shows it as it is."""
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>") if "<" in text else text
