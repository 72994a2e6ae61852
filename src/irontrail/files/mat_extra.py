"""What a mat has beyond what can be seen, as it goes out with a drawing of it and comes back: name and text.

It counts only as long as it fits what is drawn: who moves a line in another program moves the line.
"""

import json
from dataclasses import fields, replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.drawn_way import evenly_along, farthest
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.surface import SURFACES
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Patch, Piece, Spot, Straight, Stroke, Wiggle
from irontrail.core.quantity import Part, quantities

Floats = NDArray[np.float64]
PartT = TypeVar("PartT", bound=Part)

OF_STROKE, OF_PATCH, OF_SPOT, OF_MAT = ("unevenness_mm", "unevenness_seed"), ("shine",), ("within_deg",), ("zone_mm",)
_KINDS: dict[str, type[Piece]] = {
    "straight": Straight, "bend": Bend, "corner": Corner, "gap": Gap, "wiggle": Wiggle,
}  # fmt: skip
# The name space of all that, and how an attribute's name in it begins once it is read.
SPACE = "urn:irontrail:mat:1"
EXTRA = "{" + SPACE + "}"
# A line as drawn is the one that was laid if it lies this near to it.
SAME_MM = 0.2


def extra_of(part: Part, names: tuple[str, ...]) -> dict[str, str]:
    """The numbers of a part that a drawing does not show, where they are not the usual ones."""
    usual = {field.name: field.default for field in fields(part)}
    return {name: repr(getattr(part, name)) for name in names if getattr(part, name) != usual[name]}


def with_extra(part: PartT, told: dict[str, str], names: tuple[str, ...]) -> PartT:
    """A part with those numbers as they are told; as it is where they are none."""
    for name in names:
        if name in told:
            quantity = quantities(type(part))[name]
            try:
                value = int(told[name]) if isinstance(quantity.low, int) else float(told[name])
                part = replace(part, **{name: value})
            except (ValueError, IronTrailError):
                continue
    return part


def pieces_text(stroke: Stroke) -> str:
    """How a stroke was laid: a wiggle, a whole ring or a circuit with gaps reads back as that."""
    pieces = [[piece.kind, *(getattr(piece, name) for name in quantities(type(piece)))] for piece in stroke.pieces]
    return json.dumps([stroke.x_mm, stroke.y_mm, stroke.heading_deg, stroke.closed, *pieces])


def stroke_of_text(text: str, drawn: Floats) -> Stroke | None:
    """The stroke that was laid as a text says, if that is what is drawn; None if not.

    Parameters
    ----------
    drawn : ndarray, shape (n, 2)
        Points in mm along all that is drawn of it.
    """
    try:
        x, y, heading, closed, *pieces = json.loads(text)
        laid = tuple(_KINDS[kind](*numbers) for kind, *numbers in pieces)
        stroke = Stroke(float(x), float(y), float(heading), laid, bool(closed))
        way = stroke_route(stroke, "")
    except (ValueError, TypeError, KeyError, IronTrailError, RecursionError):
        return None
    on = np.column_stack((way.x_mm, way.y_mm))
    taped = np.ones(len(on), np.bool_)
    for start, end in way.gaps:
        taped &= (way.s_mm < start) | (way.s_mm > end)
    near = max(farthest(drawn, on), farthest(on[taped], evenly_along(drawn)))
    return stroke if near <= SAME_MM else None


def extra_of_mat(mat: Mat) -> dict[str, str]:
    """What is told of a mat as a whole."""
    told = extra_of(mat, OF_MAT) | ({"surface": mat.surface} if mat.surface != "paper" else {})
    return told | ({"goal": str(mat.goal)} if mat.goal else {})


def with_mat_extra(mat: Mat, told: dict[str, str]) -> Mat:
    """A mat with what is told of it as a whole, but for its goal."""
    surface: Any = told.get("surface", "paper")
    mat = replace(mat, surface=surface) if surface in SURFACES else mat
    return with_extra(mat, told, OF_MAT)


def with_patch_extra(patch: Patch, told: dict[str, str]) -> Patch:
    """A patch with its shine."""
    return with_extra(patch, told, OF_PATCH)


def with_spot_extra(spot: Spot, told: dict[str, str]) -> Spot:
    """A spot with how far turned the robot may stand."""
    return with_extra(spot, told, OF_SPOT)


def area_of(box: tuple[float, float, float, float], told: dict[str, str]) -> list[LightArea]:
    """The shadow or glare in a box (left, low, right, high); none where what is told of it is none."""
    left, low, right, high = box
    try:
        factor, soft = float(told["factor"]), float(told.get("soft_mm", "40"))
        middle = round(0.5 * (left + right), 6), round(0.5 * (low + high), 6)
        half = round(0.5 * (right - left), 6), round(0.5 * (high - low), 6)
        return [LightArea(*middle, *half, factor, soft)]
    except (ValueError, IronTrailError):
        return []
