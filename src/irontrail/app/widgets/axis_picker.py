"""One number to vary: which it is, and from where to where."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from irontrail.core.setup import Setup
from irontrail.core.tune.axes import Axis, axis

# Longer than this, and it does not fit beside its range.
MOST_LETTERS = 22


class AxisPicker(QWidget):
    """A list of numbers with two fields for the range; says `changed()`."""

    changed = Signal()

    def __init__(self, name: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        self.paths = QComboBox()
        self.paths.setAccessibleName(f"{name}: which number")
        self.paths.setToolTip("Which number is changed")
        self.paths.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.paths.activated.connect(self._on_path)
        self.low, self.high = QLineEdit(), QLineEdit()
        row.addWidget(self.paths, 1)
        for field, which in ((self.low, "from"), (self.high, "to")):
            field.setFixedWidth(58)
            field.setAccessibleName(f"{name}: {which}")
            field.setToolTip(f"It is changed {which} this")
            field.editingFinished.connect(self._on_range)
            row.addWidget(field)
        self._setup: Setup | None = None
        self.axis: Axis | None = None

    def set_setup(self, setup: Setup, paths: tuple[str, ...], path: str) -> None:
        """Offer the numbers of a setup; the one chosen stays, with its range, if it is still there."""
        self._setup = setup
        now = self.axis.path if self.axis is not None and self.axis.path in paths else path
        if [self.paths.itemData(i) for i in range(self.paths.count())] != list(paths):
            self.paths.clear()
            for each in paths:
                quantity = axis(setup, each).quantity
                whole = f"{quantity.label}, {quantity.unit}" if quantity.unit else quantity.label
                # The unit is left out where there is no room for it.
                self.paths.addItem(whole if len(whole) <= MOST_LETTERS else quantity.label, each)
        self.paths.setCurrentIndex(paths.index(now))
        if self.axis is None or self.axis.path != now:
            self.axis = axis(setup, now)
        self._show()

    def choose(self, path: str) -> None:
        """Take another number, over its usual range."""
        if self._setup is not None:
            self.paths.setCurrentIndex(self.paths.findData(path))
            self.axis = axis(self._setup, path)
            self._show()
            self.changed.emit()

    def _show(self) -> None:
        if self.axis is not None:
            for field, value in ((self.low, self.axis.low), (self.high, self.axis.high)):
                if not field.hasFocus():
                    field.setText(self.axis.shown(value))

    def _on_path(self, _index: int) -> None:
        self.choose(str(self.paths.currentData()))

    def _on_range(self) -> None:
        if self.axis is None or self._setup is None:
            return
        ends = []
        for field, now in ((self.low, self.axis.low), (self.high, self.axis.high)):
            try:
                text = field.text().strip().replace(",", ".").replace("−", "-")
                ends.append(float(text) / self.axis.quantity.shown_per_stored)
            except ValueError:
                ends.append(now)
        made = axis(self._setup, self.axis.path, *ends)
        if made.high > made.low:
            self.axis = made
        for field, value in ((self.low, self.axis.low), (self.high, self.axis.high)):
            field.setText(self.axis.shown(value))
        self.changed.emit()
