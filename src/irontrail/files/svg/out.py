"""SVG out: a mat in millimetres, each line a path of straights and arcs."""

from collections.abc import Iterator
from pathlib import Path
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.route import Joint, plain_joints
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Patch, Spot, Stroke, Zone
from irontrail.files import atomic
from irontrail.files.mat_extra import OF_PATCH, OF_SPOT, OF_STROKE, SPACE, extra_of, extra_of_mat, pieces_text


def to_text(mat: Mat, areas: tuple[LightArea, ...] = ()) -> str:
    """A mat as the text of an SVG file, true to scale, y downward as SVG has it; with shadows and glare on it."""
    wide, high = mat.width_mm, mat.height_mm
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:trail="{SPACE}" width="{wide:.9g}mm" height="{high:.9g}mm" '
        f'viewBox="0 0 {wide:.9g} {high:.9g}"{_told(extra_of_mat(mat))}>',
        f"<title>{escape(mat.name)}</title>",
        f'<rect id="mat" x="0" y="0" width="{wide:.9g}" height="{high:.9g}" fill="{mat.colour}"/>',
        *(_rect(patch, high) for patch in mat.patches if not patch.over_line),
    ]
    for i, stroke in reversed(list(enumerate(mat.lines))):
        name = "line" if i == mat.goal else f"line-{i + 1}"
        way = _path(stroke, high)
        told = _told({"line": str(i), "pieces": pieces_text(stroke)} | extra_of(stroke, OF_STROKE))
        if stroke.border_mm > 0.0:
            width = stroke.width_mm + 2.0 * stroke.border_mm
            parts.append(_stroke(f"{name}-border", way, stroke.border_colour, width, told))
        parts.append(_stroke(name, way, stroke.colour, stroke.width_mm, told))
    parts += [_rect(patch, high) for patch in mat.patches if patch.over_line]
    for name, zone in (("start", mat.start), ("finish", mat.finish)):
        if zone is not None:
            parts.append(_turned(name, zone, zone.width_mm, zone.height_mm, zone.turned_deg, high))
    for i, spot in enumerate(mat.spots, 1):
        side = 2.0 * spot.within_mm
        told = _told(extra_of(spot, OF_SPOT))
        parts.append(_turned(f"spot-{i}", spot, side, side, spot.heading_deg, high, told))
    for i, area in enumerate(areas, 1):
        parts.append(
            f'<ellipse id="light-{i}" cx="{area.x_mm:.9g}" cy="{high - area.y_mm:.9g}" rx="{area.half_width_mm:.9g}" '
            f'ry="{area.half_height_mm:.9g}" fill="none" stroke="none"'
            f"{_told({'factor': repr(area.factor), 'soft_mm': repr(area.soft_mm)})}/>"
        )
    return "\n".join([*parts, "</svg>", ""])


def write(path: Path, mat: Mat, areas: tuple[LightArea, ...] = ()) -> None:
    """Write a mat as SVG; IronTrailError if it cannot be written."""
    atomic.write_text(path, to_text(mat, areas))


def _told(told: dict[str, str]) -> str:
    """What is told beyond what can be seen, as attributes of a name space of its own."""
    return "".join(f" trail:{name}={quoteattr(text)}" for name, text in told.items())


def _stroke(name: str, way: str, colour: str, width: float, told: str) -> str:
    return f'<path id="{name}" d="{way}" fill="none" stroke="{colour}" stroke-width="{width:.9g}"{told}/>'


def _rect(patch: Patch, high: float) -> str:
    left, top = patch.x_mm - patch.width_mm / 2, high - patch.y_mm - patch.height_mm / 2
    size = f'width="{patch.width_mm:.9g}" height="{patch.height_mm:.9g}"'
    told = _told(extra_of(patch, OF_PATCH))
    return f'<rect x="{left:.9g}" y="{top:.9g}" {size} fill="{patch.colour}"{told}/>'


def _turned(
    name: str, of: Zone | Spot, wide: float, tall: float, turned_deg: float, high: float, told: str = ""
) -> str:
    """A rectangle about a place, turned to the left about it."""
    x, y = of.x_mm, high - of.y_mm
    return (
        f'<rect id="{name}" x="{x - wide / 2:.9g}" y="{y - tall / 2:.9g}" width="{wide:.9g}" '
        f'height="{tall:.9g}" transform="rotate({-turned_deg:.9g} {x:.9g} {y:.9g})" fill="none" '
        f'stroke="#4a4f55" stroke-width="1" stroke-dasharray="6 4"{told}/>'
    )


def _path(stroke: Stroke, high: float) -> str:
    """The `d` of a line: straights and arcs; a gap begins anew."""
    way, pen_down, any_gap = [], False, False
    for piece, start, (x1, y1, _) in plain_joints(stroke):
        if isinstance(piece, Gap):
            pen_down, any_gap = False, True
            continue
        if isinstance(piece, Corner):
            continue
        if not pen_down:
            way.append(f"M {start[0]:.9g} {high - start[1]:.9g}")
            pen_down = True
        if isinstance(piece, Bend):
            way += _arcs(piece, start, high)
        else:
            way.append(f"L {x1:.9g} {high - y1:.9g}")
    return " ".join([*way, "Z"] if stroke.closed and not any_gap else way)


def _arcs(bend: Bend, start: Joint, high: float) -> Iterator[str]:
    """A bend as arcs of less than half a turn each: one of a whole turn would vanish."""
    x, y, heading = start
    side, turn = (1.0 if bend.angle_deg > 0.0 else -1.0), float(np.radians(bend.angle_deg))
    middle = x - side * bend.radius_mm * np.sin(heading), y + side * bend.radius_mm * np.cos(heading)
    count = max(1, int(np.ceil(abs(bend.angle_deg) / 170.0)))
    for k in range(1, count + 1):
        way = heading + turn * k / count
        end_x, end_y = middle[0] + side * bend.radius_mm * np.sin(way), middle[1] - side * bend.radius_mm * np.cos(way)
        sweep = 0 if side > 0.0 else 1
        yield f"A {bend.radius_mm:.9g} {bend.radius_mm:.9g} 0 0 {sweep} {end_x:.9g} {high - end_y:.9g}"
