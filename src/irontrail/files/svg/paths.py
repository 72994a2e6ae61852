"""What a shape of a drawing draws: basic shapes as paths, and paths as ways in mm."""

from dataclasses import replace
from itertools import pairwise
from typing import Any
from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.drawn_way import Arc, Drawn
from irontrail.files.shapes import Way
from irontrail.files.svg.units import View, length

Floats = NDArray[np.float64]


def path_of(element: Element, tag: str, view: View) -> str | None:
    """What a shape draws as the text of a path, in its own units; None for what is no shape.

    Lengths in percent are shares of the view it is drawn in.
    """

    def n(name: str) -> float:
        return length(element.get(name, "0"), view.along(name))

    if tag == "path":
        text = element.get("d", "")
    elif tag in ("polyline", "polygon"):
        text = "M " + element.get("points", "") + (" Z" if tag == "polygon" else "")
    elif tag == "line":
        text = f"M {n('x1')} {n('y1')} L {n('x2')} {n('y2')}"
    elif tag in ("circle", "ellipse"):
        rx, ry = (n("r"), n("r")) if tag == "circle" else (n("rx"), n("ry"))
        if rx <= 0.0 or ry <= 0.0:
            return None
        x, y = n("cx"), n("cy")
        text = f"M {x + rx} {y} A {rx} {ry} 0 0 1 {x} {y + ry} A {rx} {ry} 0 0 1 {x - rx} {y} "
        text += f"A {rx} {ry} 0 0 1 {x} {y - ry} A {rx} {ry} 0 0 1 {x + rx} {y} Z"
    elif tag == "rect":
        text = _rect(
            n("x"), n("y"), n("width"), n("height"), n("rx" if element.get("rx") else "ry"),
            n("ry" if element.get("ry") else "rx"),
        )  # fmt: skip
    else:
        return None
    return text


def _rect(x: float, y: float, wide: float, high: float, rx: float, ry: float) -> str:
    across, down = min(rx, wide / 2), min(ry, high / 2)
    if wide <= 0.0 or high <= 0.0:
        return ""
    if across <= 0.0 or down <= 0.0:
        return f"M {x} {y} H {x + wide} V {y + high} H {x} Z"
    arc = f"A {across} {down} 0 0 1"
    return (
        f"M {x + across} {y} H {x + wide - across} {arc} {x + wide} {y + down} V {y + high - down} {arc} "
        f"{x + wide - across} {y + high} H {x + across} {arc} {x} {y + high - down} V {y + down} {arc} "
        f"{x + across} {y} Z"
    )


def ways_of(text: str, matrix: Floats) -> tuple[Way, ...]:
    """The ways of a path's text brought to mm, y up, by a matrix."""
    import svgelements

    a, b, c, d, e, f = matrix[0, 0], matrix[1, 0], matrix[0, 1], matrix[1, 1], matrix[0, 2], matrix[1, 2]
    path = abs(svgelements.Path(text) * svgelements.Matrix(a, b, c, d, e, f))
    return tuple(way for part in path.as_subpaths() if (way := way_of(svgelements.Path(part))) is not None)


def way_of(part: Any) -> Way | None:
    """A part of a path, in mm with y up: arcs that are round as they are, all else as points."""
    import svgelements

    start: tuple[float, float] | None = None
    parts: list[Drawn] = []
    line: list[Floats] = []
    closes = False
    for segment in part:
        if isinstance(segment, svgelements.Move) or segment.start is None or segment.end is None:
            continue
        closes = closes or isinstance(segment, svgelements.Close)
        first, last = _at(segment.start), _at(segment.end)
        if start is None:
            start = (float(first[0]), float(first[1]))
            line = [first[None]]
        arc = _arc(segment) if isinstance(segment, svgelements.Arc) else None
        if arc is not None:
            if len(np.concatenate(line)) > 1:
                parts.append(np.concatenate(line))
            parts.append(arc)
            line = [last[None]]
        else:
            line.append(_points(segment))
    if start is None:
        return None
    rest = np.concatenate(line)
    if len(rest) > 1:
        parts.append(rest)
    way = Way(start, tuple(parts))
    points = way.points
    if not np.isfinite(points).all() or float(np.abs(points).max()) > 1e7 or way.length_mm < 0.5:
        return None
    meets = float(np.hypot(*(points[-1] - points[0]))) < 0.5 and way.length_mm > 50.0
    return replace(way, closed=closes or meets)


def _at(point: Any) -> Floats:
    return np.array((float(point.x), float(point.y)))


def _points(segment: Any) -> Floats:
    """Points along a segment after its start, about a millimetre apart."""
    import svgelements

    if isinstance(segment, svgelements.Line | svgelements.Close):
        return _at(segment.end)[None]
    if isinstance(segment, svgelements.Arc):
        count = int(np.clip(max(float(segment.rx), float(segment.ry)) * abs(float(segment.sweep)), 8, 2000))
        return np.asarray(segment.npoint(np.linspace(0.0, 1.0, count + 1)[1:]), np.float64)
    controls = [segment.start]
    controls += [segment.control] if hasattr(segment, "control") else [segment.control1, segment.control2]
    net = np.array([_at(each) for each in (*controls, segment.end)])
    count = int(np.clip(np.hypot(*np.diff(net, axis=0).T).sum(), 8, 2000))
    t = np.linspace(0.0, 1.0, count + 1)[1:, None]
    # De Casteljau's way, all points at once.
    layer = [np.broadcast_to(each, (count, 2)) for each in net]
    while len(layer) > 1:
        layer = [(1.0 - t) * a + t * b for a, b in pairwise(layer)]
    return layer[0]


def _arc(segment: Any) -> Arc | None:
    """A round arc; None for a part of an ellipse, or one too tight to be laid."""
    across, down = float(segment.rx), float(segment.ry)
    if not abs(across - down) < 1e-3 * across or across < 10.0:
        return None
    turn = float(segment.sweep)
    out = _at(segment.start) - _at(segment.center)
    heading = float(np.arctan2(out[1], out[0])) + np.sign(turn) * 0.5 * np.pi
    return Arc(across, turn, heading) if abs(turn) > 1e-9 else None
