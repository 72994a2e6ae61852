"""A run, or several that race, as a film: MP4, or a moving WebP picture."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from io import BytesIO
from math import ceil

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QTransform

from irontrail.app.pages.mat import Laid, draw_table, fitted, laid_over
from irontrail.app.theme import LIGHT, font, pen
from irontrail.app.widgets.race_hand import Racer, draw_racer
from irontrail.app.widgets.robot_drawing import Eye, draw_robot
from irontrail.app.widgets.trail_picture import Trail, draw_trouble
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.result import Run
from irontrail.core.setup import Setup

KINDS = {".mp4": "MP4", ".webp": "WebP"}
WIDTHS = (640, 960, 1280)
SPEEDS = (0.5, 1.0, 2.0, 4.0)
# Frames a second; a moving picture's are told in whole milliseconds.
RATES = {".mp4": 30, ".webp": 20}
# It stands still for so long at its end.
REST_S = 1.0
MOST_FRAMES = 9000
FOOT_PX = 34
# What an encoder is asked for, the first that is there.
ENCODERS = ("libx264", "libopenh264", "mpeg4")

Frames = Iterator[NDArray[np.uint8]]


@dataclass(frozen=True, eq=False)
class Driven:
    """One run of a film, and what it is called."""

    name: str
    setup: Setup
    run: Run


@dataclass(frozen=True, eq=False)
class FilmSpec:
    """What is filmed: runs of one mat, the last one in front; how wide in pixels, how fast, and as what kind of file.

    IronTrailError if the film would be too long, or the runs are not of one mat.
    """

    driven: tuple[Driven, ...]
    width: int
    speed: float
    kind: str

    def __post_init__(self) -> None:
        if any(each.setup.mat != self.driven[-1].setup.mat for each in self.driven):
            raise IronTrailError("runs on different mats cannot race", "film", "Choose runs of one mat.")
        if self.frames > MOST_FRAMES:
            raise IronTrailError(
                f"the film would have {self.frames:,} frames, more than {MOST_FRAMES:,}", "film",
                "Choose a higher speed.",
            )  # fmt: skip

    @property
    def rate(self) -> int:
        """Frames a second."""
        return RATES[self.kind]

    @property
    def frames(self) -> int:
        """How many frames it has."""
        return ceil((self.longest_s / self.speed + REST_S) * self.rate) + 1

    @property
    def longest_s(self) -> float:
        """How long the slowest drives."""
        return max(float(each.run.trace.time_s[-1]) for each in self.driven)

    @property
    def seconds(self) -> float:
        """How long it plays."""
        return self.frames / self.rate

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels, both even, as encoders want them."""
        _, height = fitted(self.driven[-1].setup.mat, self.width)
        return self.width - self.width % 2, 2 * ceil((height + FOOT_PX) / 2)


def film_of(spec: FilmSpec, proceed: Callable[[int], bool] = lambda _done: True) -> bytes:
    """The film as the bytes of its file.

    Parameters
    ----------
    proceed : callable
        Told how many frames are done; says whether to go on.

    Raises
    ------
    CalledOff
        If it says no.
    IronTrailError
        If there is nothing here that can encode it.
    """
    frames = _counted(_frames(spec), proceed)
    return _as_mp4(spec, frames) if spec.kind == ".mp4" else _as_webp(spec, frames)


def _counted(frames: Frames, proceed: Callable[[int], bool]) -> Frames:
    for done, frame in enumerate(frames):
        if not proceed(done):
            raise CalledOff
        yield frame


def _as_mp4(spec: FilmSpec, frames: Frames) -> bytes:
    import av

    encoder = next((name for name in ENCODERS if name in av.codecs_available), None)
    if encoder is None:
        raise IronTrailError("no encoder of films is there", "film", "Save it as WebP.")
    memory = BytesIO()
    with av.open(memory, "w", format="mp4") as container:
        stream = container.add_stream(encoder, rate=Fraction(spec.rate))
        assert isinstance(stream, av.VideoStream)
        stream.width, stream.height = spec.size
        stream.pix_fmt = "yuv420p"
        if encoder == "libx264":
            stream.options = {"crf": "22", "preset": "fast"}
        for frame in frames:
            container.mux(stream.encode(av.VideoFrame.from_ndarray(frame, "rgb24")))
        container.mux(stream.encode())
    return memory.getvalue()


def _as_webp(spec: FilmSpec, frames: Frames) -> bytes:
    from PIL import Image

    first = Image.fromarray(next(frames))
    memory = BytesIO()
    first.save(
        memory, "WEBP", save_all=True, append_images=(Image.fromarray(frame) for frame in frames),
        duration=1000 // spec.rate, loop=0, quality=75, method=2,
    )  # fmt: skip
    return memory.getvalue()


class _Reel:
    """Draws the frames one after the other: what has been driven stays, the robots are drawn over it."""

    def __init__(self, spec: FilmSpec) -> None:
        self.spec, self.to_px = spec, fitted(spec.driven[-1].setup.mat, spec.width)[0]
        self.laid = laid_over([(each.setup, each.run) for each in spec.driven])
        width, height = spec.size
        self.ground = QImage(width, height, QImage.Format.Format_RGB888)
        self.ground.fill(QColor(LIGHT.sheet))
        painter = _on(self.ground)
        draw_table(painter, spec.driven[-1].setup, self.to_px)
        painter.end()
        self.drawn = [0] * len(spec.driven)

    def frame(self, time_s: float) -> QImage:
        """The frame at a time of the runs; times must not fall."""
        rows = [int(np.searchsorted(each.run.trace.time_s, time_s + 1e-9, "right")) - 1 for each in self.spec.driven]
        painter = _on(self.ground)
        for i, row in enumerate(rows):
            _draw_on(painter, self.laid[i], self.drawn[i], row, self.to_px)
            self.drawn[i] = row
        painter.end()
        image = self.ground.copy()
        painter = _on(image)
        for i, row in enumerate(rows):
            self._draw_robot(painter, i, row)
            if row + 1 == len(self.spec.driven[i].run.trace) and self.laid[i].trouble:
                draw_trouble(painter, self.laid[i].trail, self.laid[i].trouble, self.to_px, image.width())
        self._draw_foot(painter, image, time_s)
        painter.end()
        return image

    def _draw_robot(self, painter: QPainter, i: int, row: int) -> None:
        """The last run's robot as it is, others as outlines with their names."""
        driven, trace = self.spec.driven[i], self.spec.driven[i].run.trace
        x, y, heading = float(trace.x_mm[row]), float(trace.y_mm[row]), float(trace.heading_rad[row])
        others = len(self.spec.driven) - 1
        if i < others:
            draw_racer(painter, Racer(driven.name, driven.setup.robot, x, y, heading, others - 1 - i), self.to_px)
            return
        setup = driven.setup
        painter.save()
        painter.setTransform(self.to_px, True)
        painter.translate(x, y)
        painter.rotate(float(np.degrees(heading)))
        second = None
        if setup.second is not None:
            mount = setup.second.mount
            light = bool(trace.second_reading[row] >= setup.seen_by("second").program.target)
            second = Eye(mount, spot_sigma_mm(setup.second.sensor, mount.height_mm), light)
        spot = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
        draw_robot(painter, LIGHT, setup.robot, spot, bool(trace.side[row] > 0.5), self.to_px.m11(), second)
        painter.restore()

    def _draw_foot(self, painter: QPainter, image: QImage, time_s: float) -> None:
        """What is seen, and how long each has been driving."""
        foot = QRectF(12.0, image.height() - FOOT_PX, image.width() - 24.0, FOOT_PX)
        painter.setPen(QColor(LIGHT.ink))
        painter.setFont(font(14, True))
        first = self.spec.driven[-1]
        painter.drawText(foot, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, first.setup.title)
        right = foot.right()
        for driven, laid in zip(reversed(self.spec.driven), reversed(self.laid), strict=True):
            trace = driven.run.trace
            over = time_s >= float(trace.time_s[-1])
            words = f"{driven.run.time_s if over else time_s:.1f} s"
            if over and driven.run.outcome != "finished":
                words = driven.run.outcome.replace("-", " ")
            name = f"run {driven.name}" if driven.name.isdigit() else driven.name
            label = f"{name} {words}" if name else words
            painter.setFont(font(14, over))
            wide = painter.fontMetrics().horizontalAdvance(label) + 6.0
            painter.setPen(QColor(LIGHT.ink))
            box = QRectF(right - wide, foot.top(), wide, foot.height())
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, label)
            painter.setPen(pen(laid.colour, 3.0, laid.dashes))
            middle = foot.center().y()
            painter.drawLine(QPointF(box.left() - 30.0, middle), QPointF(box.left() - 6.0, middle))
            right = box.left() - 44.0


def _frames(spec: FilmSpec) -> Frames:
    reel = _Reel(spec)
    for i in range(spec.frames):
        yield _pixels(reel.frame(i * spec.speed / spec.rate))


def still(spec: FilmSpec, time_s: float) -> QImage:
    """A single frame, at a time of the runs."""
    return _Reel(spec).frame(time_s)


def _on(image: QImage) -> QPainter:
    painter = QPainter(image)
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
    return painter


def _draw_on(painter: QPainter, laid: Laid, from_row: int, to_row: int, to_px: QTransform) -> None:
    """A trail drawn on from a row to another; dashes go by the way from its beginning."""
    if to_row <= from_row:
        return
    rows = slice(from_row, to_row + 1)
    made = pen(laid.colour, 1.8, laid.dashes)
    if laid.dashes:
        x, y = (column[: from_row + 1] for column in (laid.trail.x_mm, laid.trail.y_mm))
        made.setDashOffset(to_px.m11() * float(np.hypot(np.diff(x), np.diff(y)).sum()) / made.widthF())
    painter.setPen(made)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(Trail(laid.trail.x_mm[rows], laid.trail.y_mm[rows]).in_px(to_px))


def _pixels(image: QImage) -> NDArray[np.uint8]:
    bits = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
    return bits[:, : 3 * image.width()].reshape(image.height(), image.width(), 3).copy()
