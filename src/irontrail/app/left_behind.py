"""Work that an earlier start could not save: offered when the window opens, one after the other."""

from functools import partial

from irontrail.app.files_desk import FilesDesk
from irontrail.app.safekeeping import Safekeeping
from irontrail.app.widgets.notice import Notice
from irontrail.files import unsaved


class LeftBehind:
    """Asks in the notice whether such work is opened or thrown away."""

    def __init__(self, files: FilesDesk, keeping: Safekeeping, notice: Notice) -> None:
        self._files, self._keeping, self._notice = files, keeping, notice

    def offer(self) -> None:
        """Offer what there is; nothing if there is none."""
        for work in unsaved.left_behind()[:1]:
            when = work.when.astimezone().strftime("%H:%M on %-d %B")
            self._notice.say(
                f"“{work.project.setup.title}” was not saved when Iron Trail ended, at {when}. It has been kept.",
                {"Open it": partial(self._take_up, work), "Throw it away": partial(self._throw_away, work)},
            )

    def _take_up(self, work: unsaved.Unsaved) -> None:
        if self._files.leave():
            self._files.take_up(work)
            self._keeping.take(work)
        self.offer()

    def _throw_away(self, work: unsaved.Unsaved) -> None:
        unsaved.forget(work)
        self.offer()
