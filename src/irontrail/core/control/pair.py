"""Compiled: what a program steers by, of what its sensors read."""

from irontrail.core.compiled import unfused_inlined
from irontrail.core.steering.pair import ARRANGEMENTS, BALANCE

ONE, TABLE, DIFFERENCE, EACH, WEIGHTED = range(len(ARRANGEMENTS))


@unfused_inlined
def value_and_error(c, first, second):
    """The value that the law decides on, and the error, of the readings of both sensors.

    The value is the reading of a single sensor, the number of a table's case, or else the error about `BALANCE`.
    """
    if c.arrangement == ONE:
        return first, first - c.target
    if c.arrangement == WEIGHTED:
        error = c.weight * (first - c.kept_at) + (1.0 - c.weight) * c.second_sign * (second - c.kept_at)
        return BALANCE + error, error
    left, right = (first, second) if c.first_is_left == 1 else (second, first)
    if c.arrangement == DIFFERENCE:
        return BALANCE + (left - right), left - right
    # How far each is on the line, by its threshold.
    on_left, on_right = c.line_sign * (c.left_threshold - left), c.line_sign * (c.right_threshold - right)
    if c.arrangement == EACH:
        error = c.line_sign * (max(on_right, 0.0) - max(on_left, 0.0))
        return BALANCE + error, error
    return (1.0 if on_left > 0.0 else 0.0) + (2.0 if on_right > 0.0 else 0.0), left - right
