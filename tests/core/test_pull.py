"""A hand lifts the running robot and sets it down elsewhere."""

import unittest

import numpy as np

from irontrail.core import derive
from irontrail.core.measures import measure
from irontrail.core.setup import Pull
from tests.support import lighthouse, setup_with


class PullTest(unittest.TestCase):
    def setUp(self) -> None:
        self.setup_as_is = lighthouse()
        self.free = derive.run(self.setup_as_is).trace

    def pulled(self, row: int, aside_mm: float, turned_deg: float = 0.0) -> np.ndarray:
        """The trace of a run that is pulled to the left at a row of the free one."""
        trace, heading = self.free, self.free.heading_rad[row]
        pull = Pull(
            float(trace.time_s[row]),
            float(trace.x_mm[row] - aside_mm * np.sin(heading)),
            float(trace.y_mm[row] + aside_mm * np.cos(heading)),
            float(np.degrees(heading)) + turned_deg,
        )
        self.run_pulled = derive.run(setup_with(self.setup_as_is, trial__pull=pull))
        return self.run_pulled.trace

    def test_all_before_is_as_it_was_and_the_sensor_is_where_it_was_put(self) -> None:
        trace = self.pulled(400, 6.0)
        for name in ("x_mm", "y_mm", "reading", "left_power"):
            self.assertTrue(np.array_equal(getattr(trace, name)[:400], getattr(self.free, name)[:400]), name)
        self.assertAlmostEqual(trace.edge_mm[400] - self.free.edge_mm[400], 6.0, delta=0.2)
        self.assertAlmostEqual(trace.progress_mm[400], self.free.progress_mm[400], delta=3.0)

    def test_it_finds_back_and_finishes(self) -> None:
        trace = self.pulled(400, 8.0, -10.0)
        self.assertEqual(self.run_pulled.outcome, "finished")
        self.assertLess(np.abs(trace.edge_mm[500:700]).max(), 8.0)

    def test_the_hands_way_is_not_the_wheels(self) -> None:
        self.pulled(400, 8.0)
        figures = measure(self.run_pulled)
        steps = np.hypot(np.diff(self.run_pulled.trace.x_mm), np.diff(self.run_pulled.trace.y_mm))
        self.assertGreater(steps[399], 6.0)
        self.assertAlmostEqual(figures.path_length_mm, steps.sum() - steps[399])

    def test_put_down_out_of_reach_it_is_lost_at_once(self) -> None:
        trace = self.pulled(400, 90.0)
        self.assertEqual((self.run_pulled.outcome, len(trace)), ("lost", 401))

    def test_put_down_farther_along_the_line_it_goes_on_from_there(self) -> None:
        x, y, heading = derive.route(self.setup_as_is.mat, False).at(3000.0)
        half = 0.5 * self.setup_as_is.mat.line.width_mm
        ahead = self.setup_as_is.robot.mount.ahead_mm
        axle_x, axle_y = (
            x - half * np.sin(heading) - ahead * np.cos(heading),
            y + half * np.cos(heading) - ahead * np.sin(heading),
        )
        pull = Pull(2.0, float(axle_x), float(axle_y), float(np.degrees(heading)))
        run = derive.run(setup_with(self.setup_as_is, trial__pull=pull))
        row = int(np.searchsorted(run.trace.time_s, 2.0))
        self.assertAlmostEqual(run.trace.progress_mm[row], 3000.0 - run.start_mm, delta=1.0)
        self.assertEqual(run.outcome, "finished")
        self.assertLess(run.time_s, derive.run(self.setup_as_is).time_s - 5.0)

    def test_set_back_along_its_line_it_is_not_called_stuck(self) -> None:
        trace = self.free
        back = 700
        pull = Pull(
            float(trace.time_s[back]), float(trace.x_mm[60]), float(trace.y_mm[60]),
            float(np.degrees(trace.heading_rad[60])),
        )  # fmt: skip
        run = derive.run(setup_with(self.setup_as_is, trial__pull=pull, trial__stuck_time_s=3.0))
        self.assertLess(run.trace.progress_mm[back], 200.0)
        self.assertEqual(run.outcome, "finished")


if __name__ == "__main__":
    unittest.main()
