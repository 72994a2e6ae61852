"""Mats in and out: SVG of ours and of other writers, pictures whole and broken, PNG, and the shelf."""

import os
import struct
import tempfile
import unittest
import zlib
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
import svgwrite
from PIL import Image, ImageColor

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demos import DEMO_MATS, ferry_fork, lighthouse_loop
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Straight
from irontrail.files import mat_file, picture, png_mat
from irontrail.files.drawn_mat import DrawnMat as Drawn
from irontrail.files.svg.out import to_text
from irontrail.files.svg.read import from_bytes
from tests.support import FolderTest

SVG = "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' width='1000mm' height='500mm'"


def read(drawing: svgwrite.Drawing) -> Drawn:
    """The mat in a drawing of another writer."""
    return from_bytes(drawing.tostring().encode(), "drawn", "drawn.svg")


class SvgTest(unittest.TestCase):
    def test_our_own_come_back_as_they_were(self) -> None:
        for name, make in DEMO_MATS.items():
            mat = make()
            mat = replace(mat, line=replace(mat.line, border_mm=12.0, border_colour="#ffffff"))
            back = from_bytes(to_text(mat).encode(), mat.name, "x.svg").mat
            way, again = make_route(mat), make_route(back)
            self.assertLess(abs(way.length_mm - again.length_mm), 0.02, name)
            self.assertLess(np.hypot(way.x_mm - again.x_mm, way.y_mm - again.y_mm).max(), 0.02, name)
            self.assertEqual(
                (back.line.width_mm, back.line.border_mm, back.colour), (mat.line.width_mm, 12.0, mat.colour)
            )
            self.assertEqual((back.start, back.finish), (mat.start, mat.finish))
            self.assertEqual(back, mat)
            self.assertEqual(len(back.patches), len(mat.patches))
            self.assertEqual(len(back.other_lines), len(mat.other_lines), name)

    def test_transforms_and_units_are_followed(self) -> None:
        drawing = svgwrite.Drawing(size=("100cm", "50cm"), viewBox="0 0 1000 500")
        turned = drawing.g(transform="translate(500,250) scale(2) rotate(90)")
        turned.add(drawing.circle((0, 0), 80, fill="none", stroke="navy", stroke_width=6))
        drawing.add(turned)
        mat = read(drawing).mat
        self.assertEqual(
            (mat.width_mm, mat.height_mm, mat.line.width_mm, mat.line.colour), (1000.0, 500.0, 12.0, "#000080")
        )
        self.assertEqual(len(mat.line.pieces), 1)
        ring = mat.line.pieces[0]
        assert isinstance(ring, Bend)
        self.assertAlmostEqual(ring.radius_mm, 160.0, places=3)
        self.assertAlmostEqual(abs(ring.angle_deg), 360.0, places=3)
        way = make_route(mat)
        self.assertLess(np.abs(np.hypot(way.x_mm - 500.0, way.y_mm - 250.0) - 160.0).max(), 0.01)

    def test_inches_and_round_corners(self) -> None:
        drawing = svgwrite.Drawing(size=("20in", "10in"))
        drawing.add(
            drawing.rect(("5in", "3in"), ("10in", "4in"), rx="1in", fill="none", stroke="#111", stroke_width=60)
        )
        line = read(drawing).mat.line
        bends = [piece for piece in line.pieces if isinstance(piece, Bend)]
        self.assertEqual([round(bend.radius_mm, 2) for bend in bends], [25.4] * 4)
        self.assertTrue(line.closed)

    def test_curves_are_fitted_and_corners_kept(self) -> None:
        drawing = svgwrite.Drawing(size=("1000mm", "600mm"), viewBox="0 0 1000 600")
        curve = "M100 300 C 200 100 400 100 500 300 S 800 500 900 300"
        drawing.add(drawing.path(curve, fill="none", stroke="#222", stroke_width=18))
        way = make_route(read(drawing).mat)
        t = np.linspace(0.0, 1.0, 500)[:, None]
        first = (
            (1 - t) ** 3 * [100, 300]
            + 3 * (1 - t) ** 2 * t * [200, 100]
            + 3 * (1 - t) * t**2 * [400, 100]
            + t**3 * [500, 300]
        )
        away = [np.hypot(way.x_mm - x, way.y_mm - (600 - y)).min() for x, y in first]
        self.assertLess(max(away), 1.5)
        drawing = svgwrite.Drawing(size=("1000mm", "600mm"), viewBox="0 0 1000 600")
        drawing.add(drawing.polyline([(100, 100), (500, 100), (500, 400)], fill="none", stroke="red", stroke_width=18))
        first, corner, last = read(drawing).mat.line.pieces
        self.assertEqual((round(first.length_mm, 6), corner, round(last.length_mm, 6)), (400.0, Corner(-90.0), 300.0))

    def test_a_gap_between_parts_ahead_of_each_other(self) -> None:
        drawing = svgwrite.Drawing(size=("1000mm", "600mm"), viewBox="0 0 1000 600")
        drawing.add(drawing.path("M100 300 L400 300 M430 300 L900 300", fill="none", stroke="#222", stroke_width=18))
        kinds = [type(piece) for piece in read(drawing).mat.line.pieces]
        self.assertEqual(kinds, [Straight, Gap, Straight])

    def test_what_cannot_be_taken_over_is_told(self) -> None:
        drawing = svgwrite.Drawing(size=("1000mm", "600mm"), viewBox="0 0 1000 600")
        drawing.add(drawing.circle((300, 300), 50, fill="green"))
        drawing.add(drawing.line((100, 100), (900, 100), stroke="black", stroke_width=20))
        self.assertEqual(read(drawing).left_out, ("a filled shape that is no upright rectangle",))

    def test_a_filled_box_that_lies_askew_is_neither_patch_nor_ground(self) -> None:
        drawing = svgwrite.Drawing(size=("1000mm", "600mm"), viewBox="0 0 1000 600")
        drawing.add(drawing.line((100, 100), (900, 100), stroke="black", stroke_width=20))
        drawing.add(drawing.rect((200, 300), (120, 100), fill="green"))
        askew = drawing.rect((500, 300), (120, 100), fill="blue")
        askew.rotate(5.0, (560, 350))
        drawing.add(askew)
        found = read(drawing)
        self.assertEqual([patch.colour for patch in found.mat.patches], ["#008000"])
        self.assertEqual(found.left_out, ("a filled shape that is no upright rectangle",))

    def test_other_lines_have_their_number_where_there_are_several(self) -> None:
        text = to_text(ferry_fork())
        self.assertIn('id="line"', text)
        self.assertIn('id="line-2"', text)

    def test_hostile_and_broken_ones_are_refused_in_a_sentence(self) -> None:
        bomb = b"<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]>" + SVG.encode() + b"><text>&b;</text></svg>"
        cases = {
            "entities": bomb,
            "outside itself": f"{SVG}><use xlink:href='elsewhere.svg#x'/></svg>".encode(),
            "style links": f"{SVG}><style>@import url(elsewhere.css)</style></svg>".encode(),
            "links to something": f"{SVG}><image xlink:href='data:,x'/></svg>".encode(),
            "kind 'script'": f"{SVG}><script>1</script></svg>".encode(),
            "not an SVG drawing": b"<svg",
            "not an SVG drawing.": b"<html/>",
            "no line was found": f"{SVG}/>".encode(),
            "mm wide": SVG.replace("1000mm", "10mm").encode() + b"/>",
            "mm high": SVG.replace("500mm", "nan").encode() + b"/>",
            "more than 5000 parts": f"{SVG}>{'<g/>' * 5001}</svg>".encode(),
        }
        for words, text in cases.items():
            with self.assertRaises(IronTrailError) as caught:
                from_bytes(text, "bad", "bad.svg")
            self.assertIn(words, str(caught.exception))
            self.assertTrue(str(caught.exception).startswith("bad.svg: "), str(caught.exception))


class PictureTest(FolderTest):
    def saved(self, name: str, image: Image.Image, **options: object) -> Path:
        path = self.folder / name
        # Quickly: they are large.
        quick = {"compress_level": 1} if path.suffix == ".png" else {}
        image.save(path, **quick, **options)
        return path

    def test_each_format_and_mode(self) -> None:
        red = Image.new("RGB", (60, 40), (200, 30, 30))
        for name in ("a.png", "a.jpg", "a.webp"):
            pixels = picture.read_picture(self.saved(name, red))
            self.assertEqual(pixels.shape, (40, 60, 3))
            self.assertLess(np.abs(pixels.mean(axis=(0, 1)) - (200, 30, 30)).max(), 4.0, name)
        deep = Image.fromarray(np.full((40, 60), 40_000, np.uint16))
        self.assertEqual(
            picture.read_picture(self.saved("deep.png", deep))[0, 0, 0], round(40_000 / 65_535 * 255 - 0.5)
        )
        clear = Image.new("RGBA", (60, 40), (0, 0, 0, 0))
        self.assertEqual(picture.read_picture(self.saved("clear.png", clear))[0, 0].tolist(), [255, 255, 255])

    def test_a_photo_is_turned_the_right_way_up(self) -> None:
        image = Image.new("RGB", (60, 40), "white")
        exif = image.getexif()
        exif[0x0112] = 6
        self.assertEqual(picture.read_picture(self.saved("turned.jpg", image, exif=exif)).shape, (60, 40, 3))

    def test_a_large_one_is_made_smaller(self) -> None:
        pixels = picture.read_picture(self.saved("large.png", Image.new("L", (6000, 3000), 200)))
        self.assertEqual(pixels.shape, (1500, 3000, 3))
        # The same, a strip at a time: what stands where, see-through on white, 16 bits, held sideways.
        self.enterContext(mock.patch.multiple(picture, WORKING_SIDE_PX=750, AT_ONCE_PX=1_000_000))
        whole = Image.new("RGBA", (2250, 1000), (0, 0, 0, 0))
        whole.paste((200, 30, 30, 255), (1500, 750, 2250, 1000))
        pixels = picture.read_picture(self.saved("alpha.png", whole))
        self.assertLessEqual(max(pixels.shape), 750)
        self.assertEqual(pixels[10, 10].tolist(), [255, 255, 255])
        self.assertEqual(pixels[-10, -10].tolist(), [200, 30, 30])
        deep = np.zeros((1000, 2250), np.uint16)
        deep[:, 1125:] = 65535
        pixels = picture.read_picture(self.saved("deep.png", Image.fromarray(deep)))
        self.assertEqual((pixels[5, 5].tolist(), pixels[5, -5].tolist()), ([0, 0, 0], [255, 255, 255]))
        exif = Image.Exif()
        exif[0x0112] = 6
        sideways = self.saved("sideways.png", whole.convert("RGB"), exif=exif)
        pixels = picture.read_picture(sideways)
        self.assertGreater(pixels.shape[0], pixels.shape[1])
        self.assertEqual(pixels[-10, 10].tolist(), [200, 30, 30])

    def test_what_cannot_be_read_is_refused(self) -> None:
        whole = self.saved("whole.jpg", Image.effect_noise((400, 300), 60.0))
        cut_off = self.folder / "cut.jpg"
        cut_off.write_bytes(whole.read_bytes()[:3000])
        # It says of itself how large it is.
        huge = self.saved("huge.png", Image.new("1", (4, 4)))
        said = b"IHDR" + struct.pack(">2I", 30_000, 30_000) + b"\x01\0\0\0\0"
        content = huge.read_bytes()
        huge.write_bytes(content[:12] + said + struct.pack(">I", zlib.crc32(said)) + content[33:])
        text = self.folder / "text.png"
        text.write_text("not a picture")
        bitmap = self.saved("other.ico", Image.new("RGB", (64, 64)))
        cases = (
            (cut_off, "cannot be read as a picture"), (huge, "too many"),
            (text, "not a picture"), (self.folder / "none.png", "cannot be read"), (bitmap, "not a picture"),
            (self.saved("tiny.png", Image.new("RGB", (4, 4))), "too few"),
        )  # fmt: skip
        for path, words in cases:
            with self.assertRaisesRegex(IronTrailError, words):
                picture.read_picture(path)

    def test_a_png_tells_its_resolution(self) -> None:
        mat = lighthouse_loop()
        path = self.folder / "mat.png"
        self.assertEqual(png_mat.write(path, mat, 50.8), (4000, 2000))
        with Image.open(path) as image:
            self.assertAlmostEqual(image.info["dpi"][0], 50.8, places=1)
            self.assertEqual(image.size, (4000, 2000))
            # On the tape near the start, 460 mm from the left and 120 mm from the bottom.
            self.assertLess(image.getpixel((2 * 500, 2000 - 2 * 120))[0], 60)
            # Bare mat along all four rims.
            bare = ImageColor.getrgb(mat.colour)
            self.assertEqual({image.getpixel((x, y)) for x in (0, 1999, 3999) for y in (0, 999, 1999)} - {bare}, set())
        with self.assertRaisesRegex(IronTrailError, "Choose 10 to 139 dpi"):
            png_mat.write(path, mat, 600.0)


class ShelfTest(unittest.TestCase):
    def test_kept_found_replaced_and_forgotten(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.dict(os.environ, {"XDG_DATA_HOME": folder}):
            self.assertEqual(mat_file.shelf(), ())
            mat = replace(DEMO_MATS["orchard"](), name="Harbour / wall")
            path = mat_file.put_on_shelf(mat)
            self.assertEqual(mat_file.shelf(), (mat_file.Shelved(path, mat),))
            mat_file.put_on_shelf(replace(mat, colour="#ffffff"))
            self.assertEqual([shelved.mat.colour for shelved in mat_file.shelf()], ["#ffffff"])
            (mat_file.shelf_folder() / "broken.mat.json").write_text("{}")
            self.assertEqual(len(mat_file.shelf()), 1)
            mat_file.take_off_shelf(path)
            self.assertEqual(mat_file.shelf(), ())

    def test_a_broken_file_says_what_is_wrong(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bad.mat.json"
            path.write_text('{"format": 1, "mat": {"name": "x", "line": {"x_mm": -5, "y_mm": 0}}}')
            with self.assertRaisesRegex(IronTrailError, "x_mm"):
                mat_file.read(path)
