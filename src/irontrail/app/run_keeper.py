"""Runs that are to be put by and have not been driven yet: each is, whatever has been changed since."""

from collections.abc import Callable

from irontrail.app.kept_runs import KeptRuns
from irontrail.app.worker import NewestWins
from irontrail.core import derive
from irontrail.core.document import Document
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures
from irontrail.core.setup import Setup


class RunKeeper:
    """Waits for the run of a setup; where another has taken its place, has it driven in a thread of its own."""

    def __init__(self, document: Document, kept_runs: KeptRuns, tell: Callable[[str], None]) -> None:
        self._document = document
        self._kept_runs = kept_runs
        self._tell = tell
        self._waiting: list[Setup] = []
        self._worker = NewestWins(lambda setup: derive.figures(setup), self._on_figures, self._no_figures)

    @property
    def idle(self) -> bool:
        """Nothing is being driven."""
        return self._worker.idle

    @property
    def waits(self) -> bool:
        """There is a run to be kept."""
        return bool(self._waiting)

    def add(self, setup: Setup) -> None:
        """Keep the run of a setup as soon as it has been driven."""
        if setup not in self._waiting:
            self._waiting.append(setup)

    def drove(self, setup: Setup, figures: Figures) -> None:
        """A run has been driven: if it was to be kept, it is."""
        if self.drop(setup):
            self._kept_runs.keep(setup, figures)

    def drop(self, setup: Setup) -> bool:
        """Wait for a setup's run no longer; whether it was waited for."""
        if setup not in self._waiting:
            return False
        self._waiting.remove(setup)
        return True

    def go_on(self) -> None:
        """Have one driven that is no longer the project's; the project's own is driven anyway."""
        changed = [setup for setup in self._waiting if setup != self._document.project.setup]
        if changed and self._worker.idle:
            self._worker.request(changed[0])

    def keep_all(self) -> None:
        """Drive and keep here and now what is waited for, before the project is saved or left."""
        for setup in tuple(self._waiting):
            try:
                self.drove(setup, derive.figures(setup))
            except IronTrailError as error:
                self._no_figures(setup, error)

    def forget(self) -> None:
        """Another project has been opened."""
        self._waiting.clear()

    def close(self) -> None:
        self._worker.close()

    def _on_figures(self, setup: Setup, figures: Figures) -> None:
        self.drove(setup, figures)
        self.go_on()

    def _no_figures(self, setup: Setup, error: Exception) -> None:
        if self.drop(setup):
            self._tell(f"There is no run to keep: {error}")
        self.go_on()
