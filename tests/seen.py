"""Pictures read back: a view is drawn as SVG, and what stands in it is asked of that.

So a test can say which words stand where, which line has which colour and dash, and which lies above which.
"""

import re
import xml.etree.ElementTree as ElementTree
from dataclasses import dataclass
from typing import Any

import numpy as np

SVG = "{http://www.w3.org/2000/svg}"


@dataclass(frozen=True)
class Word:
    """A text: where it begins (its baseline), and its colour."""

    text: str
    x: float
    y: float
    colour: str


@dataclass(frozen=True, eq=False)
class Line:
    """A line or the outline of a shape: its points, pen and fill (empty if none), in the order they were drawn.

    One that is wholly seen has an opacity of 1.
    """

    points: np.ndarray
    colour: str
    fill: str
    width: float
    dashed: bool
    closed: bool
    opacity: float

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom."""
        low, high = self.points.min(axis=0), self.points.max(axis=0)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])

    @property
    def middle(self) -> tuple[float, float]:
        left, top, right, bottom = self.box
        return 0.5 * (left + right), 0.5 * (top + bottom)


@dataclass(frozen=True)
class Seen:
    """Everything that was drawn, first to last."""

    words: tuple[Word, ...]
    lines: tuple[Line, ...]

    def word(self, text: str) -> Word:
        """The one text that reads so."""
        found = [word for word in self.words if word.text == text]
        assert len(found) == 1, f"{text!r} stands there {len(found)} times: {self.texts}"
        return found[0]

    @property
    def texts(self) -> list[str]:
        return [word.text for word in self.words]

    def of_colour(self, colour: str, fill: bool = False) -> list[Line]:
        """The lines drawn, or shapes filled, in a colour (#rrggbb)."""
        return [line for line in self.lines if (line.fill if fill else line.colour).lower() == colour.lower()]


def seen(widget: Any) -> Seen:
    """What a widget draws, itself and its children, in its own pixels."""
    from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QPoint
    from PySide6.QtGui import QPainter
    from PySide6.QtSvg import QSvgGenerator
    from PySide6.QtWidgets import QWidget

    memory = QByteArray()
    buffer = QBuffer(memory)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    generator.setSize(widget.size())
    generator.setViewBox(widget.rect())
    generator.setResolution(96)
    painter = QPainter(generator)
    QWidget.render(widget, painter, QPoint(0, 0))
    painter.end()
    return _read(bytes(memory.data()).decode())


def _read(text: str) -> Seen:
    words: list[Word] = []
    lines: list[Line] = []

    def walk(node: ElementTree.Element, given: dict[str, str], place: np.ndarray) -> None:
        style = given | dict(node.attrib)
        place = place @ _matrix(node.get("transform", ""))
        tag = node.tag.removeprefix(SVG)
        if tag == "text" and node.text:
            x, y = _at(place, float(node.get("x", 0)), float(node.get("y", 0)))
            words.append(Word(node.text.strip(), x, y, style.get("fill", "")))
        elif tag in ("path", "polyline", "polygon", "rect", "circle", "ellipse", "line"):
            for points in _points(tag, node):
                moved = points @ place[:2, :2].T + place[:2, 2]
                pen = style.get("stroke", "none")
                lines.append(
                    Line(
                        moved,
                        "" if pen == "none" else pen,
                        "" if style.get("fill", "none") == "none" or tag == "polyline" else style["fill"],
                        float(style.get("stroke-width", 1)) * float(np.sqrt(abs(np.linalg.det(place[:2, :2])))),
                        style.get("stroke-dasharray", "none") != "none",
                        tag not in ("polyline", "line"),
                        float(style.get("opacity", 1)),
                    )
                )
        for child in node:
            walk(child, style, place)

    walk(ElementTree.fromstring(text), {}, np.eye(3))
    return Seen(tuple(words), tuple(lines))


def _matrix(text: str) -> np.ndarray:
    made = np.eye(3)
    for name, inside in re.findall(r"(matrix|translate|scale)\(([^)]*)\)", text):
        numbers = [float(number) for number in re.split(r"[ ,]+", inside.strip())]
        if name == "matrix":
            a, b, c, d, e, f = numbers
            made = made @ np.array([[a, c, e], [b, d, f], [0, 0, 1]])
        elif name == "translate":
            made = made @ np.array([[1, 0, numbers[0]], [0, 1, numbers[-1]], [0, 0, 1]])
        else:
            made = made @ np.diag([numbers[0], numbers[-1], 1.0])
    return made


def _at(place: np.ndarray, x: float, y: float) -> tuple[float, float]:
    found = place @ np.array([x, y, 1.0])
    return float(found[0]), float(found[1])


def _points(tag: str, node: ElementTree.Element) -> list[np.ndarray]:
    def number(name: str) -> float:
        return float(node.get(name, 0))

    if tag in ("polyline", "polygon"):
        flat = [float(part) for part in re.split(r"[ ,]+", node.get("points", "").strip()) if part]
        return [np.array(flat).reshape(-1, 2)] if flat else []
    if tag == "rect":
        x, y, wide, high = (number(name) for name in ("x", "y", "width", "height"))
        return [np.array([[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]])]
    if tag == "line":
        return [np.array([[number("x1"), number("y1")], [number("x2"), number("y2")]])]
    if tag in ("circle", "ellipse"):
        angles = np.linspace(0, 2 * np.pi, 16, endpoint=False)
        wide = number("r") if tag == "circle" else number("rx")
        high = number("r") if tag == "circle" else number("ry")
        return [np.column_stack((number("cx") + wide * np.cos(angles), number("cy") + high * np.sin(angles)))]
    found = []
    for part in re.split(r"(?=M)", node.get("d", "")):
        flat = [float(each) for each in re.findall(r"-?\d+\.?\d*(?:e-?\d+)?", part)]
        if len(flat) >= 2:
            found.append(np.array(flat[: 2 * (len(flat) // 2)]).reshape(-1, 2))
    return found
