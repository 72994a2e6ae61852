"""Drawn ways laid as tape: as many as a mat holds, as wide and dashed as drawn, those straight ahead with a gap."""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.dashes import with_dashes
from irontrail.core.mat.pieces import length_of
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import MAX_OTHER_LINES, Gap, Stroke
from irontrail.files.drawn_lines import Line, ahead_of, tape_of
from irontrail.files.joined_ways import Marked
from irontrail.files.mat_extra import OF_STROKE, stroke_of_text, with_extra
from irontrail.files.shapes import DECIMALS, Shape, Sheet, Way, called

# Tape is so narrow and so wide.
NARROWEST_MM, WIDEST_MM = 4.0, 80.0
LEAST_LINE_MM = 20.0
# So many lines are laid, the longest.
MOST_LAID = MAX_OTHER_LINES + 1


class Laying:
    """Lays the lines of a sheet; adds to `left_out` what it cannot, and why. `check` is told the share that is laid."""

    def __init__(self, sheet: Sheet, name: str, left_out: list[str], check: Callable[[float], None]) -> None:
        self.sheet, self.name, self.left_out, self.check = sheet, name, left_out, check
        self._laid_ways = self._to_lay = 0

    def lines(self, drawn: list[Marked]) -> list[Line]:
        """What is drawn, as tape."""
        drawn = self._longest(drawn)
        self._to_lay = sum(len(ways) for _, ways, _ in drawn)
        return [line for shape, ways, _ in drawn for line in self._laid(shape, ways)]

    def _longest(self, drawn: list[Marked]) -> list[Marked]:
        """What can be laid in good time: a mat has no more lines than this."""
        ways = [(way.length_mm, i, k) for i, (_, ways, _) in enumerate(drawn) for k, way in enumerate(ways)]
        ours = any("pieces" in shape.told for shape, _, _ in drawn)
        if len(ways) <= MOST_LAID or ours:
            return drawn
        kept = {(i, k) for _, i, k in sorted(ways, reverse=True)[:MOST_LAID]}
        self.left_out.append(f"{len(ways) - MOST_LAID} of {len(ways)} lines, the shorter ones")
        some = (
            (shape, tuple(way for k, way in enumerate(ways) if (i, k) in kept), order)
            for i, (shape, ways, order) in enumerate(drawn)
        )
        return [each for each in some if each[1]]

    def _laid(self, shape: Shape, ways: tuple[Way, ...]) -> Iterator[Line]:
        """The lines of a shape."""
        strokes = self._strokes(shape, ways)
        width = float(np.clip(shape.width_mm, NARROWEST_MM, WIDEST_MM))
        if strokes and abs(width - shape.width_mm) > 0.05:
            how = "wider" if width > shape.width_mm else "narrower"
            of = f"{shape.width_mm:.1f} mm of a line{called(shape)}"
            self.left_out.append(f"the width of {of}, which is laid {how}, {width:g} mm")
        for stroke, off in strokes:
            made = replace(stroke, width_mm=round(width, DECIMALS), colour=shape.stroke or shape.fill or "#000000")
            if shape.dashes:
                solid, made = made, with_dashes(made, shape.dashes, shape.dashes_from_mm)
                if made == solid and shape.dashes[0] < sum(map(length_of, solid.pieces)):
                    self.left_out.append(f"the dashes of a line{called(shape)}, too fine for tape")
            made = with_extra(made, shape.told, OF_STROKE)
            try:
                route = stroke_route(made, self.name)
            except IronTrailError as error:
                self.left_out.append(f"a line{called(shape)}: {error.what}")
                continue
            wide, high = self.sheet.width_mm, self.sheet.height_mm
            if min(route.x_mm.min(), route.y_mm.min()) < 0.0 or route.x_mm.max() > wide or route.y_mm.max() > high:
                self.left_out.append(f"the edge of the page, beyond which a line{called(shape)} runs")
            yield Line(shape.name, made, off, shape.told)

    def _strokes(self, shape: Shape, ways: tuple[Way, ...]) -> list[tuple[Stroke, float]]:
        """The ways of a shape as tape, and how far that is off; those straight ahead of another are one with a gap."""
        strokes: list[tuple[Stroke, float]] = []
        if "pieces" in shape.told:
            known = stroke_of_text(shape.told["pieces"], np.concatenate([way.points for way in ways]))
            if known is not None:
                strokes, ways = [(known, 0.0)], ()
        for way in ways:
            if way.length_mm < LEAST_LINE_MM:
                self.left_out.append(f"a line{called(shape)} shorter than {LEAST_LINE_MM:g} mm")
                continue
            self.check(self._laid_ways / self._to_lay)
            self._laid_ways += 1
            try:
                stroke, off = tape_of(way)
            except IronTrailError as error:
                self.left_out.append(f"a line{called(shape)}: {error.what}")
                continue
            before = strokes[-1][0] if strokes else None
            ahead = ahead_of(before, stroke) if before is not None else None
            if before is not None and ahead is not None:
                longer = replace(before, pieces=(*before.pieces, Gap(ahead), *stroke.pieces))
                strokes[-1] = longer, max(off, strokes[-1][1])
            else:
                strokes.append((stroke, off))
        return strokes
