"""A drawing as a mat: which of its shapes are lines, grounds, patches, zones and spots."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.tape import (
    MAX_OTHER_LINES,
    MAX_PATCHES,
    MAX_SPOTS,
    Mat,
    Patch,
    Spot,
    Zone,
)
from irontrail.core.quantity import quantities
from irontrail.files.drawn_lines import Line, bordered, in_their_order
from irontrail.files.drawn_route import could_be_route, route_of
from irontrail.files.drawn_tape import NARROWEST_MM, Laying
from irontrail.files.filled_tape import centre_lines
from irontrail.files.joined_ways import Marked, joined
from irontrail.files.mat_extra import (
    area_of,
    with_mat_extra,
    with_patch_extra,
    with_spot_extra,
)
from irontrail.files.shapes import DECIMALS, Shape, Sheet, called, upright_box

Floats = NDArray[np.float64]

# A stroke of less is no tape.
HAIR_MM = 0.5
# A line laid farther from the drawn one than this is asked about.
ASKED_MM = 1.0
# So much is told of what was passed over.
MOST_TOLD = 5
# Of more filled shapes nobody looks whether they are tape.
MOST_TRIED = 40


@dataclass(frozen=True, eq=False)
class DrawnMat:
    """A mat read from a drawing, and what there is to say of it.

    `off_mm` is how far a line as laid is from the drawn one at most; `choices` are the mats with each line that could
    be the route as the one to follow, the first being `mat`, where the drawing does not say which; `pictures` those
    that were in the drawing, `areas` the shadows and glare.
    """

    mat: Mat
    left_out: tuple[str, ...]
    off_mm: float = 0.0
    choices: tuple[Mat, ...] = ()
    pictures: tuple[bytes, ...] = ()
    areas: tuple[LightArea, ...] = ()


class NoLineError(IronTrailError):
    """A drawing without any line; it may hold pictures."""

    def __init__(self, where: str, pictures: tuple[bytes, ...], left_out: list[str]) -> None:
        passed = f" (passed over: {'; '.join(dict.fromkeys(left_out[:MOST_TOLD]))})" if left_out else ""
        super().__init__(
            f"no line was found in it{passed}",
            where,
            "Draw the line as a path with a stroke, or as a long filled shape.",
        )
        self.pictures = pictures


def mat_of(sheet: Sheet, name: str, where: str, check: Check = carry_on) -> DrawnMat:
    """The mat of a drawing called `name`; `check` is called for each shape and line, and raises to give up.

    Raises
    ------
    IronTrailError
        If it holds no line, or is not of a mat's size.
    """
    try:
        return _Making(sheet, name, check).made(where)
    except IronTrailError as error:
        if isinstance(error, NoLineError):
            raise
        raise IronTrailError(error.what, where, error.remedy or "Change it where it was drawn.") from error


class _Making:
    """A mat on the way."""

    def __init__(self, sheet: Sheet, name: str, check: Check) -> None:
        self.sheet, self.name, self.check = sheet, name, check
        self.left_out = list(sheet.left_out)
        self.zones: dict[str, Zone] = {}
        self.spots: list[Spot] = []
        self.areas: list[LightArea] = []
        self.patches: list[Patch] = []
        self.ground = "#ffffff"
        self.tried_as_tape = 0

    def made(self, where: str) -> DrawnMat:
        wide, high = self._size()
        drawn: list[Marked] = []
        for order, shape in enumerate(self.sheet.shapes):
            self.check(0.5 * order / len(self.sheet.shapes))
            if self._is_off(shape) and "factor" not in shape.told:
                self.left_out.append(f"a shape{called(shape)} off the page")
            elif not self._marks(shape):
                # The outline of what is filled is no line, unless it is as wide as tape.
                is_line = shape.width_mm >= (HAIR_MM if shape.fill is None else NARROWEST_MM)
                if shape.stroke is not None and is_line:
                    drawn.append((shape, shape.ways, order))
                elif shape.fill is not None:
                    tape = self._filled(replace(shape, stroke=None), bool(drawn), wide, high)
                    if tape is not None:
                        drawn.append((tape, tape.ways, order))
                        if min(shape.box[:2]) < 0.0:
                            # No tape starts there.
                            self.left_out.append(f"what of a filled shape{called(shape)} lies off the page")
                elif shape.stroke is not None:
                    self.left_out.append(f"a hairline{called(shape)}")
        laying = Laying(self.sheet, self.name, self.left_out, lambda share: self.check(0.5 + 0.5 * share))
        lines = in_their_order(bordered(laying.lines(joined(drawn))))
        if not lines:
            raise NoLineError(where, self.sheet.pictures, self.left_out)
        return self._with_route(lines, wide, high)

    def _size(self) -> tuple[float, float]:
        side = quantities(Mat)["width_mm"]
        for value, what in ((self.sheet.width_mm, "wide"), (self.sheet.height_mm, "high")):
            if not side.low - 0.5 <= value <= side.high + 0.5:
                raise IronTrailError(
                    f"the drawing is {value:.0f} mm {what}", "",
                    f"A mat is {side.low:g} to {side.high:g} mm; set its size.",
                )  # fmt: skip
        wide, high = (
            float(np.clip(round(v, DECIMALS), side.low, side.high)) for v in (self.sheet.width_mm, self.sheet.height_mm)
        )
        return wide, high

    def _is_off(self, shape: Shape) -> bool:
        left, low, right, high = shape.box
        return right <= 0.0 or high <= 0.0 or left >= self.sheet.width_mm or low >= self.sheet.height_mm

    # --- what is no line

    def _marks(self, shape: Shape) -> bool:
        """Whether a shape is a zone or a spot, told by its name."""
        box = upright_box(shape)
        if shape.name in ("start", "finish") and box is not None:
            with self._or_left_out(f"the zone{called(shape)}"):
                self.zones[shape.name] = Zone(*box)
        elif shape.name.startswith("spot-") and box is not None:
            with self._or_left_out(f"the spot{called(shape)}"):
                if len(self.spots) == MAX_SPOTS:
                    raise IronTrailError(f"there are {MAX_SPOTS} already")
                self.spots.append(with_spot_extra(Spot(box[0], box[1], box[4], 0.5 * box[2]), shape.told))
        elif shape.name.startswith("light-") and "factor" in shape.told:
            self.areas += area_of(shape.box, shape.told)
        else:
            return False
        return True

    def _filled(self, shape: Shape, over_line: bool, wide: float, high: float) -> Shape | None:
        """What a filled shape is: the ground, a patch, or tape of some width, which is given back."""
        box = upright_box(shape)
        fill = shape.fill or "#000000"
        if box is not None and box[2] >= 0.98 * wide and box[3] >= 0.98 * high and abs(box[4]) < 0.01:
            self.ground = fill
            return None
        self.tried_as_tape += 1
        tape = centre_lines(shape) if self.tried_as_tape <= MOST_TRIED else None
        if tape is not None:
            return tape
        if box is None or abs(box[4]) > 0.01:
            self.left_out.append(f"a filled shape{called(shape)} that is no upright rectangle")
        elif len(self.patches) >= MAX_PATCHES:
            self.left_out.append(f"patches beyond {MAX_PATCHES}")
        else:
            with self._or_left_out(f"a patch{called(shape)}"):
                patch = Patch(box[0], box[1], box[2], box[3], fill, over_line=over_line)
                self.patches.append(with_patch_extra(patch, shape.told))
        return None

    @contextmanager
    def _or_left_out(self, what: str) -> Iterator[None]:
        """Leave out what cannot be, and say why."""
        try:
            yield
        except IronTrailError as error:
            self.left_out.append(f"{what}: {error.what}")

    def _with_route(self, lines: list[Line], wide: float, high: float) -> DrawnMat:
        told, mats = dict(self.sheet.extra), []
        if all("line" in line.told for line in lines) and len(lines) <= MAX_OTHER_LINES + 1:
            # One of ours: the lines are in their order, and the goal is told.
            mat = self._mat(lines, 0, wide, high)
            goal = int(told["goal"]) if told.get("goal", "").isdecimal() else 0
            made = replace(with_mat_extra(mat, told), goal=min(goal, len(lines) - 1))
            off = max(line.off_mm for line in lines)
            return DrawnMat(made, tuple(dict.fromkeys(self.left_out)), off, (), self.sheet.pictures, tuple(self.areas))
        lines, goal, sure = route_of(lines, self.zones.get("start"), (wide, high))
        for first in [goal, *(i for i in could_be_route(lines, (wide, high)) if i != goal)][: MAX_OTHER_LINES + 1]:
            mat = self._mat(lines, first, wide, high)
            mats.append(with_mat_extra(mat, told))
            if sure:
                break
        if len(lines) - 1 > MAX_OTHER_LINES:
            self.left_out.append(f"{len(lines) - 1 - MAX_OTHER_LINES} of {len(lines)} lines")
        off = max(line.off_mm for line in lines)
        choices = tuple(mats) if len(mats) > 1 else ()
        return DrawnMat(mats[0], tuple(dict.fromkeys(self.left_out)), off, choices, self.sheet.pictures)

    def _mat(self, lines: list[Line], first: int, wide: float, high: float) -> Mat:
        others = [line.stroke for i, line in enumerate(lines) if i != first]
        return Mat(
            self.name, lines[first].stroke, wide, high, self.ground, patches=tuple(self.patches),
            other_lines=tuple(others[:MAX_OTHER_LINES]), start=self.zones.get("start"),
            finish=self.zones.get("finish"), spots=tuple(self.spots),
        )  # fmt: skip
