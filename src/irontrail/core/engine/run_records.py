"""The records of a run: what the engine is given, what it works with, and what it tells."""

import numpy as np

from irontrail.core.control.legs import TRIP
from irontrail.core.control.record import CONTROLLER, MEMORY_SIZE
from irontrail.core.engine.judge import JUDGE, JUDGE_STATE
from irontrail.core.engine.legs_driven import LEG_DRIVEN
from irontrail.core.engine.plant import PLANT, PLANT_STATE, STRIDE
from irontrail.core.engine.samples import SEEN
from irontrail.core.engine.sense import SENSOR
from irontrail.core.result import COLUMNS
from irontrail.core.steering.legs import MAX_LEGS

# All that is asked of a run.
PARAMETERS = np.dtype(
    [("plant", PLANT), ("sensor", SENSOR), ("second", SENSOR), ("controller", CONTROLLER), ("judge", JUDGE)]
    + [(name, "f8") for name in ("loop_time", "delay", "start_x", "start_y", "start_heading")]
    + [(name, "f8") for name in ("pull_time", "pull_x", "pull_y", "pull_heading")]
    + [(name, "i8") for name in ("decision_loops", "max_rows", "on_line", "sensors")]
    + [("seed", "u8"), ("second_seed", "u8")]
)
# How a loop is driven: to the instant of its sample in `before_count` equal strides, to its end in `after_count`. A
# sample is decided on `late` loops after the loop that follows; `slow` is a sensor with a lag, `watched` a long loop.
TIMING = np.dtype(
    [("before_sample", STRIDE), ("after_sample", STRIDE)]
    + [(name, "i8") for name in ("before_count", "after_count", "late", "slow", "watched")]
)
# What the program has decided last.
DECISION = np.dtype(
    [
        (name, "f8")
        for name in (
            "raw_output",
            "margin",
            "reading",
            "second_raw_output",
            "second_reading",
            "error",
            "wanted_left",
            "wanted_right",
            "left",
            "right",
            "rule",
            "stopped",
            "ended",
        )
    ]
)  # fmt: skip
# The state of each part in a record of its own.
STATE = np.dtype(
    [
        ("plant", PLANT_STATE), ("judge", JUDGE_STATE), ("timing", TIMING), ("decision", DECISION),
        ("memory", "f8", (MEMORY_SIZE,)), ("trip", TRIP), ("legs", LEG_DRIVEN, (MAX_LEGS,)),
        ("first", SEEN), ("second", SEEN),
    ]
)  # fmt: skip
# A row of the trace, and what is told of the whole.
ROW = np.dtype([(name, "f8") for name in COLUMNS])
SUMMARY = np.dtype(
    [("outcome", "i8"), ("rows", "i8"), ("legs", "i8")]
    + [(name, "f8") for name in ("end_time", "skid", "slide", "coast", "rest_x", "rest_y", "rest_heading", "end_angle")]
)
