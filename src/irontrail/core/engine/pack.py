"""From a setup to the plain numbers that the kernel takes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.sensor import level_per_field
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route
from irontrail.core.project import Setup
from irontrail.core.steering.program import light_turn

# The longest time step. Halving it moves the figures of a smooth run by well under half a percent.
MAX_STEP_S = 0.001

LAWS = {"on-off": 0, "proportional": 1}

_ROBOT = (
    "track_width", "left_top", "right_top", "response_time", "dead_band", "grip", "power_step",
    "ahead", "aside",
)  # fmt: skip
# A level is level_per_field * field + dark_level, in raw percent.
_LIGHT = (
    "level_per_field", "dark_level", "noise", "reading_step", "dark", "bright", "mm_per_px", "mat_width", "mat_height",
)  # fmt: skip
_PROGRAM = (
    "light_turn", "target", "speed", "gain", "dark_outer", "dark_inner", "light_outer", "light_inner", "loop_time",
    "delay", "max_step",
)  # fmt: skip
_TRIAL = (
    "route_step", "half_tape", "edge_sign", "finish", "start_x", "start_y", "start_heading", "start_s", "time_limit",
    "lost_distance", "stuck_time",
)  # fmt: skip

PARAMETERS = np.dtype(
    [(name, np.float64) for name in _ROBOT + _LIGHT + _PROGRAM + _TRIAL]
    + [(name, np.int64) for name in ("law", "closed", "max_rows")]
    + [("seed", np.uint64)]
)


@dataclass(frozen=True, eq=False)
class Packed:
    """A setup as arrays: `parameters` of shape (1,), the field (rows, columns) and the route's columns (n,)."""

    parameters: NDArray[np.void]
    field: NDArray[np.float32]
    route: Route


def pack(setup: Setup, route: Route, field: NDArray[np.float32]) -> Packed:
    """The kernel's view of a setup; the route and the seen field belong to its mat and sensor."""
    parameters = pack_program(setup)
    for name, value in _trial(setup, route).items():
        parameters[name] = value
    return Packed(parameters, field, route)


def pack_program(setup: Setup) -> NDArray[np.void]:
    """The numbers of the robot, its sensor and its program alone: enough to decide on a reading."""
    parameters = np.zeros(1, PARAMETERS)
    for name, value in (_robot(setup) | _light(setup) | _program(setup)).items():
        parameters[name] = value
    return parameters


def _robot(setup: Setup) -> dict[str, float]:
    drive, mount = setup.robot.drive, setup.robot.mount
    top = drive.top_speed_mm_s * drive.battery
    uneven = drive.mismatch_percent / 200.0
    return {
        "track_width": drive.track_width_mm,
        "left_top": top * (1.0 + uneven),
        "right_top": top * (1.0 - uneven),
        "response_time": drive.response_time_s,
        "dead_band": drive.dead_band,
        "grip": drive.grip,
        "power_step": drive.power_step,
        "ahead": mount.ahead_mm,
        "aside": mount.aside_mm,
    }


def _light(setup: Setup) -> dict[str, float]:
    light = setup.light
    return {
        "level_per_field": 100.0 * level_per_field(light, setup.robot.mount.height_mm),
        "dark_level": 100.0 * light.sensor.dark_level,
        "noise": light.sensor.noise,
        "reading_step": light.sensor.reading_step,
        "dark": light.calibration.dark,
        "bright": light.calibration.bright,
        "mm_per_px": MM_PER_PX,
        "mat_width": setup.mat.width_mm,
        "mat_height": setup.mat.height_mm,
    }


def _program(setup: Setup) -> dict[str, float]:
    program, on_off = setup.program, setup.program.on_off
    return {
        "law": LAWS[program.law],
        "light_turn": light_turn(program.edge),
        "target": program.target,
        "speed": program.speed,
        "gain": program.proportional.gain,
        "dark_outer": on_off.dark_outer,
        "dark_inner": on_off.dark_inner,
        "light_outer": on_off.light_outer,
        "light_inner": on_off.light_inner,
        "loop_time": program.loop_time_s,
        "delay": program.delay_s,
        "max_step": MAX_STEP_S,
    }


def _trial(setup: Setup, route: Route) -> dict[str, float]:
    trial, mount = setup.trial, setup.robot.mount
    edge_sign = light_turn(setup.program.edge)
    start_s = min(trial.start_mm, 0.5 * route.length_mm)
    x, y, along = route.at(start_s)
    aside = edge_sign * (0.5 * setup.mat.line.width_mm + trial.start_off_mm)
    heading = along + np.radians(trial.start_angle_deg)
    x -= aside * np.sin(along) + mount.ahead_mm * np.cos(heading) - mount.aside_mm * np.sin(heading)
    y += aside * np.cos(along) - mount.ahead_mm * np.sin(heading) - mount.aside_mm * np.cos(heading)
    finish = start_s + route.length_mm if route.closed else route.length_mm - setup.mat.zone_mm
    return {
        "route_step": route.step_mm,
        "half_tape": 0.5 * setup.mat.line.width_mm,
        "edge_sign": edge_sign,
        "closed": int(route.closed),
        "finish": finish,
        "start_x": x,
        "start_y": y,
        "start_heading": heading,
        "start_s": start_s,
        "time_limit": trial.time_limit_s,
        "lost_distance": trial.lost_distance_mm,
        "stuck_time": trial.stuck_time_s,
        "max_rows": int(trial.time_limit_s / setup.program.loop_time_s) + 2,
        "seed": trial.seed,
    }
