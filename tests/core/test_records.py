"""Records that are filled and joined as bytes hold what NumPy's own would."""

import unittest

import numpy as np

from irontrail.core.records import Form, blank, joined

INNER = np.dtype([("x", "f8"), ("n", "i8", (3,))])
OUTER = np.dtype([("before", "f8"), ("inner", INNER), ("after", "u8")])


class RecordTest(unittest.TestCase):
    def test_a_blank_one_is_of_zeros_and_can_be_filled(self) -> None:
        record = blank(OUTER)
        np.testing.assert_array_equal(record, np.zeros(1, OUTER))
        record["after"] = 7
        self.assertEqual(record["after"][0], 7)
        self.assertEqual(blank(OUTER)["after"][0], 0)

    def test_one_is_filled_with_numbers_and_parts_and_nothing_else(self) -> None:
        form, part = Form(OUTER), blank(INNER)
        part["x"], part["n"] = -2.0, (4, 5, 6)
        record = form.filled({"after": 2**64 - 1, "before": 1.5}, inner=part)
        part["x"] = 0.0
        self.assertEqual((record["inner"]["x"][0], record["inner"]["n"][0].tolist()), (-2.0, [4, 5, 6]))
        self.assertEqual((record["before"][0], record["after"][0]), (1.5, 2**64 - 1))
        # Other numbers, and the same once more in another order; what is not given is 0.
        for values in ({"after": 7}, {"before": np.float64(0.25), "after": 7}, {"after": 8, "before": True}):
            made = form.filled(values)
            self.assertEqual(made["before"][0], float(values.get("before", 0.0)))
            self.assertEqual((made["after"][0], made["inner"]["x"][0]), (values["after"], 0.0))
        with self.assertRaisesRegex(TypeError, "after is no such record"):
            form.filled({}, after=part)

    def test_one_like_another_is_its_own(self) -> None:
        form = Form(OUTER)
        record = form.filled({"after": 5, "before": 3.0})
        record["inner"]["n"] = 1, 2, 3
        made = form.filled({"before": 4.0}, record)
        self.assertEqual((made["before"][0], made["after"][0], made["inner"]["n"][0].tolist()), (4.0, 5, [1, 2, 3]))
        made["after"], made["inner"]["n"] = 6, 0
        self.assertEqual((record["after"][0], record["inner"]["n"][0].tolist()), (5, [1, 2, 3]))
        self.assertEqual(record["before"][0], 3.0)
        with self.assertRaisesRegex(TypeError, "no such record"):
            form.filled({}, blank(INNER))

    def test_joined_they_stand_in_a_row_and_are_copies(self) -> None:
        records = [blank(OUTER) for _ in range(3)]
        for i, each in enumerate(records):
            each["after"], each["inner"]["x"] = i, 0.5 * i
        row = joined(records)
        np.testing.assert_array_equal(row, np.concatenate(records))
        row["after"] = 8
        self.assertEqual([int(each["after"][0]) for each in records], [0, 1, 2])


if __name__ == "__main__":
    unittest.main()
