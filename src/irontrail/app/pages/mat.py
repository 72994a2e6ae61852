"""The mat as it stands on a page or in a film, with the trails of some runs."""

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QTransform

from irontrail.app.pages.pictures import FINE, Picture, blank, inside, smooth
from irontrail.app.pictures import marks_of, trail_of
from irontrail.app.theme import KEPT_DASHES, LIGHT, pen
from irontrail.app.widgets import mat_ground
from irontrail.app.widgets.laid_tape import draw_tape
from irontrail.app.widgets.mat_scene import KEPT_ON_MAT
from irontrail.app.widgets.trail_picture import TRAIL, TRAIL_WIDTH, Trail, draw_trouble
from irontrail.core import derive
from irontrail.core.mat.tape import Mat
from irontrail.core.result import Run
from irontrail.core.setup import Setup

MARGIN = 10.0
# As many runs as there are looks for are laid over one another, more would hide each other; the last has the first.
OVER = 3
LOOKS: tuple[tuple[str, tuple[float, ...]], ...] = (
    (TRAIL, ()), *zip(KEPT_ON_MAT[:OVER], KEPT_DASHES[:OVER], strict=True),
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class Laid:
    """A run's trail on the mat, its colour and dashes, and where it went wrong in a word, if it did."""

    trail: Trail
    colour: str
    dashes: tuple[float, ...]
    trouble: str


def laid_over(runs: Sequence[tuple[Setup, Run]]) -> list[Laid]:
    """Trails of runs of one mat, each with its look."""
    looks = [LOOKS[(len(runs) - 1 - i) % len(LOOKS)] for i in range(len(runs))]
    return [
        Laid(trail_of(setup, run), *look, "" if run.outcome == "finished" else run.outcome.replace("-", " "))
        for (setup, run), look in zip(runs, looks, strict=True)
    ]


def fitted(mat: Mat, width: float) -> tuple[QTransform, float]:
    """From millimetres (y up) to the dots of a picture so wide, which the mat fills; and how high that is."""
    scale = (width - 2 * MARGIN) / mat.width_mm
    height = scale * mat.height_mm + 2 * MARGIN
    return QTransform(scale, 0.0, 0.0, -scale, MARGIN, height - MARGIN), height


def draw_table(painter: QPainter, setup: Setup, to_px: QTransform) -> None:
    """The mat with what lies and is marked on it."""
    mat = setup.mat
    mat_ground.draw_sheet(painter, mat, to_px)
    draw_tape(painter, mat, to_px)
    mat_ground.draw_light(painter, mat, setup.light.areas, to_px)
    mat_ground.draw_marks(painter, mat, marks_of(setup, derive.route(mat, setup.trial.reverse)), to_px)


def draw_laid(painter: QPainter, laid: Laid, to_px: QTransform, width: int) -> None:
    """A run's trail."""
    painter.setPen(pen(laid.colour, 1.6, laid.dashes) if laid.dashes else pen(laid.colour, TRAIL_WIDTH))
    painter.drawPolyline(laid.trail.in_px(to_px))
    if laid.trouble:
        draw_trouble(painter, laid.trail, laid.trouble, to_px, width)


def mat_picture(setup: Setup, runs: Sequence[tuple[Setup, Run]], width: float, smaller: float = 1.0) -> Picture:
    """A setup's mat with the trails of runs on it, `width` in the page's dots.

    Letters and marks are so many times as large as in the window.
    """
    drawn = width / smaller
    to_px, height = fitted(setup.mat, drawn)
    image = blank(drawn, height, "#FFFFFF", FINE * smaller)
    painter = smooth(image)
    draw_table(painter, setup, to_px)
    painter.setPen(QColor(LIGHT.edge))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(to_px.mapRect(_sheet(setup.mat)))
    for laid in laid_over(runs):
        draw_laid(painter, laid, to_px, round(drawn))
    painter.end()
    many = f" and the trails of {len(runs)} runs" if len(runs) > 1 else " and the trail of a run" if runs else ""
    return inside(image, f"The mat {setup.mat.name}{many}", width)


def _sheet(mat: Mat) -> QRectF:
    return QRectF(0.0, 0.0, mat.width_mm, mat.height_mm)
