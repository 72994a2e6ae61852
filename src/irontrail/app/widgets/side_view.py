"""The sensor from the side, to scale: how high it hangs, the patch it sees, what its skirt keeps out of the room."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed, way, with_shift
from irontrail.app.widgets.painting import draw_focus, draw_handle

HEIGHT = 116
PX_PER_MM = 3.0
# From the sensor's lower face; the skirt hangs at both sides of it.
BODY_MM, HALF_MM = 11.0, 9.0
MAT_Y = HEIGHT - 22.0
GRAB_PX = 14.0


class SideView(Keyed, Described, QWidget):
    """Says `height_dragged(mm, settled)` and `shield_dragged(share, settled)`."""

    height_dragged = Signal(float, bool)
    shield_dragged = Signal(float, bool)
    WHERE = "On the side view"
    KEYS = (
        Key(("PgUp", "PgDown"), "the sensor, or its shield", lambda view, _: view.choose_next()),
        Key(("Up", "Down"), "raise or lower it", lambda view, name: view.shift(1.0, way(name)[1])),
        Key(with_shift(("Up", "Down")), "more at a time", lambda view, name: view.shift(4.0, way(name)[1])),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._height_mm, self._shield, self._sigma_mm = 8.0, 0.5, 4.5
        self._held = ""
        # What keys move.
        self.chosen = "height"
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Drag the sensor or its shield, or choose one with Page Up and move it with the arrows.")
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Side view of the sensor")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_sensor(self, height_mm: float, shield: float, sigma_mm: float) -> None:
        """Show another height, shield and patch (its standard deviation)."""
        self._height_mm, self._shield, self._sigma_mm = height_mm, shield, sigma_mm
        self.setAccessibleDescription(f"{height_mm:g} mm over the mat, shield {100 * shield:.0f} %")
        self.update()

    # --- geometry

    @property
    def _scale(self) -> float:
        """Pixels a millimetre: less for a sensor that hangs so high that it would not fit."""
        return min(PX_PER_MM, (MAT_Y - 6.0) / (self._height_mm + BODY_MM))

    def _face_y(self) -> float:
        return MAT_Y - self._height_mm * self._scale

    def height_handle(self) -> QPointF:
        """Where the sensor is grabbed to be raised."""
        return QPointF(self.width() / 2, self._face_y())

    def shield_handle(self) -> QPointF:
        """Where the skirt is grabbed to be lengthened."""
        return QPointF(self.width() / 2 + HALF_MM * self._scale, self._skirt_y())

    def _skirt_y(self) -> float:
        return self._face_y() + self._shield * (MAT_Y - self._face_y())

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for name, at in (("shield", self.shield_handle()), ("height", self.height_handle())):
            away = event.position() - at
            if abs(away.x()) + abs(away.y()) < GRAB_PX:
                self._held = self.chosen = name
                self.update()
                return

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._drag(event, False)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag(event, True)
        self._held = ""
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def choose_next(self) -> None:
        """Have the keys move the other handle."""
        self.chosen = "shield" if self.chosen == "height" else "height"
        self.tell()
        self.update()

    def shift(self, steps: float, up: float) -> None:
        """Raise what is chosen by so many steps: half millimetres, or twentieths of the way to the mat."""
        if self.chosen == "height":
            self.height_dragged.emit(self._height_mm + 0.5 * steps * up, True)
        else:
            self.shield_dragged.emit(self._shield - 0.05 * steps * up, True)

    def value_told(self) -> str:
        return f"{self.accessibleDescription()}; keys move the {'sensor' if self.chosen == 'height' else 'shield'}"

    def _drag(self, event: QMouseEvent, settled: bool) -> None:
        y = event.position().y()
        if self._held == "height":
            self.height_dragged.emit(round(2.0 * (MAT_Y - y) / self._scale) / 2.0, settled)
        elif self._held == "shield":
            gap = max(MAT_Y - self._face_y(), 1.0)
            self.shield_dragged.emit(round(20.0 * (y - self._face_y()) / gap) / 20.0, settled)

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme, scale = QPainter(self), self.theme, self._scale
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, face = self.width() / 2, self._face_y()
        painter.fillRect(self.rect(), QColor("#F3F1EA"))
        painter.fillRect(QRectF(0.0, MAT_Y, self.width(), 3.0), QColor("#23272B"))
        spot = 2.0 * self._sigma_mm * scale
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(fade("#B07D16", 0.25))
        lens = 2.0 * scale
        cone = [(middle - lens, face), (middle + lens, face), (middle + spot, MAT_Y), (middle - spot, MAT_Y)]
        painter.drawPolygon(QPolygonF([QPointF(*point) for point in cone]))
        painter.setBrush(QColor("#23272B"))
        half = HALF_MM * scale
        painter.drawRoundedRect(QRectF(middle - half, face - BODY_MM * scale, 2 * half, BODY_MM * scale), 3, 3)
        painter.setBrush(QColor("#5C6268"))
        for side in (-1.0, 1.0):
            x = middle + side * half - (3.0 if side > 0 else 0.0)
            painter.drawRect(QRectF(x, face, 3.0, self._skirt_y() - face))
        painter.setFont(font(11))
        painter.setPen(pen("#4A4F55", 1.0))
        x = middle - half - 26.0
        painter.drawLine(QPointF(x, face), QPointF(x, MAT_Y))
        for y in (face, MAT_Y):
            painter.drawLine(QPointF(x - 4, y), QPointF(x + 4, y))
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.drawText(QRectF(x - 90, (face + MAT_Y) / 2 - 9, 82, 18), right, f"{self._height_mm:g} mm")
        shield = QRectF(middle + half + 22, (face + MAT_Y) / 2 - 9, 110, 18)
        painter.drawText(shield, int(Qt.AlignmentFlag.AlignVCenter), f"shield {100 * self._shield:.0f} %")
        below = QRectF(0, MAT_Y + 4, self.width(), 16)
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"sees a patch of {4.0 * self._sigma_mm:.0f} mm")
        taken = self._held or (self.chosen if self.hasFocus() else "")
        draw_handle(painter, theme, self.shield_handle(), taken == "shield", 5.0)
        draw_handle(painter, theme, self.height_handle(), taken == "height")
        if self.hasFocus():
            draw_focus(painter, theme, self.rect())
