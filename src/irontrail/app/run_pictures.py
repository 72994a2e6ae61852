"""What is drawn of runs and made once each: kept runs, and perturbed ones."""

from irontrail.app.pictures import strip_run, trail_of
from irontrail.app.view import RunView
from irontrail.app.widgets.strip_picture import StripRun, lane_of
from irontrail.app.widgets.trail_picture import Trail
from irontrail.core.advice.luck import Luck
from irontrail.core.mat.tape import Mat
from irontrail.core.setup import Setup


class RunPictures:
    """Remembers what was asked for last, and no more."""

    def __init__(self) -> None:
        # By the setup itself: another project's runs have the same numbers.
        self._kept: dict[int, tuple[Setup, Trail, StripRun]] = {}
        self._kept_as: tuple[object, ...] = ()
        self._tries_of: Luck | None = None
        self._tries: tuple[Trail, ...] = ()

    def kept(self, view: RunView, names: tuple[str, ...]) -> list[tuple[Trail, StripRun]]:
        """Trail and lanes of each kept run that is shown with a run."""
        sensors, by_way = view.run.sensors, bool(view.run.legs)
        if self._kept_as != (names, sensors, by_way):
            self._kept.clear()
            self._kept_as = (names, sensors, by_way)
        lanes, made = tuple(lane_of(name, sensors) for name in names), {}
        for each in view.kept:
            setup, before = each.kept.setup, self._kept.get(each.kept.number)
            if before is None or before[0] is not setup:
                before = setup, trail_of(setup, each.run), strip_run(each.run, lanes, by_way)
            made[each.kept.number] = before
        self._kept = made
        return [(trail, strip) for _, trail, strip in made.values()]

    def tries(self, luck: Luck | None, mat: Mat) -> tuple[Trail, ...]:
        """The trails of perturbed runs, if they are of this mat."""
        if luck is None or luck.setup.mat != mat:
            return ()
        if self._tries_of is not luck:
            self._tries_of, self._tries = luck, tuple(Trail(each.x_mm, each.y_mm) for each in luck.tries)
        return self._tries
