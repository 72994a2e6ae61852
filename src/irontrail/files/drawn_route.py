"""Which line of a drawing is the route: the one that is called so, that begins in the start zone, or the longest."""

from dataclasses import replace

from irontrail.core.mat.frames import is_frame
from irontrail.core.mat.pieces import turned_round
from irontrail.core.mat.route import piece_joints, stroke_route
from irontrail.core.mat.tape import Zone
from irontrail.core.mat.zones import is_inside
from irontrail.files.drawn_lines import Line, chords_of


def route_of(lines: list[Line], start: Zone | None, size_mm: tuple[float, float]) -> tuple[list[Line], int, bool]:
    """The lines, of which the route runs the way it is driven; which it is; and whether the drawing says so."""
    for name in ("line", "line-1"):
        for i, line in enumerate(lines):
            if line.name == name:
                return lines, i, True
    could = could_be_route(lines, size_mm)
    if start is None:
        return lines, could[0], len(could) == 1
    for i in could:
        stroke = lines[i].stroke
        if stroke.closed:
            way = stroke_route(stroke, lines[i].name)
            if any(is_inside(start, float(x), float(y)) for x, y in zip(way.x_mm, way.y_mm, strict=True)):
                return lines, i, True
            continue
        x, y, _ = piece_joints(stroke)[-1]
        if is_inside(start, stroke.x_mm, stroke.y_mm):
            return lines, i, True
        if is_inside(start, x, y):
            return [*lines[:i], replace(lines[i], stroke=turned_round(stroke)), *lines[i + 1 :]], i, True
    return lines, could[0], len(could) == 1


def could_be_route(lines: list[Line], size_mm: tuple[float, float]) -> list[int]:
    """The lines that could be the route, the longest first; a frame only if there is nothing else."""
    frames = [is_frame(line.stroke, *size_mm) for line in lines]
    could = [i for i in range(len(lines)) if not frames[i]] or list(range(len(lines)))
    return sorted(could, key=lambda i: -chords_of(lines[i].stroke))
