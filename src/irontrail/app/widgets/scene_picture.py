"""The picture of a scene: its ground and its trails each drawn once for many paintings, and anew where they change."""

from collections.abc import Callable

from PySide6.QtGui import QColor, QPainter, QTransform
from PySide6.QtWidgets import QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.mat_scene import Scene, draw_ground, draw_run, run_strokes
from irontrail.app.widgets.strokes import Stroke


class ScenePicture:
    """Paints a scene in a widget, seen as `to_px` says; bare desk while there is none."""

    def __init__(self, widget: QWidget, theme: Theme, to_px: Callable[[], QTransform]) -> None:
        self._widget, self._theme, self._to_px = widget, theme, to_px
        self.scene: Scene | None = None
        self._ground = Layer(self._draw_ground)
        self._trail = Layer(under=self._ground, strokes=self._strokes)

    def show(self, scene: Scene) -> None:
        """Another mat or other trails; what has not changed is not drawn again."""
        old, self.scene = self.scene, scene
        same_ground = (
            old is not None
            and old.mat is scene.mat
            and old.marks == scene.marks
            and old.tries == scene.tries
            and old.underlay is scene.underlay
            and len(old.kept) == len(scene.kept)
            and all(a.x_mm is b.x_mm for a, b in zip(old.kept, scene.kept, strict=True))
        )
        if not same_ground:
            self._ground.forget()
        self._trail.forget()

    def forget(self) -> None:
        """Draw all of it anew: it is seen otherwise, or in another theme."""
        self._ground.forget()
        self._trail.forget()

    def draw_ground(self) -> None:
        """Draw what the run lies on, if it has changed."""
        self._ground.image(self._widget)

    def paint(self, painter: QPainter) -> None:
        """Paint it, drawn anew as far as that is needed."""
        if self.scene is None:
            painter.fillRect(self._widget.rect(), QColor(self._theme.desk))
        else:
            self._trail.paint(painter, self._widget)
            painter.save()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw_run(painter, self.scene, self._to_px(), self._widget.width())
            painter.restore()

    def _strokes(self) -> list[Stroke]:
        return run_strokes(self.scene, self._to_px()) if self.scene is not None else []

    def _draw_ground(self, painter: QPainter) -> None:
        painter.fillRect(self._widget.rect(), QColor(self._theme.desk))
        if self.scene is not None:
            draw_ground(painter, self.scene, self._theme, self._to_px())
