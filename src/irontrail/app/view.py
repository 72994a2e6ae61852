"""All that the window shows of a setup, computed at once off the interface thread but for what is seldom in sight."""

from dataclasses import dataclass
from functools import cache, cached_property

from irontrail.core import derive
from irontrail.core.figures import Figures
from irontrail.core.light.profile import EdgeProfile
from irontrail.core.project import KeptRun
from irontrail.core.result import Run
from irontrail.core.setup import Setup
from irontrail.core.steering.curve import SteeringCurve
from irontrail.core.stretches import Stretch, stretches


@dataclass(frozen=True, eq=False)
class Request:
    """A setup, and the kept runs to show with it."""

    setup: Setup
    shown: tuple[KeptRun, ...]


@dataclass(frozen=True, eq=False)
class KeptView:
    """A kept run as shown: run anew from its settings."""

    kept: KeptRun
    run: Run

    @cached_property
    def stretches(self) -> tuple[Stretch, ...]:
        return stretches(self.run)


@dataclass(frozen=True, eq=False)
class RunView:
    """A setup's run and what is drawn of it."""

    setup: Setup
    run: Run
    figures: Figures
    curve: SteeringCurve
    profile: EdgeProfile
    kept: tuple[KeptView, ...]

    @cached_property
    def stretches(self) -> tuple[Stretch, ...]:
        return stretches(self.run)


@cache
def _ready_to_draw() -> None:
    """The lines of a run are laid by a compiled function: it is loaded here, and not while the window is painted.

    Where nothing can be kept between starts, it is compiled: that takes seconds.
    """
    from irontrail.app.ink import compile_all

    compile_all()


def compute(request: Request) -> RunView:
    """The view of a request; a pure function, remembered in its parts."""
    _ready_to_draw()
    setup = request.setup
    return RunView(
        setup=setup,
        run=derive.run(setup),
        figures=derive.figures(setup),
        curve=derive.curve(setup),
        profile=derive.profile(setup),
        kept=tuple(KeptView(kept, derive.run(kept.setup)) for kept in request.shown),
    )
