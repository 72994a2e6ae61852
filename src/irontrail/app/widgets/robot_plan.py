"""The robot from above, to scale, with its measures written on it."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QTransform
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_shift
from irontrail.app.widgets.painting import draw_focus, draw_handle
from irontrail.app.widgets.robot_drawing import Eye, draw_robot
from irontrail.core.robot.mount import Robot

MARGIN_PX = 34.0
PLAN_HEIGHT = 208


class RobotPlan(Keyed, Described, QWidget):
    """Shows a robot, its front to the right.

    Says `sensor_dragged(ahead, aside, settled)`, `second_dragged(ahead, aside, settled)` and `track_dragged(width,
    settled)`, in whole millimetres; `second_asked(there)` to mount a second sensor, or to take it off.
    """

    sensor_dragged = Signal(float, float, bool)
    second_dragged = Signal(float, float, bool)
    second_asked = Signal(bool)
    track_dragged = Signal(float, bool)
    WHERE = "On the plan of the robot"
    KEYS = (
        Key(
            ("PgUp", "PgDown"),
            "a sensor, or the wheels",
            lambda plan, name: plan.choose_next(1 if name == "PgDown" else -1),
        ),
        Key(ARROWS, "move it a millimetre", lambda plan, name: plan.shift(1.0, *way(name))),
        Key(with_shift(ARROWS), "ten millimetres", lambda plan, name: plan.shift(10.0, *way(name))),
        Key(("Ins",), "mount a second sensor", lambda plan, _: plan.ask_for_second(True)),
        Key(("Del",), "take the second sensor off", lambda plan, _: plan.ask_for_second(False)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.robot: Robot | None = None
        self.second: Eye | None = None
        self._spot_mm = 0.0
        self._held = ""
        # What keys move.
        self.chosen = "sensor"
        self._held_scale: tuple[QTransform, float] | None = None
        self.turns: tuple[float, float] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Drag the sensor or a wheel, or choose one with Page Up and move it with the arrows.")
        self.setFixedHeight(PLAN_HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Plan of the robot")

    def sizeHint(self) -> QSize:
        return QSize(300, PLAN_HEIGHT)

    def set_robot(self, robot: Robot, spot_mm: float, second: Eye | None = None) -> None:
        """Show another robot; `spot_mm` is the standard deviation of the patch its sensor sees."""
        self.robot, self._spot_mm, self.second = robot, spot_mm, second
        if second is None and self.chosen == "second":
            self.chosen = "sensor"
        drive, mount = robot.drive, robot.mount
        said = f"track width {drive.track_width_mm:g} mm, sensor {mount.ahead_mm:g} mm ahead of the axle"
        if second is not None:
            said += f", second sensor {second.mount.ahead_mm:g} mm ahead and {second.mount.aside_mm:g} mm to the left"
        self.setAccessibleDescription(said.replace("-", "−"))
        self.update()

    def set_turns(self, turns_mm: float | None, room_mm: float | None) -> None:
        """Draw the tightest turn of the axle against the room that the hardest bend leaves it; None for neither."""
        drawn = None
        if turns_mm is not None and room_mm is not None and turns_mm < 10_000.0:
            drawn = (turns_mm, room_mm)
        if drawn != self.turns:
            self.turns = drawn
            self.update()

    def handle_places(self) -> dict[str, QPointF]:
        """Where the sensors and the wheel are grabbed."""
        if self.robot is None:
            return {}
        to_px, _ = self.to_px(self.robot)
        drive, mount = self.robot.drive, self.robot.mount
        eyes = {"sensor": mount, **({"second": self.second.mount} if self.second is not None else {})}
        return {
            **{name: to_px.map(QPointF(eye.ahead_mm, eye.aside_mm)) for name, eye in eyes.items()},
            "track": to_px.map(QPointF(0.0, -drive.track_width_mm / 2)),
        }

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self._handle_at(event.position())
        self.chosen = self._held or self.chosen
        if self._held and self.robot is not None:
            # The scale stays as it is while something is held, so that it does not slip from the pointer.
            self._held_scale = self.to_px(self.robot)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._drag(event.position(), False)
        else:
            over = self._handle_at(event.position())
            both = Qt.CursorShape.SizeAllCursor
            shapes = {"sensor": both, "second": both, "track": Qt.CursorShape.SizeVerCursor}
            self.setCursor(shapes.get(over, Qt.CursorShape.ArrowCursor))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._drag(event.position(), True)
        self._held, self._held_scale = "", None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def ask_for_second(self, there: bool) -> bool:
        """Ask for a second sensor, or for it to go; whether that changes anything."""
        if there == (self.second is not None):
            return False
        self.second_asked.emit(there)
        return True

    def choose_next(self, step: int = 1) -> None:
        """Have the keys move the next handle, or the one before."""
        names = list(self.handle_places())
        if not names:
            return
        self.chosen = names[(names.index(self.chosen) + step) % len(names)]
        self.tell()
        self.update()

    def shift(self, mm: float, right: float, up: float) -> bool:
        """Move what is chosen: the sensor over the plan, or the wheels apart and together."""
        if self.robot is None:
            return False
        mount = self.robot.mount
        if self.chosen == "sensor":
            self.sensor_dragged.emit(mount.ahead_mm + mm * right, mount.aside_mm + mm * up, True)
        elif self.chosen == "second" and self.second is not None:
            mount = self.second.mount
            self.second_dragged.emit(mount.ahead_mm + mm * right, mount.aside_mm + mm * up, True)
        else:
            self.track_dragged.emit(self.robot.drive.track_width_mm + mm * (right + up), True)
        return True

    def value_told(self) -> str:
        moved = {"sensor": "sensor", "second": "second sensor"}.get(self.chosen, "wheels")
        return f"{self.accessibleDescription()}; keys move the {moved}"

    def _handle_at(self, at: QPointF) -> str:
        near = {name: (place - at).manhattanLength() for name, place in self.handle_places().items()}
        name = min(near, key=lambda each: near[each], default="")
        return name if name and near[name] < 16.0 else ""

    def _drag(self, at: QPointF, settled: bool) -> None:
        if self._held_scale is None:
            return
        place = self._held_scale[0].inverted()[0].map(at)
        if self._held in ("sensor", "second"):
            dragged = self.sensor_dragged if self._held == "sensor" else self.second_dragged
            dragged.emit(float(round(place.x())), float(round(place.y())), settled)
        else:
            self.track_dragged.emit(float(round(2.0 * abs(place.y()))), settled)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self.robot is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#F3F1EA"))
        painter.drawRect(self.rect())
        to_px, scale = self.to_px(self.robot)
        painter.save()
        painter.setTransform(to_px, True)
        draw_robot(painter, self.theme, self.robot, self._spot_mm, None, scale, self.second)
        painter.restore()
        if self.turns is not None:
            self._paint_turns(painter, to_px, *self.turns)
        self._paint_measures(painter, self.robot, to_px)
        for name, place in self.handle_places().items():
            grabbed = name == self._held or (self.hasFocus() and name == self.chosen)
            draw_handle(painter, self.theme, place, grabbed, 5.0)
        if self.second is not None:
            self._paint_numbers(painter)
        if self.hasFocus():
            draw_focus(painter, self.theme, self.rect())

    def _paint_numbers(self, painter: QPainter) -> None:
        """Which sensor is which."""
        painter.setFont(font(11, True))
        painter.setPen(QColor("#23272B"))
        places = self.handle_places()
        first_above = places["sensor"].y() <= places["second"].y()
        for name, number in (("sensor", "1"), ("second", "2")):
            up = (name == "sensor") == first_above
            box = QRectF(places[name].x() - 10, places[name].y() + (-26 if up else 10), 20, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, number)

    def _paint_turns(self, painter: QPainter, to_px: QTransform, turns_mm: float, room_mm: float) -> None:
        """The axle's tightest turn to the left in rust, and the widest that still holds the hardest bend, dashed."""
        for radius, colour, dashes in ((room_mm, "#4A4F55", (4.0, 3.0)), (turns_mm, "#A8421A", ())):
            circle = QPainterPath()
            circle.arcMoveTo(QRectF(-radius, 0.0, 2 * radius, 2 * radius), 90.0)
            circle.arcTo(QRectF(-radius, 0.0, 2 * radius, 2 * radius), 90.0, -80.0)
            painter.setPen(pen(colour, 1.6, dashes))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(to_px.map(circle))

    def to_px(self, robot: Robot) -> tuple[QTransform, float]:
        """Everything in view: the wheels, the body behind the axle, the sensor ahead."""
        if self._held_scale is not None:
            return self._held_scale
        drive, mount = robot.drive, robot.mount
        mounts = [mount, *([self.second.mount] if self.second is not None else [])]
        spot = 3 * self._spot_mm
        behind = max(drive.wheel_diameter_mm * 0.75, *(spot - eye.ahead_mm for eye in mounts))
        ahead = max(drive.wheel_diameter_mm * 0.7, *(eye.ahead_mm + spot for eye in mounts))
        half = max(drive.track_width_mm / 2 + 10.0, *(abs(eye.aside_mm) + spot for eye in mounts))
        across, up = self.width() - 2 * MARGIN_PX - 60.0, self.height() - 2 * MARGIN_PX
        scale = min(across / (behind + ahead), up / (2 * half), 2.2)
        left = (self.width() - scale * (behind + ahead)) / 2 + scale * behind + 30.0
        return QTransform(scale, 0.0, 0.0, -scale, left, self.height() / 2), scale

    def _paint_measures(self, painter: QPainter, robot: Robot, to_px: QTransform) -> None:
        drive, mount = robot.drive, robot.mount
        half = drive.track_width_mm / 2
        ink = "#4A4F55"
        painter.setPen(pen(ink, 1.0))
        painter.setFont(font(11))
        axle_top, axle_low = to_px.map(QPointF(0, half)), to_px.map(QPointF(0, -half))
        x = to_px.map(QPointF(-drive.wheel_diameter_mm * 0.75, 0)).x() - 16
        self._measure(painter, QPointF(x, axle_top.y()), QPointF(x, axle_low.y()))
        box = QRectF(x - 66, (axle_top.y() + axle_low.y()) / 2 - 9, 60, 18)
        painter.drawText(
            box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{drive.track_width_mm:g} mm"
        )
        axle, sensor = to_px.map(QPointF(0, 0)), to_px.map(QPointF(mount.ahead_mm, mount.aside_mm))
        y = self.height() - 18.0
        self._measure(painter, QPointF(axle.x(), y), QPointF(sensor.x(), y))
        painter.setPen(pen(ink, 0.8, (3.0, 3.0)))
        painter.drawLine(axle, QPointF(axle.x(), y))
        painter.drawLine(sensor, QPointF(sensor.x(), y))
        painter.setPen(QColor(ink))
        middle = QRectF((axle.x() + sensor.x()) / 2 - 60, y - 17, 120, 15)
        painter.drawText(middle, Qt.AlignmentFlag.AlignCenter, f"{mount.ahead_mm:g} mm")

    def _measure(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        painter.drawLine(start, end)
        upright = abs(start.x() - end.x()) < 0.5
        tick = QPointF(4, 0) if upright else QPointF(0, 4)
        for at in (start, end):
            painter.drawLine(at - tick, at + tick)
