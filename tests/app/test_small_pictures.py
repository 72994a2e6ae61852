"""Small pictures that move or answer, read back; what stands still on the others is recorded (`tests/drawings.py`)."""

import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QSize, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from irontrail.app.kept_runs import MAX_SHOWN
from irontrail.app.theme import KEPT_DASHES, LIGHT
from tests.seen import Seen, seen
from tests.support import WindowTest, lighthouse, pixels_near

LEFT = Qt.MouseButton.LeftButton


class SmallPictureTest(WindowTest):
    """Each with numbers made up."""

    def setUp(self) -> None:
        super().setUp()
        from irontrail.app.theme import worn

        self.theme = worn(LIGHT)

    def drawn(self, view: Any, width: int = 300, height: int | None = None) -> Seen:
        view.resize(QSize(width, height or view.height()))
        return seen(view)

    def test_trade_offs_are_pressed_and_told(self) -> None:
        from irontrail.app.widgets.trade_off_picture import Point, TradeOffPicture

        view = TradeOffPicture(self.theme)
        self.assertEqual(self.drawn(view).texts, ["time, s", "swing, mm"], "nothing is numbered before it is found")
        points = (Point(10.0, 6.0, "PID"), Point(12.0, 3.0, "bands", 1))
        view.set_points(points, Point(11.0, 9.0), joined=False)
        self.assertEqual(view.value_told(), "PID 10.00 s, 6.0 mm; bands 12.00 s, 3.0 mm")
        view.at = 1
        self.assertEqual(view.value_told(), "bands 12.00 s, 3.0 mm")
        for i, point in enumerate(map(view.place, points)):
            chosen: list[int] = []
            view.chosen.connect(chosen.append)
            QTest.mouseClick(view, LEFT, pos=point.toPoint())
            view.chosen.disconnect()
            self.assertEqual(chosen, [i])

    def test_strains_are_told_where_they_are_pointed_at(self) -> None:
        from irontrail.app.widgets.strain_bars import StrainBars
        from irontrail.core.tune.robustness import Strain, StrainResult

        strain = Strain("battery", "robot.drive.battery", "%", -0.2, 0.2, 100.0, True)
        held = StrainResult(strain, (-0.2, 0.0, 0.2), (6, 20, 12), 20)
        view = StrainBars(self.theme)
        view.set_held((held,))
        self.assertIn("battery −20 %: 6 of 20 finish (truly 12 to 54 %)", view.accessibleDescription())
        first = self.drawn(view, 330, 44).of_colour(LIGHT.rust, fill=True)[0].middle
        with mock.patch("irontrail.app.widgets.strain_bars.QToolTip.showText") as shown:
            for at in (QPoint(round(first[0]), 20), QPoint(2, 20)):
                QApplication.sendEvent(view, QHelpEvent(QEvent.Type.ToolTip, at, at))
        self.assertEqual([call.args[1] for call in shown.call_args_list], [held.says(0), ""])

    def test_keys_on_the_side_view_raise_the_sensor_and_its_shield(self) -> None:
        from irontrail.app.widgets.side_view import SideView

        side = SideView(self.theme)
        side.set_sensor(10.0, 0.3, 5.0)
        moved: list[tuple[float, bool]] = []
        up, down, height, shield = Qt.Key.Key_Up, Qt.Key.Key_Down, side.height_dragged, side.shield_dragged
        for signal, key, value in ((height, up, 10.5), (height, down, 9.5), (shield, up, 0.25), (shield, down, 0.35)):
            side.chosen = "height" if signal is height else "shield"
            moved.clear()
            signal.connect(lambda value, settled: moved.append((value, settled)))
            QTest.keyClick(side, key)
            signal.disconnect()
            self.assertAlmostEqual(moved[0][0], value)

    def test_a_map_is_pressed_and_told(self) -> None:
        from irontrail.app.widgets.map_picture import MapPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.grid import GridSpec, explore

        setup = lighthouse()
        spec = GridSpec(setup, axis(setup, "program.speed"), axis(setup, "program.proportional.gain"), 6, 1)
        made = explore(spec)
        view = MapPicture(self.theme)
        view.resize(320, view.height())
        view.set_map(made, "time_s")
        chosen: list[tuple[int, int]] = []
        view.chosen.connect(lambda i, j: chosen.append((i, j)))
        QTest.mouseClick(view, LEFT, pos=view.cell_rect(4, 1).center().toPoint())
        self.assertEqual(chosen, [(4, 1)])
        view.at, told = None, "speed across, gain up, 36 cells"
        self.assertEqual(view.value_told(), told)
        values, share = made.shown("time_s")
        j, i = (int(place) for place in np.unravel_index(np.nanargmin(values), values.shape))
        view.at = (i, j)
        at = f"{spec.x.shown(spec.value(spec.x, i))} and {spec.y.shown(spec.value(spec.y, j))}"
        does = f"finishes {100 * share[j, i]:.0f} %, {values[j, i]:.2f} s"
        self.assertEqual(view.value_told(), f"{told}; at {at}: {does}")
        view.set_map(replace(made, done=np.zeros_like(made.done)), "time_s")
        self.assertEqual(view.value_told(), f"speed across, gain up, 0 cells; at {at}: not run yet")

    def test_keys_go_from_colour_to_colour(self) -> None:
        from irontrail.app.widgets.colour_matrix import Cell, ColourMatrix

        view = ColourMatrix(self.theme)
        colours = (("black", "#202020"), ("red", "#cc2020"), ("white", "#ffffff"))
        view.set_cells(colours, tuple(tuple(Cell(10.0, "hardly") for _ in colours) for _ in colours))
        chosen: list[tuple[int, int]] = []
        view.chosen.connect(lambda line, surround: chosen.append((line, surround)))
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down):
            QTest.keyClick(view, key)
        QTest.keyClick(view, Qt.Key.Key_Return)
        QTest.keyClick(view, Qt.Key.Key_Up)
        QTest.keyClick(view, Qt.Key.Key_Left)
        QTest.keyClick(view, Qt.Key.Key_Return)
        self.assertEqual(chosen, [(2, 2), (1, 1)])

    def test_signs_of_playing_point_their_way(self) -> None:
        from irontrail.app.widgets.playback_bar import SignButton

        for sign, ahead in (("back", False), ("forward", True), ("play", True)):
            view = SignButton(sign, sign, self.theme)
            shape = max(seen(view).lines, key=lambda line: len(np.unique(line.points, axis=0)) == 3)
            tip = shape.points[np.argmax(np.abs(shape.points[:, 1] - shape.points[:, 1].mean()) < 0.6)]
            self.assertEqual(tip[0] > shape.points[:, 0].mean(), ahead, sign)

    def test_the_map_darkens_what_takes_longer(self) -> None:
        from irontrail.app.widgets.map_drawing import TONES
        from irontrail.app.widgets.map_picture import MapPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.grid import GridSpec, explore

        setup = lighthouse()
        x, y = axis(setup, "program.speed", 30.0, 60.0), axis(setup, "program.proportional.gain", 0.2, 0.8)
        view = MapPicture(self.theme)
        view.resize(320, view.height())
        view.set_map(explore(GridSpec(setup, x, y, 4, 1)), "time_s")
        image = view.grab().toImage()
        values, _ = view.map.shown("time_s")
        j, i = np.unravel_index(np.nanargmin(values), values.shape)
        quick = image.pixelColor(view.cell_rect(int(i), int(j)).center().toPoint())
        self.assertEqual(quick.name().upper(), TONES[0], "the quickest is the lightest")
        j, i = np.unravel_index(np.nanargmax(values), values.shape)
        slow = image.pixelColor(view.cell_rect(int(i), int(j)).center().toPoint())
        self.assertEqual(slow.name().upper(), TONES[-1], "the slowest is the darkest")
        self.assertGreater(pixels_near(image, TONES[0], 12), 50)

    def test_what_stands_over_the_three_lines_does_not_run_together(self) -> None:
        from PySide6.QtGui import QFontMetricsF

        from irontrail.app.theme import font
        from irontrail.app.widgets.nearby_picture import NearbyPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.nearby import Nearby

        view, values, often = NearbyPicture(self.theme), (1.0, 2.0, 3.0), (1.0, 1.0, 1.0)
        small, large = ((4.6, 5.0, 9.4), (47.0, 48.0, 52.0)), ((10.6, 11.0, 13.4), (98.0, 99.0, 120.0))
        for (swings, rooms), wide, size in ((small, 316, 10), (small, 292, 9), (large, 292, 9)):
            near = Nearby(axis(lighthouse(), "program.speed"), values, often, (20.07, 20.08, 20.09), swings, rooms)
            view.set_near(near)
            words = sorted(self.drawn(view, wide).words, key=lambda word: word.x)
            self.assertEqual(len(words), 3)
            widths = [QFontMetricsF(font(size)).horizontalAdvance(word.text) for word in words]
            # In letters of that size, with the room that is left shared among the three.
            starts = 8.0 + np.cumsum([0.0, *widths[:2]]) + np.arange(3) * (wide - 16.0 - sum(widths)) / 3
            np.testing.assert_allclose([word.x for word in words], starts, atol=0.6)
            ends = [word.x + width for word, width in zip(words, widths, strict=True)]
            self.assertTrue(all(end + 3.0 < after.x for end, after in zip(ends, words[1:], strict=False)), ends)
            self.assertLess(ends[-1], wide)

    def test_the_patch_is_drawn_as_it_lies_with_its_reading(self) -> None:
        from irontrail.app.widgets.patch_picture import PatchPicture

        mat = np.full((200, 200, 3), 0.9, np.float32)
        # Dark above and to the left of the probe.
        mat[100:, :100] = 0.02
        view = PatchPicture(self.theme)
        view.set_patch(mat, 100.0, 100.0, 4.5)
        view.set_words("47", ("raw 31 %", "dark side"))
        picture = self.drawn(view)
        self.assertTrue({"47", "raw 31 %", "dark side"} <= set(picture.texts))
        self.assertLess(picture.word("47").y, picture.word("raw 31 %").y)
        rings = sorted(line.box[2] - line.box[0] for line in picture.of_colour(LIGHT.rust))
        self.assertAlmostEqual(rings[1] / rings[0], 2.0, delta=0.02)
        image = view.grab().toImage()
        middle = picture.of_colour(LIGHT.rust)[0].middle
        tones = {
            (across, up): image.pixelColor(round(middle[0] + 6 * across), round(middle[1] - 6 * up)).lightness()
            for across in (-1, 1)
            for up in (-1, 1)
        }
        self.assertEqual(min(tones, key=lambda place: tones[place]), (-1, 1))

    def test_keys_move_the_weight_toward_either_sensor(self) -> None:
        from irontrail.app.widgets.weight_picture import Weighing, WeightPicture

        view = WeightPicture(self.theme)
        view.set_weighing(Weighing(90.0, 30.0, 0.75, 75.0))
        dragged: list[tuple[float, bool]] = []
        view.dragged.connect(lambda weight, settled: dragged.append((weight, settled)))
        QTest.keyClick(view, Qt.Key.Key_Right)
        QTest.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(dragged, [(0.76, True), (0.65, True)])

    def test_a_run_of_the_logbook_says_its_star_and_its_note(self) -> None:
        from irontrail.app.widgets.log_list import LogEntry, LogList

        log = LogList(self.theme)
        starred = LogEntry(7, "speed 50 → 60", "10.5 s", "quick", True, None, "")
        log.set_entries((starred, LogEntry(6, "first of all", "12.1 s", "", False, 0, "")))
        rows = [log.model().index(row, 0) for row in range(2)]
        said = [row.data(Qt.ItemDataRole.AccessibleTextRole) for row in rows]
        self.assertEqual(said, ["run 7, starred: speed 50 → 60; 10.5 s", "run 6: first of all; 12.1 s"])
        tips = [row.data(Qt.ItemDataRole.ToolTipRole) for row in rows]
        self.assertEqual(tips, ["speed 50 → 60\nquick", "first of all"])

    def test_alike_wheels_go_straight_on_or_stand(self) -> None:
        from irontrail.app.widgets.turn_picture import Turning, TurnPicture

        view = TurnPicture(self.theme)
        alike = [Turning(False, 12.0, power, power, 0.0) for power in (50.0, 0.0)]
        self.assertEqual([view.way(each) for each in alike], ["goes straight on", "stands"])

    def test_the_colour_it_has_is_framed_and_arrows_go_on_from_it(self) -> None:
        from irontrail.app.widgets.swatches import Swatches
        from irontrail.core.light.contrast import COLOURS

        colours = [colour for _, colour in COLOURS]
        view = Swatches("Tape", self.theme)
        chosen: list[str] = []
        view.chosen.connect(chosen.append)
        for written in (colours[2], colours[2].upper()):
            view.set_colour(written)
            framed = self.drawn(view.row, view.row.width()).of_colour(LIGHT.rust)
            self.assertEqual([line.fill.lower() for line in framed], [colours[2]])
            QTest.keyClick(view.row, Qt.Key.Key_Right)
            QTest.keyClick(view.row, Qt.Key.Key_Left)
            self.assertEqual(chosen[-2:], [colours[3], colours[1]])
        view.set_colour("#123457")
        self.assertEqual(self.drawn(view.row, view.row.width()).of_colour(LIGHT.rust), [])

    def test_dashes_of_kept_runs_are_as_many_as_can_be_shown(self) -> None:
        self.assertEqual(len(set(KEPT_DASHES)), MAX_SHOWN)


if __name__ == "__main__":
    unittest.main()
