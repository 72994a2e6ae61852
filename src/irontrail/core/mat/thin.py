"""Compiled: a mask thinned to lines one pixel wide."""

import numpy as np

from irontrail.core.compiled import compiled


@compiled
def thin_out(mask):
    """Thin a mask (uint8, 0 or 1, its rim 0) in place to lines one pixel wide (Zhang and Suen 1984)."""
    rows, columns = mask.shape
    gone_x, gone_y = np.empty(rows * columns, np.int32), np.empty(rows * columns, np.int32)
    changed = True
    while changed:
        changed = False
        for half in range(2):
            count = 0
            for j in range(1, rows - 1):
                for i in range(1, columns - 1):
                    if mask[j, i] == 0:
                        continue
                    a, b, c = mask[j - 1, i], mask[j - 1, i + 1], mask[j, i + 1]
                    d, e, f = mask[j + 1, i + 1], mask[j + 1, i], mask[j + 1, i - 1]
                    g, h = mask[j, i - 1], mask[j - 1, i - 1]
                    near = a + b + c + d + e + f + g + h
                    if near < 2 or near > 6:
                        continue
                    rises = (
                        (a == 0 and b == 1) + (b == 0 and c == 1) + (c == 0 and d == 1) + (d == 0 and e == 1)
                        + (e == 0 and f == 1) + (f == 0 and g == 1) + (g == 0 and h == 1) + (h == 0 and a == 1)
                    )  # fmt: skip
                    if rises != 1:
                        continue
                    if half == 0 and (a * c * e != 0 or c * e * g != 0):
                        continue
                    if half == 1 and (a * c * g != 0 or a * e * g != 0):
                        continue
                    gone_x[count], gone_y[count] = i, j
                    count += 1
            for k in range(count):
                mask[gone_y[k], gone_x[k]] = 0
            changed = changed or count > 0
