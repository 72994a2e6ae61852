"""What comes from other programs and goes to them: files given or dropped, pictures by the clipboard."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QMimeData, QTimer
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QApplication, QMenu, QWidget

from irontrail.app.copying import copy, is_plot, plots_in
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stage import Stage
from irontrail.core.capital import capital
from irontrail.files import project_file
from irontrail.files.mat_in import SUFFIXES as MAT_SUFFIXES


class Exchange:
    """Between the clipboard, the desktop and the project that is open.

    `open_project` opens a file, `mat_files` brings the sheet to sight that takes pictures and drawings of mats, and
    `in_sight` is the panel that is.
    """

    def __init__(
        self,
        session: Session,
        stage: Stage,
        open_project: Callable[[Path], object],
        mat_files: Callable[[], Panel],
        in_sight: Callable[[], Panel],
    ) -> None:
        self._session, self._stage = session, stage
        self._open_project, self._mat_files, self._in_sight = open_project, mat_files, in_sight

    # --- coming in

    def take_in(self, path: Path) -> None:
        """Open a file: a project, or a picture or drawing of a mat."""
        if path.suffix.lower() in MAT_SUFFIXES:
            self._mat_files().take_in(path)
        else:
            self._open_project(path)

    def paste(self) -> None:
        """Take in the picture, or the file, that is on the clipboard."""
        # An empty clipboard has no data at all, whatever its type says.
        data: QMimeData | None = QGuiApplication.clipboard().mimeData()
        path = _file_in(data) if data is not None else None
        if path is not None:
            self.take_in(path)
        elif data is not None and data.hasImage():
            self._mat_files().take_image(QGuiApplication.clipboard().image())
        else:
            self._session.notice("There is no picture on the clipboard: copy one, then paste it here.")

    def takes(self, data: QMimeData) -> bool:
        """Whether something that is held over the window may be dropped there."""
        return _file_in(data) is not None or data.hasImage()

    def take_dropped(self, data: QMimeData) -> None:
        """Take in what has been dropped; what that asks is asked once the hand that drops is free."""
        path = _file_in(data)
        if path is not None:
            QTimer.singleShot(0, partial(self.take_in, path))
        elif data.hasImage():
            image = QImage(data.imageData())
            QTimer.singleShot(0, lambda: self._mat_files().take_image(image))

    # --- going out

    def copy_focused(self) -> None:
        """Copy a picture of what has the focus, or of the mat."""
        focused = QApplication.focusWidget()
        self._copy(focused if focused is not None and is_plot(focused) else self._stage.mat)

    def fill_copies(self, menu: QMenu) -> None:
        """List all of which a picture can be copied."""
        menu.clear()
        plots = {"the mat": self._stage.mat, "the strip": self._stage.strip}
        for name, plot in (plots | plots_in(self._in_sight())).items():
            menu.addAction(capital(name).replace("&", "&&"), partial(self._copy, plot))

    def _copy(self, plot: QWidget) -> None:
        copy(plot)
        self._session.notice("The picture is on the clipboard.")


def _file_in(data: QMimeData) -> Path | None:
    """The file that is offered, if it is one that can be opened."""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
    return next((path for path in paths if path.suffix.lower() in (project_file.SUFFIX, *MAT_SUFFIXES)), None)
