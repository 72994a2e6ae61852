"""What the pointer turns into over what can be taken hold of, and what is told of it there."""

import unittest
from typing import Any

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from irontrail.app.widgets.steering_curve import CURVE_TIP
from irontrail.core.mat.route import stroke_route
from tests.support import StopTest

ARROW, MOVES, PRESSED = Qt.CursorShape.ArrowCursor, Qt.CursorShape.SizeAllCursor, Qt.CursorShape.PointingHandCursor
# Bare mat on the demo's circuit, far from everything.
BARE = QPointF(1000.0, 560.0)


class PointingTest(StopTest):
    def setUp(self) -> None:
        super().setUp()
        self.mat = self.stage.mat

    def over(self, view: Any, at: QPointF) -> Qt.CursorShape:
        """What the pointer is there."""
        QTest.mouseMove(view, at.toPoint() + QPoint(0, 1))
        QTest.mouseMove(view, at.toPoint())
        return view.cursor().shape()

    def over_mat(self, at: QPointF) -> Qt.CursorShape:
        return self.over(self.mat, self.mat.to_px().map(at))


class OnMatTest(PointingTest):
    def test_tape_is_pressed_and_its_handles_are_moved(self) -> None:
        sheet = self.visit("Mat", "Tape")
        sheet.choose(0, 9)
        x, y, _ = stroke_route(self.session.setup.mat.line, "line").at(280.0)
        shapes = [self.over_mat(at) for at in (sheet.hand.handles()["middle", 9], QPointF(x, y), BARE)]
        self.assertEqual(shapes, [MOVES, PRESSED, ARROW])

    def test_things_are_moved_and_made_larger_by_their_corner(self) -> None:
        sheet = self.visit("Mat", "Things")
        self.press(sheet.kinds["patch"])
        box = sheet.hand.boxes[sheet.chosen]
        middle, corner = QPointF(box.x_mm, box.y_mm), sheet.hand.corner()
        away = QPointF(box.x_mm, box.y_mm + 2.0 * box.height_mm)
        shapes = [self.over_mat(at) for at in (middle, corner, away)]
        self.assertEqual(shapes, [MOVES, Qt.CursorShape.SizeBDiagCursor, ARROW])
        # The next one from none is the first.
        first, *_ = sheet.hand.boxes
        sheet.hand.chosen = None
        picked: list[Any] = []
        sheet.hand.picked.connect(picked.append)
        sheet.hand.choose(1)
        self.assertEqual(picked, [first])

    def test_the_sensor_held_over_the_mat_and_a_cut_across_it_are_moved(self) -> None:
        hand = self.visit("Light", "Probe").hand
        at = QPointF(hand.x_mm, hand.y_mm)
        self.assertEqual([self.over_mat(place) for place in (at, at + QPointF(150.0, 150.0))], [MOVES, ARROW])
        start, end = self.visit("Light", "Profile").hand.ends
        beside = 0.5 * (start + end) + 4.0 * QPointF(start.y() - end.y(), end.x() - start.x())
        shapes = [self.over_mat(place) for place in (start, 0.5 * (start + end), beside)]
        self.assertEqual(shapes, [MOVES, MOVES, ARROW])


class OnTripTest(PointingTest):
    DEMO = "lantern"

    def test_marks_on_the_mat_and_legs_and_gaps_on_the_ribbon(self) -> None:
        self.session.looking.go_to("Trip")
        self.settle(self.session)
        sheet = self.visit("Trip", "Legs")
        mark = sheet.hand.marks_px(self.mat.to_px())[0]
        self.assertEqual(self.over(self.mat, mark), MOVES)
        self.assertEqual(self.over(self.mat, mark + QPointF(0.0, 60.0)), ARROW)
        ribbon = sheet.ribbon
        top, below = ribbon.tops()[1:3]
        middle = QPointF(ribbon.width() / 2.0, 0.5 * (top + below))
        self.assertEqual(ribbon.leg_at(middle), 1)
        self.assertEqual(self.over(ribbon, middle), Qt.CursorShape.OpenHandCursor)
        gap = next(QPointF(x, top) for x in range(ribbon.width()) if ribbon.gap_at(QPointF(x, top)) is not None)
        self.assertEqual(self.over(ribbon, gap), PRESSED)
        self.assertEqual(self.over(ribbon, QPointF(middle.x(), ribbon.height() - 1.0)), ARROW)


class OnCurveTest(PointingTest):
    def test_a_handle_says_what_it_is_and_which_way_it_goes(self) -> None:
        curve = self.visit("Steer", "Law").curve
        for law, shapes in (
            ("bands", {"power": Qt.CursorShape.SizeVerCursor, "reading": Qt.CursorShape.SizeHorCursor}),
            ("proportional", {"both": MOVES}),
        ):
            self.session.choose_law(law)
            self.settle(self.session)
            seen = set()
            for handle in curve.picture.handles:
                shape = self.over(curve, curve.place_of(handle.reading, handle.power))
                if handle.moves in shapes:
                    seen.add(handle.moves)
                    self.assertEqual((shape, curve.toolTip()), (shapes[handle.moves], handle.label), handle.name)
            self.assertEqual(seen, set(shapes))
        self.assertEqual(self.over(curve, QPointF(1.0, 1.0)), ARROW)
        self.assertEqual(curve.toolTip(), CURVE_TIP)


if __name__ == "__main__":
    unittest.main()
