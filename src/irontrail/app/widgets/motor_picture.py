"""The two motors from above: what each output is set to, and which way its wheel then turns."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described

HEIGHT = 132
INK, RUST = "#23272B", "#A8421A"


@dataclass(frozen=True)
class Motor:
    """One motor: its output, whether it is mirrored, the wheel's power (forward positive), the output's setting."""

    output: int
    mirrored: bool
    power: float
    command: float

    def says(self) -> str:
        """What is set, with its sign."""
        return f"output {self.output}: {self.command:+.0f}".replace("-", "−")


class MotorPicture(Described, QWidget):
    """A robot heading up, a wheel at each side."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.motors: tuple[Motor, ...] = ()
        self._move = ""
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The motors, what each is set to")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_motors(self, move: str, left: Motor, right: Motor) -> None:
        """Show another move, or other motors."""
        self._move, self.motors = move, (left, right)
        self.setAccessibleDescription(f"to go {move}: {left.says()}, {right.says()}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if not self.motors:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor("#F3F1EA"))
        middle = QPointF(self.width() / 2, HEIGHT / 2 + 2)
        painter.setPen(pen(INK, 1.4))
        painter.setBrush(QColor("#FFFDF8"))
        painter.drawRoundedRect(QRectF(middle.x() - 34, middle.y() - 40, 68, 80), 9, 9)
        painter.drawPolyline([middle + QPointF(-8, -24), middle + QPointF(0, -32), middle + QPointF(8, -24)])
        painter.setFont(font(11))
        painter.setPen(QColor("#4A4F55"))
        painter.drawText(QRectF(middle.x() - 34, middle.y() - 6, 68, 16), Qt.AlignmentFlag.AlignCenter, self._move)
        for side, motor in zip((-1.0, 1.0), self.motors, strict=True):
            self._paint_motor(painter, middle, side, motor)

    def _paint_motor(self, painter: QPainter, middle: QPointF, side: float, motor: Motor) -> None:
        wheel = QPointF(middle.x() + side * 47.0, middle.y())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(INK))
        painter.drawRoundedRect(QRectF(wheel.x() - 9, wheel.y() - 28, 18, 56), 4, 4)
        # Forward is up: the arrow goes the way the wheel rolls.
        up = -1.0 if motor.power > 0.0 else 1.0
        x, tip = wheel.x() + side * 22.0, wheel.y() + up * 30.0
        painter.setPen(QPen(QColor(RUST), 3.0))
        painter.drawLine(QPointF(x, wheel.y() - up * 22.0), QPointF(x, tip))
        painter.drawPolyline([QPointF(x - 6, tip - up * 8), QPointF(x, tip), QPointF(x + 6, tip - up * 8)])
        left, right = (4.0, x - 12.0) if side < 0 else (x + 12.0, self.width() - 4.0)
        flag = Qt.AlignmentFlag.AlignRight if side < 0 else Qt.AlignmentFlag.AlignLeft
        lines = (
            (f"output {motor.output}", False),
            (f"{motor.command:+.0f} %".replace("-", "−"), True),
            ("mirrored" if motor.mirrored else "as it is", False),
            ("forward" if motor.power > 0.0 else "backward", False),
        )
        for i, (words, loud) in enumerate(lines):
            painter.setFont(font(15 if loud else 11, loud))
            painter.setPen(QColor(INK if loud else "#4A4F55"))
            painter.drawText(QRectF(left, wheel.y() - 36 + 18 * i, right - left, 18), flag, words)
