"""Files that others might send, made by changing good ones: `python -m tests.mutated KIND COUNT`; see `KINDS`.

Each is either taken, and then runs, draws and comes back from a save as it is, or refused in a sentence that says what,
where and what to do; in no more than so much time and memory. `./check` does a few of each.
"""

import io
import json
import random
import re
import resource
import sys
import time
import warnings
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import fields, replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
from PIL import Image

from irontrail.core import derive
from irontrail.core.causes.told import at_once
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.raster import make_raster
from irontrail.core.mat.reflectance import srgb
from irontrail.core.mat.trace import trace
from irontrail.core.project import Project
from irontrail.core.quantity import Part, quantities
from irontrail.core.setup import Setup
from irontrail.core.stretches import stretches
from irontrail.files import dxf, picture, project_file
from irontrail.files.svg import out as svg_out
from irontrail.files.svg import read as svg_read

MOST_S, MOST_BYTES = 10.0, 1_000_000_000
# What is worked out of the files before is remembered meanwhile.
REMEMBERED_BYTES = 600_000_000
NUMBERS = (0, -1, 1, 1e-9, 1e9, -1e9, 0.5, 2**31, 10**400, float("nan"), float("inf"), True, None, "3", [], {})
WORDS = ("", "x" * 5000, "\x1b[2J", "\ud800", "<b>no</b>", "../../x", "#12345g", "bend", "gap", "PID", "\u202e")


DRAWING = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="2000mm" height="1000mm" '
    'viewBox="0 0 2000 1000"><style>.tape{fill:none;stroke:#222;stroke-width:20} g > .b{stroke:red}</style>'
    '<rect width="2000" height="1000" fill="#eee"/><g><path class="tape b" d="M100 100 H500 A100 100 0 0 1 600 200 V500'
    ' C700 900 900 100 1200 400 Z"/></g><polyline class="tape" points="100,800 300,820 500,790 900,800"/>'
    '<rect id="start" x="80" y="80" width="60" height="60" fill="none" stroke="#888"/><defs><g id="u"><circle cx="1500"'
    ' cy="500" r="200" class="tape" stroke-dasharray="60 20"/></g></defs><use xlink:href="#u" x="10" y="20"/>'
    '<ellipse cx="900" cy="500" rx="300" ry="90" class="tape" transform="rotate(20 900 500)"/>'
    '<rect x="100" y="900" width="800" height="19" fill="#123"/></svg>'
)
DRAWN_WORDS = (
    "H", "V", "C", "A", "Z", "M", "mm", "px", "%", "none", "fill", "stroke", "path", "rect", "#u", "class", ">", "'",
)  # fmt: skip


@cache
def _dxf() -> str:
    """A drawing as a CAD program saves it."""
    import ezdxf

    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 4
    space = document.modelspace()
    space.add_line((0, 0), (500, 0))
    space.add_arc((500, 100), 100, 270, 0)
    space.add_lwpolyline([(600, 100, 0, 0, 0.4), (600, 400, 0, 0, 0), (300, 600, 0, 0, 0)])
    space.add_circle((900, 300), 150)
    space.add_spline([(0, 300), (200, 400), (400, 200), (500, 500)])
    space.add_ellipse((800, 700), (200, 0), 0.4)
    document.blocks.new("part").add_line((0, 0), (0, 300))
    space.add_blockref("part", (100, 600))
    text = io.StringIO()
    document.write(text)
    return text.getvalue()


class Mutating:
    """Makes files from a seed, and tells what becomes of them."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.taken = self.refused = 0

    # --- projects

    def project(self) -> bytes:
        """A project file: values moved, things of another kind, cut, doubled, or with flipped bits."""
        base = demo_project(self.chance.choice(list(DEMOS)))
        if self.chance.random() < 0.4:
            return project_file.to_text(self._moved(base, self.chance.choice((0.02, 0.1, 0.4)))).encode()
        content = json.loads(project_file.to_text(base))
        for _ in range(self.chance.choice((1, 1, 2, 4, 12, 40))):
            self._change(content)
        text = json.dumps(content, indent=self.chance.choice((None, 1))).encode()
        return self._harmed(text) if self.chance.random() < 0.15 else text

    def _moved(self, part: Any, share: float) -> Any:
        """A part with such a share of its numbers anywhere in their ranges, ends included."""
        numbers = quantities(type(part))
        for each in fields(part):
            value, now = getattr(part, each.name), part
            if each.name in numbers and self.chance.random() < share:
                low, high = numbers[each.name].low, numbers[each.name].high
                there = low + (high - low) * self.chance.random() ** self.chance.choice((1, 3))
                new = self.chance.choice((low, high, there, there, there))
                value = round(new) if isinstance(value, int) else float(new)
            elif isinstance(value, Part):
                value = self._moved(value, share)
            elif isinstance(value, tuple):
                value = tuple(self._moved(one, share) if isinstance(one, Part) else one for one in value)
            with suppress(IronTrailError):
                part = replace(now, **{each.name: value})
        return part

    def _change(self, content: Any) -> None:
        places = list(_leaves(content))
        if not places:
            return
        parent, key = self.chance.choice(places)
        value, roll = parent[key], self.chance.random()
        if roll < 0.65 and isinstance(value, float | int) and abs(value) < 1e12 and value is not True:
            parent[key] = self.chance.choice(
                (value * self.chance.uniform(0.0, 3.0), value + self.chance.gauss(0.0, 10.0), -value, round(value))
            )
        elif roll < 0.75:
            parent[key] = self.chance.choice(NUMBERS)
        elif roll < 0.85:
            parent[key] = self.chance.choice(WORDS)
        elif isinstance(parent, list):
            self.chance.choice((parent.pop, parent.reverse, lambda: parent.append(parent[0]), parent.clear))()
        elif roll < 0.95:
            parent[f"{key}{self.chance.choice('sx1')}"] = parent.pop(key)
        else:
            del parent[key]

    # --- drawings

    def drawing(self) -> bytes:
        """An SVG file: numbers changed, parts doubled, wrapped or dropped, words exchanged, flipped bits."""
        chance = self.chance
        text = DRAWING if chance.random() < 0.6 else svg_out.to_text(chance.choice(list(DEMO_MATS.values()))())
        for _ in range(chance.choice((1, 2, 4, 12))):
            text = self._redrawn(text)
        return self._harmed(text.encode()) if chance.random() < 0.2 else text.encode()

    def _redrawn(self, text: str) -> str:
        chance, roll = self.chance, self.chance.random()
        if roll < 0.5:
            numbers = list(re.finditer(r"-?\d+\.?\d*", text))
            found = chance.choice(numbers)
            new = chance.choice(
                (str(chance.uniform(-3000, 3000)), "0", "-1", "1e9", "1e-9", "nan", found[0] + "e3", "", "7")
            )
            return text[: found.start()] + new + text[found.end() :]
        if roll < 0.7:
            old, new = chance.choice(DRAWN_WORDS), chance.choice(DRAWN_WORDS)
            return text.replace(old, new, 1)
        parts = list(re.finditer(r"<(path|rect|g|use|circle|polyline|ellipse)[^>]*/>", text))
        if not parts:
            return text
        part = chance.choice(parts)
        new = chance.choice(
            ("", part[0] * 2, f"<g transform='rotate({chance.uniform(0, 360):.0f})'>{part[0]}</g>", f"<g>{part[0]}",
             f"<symbol id='a'>{part[0]}</symbol><use href='#a'/>", f"<g opacity='{chance.random():.1f}'>{part[0]}</g>")
        )  # fmt: skip
        return text[: part.start()] + new + text[part.end() :]

    def cad(self) -> bytes:
        """A DXF file: values and group codes changed, lines doubled or dropped, or with flipped bits."""
        lines, chance = _dxf().split("\n"), self.chance
        # Most of it is tables and styles; what is drawn stands at the end.
        drawn = lines.index("ENTITIES")
        for _ in range(chance.choice((1, 2, 5, 20))):
            at = chance.randrange(drawn if chance.random() < 0.8 else 0, len(lines))
            roll = chance.random()
            if roll < 0.5:
                lines[at] = chance.choice((str(chance.uniform(-3000, 3000)), "0", "1e9", "nan", "", "LINE", "10", "-1"))
            elif roll < 0.7:
                del lines[at : at + chance.choice((1, 2, 20))]
            else:
                lines[at:at] = lines[at : at + chance.choice((1, 2, 40))]
            drawn = min(drawn, len(lines) - 1)
        content = "\n".join(lines).encode()
        return self._harmed(content) if chance.random() < 0.2 else content

    # --- pictures

    def picture(self) -> bytes:
        """A picture of a mat, of some format and size, with noise, cut, or with flipped bits."""
        chance = self.chance
        mat = chance.choice(list(DEMO_MATS.values()))()
        seen = srgb(make_raster(mat, chance.choice((2.0, 4.0, 10.0, 40.0))))
        noise = np.random.default_rng(chance.randrange(2**31)).normal(0.0, chance.choice((0.0, 0.05, 0.5)), seen.shape)
        image = Image.fromarray((255 * np.clip(seen + noise, 0.0, 1.0)[::-1]).astype(np.uint8))
        if chance.random() < 0.3:
            image = image.convert(chance.choice(("L", "P", "1", "RGBA", "CMYK", "LA", "I")))
        kind = chance.choice(("PNG", "JPEG", "WEBP", "TIFF", "BMP", "GIF"))
        memory = io.BytesIO()
        try:
            image.save(memory, kind)
        except (OSError, ValueError):
            image.convert("RGB").save(memory, kind)
        return self._harmed(memory.getvalue()) if chance.random() < 0.6 else memory.getvalue()

    def _harmed(self, content: bytes) -> bytes:
        harmed = bytearray(content)
        for _ in range(self.chance.choice((1, 3, 20))):
            if not harmed:
                break
            at = self.chance.randrange(len(harmed))
            roll = self.chance.random()
            if roll < 0.5:
                harmed[at] ^= 1 << self.chance.randrange(8)
            elif roll < 0.7:
                del harmed[at:]
            elif roll < 0.85:
                harmed[at:at] = harmed[at : at + self.chance.randrange(200)]
            else:
                del harmed[at : at + self.chance.randrange(50)]
        return bytes(harmed)

    # --- what becomes of one

    def told(self, make: Callable[[], bytes], use: Callable[[bytes], None]) -> str:
        """What is wrong with what becomes of a file; empty if nothing is."""
        content, begun = make(), time.perf_counter()
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("error", RuntimeWarning)
                use(content)
            self.taken += 1
        except IronTrailError as error:
            self.refused += 1
            if not (error.what and error.where and error.remedy and str(error).isprintable()):
                return f"a refusal that does not say what, where and what to do: {str(error)[:300]}"
            if len(str(error)) > 3000:
                return f"a refusal of {len(str(error))} letters"
        except Exception as error:
            return f"{type(error).__name__}: {error}"[:400]
        took = time.perf_counter() - begun
        return f"it took {took:.1f} s" if took > MOST_S else ""


def _leaves(content: Any) -> Iterator[tuple[Any, Any]]:
    """Every place of a JSON value: what it is in, and its name or number there."""
    places = content.items() if isinstance(content, dict) else enumerate(content) if isinstance(content, list) else ()
    for key, value in list(places):
        yield content, key
        yield from _leaves(value)


def use_project(content: bytes) -> None:
    """Open a project as the window does: it runs, draws, and comes back from a save."""
    with TemporaryDirectory() as folder:
        path = Path(folder) / "a.irontrail"
        path.write_bytes(content)
        project = project_file.read(path)
        use(project)
        project_file.write(path, project)
        if project_file.read(path) != project:
            raise AssertionError("it does not come back as it was")


def use(project: Project) -> None:
    """What the window works out of a project at once: once it is taken, nothing of that may be refused."""
    try:
        _work_out(project.setup)
    except IronTrailError as error:
        raise AssertionError(f"it was taken, and then: {error}") from error


def _work_out(setup: Setup) -> None:
    derive.figures(setup)
    derive.curve(setup)
    derive.profile(setup)
    stretches(derive.run(setup))
    derive.probe(setup, 10.0, 10.0)
    derive.way_share(setup)
    at_once(setup)
    make_raster(setup.mat, 5.0)
    svg_out.to_text(setup.mat)


def use_drawing(content: bytes) -> None:
    """Open a drawing as the window does: its mat can be driven on, and goes out again."""
    use(Project(replace(demo_project("lighthouse").setup, mat=svg_read.from_bytes(content, "a", "a.svg").mat)))


def use_cad(content: bytes) -> None:
    """The same for what a CAD program gives."""
    use(Project(replace(demo_project("lighthouse").setup, mat=dxf.from_bytes(content, "a", "a.dxf").mat)))


def use_picture(content: bytes) -> None:
    """Open a picture as the window does, and look for a line in it."""
    pixels = picture.from_bytes(content, "a.png")
    trace(np.ascontiguousarray(pixels[::-1]).astype(np.float32) / 255.0, 1000.0 / pixels.shape[1])


KINDS: dict[str, tuple[Callable[[Mutating], bytes], Callable[[bytes], None]]] = {
    "project": (Mutating.project, use_project),
    "drawing": (Mutating.drawing, use_drawing),
    "cad": (Mutating.cad, use_cad),
    "picture": (Mutating.picture, use_picture),
}


def main() -> int:
    """Tell what is wrong of so many files of a kind, beginning with a seed."""
    kind, count = sys.argv[1], int(sys.argv[2])
    first = int(sys.argv[3]) if len(sys.argv) > 3 else 1
    make, use_it = KINDS[kind]
    faults = taken = 0
    for seed in range(first, first + count):
        mutating = Mutating(seed)
        said = mutating.told(lambda: make(mutating), use_it)  # noqa: B023
        taken += mutating.taken
        if said:
            faults += 1
            print(f"{kind} {seed}: {said}", flush=True)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    print(f"{count} files of kind {kind}: {taken} taken, {faults} at fault; at most {peak / 1e6:.0f} MB")
    return 1 if faults or peak > MOST_BYTES + REMEMBERED_BYTES else 0


if __name__ == "__main__":
    sys.exit(main())
