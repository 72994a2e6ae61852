"""The document: history, merging, subscribers."""

import unittest
from dataclasses import replace

from irontrail.core.demos import demo_project
from irontrail.core.document import MAX_STEPS, Document
from irontrail.core.errors import OutOfRangeError
from irontrail.core.project import Project
from irontrail.core.quantity import Quantity, moved, put, quantities, quantity_at, value_at, with_value
from irontrail.core.robot.drive import Drive


def at_speed(project: Project, speed: float) -> Project:
    return replace(project, setup=with_value(project.setup, "program.speed", speed))


class DocumentTest(unittest.TestCase):
    def setUp(self) -> None:
        self.start = demo_project("lighthouse")
        self.document = Document(self.start)

    def speed(self) -> float:
        return self.document.project.setup.program.speed

    def set_speed(self, speed: float, key: str | None = None) -> None:
        self.document.apply(f"speed {speed}", at_speed(self.document.project, speed), key)

    def test_parts_that_are_alike_are_found_by_one_another_and_changed_ones_are_not(self) -> None:
        setup = self.start.setup
        known = {setup: "known"}
        faster = with_value(setup, "program.speed", 61.0)
        self.assertNotIn(faster, known)
        self.assertEqual(known[with_value(faster, "program.speed", setup.program.speed)], "known")
        for made in (moved(setup, program=faster.program), moved(faster.program, speed=setup.program.speed)):
            self.assertNotEqual(hash(made), hash(setup))
        self.assertEqual(moved(setup, program=faster.program), faster)
        self.assertEqual(hash(moved(setup, program=faster.program)), hash(faster))

    def test_undo_and_redo_walk_the_history(self) -> None:
        for speed in (55.0, 60.0):
            self.set_speed(speed)
        self.assertEqual(self.document.undo_label, "speed 60.0")
        self.document.undo()
        self.assertEqual((self.speed(), self.document.redo_label), (55.0, "speed 60.0"))
        self.document.undo()
        self.assertIs(self.document.project, self.start)
        self.document.undo()
        self.document.redo()
        self.document.redo()
        self.document.redo()
        self.assertEqual((self.speed(), self.document.redo_label), (60.0, None))

    def test_a_drag_is_one_step_and_the_next_drag_another(self) -> None:
        for speed in (51.0, 52.0, 53.0):
            self.set_speed(speed, "dial")
        self.document.settle()
        self.set_speed(58.0, "dial")
        self.document.undo()
        self.assertEqual(self.speed(), 53.0)
        self.document.undo()
        self.assertEqual((self.speed(), self.document.undo_label), (50.0, None))

    def test_a_drag_that_comes_back_leaves_no_step(self) -> None:
        for speed in (51.0, 52.0, 50.0):
            self.set_speed(speed, "dial")
        self.assertIsNone(self.document.undo_label)
        self.set_speed(57.0, "dial")
        self.document.undo()
        self.assertEqual(self.speed(), 50.0)

    def test_a_drag_after_another_step_does_not_swallow_it(self) -> None:
        self.set_speed(60.0)
        for speed in (61.0, 60.0, 65.0):
            self.set_speed(speed, "dial")
        self.document.undo()
        self.assertEqual(self.speed(), 60.0)
        self.document.undo()
        self.assertEqual(self.speed(), 50.0)

    def test_a_new_step_forgets_what_was_undone(self) -> None:
        self.set_speed(60.0)
        self.document.undo()
        self.set_speed(40.0)
        self.assertIsNone(self.document.redo_label)

    def test_applying_the_same_is_no_step(self) -> None:
        self.set_speed(50.0)
        self.assertIsNone(self.document.undo_label)
        self.assertIs(self.document.project, self.start)

    def test_saved_follows_undo(self) -> None:
        self.set_speed(60.0)
        self.assertFalse(self.document.is_saved)
        self.document.mark_saved(self.document.project)
        self.set_speed(70.0)
        self.assertFalse(self.document.is_saved)
        self.document.undo()
        self.assertTrue(self.document.is_saved)
        # The same come to by another way is as good.
        self.set_speed(61.0)
        self.document.settle()
        self.set_speed(60.0)
        self.assertTrue(self.document.is_saved)

    def test_subscribers_get_old_and_new_and_can_leave(self) -> None:
        heard = []
        leave = self.document.subscribe(lambda old, new: heard.append((old, new)))
        self.set_speed(60.0)
        self.assertEqual(heard, [(self.start, self.document.project)])
        self.assertIs(heard[0][0].setup.mat, heard[0][1].setup.mat)
        leave()
        self.document.undo()
        self.assertEqual(len(heard), 1)

    def test_history_has_an_end(self) -> None:
        for i in range(MAX_STEPS + 20):
            self.set_speed(i % 100 + 0.5)
        steps = 0
        while self.document.undo_label:
            self.document.undo()
            steps += 1
        self.assertEqual(steps, MAX_STEPS)


class QuantityTest(unittest.TestCase):
    def test_a_value_outside_is_refused_by_name(self) -> None:
        with self.assertRaisesRegex(OutOfRangeError, "Drive.track_width_mm: 5 is outside 30 to 400"):
            Drive(track_width_mm=5.0)
        with self.assertRaises(ValueError):
            Drive(grip=float("nan"))

    def test_numbers_are_shown_in_their_unit(self) -> None:
        setup = demo_project("lighthouse").setup
        loop = quantity_at(setup, "program.loop_time_s")
        self.assertEqual((loop.shown(0.015), loop.unit), ("15", "ms"))
        self.assertEqual(Quantity("x", "", -10.0, 10.0, 1.0, 1.0, 1).shown(-3.04), "−3.04")
        self.assertEqual(Quantity("x", "", -10.0, 10.0, 1.0, 1.0, 1).shown(-0.0004), "0.0")

    def test_what_is_put_is_what_is_shown(self) -> None:
        setup = demo_project("lighthouse").setup
        for path, value, shown in (
            ("program.loop_time_s", 0.0123456, "12.35"),
            ("robot.drive.track_width_mm", 99.98136, "99.98"),
            ("program.proportional.gain", 0.70713, "0.7071"),
        ):
            made = put(setup, path, value)
            quantity = quantity_at(setup, path)
            stored = value_at(made, path)
            self.assertEqual(quantity.shown(stored), shown)
            self.assertAlmostEqual(stored * quantity.shown_per_stored, float(shown), places=9)
            self.assertAlmostEqual(stored, value, delta=0.006 / quantity.shown_per_stored)
        self.assertEqual(put(setup, "program.speed", 250.0).program.speed, 100.0)
        self.assertEqual(put(setup, "program.speed", -5.0).program.speed, 0.0)
        self.assertEqual(Quantity("x", "", 0.0, 1000.0, 1.0).shown(100.0), "100")
        self.assertEqual(Quantity("x", "", 0.0, 1000.0, 1.0, 1.0, 2).shown(100.0), "100.00")

    def test_changing_one_value_shares_the_rest(self) -> None:
        setup = demo_project("lighthouse").setup
        changed = with_value(setup, "robot.drive.grip", 0.4)
        self.assertEqual(value_at(changed, "robot.drive.grip"), 0.4)
        self.assertIs(changed.mat, setup.mat)
        self.assertIs(changed.robot.mount, setup.robot.mount)

    def test_every_default_lies_inside_its_range(self) -> None:
        parts = [demo_project("lighthouse").setup]
        checked = 0
        while parts:
            part = parts.pop()
            for name, quantity in quantities(type(part)).items():
                self.assertTrue(quantity.low <= getattr(part, name) <= quantity.high, name)
                checked += 1
            parts += [value for value in vars(part).values() if hasattr(value, "__dataclass_fields__")]
        self.assertGreater(checked, 40)


if __name__ == "__main__":
    unittest.main()
