"""Laying tape: what a hand on a joint does, circuits that stay closed, forks that go along."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from irontrail.core.errors import IronTrailError
from irontrail.core.mat import laying, lines
from irontrail.core.mat.demos import DEMO_MATS, ferry_fork, lighthouse_loop
from irontrail.core.mat.laying import FREE, drag_end, drag_middle
from irontrail.core.mat.lead_back import joined, led_back
from irontrail.core.mat.pieces import length_of, longer, run_together, turned_round, within_the_rim
from irontrail.core.mat.route import piece_joints, piece_lengths, stroke_route
from irontrail.core.mat.seal import sealed
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Straight, Stroke, Wiggle

HOOK = Stroke(300.0, 200.0, 0.0, (Straight(400.0), Bend(150.0, 90.0), Straight(100.0)))


def end_of(stroke: Stroke) -> tuple[float, float]:
    """Where a stroke ends, in mm."""
    return piece_joints(stroke)[-1][:2]


class DragTest(unittest.TestCase):
    def test_the_end_of_a_straight_takes_the_bend_before_it_along(self) -> None:
        made = drag_end(HOOK, 2, 900.0, 700.0, FREE)
        self.assertLess(np.hypot(end_of(made)[0] - 900.0, end_of(made)[1] - 700.0), 0.3)
        self.assertEqual(made.pieces[0], HOOK.pieces[0])
        self.assertEqual(made.pieces[1].radius_mm, 150.0)

    def test_across_the_straight_ahead_the_bend_turns_the_other_way(self) -> None:
        made = drag_end(HOOK, 2, 900.0, 40.0, FREE)
        self.assertLess(made.pieces[1].angle_deg, 0.0)
        self.assertLess(np.hypot(end_of(made)[0] - 900.0, end_of(made)[1] - 40.0), 0.3)

    def test_lengths_and_angles_land_on_whole_steps(self) -> None:
        made = drag_end(HOOK, 2, 893.0, 688.0)
        self.assertEqual((made.pieces[1].angle_deg % 5.0, made.pieces[2].length_mm % 10.0), (0.0, 0.0))

    def test_each_kind_of_end(self) -> None:
        corner = replace(HOOK, pieces=(Straight(300.0), Corner(30.0)))
        self.assertEqual(drag_end(corner, 1, 600.0, 400.0).pieces[1].angle_deg, 90.0)
        gap = replace(HOOK, pieces=(Straight(300.0), Gap(20.0)))
        self.assertEqual(drag_end(gap, 1, 641.0, 260.0).pieces[1].length_mm, 40.0)
        wave = Wiggle(2, 80.0, 45.0)
        wiggle = replace(HOOK, pieces=(wave,))
        far = 300.0 + 5 * 4 * 80.0 * np.sin(np.pi / 4)
        self.assertEqual(drag_end(wiggle, 0, far, 200.0).pieces[0].waves, 5)
        bend = replace(HOOK, pieces=(Bend(100.0, 90.0),))
        self.assertEqual(drag_end(bend, 0, 300.0, 400.0).pieces[0].angle_deg, 180.0)

    def test_the_first_straight_turns_an_open_line(self) -> None:
        made = drag_end(HOOK, 0, 300.0, 500.0)
        self.assertEqual((made.heading_deg, made.pieces[0].length_mm), (90.0, 300.0))
        self.assertEqual(made.pieces[1:], HOOK.pieces[1:])

    def test_the_middle_of_a_bend_is_its_radius(self) -> None:
        place = laying.middle_place(replace(HOOK, pieces=(Straight(400.0), Bend(220.0, 90.0))), 1)
        made = drag_middle(HOOK, 1, *place)
        self.assertEqual(made.pieces[1], Bend(220.0, 90.0))
        self.assertIsNone(laying.middle_place(HOOK, 0))

    def test_the_crest_of_a_wiggle_is_its_swing(self) -> None:
        line = replace(HOOK, pieces=(Wiggle(2, 80.0, 30.0),))
        place = laying.middle_place(replace(HOOK, pieces=(Wiggle(2, 80.0, -60.0),)), 0)
        self.assertEqual(drag_middle(line, 0, *place).pieces[0].swing_deg, -60.0)
        # As far as it can be swung, however far the hand goes.
        x, y, heading = piece_joints(line)[0]
        far = drag_middle(line, 0, x - 900.0 * np.sin(heading), y + 900.0 * np.cos(heading))
        self.assertEqual(far.pieces[0].swing_deg, 120.0)

    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(sorted(DEMO_MATS)), st.integers(0, 30), st.floats(-3000, 5000), st.floats(-3000, 5000))
    def test_a_hand_anywhere_leaves_a_line_that_can_be_laid(self, demo: str, at: int, x: float, y: float) -> None:
        line = DEMO_MATS[demo]().line
        at %= len(line.pieces)
        for drag in (drag_end, drag_middle):
            try:
                made = drag(line, at, x, y)
            except IronTrailError:
                continue
            route = stroke_route(made, demo)
            if made.closed:
                self.assertLess(np.hypot(route.x_mm[0] - route.x_mm[-1], route.y_mm[0] - route.y_mm[-1]), 1e-3)


class PlacesTest(unittest.TestCase):
    """Where things come to lie, to the millimetre."""

    def test_the_straight_after_a_corner_follows_the_hand_all_round(self) -> None:
        line = Stroke(500.0, 500.0, 90.0, (Straight(100.0), Corner(30.0), Straight(200.0)))
        for angle in (-120.0, -45.0, 10.0, 80.0, 150.0):
            way = np.radians(90.0 + angle)
            made = drag_end(line, 2, 500.0 + 300.0 * np.cos(way), 600.0 + 300.0 * np.sin(way), laying.FREE)
            self.assertAlmostEqual(made.pieces[1].angle_deg, angle, places=4)
            self.assertAlmostEqual(made.pieces[2].length_mm, 300.0, places=4)

    def test_middles_lie_on_the_tape_half_way_and_on_the_first_crest(self) -> None:
        for heading in (0.0, 50.0, 200.0):
            for angle in (80.0, -150.0):
                line = Stroke(900.0, 500.0, heading, (Straight(120.0), Bend(140.0, angle)))
                place = np.array(laying.middle_place(line, 1))
                joints = piece_joints(line)
                ends = [np.hypot(*(place - joint[:2])) for joint in joints[1:]]
                self.assertAlmostEqual(ends[0], ends[1], places=6)
                route = stroke_route(line, "bend")
                self.assertLess(np.hypot(route.x_mm - place[0], route.y_mm - place[1]).min(), 0.6)
            for swing in (40.0, -25.0):
                line = Stroke(900.0, 500.0, heading, (Straight(60.0), Wiggle(2, 70.0, swing)))
                place = np.array(laying.middle_place(line, 1))
                route = stroke_route(line, "wiggle")
                way = np.array([np.cos(np.radians(heading)), np.sin(np.radians(heading))])
                aside = (route.x_mm - 900.0) * -way[1] + (route.y_mm - 500.0) * way[0]
                crest = int(np.argmax(np.sign(swing) * aside[route.s_mm < 60.0 + 4 * 70.0 * np.radians(abs(swing))]))
                self.assertLess(np.hypot(route.x_mm[crest] - place[0], route.y_mm[crest] - place[1]), 2.0)
        self.assertIsNone(laying.middle_place(Stroke(0.0, 0.0, 0.0, (Straight(100.0),)), 0))

    def test_the_straight_after_a_bend_ends_where_the_hand_is(self) -> None:
        for heading in (0.0, 70.0, 210.0):
            for bend in (Bend(100.0, 60.0), Bend(160.0, -40.0)):
                line = Stroke(1000.0, 700.0, heading, (Straight(80.0), bend, Straight(150.0)))
                x, y, way = piece_joints(line)[1]
                for turn in (-110.0, -50.0, 35.0, 120.0):
                    to = (x + 420.0 * np.cos(way + np.radians(turn)), y + 420.0 * np.sin(way + np.radians(turn)))
                    made = drag_end(line, 2, *to, FREE)
                    end = piece_joints(made)[3]
                    self.assertLess(np.hypot(end[0] - to[0], end[1] - to[1]), 1.0, (heading, bend, turn))
                    self.assertEqual(made.pieces[1].radius_mm, bend.radius_mm)

    def test_a_fork_goes_along_and_bends_off_to_the_other_side(self) -> None:
        for ahead, side in ((Bend(150.0, 90.0), -1.0), (Bend(150.0, -90.0), 1.0), (Straight(50.0), 1.0)):
            line = Stroke(500.0, 500.0, 20.0, (Straight(300.0), ahead, Straight(100.0)))
            mat = lines.forked(Mat("one", line), 0, 0)
            self.assertEqual(mat.lines[0], line)
            self.assertEqual(mat.lines[1].pieces, (Straight(300.0), Bend(200.0, 60.0 * side), Straight(200.0)))
            self.assertEqual((mat.lines[1].x_mm, mat.lines[1].heading_deg), (line.x_mm, line.heading_deg))
            at_end = lines.forked(Mat("one", line), 0, 2)
            self.assertEqual(at_end.lines[1].pieces[:3], line.pieces)

    def test_a_fork_goes_along_with_its_stem_as_far_as_they_share_it(self) -> None:
        stem = Stroke(500.0, 500.0, 0.0, (Straight(300.0), Bend(150.0, 90.0), Straight(100.0)))
        mat = lines.forked(Mat("one", stem), 0, 0)
        longer = lines.with_line(mat, 0, replace(stem, pieces=(Straight(350.0), *stem.pieces[1:])))
        self.assertEqual(longer.lines[1].pieces[0], Straight(350.0))
        self.assertEqual(longer.lines[1].pieces[1:], mat.lines[1].pieces[1:])
        moved = lines.with_line(mat, 0, laying.moved(stem, 600.0, 450.0))
        self.assertEqual((moved.lines[1].x_mm, moved.lines[1].y_mm), (600.0, 450.0))
        # What is changed after they part is the stem's alone.
        apart = lines.with_line(mat, 0, replace(stem, pieces=(*stem.pieces[:2], Straight(250.0))))
        self.assertEqual(apart.lines[1], mat.lines[1])
        more = lines.with_line(mat, 0, laying.inserted(stem, 0, Straight(40.0)))
        self.assertEqual(more.lines[1].pieces[:2], (Straight(40.0), Straight(300.0)))

    def test_measures_in_words(self) -> None:
        said = [laying.in_words(piece) for piece in (
            Bend(150.0, 60.0), Bend(150.0, -90.0), Corner(-40.0), Wiggle(3, 80.0, -30.0), Straight(120.5), Gap(20.0),
        )]  # fmt: skip
        self.assertEqual(said, [
            "R 150 mm, 60° left", "R 150 mm, 90° right", "corner 40° right", "3 waves, R 80 mm, 30°", "120.5 mm",
            "gap 20 mm",
        ])  # fmt: skip

    def test_a_corners_joint_turns_it_towards_the_hand(self) -> None:
        line = Stroke(500.0, 500.0, 90.0, (Straight(100.0), Corner(30.0), Straight(200.0)))
        for angle in (-100.0, 60.0):
            way = np.radians(90.0 + angle)
            made = drag_end(line, 1, 500.0 + 200.0 * np.cos(way), 600.0 + 200.0 * np.sin(way), laying.FREE)
            self.assertAlmostEqual(made.pieces[1].angle_deg, angle, places=4)

    def test_a_line_taken_up_moves_the_goals_after_it_down(self) -> None:
        laid = [Stroke(100.0, 100.0 * i, 0.0, (Straight(100.0 + i),)) for i in range(1, 5)]
        for goal in range(4):
            mat = Mat("four", laid[0], other_lines=tuple(laid[1:]), goal=goal)
            for number in range(4):
                left = lines.without_line(mat, number)
                self.assertEqual(list(left.lines), [line for i, line in enumerate(laid) if i != number])
                if goal != number:
                    self.assertEqual(left.lines[left.goal], laid[goal])
                else:
                    self.assertEqual(left.goal, 0)

    def test_a_crossing_is_square_across_the_middle(self) -> None:
        for pieces, at in (((Straight(400.0),), 0), ((Straight(200.0), Bend(200.0, 90.0)), 1)):
            line = Stroke(600.0, 500.0, 0.0, pieces)
            mat = lines.crossed(Mat("one", line), 0, at, 300.0)
            other = mat.lines[1]
            (x, y, heading), (ex, ey, _) = piece_joints(other)
            middle = laying.middle_place(line, at) or (800.0, 500.0)
            self.assertAlmostEqual(0.5 * (x + ex), middle[0] if at else 800.0, places=6)
            self.assertAlmostEqual(0.5 * (y + ey), middle[1] if at else 500.0, places=6)
            self.assertAlmostEqual(np.degrees(heading), 90.0 if not at else 135.0, places=6)

    def test_pieces_that_leave_room_to_their_start_get_a_straight_of_it(self) -> None:
        from irontrail.core.mat.seal import spelled_out

        for turned in (0.0, 30.0, 200.0):
            pieces = (Straight(300.0), Bend(100.0, 180.0), Straight(350.0), Bend(100.0, 180.0))
            made = spelled_out(Stroke(800.0, 500.0, turned, pieces, closed=True))
            self.assertEqual(len(made.pieces), 5)
            self.assertAlmostEqual(made.pieces[4].length_mm, 50.0)
            behind = (Straight(350.0), Bend(100.0, 180.0), Straight(300.0), Bend(100.0, 180.0))
            self.assertEqual(len(spelled_out(Stroke(800.0, 500.0, turned, behind, closed=True)).pieces), 4)


class CircuitTest(unittest.TestCase):
    def test_what_is_held_stays_and_the_fewest_others_give_way(self) -> None:
        line = lighthouse_loop().line
        made = laying.replaced(line, 0, Straight(240.0))
        changed = [i for i, (a, b) in enumerate(zip(line.pieces, made.pieces, strict=True)) if abs_change(a, b) > 0.01]
        self.assertEqual(made.pieces[0], Straight(240.0))
        self.assertEqual(len(changed), 2)
        self.assertLess(np.hypot(*(np.array(end_of(made)) - (made.x_mm, made.y_mm))), 1e-6)

    def test_another_angle_is_made_up_by_the_next_bend(self) -> None:
        line = lighthouse_loop().line
        made = laying.replaced(line, 5, Bend(300.0, 100.0))
        self.assertEqual((made.pieces[5].angle_deg, made.pieces[7].angle_deg), (100.0, 80.0))

    def test_what_cannot_close_is_refused(self) -> None:
        ring = Stroke(500.0, 300.0, 0.0, (Bend(200.0, 360.0),), closed=True)
        with self.assertRaisesRegex(IronTrailError, "cannot be kept closed"):
            laying.replaced(ring, 0, Bend(200.0, 300.0))
        self.assertEqual(sealed(ring), ring)

    def test_an_open_line_is_led_back_tangent_and_on_the_mat(self) -> None:
        made = led_back(HOOK, 2000.0, 1000.0).stroke
        route = stroke_route(made, "hook")
        self.assertEqual(made.pieces[: len(HOOK.pieces)], HOOK.pieces)
        self.assertTrue(route.closed)
        self.assertLess(abs(np.sin(0.5 * (route.heading[-1] - route.heading[0]))), 1e-6)
        self.assertGreater(min(route.x_mm.min(), route.y_mm.min()), 0.0)
        self.assertLess(route.y_mm.max(), 1000.0)
        self.assertTrue(all(isinstance(piece, Bend | Straight) for piece in made.pieces[3:]))

    def test_a_way_back_is_the_gentlest_there_is_and_says_where_none_is_good(self) -> None:
        for radius, first, second in ((150.0, 500.0, 200.0), (100.0, 300.0, 400.0), (150.0, 800.0, 400.0)):
            line = Stroke(
                500.0, 200.0, 0.0, (Straight(first), Bend(radius, 90.0), Straight(second), Bend(radius, 90.0))
            )
            made = led_back(line, 2000.0, 1000.0)
            self.assertEqual(made.says, "")
            self.assertEqual(made.stroke.pieces[:4], line.pieces)
            bends = [piece for piece in made.stroke.pieces[4:] if isinstance(piece, Bend)]
            self.assertGreaterEqual(min(bend.radius_mm for bend in bends), 200.0)
            self.assertLessEqual(max(abs(bend.angle_deg) for bend in bends), 240.0)
            route = stroke_route(made.stroke, "led back")
            self.assertGreater(min(route.x_mm.min(), route.y_mm.min()), 20.0)
            self.assertLess(route.y_mm.max(), 980.0)
        # A stadium's missing half, as anybody would lay it.
        half = Stroke(500.0, 250.0, 0.0, (Straight(600.0), Bend(250.0, 180.0)))
        self.assertEqual(led_back(half, 2000.0, 1000.0).stroke.pieces[2:], (Straight(600.0), Bend(250.0, 180.0)))
        rim = Stroke(100.0, 100.0, 0.0, (Straight(1600.0), Bend(150.0, 90.0), Straight(400.0), Bend(150.0, 90.0)))
        self.assertIn("only 60 mm", led_back(rim, 2000.0, 1000.0).says)
        # Ends that turn away from each other are led about, wherever they point.
        for heading in (0.0, 40.0, 123.0, 260.0):
            for pieces in (
                (Straight(300.0), Bend(150.0, 100.0)),
                (Straight(250.0), Bend(180.0, -70.0), Straight(90.0)),
            ):
                line = Stroke(1000.0, 500.0, heading, pieces)
                made = led_back(line, 2400.0, 1400.0).stroke
                x, y, end = piece_joints(made)[-1]
                self.assertLess(np.hypot(x - made.x_mm, y - made.y_mm), 1e-3)
                self.assertLess(abs(np.sin(0.5 * (end - np.radians(heading)))), 1e-6)
                self.assertEqual(made.pieces[:2], pieces[:2])
        # A wider one comes too near the line; one that leaves the mat, or meets the line, is the shortest there is.
        near = Stroke(250.0, 250.0, 0.0, (Bend(100.0, 180.0), Bend(100.0, -60.0)))
        self.assertIn("only 80 mm", led_back(near, 2000.0, 1000.0).says)
        for start, pieces, says, way in (
            ((1150.0, 250.0), (Straight(600.0), Bend(200.0, -60.0)), "leaves the mat", (-120.0, 600.0, -180.0)),
            ((800.0, 450.0), (Bend(150.0, -180.0), Bend(100.0, -180.0)), "crosses", (128.66, 128.06, 231.34)),
        ):
            made = led_back(Stroke(*start, 0.0, pieces), 1400.0, 900.0)
            self.assertIn(says, made.says)
            sizes = [
                piece.angle_deg if isinstance(piece, Bend) else piece.length_mm for piece in made.stroke.pieces[2:5]
            ]
            np.testing.assert_allclose(sizes, way, atol=0.01)

    def test_an_end_brought_to_its_start_is_joined_by_giving_way_a_little(self) -> None:
        nearly = Stroke(
            500.0, 250.0, 0.0, (Straight(600.0), Bend(250.0, 178.0), Straight(590.0), Bend(248.0, 175.0))
        )  # fmt: skip
        made = joined(nearly, 2000.0, 1000.0).stroke
        self.assertTrue(made.closed)
        self.assertEqual(len(made.pieces), 4)
        self.assertLess(np.hypot(*(np.array(end_of(made)) - (made.x_mm, made.y_mm))), 1e-6)
        # From the side it cannot; a way round is found.
        aside = Stroke(500.0, 300.0, 0.0, (Straight(400.0), Bend(150.0, 180.0), Straight(300.0)))
        self.assertGreater(len(joined(aside, 2000.0, 1000.0).stroke.pieces), 3)

    def test_a_small_mat_takes_smaller_bends(self) -> None:
        line = Stroke(100.0, 60.0, 0.0, (Straight(200.0),))
        made = led_back(line, 420.0, 300.0).stroke
        route = stroke_route(made, "small")
        self.assertLess(max(route.x_mm.max(), route.y_mm.max()), 420.0)
        self.assertTrue(all(piece.radius_mm <= 120.0 for piece in made.pieces if isinstance(piece, Bend)))

    def test_a_piece_put_into_a_circuit_or_taken_up_leaves_it_closed(self) -> None:
        line = lighthouse_loop().line
        more = laying.inserted(line, 3, Straight(50.0))
        self.assertEqual((len(more.pieces), more.pieces[3]), (len(line.pieces) + 1, Straight(50.0)))
        self.assertLess(np.hypot(*(np.array(end_of(more)) - (more.x_mm, more.y_mm))), 1e-6)
        less = laying.removed(line, 6)
        self.assertLess(np.hypot(*(np.array(end_of(less)) - (less.x_mm, less.y_mm))), 1e-6)


def abs_change(first: object, second: object) -> float:
    """By how much the length or radius of a piece has changed."""
    size = "length_mm" if isinstance(first, Straight) else "radius_mm"
    return abs(getattr(first, size, 0.0) - getattr(second, size, 0.0))


class EndTest(unittest.TestCase):
    """What becomes of a line's end: at the rim, from the other end, farther on."""

    def test_what_ends_beyond_the_left_or_lower_rim_ends_on_it_if_it_leads_there(self) -> None:
        beyond = ((80.0, 300.0, 180.0, 80.0), (300.0, 60.0, -90.0, 60.0), (90.0, 70.0, -135.0, 99.0))
        for x, y, heading, length in beyond:
            ends = piece_joints(within_the_rim(Stroke(x, y, heading, (Straight(200.0),))))[-1]
            self.assertAlmostEqual(min(ends[0], ends[1]), 0.0, places=6)
            self.assertAlmostEqual(float(np.hypot(ends[0] - x, ends[1] - y)), length, delta=0.01)
        for kept in (
            Stroke(300.0, 300.0, 180.0, (Straight(200.0),)),
            Stroke(300.0, 300.0, 0.0, (Straight(200.0),)),
            # It ends beyond the rim, but leads along it or away from it.
            Stroke(40.0, 300.0, 180.0, (Bend(100.0, 90.0),)),
            Stroke(40.0, 300.0, 180.0, (Bend(100.0, 150.0),)),
        ):
            self.assertEqual(within_the_rim(kept), kept)

    def test_the_same_way_from_the_other_end(self) -> None:
        line = Stroke(300.0, 200.0, 20.0, (Straight(150.0), Bend(80.0, 70.0), Gap(30.0), Corner(-40.0), Straight(90.0)))
        back = turned_round(line)
        self.assertEqual([type(piece) for piece in back.pieces], [Straight, Corner, Gap, Bend, Straight])
        there, then = stroke_route(line, ""), stroke_route(back, "")
        np.testing.assert_allclose(then.x_mm[::-1], there.x_mm, atol=0.5)
        np.testing.assert_allclose(then.y_mm[::-1], there.y_mm, atol=0.5)
        self.assertTrue(-180.0 <= back.heading_deg < 180.0)

    def test_longer_and_shorter_as_it_ends(self) -> None:
        straight, bend = Stroke(0.0, 0.0, 0.0, (Straight(50.0),)), Stroke(0.0, 0.0, 0.0, (Bend(100.0, -45.0),))
        self.assertEqual(longer(straight, 7.0).pieces, (Straight(57.0),))
        way = (Straight(50.0), Corner(90.0), Bend(80.0, 30.0), Straight(60.0))
        self.assertEqual(longer(replace(straight, pieces=way), 7.0).pieces, (*way[:3], Straight(67.0)))
        self.assertEqual(longer(straight, -7.0).pieces, (Straight(43.0),))
        self.assertEqual(longer(straight, -60.0), straight)
        (more,) = longer(bend, 10.0).pieces
        self.assertAlmostEqual(length_of(more), length_of(bend.pieces[0]) + 10.0)
        self.assertLess(more.angle_deg, -45.0)
        (less,) = longer(bend, -10.0).pieces
        self.assertAlmostEqual(length_of(less), length_of(bend.pieces[0]) - 10.0)
        cornered = Stroke(0.0, 0.0, 0.0, (Straight(50.0), Corner(90.0)))
        self.assertEqual(longer(cornered, 12.0).pieces[-1], Straight(12.0))
        self.assertEqual(longer(cornered, 0.5), cornered)
        round_once = Stroke(0.0, 0.0, 0.0, (Bend(100.0, 358.0),))
        self.assertEqual(longer(round_once, 40.0).pieces, (Bend(100.0, 358.0), Straight(40.0)))

    def test_pieces_in_a_row_that_are_one(self) -> None:
        one = run_together((Straight(30.0), Straight(40.0), Gap(5.0), Gap(6.0), Bend(90.0, 20.0), Bend(90.0, 30.0)))
        self.assertEqual(one, (Straight(70.0), Gap(11.0), Bend(90.0, 50.0)))
        apart = (Bend(90.0, 20.0), Bend(90.0, -30.0), Bend(120.0, -30.0), Straight(5.0), Gap(5.0), Straight(5.0))
        self.assertEqual(run_together(apart), apart)


class LineTest(unittest.TestCase):
    def test_turned_round_it_is_the_same_tape(self) -> None:
        for line in (HOOK, DEMO_MATS["tannery"]().line, DEMO_MATS["quarry"]().line, lighthouse_loop().line):
            back = laying.reversed_stroke(line)
            there, and_back = stroke_route(line, "there"), stroke_route(back, "back")
            self.assertAlmostEqual(there.length_mm, and_back.length_mm, places=2)
            away = np.hypot(there.x_mm[::-1] - and_back.x_mm, there.y_mm[::-1] - and_back.y_mm)
            self.assertLess(away.max(), 0.2)
            twice = laying.reversed_stroke(back)
            self.assertEqual(twice.pieces, line.pieces)

    def test_the_last_piece_stays(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "at least one piece"):
            laying.removed(replace(HOOK, pieces=(Straight(100.0),)), 0)

    def test_a_fork_goes_along_with_its_stem(self) -> None:
        mat = ferry_fork()
        longer = laying.replaced(mat.line, 0, Straight(500.0))
        made = lines.with_line(mat, 0, longer)
        self.assertEqual(made.other_lines[0].pieces[0], Straight(500.0))
        self.assertEqual(made.other_lines[1], mat.other_lines[1])
        branch = laying.replaced(made.line, 4, Bend(200.0, 60.0))
        self.assertEqual(lines.with_line(made, 0, branch).other_lines, made.other_lines)
        moved = lines.with_line(mat, 1, laying.moved(mat.other_lines[0], 200.0, 420.0))
        self.assertEqual((moved.line.x_mm, moved.line.y_mm), (200.0, 420.0))

    def test_a_line_that_cannot_be_laid_is_refused_and_one_that_cannot_go_along_stays(self) -> None:
        mat = lighthouse_loop()
        open_stroke = replace(mat.line, pieces=(*mat.line.pieces[:3], Corner(70.0), *mat.line.pieces[3:]))
        with self.assertRaisesRegex(IronTrailError, "do not meet"):
            lines.with_line(mat, 0, open_stroke)
        # A circuit that begins as a line that is changed cannot go along with it, and lies where it lay.
        both = replace(mat, line=replace(mat.line, closed=False), other_lines=(mat.line,))
        made = lines.with_line(both, 0, replace(open_stroke, closed=False))
        self.assertEqual(made.line.pieces, open_stroke.pieces)
        self.assertEqual(made.other_lines, (mat.line,))

    def test_a_new_fork_and_a_new_crossing(self) -> None:
        mat = lighthouse_loop()
        forked = lines.forked(mat, 0, 2)
        self.assertEqual(forked.other_lines[0].pieces[:3], mat.line.pieces[:3])
        crossed = lines.crossed(mat, 0, 0, 300.0)
        over = stroke_route(crossed.other_lines[0], "over").at(120.0)
        middle = stroke_route(mat.line, "line").at(0.5 * piece_lengths(mat.line)[0])
        self.assertLess(np.hypot(over[0] - middle[0], over[1] - middle[1]), 0.1)
        self.assertAlmostEqual(abs(np.sin(over[2] - middle[2])), 1.0, places=6)

    def test_lines_taken_up(self) -> None:
        mat = replace(ferry_fork(), goal=1)
        self.assertEqual(lines.without_line(mat, 0).goal, 0)
        self.assertEqual(lines.without_line(mat, 2).goal, 1)
        with self.assertRaisesRegex(IronTrailError, "needs a line"):
            lines.without_line(lighthouse_loop(), 0)

    def test_a_piece_in_words(self) -> None:
        self.assertEqual(laying.in_words(Bend(150.0, -90.0)), "R 150 mm, 90° right")
        self.assertEqual(laying.in_words(Corner(45.0)), "corner 45° left")
        self.assertEqual(laying.in_words(Gap(12.0)), "gap 12 mm")
        self.assertEqual(laying.in_words(Wiggle(3, 80.0, -45.0)), "3 waves, R 80 mm, 45°")
