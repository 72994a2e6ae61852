"""The table with a scene on it and the robot, as it is looked at: zoomed, panned, fitted, followed, held by hands."""

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import LIGHT, Theme
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way
from irontrail.app.widgets.mat_camera import MatCamera
from irontrail.app.widgets.mat_hand import MatHand, RobotHand, RobotNow, Touch
from irontrail.app.widgets.mat_scene import Scene, draw_robot_now
from irontrail.app.widgets.painting import draw_card, draw_focus, draw_ring
from irontrail.app.widgets.scene_picture import ScenePicture
from irontrail.core.counted import counted
from irontrail.core.mat.tape import Mat

FOLLOW_PX_PER_MM = 1.6
# A press nearer to the trail than this asks for that moment of the run.
SEEK_PX = 14.0
# A press that moves farther than this drags.
DRAG_PX = 4.0


class MatView(Keyed, Described, QWidget):
    """Shows a scene and the robot; lends the pointer to a hand, or else to that which pulls the robot.

    Says `sought(row)` when a place of the trail is pressed, `glanced(row)` while the pointer is over the trail and -1
    when it leaves it; `hand_changed()` when a hand draws something else: it is not drawn anew by itself, as another
    scene may be on its way.
    """

    sought = Signal(int)
    glanced = Signal(int)
    follow_changed = Signal(bool)
    hand_changed = Signal()
    WHERE = "On the mat"
    KEYS = (
        Key(ARROWS, "look elsewhere", lambda view, name: view.pan(*way(name))),
        Key(("+", "=", "-"), "zoom", lambda view, name: view.zoom(0.8 if name == "-" else 1.25)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.following = False
        self.robot_hand = RobotHand(self)
        self.robot_hand.pressed.connect(self._seek)
        self._hand: MatHand | None = None
        self.words = ""
        self.camera = MatCamera()
        self._pressed: QPointF | None = None
        self._dragged = False
        self.pins: tuple[tuple[str, float, float], ...] = ()
        self._held: MatHand | None = None
        self._picture = ScenePicture(self, theme, self.to_px)
        self.setMinimumSize(300, 180)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("The mat: drag the robot off its way, press its trail to go to that moment; F1 shows the keys.")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMouseTracking(True)
        self._glancing = False
        self.setAccessibleName("Mat with the robot and its trail")

    def sizeHint(self) -> QSize:
        return QSize(856, 440)

    # --- what is shown

    @property
    def scene(self) -> Scene | None:
        """What is on the table; None until something is."""
        return self._picture.scene

    def set_scene(self, scene: Scene) -> None:
        """Show another mat or other trails."""
        old = self.scene
        self._picture.show(scene)
        if self.camera.fitted or old is None or _size(old.mat) != _size(scene.mat):
            self.fit()
        self.update()

    def draw_ahead(self, scene: Scene) -> None:
        """Draw what the run of another scene will lie on; it is shown with that, or whenever this is painted next.

        A mat of another size is looked at otherwise, which is known when its scene is set.
        """
        if self.scene is not None and _size(self.scene.mat) == _size(scene.mat):
            self._picture.show(scene)
            self._show_work()
            self._picture.draw_ahead()

    def begin_run(self) -> None:
        """Take back the run's trail: another one is on its way. If this is painted before, it is laid once more."""
        self._picture.draw_ahead()

    def set_pins(self, pins: tuple[tuple[str, float, float], ...]) -> None:
        """Mark places of the mat (mm) by numbers."""
        if pins != self.pins:
            self.pins = pins
            self.update()

    def set_robot(self, robot: RobotNow | None) -> None:
        """Show the robot somewhere else."""
        self.robot_hand.now = robot
        if self.following and robot is not None:
            self._look_at(QPointF(robot.x_mm, robot.y_mm), self.px_per_mm)
        self.update()

    def set_hand(self, hand: MatHand | None) -> None:
        """Let the pointer take hold of other things; None for nothing but the robot."""
        if hand is self._hand:
            return
        if self._hand is not None:
            self._hand.changed.disconnect(self.hand_changed)
        self._hand, self._held = hand, None
        if hand is not None:
            hand.changed.connect(self.hand_changed)
        self.update()

    def set_words(self, words: str) -> None:
        """A line over the mat while there is nothing else to show; empty for none."""
        self.words = words
        self.update()

    def changeEvent(self, event: QEvent) -> None:
        """What was drawn in another theme is drawn anew."""
        if event.type() == QEvent.Type.StyleChange:
            self._picture.forget()
        super().changeEvent(event)

    # --- the way it is looked at

    @property
    def px_per_mm(self) -> float:
        return self.camera.px_per_mm

    def to_px(self) -> QTransform:
        """From millimetres on the mat (y up) to pixels of this widget (y down)."""
        return self.camera.to_px(self.size())

    def to_mm(self, at: QPointF) -> QPointF:
        """The place on the mat under a pixel."""
        return self.camera.to_mm(at, self.size())

    def fit(self) -> None:
        """Show the whole mat."""
        self.set_following(False)
        self.camera.fitted = True
        if self.scene is not None and self.camera.fit(self.scene.mat.width_mm, self.scene.mat.height_mm, self.size()):
            self._picture.forget()
        self.update()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a pixel, which stays where it is; about the middle if none is given."""
        about = at if at is not None and not self.following else QPointF(self.rect().center())
        self._look_at(*self.camera.zoomed(factor, about, self.size()))

    def set_following(self, following: bool) -> None:
        """Keep the robot in the middle, closer up."""
        if following == self.following:
            return
        self.following = following
        if following and (robot := self.robot_hand.now) is not None:
            scale = max(self.px_per_mm, FOLLOW_PX_PER_MM)
            self._look_at(QPointF(robot.x_mm, robot.y_mm), scale)
        self.follow_changed.emit(following)

    def _look_at(self, centre: QPointF, px_per_mm: float) -> None:
        if self.camera.look_at(centre, px_per_mm):
            self._picture.forget()
        self.update()

    # --- events

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._picture.forget()
        if self.camera.fitted:
            self.fit()
        super().resizeEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def _touch(self, event: QMouseEvent) -> Touch:
        held = event.modifiers()
        return Touch(
            self.to_mm(event.position()),
            self.px_per_mm,
            bool(held & Qt.KeyboardModifier.ShiftModifier),
            bool(held & Qt.KeyboardModifier.ControlModifier),
        )

    def _hands(self) -> tuple[MatHand, ...]:
        """Whoever may take hold, first come first served; none while there is no run."""
        if self.words:
            return ()
        if self._hand is None:
            return (self.robot_hand,)
        return (self._hand,) if self._hand.covers else (self._hand, self.robot_hand)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._dragged = event.position(), False
        if event.button() == Qt.MouseButton.LeftButton:
            touch = self._touch(event)
            self._held = next((hand for hand in self._hands() if hand.grips(touch)), None)
            if self._held is None:
                self._seek(touch.mm)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            touch = self._touch(event)
            shape = self._hand.cursor(touch) if self._hand is not None else None
            self.setCursor(shape if shape is not None else Qt.CursorShape.ArrowCursor)
            self._glance(self._trail_row(touch.mm))
            return
        moved = event.position() - self._pressed
        self._dragged = self._dragged or moved.manhattanLength() > DRAG_PX
        if not self._dragged:
            return
        if self._held is not None:
            self._held.drag(self._touch(event))
            return
        self.set_following(False)
        self._pressed = event.position()
        self._look_at(self.camera.moved(moved), self.px_per_mm)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._held.let_go(self._touch(event), self._dragged)
        self._pressed, self._held = None, None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: ARG002
        self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if any(hand.take_key(event) for hand in self._hands()) or self.take_key(event):
            return
        super().keyPressEvent(event)

    def pan(self, right: float, up: float) -> None:
        """Look at what lies a little further on."""
        self.set_following(False)
        self._look_at(self.camera.centre + QPointF(right, up) * (60.0 / self.px_per_mm), self.px_per_mm)

    def value_told(self) -> str:
        """What lies on the table, and where the robot is on it."""
        if self.scene is None:
            return self.words
        mat, said = self.scene.mat, []
        lines = counted(len(mat.lines), "line")
        said.append(f"{mat.name}, {mat.width_mm:.0f} by {mat.height_mm:.0f} mm, {lines}")
        if self.robot_hand.now is not None and not self.words:
            now = self.robot_hand.now
            side = "light" if now.light_side else "dark"
            said.append(f"robot at {now.x_mm:.0f}, {now.y_mm:.0f} mm, its sensor on the {side} side")
        if self.scene.trouble:
            said.append(self.scene.trouble)
        return "; ".join(said)

    def _trail_row(self, place: QPointF) -> int | None:
        """The row of the trail at a place of the mat, if it is near enough."""
        covered = self._hand is not None and self._hand.covers
        if self.scene is None or self.scene.trail is None or covered:
            return None
        return self.scene.trail.row_near(place, SEEK_PX / self.px_per_mm)

    def _seek(self, place: QPointF) -> None:
        row = self._trail_row(place)
        if row is not None:
            self.sought.emit(row)

    def _glance(self, row: int | None) -> None:
        """Say which moment the pointer is over, and once when it is over none."""
        if row is not None or self._glancing:
            self.glanced.emit(-1 if row is None else row)
        self._glancing = row is not None

    def leaveEvent(self, event: QEvent) -> None:
        self._glance(None)
        super().leaveEvent(event)

    # --- painting

    def _show_work(self) -> None:
        """What the hand has drawn under the trail, as it is now."""
        self._picture.show_work(self._hand.work() if self._hand is not None and not self.words else None)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        self._show_work()
        self._picture.paint(painter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.robot_hand.now is not None and not self.words:
            draw_robot_now(painter, self.robot_hand.now, self.theme, self.to_px(), self.px_per_mm)
        if self._hand is not None and not self.words:
            self._hand.draw(painter, self.theme, self.to_px())
        for number, x, y in self.pins:
            draw_ring(painter, LIGHT, self.to_px().map(QPointF(x, y)) + QPointF(0.0, 17.0), number)
        if self.words:
            # On a card: tape and letters lie under it.
            draw_card(painter, LIGHT, QRectF(self.rect()).center(), self.words, centred=True)
        if self.hasFocus():
            draw_focus(painter, self.theme, self.rect())


def _size(mat: Mat) -> tuple[str, float, float]:
    """What of a mat, when it changes, has it looked at as a whole again."""
    return mat.name, mat.width_mm, mat.height_mm
