"""DXF in: lines, arcs, circles, polylines, ellipses and splines as CAD programs give them, to scale."""

import io
import logging
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.drawn_way import Arc, Drawn, along_arc, as_few
from irontrail.core.plain import plain_name
from irontrail.files.drawn_mat import DrawnMat, mat_of
from irontrail.files.reading import read_bytes
from irontrail.files.shapes import Shape, Sheet, Way

Floats = NDArray[np.float64]

MAX_BYTES = 8 * 1024 * 1024
# What a unit of the drawing is in mm, by its number in the file; none is taken as mm.
MM_PER_UNIT = {0: 1.0, 1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 14: 100.0}
# Room round what is drawn, where no outline of the mat is; a line without a width is tape as usual.
MARGIN_MM, USUAL_WIDTH_MM = 100.0, 20.0
LEAST_SIDE_MM = 200.0
MOST_ENTITIES, DEEPEST, CURVE_MM = 5_000, 8, 0.02
BROKEN = (
    ArithmeticError, AssertionError, AttributeError, LookupError, OSError, RuntimeError, TypeError, ValueError,
)  # fmt: skip
DRAWN = ("LINE", "ARC", "CIRCLE", "LWPOLYLINE", "POLYLINE", "SPLINE", "ELLIPSE")


def read(path: Path, check: Check = carry_on) -> DrawnMat:
    """The mat in a DXF file; IronTrailError if it cannot be read, or holds no line."""
    return from_bytes(read_bytes(path, MAX_BYTES, "a drawing"), path.stem, str(path), check)


def from_bytes(content: bytes, name: str, where: str, check: Check = carry_on) -> DrawnMat:
    """The mat in what a DXF file called `where` holds."""
    return mat_of(_sheet_of(content, where), name, where, check)


def _sheet_of(content: bytes, where: str) -> Sheet:
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    # What it mends on the way is not for the terminal.
    logging.getLogger("ezdxf").setLevel(logging.ERROR)
    try:
        document, _ = recover.read(io.BytesIO(content))
        scale = MM_PER_UNIT.get(int(document.header.get("$INSUNITS", 0)), 1.0)
        reading = _Reading(document, scale, where)
        shapes = [shape for entity in document.modelspace() for shape in reading.shapes_of(entity, 0)]
    except IronTrailError:
        raise
    except (*BROKEN, DXFError) as error:
        reason = plain_name(str(error))[:120] or type(error).__name__
        raise IronTrailError(f"not a drawing that can be read ({reason})", where, "Save it as DXF anew.") from error
    if not shapes:
        raise IronTrailError("nothing is drawn in it", where, "Draw the line as lines, arcs, polylines or splines.")
    return _on_a_page(shapes, tuple(dict.fromkeys(reading.left_out)))


class _Reading:
    """A document being gone through."""

    def __init__(self, document: Any, scale: float, where: str) -> None:
        self.document, self.scale, self.where = document, scale, where
        self.left_out: list[str] = []
        self.count = 0

    def shapes_of(self, entity: Any, deep: int) -> Iterator[Shape]:
        """What an entity draws, those inside a block too."""
        self.count += 1
        if self.count > MOST_ENTITIES:
            raise IronTrailError(f"it draws more than {MOST_ENTITIES:,} things", self.where, "Save only the mat.")
        if deep > DEEPEST:
            raise IronTrailError(
                f"its blocks lie in one another more than {DEEPEST} deep", self.where, "Explode them, then save it."
            )
        layer = entity.dxf.get("layer", "0")
        if entity.dxf.get("invisible", 0) or self._is_hidden(layer):
            return
        kind = entity.dxftype()
        if kind == "INSERT":
            for inner in entity.virtual_entities():
                yield from self.shapes_of(inner, deep + 1)
        elif kind in DRAWN:
            way = self._way(entity, kind)
            if way is not None:
                name = layer if layer != "0" else ""
                yield Shape(name, None, self._colour(entity, layer), self._width(entity, kind), (way,))
        else:
            self.left_out.append(f"{kind.lower().replace('mtext', 'text')} of the drawing")

    def _is_hidden(self, layer: str) -> bool:
        if layer not in self.document.layers:
            return False
        found = self.document.layers.get(layer)
        return bool(found.is_off() or found.is_frozen())

    def _colour(self, entity: Any, layer: str) -> str:
        from ezdxf import colors

        true: Any = entity.dxf.get("true_color")
        if true is not None:
            return "#{:02x}{:02x}{:02x}".format(*colors.int2rgb(true))
        number = entity.dxf.get("color", 256)
        if number in (0, 256) and layer in self.document.layers:
            number = abs(self.document.layers.get(layer).color)
        # White on a dark screen is black on paper.
        return "#000000" if number in (0, 7, 256) else "#{:02x}{:02x}{:02x}".format(*colors.aci2rgb(number))

    def _width(self, entity: Any, kind: str) -> float:
        names = {"LWPOLYLINE": "const_width", "POLYLINE": "default_start_width"}
        wide: Any = entity.dxf.get(names[kind], 0.0) if kind in names else 0.0
        if wide * self.scale > 0.5:
            return float(wide * self.scale)
        self.left_out.append(f"no width was drawn: tape of {USUAL_WIDTH_MM:g} mm is laid")
        return USUAL_WIDTH_MM

    def _way(self, entity: Any, kind: str) -> Way | None:
        at = self._at
        if kind == "LINE":
            points = np.array([at(entity.dxf.start), at(entity.dxf.end)])
            way = Way((float(points[0, 0]), float(points[0, 1])), (points,))
        elif kind in ("ARC", "CIRCLE"):
            way = self._round(entity, kind)
        elif kind in ("LWPOLYLINE", "POLYLINE"):
            way = self._polyline(entity, kind)
        else:
            flat = entity.flattening(CURVE_MM / self.scale)
            points = np.array([at(point) for point in flat])
            meets = len(points) > 3 and float(np.hypot(*(points[0] - points[-1]))) < 0.5
            way = Way((float(points[0, 0]), float(points[0, 1])), (points,), meets)
        return way if np.isfinite(way.points).all() and way.length_mm > 0.0 else None

    def _at(self, point: Any) -> tuple[float, float]:
        return float(point[0]) * self.scale, float(point[1]) * self.scale

    def _round(self, entity: Any, kind: str) -> Way:
        middle, radius = np.array(self._at(entity.dxf.center)), float(entity.dxf.radius) * self.scale
        first = np.radians(entity.dxf.start_angle) if kind == "ARC" else 0.0
        turn = np.radians(entity.dxf.end_angle) - first if kind == "ARC" else 2.0 * np.pi
        turn = turn % (2.0 * np.pi) or 2.0 * np.pi
        towards: Any = entity.dxf.get("extrusion", (0.0, 0.0, 1.0))
        mirrored = float(towards[2]) < 0.0
        start = middle + radius * np.array((np.cos(first), np.sin(first)))
        arc = _arc(radius, float(turn), float(first) + 0.5 * np.pi, start)
        way = Way((float(start[0]), float(start[1])), (arc,), turn > 6.28)
        return _mirrored(way) if mirrored else way

    def _polyline(self, entity: Any, kind: str) -> Way:
        if kind == "LWPOLYLINE":
            corners = [(*self._at(point), float(point[2])) for point in entity.get_points("xyb")]
            closed = bool(entity.closed)
        else:
            bulges = ((vertex.dxf.location, vertex.dxf.get("bulge", 0.0)) for vertex in entity.vertices)
            corners = [(*self._at(place), float(bulge)) for place, bulge in bulges]
            closed = bool(entity.is_closed)
        if closed:
            corners.append((*corners[0][:2], 0.0))
        parts: list[Drawn] = []
        for (x, y, bulge), (to_x, to_y, _) in pairwise(corners):
            chord = float(np.hypot(to_x - x, to_y - y))
            if abs(bulge) > 1e-6 and chord > 1e-6:
                # A bulge is the tangent of a quarter of the angle that the arc turns.
                turn = 4.0 * float(np.arctan(bulge))
                heading = float(np.arctan2(to_y - y, to_x - x)) - 0.5 * turn
                parts.append(_arc(0.5 * chord / abs(np.sin(0.5 * turn)), turn, heading, np.array((x, y))))
            else:
                parts.append(np.array([(x, y), (to_x, to_y)]))
        return Way((corners[0][0], corners[0][1]), as_few(parts), closed)


def _arc(radius: float, turn: float, heading: float, start: Floats) -> Drawn:
    """A round arc; as points where it is too tight to be laid as one."""
    if radius >= 10.0:
        return Arc(radius, turn, heading)
    return along_arc(start, heading, radius, np.linspace(0.0, turn, 24))


def _mirrored(way: Way) -> Way:
    """Seen from behind, as CAD gives some arcs: left and right exchanged."""
    parts = tuple(
        Arc(part.radius_mm, -part.turn, np.pi - part.heading) if isinstance(part, Arc) else part * (-1.0, 1.0)
        for part in way.parts
    )
    return Way((-way.start[0], way.start[1]), parts, way.closed)


def _on_a_page(shapes: list[Shape], left_out: tuple[str, ...]) -> Sheet:
    """The shapes moved onto a page: inside the outline that holds them all, or with room round them."""
    boxes = np.array([shape.box for shape in shapes])
    left, low = (float(value) for value in boxes[:, :2].min(axis=0))
    right, high = (float(value) for value in boxes[:, 2:].max(axis=0))
    around = (left, low, right, high)
    outline = next((shape for shape in shapes if len(shapes) > 1 and _is_outline(shape, around)), None)
    if outline is not None:
        shapes = [shape for shape in shapes if shape is not outline]
        return Sheet(right - left, high - low, tuple(_moved(shape, -left, -low) for shape in shapes), (), left_out)
    wide = max(right - left + 2.0 * MARGIN_MM, LEAST_SIDE_MM)
    tall = max(high - low + 2.0 * MARGIN_MM, LEAST_SIDE_MM)
    moved = tuple(_moved(shape, 0.5 * (wide - left - right), 0.5 * (tall - low - high)) for shape in shapes)
    return Sheet(float(wide), float(tall), moved, (), left_out)


def _is_outline(shape: Shape, around: tuple[float, float, float, float]) -> bool:
    (way,) = shape.ways
    straight = all(not isinstance(part, Arc) for part in way.parts)
    if not (way.closed and straight and np.allclose(shape.box, around, atol=0.01)):
        return False
    across, up = around[2] - around[0], around[3] - around[1]
    return abs(way.length_mm - 2.0 * (across + up)) < 0.1


def _moved(shape: Shape, x: float, y: float) -> Shape:
    ways = tuple(
        Way(
            (way.start[0] + x, way.start[1] + y),
            tuple(part if isinstance(part, Arc) else part + np.array((x, y)) for part in way.parts), way.closed,
        )
        for way in shape.ways
    )  # fmt: skip
    return Shape(shape.name, shape.fill, shape.stroke, shape.width_mm, ways)
