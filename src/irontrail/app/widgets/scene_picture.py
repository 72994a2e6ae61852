"""The picture of a scene: its ground and its trails each drawn once for many paintings, and anew where they change."""

from collections.abc import Callable

from PySide6.QtGui import QColor, QPainter, QTransform
from PySide6.QtWidgets import QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.laid_tape import Tape
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.mat_hand import Work
from irontrail.app.widgets.mat_scene import Scene, draw_over_tape, draw_run, draw_sheet, run_strokes, tapes_of
from irontrail.app.widgets.strokes import Stroke


class ScenePicture:
    """Paints a scene in a widget, seen as `to_px` says; bare desk while there is none."""

    def __init__(self, widget: QWidget, theme: Theme, to_px: Callable[[], QTransform]) -> None:
        self._widget, self._theme, self._to_px = widget, theme, to_px
        self.scene: Scene | None = None
        self._work: Work | None = None
        # The engine is loaded, by which long lines are laid: there has been a run.
        self._engine_there = False
        self._sheet = Layer(self._draw_sheet)
        self._ground = Layer(self._draw_over_tape, under=self._sheet, lines=self._tape)
        self._trail = Layer(under=self._ground, lines=self._strokes)

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
        first_run = scene.trail is not None and not self._engine_there
        self._engine_there |= first_run
        if first_run or old is None or not _same_sheet(old, scene):
            self._sheet.forget()
        if first_run or not same_ground:
            self._ground.forget()
        self._trail.forget()

    def show_work(self, work: Work | None) -> None:
        """What is worked on lies under the trail."""
        if work != self._work:
            self._work = work
            self._ground.forget()
            self._trail.forget()

    def forget(self) -> None:
        """Draw all of it anew: it is seen otherwise, or in another theme."""
        self._sheet.forget()
        self._ground.forget()
        self._trail.forget()

    def draw_ahead(self) -> None:
        """Draw what the run lies on, if it has changed: the run itself is on its way."""
        self._trail.forget()
        self._trail.begin(self._widget)

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

    def _tape(self) -> list[Tape]:
        return tapes_of(self.scene, self._to_px()) if self.scene is not None and self._engine_there else []

    def _draw_sheet(self, painter: QPainter) -> None:
        painter.fillRect(self._widget.rect(), QColor(self._theme.desk))
        if self.scene is not None:
            draw_sheet(painter, self.scene, self._theme, self._to_px())
            if not self._engine_there:
                for tape in tapes_of(self.scene, self._to_px()):
                    tape.draw(painter)

    def _draw_over_tape(self, painter: QPainter) -> None:
        if self.scene is not None:
            draw_over_tape(painter, self.scene, self._to_px())
        if self._work is not None:
            self._work.draw(painter, self._to_px())


def _same_sheet(old: Scene, new: Scene) -> bool:
    """Whether two scenes are alike under their tape."""
    one, other = ((m.width_mm, m.height_mm, m.colour, m.surface, m.patches) for m in (old.mat, new.mat))
    return one == other and old.underlay is new.underlay
