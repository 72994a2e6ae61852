"""A sentence with terms: shown whole, and each term opens its meaning by pointer and by keys."""

import unittest
from itertools import pairwise

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QToolTip

import tests.support  # noqa: F401  (no screen is asked for)
from irontrail.app.main import application
from irontrail.app.theme import DARK, LIGHT
from irontrail.app.widgets.term_text import TermText
from irontrail.core.terms import TERMS

SAYS = "Its gain 0.1 is small: it would rock only at 0.85, and without that 10 of 10 shaken starts go well."


class TermTextTest(unittest.TestCase):
    def setUp(self) -> None:
        application()
        self.view = TermText(LIGHT)
        self.view.set_text(SAYS)
        self.view.resize(260, self.view.heightForWidth(260))
        self.view.show()
        self.addCleanup(QToolTip.hideText)
        self.addCleanup(self.view.close)

    def middle_of(self, word: str) -> QPoint:
        """A point on a word's first letters."""
        under = self.view._place_of(SAYS.index(word))
        return QPoint(under.x() + 6, under.y() - 6)

    def test_a_pressed_term_opens_its_meaning(self) -> None:
        for word, term in (("gain", "gain"), ("rock", "rocks"), ("shaken", "shaken starts")):
            QTest.mouseClick(self.view, Qt.MouseButton.LeftButton, pos=self.middle_of(word))
            self.assertEqual(QToolTip.text(), f"{term}: {TERMS[term]}")
        QToolTip.hideText()
        QTest.mouseMove(self.view, self.middle_of("gain"))
        self.assertEqual(self.view.cursor().shape(), Qt.CursorShape.WhatsThisCursor)
        QTest.mouseMove(self.view, self.middle_of("small"))
        self.assertEqual(self.view.cursor().shape(), Qt.CursorShape.ArrowCursor)

    def test_by_keys(self) -> None:
        self.view.setFocus()
        for key, term in ((Qt.Key.Key_Return, "gain"), (Qt.Key.Key_Right, "rocks"), (Qt.Key.Key_Left, "gain")):
            QTest.keyClick(self.view, key)
            QTest.keyClick(self.view, Qt.Key.Key_Space)
            self.assertEqual(QToolTip.text(), f"{term}: {TERMS[term]}")
        QTest.keyClick(self.view, Qt.Key.Key_Left)
        self.view.open_chosen()
        self.assertEqual(QToolTip.text(), f"shaken starts: {TERMS['shaken starts']}")

    def test_a_sentence_without_terms_takes_no_focus(self) -> None:
        self.assertEqual(self.view.focusPolicy(), Qt.FocusPolicy.StrongFocus)
        self.view.set_text("It went well.")
        self.assertEqual((self.view.focusPolicy(), self.view.terms), (Qt.FocusPolicy.NoFocus, ()))
        self.view.open_chosen()
        self.view.choose(1)

    def test_it_is_as_high_as_it_needs_and_told(self) -> None:
        self.assertGreater(self.view.heightForWidth(150), 1.5 * self.view.heightForWidth(300))
        self.assertEqual((self.view.text(), self.view.accessibleName()), (SAYS, SAYS))
        self.assertIn(f"gain: {TERMS['gain']}", self.view.value_told())

    def test_each_term_is_underlined_with_dots_and_nothing_else(self) -> None:
        """A row of dots is dark and light by turns; a word without one has nothing under it."""
        for theme in (LIGHT, DARK):
            self.view.theme = theme
            image = self.view.grab().toImage()
            background = image.pixelColor(image.width() - 1, image.height() - 1)

            def dots(word: str, image=image, background=background) -> int:
                at = self.view._place_of(SAYS.index(word))
                best = 0
                for y in range(at.y() - 2, at.y() + 1):
                    row = [image.pixelColor(at.x() + i, y) != background for i in range(20)]
                    best = max(best, sum(a != b for a, b in pairwise(row)))
                return best

            self.assertGreaterEqual(dots("gain"), 8)
            self.assertEqual(dots("small"), 0)


if __name__ == "__main__":
    unittest.main()
