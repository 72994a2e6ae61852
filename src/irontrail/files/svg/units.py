"""Lengths, transforms and view boxes of a drawing, as numbers: px, mm, and matrices of 3 by 3."""

import re
from dataclasses import dataclass
from xml.etree.ElementTree import Element

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

MM_PER_PX, LONGEST = 25.4 / 96.0, 1e9
UNITS_PX = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "q": 24 / 25.4, "in": 96.0, "pt": 4 / 3, "pc": 16.0}


def length(text: str, of: float = 0.0) -> float:
    """A length in px; a share of `of` where it is in percent; 0 for what nothing can be as long as."""
    found = re.match(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([a-zA-Z%]*)", text)
    if not found:
        return 0.0
    value, unit = float(found[1]), found[2].lower()
    if abs(value) > LONGEST:
        return 0.0
    if unit == "%":
        return value / 100.0 * of
    return value * UNITS_PX.get(unit, 16.0 if unit in ("em", "rem") else 1.0)


def share(text: str) -> float:
    return min(max(length(text.replace("%", "")) / (100.0 if "%" in text else 1.0), 0.0), 1.0)


def matrix_of(text: str) -> Floats:
    import svgelements

    if not text or text == "none":
        return np.eye(3)
    # Lengths with units stand in styles; angles and lengths alike lose them.
    plain = re.sub(r"(?<=[\d.])(px|deg)\b", "", text)
    m = svgelements.Matrix(plain, ppi=96.0)
    made = np.array([[m.a, m.c, m.e], [m.b, m.d, m.f], [0.0, 0.0, 1.0]], np.float64)
    return made if np.isfinite(made).all() and np.abs(made).max() <= LONGEST else np.eye(3)


def moved(x: float, y: float) -> Floats:
    return np.array([[1.0, 0.0, x], [0.0, 1.0, y], [0.0, 0.0, 1.0]])


@dataclass(frozen=True)
class View:
    """The size, in units of what is drawn in it, that lengths in percent are shares of."""

    wide: float
    high: float

    def along(self, name: str) -> float:
        """That for a length of some name: across, down, or neither."""
        if name in ("x", "x1", "x2", "cx", "rx", "width"):
            return self.wide
        if name in ("y", "y1", "y2", "cy", "ry", "height"):
            return self.high
        return float(np.hypot(self.wide, self.high)) / float(np.sqrt(2.0))


def fitted(element: Element, around: View, used_at: Element | None = None) -> tuple[Floats, View]:
    """From what is inside an element with a view box to its own px, and the view inside.

    Its size may be told where it is used.
    """
    told = element.attrib | (used_at.attrib if used_at is not None else {})
    wide = length(told.get("width", "100%"), around.wide) or around.wide
    high = length(told.get("height", "100%"), around.high) or around.high
    box = box_of(element)
    if box is None:
        return np.eye(3), View(wide, high)
    across, down = wide / box[2], high / box[3]
    left = top = 0.0
    how = element.get("preserveAspectRatio", "xMidYMid")
    if "none" not in how:
        scale = max(across, down) if "slice" in how else min(across, down)
        left = (wide - scale * box[2]) * (0.0 if "xMin" in how else 1.0 if "xMax" in how else 0.5)
        top = (high - scale * box[3]) * (0.0 if "YMin" in how else 1.0 if "YMax" in how else 0.5)
        across = down = scale
    matrix = [[across, 0.0, left - across * box[0]], [0.0, down, top - down * box[1]], [0.0, 0.0, 1.0]]
    return np.array(matrix), View(box[2], box[3])


def box_of(element: Element) -> tuple[float, float, float, float] | None:
    """An element's view box: left, top, width, height; None if it has none that can be."""
    box = [float(v) for v in re.findall(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", element.get("viewBox", ""))]
    return (box[0], box[1], box[2], box[3]) if len(box) == 4 and min(box[2:]) > 0.0 else None


def page_of(root: Element) -> tuple[float, float, Floats, View]:
    """The page's width and height in mm, what brings its units to mm, y down, and the view on it."""
    box = box_of(root)
    around = View(*box[2:]) if box else View(300.0, 150.0)
    wide = length(root.get("width", "100%"), around.wide) or around.wide
    high = length(root.get("height", "100%"), around.high) or around.high
    matrix, view = fitted(root, around)
    return wide * MM_PER_PX, high * MM_PER_PX, np.diag((MM_PER_PX, MM_PER_PX, 1.0)) @ matrix, view


def dashes_of(text: str, scale: float) -> tuple[float, ...]:
    lengths = tuple(length(part) * scale for part in re.split(r"[\s,]+", text.strip()) if part not in ("", "none"))
    if not lengths or min(lengths) < 0.0 or sum(lengths) <= 0.0:
        return ()
    return lengths if len(lengths) % 2 == 0 else 2 * lengths
