"""What lies on the table, and what the mat is made of."""

import unittest
from dataclasses import replace

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import raw_reading
from irontrail.core.mat.raster import make_raster
from irontrail.core.mat.surface import SURFACES
from irontrail.core.quantity import value_at, with_value
from irontrail.core.table import KINDS, Box, Thing, box_of, doubled, laid, placed, taken_away, things
from tests.support import lighthouse, straight_mat


class ThingsTest(unittest.TestCase):
    def test_each_kind_is_laid_moved_and_taken_away(self) -> None:
        for kind in KINDS:
            setup, thing = laid(lighthouse(), kind, 700.0, 400.0)
            self.assertEqual(things(setup), (thing,))
            self.assertEqual((box_of(setup, thing).x_mm, box_of(setup, thing).y_mm), (700.0, 400.0))
            moved = placed(setup, thing, Box(810.0, 420.0, 90.0, 70.0))
            high = 90.0 if kind == "spot" else 70.0
            self.assertEqual(box_of(moved, thing), Box(810.0, 420.0, 90.0, high))
            self.assertEqual(taken_away(moved, thing), lighthouse())

    def test_a_second_finish_is_the_first_one_moved(self) -> None:
        setup, _ = laid(lighthouse(), "finish", 700.0, 400.0)
        moved, _ = laid(setup, "finish", 900.0, 500.0)
        self.assertEqual(len(things(moved)), 1)
        with self.assertRaisesRegex(IronTrailError, "one finish zone"):
            doubled(setup, things(setup)[0])

    def test_doubled_lies_a_little_aside(self) -> None:
        setup, thing = laid(lighthouse(), "patch", 700.0, 400.0)
        twice, other = doubled(setup, thing)
        self.assertEqual(other, Thing("patch", "mat.patches.1"))
        self.assertEqual(box_of(twice, other).x_mm, 740.0)

    def test_a_table_holds_so_much_and_no_more(self) -> None:
        setup = lighthouse()
        for _ in range(8):
            setup, _ = laid(setup, "glare", 500.0, 500.0)
        with self.assertRaisesRegex(IronTrailError, "more than 8"):
            laid(setup, "shadow", 500.0, 500.0)

    def test_a_shadow_made_brighter_than_the_room_is_a_glare(self) -> None:
        setup, thing = laid(lighthouse(), "shadow", 700.0, 400.0)
        brighter = with_value(setup, f"{thing.path}.factor", 2.0)
        self.assertEqual(things(brighter)[0].kind, "glare")
        self.assertEqual(value_at(brighter, "light.areas.0.factor"), 2.0)

    def test_what_is_counted_stays_whole(self) -> None:
        self.assertIs(type(with_value(lighthouse(), "trial.laps", 3.0).trial.laps), int)


class SurfaceTest(unittest.TestCase):
    def test_gloss_lifts_what_is_read_on_the_line_most(self) -> None:
        """The veil is the room's light times the gloss: by hand, and the engine's own readings rise by as much."""
        paper = lighthouse(light__room_light=1.0, light__sensor__shield=0.0, light__sensor__noise=0.0)
        vinyl = with_value(paper, "mat.surface", "vinyl")
        leak = 0.5 * 8.0 / (8.0 + 30.0)
        dark = calibrate_on(vinyl.mat, vinyl.light, 8.0).dark - calibrate_on(paper.mat, paper.light, 8.0).dark
        self.assertLess(abs(dark - 100.0 * leak * SURFACES["vinyl"].gloss), 1.0)
        seen = np.array([0.02, 0.9])
        lifted = raw_reading(vinyl.light, 8.0, seen, vinyl.mat.gloss) - raw_reading(vinyl.light, 8.0, seen)
        self.assertTrue(np.allclose(lifted, 100.0 * leak * 0.5))
        first = [float(derive.run(setup).trace.raw_output[0]) for setup in (paper, vinyl)]
        self.assertLess(abs(first[1] - first[0] - 100.0 * leak * 0.5), 1.01)

    def test_woods_grain_is_uneven_as_much_as_it_says(self) -> None:
        mat = straight_mat()
        bare = make_raster(replace(mat, surface="wood"))[700:, :, 0]
        flat = make_raster(mat)[700:, :, 0]
        self.assertEqual(float(np.ptp(flat)), 0.0)
        self.assertLess(abs(float(bare.std() / bare.mean()) - SURFACES["wood"].grain), 0.02)
        # Its streaks lie along x: from pixel to pixel it changes little there, and much across.
        along, across = (float(np.abs(np.diff(bare, axis=axis)).mean()) for axis in (1, 0))
        self.assertLess(20.0 * along, across)

    def test_a_finer_raster_shows_the_same_mat(self) -> None:
        mat = demo_project("orchard").setup.mat
        fine, usual = make_raster(mat, 0.5), make_raster(mat)
        coarse = fine.reshape(usual.shape[0], 2, usual.shape[1], 2, 3).mean(axis=(1, 3))
        self.assertLess(float(np.abs(coarse - usual).mean()), 5e-4)
