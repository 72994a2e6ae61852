"""Drawings by other programs come in with the shape and scale they have, or say what they could not take."""

import gzip
import io
import unittest
from dataclasses import replace
from unittest import mock

import ezdxf
import numpy as np

from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.biarcs import laid_along
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.drawn_way import deviation, farthest
from irontrail.core.mat.route import make_route, stroke_route
from irontrail.core.mat.tape import MAX_OTHER_LINES, Bend, Corner, Gap, Mat, Patch, Spot, Straight, Stroke, Wiggle
from irontrail.files import dxf
from irontrail.files.drawn_mat import DrawnMat, NoLineError
from irontrail.files.svg.out import to_text
from irontrail.files.svg.read import from_bytes
from irontrail.files.svg.units import dashes_of, matrix_of

HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
    'width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
)
TAPE = 'fill="none" stroke="#112233" stroke-width="20"'


def drawn(body: str, head: str = HEAD) -> DrawnMat:
    return from_bytes(f"{head}{body}</svg>".encode(), "drawn", "drawn.svg")


def lengths(made: DrawnMat) -> list[float]:
    return [round(stroke_route(line, "").length_mm, 1) for line in made.mat.lines]


def circle(sides: int, radius: float = 300.0) -> np.ndarray:
    turn = np.linspace(0.0, 2.0 * np.pi, sides + 1)
    return np.column_stack((1000.0 + radius * np.cos(turn), 500.0 + radius * np.sin(turn)))


def shaped(d: str) -> str:
    return f'<path d="{d}" {TAPE}/>'


class WayTest(unittest.TestCase):
    """Points become tape that lies on them."""

    def laid(self, way: np.ndarray, closed: bool, within: float = 0.5) -> Stroke:
        stroke = laid_along([way], (float(way[0, 0]), float(way[0, 1])), closed)
        self.assertLessEqual(deviation(stroke, way), within)
        if closed:
            stroke_route(replace(stroke, closed=True), "")
        return stroke

    def test_a_circle_of_any_number_of_sides(self) -> None:
        for sides in (239, 300, 1900, 20_000):
            stroke = self.laid(circle(sides), True)
            self.assertLessEqual(len(stroke.pieces), 3, sides)
            self.assertTrue(all(isinstance(piece, Bend) for piece in stroke.pieces))
            self.assertAlmostEqual(sum(piece.angle_deg for piece in stroke.pieces), 360.0, delta=0.1)
            for piece in stroke.pieces:
                self.assertAlmostEqual(piece.radius_mm, 300.0, delta=0.5)
        corners = self.laid(circle(8), True).pieces
        self.assertEqual(sum(isinstance(piece, Corner) for piece in corners), 8)

    def test_straights_and_arcs_in_points_become_those_pieces(self) -> None:
        quarter = np.linspace(-0.5 * np.pi, 0.0, 30)
        bend = np.column_stack((800.0 + 100.0 * np.cos(quarter), 200.0 + 100.0 * np.sin(quarter)))
        way = np.concatenate(([[200.0, 100.0]], bend, [[900.0, 600.0], [500.0, 600.0]]))
        first, turn, second, corner, third = self.laid(way, False).pieces
        self.assertAlmostEqual(first.length_mm, 600.0, delta=0.5)
        self.assertAlmostEqual(turn.radius_mm, 100.0, delta=0.5)
        self.assertAlmostEqual(turn.angle_deg, 90.0, delta=0.3)
        self.assertAlmostEqual(second.length_mm, 400.0, delta=0.5)
        self.assertAlmostEqual(corner.angle_deg, 90.0, delta=0.1)
        self.assertAlmostEqual(third.length_mm, 400.0, delta=0.5)

    def test_curves_hands_and_dense_points(self) -> None:
        x = np.linspace(100.0, 1900.0, 900)
        self.assertLess(len(self.laid(np.column_stack((x, 500.0 + 150.0 * np.sin(x / 120.0))), False).pieces), 60)
        noise = np.random.default_rng(1).normal(0.0, 0.5, 900)
        self.laid(np.column_stack((x, 500.0 + 150.0 * np.sin(x / 120.0) + noise)), False)
        turn = np.linspace(0.0, 2.0 * np.pi, 400)
        self.laid(np.column_stack((1000.0 + 600.0 * np.cos(turn), 500.0 + 200.0 * np.sin(turn))), True)
        fine = np.arange(0.0, 800.0, 0.2)
        way = np.concatenate(
            (np.column_stack((100.0 + fine, 0.0 * fine + 100.0)), np.column_stack((0.0 * fine + 899.8, 100.0 + fine)))
        )
        kinds = [type(piece) for piece in self.laid(way, False).pieces]
        self.assertEqual(kinds, [Straight, Corner, Straight])

    def test_what_is_no_line_is_refused(self) -> None:
        for way in (np.array([[1.0, 1.0], [1.0, 1.0]]), np.empty((0, 2))):
            with self.assertRaises(IronTrailError):
                laid_along([way], (1.0, 1.0), False)
        with self.assertRaisesRegex(IronTrailError, "beside the mat"):
            laid_along([np.array([[-5.0, 1.0], [90.0, 1.0]])], (-5.0, 1.0), False)


class SvgTest(unittest.TestCase):
    def test_pieces_end_to_end_are_one_line(self) -> None:
        made = drawn(
            f'<path d="M100 100 H500" {TAPE}/><path d="M900 500 V100 H500" {TAPE}/>'
            f'<path d="M900 500 L1200 500" {TAPE}/>'
        )
        self.assertEqual(lengths(made), [1500.0])
        circuit = drawn(
            "".join(f'<path d="{d}" {TAPE}/>' for d in ("M100 100H500", "M500 500V100", "M500 500H100", "M100 500V100"))
        )
        self.assertEqual((lengths(circuit), circuit.mat.line.closed), ([1600.0], True))

    def test_the_route_is_the_line_from_the_start_zone_or_one_that_a_person_picks(self) -> None:
        two = f'<path d="M900 300 H300" {TAPE}/><path d="M300 500 H1200" {TAPE}/>'
        zone = '<rect id="start" x="250" y="250" width="100" height="100" fill="none" stroke="#888"/>'
        told = drawn(zone + two)
        self.assertEqual((lengths(told)[0], told.choices), (600.0, ()))
        self.assertAlmostEqual(told.mat.line.x_mm, 300.0)
        asked = drawn(two)
        self.assertEqual([round(make_route(mat).length_mm) for mat in asked.choices], [900, 600])
        framed = drawn(f'<rect x="20" y="20" width="1960" height="960" {TAPE}/><path d="M300 300 H900" {TAPE}/>')
        self.assertEqual((lengths(framed)[0], framed.choices), (600.0, ()))

    def test_only_what_is_seen_comes_in(self) -> None:
        hidden = (
            f'<g display="none"><path d="M0 50 H900" {TAPE}/>'
            f'</g><g visibility="hidden"><path d="M0 60 H900" {TAPE}/></g>'
            f'<g opacity="0"><path d="M0 70 H900" {TAPE}/></g><defs><path d="M0 80 H900" {TAPE}/></defs>'
            f'<symbol id="s"><path d="M0 90 H900" {TAPE}/></symbol><mask><path d="M0 95 H900" {TAPE}/></mask>'
            f'<path stroke-opacity="0" d="M0 97 H900" {TAPE}/>'
        )
        self.assertEqual(lengths(drawn(f'{hidden}<path d="M100 100 H500" {TAPE}/>')), [400.0])
        self.assertEqual(
            lengths(drawn(f'<symbol id="s"><path d="M0 20 H700" {TAPE}/></symbol><use xlink:href="#s"/>')), [700.0]
        )

    def test_what_is_used_inherits_from_its_use_and_a_screens_width_is_not_scaled(self) -> None:
        head = HEAD.replace("viewBox", 'fill="none" stroke="#00ff00" stroke-width="5" viewBox')
        used = '<defs><path id="a" d="M100 100 H900"/><path id="b" stroke="#0000ff" d="M100 300 H900"/></defs>'
        made = drawn(f'{used}<use href="#a" stroke="#ff0000" stroke-width="30"/><use href="#b" stroke="red"/>', head)
        looks = [(line.colour, line.width_mm) for line in made.mat.lines]
        self.assertEqual(looks, [("#ff0000", 30.0), ("#0000ff", 5.0)])
        screen = f'<path vector-effect="non-scaling-stroke" transform="scale(10)" d="M10 10 H90" {TAPE}/>'
        self.assertAlmostEqual(drawn(screen).mat.line.width_mm, 20.0 * 25.4 / 96.0, places=2)

    def test_a_symbol_is_as_large_as_where_it_is_used(self) -> None:
        symbol = f'<symbol id="s" viewBox="0 0 100 50" width="100" height="50"><path d="M0 25 H100" {TAPE}/></symbol>'
        made = drawn(f'{symbol}<use href="#s" x="200" y="100" width="800" height="400"/>')
        self.assertEqual((lengths(made), made.mat.line.width_mm), ([800.0], 80.0))
        self.assertLess(abs(made.mat.line.x_mm - 200.0) + abs(made.mat.line.y_mm - 700.0), 1e-9)
        self.assertEqual(lengths(drawn(f'{symbol}<use href="#s" x="200" y="100"/>')), [100.0])
        inside = f'<svg id="t" viewBox="0 0 100 100"><path d="M0 50 H100" {TAPE}/></svg>'
        both = drawn(f'{inside}<use href="#t" x="300" width="400" height="400"/>')
        self.assertEqual(sorted(lengths(both)), [400.0, 1000.0])

    def test_lengths_beyond_all_measure_are_none(self) -> None:
        way = f'<g id="g"><path d="M100 300H900" {TAPE}/></g><use href="#g" x="1e400" y="-1e99"/>'
        self.assertEqual(lengths(drawn(way)), [800.0, 800.0])
        for turned in ("scale(1e300)", "translate(1e400 0)"):
            self.assertEqual(lengths(drawn(f'<g transform="{turned}"><path d="M100 300H900" {TAPE}/></g>')), [800.0])

    def test_percent_are_shares_of_the_page(self) -> None:
        ground = '<rect width="100%" height="100%" fill="#ddeeff"/>'
        made = drawn(f'{ground}<line x1="10%" y1="50%" x2="60%" y2="50%" {TAPE.replace("20", "1%")}/>')
        self.assertEqual((made.mat.colour, lengths(made)), ("#ddeeff", [1000.0]))
        self.assertEqual((made.mat.line.y_mm, made.mat.patches), (500.0, ()))
        self.assertAlmostEqual(made.mat.line.width_mm, 0.01 * np.hypot(2000.0, 1000.0) / np.sqrt(2.0), places=1)
        ring = drawn(f'<circle cx="50%" cy="50%" r="10%" {TAPE}/>')
        self.assertAlmostEqual(lengths(ring)[0], 2.0 * np.pi * 0.1 * np.sqrt(2.5e6), delta=0.1)

    def test_what_a_style_says_of_screens_holds_and_of_paper_does_not(self) -> None:
        for query, seen in (("screen", 1), ("print", 0), ("all, print", 1), ("screen and (min-width: 9px)", 0)):
            style = f"<style>path{{display:none}} @media {query} {{ .a{{display:inline}} }}</style>"
            two = f'{style}<path class="a" d="M100 100 H500" {TAPE}/><path style="display:inline" d="M9 9 H99" {TAPE}/>'
            self.assertEqual(lengths(drawn(two)), [400.0, 90.0][1 - seen :], query)

    def test_styles_at_the_end_and_of_descendants_hold(self) -> None:
        made = drawn(
            '<g class="a"><path class="b" d="M100 100 H500" stroke="blue"/></g><path d="M100 300 H900" class="c"/>'
            "<style>.a .b{fill:none;stroke:red;stroke-width:25px} g.a &gt; path{stroke:#123456 !important} "
            ".c{display:none} /* a comment that does not end </style>"
        )
        self.assertEqual((lengths(made), made.mat.line.colour, made.mat.line.width_mm), ([400.0], "#123456", 25.0))

    def test_dashes_are_gaps_and_what_follows_lies_where_it_lay(self) -> None:
        way = "M100 100 H500 A100 100 0 0 1 600 200 V500"
        made = drawn(f'<path d="{way}" stroke-dasharray="60 20" {TAPE}/>')
        gaps = [piece.length_mm for piece in made.mat.line.pieces if isinstance(piece, Gap)]
        # One lies where the straight ends and the bend begins.
        self.assertEqual(len(gaps), 11)
        self.assertAlmostEqual(sum(gaps), 200.0, delta=0.1)
        route = make_route(made.mat)
        self.assertLess(np.hypot(route.x_mm[-1] - 600.0, route.y_mm[-1] - 500.0), 0.5)

    def test_dashes_are_read_as_drawn_and_what_are_none_are_left(self) -> None:
        for text, lengths in (("0.2 0.1", (0.4, 0.2)), ("5", (10.0, 10.0)), ("0, 5", (0.0, 10.0))):
            self.assertEqual(dashes_of(text, 2.0), lengths, text)
        for none in ("-1 5", "0 0", "none", ""):
            self.assertEqual(dashes_of(none, 2.0), (), none)

    def test_dashes_of_any_length_leave_the_way_where_it_is(self) -> None:
        for shape in ('<ellipse cx="900" cy="500" rx="500" ry="250"', '<path d="M100 100 C 500 900 900 100 1500 600"'):
            plain = make_route(drawn(f"{shape} {TAPE}/>").mat)
            if "ellipse" in shape:
                away = np.hypot((plain.x_mm - 900.0) / 500.0, (plain.y_mm - 500.0) / 250.0) - 1.0
                self.assertLess(np.abs(away).max(), 0.01)
            for dashes in ("60 20", "13.7 7.3", "50.3 2.1 9 3"):
                route = make_route(drawn(f'{shape} stroke-dasharray="{dashes}" {TAPE}/>').mat)
                self.assertGreater(len(route.gaps), 10)
                way, other = (np.column_stack((each.x_mm, each.y_mm)) for each in (route, plain))
                self.assertLess(farthest(way, other), 0.5)
        long = drawn(f'<path d="M100 100 H1900" stroke-dasharray="100 1500" {TAPE}/>').mat.line
        found = [(piece.kind, round(piece.length_mm, 6)) for piece in long.pieces]
        on, off = ("straight", 100.0), ("gap", 750.0)
        self.assertEqual(found, [on, off, off, on, ("gap", 100.0)])
        fine = drawn(f'<path d="M100 100 H1900" stroke-dasharray="1.2 0.9" {TAPE}/>')
        self.assertEqual(fine.left_out, ("the dashes of a line, too fine for tape",))

    def test_tape_drawn_as_what_it_covers(self) -> None:
        bar = drawn('<rect x="100" y="100" width="800" height="19" fill="#222"/>').mat.line
        self.assertAlmostEqual(bar.width_mm, 19.0, delta=0.5)
        self.assertAlmostEqual(stroke_route(bar, "").length_mm, 800.0, delta=3.0)
        ring = drawn(
            '<path fill-rule="evenodd" fill="#222" d="M300 500a300 300 0 1 0 600 0a300 300 0 1 0-600 0'
            'M320 500a280 280 0 1 0 560 0a280 280 0 1 0-560 0"/>'
        ).mat.line
        self.assertTrue(ring.closed)
        self.assertAlmostEqual(ring.width_mm, 20.0, delta=0.5)
        self.assertAlmostEqual(stroke_route(ring, "").length_mm, 2.0 * np.pi * 290.0, delta=4.0)
        # What is told is how far the tape is from the middle of what is filled, not from what was made of it.
        club = drawn('<path fill="#222" d="M100 100 L900 100 L900 120 L500 124 L100 120 Z"/>')
        self.assertGreater(club.off_mm, 0.3)

    def test_tape_that_is_filled_lies_in_its_middle_and_ends_where_it_ends(self) -> None:
        cases = {
            '<rect x="400" y="400" width="800" height="20" transform="rotate(30 800 410)"': ([(1, 800.0)], 0.1),
            '<path d="M200 200H1000V800H980V220H200Z"': ([(3, 1380.0)], 0.2),
            '<path d="M200 200H800A200 200 0 0 1 1000 400V800H980V400A180 180 0 0 0 800 220H200Z"': (
                [(3, 1000.0 + np.pi / 2 * 190.0)],
                0.2,
            ),
            # Gone round twice the same way, what is in both is filled.
            '<path d="M200 490H1800V510H200ZM990 100H1010V900H990Z"': ([(1, 1600.0), (1, 800.0)], 0.1),
            '<path fill-rule="evenodd" d="M1300 500A300 300 0 1 0 700 500A300 300 0 1 0 1300 500Z'
            'M1280 500A280 280 0 1 0 720 500A280 280 0 1 0 1280 500Z"': ([(1, 2 * np.pi * 290.0)], 0.2),
            '<path fill-rule="evenodd" d="M400 200H1400V800H400ZM420 220V780H1380V220Z"': ([(9, 3120.0)], 0.3),
        }
        for body, (wanted, within) in cases.items():
            made = drawn(f'{body} fill="#222"/>')
            lines = [make_route(replace(made.mat, line=line, other_lines=())).length_mm for line in made.mat.lines]
            self.assertEqual([len(line.pieces) for line in made.mat.lines], [count for count, _ in wanted], body)
            for found, (_, length) in zip(lines, wanted, strict=True):
                self.assertAlmostEqual(found, length, delta=within, msg=body)
            self.assertAlmostEqual(made.mat.line.width_mm, 20.0, delta=0.1)
            self.assertLess(made.off_mm, 1.0 if len(wanted) > 1 else 0.3, body)
            if "rotate" in body:
                x, y = 800.0 + 400.0 * np.cos(np.pi / 6), 590.0 - 200.0
                self.assertLess(np.hypot(made.mat.line.x_mm - x, made.mat.line.y_mm - y), 0.1)
        # What of it lies beside the mat is left out.
        for box, length in (('x="-100" y="400" width="900"', 800.0), ('x="0" y="400" width="900"', 900.0)):
            made = drawn(f'<rect {box} height="20" fill="#222"/>')
            self.assertAlmostEqual(lengths(made)[0], length, delta=0.5)
            self.assertAlmostEqual(made.mat.line.y_mm, 590.0, delta=0.05)
            said = ("what of a filled shape lies off the page",) if length < 900.0 else ()
            self.assertEqual(made.left_out, said)

    def test_dashes_measured_in_what_the_way_is_said_to_be_long(self) -> None:
        made = drawn(f'<path pathLength="100" stroke-dasharray="10 5" d="M100 300H900" {TAPE}/>')
        gaps = [piece.length_mm for piece in made.mat.line.pieces if isinstance(piece, Gap)]
        np.testing.assert_allclose(gaps, [40.0] * 6, atol=1e-9)

    def test_units_are_exact(self) -> None:
        self.assertEqual(matrix_of("translate(1in, 48px)")[:2, 2].tolist(), [96.0, 48.0])
        plain = '<svg xmlns="http://www.w3.org/2000/svg" width="{0}" height="{0}">'
        for size, mm in (
            ("1920", 508.0), ("20in", 508.0), ("50.8cm", 508.0), ("508mm", 508.0), ("1440pt", 508.0),
            ("120pc", 508.0),
        ):  # fmt: skip
            made = drawn(f'<path d="M96 96 H{96 + 960}" {TAPE}/>', plain.format(size))
            self.assertEqual((made.mat.width_mm, made.mat.height_mm), (mm, mm))
            self.assertAlmostEqual(made.mat.line.x_mm, 25.4, places=9)
            self.assertAlmostEqual(stroke_route(made.mat.line, "").length_mm, 254.0, places=6)

    def test_what_is_not_taken_over_is_named(self) -> None:
        made = drawn(
            f'<path id="gone" d="M100 1100 H500" {TAPE}/>'
            f'<path d="M100 100 H500" fill="none" stroke="red" stroke-width="2"/>'
            f'<clipPath id="c"><rect width="9" height="9"/>'
            f'</clipPath><path id="p" clip-path="url(#c)" d="M100 200H900" {TAPE}/>'
            f'<path id="far" d="M1500 800 H2300" {TAPE}/>'
            f'<text x="9" y="9">words</text><path d="M100 300 H700" fill="none" stroke="red" stroke-width="95"/>'
        )
        said = "; ".join(made.left_out)
        for words in (
            "“gone” off the page", "the edge of the page, beyond which a line “far” runs", "the cut of “p”",
            "2.0 mm of a line, which is laid wider, 4 mm", "laid narrower, 80 mm", "words",
        ):  # fmt: skip
            self.assertIn(words, said)

    def test_of_too_many_lines_the_longest_are_laid_and_a_hairline_is_none(self) -> None:
        count = MAX_OTHER_LINES + 4
        ways = "".join(f'<path d="M100 {40 * i} h{100 + 10 * i}" {TAPE}/>' for i in range(1, count + 1))
        made = drawn(f'{ways}<path d="M1500 100V900" fill="none" stroke="#222" stroke-width="0.3"/>')
        self.assertEqual(sorted(lengths(made)), [100.0 + 10.0 * i for i in range(4, count + 1)])
        self.assertEqual(made.left_out, ("a hairline", f"3 of {count} lines, the shorter ones"))

    def test_a_cut_round_all_of_a_thing_is_none(self) -> None:
        whole, half = '<rect width="2000" height="1000"/>', '<rect x="200" width="700" height="1000"/>'
        said = "the cut of a shape, which came in whole"
        for inside, left_out in ((whole, ()), (half, (said,)), ("", (said,)), (half + half, (said,))):
            made = drawn(
                f'<clipPath id="c">{inside}</clipPath><g clip-path="url(#c)"><path d="M100 300H900" {TAPE}/></g>'
            )
            self.assertEqual((lengths(made), made.left_out), ([800.0], left_out), inside)

    def test_zones_patches_and_outlines(self) -> None:
        made = drawn(
            f'<rect width="2000" height="1000" fill="#ddeeff" stroke="#000" stroke-width="2"/>'
            f'<circle cx="1000" cy="500" r="200" {TAPE}/><path d="M100 900 H1900" {TAPE}/>'
            '<rect id="start" x="1170" y="450" width="60" height="100" fill="none" stroke="#888"/>'
            '<rect id="finish" x="50" y="50" width="5" height="5" fill="none" stroke="#888"/>'
            '<rect x="300" y="300" width="100" height="80" fill="#00aa00" stroke="#000" stroke-width="2"/>'
            '<rect x="-150" y="300" width="200" height="80" fill="#00aa00"/>'
        )
        self.assertEqual((made.mat.colour, made.mat.line.closed, made.choices), ("#ddeeff", True, ()))
        self.assertEqual([(patch.x_mm, patch.y_mm) for patch in made.mat.patches], [(350.0, 660.0)])
        self.assertIsNone(made.mat.finish)
        said = "; ".join(made.left_out)
        self.assertIn("the zone “finish”: 5 is outside 10 to 2000", said)
        self.assertIn("a patch: -50 is outside", said)
        # A zone may be there without being seen; a line may not.
        unseen = '<rect id="start" x="80" y="250" width="60" height="100" fill="none"/><path d="M9 9H99" fill="none"/>'
        made = drawn(f'{unseen}<path d="M100 300 H900" {TAPE}/>')
        self.assertEqual((made.mat.start.x_mm, made.mat.start.y_mm, len(made.mat.lines)), (110.0, 700.0, 1))

    def test_too_much_is_refused_before_it_is_done(self) -> None:
        uses = '<g id="a0"><path d="M0 0H9"/></g>' + "".join(
            f'<g id="a{i}">{f"""<use xlink:href="#a{i - 1}"/>""" * 10}</g>' for i in range(1, 9)
        )
        long = f'<path {TAPE} d="M0 0{" L1.5 2.5" * 80_000}"/>'
        rules = (
            "".join(f"<style>.a{i} .b{{fill:red}}</style>" for i in range(2500)) + f'<path d="M0 9H500" {TAPE}/>' * 2000
        )
        for body, words in ((uses, "draws more than"), (long, "too many points"), (rules, "rules of style")):
            with self.assertRaisesRegex(IronTrailError, words):
                drawn(body)
        unclosed = drawn(f'<style>/* {"a" * 300_000}</style><path d="M100 100 H500" {TAPE}/>')
        self.assertEqual(lengths(unclosed), [400.0])

    def test_compressed_and_with_a_picture_in_it(self) -> None:
        text = f'{HEAD}<image xlink:href="data:image/png;base64,aGFsbG8="/></svg>'.encode()
        with self.assertRaises(NoLineError) as caught:
            from_bytes(gzip.compress(text), "x", "x.svgz")
        self.assertEqual(caught.exception.pictures, (b"hallo",))
        packed = bytearray(gzip.compress(text))
        packed[12] ^= 255
        with self.assertRaisesRegex(IronTrailError, "compressed drawing that is damaged"):
            from_bytes(bytes(packed), "x", "x.svgz")

    def test_round_trips_lose_nothing(self) -> None:
        ring = Stroke(1000.0, 200.0, 0.0, (Bend(300.0, 360.0),), closed=True, width_mm=25.0, colour="#aa0011")
        gapped = Stroke(
            300.0,
            800.0,
            0.0,
            (Straight(200.0), Gap(40.0), Straight(200.0), Bend(80.0, 180.0), Straight(440.0), Bend(80.0, 180.0)),
            closed=True,
        )
        wavy = Stroke(
            200.0, 100.0, 0.0, (Wiggle(3, 60.0, 60.0), Corner(-30.0), Straight(100.0)), unevenness_mm=1.5,
            unevenness_seed=77, border_mm=9.0,
        )  # fmt: skip
        mat = Mat(
            "all of it", ring, 2000.0, 1000.0, "#e0e0d0", surface="vinyl", zone_mm=80.0,
            patches=(
                Patch(500.0, 500.0, 200.0, 100.0, "#00ff00", shine=1.7),
                Patch(800.0, 500.0, 50.0, 60.0, over_line=True),
            ),
            other_lines=(gapped, wavy), goal=1, spots=(Spot(900.0, 500.0, 30.0, 25.0, 15.0),),
        )  # fmt: skip
        back = from_bytes(to_text(mat).encode(), mat.name, "x.svg").mat
        self.assertEqual(back, mat)
        areas = (LightArea(400.0, 300.0, 150.0, 90.0, 0.4, 25.0), LightArea(-50.0, 900.0, 80.0, 80.0, 2.5))
        self.assertEqual(from_bytes(to_text(mat, areas).encode(), mat.name, "x.svg").areas, areas)
        # Moved in another program, a line is where it was moved to.
        text = to_text(Mat("moved", Stroke(100.0, 100.0, 0.0, (Straight(300.0),)), 2000.0, 1000.0)).replace(
            "M 100 900 L 400 900", "M 100 800 L 500 800"
        )
        moved = from_bytes(text.encode(), "moved", "x.svg").mat.line
        self.assertAlmostEqual(moved.y_mm, 200.0)
        self.assertAlmostEqual(stroke_route(moved, "").length_mm, 400.0)
        for make in DEMO_MATS.values():
            self.assertEqual(from_bytes(to_text(make()).encode(), make().name, "x.svg").mat, make())


class DxfTest(unittest.TestCase):
    def test_too_many_things_and_blocks_within_blocks_without_end_are_refused(self) -> None:
        def many(space, _document):
            for i in range(6):
                space.add_line((0, 10 * i), (100, 10 * i))

        def nested(space, document):
            inside = document.blocks.new("0")
            inside.add_line((0, 0), (100, 0))
            for i in range(1, 12):
                document.blocks.new(str(i)).add_blockref(str(i - 1), (0, 0))
            space.add_blockref("11", (0, 0))

        with mock.patch.object(dxf, "MOST_ENTITIES", 5), self.assertRaisesRegex(IronTrailError, "more than 5 things"):
            self.read(many)
        with self.assertRaisesRegex(IronTrailError, "blocks lie in one another more than 8 deep"):
            self.read(nested)

    def read(self, build, units: int = 4) -> DrawnMat:
        document = ezdxf.new("R2010")
        document.header["$INSUNITS"] = units
        build(document.modelspace(), document)
        text = io.StringIO()
        document.write(text)
        return dxf.from_bytes(text.getvalue().encode(), "cad", "cad.dxf")

    def test_lines_arcs_polylines_and_splines(self) -> None:
        def three(space, _document) -> None:
            space.add_line((0, 0), (500, 0))
            space.add_arc((500, 100), 100, 270, 0)
            space.add_line((600, 100), (600, 400))

        bulged = [(0, 0, 0, 0, 0), (500, 0, 0, 0, np.tan(np.pi / 8.0)), (600, 100, 0, 0, 0), (600, 400, 0, 0, 0)]
        for build in (three, lambda space, _: space.add_lwpolyline(bulged, dxfattribs={"const_width": 20, "color": 7})):
            made = self.read(build)
            first, bend, last = made.mat.line.pieces
            self.assertAlmostEqual(first.length_mm, 500.0, places=3)
            self.assertAlmostEqual(bend.radius_mm, 100.0, places=3)
            self.assertAlmostEqual(bend.angle_deg, 90.0, places=3)
            self.assertAlmostEqual(last.length_mm, 300.0, places=3)
            self.assertEqual((made.mat.width_mm, made.mat.height_mm, made.mat.line.width_mm), (800.0, 600.0, 20.0))
            # In the middle of the mat.
            self.assertAlmostEqual(made.mat.line.x_mm, 100.0, places=3)
            self.assertAlmostEqual(made.mat.line.y_mm, 100.0, places=3)
        for build in (
            lambda space, _: space.add_spline([(0, 0), (200, 100), (400, -100), (800, 200)]),
            lambda space, _: space.add_ellipse((500, 500), (400, 0), 0.5),
        ):
            self.assertLess(self.read(build).off_mm, 0.5)
        ring = self.read(lambda space, _: space.add_circle((500, 500), 300)).mat.line
        self.assertEqual((ring.closed, len(ring.pieces)), (True, 1))
        self.assertEqual(lengths(self.read(lambda space, _: space.add_line((0, 0), (20, 0)), 1)), [508.0])

    def test_a_circle_in_single_lines_however_short_and_in_any_order_is_a_ring(self) -> None:
        random = np.random.default_rng(1)
        for count in (200, 300, 1500):
            turns = np.linspace(0.0, 2.0 * np.pi, count + 1)
            places = np.column_stack((600.0 + 250.0 * np.cos(turns), 300.0 + 250.0 * np.sin(turns)))
            lines = [pair[:: random.choice((1, -1))].tolist() for pair in np.stack((places[:-1], places[1:]), axis=1)]
            random.shuffle(lines)
            made = self.read(lambda space, _, lines=lines: [space.add_line(*line) for line in lines])
            self.assertEqual((len(made.mat.lines), made.mat.line.closed), (1, True), count)
            self.assertLessEqual(len(made.mat.line.pieces), 4)
            self.assertLess(made.off_mm, 0.5)
            self.assertAlmostEqual(lengths(made)[0], 500.0 * np.pi, delta=1.5)

    def test_outline_hidden_layers_blocks_and_widths(self) -> None:
        def build(space, document) -> None:
            space.add_lwpolyline([(0, 0), (2000, 0), (2000, 1000), (0, 1000)], close=True)
            document.layers.add("off").off()
            document.layers.add("green", color=3)
            space.add_line((200, 600), (700, 600), dxfattribs={"layer": "green", "color": 256})
            space.add_line((200, 800), (700, 800), dxfattribs={"layer": "green", "color": 5})
            space.add_line((10, 10), (500, 900), dxfattribs={"layer": "off"})
            space.add_line((200, 200), (700, 200))
            block = document.blocks.new("part")
            block.add_line((0, 0), (0, 300))
            space.add_blockref("part", (700, 200))
            space.add_text("words")

        made = self.read(build)
        self.assertEqual(
            (made.mat.width_mm, made.mat.height_mm, lengths(made)), (2000.0, 1000.0, [800.0, 500.0, 500.0])
        )
        # By its layer's colour, or its own.
        self.assertEqual({stroke.colour for stroke in made.mat.other_lines}, {"#00ff00", "#0000ff"})
        self.assertIn("no width was drawn: tape of 20 mm is laid", made.left_out)
        self.assertIn("text of the drawing", made.left_out)

    def test_what_is_none_is_refused(self) -> None:
        for content in (b"", b"0\nSECTION\n", b"\xff" * 1000, b"  0\nEOF\n", b"not a drawing"):
            with self.assertRaises(IronTrailError) as caught:
                dxf.from_bytes(content, "x", "x.dxf")
            self.assertTrue(caught.exception.remedy)


if __name__ == "__main__":
    unittest.main()
