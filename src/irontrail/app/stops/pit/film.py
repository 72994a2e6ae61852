"""A film of the run in sight, or of a race with the kept runs shown beside it."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap

from irontrail.app.asked_path import asked_path
from irontrail.app.long_work import Proceed
from irontrail.app.pages.film import KINDS, SPEEDS, WIDTHS, Driven, FilmSpec, film_of, still
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.files import atomic

OF = ("this run", "the race")
STILL_PX = 300


class FilmSheet(WorkingPanel):
    """What is filmed, as what, how large and how fast."""

    SAYS = "A short film of a run, or of a race."
    COUNTS = "frames"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.of, self.kind, self.wide, self.speed = OF[0], next(iter(KINDS)), WIDTHS[1], 1.0
        self.still = Label()
        self.still.setAccessibleName("A still of the film")
        self.column.addWidget(self.still)
        self.ofs = self.add_choice("Film of", OF, self._choose_of, says="Film {}.")
        self.kinds = self.add_choice("As", tuple(KINDS.values()), self._choose_kind, says="A film as {}.")
        self.widths = self.add_choice(
            "Width", tuple(str(width) for width in WIDTHS), self._choose_width, says="{} pixels wide."
        )
        self.speeds = self.add_choice(
            "Speed", tuple(f"{speed:g}×" for speed in SPEEDS), self._choose_speed, says="{} as fast as it drives."
        )
        self.says = self.add_words()
        self.add_work("Make the film …", self._ask_path, "Draw every frame and write the film to a file.")
        self.hint = self.add_words(
            "In a race the kept runs that are shown on this mat drive with the run of now. WebP moves in browsers and "
            "chats, MP4 in any player.",
            "quiet",
        )
        self.finish()

    # --- choosing

    def _choose_of(self, of: str) -> None:
        self.of = of
        self.show_project()

    def _choose_kind(self, name: str) -> None:
        self.kind = next(kind for kind, says in KINDS.items() if says == name)
        self.show_project()

    def _choose_width(self, width: str) -> None:
        self.wide = int(width)
        self.show_project()

    def _choose_speed(self, speed: str) -> None:
        self.speed = float(speed.rstrip("×"))
        self.show_project()

    @property
    def spec(self) -> FilmSpec | None:
        """What would be filmed; None while there is no run. IronTrailError if it cannot be."""
        view = self.session.view
        if view is None:
            return None
        driven = [Driven("now" if self.of == OF[1] else "", view.setup, view.run)]
        if self.of == OF[1]:
            driven = [
                Driven(str(each.kept.number), each.kept.setup, each.run)
                for each in view.kept
                if each.kept.setup != view.setup
            ] + driven
        return FilmSpec(tuple(driven), self.wide, self.speed, self.kind)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        view = self.session.view
        self.ofs[OF[1]].setEnabled(view is not None and bool(view.kept))
        if view is not None and not view.kept:
            self.of = OF[0]
        for buttons, now in (
            (self.ofs, self.of),
            (self.kinds, KINDS[self.kind]),
            (self.widths, str(self.wide)),
            (self.speeds, f"{self.speed:g}×"),
        ):
            for name, button in buttons.items():
                button.setChecked(name == now)
        try:
            spec = self.spec
        except IronTrailError as error:
            self.says.setText(str(error))
            self.button.setEnabled(self.work.running)
            return
        self.button.setEnabled(spec is not None)
        if spec is not None:
            wide, high = spec.size
            self.says.setText(f"{spec.seconds:.1f} s of film, {spec.frames:,} frames of {wide} × {high}.")
            self._show_still(spec)

    def _show_still(self, spec: FilmSpec) -> None:
        """The frame of where the playhead is, as wide as the panel."""
        time_s = min(self.session.playback.time_s, spec.longest_s)
        pixels = QPixmap.fromImage(still(spec, time_s))
        ratio = self.devicePixelRatioF()
        made = pixels.scaledToWidth(round(STILL_PX * ratio), Qt.TransformationMode.SmoothTransformation)
        made.setDevicePixelRatio(ratio)
        self.still.setPixmap(made)

    def show_view(self) -> None:
        self.show_project()

    # --- making it

    def _ask_path(self) -> None:
        name = f"{self.session.setup.mat.name}{self.kind}"
        path = asked_path(self, "Save the film", name, {self.kind: KINDS[self.kind]})
        if path is not None:
            self.film_to(path)

    def film_to(self, path: Path) -> None:
        """Film to a file; called off, it leaves what stood there as it was."""
        spec = self.spec
        if spec is None:
            return

        def work(proceed: Proceed) -> Path:
            atomic.write_bytes(path, film_of(spec, proceed))
            return path

        self.begin(lambda tell: work(lambda done: tell(None, done)), spec.frames)

    def show_result(self, result: Path) -> None:
        size = result.stat().st_size if result.exists() else 0
        self.session.notice(f"The film is in {result.name}: {size / 1e6:.2f} MB.")
