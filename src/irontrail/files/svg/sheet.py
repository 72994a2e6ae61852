"""SVG in: what is to be seen of a drawing, with what uses it, hides it and colours it worked out."""

import base64
import binascii
import re
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.plain import plain_name
from irontrail.files.mat_extra import EXTRA
from irontrail.files.shapes import Shape, Sheet, Way
from irontrail.files.svg.paths import path_of, ways_of
from irontrail.files.svg.safe import parsed
from irontrail.files.svg.style import Style, inherited, specified
from irontrail.files.svg.units import MM_PER_PX, View, dashes_of, fitted, length, matrix_of, moved, page_of, share

Floats = NDArray[np.float64]

# Work is counted before it is done: things that are drawn, uses within uses, points of a path.
MOST_DRAWN, DEEPEST, MOST_FIGURES, MOST_PATH_LETTERS = 5_000, 24, 120_000, 3_000_000
# What only stands for something, or is drawn elsewhere.
NOT_DRAWN = {
    "defs", "symbol", "mask", "clipPath", "marker", "pattern", "linearGradient", "radialGradient", "filter", "style",
    "title", "desc", "metadata", "script", "foreignObject", "text", "namedview",
}  # fmt: skip
HARDLY_SEEN, FARTHEST_MM = 0.02, 30_000.0
# What a cut leaves out of a shape by no more than this is there.
NEARLY_MM = 0.1


# What a thing is cut by: a clip path or mask, None if it is not in the drawing, and the transform where it is used.
Cut = tuple[Element | None, Floats]


@dataclass(frozen=True, eq=False)
class _Pen:
    """How something is drawn: the transform to mm (y down), how much of it can be seen, and the style it inherits."""

    matrix: Floats
    view: View
    opacity: float
    deep: int
    style: Style
    cuts: tuple[Cut, ...] = ()


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
        self.specified = specified(root, where)
        self.by_id = {element.get("id", ""): element for element in root.iter() if element.get("id")}
        self.shapes: list[Shape] = []
        self.pictures: list[bytes] = []
        self.left_out: list[str] = []
        self.drawn = self.figures = 0

    def sheet(self) -> Sheet:
        wide, high, matrix, view = page_of(self.root)
        self.high = high
        self._children(self.root, _Pen(matrix, view, 1.0, 0, inherited(self.specified[self.root])))
        return Sheet(
            wide, high, tuple(self.shapes), tuple(self.pictures), tuple(dict.fromkeys(self.left_out)), _extra(self.root)
        )

    def _children(self, element: Element, pen: _Pen) -> None:
        for child in element:
            if isinstance(child.tag, str):
                self._element(child, pen)

    def _element(self, element: Element, pen: _Pen, used_at: Element | None = None) -> None:
        tag, style = element.tag.rpartition("}")[2], pen.style | self.specified[element]
        is_drawn = tag not in NOT_DRAWN or (tag == "symbol" and used_at is not None)
        if not is_drawn or style.get("display", "").lower() == "none":
            if tag == "text":
                self.left_out.append("words")
            return
        self.drawn += 1
        if self.drawn > MOST_DRAWN or pen.deep > DEEPEST:
            raise IronTrailError(f"it draws more than {MOST_DRAWN:,} things", self.where, "Save only the mat.")
        opacity = pen.opacity * share(style.get("opacity", "1"))
        if opacity < HARDLY_SEEN:
            return
        matrix = pen.matrix @ matrix_of(style.get("transform", ""))
        cuts = tuple(
            (self._linked(style[name]), matrix) for name in ("clip-path", "mask") if style.get(name, "none") != "none"
        )
        pen = _Pen(matrix, pen.view, opacity, pen.deep + 1, inherited(style), pen.cuts + cuts)
        if tag in ("g", "a", "switch"):
            self._children(element, pen)
        elif tag in ("svg", "symbol"):
            # It has a view box of its own, whose size may be told where it is used.
            inside, view = fitted(element, pen.view, used_at)
            self._children(element, replace(pen, matrix=matrix @ _corner(element, pen.view) @ inside, view=view))
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
        pen = replace(pen, matrix=pen.matrix @ _corner(element, pen.view))
        # It inherits from where it is used.
        self._element(used, pen, element)

    def _picture(self, element: Element) -> None:
        link = next((value for name, value in element.attrib.items() if name.rpartition("}")[2] == "href"), "")
        found = re.match(r"\s*data:image/[\w.+-]+;base64,(.*)", link, re.DOTALL)
        if found:
            try:
                self.pictures.append(base64.b64decode(found[1]))
            except (binascii.Error, ValueError):
                self.left_out.append("a picture that cannot be read")

    def _shape(self, element: Element, tag: str, style: Style, pen: _Pen) -> None:
        text = path_of(element, tag, pen.view)
        if text is None:
            return
        self.figures += len(re.findall(r"[\d.]+", text)) if len(text) <= MOST_PATH_LETTERS else MOST_FIGURES + 1
        if self.figures > MOST_FIGURES:
            raise IronTrailError("its paths have too many points", self.where, "Simplify its paths first.")
        upright = self._upright(pen.matrix)
        ways = ways_of(text, upright)
        name = str(element.get("id", ""))
        if not ways:
            return
        if max(float(np.abs(way.points).max()) for way in ways) > FARTHEST_MM:
            self.left_out.append(f"{_named(name, 'a shape')} far off the page")
            return
        # A stroke of the screen's own width stays as wide, however large the shape is drawn.
        own = style.get("vector-effect") == "non-scaling-stroke"
        scale = MM_PER_PX if own else float(np.sqrt(abs(np.linalg.det(upright[:2, :2]))))
        fill = self._colour(style, "fill", "#000000", pen)
        stroke = self._colour(style, "stroke", None, pen)
        if fill is None and stroke is None and not _extra(element) and name not in ("start", "finish"):
            return
        if any(self._may_cut(cut, ways, pen) for cut in pen.cuts):
            self.left_out.append(f"the cut of {_named(name, 'a shape')}, which came in whole")
        # Dashes may be measured in what the drawing says that the whole way is long.
        said = length(element.get("pathLength", "0"))
        told = sum(way.length_mm for way in ways) / said if said > 0.0 else scale
        wide = length(style.get("stroke-width", "1"), pen.view.along("stroke-width")) * scale
        self.shapes.append(
            Shape(
                name, fill, stroke, wide, ways,
                dashes_of(style.get("stroke-dasharray", "none"), told),
                length(style.get("stroke-dashoffset", "0")) * told, _extra(element),
                style.get("fill-rule", "") == "evenodd",
            )
        )  # fmt: skip

    def _colour(self, style: Style, name: str, usual: str | None, pen: _Pen) -> str | None:
        """A colour as #rrggbb; None where there is none to be seen."""
        import svgelements

        text = style.get(name, usual or "none")
        if text.lower() == "currentcolor":
            text = style.get("color", "#000000")
        if text.startswith("url("):
            text = self._first_stop(text)
        if text == "none" or pen.opacity * share(style.get(f"{name}-opacity", "1")) < HARDLY_SEEN:
            return None
        colour = svgelements.Color(text)
        if colour.value is None:
            return usual
        return None if colour.opacity < HARDLY_SEEN else f"#{colour.red:02x}{colour.green:02x}{colour.blue:02x}"

    def _linked(self, link: str) -> Element | None:
        found = re.match(r"url\(\s*['\"]?#([^)'\"]+)", link)
        return self.by_id.get(found[1]) if found else None

    def _may_cut(self, cut: Cut, ways: tuple[Way, ...], pen: _Pen) -> bool:
        """Whether a clip path may leave some of a shape out: all but one rectangle round all of it."""
        element, matrix = cut
        if element is None or element.tag.rpartition("}")[2] != "clipPath" or len(element) != 1:
            return True
        inner = element[0]
        own = matrix @ matrix_of(element.get("transform", "")) @ matrix_of(inner.get("transform", ""))
        text = path_of(inner, "rect", pen.view) if inner.tag.rpartition("}")[2] == "rect" else None
        frame = ways_of(text, self._upright(own)) if text else ()
        askew = abs(own[0, 1]) + abs(own[1, 0]) > 1e-9
        if not frame or askew or element.get("clipPathUnits", "userSpaceOnUse") != "userSpaceOnUse":
            return True
        least, most = frame[0].points.min(axis=0) - NEARLY_MM, frame[0].points.max(axis=0) + NEARLY_MM
        return any((way.points < least).any() or (way.points > most).any() for way in ways)

    def _upright(self, matrix: Floats) -> Floats:
        """A transform to mm with y down as one with y up."""
        return np.array([[1.0, 0.0, 0.0], [0.0, -1.0, self.high], [0.0, 0.0, 1.0]]) @ matrix

    def _first_stop(self, link: str) -> str:
        """A gradient's first colour; grey for what is none."""
        element = self._linked(link)
        for stop in element.iter() if element is not None else ():
            if stop.tag.rpartition("}")[2] == "stop":
                return self.specified[stop].get("stop-color", stop.get("stop-color", "#808080"))
        return "#808080"


def _corner(element: Element, view: View) -> Floats:
    """What moves things to where an element says that its corner is."""
    return moved(*(length(element.get(name, "0"), view.along(name)) for name in "xy"))


def _named(name: str, kind: str) -> str:
    return f"“{name[:40]}”" if name else kind


def _extra(element: Element) -> tuple[tuple[str, str], ...]:
    return tuple((name.removeprefix(EXTRA), value) for name, value in element.attrib.items() if name.startswith(EXTRA))
