"""The Trip stop in the real window: built, reordered, dragged and tuned, by mouse and by keys; and what it shows."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMenu

from irontrail.app.theme import LIGHT
from irontrail.app.widgets.strip_curves import curves_of
from irontrail.app.widgets.trip_hand import OTHER
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.mat.spots import misses
from irontrail.core.mat.tape import Spot
from irontrail.core.result import stands
from irontrail.core.steering.legs import (
    MAX_ENDS,
    AfterDistance,
    AfterTime,
    AtButton,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    FollowLeg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
)
from tests.said import as_recorded
from tests.seen import seen
from tests.support import StopTest

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class TripTest(StopTest):
    STOP, DEMO = "Trip", "lantern"

    def tearDown(self) -> None:
        self.sheet = self.ribbon = None
        super().tearDown()

    @property
    def legs(self) -> tuple:
        trip = self.session.setup.program.trip
        return trip.legs if trip is not None else ()

    def panel(self, name: str = "Legs") -> object:
        panel = self.window.panel("Trip")
        panel.turn_to(name)
        self.app.processEvents()
        return panel.sheet(name)

    # Whether each step waits for its run, and what is said of it.
    PATIENT = True

    def wait(self) -> None:
        if self.PATIENT:
            self.settle(self.session)
        else:
            self.app.processEvents()

    def press(self, button: object) -> None:
        QTest.mouseClick(button, LEFT)
        self.wait()

    def key(self, widget: object, key: Qt.Key, held: Qt.KeyboardModifier = NONE) -> None:
        widget.setFocus()
        QTest.keyClick(widget, key, held)
        self.wait()

    def type_in(self, dial: object, text: str) -> None:
        """Type a figure on a dial."""
        dial.setFocus()
        for letter in text:
            QTest.keyClick(self.app.focusWidget(), letter)
        QTest.keyClick(self.app.focusWidget(), Qt.Key.Key_Return)
        self.wait()

    def choose_in(self, box: object, kind: str) -> None:
        """Choose in a list as a hand does."""
        box.setCurrentIndex(box.findData(kind))
        box.activated.emit(box.currentIndex())
        self.wait()

    def change(self, *legs: object) -> None:
        setup = self.session.setup
        self.put(replace(setup, program=replace(setup.program, trip=Trip(legs))))


class RibbonTest(TripTest):
    def test_it_shows_the_legs_in_order_as_long_as_they_take_with_their_ends(self) -> None:
        ribbon = self.panel().ribbon
        words = seen(ribbon).texts
        for text in ("1  straight at 40", "when the line is found", "2  follow", "at the second crossing", "7  creep"):
            self.assertIn(text, words)
        run = self.session.view.run
        seconds = [run.trace.time_s[leg.over] - run.trace.time_s[leg.begun] for leg in run.legs]
        self.assertIn(f"{seconds[3]:.2f} s", words)
        heights = np.diff(ribbon.tops())
        longest, shortest = int(np.argmax(seconds[:-1])), int(np.argmin(seconds[:-1]))
        self.assertGreater(heights[longest], heights[shortest] + 15.0)
        ends = self.session.adviser.advice.leg_ends
        self.assertIn(f"{ends.legs[1].reached} of 40", words)

    def test_it_shows_which_way_it_turns_and_where_it_brakes_at_last(self) -> None:
        sheet = self.panel()
        self.assertEqual(
            [leg.turn_deg for leg in sheet.ribbon.legs if leg.kind == "turn"],
            [leg.angle_deg for leg in self.legs if isinstance(leg, TurnLeg)],
        )
        sheet.choose(1)
        self.assertEqual(sheet.editor.heading.text(), "Leg 2: follow")
        rolling = StraightLeg((AfterDistance(100.0),), then="roll on")
        self.change(rolling, rolling)
        # After the last leg there is nothing to roll on to.
        self.assertEqual([leg.brakes for leg in sheet.ribbon.legs], [False, True])

    def test_set_down_in_the_zone_it_is_not_moved_along_the_line(self) -> None:
        sheet = self.panel()
        self.press(sheet.starts["on the line"])
        self.session.set_value("trial.start_mm", 120.0)
        self.press(sheet.starts["in the zone"])
        trial = self.session.setup.trial
        self.assertEqual((trial.set_down, trial.start_mm), ("in the start zone", 0.0))
        self.assertEqual([name for name, each in sheet.starts.items() if each.isChecked()], ["in the zone"])

    def test_an_end_that_comes_seldom_is_told_in_rust_and_one_that_never_came_waits(self) -> None:
        self.change(StraightLeg((AfterDistance(100.0),)), WaitLeg((AtReading("below", 3.0),)), WaitLeg())
        ribbon = self.panel().ribbon
        picture = seen(ribbon)
        self.assertIn("waits: at a reading of 3 or less", picture.texts)
        as_recorded(self, "trip that waits", self.panel())
        self.assertIn("0 of 40", picture.texts)
        self.assertEqual(
            {word.colour.lower() for word in picture.words if word.text == "0 of 40"}, {self.window.theme.rust.lower()}
        )
        self.assertEqual(picture.word("40 of 40").colour.lower(), self.window.theme.second.lower())
        # The last leg was never driven: its picture is pale.
        self.assertIn("–", picture.texts)
        for leg, pale in ((0, False), (1, False), (2, True)):
            box = ribbon.box(leg)
            inside = [line for line in picture.lines if box.contains(QPointF(*line.middle))]
            self.assertEqual(any(line.opacity < 0.6 for line in inside), pale, leg)
        stop = self.window.line.stops["Trip"]
        self.assertIn("leg 2 waits", stop.accessibleName())

    def test_a_leg_is_dragged_to_another_place(self) -> None:
        ribbon = self.panel().ribbon
        before = self.legs
        at, tops = [ribbon.box(i).center() for i in range(7)], ribbon.tops()

        def mark() -> float:
            (line,) = (line for line in seen(ribbon).lines if line.width == 3.0)
            self.assertEqual(line.colour.lower(), self.window.theme.rust.lower())
            return line.middle[1]

        # A mark shows where it will lie: over the leg that it comes before, or under that which it comes after.
        self.drag_along(ribbon, [at[2], at[2] + QPointF(0, 12), QPointF(at[0].x(), tops[0] + 1.0)], release=False)
        self.assertAlmostEqual(mark(), tops[0], delta=0.5)
        QTest.mouseMove(ribbon, QPointF(at[0].x(), tops[5]).toPoint())
        self.assertAlmostEqual(mark(), tops[5], delta=0.5)
        QTest.mouseMove(ribbon, QPointF(at[0].x(), tops[0] + 1.0).toPoint())
        QTest.mouseRelease(ribbon, LEFT, pos=QPointF(at[0].x(), tops[0] + 1.0).toPoint())
        self.settle(self.session)
        self.assertEqual(self.legs, (before[2], before[0], before[1], *before[3:]))
        self.assertEqual(ribbon.chosen, 0)
        self.session.document.undo()
        self.assertEqual(self.legs, before)
        self.settle(self.session)
        self.drag_along(ribbon, [at[0], at[0] + QPointF(0, 12), QPointF(at[0].x(), ribbon.tops()[3])])
        self.assertEqual(self.legs, (before[1], before[2], before[0], *before[3:]))

    def test_a_pressed_gap_offers_the_legs_and_puts_one_in_there(self) -> None:
        ribbon = self.panel().ribbon
        before = self.legs
        shown: list[QMenu] = []
        with mock.patch.object(QMenu, "popup", lambda menu, _place: shown.append(menu)):
            QTest.mouseClick(ribbon, LEFT, NONE, QPoint(20, int(ribbon.tops()[3])))
        self.assertEqual([action.objectName() for action in shown[0].actions()], list(planned()))
        next(action for action in shown[0].actions() if action.objectName() == "wait").trigger()
        shown.clear()
        self.settle(self.session)
        self.assertEqual(self.legs, (*before[:3], WaitLeg(), *before[3:]))
        self.assertEqual(ribbon.chosen, 3)

    def test_by_keys_legs_are_chosen_moved_doubled_and_taken_out(self) -> None:
        ribbon, before = self.panel().ribbon, self.legs
        self.key(ribbon, Qt.Key.Key_Down)
        self.key(ribbon, Qt.Key.Key_Down)
        self.assertEqual(ribbon.chosen, 2)
        self.assertIn("leg 3 of 7: straight at 30, after 75 mm", ribbon.value_told())
        self.key(ribbon, Qt.Key.Key_Up, SHIFT)
        self.assertEqual((self.legs[1], ribbon.chosen), (before[2], 1))
        self.key(ribbon, Qt.Key.Key_Down, SHIFT)
        self.assertEqual((self.legs, ribbon.chosen), (before, 2))
        self.key(ribbon, Qt.Key.Key_Insert)
        self.assertEqual(self.legs, (*before[:3], before[2], *before[3:]))
        self.key(ribbon, Qt.Key.Key_Delete)
        self.assertEqual(self.legs, before)
        shown: list[QMenu] = []
        with mock.patch.object(QMenu, "popup", lambda menu, _place: shown.append(menu)):
            self.key(ribbon, Qt.Key.Key_Return)
        shown[0].actions()[4].trigger()
        shown.clear()
        self.settle(self.session)
        self.assertEqual(self.legs[3], WaitLeg())

    def test_more_legs_than_a_trip_holds_are_refused_in_words(self) -> None:
        self.change(*[WaitLeg((AfterTime(0.1),))] * 24)
        self.press(self.panel().editor.double_button)
        self.assertEqual(len(self.legs), 24)
        self.assertIn("a trip has at most 24 legs", self.window.notice.words.text())

    def test_brake_and_roll_on_are_drawn_apart(self) -> None:
        from irontrail.app.widgets.trip_ribbon import RibbonLeg, TripRibbon

        made = TripRibbon(self.window.theme)
        made.resize(280, 100)
        lines = {}
        for brakes in (True, False):
            made.set_legs((RibbonLeg("wait", "wait", "", brakes), RibbonLeg("wait", "wait", "", True)), -1)
            lines[brakes] = [line.points.tolist() for line in seen(made).lines]
        self.assertNotEqual(lines[True], lines[False])


def planned() -> tuple[str, ...]:
    from irontrail.core.steering.legs import LEGS

    return tuple(LEGS)


class LegTest(TripTest):
    def test_every_number_and_choice_of_every_leg_is_turned(self) -> None:
        self.change(FollowLeg((AfterDistance(300.0),)), StraightLeg(), TurnLeg(), CreepLeg(), WaitLeg())
        sheet = self.panel()
        typed = {
            "FollowLeg.speed": "33", "FollowLeg.ramp_up_mm": "40", "FollowLeg.ramp_down_mm": "50",
            "StraightLeg.power": "-35", "StraightLeg.ramp_up_mm": "60", "StraightLeg.ramp_down_mm": "70",
            "TurnLeg.angle_deg": "-45", "TurnLeg.power": "31", "TurnLeg.ramp_down_mm": "20",
            "CreepLeg.power_per_reading": "0.25", "CreepLeg.least_power": "9", "CreepLeg.dark_reading": "15",
            "CreepLeg.border_reading": "91",
        }  # fmt: skip
        kinds = ["FollowLeg", "StraightLeg", "TurnLeg", "CreepLeg", "WaitLeg"]
        for (kind, name), dial in sheet.editor.numbers.items():
            sheet.choose(kinds.index(kind.__name__))
            self.app.processEvents()
            self.assertTrue(dial.isVisible(), name)
            self.type_in(dial, typed[dial.objectName()])
            self.assertEqual(getattr(self.legs[sheet.chosen], name), float(typed[dial.objectName()]), name)
        for place, option, name, value in (
            (0, "left", "edge", "left"), (1, "not at all", "held", False), (2, "a wheel", "about", "wheel"),
        ):  # fmt: skip
            sheet.choose(place)
            self.app.processEvents()
            self.press(sheet.editor.options[type(self.legs[place])][1][option])
            self.assertEqual(getattr(self.legs[place], name), value)
        rolls = [line.points.tolist() for line in seen(sheet.ribbon).lines]
        self.press(sheet.editor.thens["roll on"])
        self.assertEqual(self.legs[2].then, "roll on")
        self.assertIn("leg 3 then", self.session.document.undo_label)
        self.assertEqual([then for then, button in sheet.editor.thens.items() if button.isChecked()], ["roll on"])
        self.assertEqual([leg.brakes for leg in sheet.ribbon.legs], [True, True, False, True, True])
        self.assertNotEqual([line.points.tolist() for line in seen(sheet.ribbon).lines], rolls)

    def test_what_there_is_to_choose_goes_by_the_leg(self) -> None:
        self.change(StraightLeg(), TurnLeg(ends=(AfterTime(1.0),)), CreepLeg())
        editor = self.panel().editor
        for leg, ends in ((0, "It ends"), (1, "It ends sooner")):
            self.panel().choose(leg)
            self.assertEqual(editor.ends_heading.text(), ends)
        self.panel().choose(2)
        # With one sensor it creeps by that.
        self.assertFalse(editor.options[CreepLeg][0].isVisible())
        self.panel().choose(0)
        self.assertTrue(editor.options[StraightLeg][0].isVisible())
        while len(self.legs[0].ends) < MAX_ENDS:
            self.assertTrue(editor.add_end.isVisible())
            editor.give_end("time")
            self.app.processEvents()
        self.assertFalse(editor.add_end.isVisible())

    def test_every_end_is_chosen_and_its_numbers_typed(self) -> None:
        self.change(StraightLeg((AfterTime(0.5),)))
        sheet = self.panel()
        for kind, made, typed in (
            ("distance", AfterDistance(250.0), {"distance_mm": "250"}),
            ("reading", AtReading("below", 33.0, 4.0), {"reading": "33", "for_mm": "4"}),
            ("mark", AtMark(3, "crossing", 9.0, 6.0), {"count": "3", "reading": "9", "for_mm": "6"}),
            ("line found", LineFound(44.0), {"reading": "44"}),
            ("button", AtButton(2.5), {"time_s": "2.5"}),
            ("finish", AtFinish(), {}),
            ("time", AfterTime(1.2), {"time_s": "1.2"}),
        ):
            editor = sheet.editor.ends["straight"][0]
            self.choose_in(editor.kinds, kind)
            for name, text in typed.items():
                self.assertTrue(editor.dials[kind, name].isVisible())
                self.type_in(editor.dials[kind, name], text)
            self.assertEqual(self.legs[0].ends, (made,))
        self.choose_in(sheet.editor.ends["straight"][0].kinds, "mark")
        self.press(sheet.editor.ends["straight"][0].options["mark", "bright mark"])
        self.assertEqual(self.legs[0].ends[0].mark, "bright mark")
        self.choose_in(sheet.editor.ends["straight"][0].kinds, "reading")
        self.press(sheet.editor.ends["straight"][0].options["reading", "above"])
        self.assertEqual(self.legs[0].ends[0].side, "above")

    def test_a_second_end_is_given_and_taken_away(self) -> None:
        sheet = self.panel()
        self.assertFalse(sheet.editor.ends["straight"][0].remove.isVisible())
        shown: list[QMenu] = []
        with mock.patch.object(QMenu, "popup", lambda menu, _place: shown.append(menu)):
            self.press(sheet.editor.add_end)
        next(action for action in shown[0].actions() if action.text() == "after a time").trigger()
        shown.clear()
        self.settle(self.session)
        self.assertEqual(self.legs[0].ends, (LineFound(45.0), AfterTime(1.0)))
        first, second = sheet.editor.ends["straight"]
        self.assertTrue(first.remove.isVisible() and second.isVisible())
        self.assertLess(first.y(), second.y())
        self.press(first.remove)
        self.assertEqual(self.legs[0].ends, (AfterTime(1.0),))

    def test_what_is_being_typed_is_of_the_leg_it_was_typed_for(self) -> None:
        sheet = self.panel()
        for act in (
            lambda: sheet.choose(2),
            lambda: sheet.kinds["creep"].click(),
            lambda: sheet.editor.double_button.click(),
            lambda: sheet.ribbon.moved.emit(0, 1),
        ):
            self.change(
                StraightLeg((AfterDistance(150.0),)), FollowLeg((AfterTime(1.0),)), StraightLeg((AfterTime(2.0),))
            )
            sheet.choose(0)
            dial = sheet.editor.ends["straight"][0].dials["distance", "distance_mm"]
            dial.setFocus()
            QTest.keyClicks(dial, "7")
            QTest.keyClicks(self.app.focusWidget(), "7")
            # Without the focus coming to it, as by what reads the screen.
            act()
            self.wait()
            self.assertIn(AfterDistance(77.0), [leg.ends[0] for leg in self.legs if leg.ends])
            self.assertIn(AfterTime(2.0), [leg.ends[0] for leg in self.legs if leg.ends])

    def test_what_was_typed_for_a_leg_that_went_otherwise_is_of_no_other(self) -> None:
        sheet = self.panel()
        self.change(FollowLeg((AfterTime(1.0),)))
        self.change(StraightLeg((AfterDistance(150.0), AfterTime(3.0))))
        dial = sheet.editor.ends["straight"][1].dials["time", "time_s"]
        dial.setFocus()
        QTest.keyClicks(dial, "9")
        self.session.document.undo()
        self.wait()
        self.assertEqual(self.legs, (FollowLeg((AfterTime(1.0),)),))

    def test_where_the_robot_is_set_down(self) -> None:
        sheet = self.panel()
        self.press(sheet.starts["on the line"])
        self.assertEqual(self.session.setup.trial.set_down, "on the line")
        self.assertEqual([name for name, button in sheet.starts.items() if button.isChecked()], ["on the line"])
        self.assertAlmostEqual(float(self.session.view.run.trace.y_mm[0]), 420.0, delta=1.0)
        self.press(sheet.starts["in the zone"])
        self.assertAlmostEqual(float(self.session.view.run.trace.y_mm[0]), 250.0, delta=1.0)

    def test_what_can_never_be_is_said_and_mended_before_it_is_driven(self) -> None:
        self.change(StraightLeg((AfterDistance(100.0),), power=2.0), WaitLeg((AfterTime(0.1),)))
        sheet = self.panel()
        self.assertIn("below 3 no wheel turns", sheet.remarks.said[0].says)
        self.press(sheet.remarks.rows[0].mend)
        self.assertEqual(self.legs[0].power, 7.0)
        self.assertEqual(sheet.remarks.said, ())


class OnMatTest(TripTest):
    def ring(self, leg: int) -> QPointF:
        mat = self.window.stage.mat
        return self.panel().hand.marks_px(mat.to_px())[leg]

    def drag_ring(self, leg: int, to_mm: tuple[float, float], keys: Qt.KeyboardModifier = NONE) -> None:
        mat = self.window.stage.mat
        start, end = self.ring(leg), mat.to_px().map(QPointF(*to_mm))
        self.drag_along(mat, [start + k * (end - start) for k in (0.0, 0.3, 0.6, 1.0)], keys)
        self.settle(self.session)

    def test_each_leg_has_its_stretch_and_a_numbered_mark_where_it_ends(self) -> None:
        self.panel()
        mat = self.window.stage.mat
        hand = self.panel().hand
        run = self.session.view.run
        self.assertEqual(len(hand.legs), 7)
        for made, leg in zip(hand.legs, run.legs, strict=True):
            self.assertEqual(made.x_mm.size, leg.over - leg.begun + 1)
        picture = seen(mat)
        for number in range(1, 8):
            ring = self.ring(number - 1)
            at = [word for word in picture.words if word.text == str(number)]
            self.assertLess(min(abs(each.x - ring.x()) + abs(each.y - ring.y()) for each in at), 10.0)
        # The mark of the last is the sensor of the robot at rest, on the cross line.
        self.assertAlmostEqual(hand.legs[-1].sensor[0], 1641.0, delta=3.0)

    def test_the_chosen_leg_is_drawn_thick_with_its_mark_filled_and_every_other_one_in_slate(self) -> None:
        sheet, mat = self.panel(), self.window.stage.mat
        for chosen, others in ((1, 2), (2, 3)):
            sheet.choose(chosen)
            picture, to_px, leg = seen(mat), mat.to_px(), sheet.hand.legs[chosen]
            (thick,) = (line for line in picture.of_colour(LIGHT.rust) if line.width == 4.0 and not line.closed)
            for i in (0, -1):
                place = to_px.map(QPointF(float(leg.x_mm[i]), float(leg.y_mm[i])))
                self.assertLess(np.hypot(*(thick.points[i] - [place.x(), place.y()])), 1.0)
            slate = [line for line in picture.of_colour(OTHER) if line.width == 2.4 and not line.closed]
            self.assertEqual(len(slate), others)
            middles = np.array([line.middle for line in picture.of_colour(LIGHT.rust, fill=True)])
            filled = [i for i in range(7) if np.hypot(*(middles - [self.ring(i).x(), self.ring(i).y()]).T).min() < 1.0]
            self.assertEqual(filled, [chosen])

    def test_a_mark_pressed_beside_the_ends_table_is_chosen_too(self) -> None:
        sheet, mat = self.panel("Ends"), self.window.stage.mat
        QTest.mouseClick(mat, LEFT, pos=sheet.hand.marks_px(mat.to_px())[4].toPoint())
        self.app.processEvents()
        leg = sheet.hand.legs[4]
        (thick,) = (line for line in seen(mat).of_colour(LIGHT.rust) if line.width == 4.0 and not line.closed)
        begins = mat.to_px().map(QPointF(float(leg.x_mm[0]), float(leg.y_mm[0])))
        self.assertLess(np.hypot(*(thick.points[0] - [begins.x(), begins.y()])), 1.0)

    def test_a_distance_follows_the_hand_and_is_one_step_back(self) -> None:
        before = self.session.setup
        self.drag_ring(2, (1320.0, 410.0))
        moved = self.legs[2].ends[0]
        # 75 mm led the sensor to 1252, rolled out: it is dragged 68 mm on, and comes to stand there.
        self.assertAlmostEqual(moved.distance_mm, 75.0 + 68.0, delta=4.0)
        self.assertEqual(moved.distance_mm % 5.0, 0.0)
        self.assertAlmostEqual(self.panel().hand.legs[2].sensor[0], 1320.0, delta=4.0)
        self.session.document.undo()
        self.assertEqual(self.session.setup, before)

    def test_a_turn_turns_toward_the_hand(self) -> None:
        self.drag_ring(3, (1176.0 - 60.0, 411.0 + 60.0))
        run = self.session.view.run
        self.assertAlmostEqual(np.degrees(run.trace.heading_rad[run.legs[3].over]), 135.0, delta=4.0)
        self.assertEqual(self.legs[3].angle_deg % 5.0, 0.0)

    def test_a_mark_is_counted_by_where_it_is_dragged(self) -> None:
        self.drag_ring(1, (770.0, 420.0))
        self.assertEqual(self.legs[1].ends[0].count, 1)
        self.assertAlmostEqual(
            self.session.view.run.trace.x_mm[self.session.view.run.legs[1].ended] + 75.0, 760.0, delta=12
        )

    def test_a_reading_becomes_what_is_read_where_it_is_dragged(self) -> None:
        self.change(StraightLeg((AtReading("below", 20.0),), power=30.0), WaitLeg((AfterTime(0.2),)))
        run = self.session.view.run
        row = run.legs[0].ended
        back = run.trace.heading_rad[row]
        tip = (
            float(run.trace.x_mm[row] + 71.0 * np.cos(back)), float(run.trace.y_mm[row] + 71.0 * np.sin(back)),
        )  # fmt: skip
        self.drag_ring(0, tip)
        reading = self.legs[0].ends[0].reading
        self.assertGreater(reading, 25.0)
        made = self.session.view.run.legs[0]
        self.assertLess(made.ended, row)
        self.assertLessEqual(self.session.view.run.trace.reading[made.ended], reading)

    def test_while_it_is_held_the_mark_tells_what_it_becomes(self) -> None:
        hand, said = self.panel().hand, []
        hand.changed.connect(lambda: said.append(hand.words))
        self.drag_ring(2, (1320.0, 410.0))
        self.assertIn("after 145 mm", said)
        self.assertEqual(hand.words, "")

    def test_by_keys_on_the_mat(self) -> None:
        mat, sheet = self.window.stage.mat, self.panel()
        sheet.choose(2)
        self.key(mat, Qt.Key.Key_Up, SHIFT)
        self.assertEqual(self.legs[2].ends[0].distance_mm, 85.0)
        self.key(mat, Qt.Key.Key_Left, SHIFT)
        self.assertEqual(self.legs[2].ends[0].distance_mm, 75.0)
        self.key(mat, Qt.Key.Key_PageDown)
        self.assertEqual(sheet.chosen, 3)
        self.key(mat, Qt.Key.Key_Up, SHIFT)
        self.assertEqual(self.legs[3].angle_deg, 95.0)
        self.key(mat, Qt.Key.Key_Insert)
        self.assertEqual(len(self.legs), 8)
        self.key(mat, Qt.Key.Key_Delete)
        self.assertEqual(len(self.legs), 7)

    def test_ellipses_and_fans_lie_where_the_legs_end_over_many_starts(self) -> None:
        hand = self.panel("Ends").hand
        ends = self.session.adviser.advice.leg_ends
        for made, end in zip(hand.legs, ends.legs, strict=True):
            self.assertEqual(made.scatter.middle, end.middle)
            self.assertAlmostEqual(made.scatter.half[0], 2.4477 * end.axes[0])
            np.testing.assert_array_equal(made.scatter.headings, end.heading_rad)
        # They are drawn: the ellipse of the first leg is some seventy pixels long.
        mat = self.window.stage.mat
        middle = mat.to_px().map(QPointF(*ends.legs[0].middle))
        away = QPointF(np.cos(ends.legs[0].axes[2]), -np.sin(ends.legs[0].axes[2])) * 28.0
        image = mat.grab().toImage()
        ratio = image.devicePixelRatio()
        inside = image.pixelColor(((middle + away) * ratio).toPoint())
        outside = image.pixelColor(((middle + 2.0 * away) * ratio).toPoint())
        self.assertLess(inside.lightness(), outside.lightness())
        # Of an older setup nothing is shown.
        self.session.edit(
            "faster", replace(self.session.setup, program=replace(self.session.setup.program, speed=41.0))
        )
        self.app.processEvents()
        self.assertIsNone(hand.legs[0].scatter)
        self.settle(self.session)


class ShownTest(TripTest):
    def test_the_strip_has_the_legs_along_its_top_and_runs_by_driven_distance(self) -> None:
        strip = self.window.stage.strip
        words = seen(strip).texts
        for text in ("1 straight at 40", "2 follow", "5 follow", "7 creep"):
            self.assertIn(text, words)
        picture = strip.picture
        self.assertAlmostEqual(picture.length_m, self.session.view.figures.path_length_mm / 1000.0, places=6)
        self.assertEqual(picture.legs[-1].places_m[1], picture.run.place_m[-1])
        for one, other in zip(picture.legs, picture.legs[1:], strict=False):
            self.assertEqual(one.places_m[1], other.places_m[0])
        # Off the line there is no distance from an edge: its lane is in two parts.
        row = [lane.name for lane in picture.lanes].index("off edge")
        curves = curves_of(strip.axis, picture, strip.theme)
        (off_edge,) = (curve for curve in curves if curve.within == strip.axis.lane(row))
        self.assertEqual(len(off_edge.parts()), 2)
        self.session.playback.seek(0.5)
        self.assertIn("off edge not known", strip.value_told())
        self.window.stage.set_by_place(False)
        self.assertAlmostEqual(strip.axis.legs[1].times_s[0], 1.7, delta=0.2)
        self.assertIn("2 follow", seen(strip).texts)

    def test_at_rest_the_sensor_is_marked_where_it_is_mounted(self) -> None:
        hand = self.panel().on_mat.hand
        self.edit("robot.mount.aside_mm", 20.0)
        run, mount, last = self.session.view.run, self.session.setup.robot.mount, hand.legs[-1]
        away = np.subtract(last.sensor, last.axle)
        ahead = np.array([np.cos(run.rest_heading_rad), np.sin(run.rest_heading_rad)])
        self.assertAlmostEqual(float(away @ ahead), mount.ahead_mm, places=6)
        self.assertAlmostEqual(float(ahead[0] * away[1] - ahead[1] * away[0]), 20.0, places=6)

    def test_the_ends_sheet_tells_each_leg_and_the_spot(self) -> None:
        sheet = self.panel("Ends")
        ends = self.session.adviser.advice.leg_ends
        texts = [cell.text() for cell in sheet.cells[1]]
        large, small, _ = ends.legs[0].axes
        expected = ["1  straight at 40", "40", f"{large:.1f} mm", f"{small:.1f} mm", f"{ends.legs[0].spread_deg:.1f}°"]
        self.assertEqual(texts, expected)
        self.assertIn(f"{ends.spots[0]} of 40 starts reach it", sheet.spots.text())
        mat = self.session.setup.mat
        self.session.choose_mat(replace(mat, spots=()))
        self.settle(self.session)
        self.assertIn("None on this mat", sheet.spots.text())

    def test_of_starts_that_do_not_all_arrive_it_tells_how_many_do(self) -> None:
        self.window.actions_of.named["demo lantern-on-off"].trigger()
        sheet = self.panel("Ends")
        self.settle(self.session)
        ends = self.session.adviser.advice.leg_ends
        reached = [row[1].text() for row in sheet.cells[1 : 1 + len(ends.legs)]]
        self.assertEqual(reached, [str(leg.reached) for leg in ends.legs])
        self.assertLess(int(reached[-1]), int(reached[0]))
        self.assertLess(ends.spots[0], ends.legs[-1].reached)
        self.assertIn(f"The spot: {ends.spots[0]} of 40 starts reach it.", sheet.spots.text())
        missed = misses(self.session.setup.mat.spots, stands(self.session.view.run))
        self.assertIn(f"misses it by {missed.mm[0]:.0f} mm and {missed.deg[0]:.1f}°.", sheet.spots.text())
        as_recorded(self, "ends told", sheet)
        self.assertNotEqual(f"{missed.mm[0]:.0f}", f"{missed.deg[0]:.0f}")

    def test_spots_are_laid_down_and_dragged_like_other_things(self) -> None:
        sheet = self.visit("Mat", "Things")
        self.press(sheet.kinds["spot"])
        self.assertEqual(len(self.session.setup.mat.spots), 2)
        spot = self.session.setup.mat.spots[1]
        self.drag_on_mat((spot.x_mm, spot.y_mm), (spot.x_mm + 200.0, spot.y_mm - 100.0))
        self.settle(self.session)
        self.assertEqual(self.session.setup.mat.spots[1], replace(spot, x_mm=spot.x_mm + 200.0, y_mm=spot.y_mm - 100.0))
        dial = sheet.numbers[Spot, "heading_deg"]
        self.type_in(dial, "120")
        self.type_in(sheet.numbers[Spot, "within_mm"], "35")
        made = self.session.setup.mat.spots[1]
        self.assertEqual((made.heading_deg, made.within_mm), (120.0, 35.0))
        words = seen(self.window.stage.mat).texts
        self.assertIn("spot 2", words)
        # What it reaches is a figure.
        self.assertEqual(self.session.view.figures.spots_missed, 0.5)
        cells = self.visit("Run", "Figures").cells
        shown = {row[0].text(): row[1].text() for row in cells if row[0].isVisible()}
        self.assertEqual(shown["spots missed"], "50")

    def test_the_whole_trip_is_said_in_words_and_the_deciding_leg_is_lit(self) -> None:
        sheet = self.visit("Steer", "Words")
        said = [line.says for line in sheet.sentences.lines]
        self.assertTrue(said[1].startswith("Leg 2: follow the line; it ends at the second crossing"))
        self.assertEqual(len(said), 7 + 4)
        run = self.session.view.run
        for leg, place in ((0, 0), (3, 3)):
            self.window.stage._seek_row((run.legs[leg].begun + run.legs[leg].ended) // 2)
            self.app.processEvents()
            self.assertEqual(sheet.sentences.lit, place)

    def test_a_trip_that_did_not_end_says_in_which_leg(self) -> None:
        self.session.set_value("trial.time_limit_s", 5.0)
        self.change(StraightLeg((AfterDistance(100.0),)), WaitLeg((AtReading("below", 3.0),)), WaitLeg())
        self.session.looking.go_to("Run")
        self.window.panel("Run").turn_to("Findings")
        self.settle(self.session)
        sheet = self.window.panel("Run").sheet("Findings")
        self.assertIn("It ended in leg 2 of 3.", sheet.outcome.text())
        self.assertIn("Leg 2 (wait) waited: at a reading of 3 or less", sheet.list.said[0].says)

    def test_both_demos_and_the_words_of_the_logbook(self) -> None:
        self.session.keep()
        self.settle(self.session)
        sheet = self.panel()
        sheet.choose(2)
        self.type_in(sheet.editor.numbers[StraightLeg, "power"], "22")
        self.session.keep()
        self.settle(self.session)
        from irontrail.core.advice.changes import changes

        one, other = (kept.setup for kept in self.session.project.kept)
        self.assertEqual(changes(one, other), ("leg 3 power 30 → 22 %",))
        rough = demo_project("lantern-on-off").setup
        self.assertEqual(DEMOS["lantern-on-off"].make(), rough)
        self.assertEqual(rough.program.trip, demo_project("lantern").setup.program.trip)


class FromEmptyTest(TripTest):
    """The demo's trip, built from an empty list by what is on the screen."""

    PATIENT = False

    def setUp(self) -> None:
        super().setUp()
        setup = self.session.setup
        self.wanted = setup.program.trip.legs
        self.put(replace(setup, program=replace(setup.program, trip=None)))

    def test_by_mouse(self) -> None:
        sheet = self.panel()
        self.assertTrue(sheet.empty.isVisible())
        for kind in ("straight", "follow", "straight", "turn", "follow", "follow", "creep"):
            self.press(sheet.kinds[kind])
        self.assertEqual([leg.kind for leg in self.legs], [leg.kind for leg in self.wanted])
        # Each is chosen on the ribbon, and its numbers typed.
        for place, leg in enumerate(self.wanted):
            QTest.mouseClick(sheet.ribbon, LEFT, NONE, sheet.ribbon.box(place).center().toPoint() + QPoint(80, 0))
            self.assertEqual(sheet.chosen, place)
            self.bring_to(sheet, leg)
        self.assertEqual(self.legs, self.wanted)
        self.settle(self.session)
        self.assertEqual(self.session.view.figures.spots_missed, 0.0)

    def bring_to(self, sheet: object, leg: object) -> None:
        """Turn what differs of the chosen leg and its end."""
        for (kind, name), dial in sheet.editor.numbers.items():
            if kind is type(leg) and getattr(self.legs[sheet.chosen], name) != getattr(leg, name):
                self.type_in(dial, f"{getattr(leg, name):g}")
        for place, end in enumerate(leg.ends):
            editor = sheet.editor.ends[leg.kind][place]
            if self.legs[sheet.chosen].ends[place].kind != end.kind:
                self.choose_in(editor.kinds, end.kind)
            for (kind, name), dial in editor.dials.items():
                if kind == end.kind and getattr(self.legs[sheet.chosen].ends[place], name) != getattr(end, name):
                    self.type_in(dial, f"{getattr(end, name):g}")
        if self.legs[sheet.chosen].then != leg.then:
            self.press(sheet.editor.thens[leg.then])

    def test_by_keys_alone(self) -> None:
        sheet = self.panel()
        for kind in ("straight", "follow", "straight", "turn", "follow", "follow", "creep"):
            self.key(sheet.kinds[kind], Qt.Key.Key_Space)
        for _ in range(6):
            self.key(sheet.ribbon, Qt.Key.Key_Up)
        for place, leg in enumerate(self.wanted):
            self.assertEqual(sheet.chosen, place)
            for (kind, name), dial in sheet.editor.numbers.items():
                if kind is type(leg) and getattr(self.legs[place], name) != getattr(leg, name):
                    self.type_in(dial, f"{getattr(leg, name):g}")
            for i, end in enumerate(leg.ends):
                editor = sheet.editor.ends[leg.kind][i]
                for _ in range(8):
                    if self.legs[place].ends[i].kind == end.kind:
                        break
                    wanted, now = editor.kinds.findData(end.kind), editor.kinds.currentIndex()
                    self.key(editor.kinds, Qt.Key.Key_Down if wanted > now else Qt.Key.Key_Up)
                for (kind, name), dial in editor.dials.items():
                    if kind == end.kind and getattr(self.legs[place].ends[i], name) != getattr(end, name):
                        self.type_in(dial, f"{getattr(end, name):g}")
            if self.legs[place].then != leg.then:
                self.key(sheet.editor.thens["brake"], Qt.Key.Key_Right)
            self.key(sheet.ribbon, Qt.Key.Key_Down)
        self.assertEqual(self.legs, self.wanted)


if __name__ == "__main__":
    unittest.main()
