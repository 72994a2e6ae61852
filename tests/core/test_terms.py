"""Terms are found in what is said, whatever their form, and each has a meaning."""

import unittest

from irontrail.core.terms import TERMS, terms_in


class TermsTest(unittest.TestCase):
    def test_each_is_found_where_it_is_first_met(self) -> None:
        text = "Its gain rocks. Calibrate here: a gain of 2, and 3 of 10 shaken starts."
        self.assertEqual(
            [(term, text[start:end]) for term, start, end in terms_in(text)],
            [("gain", "gain"), ("rocks", "rocks"), ("calibrated", "Calibrate"), ("shaken starts", "shaken starts")],
        )
        self.assertEqual(terms_in(text)[0][1], text.index("gain"))

    def test_no_part_of_another_word_is_one(self) -> None:
        self.assertEqual(terms_in("It turns again, in a looped, noiseless, knowledgeable way on the rocky edges."), ())

    def test_every_term_is_found_and_has_a_sentence(self) -> None:
        for term, meaning in TERMS.items():
            self.assertEqual([found for found, _, _ in terms_in(f"Here {term} is.")], [term])
            self.assertTrue(meaning.endswith(".") and meaning[0].isupper(), meaning)


if __name__ == "__main__":
    unittest.main()
