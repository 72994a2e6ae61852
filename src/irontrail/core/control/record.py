"""The controller of a setup as plain numbers."""

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.control.legs import LEG, packed_legs
from irontrail.core.light.names import MAX_NAMES
from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Calibration, Light, Sensor
from irontrail.core.records import Form
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


_CONTROLLER, _READER = Form(CONTROLLER), Form(READER)


@dataclass(frozen=True)
class _Deciding:
    """A setup, known by that of it which its controller's record goes by: of many starts of a setup it is the same."""

    program: Program
    sensor: Sensor
    calibration: Calibration
    calibrate: bool
    second: SecondSensor | None
    first_is_left: bool
    power_step: float
    track_mm: float
    setup: Setup = field(compare=False)


def controller(setup: Setup) -> NDArray[np.void]:
    """The controller's record, shape (1,)."""
    return _CONTROLLER.filled({}, shared_controller(setup))


def shared_controller(setup: Setup) -> NDArray[np.void]:
    """The same, one for all setups that have it alike: only to be copied from."""
    light, drive = setup.light, setup.robot.drive
    return _controller(
        _Deciding(
            setup.program, light.sensor, light.calibration, light.calibrate, setup.second, setup.first_is_left,
            drive.power_step, drive.track_width_mm, setup,
        )
    )  # fmt: skip


@lru_cache(maxsize=64)
def _controller(deciding: _Deciding) -> NDArray[np.void]:
    setup, program = deciding.setup, deciding.program
    effective = setup.effective_program
    parts = {"first": _reader(setup.light)}
    if setup.second is not None:
        parts["second"] = _reader(setup.seen_by("second").light)
    record = _CONTROLLER.filled(
        {
            **_of_program(program),
            "first_is_left": setup.first_is_left,
            "steer_sign": steer_sign(effective),
            "line_sign": 1.0 if effective.line == "dark" else -1.0,
            "power_step": setup.robot.drive.power_step,
        },
        **parts,
    )
    for law in DECIDING.values():
        record[law.field] = law.packed(getattr(program, law.field), program.decision_time_s)
    if program.trip is not None:
        record["leg_count"], record["legs"] = len(program.trip.legs), packed_legs(setup)
    return record


def _of_program(program: Program) -> dict[str, float]:
    stop, pair = program.stop, program.pair
    return {
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
    }


def _reader(light: Light) -> NDArray[np.void]:
    sensor = light.sensor
    values = {
        "gives_names": sensor.names_colours,
        "calibrate": light.calibrate,
        "raw_per_output": sensor.raw_per_output,
        "dark": light.calibration.dark,
        "bright": light.calibration.bright,
    }
    record = _READER.filled(values)
    if sensor.names_colours:
        record["name_reads_as"][0, : len(sensor.palette)] = [named.reads_as for named in sensor.palette]
    return record
