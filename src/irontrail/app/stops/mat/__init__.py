"""Mat: the shelf, laying tape, what else lies there, and ways in from and out to the world."""

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.mat.files import FilesSheet
from irontrail.app.stops.mat.shelf import ShelfSheet
from irontrail.app.stops.mat.tape import TapeSheet
from irontrail.app.stops.mat.things import ThingsSheet
from irontrail.app.theme import Theme

SHEETS = {"Shelf": ShelfSheet, "Tape": TapeSheet, "Things": ThingsSheet, "Files": FilesSheet}


class MatPanel(SheetedPanel):
    """The panel of the Mat stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Mat", SHEETS)
