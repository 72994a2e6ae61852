"""From a setup to the plain numbers that the kernel takes, part by part."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.control.record import shared_controller
from irontrail.core.engine.judge import END_MM, JUDGE, LINE
from irontrail.core.engine.place import sure_reach
from irontrail.core.engine.plant import GRAVITY_MM_S2, MAX_STEP_S, PLANT
from irontrail.core.engine.run_records import PARAMETERS
from irontrail.core.engine.sense import SENSOR
from irontrail.core.light.names import palette_points
from irontrail.core.light.reading import NAMES_HEIGHT_MM, lamp_share, room_share
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route, stroke_route
from irontrail.core.mat.tape import Mat, Zone
from irontrail.core.mat.zones import start_and_finish, start_place
from irontrail.core.quantity import moved
from irontrail.core.records import Form
from irontrail.core.robot.drive import Drive
from irontrail.core.robot.mount import AXLE, Place, Robot
from irontrail.core.setup import Pull, Setup, starts_on_line, zone_pose

Floats = NDArray[np.float64]

_PARAMETERS, _PLANT, _SENSOR, _JUDGE = Form(PARAMETERS), Form(PLANT), Form(SENSOR), Form(JUDGE)


@dataclass(frozen=True, eq=False)
class Packed:
    """A setup as arrays: `parameters` of shape (1,), fields (channels, rows, columns), and the lines to be followed.

    Without a second sensor its field is that of the first, and is not looked at.
    """

    parameters: NDArray[np.void]
    field: NDArray[np.float32]
    second_field: NDArray[np.float32]
    lines: "Lines"

    @property
    def route(self) -> Route:
        """The line that the trial is about."""
        return self.lines.routes[0]


@dataclass(frozen=True, eq=False)
class Lines:
    """Lines as the kernel takes them: their points one after the other, shape (n,), and where each lies among them.

    `records` is of judge.LINE, shape (lines,). A line that may be met from either end is there twice.
    """

    routes: tuple[Route, ...]
    records: NDArray[np.void]
    x_mm: NDArray[np.float64]
    y_mm: NDArray[np.float64]
    heading: NDArray[np.float64]
    reach: NDArray[np.float64]

    @property
    def arrays(self) -> tuple[NDArray[np.void], Floats, Floats, Floats, Floats]:
        """As the kernel takes them."""
        return self.records, self.x_mm, self.y_mm, self.heading, self.reach


def pack(
    setup: Setup, route: Route, field: NDArray[np.float32], second_field: NDArray[np.float32] | None = None
) -> Packed:
    """The kernel's view of a setup; the route and the seen fields belong to its mat and sensors."""
    if setup.second is not None and second_field is None:
        raise ValueError("a second sensor needs what it sees")
    lines = lines_of(setup.mat, route, setup.program.trip is not None, setup.program.astride)
    return Packed(parameters_of(setup, route), field, field if second_field is None else second_field, lines)


def parameters_of(setup: Setup, route: Route) -> NDArray[np.void]:
    """The numbers of a setup, of run_records.PARAMETERS, shape (1,); the route belongs to its mat."""
    program = setup.program
    parts = {
        "plant": pack_plant(setup.robot, setup.reference),
        "sensor": pack_sensor(setup),
        "controller": shared_controller(setup),
        "judge": _JUDGE.filled(_judge(setup, route)),
    }
    if setup.second is not None:
        parts["second"] = pack_sensor(setup.seen_by("second"))
    values = {
        "loop_time": program.loop_time_s,
        "delay": program.delay_s,
        "decision_loops": program.decision_loops,
        "max_rows": int(setup.trial.time_limit_s / program.loop_time_s) + 2,
        "sensors": len(setup.sensors),
        "on_line": starts_on_line(setup),
        **_pull(setup.trial.pull),
    }
    return restarted(_PARAMETERS.filled(values, **parts), setup, route)


def restarted(parameters: NDArray[np.void], setup: Setup, route: Route) -> NDArray[np.void]:
    """The numbers of a setup from those of one that differs in what a start moves alone, shape (1,).

    That is where and how it is set down, its seed, the room's light, the battery and how unlike the wheels are.
    """
    trial, height = setup.trial, setup.robot.mount.height_mm
    left, right = _tops(setup.robot.drive)
    start_s, finish = _start_and_end(setup, route)
    values = {
        "seed": trial.seed,
        "second_seed": second_seed(trial.seed),
        "plant.left_top": left,
        "plant.right_top": right,
        "sensor.room_share": 100.0 * room_share(setup.light, height),
        "judge.start_s": start_s,
        "judge.finish": finish,
        **_start(setup, route, start_s),
    }
    if setup.second is not None:
        by_second = moved(setup.light, sensor=setup.second.sensor)
        values["second.room_share"] = 100.0 * room_share(by_second, setup.second.mount.height_mm)
    return _PARAMETERS.filled(values, parameters)


def second_seed(seed: int) -> int:
    """Where the second sensor's random stream begins: far from the first one's, whatever the seed (splitmix64)."""
    z, whole = (seed + 0xD1B54A32D192ED03) & (2**64 - 1), 2**64 - 1
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & whole
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & whole
    return z ^ (z >> 31)


@lru_cache(maxsize=16)
def lines_of(mat: Mat, route: Route, every: bool, astride: bool = False) -> Lines:
    """The route alone, or before every line of its mat in both directions; `astride`: their middles are followed."""
    widths, routes = [mat.followed.width_mm], [route]
    if every:
        for stroke in mat.lines:
            for back in (False, True):
                made = stroke_route(stroke, mat.name, back)
                if made is not route:
                    routes.append(made)
                    widths.append(stroke.width_mm)
    records = np.zeros(len(routes), LINE)
    records["count"] = [each.x_mm.size for each in routes]
    records["first"][1:] = np.cumsum(records["count"])[:-1]
    records["closed"] = [each.closed for each in routes]
    records["route_step"] = [each.step_mm for each in routes]
    records["half_tape"] = 0.0 if astride else 0.5 * np.array(widths)
    x, y, heading = (np.concatenate([getattr(each, name) for each in routes]) for name in ("x_mm", "y_mm", "heading"))
    return Lines(tuple(routes), records, x, y, heading, np.concatenate([reach_of(each) for each in routes]))


@lru_cache(maxsize=64)
def reach_of(route: Route) -> NDArray[np.float64]:
    """How far aside of each point of a route its nearest place is sure, shape (n,); see `place.sure_reach`."""
    reach = np.empty(route.x_mm.size)
    sure_reach(route.x_mm, route.y_mm, route.closed, reach)
    return reach


def pack_plant(robot: Robot, reference: Place = AXLE) -> NDArray[np.void]:
    """The robot's motion as plain numbers, with the point of it that is judged, shape (1,)."""
    drive = robot.drive
    left, right = _tops(drive)
    return _PLANT.filled(
        {
            "per_track": 1.0 / drive.track_width_mm,
            "left_top": left,
            "right_top": right,
            "response_time": drive.response_time_s,
            "dead_band": drive.dead_band,
            "friction": drive.grip * GRAVITY_MM_S2,
            "ahead": reference.ahead_mm,
            "aside": reference.aside_mm,
            "max_step": MAX_STEP_S,
        },
    )


def _tops(drive: Drive) -> tuple[float, float]:
    """The wheels' top speeds."""
    top, uneven = drive.top_speed_mm_s * drive.battery, drive.mismatch_percent / 200.0
    return top * (1.0 + uneven), top * (1.0 - uneven)


def pack_sensor(setup: Setup) -> NDArray[np.void]:
    """The sensor in its light as plain numbers, shape (1,)."""
    light, sensor, mount = setup.light, setup.light.sensor, setup.robot.mount
    height = mount.height_mm
    counts = sensor.scale == "counts"
    record = _SENSOR.filled(
        {
            "lamp_share": 100.0 * lamp_share(height),
            "room_share": 100.0 * room_share(light, height),
            "gloss": setup.mat.gloss,
            "dark_level": 100.0 * sensor.dark_level,
            "noise": sensor.noise,
            "raw_step": sensor.raw_step,
            "output_step": 1.0 if counts else sensor.raw_step,
            "highest": sensor.highest_count if counts else 100.0,
            "named_share": 100.0 * lamp_share(NAMES_HEIGHT_MM),
            "lag": sensor.lag_s,
            "inverted": sensor.reads_high_on == "dark",
            "mm_per_px": MM_PER_PX,
            "ahead": mount.ahead_mm,
            "aside": mount.aside_mm,
            "area_count": len(light.areas),
        },
    )
    for i, area in enumerate(light.areas):
        record["area_x"][0, i], record["area_y"][0, i] = area.x_mm, area.y_mm
        record["area_half_width"][0, i], record["area_half_height"][0, i] = area.half_width_mm, area.half_height_mm
        record["area_soft"][0, i], record["area_factor"][0, i] = area.soft_mm, area.factor
    if sensor.names_colours:
        count = len(sensor.palette)
        record["name_count"] = count
        points = palette_points(sensor.palette).T
        for name, column in zip(("name_red", "name_green", "name_blue"), points, strict=True):
            record[name][0, :count] = column
    return record


def _judge(setup: Setup, route: Route) -> dict[str, float]:
    trial = setup.trial
    return {
        "end_zone": setup.mat.zone_mm,
        "edge_sign": setup.side,
        "mat_width": setup.mat.width_mm,
        "mat_height": setup.mat.height_mm,
        "rounds": trial.laps if route.closed else 1,
        "time_limit": trial.time_limit_s,
        "lost_distance": trial.lost_distance_mm,
        "stuck_time": trial.stuck_time_s,
        **_finish_zone(start_and_finish(setup.mat, trial.reverse)[1]),
    }


def _start_and_end(setup: Setup, route: Route) -> tuple[float, float]:
    """Where along its route a run starts, and where it is finished if there is no zone."""
    trial, length = setup.trial, route.length_mm
    start_s = start_place(start_and_finish(setup.mat, trial.reverse)[0], route, trial.start_mm)
    if route.closed:
        return start_s, start_s + trial.laps * length
    # Set down within reach of its far end, it drives to the very end.
    near = length - setup.mat.zone_mm
    return start_s, near if near > start_s else length - END_MM


def _start(setup: Setup, route: Route, start_s: float) -> dict[str, float]:
    """Where the axle's middle is set down, so that the reference is where the trial says; or in the start zone."""
    trial, place = setup.trial, setup.reference
    pose = zone_pose(setup)
    if pose is not None:
        return dict(zip(("start_x", "start_y", "start_heading"), pose, strict=True))
    x, y, along = route.at(start_s)
    aside = setup.side * (setup.off_middle_mm + trial.start_off_mm)
    heading = along + np.radians(trial.start_angle_deg)
    x -= aside * np.sin(along) + place.ahead_mm * np.cos(heading) - place.aside_mm * np.sin(heading)
    y += aside * np.cos(along) - place.ahead_mm * np.sin(heading) - place.aside_mm * np.cos(heading)
    return {"start_x": x, "start_y": y, "start_heading": heading}


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
