"""Records that are made and copied as bytes hold what NumPy's own would."""

import unittest

import numpy as np

from irontrail.core.records import blank, copied, joined, put

INNER = np.dtype([("x", "f8"), ("n", "i8", (3,))])
OUTER = np.dtype([("before", "f8"), ("inner", INNER), ("after", "u8")])


class RecordTest(unittest.TestCase):
    def test_a_blank_one_is_of_zeros_and_can_be_filled(self) -> None:
        record = blank(OUTER)
        np.testing.assert_array_equal(record, np.zeros(1, OUTER))
        record["after"] = 7
        self.assertEqual(record["after"][0], 7)
        self.assertEqual(blank(OUTER)["after"][0], 0)

    def test_one_is_put_into_its_place_and_nowhere_else(self) -> None:
        record, part = blank(OUTER), blank(INNER)
        record["before"], record["after"], part["x"], part["n"] = 1.5, 9, -2.0, (4, 5, 6)
        put(record, "inner", part)
        part["x"] = 0.0
        self.assertEqual((record["inner"]["x"][0], record["inner"]["n"][0].tolist()), (-2.0, [4, 5, 6]))
        self.assertEqual((record["before"][0], record["after"][0]), (1.5, 9))
        with self.assertRaisesRegex(TypeError, "after is no such record"):
            put(record, "after", part)

    def test_a_copy_is_its_own(self) -> None:
        record = blank(OUTER)
        record["after"], record["inner"]["n"] = 5, (1, 2, 3)
        made = copied(record)
        np.testing.assert_array_equal(made, record)
        made["after"], made["inner"]["n"] = 6, 0
        self.assertEqual((record["after"][0], record["inner"]["n"][0].tolist()), (5, [1, 2, 3]))

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
