"""The controller of a setup as plain numbers."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.control.legs import LEG, packed_legs
from irontrail.core.light.names import MAX_NAMES
from irontrail.core.light.sensor import Light
from irontrail.core.records import blank, copied, put
from irontrail.core.setup import Setup
from irontrail.core.steering.law import OWN_MEMORY
from irontrail.core.steering.legs import MAX_LEGS
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.pair import ARRANGEMENTS
from irontrail.core.steering.program import Program
from irontrail.core.steering.registry import DECIDING
from irontrail.core.steering.side import steer_sign

MEMORY_SIZE = OWN_MEMORY + max(law.memory for law in DECIDING.values())

# How what a sensor gives becomes a reading.
READER = np.dtype(
    [("gives_names", "i8"), ("calibrate", "i8")]
    + [(name, "f8") for name in ("raw_per_output", "dark", "bright")]
    + [("name_reads_as", "f8", (MAX_NAMES,))]
)
# `target` is the value at which the law's error is none, `kept_at` the reading that a weighted pair keeps; `line_sign`
# is +1 for a dark line, `second_sign` -1 for a second sensor on the opposite edge.
CONTROLLER = np.dtype(
    [(name, "i8") for name in ("law", "gives_powers", "mixing", "leg_count", "arrangement", "first_is_left")]
    + [
        (name, "f8")
        for name in (
            "steer_sign", "target", "speed", "ease_off", "power_step", "stop_time", "stop_distance", "stop_reading",
            "kept_at", "weight", "second_sign", "line_sign", "left_threshold", "right_threshold",
        )
    ]
    + [("first", READER), ("second", READER)]
    + [(law.field, np.dtype(list(law.record))) for law in DECIDING.values()]
    + [("legs", LEG, (MAX_LEGS,))]
)  # fmt: skip


def controller(setup: Setup) -> NDArray[np.void]:
    """The controller's record, shape (1,)."""
    program, effective = setup.program, setup.effective_program
    record = copied(_of_program(program))
    record["first_is_left"] = setup.first_is_left
    record["steer_sign"] = steer_sign(effective)
    record["line_sign"] = 1.0 if effective.line == "dark" else -1.0
    record["power_step"] = setup.robot.drive.power_step
    if program.trip is not None:
        record["leg_count"], record["legs"] = len(program.trip.legs), packed_legs(setup)
    put(record, "first", _reader(setup.light))
    if setup.second is not None:
        put(record, "second", _reader(setup.seen_by("second").light))
    return record


# Of many starts of a setup the program is the same.
@lru_cache(maxsize=64)
def _of_program(program: Program) -> NDArray[np.void]:
    """The record as far as it goes by the program alone, to be copied."""
    stop, pair = program.stop, program.pair
    record = blank(CONTROLLER)
    for name, value in {
        "law": list(DECIDING).index(program.chosen.name),
        "gives_powers": program.chosen.gives == "powers",
        "mixing": MIXING_NAMES.index(program.mixing),
        "arrangement": list(ARRANGEMENTS).index(program.arrangement),
        "target": program.aim,
        "kept_at": program.target,
        "weight": pair.weight,
        "second_sign": 1.0 if pair.edges == "same" else -1.0,
        "left_threshold": pair.left_threshold,
        "right_threshold": pair.right_threshold,
        "speed": program.speed,
        "ease_off": program.ease_off,
        "stop_time": stop.time_s,
        "stop_distance": stop.distance_mm,
        "stop_reading": stop.reading,
    }.items():
        record[name] = value
    for law in DECIDING.values():
        record[law.field] = law.packed(getattr(program, law.field), program.decision_time_s)
    return record


def _reader(light: Light) -> NDArray[np.void]:
    record, sensor = blank(READER), light.sensor
    record["gives_names"], record["calibrate"] = sensor.names_colours, light.calibrate
    record["raw_per_output"] = sensor.raw_per_output
    record["dark"], record["bright"] = light.calibration.dark, light.calibration.bright
    if sensor.names_colours:
        record["name_reads_as"][0, : len(sensor.palette)] = [named.reads_as for named in sensor.palette]
    return record
