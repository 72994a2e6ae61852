"""From a setup to the plain numbers that the kernel takes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.names import MAX_NAMES, palette_points
from irontrail.core.light.sensor import (
    MAX_AREAS,
    NAMES_HEIGHT_MM,
    Light,
    Sensor,
    lamp_share,
    room_share,
)
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Zone
from irontrail.core.mat.zones import start_and_finish, start_place
from irontrail.core.project import Pull, Setup
from irontrail.core.steering.bands import MAX_BANDS
from irontrail.core.steering.program import LAW_NAMES, MIXING_NAMES, Mixing, Program, edge_sign, light_turn

# The longest time step. Halving it moves the figures of a smooth run by well under half a percent.
MAX_STEP_S = 0.001

# In the order of the codes in laws.py.
LAWS = {name: code for code, name in enumerate(LAW_NAMES)}
MIXINGS: dict[Mixing, int] = {name: code for code, name in enumerate(MIXING_NAMES)}

_ROBOT = (
    "track_width", "left_top", "right_top", "response_time", "dead_band", "grip", "power_step",
    "ahead", "aside",
)  # fmt: skip
# A level is lamp_share * field + room_share * shadows * (field + gloss) + dark_level, in raw percent.
_LIGHT = (
    "lamp_share", "room_share", "gloss", "dark_level", "noise", "raw_step", "given_per_percent", "named_share",
    "lag", "dark", "bright", "mm_per_px",
    "mat_width", "mat_height",
)  # fmt: skip
_PROGRAM = (
    "light_turn", "target", "speed", "ease_off", "gain", "dark_ratio", "dark_outer", "dark_inner", "light_outer",
    "light_inner", "sloped_light", "mixed_gain", "fixed_steer", "kp", "ki", "kd", "derivative_share", "integral_limit",
    "decision_time", "stop_time", "stop_distance", "stop_reading", "loop_time", "delay", "max_step",
)  # fmt: skip
_BANDS = ("band_below", "band_left", "band_right")
_NAMES = ("name_red", "name_green", "name_blue", "name_reading")
_AREAS = ("area_x", "area_y", "area_half_width", "area_half_height", "area_soft", "area_factor")
_WHOLE = (
    "law", "mixing", "band_count", "hold_loops", "closed", "max_rows", "inverted", "calibrate", "area_count",
    "name_count", "has_zone", "zone_visits",
)  # fmt: skip
_TRIAL = (
    "route_step", "half_tape", "edge_sign", "finish", "finish_x", "finish_y", "finish_cos", "finish_sin",
    "finish_half_width", "finish_half_height", "start_x", "start_y", "start_heading", "start_s", "time_limit",
    "lost_distance", "stuck_time", "pull_time", "pull_x", "pull_y", "pull_heading",
)  # fmt: skip

PARAMETERS = np.dtype(
    [(name, np.float64) for name in _ROBOT + _LIGHT + _PROGRAM + _TRIAL]
    + [(name, np.float64, (MAX_BANDS,)) for name in _BANDS]
    + [(name, np.float64, (MAX_NAMES,)) for name in _NAMES]
    + [(name, np.float64, (MAX_AREAS,)) for name in _AREAS]
    + [(name, np.int64) for name in _WHOLE]
    + [("seed", np.uint64)]
)


@dataclass(frozen=True, eq=False)
class Packed:
    """A setup as arrays: `parameters` of shape (1,), field (channels, rows, columns), route columns (n,)."""

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
    _pack_bands(parameters, setup.program)
    _pack_areas(parameters, setup.light)
    if setup.light.sensor.names_colours:
        _pack_names(parameters, setup.light.sensor)
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
        "lamp_share": 100.0 * lamp_share(setup.robot.mount.height_mm),
        "room_share": 100.0 * room_share(light, setup.robot.mount.height_mm),
        "gloss": setup.mat.gloss,
        "dark_level": 100.0 * light.sensor.dark_level,
        "noise": light.sensor.noise,
        "raw_step": light.sensor.raw_step,
        "given_per_percent": light.sensor.given_per_percent,
        "named_share": 100.0 * lamp_share(NAMES_HEIGHT_MM),
        "lag": light.sensor.lag_s,
        "inverted": light.sensor.reads_high_on == "dark",
        "calibrate": light.calibrate,
        "dark": light.calibration.dark,
        "bright": light.calibration.bright,
        "mm_per_px": MM_PER_PX,
        "mat_width": setup.mat.width_mm,
        "mat_height": setup.mat.height_mm,
    }


def _program(setup: Setup) -> dict[str, float]:
    program = setup.program
    hold_loops = max(1, round(program.hold_s / program.loop_time_s))
    decision_time = hold_loops * program.loop_time_s
    return {
        "law": LAWS[program.law],
        "mixing": MIXINGS[program.mixing],
        "light_turn": light_turn(setup.acting_program),
        "target": program.target,
        "speed": program.speed,
        "ease_off": program.ease_off,
        "hold_loops": hold_loops,
        "decision_time": decision_time,
        "stop_time": program.stop.time_s,
        "stop_distance": program.stop.distance_mm,
        "stop_reading": program.stop.reading,
        "loop_time": program.loop_time_s,
        "delay": program.delay_s,
        "max_step": MAX_STEP_S,
    } | _laws(program, decision_time)


def _laws(program: Program, decision_time: float) -> dict[str, float]:
    """The settings of every law but bands."""
    on_off, mixed, pid = program.on_off, program.mixed, program.pid
    return {
        "gain": program.proportional.gain,
        "dark_ratio": program.proportional.dark_ratio,
        "dark_outer": on_off.dark_outer,
        "dark_inner": on_off.dark_inner,
        "light_outer": on_off.light_outer,
        "light_inner": on_off.light_inner,
        "sloped_light": 1.0 if mixed.sloped_side == "light" else 0.0,
        "mixed_gain": mixed.gain,
        "fixed_steer": mixed.fixed_steer,
        "kp": pid.kp,
        "ki": pid.ki,
        "kd": pid.kd,
        "derivative_share": 1.0 - np.exp(-decision_time / pid.filter_s) if pid.filter_s > 0.0 else 1.0,
        "integral_limit": pid.integral_limit,
    }


def _pack_bands(parameters: NDArray[np.void], program: Program) -> None:
    steps = program.bands.steps
    parameters["band_count"] = len(steps)
    for i, band in enumerate(steps):
        parameters["band_below"][0, i] = band.below
        parameters["band_left"][0, i] = band.left
        parameters["band_right"][0, i] = band.right


def _pack_areas(parameters: NDArray[np.void], light: Light) -> None:
    parameters["area_count"] = len(light.areas)
    for i, area in enumerate(light.areas):
        parameters["area_x"][0, i], parameters["area_y"][0, i] = area.x_mm, area.y_mm
        parameters["area_half_width"][0, i] = area.half_width_mm
        parameters["area_half_height"][0, i] = area.half_height_mm
        parameters["area_soft"][0, i], parameters["area_factor"][0, i] = area.soft_mm, area.factor


def _pack_names(parameters: NDArray[np.void], sensor: Sensor) -> None:
    count = len(sensor.palette)
    parameters["name_count"] = count
    for name, column in zip(_NAMES, palette_points(sensor.palette).T, strict=False):
        parameters[name][0, :count] = column
    parameters["name_reading"][0, :count] = [named.reads_as for named in sensor.palette]


def _trial(setup: Setup, route: Route) -> dict[str, float]:
    trial, mount = setup.trial, setup.robot.mount
    side = edge_sign(setup.program.edge)
    start_zone, finish_zone = start_and_finish(setup.mat, trial.reverse)
    start_s = start_place(start_zone, route, trial.start_mm)
    x, y, along = route.at(start_s)
    aside = side * (0.5 * setup.mat.followed.width_mm + trial.start_off_mm)
    heading = along + np.radians(trial.start_angle_deg)
    x -= aside * np.sin(along) + mount.ahead_mm * np.cos(heading) - mount.aside_mm * np.sin(heading)
    y += aside * np.cos(along) - mount.ahead_mm * np.sin(heading) - mount.aside_mm * np.cos(heading)
    finish = start_s + trial.laps * route.length_mm if route.closed else route.length_mm - setup.mat.zone_mm
    return (
        {
            "route_step": route.step_mm,
            "half_tape": 0.5 * setup.mat.followed.width_mm,
            "edge_sign": side,
            "closed": int(route.closed),
            "finish": finish,
            "zone_visits": trial.laps if route.closed else 1,
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
        | _finish_zone(finish_zone)
        | _pull(trial.pull)
    )


def _pull(pull: Pull | None) -> dict[str, float]:
    if pull is None:
        return {"pull_time": np.inf}
    return {
        "pull_time": pull.time_s,
        "pull_x": pull.x_mm,
        "pull_y": pull.y_mm,
        "pull_heading": float(np.radians(pull.heading_deg)),
    }


def _finish_zone(zone: Zone | None) -> dict[str, float]:
    if zone is None:
        return {"has_zone": 0}
    return {
        "has_zone": 1,
        "finish_x": zone.x_mm,
        "finish_y": zone.y_mm,
        "finish_cos": float(np.cos(np.radians(zone.turned_deg))),
        "finish_sin": float(np.sin(np.radians(zone.turned_deg))),
        "finish_half_width": 0.5 * zone.width_mm,
        "finish_half_height": 0.5 * zone.height_mm,
    }
