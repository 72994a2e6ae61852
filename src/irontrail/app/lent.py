"""What the panel in sight lends to the mat: a hand to take hold of things with, a picture to lay tape over."""

from PySide6.QtCore import QObject, Signal

from irontrail.app.widgets.mat_ground import Underlay
from irontrail.app.widgets.mat_hand import MatHand


class Lent(QObject):
    """One hand and one picture at a time."""

    hand_changed = Signal(object)
    underlay_changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._hand: MatHand | None = None
        # A picture of the mat to lay tape over, and the mat's name it is shown with.
        self.underlay: Underlay | None = None

    def lend(self, hand: MatHand | None) -> None:
        """Let the pointer take hold of other things on the mat; None for nothing but the robot."""
        self._hand = hand
        self.hand_changed.emit(hand)

    def withdraw(self, hand: MatHand) -> None:
        """A hand is lent no more, unless another one has already taken its place."""
        if self._hand is hand:
            self.lend(None)

    def lay_under(self, underlay: Underlay | None) -> None:
        """Show a picture under the tape of a mat; None takes it away."""
        self.underlay = underlay
        self.underlay_changed.emit()
