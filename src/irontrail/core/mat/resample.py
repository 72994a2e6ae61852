"""Compiled: a picture's colours at the places of a mat's pixels."""

from irontrail.core.compiled import compiled


@compiled
def resample(picture, to_picture, mm_per_px, seen):
    """Fill `seen` (rows, columns, 3, float32) with the colours, 0..1, between four pixels of a picture (uint8) each.

    `to_picture` takes mm on the mat to the picture's pixels; what lies beyond the picture takes the colour of its rim.
    """
    most_x, most_y = picture.shape[1] - 1.001, picture.shape[0] - 1.001
    for row in range(seen.shape[0]):
        v = (row + 0.5) * mm_per_px
        for column in range(seen.shape[1]):
            u = (column + 0.5) * mm_per_px
            depth = to_picture[2, 0] * u + to_picture[2, 1] * v + to_picture[2, 2]
            x = (to_picture[0, 0] * u + to_picture[0, 1] * v + to_picture[0, 2]) / depth - 0.5
            y = (to_picture[1, 0] * u + to_picture[1, 1] * v + to_picture[1, 2]) / depth - 0.5
            x, y = min(max(x, 0.0), most_x), min(max(y, 0.0), most_y)
            left, top = int(x), int(y)
            x, y = x - left, y - top
            for colour in range(3):
                upper = (1.0 - x) * picture[top, left, colour] + x * picture[top, left + 1, colour]
                lower = (1.0 - x) * picture[top + 1, left, colour] + x * picture[top + 1, left + 1, colour]
                seen[row, column, colour] = ((1.0 - y) * upper + y * lower) / 255.0
