"""SVG in: what is to be seen of a drawing, with its styles, transforms and units worked out."""

import base64
import binascii
import re
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any
from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.drawn_way import Arc, Drawn
from irontrail.core.plain import plain_name
from irontrail.files.shapes import Shape, Sheet, Way
from irontrail.files.svg.names import EXTRA
from irontrail.files.svg.safe import parsed
from irontrail.files.svg.style import Style, styles

Floats = NDArray[np.float64]

MM_PER_PX = 25.4 / 96.0
# Work is counted before it is done: things that are drawn, uses within uses, points of a path.
MOST_DRAWN, DEEPEST, MOST_FIGURES, MOST_PATH_LETTERS = 5_000, 24, 120_000, 3_000_000
UNITS_PX = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "q": 24 / 25.4, "in": 96.0, "pt": 4 / 3, "pc": 16.0}
# What only stands for something, or is drawn elsewhere.
NOT_DRAWN = {
    "defs", "symbol", "mask", "clipPath", "marker", "pattern", "linearGradient", "radialGradient", "filter", "style",
    "title", "desc", "metadata", "script", "foreignObject", "text", "namedview",
}  # fmt: skip
HARDLY_SEEN, FARTHEST_MM = 0.02, 30_000.0


@dataclass(frozen=True, eq=False)
class _Pen:
    """How something is drawn: the transform to mm (y down), and how much of it can be seen."""

    matrix: Floats
    opacity: float
    deep: int
    clipped: bool = False


def sheet_of(text: bytes, where: str) -> Sheet:
    """The drawing in the text of an SVG file called `where`; IronTrailError if it is none."""
    root = parsed(text, where)
    try:
        return _Reading(root, where).sheet()
    except IronTrailError:
        raise
    except (ArithmeticError, AttributeError, LookupError, RecursionError, TypeError, ValueError) as error:
        reason = plain_name(str(error)) or "a broken path"
        raise IronTrailError(f"not a drawing that can be read ({reason})", where, "Save it as plain SVG.") from error


class _Reading:
    """A drawing as far as it has been gone through."""

    def __init__(self, root: Element, where: str) -> None:
        self.root, self.where = root, where
        self.styles = styles(root, where)
        self.by_id = {element.get("id", ""): element for element in root.iter() if element.get("id")}
        self.shapes: list[Shape] = []
        self.pictures: list[bytes] = []
        self.left_out: list[str] = []
        self.drawn = self.figures = 0

    def sheet(self) -> Sheet:
        wide, high, matrix = _page(self.root)
        self.high = high
        self._children(self.root, _Pen(matrix, 1.0, 0))
        return Sheet(
            wide, high, tuple(self.shapes), tuple(self.pictures), tuple(dict.fromkeys(self.left_out)), _extra(self.root)
        )

    def _children(self, element: Element, pen: _Pen) -> None:
        for child in element:
            if isinstance(child.tag, str):
                self._element(child, pen)

    def _element(self, element: Element, pen: _Pen) -> None:
        tag, style = element.tag.rpartition("}")[2], self.styles[element]
        if tag in NOT_DRAWN or style.get("display", "").lower() == "none":
            if tag == "text":
                self.left_out.append("words")
            return
        self.drawn += 1
        if self.drawn > MOST_DRAWN or pen.deep > DEEPEST:
            raise IronTrailError(f"it draws more than {MOST_DRAWN:,} things", self.where, "Save only the mat.")
        opacity = pen.opacity * _share(style.get("opacity", "1"))
        if opacity < HARDLY_SEEN:
            return
        matrix = pen.matrix @ _matrix(style.get("transform", ""))
        clipped = pen.clipped or any(style.get(name, "none") != "none" for name in ("clip-path", "mask"))
        pen = _Pen(matrix, opacity, pen.deep + 1, clipped)
        if tag in ("g", "a", "switch"):
            self._children(element, pen)
        elif tag == "svg":
            x, y = (_length(element.get(name, "0")) for name in "xy")
            self._children(element, replace(pen, matrix=matrix @ _moved(x, y) @ _fitted(element)))
        elif tag == "use":
            self._use(element, pen)
        elif tag == "image":
            self._picture(element)
        elif style.get("visibility", "visible") == "visible":
            self._shape(element, tag, style, pen)

    def _use(self, element: Element, pen: _Pen) -> None:
        link = next((value for name, value in element.attrib.items() if name.rpartition("}")[2] == "href"), "")
        used = self.by_id.get(link.strip().removeprefix("#"))
        if used is None:
            return
        x, y = (_length(element.get(name, "0")) for name in "xy")
        pen = replace(pen, matrix=pen.matrix @ _moved(x, y))
        # What is used takes the style of where it is used; its own counts before that.
        kept = self.styles.copy()
        own = {n: v for n, v in self.styles[element].items() if n not in ("display", "opacity", "transform")}
        for each in used.iter():
            self.styles[each] = own | self.styles[each]
        try:
            if used.tag.rpartition("}")[2] == "symbol":
                self._children(used, pen)
            else:
                self._element(used, pen)
        finally:
            self.styles = kept

    def _picture(self, element: Element) -> None:
        link = next((value for name, value in element.attrib.items() if name.rpartition("}")[2] == "href"), "")
        found = re.match(r"\s*data:image/[\w.+-]+;base64,(.*)", link, re.DOTALL)
        if found:
            try:
                self.pictures.append(base64.b64decode(found[1]))
            except (binascii.Error, ValueError):
                self.left_out.append("a picture that cannot be read")

    def _shape(self, element: Element, tag: str, style: Style, pen: _Pen) -> None:
        import svgelements

        path = self._path(element, tag)
        if path is None:
            return
        flip = np.array([[1.0, 0.0, 0.0], [0.0, -1.0, self.high], [0.0, 0.0, 1.0]]) @ pen.matrix
        a, b, c, d, e, f = flip[0, 0], flip[1, 0], flip[0, 1], flip[1, 1], flip[0, 2], flip[1, 2]
        path = abs(path * svgelements.Matrix(a, b, c, d, e, f))
        name = str(element.get("id", ""))
        ways = tuple(way for part in path.as_subpaths() if (way := _way(svgelements.Path(part))) is not None)
        if not ways:
            return
        if max(float(np.abs(way.points).max()) for way in ways) > FARTHEST_MM:
            self.left_out.append(f"{_named(name, 'a shape')} far off the page")
            return
        scale = float(np.sqrt(abs(a * d - b * c)))
        fill = self._colour(style, "fill", "#000000", pen)
        stroke = self._colour(style, "stroke", None, pen)
        if fill is None and stroke is None and not _extra(element) and name not in ("start", "finish"):
            return
        if pen.clipped:
            self.left_out.append(f"the cut of {_named(name, 'a shape')}, which came in whole")
        self.shapes.append(
            Shape(
                name, fill, stroke, _length(style.get("stroke-width", "1")) * scale, ways,
                _dashes(style.get("stroke-dasharray", "none"), scale),
                _length(style.get("stroke-dashoffset", "0")) * scale, _extra(element),
            )
        )  # fmt: skip

    def _path(self, element: Element, tag: str) -> Any:
        """What a shape draws, in its own units; None for what is no shape."""
        import svgelements

        def n(name: str) -> float:
            return _length(element.get(name, "0"))

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
            text = _rect(n("x"), n("y"), n("width"), n("height"), element.get("rx"), element.get("ry"))
        else:
            return None
        self.figures += len(re.findall(r"[\d.]+", text)) if len(text) <= MOST_PATH_LETTERS else MOST_FIGURES + 1
        if self.figures > MOST_FIGURES:
            raise IronTrailError("its paths have too many points", self.where, "Simplify its paths first.")
        return svgelements.Path(text)

    def _colour(self, style: Style, name: str, usual: str | None, pen: _Pen) -> str | None:
        """A colour as #rrggbb; None where there is none to be seen."""
        import svgelements

        text = style.get(name, usual or "none")
        if text.lower() == "currentcolor":
            text = style.get("color", "#000000")
        if text.startswith("url("):
            text = self._first_stop(text)
        if text == "none" or pen.opacity * _share(style.get(f"{name}-opacity", "1")) < HARDLY_SEEN:
            return None
        colour = svgelements.Color(text)
        if colour.value is None:
            return usual
        return None if colour.opacity < HARDLY_SEEN else f"#{colour.red:02x}{colour.green:02x}{colour.blue:02x}"

    def _first_stop(self, link: str) -> str:
        """A gradient's first colour; grey for what is none."""
        found = re.match(r"url\(\s*['\"]?#([^)'\"]+)", link)
        element = self.by_id.get(found[1]) if found else None
        for stop in element.iter() if element is not None else ():
            if stop.tag.rpartition("}")[2] == "stop":
                return self.styles[stop].get("stop-color", stop.get("stop-color", "#808080"))
        return "#808080"


def _named(name: str, kind: str) -> str:
    return f"“{name[:40]}”" if name else kind


def _extra(element: Element) -> tuple[tuple[str, str], ...]:
    return tuple((name.removeprefix(EXTRA), value) for name, value in element.attrib.items() if name.startswith(EXTRA))


# --- units and transforms


def _length(text: str, of: float = 0.0) -> float:
    """A length in px; a share of `of` where it is in percent."""
    found = re.match(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([a-zA-Z%]*)", text)
    if not found:
        return 0.0
    value, unit = float(found[1]), found[2].lower()
    if unit == "%":
        return value / 100.0 * of
    return value * UNITS_PX.get(unit, 16.0 if unit in ("em", "rem") else 1.0)


def _share(text: str) -> float:
    return min(max(_length(text.replace("%", "")) / (100.0 if "%" in text else 1.0), 0.0), 1.0)


def _matrix(text: str) -> Floats:
    import svgelements

    if not text or text == "none":
        return np.eye(3)
    # Lengths with units stand in styles; angles and lengths alike lose them.
    plain = re.sub(r"(?<=[\d.])(px|deg)\b", "", text)
    m = svgelements.Matrix(plain, ppi=96.0)
    made = np.array([[m.a, m.c, m.e], [m.b, m.d, m.f], [0.0, 0.0, 1.0]], np.float64)
    return made if np.isfinite(made).all() else np.eye(3)


def _moved(x: float, y: float) -> Floats:
    return np.array([[1.0, 0.0, x], [0.0, 1.0, y], [0.0, 0.0, 1.0]])


def _fitted(element: Element) -> Floats:
    """From what is inside an element with a view box to its own px."""
    box = [float(v) for v in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", element.get("viewBox", ""))]
    if len(box) != 4 or box[2] <= 0.0 or box[3] <= 0.0:
        return np.eye(3)
    wide = _length(element.get("width", "100%"), box[2]) or box[2]
    high = _length(element.get("height", "100%"), box[3]) or box[3]
    across, down = wide / box[2], high / box[3]
    left = top = 0.0
    how = element.get("preserveAspectRatio", "xMidYMid")
    if "none" not in how:
        scale = max(across, down) if "slice" in how else min(across, down)
        left = (wide - scale * box[2]) * (0.0 if "xMin" in how else 1.0 if "xMax" in how else 0.5)
        top = (high - scale * box[3]) * (0.0 if "YMin" in how else 1.0 if "YMax" in how else 0.5)
        across = down = scale
    return np.array([[across, 0.0, left - across * box[0]], [0.0, down, top - down * box[1]], [0.0, 0.0, 1.0]])


def _page(root: Element) -> tuple[float, float, Floats]:
    """The page's width and height in mm, and what brings its units to mm, y down."""
    box = [float(v) for v in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", root.get("viewBox", ""))]
    of = box[2:] if len(box) == 4 else (300.0, 150.0)
    wide = _length(root.get("width", "100%"), of[0]) or of[0]
    high = _length(root.get("height", "100%"), of[1]) or of[1]
    scale = np.diag((MM_PER_PX, MM_PER_PX, 1.0))
    return wide * MM_PER_PX, high * MM_PER_PX, scale @ _fitted(root)


def _dashes(text: str, scale: float) -> tuple[float, ...]:
    lengths = tuple(_length(part) * scale for part in re.split(r"[\s,]+", text.strip()) if part not in ("", "none"))
    if not lengths or min(lengths) < 0.0 or sum(lengths) <= 0.0:
        return ()
    return lengths if len(lengths) % 2 == 0 else 2 * lengths


def _rect(x: float, y: float, wide: float, high: float, rx: str | None, ry: str | None) -> str:
    across = _length(rx) if rx else _length(ry) if ry else 0.0
    down = _length(ry) if ry else across
    across, down = min(across, wide / 2), min(down, high / 2)
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


# --- paths


def _way(part: Any) -> Way | None:
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
        return np.array([_at(segment.point(t)) for t in np.linspace(0.0, 1.0, count + 1)[1:]])
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
