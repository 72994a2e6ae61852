"""The look: every text can be read on its ground."""

import unittest
from pathlib import Path

from irontrail.app import theme
from irontrail.app.theme import contrast
from irontrail.app.widgets.mat_ground import MAT_INK
from irontrail.app.widgets.mat_scene import KEPT_ON_MAT, TRAIL
from irontrail.core.mat.demos import lighthouse_loop
from tests.support import WindowTest


class ContrastTest(unittest.TestCase):
    def test_the_measure_itself(self) -> None:
        self.assertAlmostEqual(contrast("#ffffff", "#000000"), 21.0, places=5)
        self.assertAlmostEqual(contrast("#777777", "#ffffff"), 4.48, places=2)

    def test_texts_stand_out_by_four_and_a_half(self) -> None:
        for look in (theme.LIGHT, theme.DARK):
            grounds = (look.desk, look.sheet, look.card)
            for text in (look.ink, look.second, look.good):
                for ground in grounds:
                    self.assertGreaterEqual(contrast(text, ground), 4.5, (look.name, text, ground))
            for text, ground in (
                (look.rust, look.sheet), (look.rust, look.card), (look.slate, look.sheet),
                (look.brass_text, look.sheet), (look.rust, look.brass_wash), (look.ink, look.slate_wash),
                (look.ink, look.brass_wash), (look.ink, look.desk),
            ):  # fmt: skip
                self.assertGreaterEqual(contrast(text, ground), 4.5, (look.name, text, ground))

    def test_lines_stand_out_by_three(self) -> None:
        for look in (theme.LIGHT, theme.DARK):
            for line in (look.rust, look.ink, *look.kept):
                self.assertGreaterEqual(contrast(line, look.desk), 3.0, (look.name, line))
        mat = lighthouse_loop()
        self.assertGreaterEqual(contrast(MAT_INK, mat.colour), 4.5)
        self.assertGreaterEqual(contrast(TRAIL, mat.colour), 4.5)
        for line in KEPT_ON_MAT:
            self.assertGreaterEqual(contrast(line, mat.colour), 2.8, line)
            self.assertGreaterEqual(contrast(line, mat.line.colour), 2.8, line)

    def test_kept_runs_differ_by_their_dashes_too(self) -> None:
        self.assertEqual(len(set(theme.KEPT_DASHES)), len(theme.LIGHT.kept))


class FontTest(WindowTest):
    def test_the_bundled_typeface_is_the_one_in_use(self) -> None:
        from PySide6.QtGui import QFontInfo, QFontMetricsF

        self.assertEqual(QFontInfo(theme.font(12)).family(), theme.FAMILY)
        metrics = QFontMetricsF(theme.font(16, True))
        self.assertEqual(len({metrics.horizontalAdvance(digit) for digit in "0123456789"}), 1)
        self.assertTrue((Path(theme.__file__).parent / "fonts" / "LICENCE").exists())


if __name__ == "__main__":
    unittest.main()
