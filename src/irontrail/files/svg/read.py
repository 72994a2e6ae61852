"""SVG in: the drawing's size, its strokes as lines, its filled rectangles as patches and ground, its zones by name."""

import io
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import plain_joints
from irontrail.core.mat.tape import MAX_OTHER_LINES, MAX_PATCHES, MAX_SPOTS, Mat, Patch, Spot, Stroke, Zone
from irontrail.core.quantity import quantities
from irontrail.files.reading import read_bytes
from irontrail.files.svg.safe import check
from irontrail.files.svg.way import MM_PER_PX, Shape, place, strokes_of

MAX_BYTES = 4 * 1024 * 1024
MAX_SEGMENTS = 2000
# A drawing's figures are no finer than this; what converting units adds is left off.
DECIMALS = 2


@dataclass(frozen=True)
class Drawn:
    """A mat read from a drawing, and what of the drawing could not be taken over."""

    mat: Mat
    left_out: tuple[str, ...]


def read(path: Path) -> Drawn:
    """The mat in an SVG file; IronTrailError if it cannot be read, or holds no line."""
    return from_bytes(read_bytes(path, MAX_BYTES, "a drawing"), path.stem, str(path))


def from_bytes(text: bytes, name: str, where: str) -> Drawn:
    """The mat in the text of an SVG file called `where`."""
    check(text, where)
    wide, high, shapes = _shapes(text, where)
    try:
        return _mat_of(shapes, wide, high, name)
    except IronTrailError as error:
        raise IronTrailError(error.what, where, error.remedy) from error


def _shapes(text: bytes, where: str) -> tuple[float, float, list[Shape]]:
    """The drawing's size in mm, and its visible shapes in the order they are drawn."""
    import svgelements

    try:
        drawing = svgelements.SVG.parse(io.BytesIO(text), reify=True, ppi=96)
        wide, high = float(drawing.width) * MM_PER_PX, float(drawing.height) * MM_PER_PX
        shapes = []
        for element in drawing.elements():
            if not isinstance(element, svgelements.Shape) or element.values.get("display") == "none":
                continue
            path = abs(svgelements.Path(element))
            if len(path) > MAX_SEGMENTS:
                raise IronTrailError(f"a path has more than {MAX_SEGMENTS} parts", where, "Simplify it first.")
            width = float(element.implicit_stroke_width or 0.0) if element.stroke_width is not None else 1.0
            parts = tuple(tuple(part) for part in (svgelements.Path(sub) for sub in path.as_subpaths()))
            if parts:
                shapes.append(
                    Shape(
                        str(element.id or ""),
                        _colour(element.fill, "#000000"),
                        _colour(element.stroke, None),
                        width * MM_PER_PX,
                        parts,
                    )
                )
    except IronTrailError:
        raise
    except (ValueError, TypeError, AttributeError, IndexError, ZeroDivisionError, RecursionError) as error:
        raise IronTrailError(f"not a drawing that can be read ({error or 'a broken path'})", where) from error
    return wide, high, shapes


def _colour(colour: Any, default: str | None) -> str | None:
    """A colour as #rrggbb; None where there is none to be seen."""
    if colour is None:
        return default
    if colour.value is None or colour.opacity == 0:
        return None
    return f"#{colour.red:02x}{colour.green:02x}{colour.blue:02x}"


def _mat_of(shapes: list[Shape], wide: float, high: float, name: str) -> Drawn:
    ranges = quantities(Mat)
    for value, what in ((wide, "wide"), (high, "high")):
        side = ranges["width_mm"]
        if not side.low - 0.5 <= value <= side.high + 0.5:
            raise IronTrailError(
                f"the drawing is {value:.0f} mm {what}", "", f"A mat is {side.low:g} to {side.high:g} mm; set its size."
            )
    wide, high = (
        float(np.clip(round(v, DECIMALS), ranges["width_mm"].low, ranges["width_mm"].high)) for v in (wide, high)
    )
    ground = "#ffffff"
    patches: list[Patch] = []
    left_out: list[str] = []
    strokes: list[tuple[str, Stroke]] = []
    zones, spots, shapes = _marked(shapes, high)
    for shape in shapes:
        box = _box(shape, high)
        if shape.stroke is not None and shape.width_mm >= 0.5:
            strokes += [(shape.name, each) for each in strokes_of(shape, high, left_out)]
        elif shape.fill is not None and shape.stroke is None:
            if box is None or abs(box[4]) > 0.01:
                left_out.append("a filled shape that is no upright rectangle")
            elif box[2] >= 0.98 * wide and box[3] >= 0.98 * high:
                ground = shape.fill
            elif len(patches) < MAX_PATCHES:
                patches.append(Patch(box[0], box[1], box[2], box[3], shape.fill, over_line=bool(strokes)))
    lines = _bordered(strokes)
    if not lines:
        raise IronTrailError(
            "no line was found in it", "", "Draw the line as a path with a stroke, not as a filled shape."
        )
    first = next((i for i, (label, _) in enumerate(lines) if label == "line"), None)
    first = max(range(len(lines)), key=lambda i: _length(lines[i][1])) if first is None else first
    line, others = lines[first][1], [stroke for i, (_, stroke) in enumerate(lines) if i != first]
    if len(others) > MAX_OTHER_LINES:
        left_out.append(f"{len(others) - MAX_OTHER_LINES} of {len(others) + 1} lines")
    mat = Mat(
        name, line, wide, high, ground, patches=tuple(patches), other_lines=tuple(others[:MAX_OTHER_LINES]),
        start=zones.get("start"), finish=zones.get("finish"),
        spots=spots,
    )  # fmt: skip
    return Drawn(mat, tuple(left_out))


def _marked(shapes: list[Shape], high: float) -> tuple[dict[str, Zone], tuple[Spot, ...], list[Shape]]:
    """Zones by name and spots, told by the names of their rectangles; and all other shapes."""
    zones: dict[str, Zone] = {}
    spots: list[Spot] = []
    rest = []
    for shape in shapes:
        box = _box(shape, high)
        if shape.name in ("start", "finish") and box is not None:
            zones[shape.name] = Zone(*(float(v) for v in box))
        elif shape.name.startswith("spot-") and box is not None and len(spots) < MAX_SPOTS:
            spots.append(Spot(box[0], box[1], box[4], 0.5 * box[2]))
        else:
            rest.append(shape)
    return zones, tuple(spots), rest


def _bordered(strokes: list[tuple[str, Stroke]]) -> list[tuple[str, Stroke]]:
    """The lines, where one lies on a wider one along the same way that is its border."""
    lines: list[tuple[str, Stroke]] = []
    for name, stroke in strokes:
        under = lines[-1][1] if lines else None
        wider = round(0.5 * (under.width_mm - stroke.width_mm), DECIMALS) if under is not None else 0.0
        same = under is not None and replace(under, width_mm=stroke.width_mm, colour=stroke.colour) == stroke
        if under is not None and same and 0.5 <= wider <= 60.0:
            lines[-1] = (name, replace(stroke, border_mm=wider, border_colour=under.colour))
        else:
            lines.append((name, stroke))
    return lines


def _length(stroke: Stroke) -> float:
    return sum(float(np.hypot(b[0] - a[0], b[1] - a[1])) for _, a, b in plain_joints(replace(stroke, closed=False)))


def _box(shape: Shape, high: float) -> tuple[float, float, float, float, float] | None:
    """Middle, width, height (mm) and angle (degrees, left) of a shape that is a rectangle; None for another."""
    import svgelements

    if len(shape.parts) != 1:
        return None
    ends = [
        seg.end for seg in shape.parts[0] if isinstance(seg, svgelements.Move | svgelements.Line | svgelements.Close)
    ]
    if len(ends) != len(shape.parts[0]) or any(end is None for end in ends):
        return None
    points = np.array([place(end, high) for end in ends])
    if len(points) == 5 and np.allclose(points[0], points[-1], atol=1e-6):
        points = points[:4]
    if len(points) != 4:
        return None
    across, up = points[1] - points[0], points[2] - points[1]
    wide, tall = float(np.hypot(*across)), float(np.hypot(*up))
    square = abs(float(across @ up)) < 1e-6 * max(wide * tall, 1e-9)
    if not square or min(wide, tall) < 1.0 or not np.allclose(points[0] + up, points[3], atol=1e-3):
        return None
    middle, angle = points.mean(axis=0), float(np.degrees(np.arctan2(across[1], across[0])))
    x, y, wide, tall = (round(float(value), DECIMALS) for value in (*middle, wide, tall))
    return x, y, wide, tall, round(angle, 6)
