"""A mat on sheets of paper: every millimetre is on one, neighbours share a strip, names go by rows and columns."""

import unittest
from itertools import pairwise

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tiles import FOOT_MM, LARGEST_PAGE_MM, MARGIN_MM, OVERLAP_MM, PAPERS, cut, one_sheet, some_of


class TilesTest(unittest.TestCase):
    def test_tiles_cover_the_mat_with_their_overlap_and_no_more(self) -> None:
        for paper, (short, long) in PAPERS.items():
            for wide, high in ((2000.0, 1000.0), (300.0, 200.0), (1134.0, 2362.0), (150.0, 900.0)):
                made = cut(wide, high, paper)
                self.assertEqual(sorted(made.page_mm), sorted((short, long)))
                self.assertEqual(len(made.tiles), made.rows * made.columns)
                room = (made.page_mm[0] - 2 * MARGIN_MM, made.page_mm[1] - 2 * MARGIN_MM - FOOT_MM)
                grid = [made.tiles[row * made.columns : (row + 1) * made.columns] for row in range(made.rows)]
                self.assertAlmostEqual(grid[0][0].y_mm + grid[0][0].height_mm, high)
                self.assertEqual((grid[0][0].x_mm, grid[-1][0].y_mm), (0.0, 0.0))
                self.assertAlmostEqual(grid[0][-1].x_mm + grid[0][-1].width_mm, wide)
                for row in grid:
                    for tile, following in pairwise(row):
                        self.assertAlmostEqual(tile.x_mm + tile.width_mm - following.x_mm, OVERLAP_MM)
                    self.assertTrue(all(tile.width_mm <= room[0] + 1e-9 for tile in row))
                    for tile in row[1:-1]:
                        self.assertAlmostEqual(tile.width_mm, room[0])
                    # The first and the last are alike, and so no slivers.
                    self.assertAlmostEqual(row[0].width_mm, row[-1].width_mm)
                    self.assertGreaterEqual(row[0].width_mm, min(wide, 0.5 * room[0]))
                for above, below in pairwise(grid):
                    self.assertAlmostEqual(below[0].y_mm + below[0].height_mm - above[0].y_mm, OVERLAP_MM)
                for row in grid[1:-1]:
                    self.assertAlmostEqual(row[0].height_mm, room[1])
                self.assertAlmostEqual(grid[0][0].height_mm, grid[-1][0].height_mm)

    def test_some_sheets_by_their_numbers(self) -> None:
        made = cut(2000.0, 1000.0, "A3")
        self.assertEqual([tile.name for tile in some_of(made, "1-2, 9, 24").tiles], ["A1", "A2", "B1", "C8"])
        self.assertEqual(some_of(made, " , "), made)
        for which, said in (("0", "no sheet 0"), ("3-2", "no sheet 3-2"), ("25", "1 to 24"), ("A1", "is no sheet")):
            with self.assertRaisesRegex(IronTrailError, said):
                some_of(made, which)

    def test_they_are_named_by_row_and_column_from_the_top_left(self) -> None:
        made = cut(2000.0, 1000.0, "A3")
        self.assertEqual([tile.name for tile in made.tiles[:3]], ["A1", "A2", "A3"])
        self.assertEqual(made.tiles[made.columns].name, "B1")
        many = cut(200.0, 4000.0, "A4")
        self.assertEqual(many.tiles[-1].name, f"{chr(ord('A') + many.rows - 1)}{many.columns}")
        self.assertEqual(cut(100.0, 100.0, "A4").tiles[0].name, "A1")
        # Rows past Z go on as AA.
        from irontrail.core.mat.tiles import _letter

        self.assertEqual([_letter(row) for row in (0, 25, 26, 27, 51, 52)], ["A", "Z", "AA", "AB", "AZ", "BA"])

    def test_the_way_round_that_needs_fewer_sheets_is_taken(self) -> None:
        upright, across = (PAPERS["A4"], PAPERS["A4"][::-1])
        self.assertEqual(cut(190.0, 250.0, "A4").page_mm, upright)
        self.assertEqual(cut(260.0, 160.0, "A4").page_mm, across)
        self.assertEqual(len(cut(260.0, 160.0, "A4").tiles), 1)

    def test_one_sheet_has_margins_and_a_foot_and_may_be_too_large(self) -> None:
        made = one_sheet(1200.0, 800.0)
        self.assertEqual(made.page_mm, (1200.0 + 2 * MARGIN_MM, 800.0 + 2 * MARGIN_MM + FOOT_MM))
        self.assertEqual(
            [(tile.name, tile.x_mm, tile.y_mm, tile.width_mm) for tile in made.tiles], [("A1", 0, 0, 1200)]
        )
        with self.assertRaisesRegex(IronTrailError, "more than one page may have"):
            one_sheet(LARGEST_PAGE_MM, 500.0)


if __name__ == "__main__":
    unittest.main()
