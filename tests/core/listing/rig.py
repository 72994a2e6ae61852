"""What listings are tried on: the same inputs through `control_step`, Python, a small-controller Python, and C."""

import json
import shutil
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
from numba import njit

from irontrail.core.control.legs import BUTTON
from irontrail.core.control.record import controller
from irontrail.core.control.step import control_step
from irontrail.core.engine.run_records import STATE
from irontrail.core.listing.c99 import c99
from irontrail.core.listing.parts import INPUTS
from irontrail.core.listing.python import python
from irontrail.core.listing.source import source
from irontrail.core.setup import Setup

SMALL_PYTHON = Path(__file__).parent.parent.parent / "small_python"
GCC = ("gcc", "-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", "-O1")
# A row of inputs, by column; what a real button would be pressed for is worked out beside the engine's step.
LIGHT, SECOND, NOW, LEFT, RIGHT, PRESSED, FINISH = range(len(INPUTS))


@njit
def _decide_all(records, states, rows, out):  # type: ignore[no-untyped-def]
    # As they lie in a run, for which the step has been compiled.
    c, memory, trip = records[0], states[0].memory, states[0].trip
    for i in range(len(rows)):
        row, pressed = rows[i], 0.0
        if c.leg_count > 0 and trip.begun == 1 and trip.braking == 0:
            leg = c.legs[trip.leg]
            for k in range(leg.end_count):
                if leg.ends[k].kind == BUTTON and row[NOW] - trip.began >= leg.ends[k].value - 1e-9:
                    pressed = 1.0
        row[PRESSED] = pressed
        _, _, _, _, _, left, right, _, stopped = control_step(
            c, memory, trip, row[LIGHT], row[SECOND], row[NOW], row[LEFT], row[RIGHT], row[FINISH] > 0.5
        )
        out[i, 0], out[i, 1], out[i, 2] = left, right, 1.0 if stopped else 0.0
        if stopped:
            return i + 1
    return len(rows)


def by_engine(setup: Setup, rows: np.ndarray) -> np.ndarray:
    """The powers (left, right) and whether it stopped, row by row up to where it does, shape (n, 3); fills PRESSED."""
    out = np.zeros((len(rows), 3))
    count = _decide_all(controller(setup), np.zeros(1, STATE), rows, out)
    return out[:count]


def by_python(setup: Setup, rows: np.ndarray) -> np.ndarray:
    """The same by the Python listing."""
    inputs, space = source(setup).inputs, {"__name__": "listing"}
    exec(compile(python(setup).text, "listing", "exec"), space)
    places, found = [INPUTS.index(name) for name in inputs], []
    decide: Any = space["decide"]
    for row in rows:
        decide(*(float(row[i]) for i in places))
        found.append((space["left_power"], space["right_power"], space["stopped"]))
        if space["stopped"]:
            break
    return np.array(found, float)


def compiled_c(setup: Setup, folder: Path, double: bool) -> Path:
    """The C listing compiled without a warning: a row of inputs on a line in, the powers and whether it stopped out."""
    inputs, real = source(setup).inputs, "double" if double else "float"
    scan = [f"    {real} v[{len(INPUTS)}];"]
    given = ", ".join(
        f"(int)v[{INPUTS.index(n)}]" if n in ("pressed", "at_finish") else f"v[{INPUTS.index(n)}]" for n in inputs
    )
    main = [
        "int main(void)", "{", *scan, "    double in;", "    int i;", "    for (;;) {",
        f"        for (i = 0; i < {len(INPUTS)}; i = i + 1) {{",
        '            if (scanf("%lf", &in) != 1) {', "                return 0;", "            }",
        f"            v[i] = ({real})in;",
        # A program of a single band reads nothing.
        "        }", "        (void)v[0];", f"        decide({given});",
        '        printf("%.17g %.17g %d\\n", (double)left_power, (double)right_power, stopped);',
        "        fflush(stdout);", "    }", "}",
    ]  # fmt: skip
    text = c99(setup, team="#include <stdio.h>", double=double).text + "\n" + "\n".join(main) + "\n"
    path, program = folder / "listing.c", folder / "listing"
    path.write_text(text)
    done = subprocess.run([*GCC, "-o", str(program), str(path), "-lm"], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return program


def by_c(setup: Setup, rows: np.ndarray, folder: Path, double: bool) -> np.ndarray:
    """The same by the C listing, over a pipe."""
    program = compiled_c(setup, folder, double)
    fed = "\n".join(" ".join(f"{value:.17g}" for value in row) for row in rows) + "\n"
    said = subprocess.run([str(program)], input=fed, capture_output=True, text=True, check=True).stdout
    found = np.array([[float(word) for word in line.split()] for line in said.splitlines()])
    stops = np.flatnonzero(found[:, 2] > 0.0)
    return found[: stops[0] + 1] if stops.size else found


def has_small_python() -> bool:
    """Whether the small-controller Python is there: `npm ci` in tests/small_python brings it."""
    return shutil.which("node") is not None and (SMALL_PYTHON / "node_modules").is_dir()


def by_small_python(cases: list[tuple[Setup, np.ndarray]]) -> list[np.ndarray]:
    """The same for several setups by the small-controller Python, in one process."""
    asked = [
        {
            "listing": python(setup).text, "rows": rows.tolist(),
            "places": [INPUTS.index(name) for name in source(setup).inputs],
        }
        for setup, rows in cases
    ]  # fmt: skip
    done = subprocess.run(
        ["node", str(SMALL_PYTHON / "replay.mjs")], input=json.dumps(asked), capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    return [np.array(found, float) for found in json.loads(done.stdout)]
