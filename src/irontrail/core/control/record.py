"""The controller of a setup as plain numbers."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.control.legs import LEG, packed_legs
from irontrail.core.light.names import MAX_NAMES
from irontrail.core.project import Setup
from irontrail.core.steering.law import OWN_MEMORY
from irontrail.core.steering.legs import MAX_LEGS
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.registry import LAWS
from irontrail.core.steering.side import steer_sign

MEMORY_SIZE = OWN_MEMORY + max(law.memory for law in LAWS.values())

CONTROLLER = np.dtype(
    [(name, "i8") for name in ("law", "gives_powers", "mixing", "gives_names", "calibrate", "leg_count")]
    + [
        (name, "f8")
        for name in (
            "raw_per_output", "dark", "bright", "steer_sign", "target", "speed", "ease_off", "power_step",
            "stop_time", "stop_distance", "stop_reading",
        )
    ]
    + [("name_reads_as", "f8", (MAX_NAMES,))]
    + [(law.field, np.dtype(list(law.record))) for law in LAWS.values()]
    + [("legs", LEG, (MAX_LEGS,))]
)  # fmt: skip


def controller(setup: Setup) -> NDArray[np.void]:
    """The controller's record, shape (1,)."""
    program, light = setup.program, setup.light
    sensor, stop = light.sensor, program.stop
    record = np.zeros(1, CONTROLLER)
    for name, value in {
        "law": list(LAWS).index(program.law),
        "gives_powers": program.chosen.gives == "powers",
        "mixing": MIXING_NAMES.index(program.mixing),
        "gives_names": sensor.names_colours,
        "calibrate": light.calibrate,
        "raw_per_output": sensor.raw_per_output,
        "dark": light.calibration.dark,
        "bright": light.calibration.bright,
        "steer_sign": steer_sign(setup.effective_program),
        "target": program.target,
        "speed": program.speed,
        "ease_off": program.ease_off,
        "power_step": setup.robot.drive.power_step,
        "stop_time": stop.time_s,
        "stop_distance": stop.distance_mm,
        "stop_reading": stop.reading,
    }.items():
        record[name] = value
    if program.trip is not None:
        record["leg_count"], record["legs"] = len(program.trip.legs), packed_legs(setup)
    if sensor.names_colours:
        record["name_reads_as"][0, : len(sensor.palette)] = [named.reads_as for named in sensor.palette]
    for law in LAWS.values():
        record[law.field] = law.packed(getattr(program, law.field), program.decision_time_s)
    return record
