"""Listings in the engine's place: each drives the plant over a pipe, loop by loop, and the trace is written.

A program of its own, since the engine is compiled anew with somebody else deciding: `python -m
tests.core.listing.closed JOBS` takes a JSON file of [project, where the trace goes, command] each.
"""

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
from numba import njit, objmode

from irontrail.core import derive
from irontrail.core.control.legs import BUTTON
from irontrail.core.engine import kernel
from irontrail.core.engine.pack import pack
from irontrail.core.engine.run_records import ROW, STATE, SUMMARY
from irontrail.files import project_file

_whole = kernel.decide_on
_listing: "list[subprocess.Popen[str]]" = []


def _ask(*told: float) -> tuple[float, float, float]:
    """The powers of the listing that drives now, and whether it stops."""
    listing = _listing[-1]
    assert listing.stdin is not None and listing.stdout is not None
    listing.stdin.write(" ".join(f"{value:.17g}" for value in told) + "\n")
    listing.stdin.flush()
    left, right, stopped = (float(word) for word in listing.stdout.readline().split())
    return left, right, stopped


@njit
def _decide_on(controller, work, time):  # type: ignore[no-untyped-def]
    decision, plant, trip = work.decision, work.plant, work.trip
    light, second = decision.raw_output, decision.second_raw_output
    left_rolled, right_rolled, pressed = plant.left_rolled, plant.right_rolled, 0.0
    at_finish = 1.0 if work.judge.arrived < np.inf and not work.judge.whole else 0.0
    # The model's button is pressed when a leg's end waits for it and its time has come.
    if controller.leg_count > 0 and trip.begun == 1 and trip.braking == 0:
        leg = controller.legs[trip.leg]
        for k in range(leg.end_count):
            if leg.ends[k].kind == BUTTON and time - trip.began >= leg.ends[k].value - 1e-9:
                pressed = 1.0
    with objmode(left="f8", right="f8", stopped="f8"):
        left, right, stopped = _ask(light, second, time, left_rolled, right_rolled, pressed, at_finish)
    # What the engine decides beside it is kept for the columns that only tell of it; nothing is driven by it.
    _whole(controller, work, time)
    decision.left, decision.right, decision.stopped = left, right, stopped


def main(jobs: str) -> None:
    """Drive each project's robot by its command."""
    kernel.decide_on = _decide_on
    simulate = njit(nogil=False)(kernel.simulate.py_func)
    for project, out, command in json.loads(Path(jobs).read_text()):
        setup = project_file.read(Path(project)).setup
        packed = pack(setup, derive.route(setup.mat, setup.trial.reverse), *derive.fields(setup))
        trace, summary = np.empty(int(packed.parameters["max_rows"][0]), ROW), np.zeros(1, SUMMARY)
        with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as listing:
            _listing.append(listing)
            simulate(
                packed.parameters, packed.field, packed.second_field, *packed.lines.arrays, np.zeros(1, STATE), trace,
                summary,
            )  # fmt: skip
        np.save(out, trace[: int(summary["rows"][0])].view(np.float64).reshape(-1, len(ROW)))


if __name__ == "__main__":
    main(sys.argv[1])
