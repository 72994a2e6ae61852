"""Pictures of mats whose truth is known come in within their tolerance, from every format."""

import io
import tempfile
import unittest
from functools import cache
from pathlib import Path

import numpy as np
import pillow_heif
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from irontrail.core.mat.drawn_way import evenly_along, farthest
from irontrail.core.mat.perspective import usual_step
from irontrail.core.mat.raster import make_raster
from irontrail.core.mat.reflectance import srgb
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Patch, Straight, Stroke
from irontrail.core.mat.trace import Traced, trace
from irontrail.files import picture

WAY = (Straight(500.0), Bend(100.0, 90.0), Straight(150.0), Bend(120.0, 90.0), Straight(400.0))


def line(*pieces, **look) -> Stroke:
    return Stroke(150.0, 150.0, 0.0, pieces or WAY, **look)


def mat(first: Stroke, *others: Stroke, **more) -> Mat:
    return Mat("made", first, 1000.0, 600.0, other_lines=others, **more)


def seen(of: Mat, seed: int = 1) -> NDArray[np.float32]:
    """A mat as a camera above sees it, a pixel a millimetre, with a little grain."""
    return np.clip(srgb(make_raster(of)) + grain(seed), 0.0, 1.0).astype(np.float32)


@cache
def grain(seed: int) -> NDArray[np.float64]:
    return np.random.default_rng(seed).normal(0.0, 0.02, (600, 1000, 3))


def way_of(stroke: Stroke) -> NDArray[np.float64]:
    route = stroke_route(stroke, "")
    return np.column_stack((route.x_mm, route.y_mm))


class TracedTest(unittest.TestCase):
    def near(self, found: Stroke, truth: Stroke, within: float = 0.5) -> None:
        """Each lies on the other, from end to end."""
        one, other = evenly_along(way_of(found)), evenly_along(way_of(truth))
        self.assertLess(max(farthest(one, other), farthest(other, one)), within)

    def traced(self, of: Mat, within: float = 0.5, image: NDArray[np.float32] | None = None) -> Traced:
        """What is found in a picture; its first line is the mat's first."""
        found = trace(seen(of) if image is None else image, 1.0)
        self.near(found.fits[0].stroke, of.line, within)
        return found

    def test_ends_lie_where_they_are_and_a_felt_pen_is_a_few_pieces(self) -> None:
        self.assertEqual(len(self.traced(mat(line())).fits[0].stroke.pieces), 5)
        for width, uneven in ((12.0, 1.5), (5.0, 0.6)):
            found = self.traced(mat(line(width_mm=width, unevenness_mm=uneven)))
            self.assertLess(len(found.fits[0].stroke.pieces), 9)
        self.traced(mat(line(Straight(500.0), Corner(90.0), Straight(300.0), Corner(90.0), Straight(400.0))))

    def test_widths_from_4_to_40_mm(self) -> None:
        for width in (4.0, 6.0, 10.0, 20.0, 30.0, 40.0):
            self.assertAlmostEqual(self.traced(mat(line(width_mm=width))).width_mm, width, delta=1.0)

    def test_a_thin_line_on_the_largest_mats(self) -> None:
        wide, high = 4000.0, 2000.0
        truth = Stroke(150.0, 150.0, 0.0, (Straight(2000.0), *WAY[1:4], Straight(1600.0)), width_mm=4.0)
        step = usual_step(wide, high)
        image = srgb(make_raster(Mat("large", truth, wide, high), step))
        image = image + np.random.default_rng(1).normal(0.0, 0.02, image.shape)
        found = trace(np.clip(image, 0.0, 1.0).astype(np.float32), step)
        self.near(found.fits[0].stroke, truth)
        self.assertAlmostEqual(found.width_mm, 4.0, delta=1.0)

    def test_gaps(self) -> None:
        for gap in (20.0, 40.0, 60.0):
            pieces = (Straight(200.0), Gap(gap), Straight(300.0 - gap), *WAY[1:])
            found = self.traced(mat(line(*pieces)))
            gaps = [piece.length_mm for piece in found.fits[0].stroke.pieces if isinstance(piece, Gap)]
            self.assertEqual(len(gaps), 1)
            self.assertAlmostEqual(gaps[0], gap, delta=4.0)

    def test_borders_and_two_colours_close_by(self) -> None:
        white = self.traced(mat(line(border_mm=10.0, border_colour="#ffffff"), colour="#b0a080")).looks[0]
        self.assertAlmostEqual(white.width_mm, 20.0, delta=1.0)
        self.assertAlmostEqual(white.border_mm, 10.0, delta=1.0)
        red = self.traced(mat(line(border_mm=8.0, border_colour="#cc3322"))).looks[0]
        self.assertAlmostEqual(red.width_mm, 20.0, delta=1.0)
        self.assertAlmostEqual(red.border_mm, 8.0, delta=1.0)
        self.assertTrue(red.border_colour.startswith(("#cc", "#cb", "#cd")), red.border_colour)
        beside = Stroke(150.0, 195.0, 0.0, (Straight(450.0),), colour="#c83020")
        two = self.traced(mat(line(), beside))
        self.near(two.fits[1].stroke, beside)
        channels = [int(two.looks[1].colour[i : i + 2], 16) for i in (1, 3, 5)]
        self.assertLess(max(abs(a - b) for a, b in zip(channels, (0xC8, 0x30, 0x20), strict=True)), 8)

    def test_a_frame_words_and_patches_beside_it(self) -> None:
        side = (Straight(960.0), Corner(90.0), Straight(560.0), Corner(90.0))
        frame = Stroke(20.0, 20.0, 0.0, (*side, *side), width_mm=4.0, closed=True)
        self.traced(mat(line(), frame))
        of = mat(line(), patches=(Patch(500.0, 450.0, 120.0, 80.0, "#3060c0"),))
        found = self.traced(of)
        self.assertEqual(len(found.fits), 1)
        (patch,) = found.patches
        for name, value in (("x_mm", 500.0), ("y_mm", 450.0), ("width_mm", 120.0), ("height_mm", 80.0)):
            self.assertAlmostEqual(getattr(patch, name), value, delta=6.0, msg=name)
        words = Image.fromarray((255 * seen(mat(line()))[::-1]).astype(np.uint8))
        draw = ImageDraw.Draw(words)
        draw.text((300, 250), "SALTMARSH 7", font=ImageFont.load_default(40), fill=(30, 30, 30))
        self.traced(mat(line()), image=np.asarray(words, np.float32)[::-1] / 255.0)

    def test_glare_and_a_light_line_on_dark(self) -> None:
        y, x = np.mgrid[0:600, 0:1000]
        glare = np.exp(-((x - 400) ** 2 / (2 * 120**2) + (y - 150) ** 2 / (2 * 90**2)))[..., None]
        self.traced(mat(line()), image=np.clip(seen(mat(line())) + 0.45 * glare, 0.0, 1.0).astype(np.float32))
        found = self.traced(mat(line(colour="#f0f0f0"), colour="#303030"))
        self.assertEqual((found.colour, found.ground), ("#f0f0f0", "#303030"))

    def test_circuits_figures_of_eight_and_sharp_crossings(self) -> None:
        lobe = (Straight(150.0), Bend(150.0, -270.0), Straight(300.0), Bend(150.0, 270.0), Straight(150.0))
        for closed in ((500.0, 300.0, 45.0, lobe), (500.0, 100.0, 0.0, (Bend(200.0, 360.0),))):
            self.assertTrue(self.traced(mat(Stroke(*closed, closed=True))).fits[0].stroke.closed)
        level = Stroke(100.0, 300.0, 0.0, (Straight(800.0),))
        for other in (
            Stroke(150.0, 140.0, 25.0, (Straight(750.0),)), Stroke(500.0, 50.0, 90.0, (Straight(500.0),)),
        ):  # fmt: skip
            found = self.traced(mat(level, other))
            self.assertEqual(len(found.fits), 2)
            self.near(found.fits[1].stroke, other)

    def test_bends_after_one_another_corners_and_circuits(self) -> None:
        square = (Straight(400.0), Corner(90.0), Straight(300.0), Corner(90.0)) * 2
        oval = (Straight(400.0), Bend(150.0, 180.0)) * 2
        waves = (Bend(120.0, -120.0), Bend(120.0, 120.0)) * 2
        spiral = (Bend(230.0, 180.0), Bend(180.0, 180.0), Bend(120.0, 180.0))
        for start, pieces, closed in (
            ((250.0, 120.0, 0.0), square, True), ((300.0, 120.0, 0.0), oval, True), ((60.0, 300.0, 60.0), waves, False),
            ((200.0, 300.0, -90.0), spiral, False), ((400.0, 300.0, -70.0), (Bend(100.0, 200.0),), False),
        ):  # fmt: skip
            found = self.traced(mat(Stroke(*start, pieces, closed=closed)), 0.8).fits[0].stroke
            self.assertEqual(found.closed, closed)
            self.assertLessEqual(len(found.pieces), len(pieces) + 1)

    def test_an_end_that_points_at_the_side_of_the_start_closes_nothing(self) -> None:
        turn = Corner(-90.0)
        way = (Straight(250.0), turn, Straight(300.0), turn, Straight(420.0), turn, Straight(600.0), turn)
        stroke = Stroke(450.0, 250.0, 90.0, (*way, Straight(170.0), turn, Straight(250.0)))
        self.assertFalse(self.traced(mat(stroke), 0.8).fits[0].stroke.closed)

    def test_lines_to_the_rim_end_there(self) -> None:
        across = Stroke(1000.0, 300.0, 180.0, (Straight(1000.0),))
        for seed, stroke in enumerate((
            across, across, Stroke(500.0, 600.0, -90.0, (Straight(600.0),)),
            Stroke(700.0, 300.0, 180.0, (Straight(700.0),)), Stroke(500.0, 400.0, -90.0, (Straight(400.0),)),
            Stroke(0.0, 250.0, 0.0, (Straight(400.0), Bend(150.0, 90.0), Straight(200.0))),
        )):  # fmt: skip
            self.traced(mat(stroke), image=seen(mat(stroke), seed))

    def test_sharp_corners_are_corners_and_tight_bends_are_bends(self) -> None:
        for turn in ((Corner(-120.0), Corner(120.0)), (Bend(16.0, -120.0), Bend(16.0, 120.0))):
            way = (Straight(250.0), turn[0], Straight(250.0), turn[1], Straight(250.0))
            found = self.traced(mat(Stroke(150.0, 200.0, 60.0, way)), 0.8).fits[0].stroke
            self.assertEqual([type(piece) for piece in found.pieces], [type(piece) for piece in way])

    def test_which_line_is_the_route_may_be_changed(self) -> None:
        other = Stroke(500.0, 50.0, 90.0, (Straight(300.0),))
        found = self.traced(mat(Stroke(100.0, 500.0, 0.0, (Straight(800.0),)), other))
        self.near(found.mat("m", 1000.0, 600.0, 1).line, other)
        self.near(found.mat("m", 1000.0, 600.0, 1).other_lines[0], found.fits[0].stroke)


class FormatsTest(unittest.TestCase):
    def test_every_format_gives_the_same_line(self) -> None:
        # Without grain, which takes seconds to be written as HEIC.
        image = Image.fromarray((255 * srgb(make_raster(mat(line())))[::-1]).astype(np.uint8))
        with tempfile.TemporaryDirectory() as folder:
            for suffix, kind in (
                (".png", "PNG"), (".jpg", "JPEG"), (".webp", "WEBP"), (".tif", "TIFF"), (".bmp", "BMP"),
                (".gif", "GIF"), (".heic", ""),
            ):  # fmt: skip
                path = Path(folder) / f"mat{suffix}"
                memory = io.BytesIO()
                if kind:
                    image.save(memory, kind)
                else:
                    pillow_heif.from_pillow(image).save(memory, quality=90)
                path.write_bytes(memory.getvalue())
                pixels = picture.read_picture(path)
                self.assertEqual(pixels.shape, (600, 1000, 3), suffix)
                if suffix in (".png", ".tif", ".bmp"):
                    # They lose nothing: what is found in the picture is found in them.
                    np.testing.assert_array_equal(pixels, np.asarray(image), suffix)
                    continue
                found = trace(np.ascontiguousarray(pixels[::-1]).astype(np.float32) / 255.0, 1.0)
                truth, way = evenly_along(way_of(line())), evenly_along(way_of(found.fits[0].stroke))
                self.assertLess(max(farthest(truth, way), farthest(way, truth)), 2.0, suffix)

    def test_a_picture_stands_as_the_camera_was_held(self) -> None:
        upright = np.zeros((40, 60, 3), np.uint8)
        upright[:20, :30], upright[:20, 30:] = (255, 0, 0), (0, 255, 0)
        upright[20:, :30] = (0, 0, 255)
        # What a camera held so stores of it, by the standard's number.
        stored = {
            1: upright, 2: upright[:, ::-1], 3: upright[::-1, ::-1], 4: upright[::-1], 5: upright.transpose(1, 0, 2),
            6: np.rot90(upright), 7: upright[::-1, ::-1].transpose(1, 0, 2), 8: np.rot90(upright, -1),
        }  # fmt: skip
        for number, pixels in stored.items():
            memory, taken = io.BytesIO(), Image.Exif()
            taken[0x0112] = number
            Image.fromarray(np.ascontiguousarray(pixels)).save(memory, "PNG", exif=taken)
            np.testing.assert_array_equal(picture.from_bytes(memory.getvalue(), "a.png"), upright, str(number))

    def test_what_cannot_be_read_of_each(self) -> None:
        heic = io.BytesIO()
        pillow_heif.from_pillow(Image.new("RGB", (64, 64))).save(heic)
        whole = heic.getvalue()
        for content in (whole[:200], whole[:40] + b"\0" * 400, b"II*\0" + b"\xff" * 50, b"BM" + b"\0" * 60):
            with self.assertRaisesRegex(Exception, "a.heic: .*(Save it|Open a)"):
                picture.from_bytes(content, "a.heic")


if __name__ == "__main__":
    unittest.main()
