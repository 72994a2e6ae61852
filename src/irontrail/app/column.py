"""A column of things one under the other, as every panel is built of: headings, words, rows, choices, buttons."""

from collections.abc import Callable

from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.label import Label


class Column(QWidget):
    """Things one under the other, under a title if there is one; knows nothing of the project."""

    def __init__(self, title: str = "") -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setSpacing(5)
        self.column.setContentsMargins(0, 0, 0, 0)
        if title:
            self.column.setContentsMargins(16, 10, 16, 6)
            self.add_words(title, "title")

    def _label(self, text: str, role: str) -> QLabel:
        label = Label(text)
        label.setProperty("role", role)
        label.setWordWrap(role in ("words", "quiet", "lead"))
        return label

    def add_heading(self, text: str) -> QLabel:
        """A heading over what follows."""
        label = self._label(text, "heading")
        self.column.addSpacing(4)
        self.column.addWidget(label)
        return label

    def add_words(self, text: str = "", role: str = "words") -> QLabel:
        """A few plain words."""
        label = self._label(text, role)
        self.column.addWidget(label)
        return label

    def add_rule(self) -> None:
        """A hair line."""
        rule = QFrame()
        rule.setProperty("role", "rule")
        rule.setFixedHeight(1)
        self.column.addWidget(rule)

    def add_choice(
        self,
        label: str,
        options: tuple[str, ...],
        choose: Callable[[str], None],
        beside: QHBoxLayout | None = None,
        says: str = "",
        across: int = 0,
    ) -> dict[str, QPushButton]:
        """Buttons of which one is down, in a row of their own or beside others; `choose` is told which is pressed.

        `says` is what the choice is about, in a sentence; {} stands for the option. With `across` there are so many in
        a row, and more rows.
        """
        name = self._label(label, "words")
        row = beside or self.add_row()
        if beside is None:
            name.setFixedWidth(64)
        else:
            name.setWordWrap(False)
        row.addWidget(name)
        grid = QGridLayout() if across else None
        if grid is not None:
            grid.setSpacing(6)
            row.addLayout(grid, 1)
        buttons = {}
        for i, option in enumerate(options):
            button = QPushButton(option)
            button.setCheckable(True)
            button.setAccessibleName(f"{label}: {option}")
            button.setToolTip(says.format(option))
            button.setProperty("choice", "true")
            button.setMinimumWidth(30)
            button.clicked.connect(lambda _checked=False, option=option: choose(option))
            if grid is not None:
                grid.addWidget(button, i // across, i % across)
            else:
                row.addWidget(button, 1)
            buttons[option] = button
        one_of(self, buttons.values())
        return buttons

    def add_small(self, text: str, tip: str, beside: QPushButton | None = None) -> QPushButton:
        """A small button in a row of its own, or with another one beside it."""
        row = self.add_row()
        button = QPushButton(text)
        button.setToolTip(tip)
        for each in (button, beside):
            if each is not None:
                each.setProperty("small", "true")
                row.addWidget(each)
        return button

    def add_row(self) -> QHBoxLayout:
        """A row for things side by side."""
        row = QHBoxLayout()
        row.setSpacing(6)
        self.column.addLayout(row)
        return row

    def add_row_apart(self, beside: QHBoxLayout | None = None) -> tuple[QWidget, QHBoxLayout]:
        """A row that can go out of sight as a whole, by itself or as part of another."""
        widget = QWidget()
        row = QHBoxLayout(widget)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        if beside is None:
            self.column.addWidget(widget)
        else:
            beside.addWidget(widget, 1)
        return widget, row


def clear(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
