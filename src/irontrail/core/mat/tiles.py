"""How a mat is cut into sheets of paper that a printer takes, to be taped together again."""

from dataclasses import dataclass, replace
from math import ceil

from irontrail.core.errors import IronTrailError

# Width and height of the sheets, upright, in mm.
PAPERS: dict[str, tuple[float, float]] = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "Letter": (215.9, 279.4)}
# No printer prints nearer to a sheet's edge than this.
MARGIN_MM = 10.0
# Under the tile stand its name and the check bar.
FOOT_MM = 12.0
OVERLAP_MM = 10.0
CHECK_BAR_MM = 100.0
# A PDF page is at most 200 inches wide.
LARGEST_PAGE_MM = 5080.0


@dataclass(frozen=True)
class Tile:
    """One sheet: its row and column from the top left, from 0, and the part of the mat on it, in mm, y up."""

    row: int
    column: int
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float

    @property
    def name(self) -> str:
        """Row letter, column number."""
        return f"{_letter(self.row)}{self.column + 1}"


@dataclass(frozen=True)
class Cut:
    """A mat cut into tiles: the page's size in mm as it is turned, rows and columns, tiles from the top left.

    Where there is nothing on a tile it can be left out.
    """

    page_mm: tuple[float, float]
    rows: int
    columns: int
    tiles: tuple[Tile, ...]

    @property
    def left_out(self) -> int:
        """How many tiles have been left out."""
        return self.rows * self.columns - len(self.tiles)

    def has(self, row: int, column: int) -> bool:
        """Whether there is a tile in that place."""
        return any((tile.row, tile.column) == (row, column) for tile in self.tiles)


def some_of(made: Cut, which: str) -> Cut:
    """A cut with only some of its sheets: their numbers and ranges, or all where nothing is said.

    Raises
    ------
    IronTrailError
        If there are no such sheets.

    >>> len(some_of(cut(2000.0, 1000.0, "A3"), "1-3, 7").tiles)
    4
    """
    wanted: set[int] = set()
    for part in (part.strip() for part in which.split(",") if part.strip()):
        first, dash, last = part.replace("–", "-").partition("-")
        try:
            low = int(first)
            high = int(last) if dash else low
        except ValueError as error:
            raise IronTrailError(
                f"'{part}' is no sheet", "sheets", "Write numbers and ranges, as in 1-4, 7."
            ) from error
        if not 1 <= low <= high <= len(made.tiles):
            raise IronTrailError(f"there is no sheet {part}", "sheets", f"There are 1 to {len(made.tiles)}.")
        wanted |= set(range(low, high + 1))
    if not wanted:
        return made
    return replace(made, tiles=tuple(tile for number, tile in enumerate(made.tiles, 1) if number in wanted))


def one_sheet(width_mm: float, height_mm: float) -> Cut:
    """The whole mat on one page of its own size, margins added."""
    page = (width_mm + 2.0 * MARGIN_MM, height_mm + 2.0 * MARGIN_MM + FOOT_MM)
    if max(page) > LARGEST_PAGE_MM:
        raise IronTrailError(f"{max(page):.0f} mm are more than one page may have", "PDF", "Print it in tiles.")
    return Cut(page, 1, 1, (Tile(0, 0, 0.0, 0.0, width_mm, height_mm),))


def cut(width_mm: float, height_mm: float, paper: str, overlap_mm: float = OVERLAP_MM) -> Cut:
    """A mat cut for a paper, upright or across, whichever needs fewer sheets.

    >>> made = cut(2000.0, 1000.0, "A3")
    >>> made.page_mm, made.rows, made.columns
    ((297.0, 420.0), 3, 8)
    """
    upright = PAPERS[paper]
    ways = [_cut(width_mm, height_mm, page, overlap_mm) for page in (upright, upright[::-1])]
    return min(ways, key=lambda way: len(way.tiles))


def _cut(width_mm: float, height_mm: float, page: tuple[float, float], overlap_mm: float) -> Cut:
    wide, high = page[0] - 2.0 * MARGIN_MM, page[1] - 2.0 * MARGIN_MM - FOOT_MM
    across, up = wide - overlap_mm, high - overlap_mm
    columns = max(1, ceil((width_mm - overlap_mm) / across - 1e-9))
    rows = max(1, ceil((height_mm - overlap_mm) / up - 1e-9))
    # What is left over is shared by the first and the last, so that neither is a sliver.
    spare_x = max(columns * across + overlap_mm - width_mm, 0.0)
    spare_y = max(rows * up + overlap_mm - height_mm, 0.0)
    tiles = []
    for row in range(rows):
        for column in range(columns):
            from_left, from_top = column * across - 0.5 * spare_x, row * up - 0.5 * spare_y
            left, right = max(from_left, 0.0), min(from_left + wide, width_mm)
            top, low = min(height_mm - from_top, height_mm), max(height_mm - from_top - high, 0.0)
            tiles.append(Tile(row, column, left, low, right - left, top - low))
    return Cut(page, rows, columns, tuple(tiles))


def _letter(row: int) -> str:
    return (_letter(row // 26 - 1) if row >= 26 else "") + chr(ord("A") + row % 26)
