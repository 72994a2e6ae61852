"""Files that others might send, made by changing good ones: `python -m tests.mutated project|drawing|picture COUNT`.

Each is either taken, and then runs, draws and comes back from a save as it is, or refused in a sentence that says what,
where and what to do; in no more than so much time and memory. `./check` does a few of each.
"""

import json
import random
import resource
import sys
import time
import warnings
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import fields, replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from irontrail.core import derive
from irontrail.core.causes.told import at_once
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.raster import make_raster
from irontrail.core.project import Project
from irontrail.core.quantity import Part, quantities
from irontrail.files import project_file
from irontrail.files.svg import out as svg_out

MOST_S, MOST_BYTES = 10.0, 1_000_000_000
NUMBERS = (0, -1, 1, 1e-9, 1e9, -1e9, 0.5, 2**31, 10**400, float("nan"), float("inf"), True, None, "3", [], {})
WORDS = ("", "x" * 5000, "\x1b[2J", "\ud800", "<b>no</b>", "../../x", "#12345g", "bend", "gap", "PID", "\u202e")


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
    """What the window works out of a project at once."""
    setup = project.setup
    derive.figures(setup)
    derive.curve(setup)
    derive.profile(setup)
    derive.stretches(setup)
    derive.probe(setup, 10.0, 10.0)
    derive.way_share(setup)
    at_once(setup)
    make_raster(setup.mat, 5.0)
    svg_out.to_text(setup.mat)


KINDS: dict[str, tuple[Callable[[Mutating], bytes], Callable[[bytes], None]]] = {
    "project": (Mutating.project, use_project),
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
    return 1 if faults or peak > MOST_BYTES else 0


if __name__ == "__main__":
    sys.exit(main())
