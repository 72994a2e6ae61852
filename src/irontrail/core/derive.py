"""What follows from a setup: pure functions, remembered by just the parts they depend on.

A change of gain finds the mat's raster and the seen field as they were; only the run is computed anew. Whatever is
compiled is imported by the function that needs it: a window stands a second sooner than Numba is ready.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core import measures
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import Sweep, sweep_by_itself
from irontrail.core.light.lit_mat import IN_LAMPLIGHT
from irontrail.core.light.profile import EdgeProfile, bilinear, cut_profile, edge_profile
from irontrail.core.light.reading import raw_reading, reading_of_patch
from irontrail.core.light.sensor import Light, Scale, Sensor
from irontrail.core.light.shadow import shadow_factor
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route, make_route, stroke_route
from irontrail.core.mat.tape import Mat, Stroke
from irontrail.core.mat.zones import ROUND_SHARE, start_and_finish, start_place
from irontrail.core.remembered import Remembered
from irontrail.core.result import Run
from irontrail.core.robot.mount import Place
from irontrail.core.setup import Setup, starts_on_line, zone_pose
from irontrail.core.steering.curve import SteeringCurve
from irontrail.core.steering.pair import Which


@lru_cache(maxsize=256)
def route(mat: Mat, reverse: bool) -> Route:
    """The route of a mat in one direction."""
    return make_route(mat, reverse)


def start_mm(setup: Setup) -> float:
    """Arc length along the route where the sensor is set down."""
    trial = setup.trial
    zone, _ = start_and_finish(setup.mat, trial.reverse)
    return start_place(zone, route(setup.mat, trial.reverse), trial.start_mm)


def start_pose(setup: Setup) -> tuple[float, float, float]:
    """Where the robot is set down: what the trial places, in mm, and its heading in rad.

    That is the sensor on the line, or the axle's middle in the start zone.
    """
    return zone_pose(setup) or route(setup.mat, setup.trial.reverse).at(start_mm(setup))


def way_share(setup: Setup) -> float:
    """How much of the way that a setup's run should drive its run came along, 0..1: all laps, to the finish."""
    way, start, trial = route(setup.mat, setup.trial.reverse), start_mm(setup), setup.trial
    _, zone = start_and_finish(setup.mat, trial.reverse)
    if way.closed:
        on = (start_place(zone, way, 0.0) - start) % way.length_mm if zone is not None else 0.0
        # A zone just short of a whole round ends it, one farther back is come to after it.
        length = trial.laps * way.length_mm + (on - way.length_mm if on > ROUND_SHARE * way.length_mm else on)
    else:
        length = (start_place(zone, way, 0.0) if zone is not None else way.length_mm - setup.mat.zone_mm) - start
    return min(max(figures(setup).progress_mm / length, 0.0), 1.0) if length > 1.0 else 1.0


# A mat of the largest size is 192 MB in three colours, 64 in one.
_rasters = Remembered(most_bytes=200_000_000)


def raster(mat: Mat) -> NDArray[np.float32]:
    """The mat's reflectance, shape (height, width, 3)."""
    from irontrail.core.mat.raster import make_raster

    return _rasters.get(mat, lambda: make_raster(mat))


# Many starts on worn mats, or at other heights, have a field each. Of what is dragged those of the last two sensors are
# enough: the sooner one is forgotten, the sooner its memory is another's.
_seen, _dragged = Remembered(most_bytes=480_000_000), Remembered(most_bytes=400_000_000, most=2)


def _field(mat: Mat, eye: Sensor, height_mm: float, kept: Remembered) -> NDArray[np.float32]:
    from irontrail.core.light.spot import seen_field
    from irontrail.core.mat.raster import laid_cells, same_sheet

    def make() -> NDArray[np.float32]:
        laid = laid_cells(mat)
        if eye.names_colours:
            return seen_field(raster(mat), eye, height_mm, laid)
        key, over = kept.spare() or (None, None)
        its_mat, its_eye, its_height = key or (None, eye, height_mm)
        used = None
        if its_mat is not None and same_sheet(its_mat, mat) and its_eye.lamp == eye.lamp:
            used = _seen_cells(its_mat, its_eye, its_height)
        # Known by the time that its memory is another's.
        _seen_cells(mat, eye, height_mm)
        with IN_LAMPLIGHT[eye.lamp].of(mat) as seen:
            return seen_field(seen, eye, height_mm, laid, over, used)

    key = (mat, eye, height_mm)
    for each in (_seen, _dragged):
        known = each.known(key)
        if known is not None:
            return known
    return kept.get(key, make)


@lru_cache(maxsize=8)
def _seen_cells(mat: Mat, eye: Sensor, height_mm: float) -> NDArray[np.bool_]:
    from irontrail.core.light.spot import seen_cells
    from irontrail.core.mat.raster import laid_cells

    return seen_cells(laid_cells(mat), eye, height_mm)


def field(setup: Setup, kept: Remembered = _seen) -> NDArray[np.float32]:
    """What the sensor's patch holds at every point of the mat, shape (channels, height, width)."""
    return _field(_printed(setup.mat), _eye(setup.light.sensor), setup.robot.mount.height_mm, kept)


@lru_cache(maxsize=64)
def _eye(sensor: Sensor) -> Sensor:
    """A sensor with only what its field depends on."""
    scale: Scale = "colour names" if sensor.names_colours else "percent"
    return Sensor(scale=scale, lamp=sensor.lamp, spot_base_mm=sensor.spot_base_mm, spot_growth=sensor.spot_growth)


def fields(setup: Setup, kept: Remembered = _seen) -> tuple[NDArray[np.float32], ...]:
    """What each sensor's patch holds at every point of the mat."""
    return tuple(field(setup.seen_by(which), kept) for which in setup.sensors)


@lru_cache(maxsize=256)
def _printed(mat: Mat) -> Mat:
    """A mat with only what the sensor sees of it: another zone, spot or name is no other picture."""
    return replace(mat, name="", start=None, finish=None, spots=(), goal=0)


@lru_cache(maxsize=16)
def run(setup: Setup) -> Run:
    """The run of a setup."""
    return run_once(setup, _dragged)


def run_once(setup: Setup, kept: Remembered = _seen) -> Run:
    """The run of a setup that will not be asked for again."""
    from irontrail.core.engine import run as engine
    from irontrail.core.engine.pack import pack

    return engine.run(pack(setup, route(setup.mat, setup.trial.reverse), *fields(setup, kept)))


@lru_cache(maxsize=64)
def figures(setup: Setup) -> Figures:
    """The measures of a setup's run."""
    return measures.measure(run(setup), setup.mat.spots)


def curve(setup: Setup) -> SteeringCurve:
    """The steering curve of a setup's program."""
    from irontrail.core.control.curve import steering_curve

    return steering_curve(setup)


def profile(setup: Setup, s_mm: float | None = None) -> EdgeProfile:
    """The edge profile at an arc length of the route, or where the robot is set down, or else well along the route."""
    place = s_mm
    if place is None:
        on_line = starts_on_line(setup)
        place = start_mm(setup) if on_line else 0.25 * route(setup.mat, setup.trial.reverse).length_mm
    if setup.program.arrangement != "one":
        return pair_profile(setup, place)
    left, height = setup.program.edge == "left", setup.robot.mount.height_mm
    return _profile(setup.mat, setup.trial.reverse, setup.light, height, left, place)


def pair_profile(setup: Setup, s_mm: float) -> EdgeProfile:
    """What two sensors steer by as their reference is drawn across the line, square to the route, pointing along it."""
    from irontrail.core.control.curve import steered_by

    first, second = _both_beside(setup, s_mm)
    return EdgeProfile(first.edge_mm, steered_by(setup, first.reading, second.reading))


def pair_readings(setup: Setup) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What each of two sensors reads as their reference is drawn across the line at the start; see `profile`."""
    first, second = _both_beside(setup, start_mm(setup))
    return first.reading, second.reading


def powers_beside(setup: Setup, off_mm: float) -> tuple[float, float]:
    """The powers that two sensors set where their reference is so far off what it follows, along the line."""
    from irontrail.core.control.curve import powers_at

    first, second = _both_beside(setup, start_mm(setup))
    return powers_at(setup, *(float(np.interp(off_mm, each.edge_mm, each.reading)) for each in (first, second)))


def _both_beside(setup: Setup, s_mm: float) -> list[EdgeProfile]:
    way = route(setup.mat, setup.trial.reverse)
    return [
        _readings_beside(setup.seen_by(which), way, s_mm, setup.reference, setup.side, setup.off_middle_mm)
        for which in setup.sensors
    ]


def lines(mat: Mat) -> list[tuple[Stroke, Route]]:
    """Every line of a mat with its route."""
    return [(stroke, stroke_route(stroke, mat.name)) for stroke in mat.lines]


def _readings_beside(
    setup: Setup, way: Route, s_mm: float, reference: Place, side: float, off_middle_mm: float
) -> EdgeProfile:
    """What a setup's one sensor reads as another point of its robot is drawn across the line."""
    mount = setup.robot.mount
    beside = Place(mount.ahead_mm - reference.ahead_mm, mount.aside_mm - reference.aside_mm)
    return edge_profile(
        field(setup), way, s_mm, off_middle_mm, side > 0.0, setup.light, mount.height_mm, setup.mat.gloss, beside
    )


# As long as the run is, and longer: to come to a profile anew a mat that was dragged past is laid and seen anew.
@lru_cache(maxsize=64)
def _profile(mat: Mat, reverse: bool, light: Light, height_mm: float, left: bool, s_mm: float) -> EdgeProfile:
    """The profile by only what it depends on."""
    seen = _field(_printed(mat), _eye(light.sensor), height_mm, _seen)
    half_tape = 0.5 * mat.followed.width_mm
    return edge_profile(seen, route(mat, reverse), s_mm, half_tape, left, light, height_mm, mat.gloss)


def edge_distance(setup: Setup) -> Callable[[NDArray[np.float64], NDArray[np.float64]], NDArray[np.float64]]:
    """How far places (x, y in mm) are from what is followed of the nearest stretch of route, light side positive."""
    way = route(setup.mat, setup.trial.reverse)
    half, side = setup.off_middle_mm, setup.side

    def distance(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
        return side * way.left_of(x, y) - half

    return distance


def profile_along(setup: Setup, start: tuple[float, float], end: tuple[float, float]) -> EdgeProfile:
    """The profile along a cut drawn from a place (mm) to another."""
    height = setup.robot.mount.height_mm
    return cut_profile(field(setup), start, end, edge_distance(setup), setup.light, height, setup.mat.gloss)


@dataclass(frozen=True)
class Probed:
    """What the sensor would read at a place, without noise: what it gives, the raw percent, and the reading.

    `edge_mm` is the distance from the followed edge, light side positive; `factor` what shadows make of the room.
    """

    x_mm: float
    y_mm: float
    raw_output: float
    raw: float
    reading: float
    edge_mm: float
    factor: float


def probe(setup: Setup, x_mm: float, y_mm: float) -> Probed:
    """Hold the sensor over a place."""
    light, height, gloss = setup.light, setup.robot.mount.height_mm, setup.mat.gloss
    x, y = np.array([x_mm]), np.array([y_mm])
    seen = bilinear(field(setup), x / MM_PER_PX, y / MM_PER_PX)
    factor = shadow_factor(light.areas, x, y)
    read = float(reading_of_patch(light, height, seen, gloss, factor)[0])
    raw = float(raw_reading(light, height, seen.mean(axis=1), gloss, factor)[0])
    edge = float(edge_distance(setup)(x, y)[0])
    return Probed(x_mm, y_mm, raw * light.sensor.output_per_percent, raw, read, edge, float(factor[0]))


def calibration_sweep(setup: Setup, which: Which = "first") -> Sweep:
    """The robot set down at its start turns to and fro, and one of its sensors finds its extremes by itself."""
    trace, alone = run(setup).trace, setup.seen_by(which)
    pose = (float(trace.x_mm[0]), float(trace.y_mm[0]), float(trace.heading_rad[0]))
    return sweep_by_itself(field(alone), pose, alone.light, alone.robot.mount, setup.trial.seed, setup.mat.gloss)
