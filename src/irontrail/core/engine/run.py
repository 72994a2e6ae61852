"""One run of a setup."""

import numpy as np

from irontrail.core.engine.kernel import (
    COAST,
    END_ANGLE,
    END_TIME,
    OUTCOME,
    REST_HEADING,
    REST_X,
    REST_Y,
    ROWS,
    SKID,
    SLIDE,
    SUMMARY_SIZE,
    simulate,
)
from irontrail.core.engine.pack import Packed
from irontrail.core.figures import Outcome
from irontrail.core.result import COLUMNS, Run, Trace

# By the kernel's codes less one.
OUTCOMES: tuple[Outcome, ...] = ("finished", "off-mat", "lost", "stuck", "time-out", "stopped")


def run(packed: Packed) -> Run:
    """Compute a run from start to rest; a few milliseconds for half a minute of driving."""
    rows = int(packed.parameters["max_rows"][0])
    trace, summary = np.empty((len(COLUMNS), rows)), np.zeros(SUMMARY_SIZE)
    route = packed.route
    simulate(packed.parameters, packed.field, route.x_mm, route.y_mm, route.heading, trace, summary)
    used = trace[:, : int(summary[ROWS])].copy()
    used.setflags(write=False)
    return Run(
        route=route,
        start_mm=float(packed.parameters["start_s"][0]),
        pull_s=float(packed.parameters["pull_time"][0]),
        trace=Trace(*used),
        outcome=OUTCOMES[int(summary[OUTCOME]) - 1],
        time_s=float(summary[END_TIME]),
        skid_mm=float(summary[SKID]),
        slide_rad=float(summary[SLIDE]),
        coast_mm=float(summary[COAST]),
        rest_x_mm=float(summary[REST_X]),
        rest_y_mm=float(summary[REST_Y]),
        rest_heading_rad=float(summary[REST_HEADING]),
        end_angle_rad=float(summary[END_ANGLE]),
        seed=int(packed.parameters["seed"][0]),
    )
