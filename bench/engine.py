"""The engine's speed as ratios measured in one run.

One lap of the demo with its trace, against the same loop in plain Python, the same loop in C compiled with -O2 (where
gcc is; driven in small steps), and SciPy's solve_ivp on the open-loop motion alone; how far each is from a 10 us
integration; and sweeps of 1,000 and 10,000 runs on one thread and on
all cores, with the memory that a long row of runs takes.
Run:  .venv/bin/python bench/engine.py     or:  ./start bench
"""

import ctypes
import os
import resource
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.compiled import compiled
from irontrail.core.demos import demo_project
from irontrail.core.engine import plant, run, sweep
from irontrail.core.engine.pack import Packed, pack, pack_plant
from irontrail.core.quantity import with_value
from irontrail.core.records import joined
from irontrail.core.setup import Setup

C_SOURCE = Path(__file__).parent / "loop.c"
# In the order of loop.c's enum, by part of the engine's record.
C_PARAMETERS = {
    "plant": (
        "per_track", "left_top", "right_top", "response_time", "dead_band", "friction", "ahead", "aside", "max_step",
    ),
    "sensor": (
        "lamp_share", "room_share", "gloss", "dark_level", "noise", "raw_step", "output_step", "highest", "lag",
        "mm_per_px", "inverted",
    ),
    "controller": (
        "law", "mixing", "first.calibrate", "first.raw_per_output", "first.dark", "first.bright", "steer_sign",
        "target", "speed", "ease_off",
        "power_step", "stop_time", "stop_distance", "stop_reading",
        "on_off", "bands", "mixed", "proportional", "pid",
    ),
    "judge": (
        "route_step", "half_tape", "edge_sign", "mat_width", "mat_height", "finish", "start_s", "time_limit",
        "lost_distance", "stuck_time", "closed",
    ),
    "": ("loop_time", "delay", "decision_loops", "start_x", "start_y", "start_heading", "seed"),
}  # fmt: skip
# Columns of the C trace.
C_COLUMNS = (
    "time_s", "x_mm", "y_mm", "heading_rad", "raw_output", "reading", "steer", "left_power", "right_power",
    "left_speed_mm_s", "right_speed_mm_s", "progress_mm", "edge_mm", "skidding", "rule", "p_term", "i_term", "d_term",
)  # fmt: skip


def c_values(packed: Packed) -> np.ndarray:
    """The parameters as loop.c takes them; laws and their lists spread out in the order of their records."""
    found: list[float] = []

    def spread(value: Any) -> None:
        if getattr(value, "dtype", None) is not None and value.dtype.names:
            for name in value.dtype.names:
                spread(value[name])
        else:
            found.extend(np.ravel(value).astype(float).tolist())

    for part, names in C_PARAMETERS.items():
        record = packed.parameters[0] if part == "" else packed.parameters[part][0]
        for name in names:
            *within, name = name.split(".")
            of = record[within[0]] if within else record
            # What belongs to the line stands in a record of its own.
            spread((of if name in of.dtype.names else packed.lines.records[0])[name])
    return np.array(found)


def median_s(act: Callable[[], object], times: int) -> float:
    """Median seconds of an act."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def c_lap(packed: Packed, folder: str, exact: bool) -> Callable[[], tuple[float, int, np.ndarray]] | None:
    """The run in C, returning its time, outcome and trace; None without gcc. Not `exact`: driven in small steps."""
    if shutil.which("gcc") is None:
        return None
    library = Path(folder) / "loop.so"
    if not library.exists():
        subprocess.run(["gcc", "-O2", "-shared", "-fPIC", "-o", str(library), str(C_SOURCE), "-lm"], check=True)
    lap = ctypes.CDLL(str(library)).run
    lap.restype = ctypes.c_long
    values = c_values(packed)
    route, most = packed.route, int(packed.parameters["max_rows"][0])
    field, x, y = packed.field, np.ascontiguousarray(route.x_mm), np.ascontiguousarray(route.y_mm)

    def address(array: np.ndarray) -> ctypes.c_void_p:
        return ctypes.c_void_p(array.ctypes.data)

    def act() -> tuple[float, int, np.ndarray]:
        trace, end, outcome = np.empty((len(C_COLUMNS), most)), ctypes.c_double(), ctypes.c_long()
        rows = lap(
            address(values), address(field), ctypes.c_long(field.shape[1]), ctypes.c_long(field.shape[2]),
            address(x), address(y), ctypes.c_long(x.size), address(trace), ctypes.c_long(most),
            ctypes.byref(end), ctypes.byref(outcome), ctypes.c_int(exact),
        )  # fmt: skip
        return end.value, outcome.value, trace[:, :rows]

    return act


def python_lap(seconds: float) -> float:
    """Seconds that the engine's own source takes in the interpreter, for some seconds of driving."""
    done = subprocess.run(
        [sys.executable, "-c", IN_PYTHON.format(seconds=seconds)],
        env=os.environ | {"NUMBA_DISABLE_JIT": "1"}, capture_output=True, text=True, check=True,
    )  # fmt: skip
    return float(done.stdout)


# The very functions that Numba compiles, run by the interpreter; records as it takes them.
IN_PYTHON = """
import time
import numpy as np
from irontrail.core import derive
from irontrail.core.engine import kernel
from irontrail.core.engine.pack import pack
from irontrail.core.engine.run_records import ROW, STATE, SUMMARY
from irontrail.core.demos import demo_project
setup = demo_project("lighthouse").setup
np.seterr(over="ignore")
packed = pack(setup, derive.route(setup.mat, False), derive.field(setup))
packed.parameters["judge"]["time_limit"] = {seconds}
room = [np.zeros(n, kind).view(np.recarray) for n, kind in ((1, STATE), (400, ROW), (1, SUMMARY))]
record = packed.parameters.view(np.recarray)
start = time.perf_counter()
lines = packed.lines
kernel.simulate(record, packed.field, packed.second_field, lines.records.view(np.recarray), *lines.arrays[1:], *room)
print(time.perf_counter() - start)
"""


def solve_ivp_poses(setup: Setup, powers: np.ndarray) -> np.ndarray:
    """SciPy on the open-loop motion: constant powers between two loops, one call a loop, default tolerances."""
    from scipy.integrate import solve_ivp

    drive = setup.robot.drive
    tau, track, per_power = drive.response_time_s, drive.track_width_mm, drive.top_speed_mm_s * drive.battery / 100.0

    def motion(_t: float, state: np.ndarray, left: float, right: float) -> list[float]:
        _x, _y, h, u_left, u_right = state
        v = 0.5 * (u_left + u_right)
        return [
            v * np.cos(h),
            v * np.sin(h),
            (u_right - u_left) / track,
            (left - u_left) / tau,
            (right - u_right) / tau,
        ]

    states = [np.zeros(5)]
    for left, right in powers:
        states.append(solve_ivp(motion, (0.0, 0.01), states[-1], args=(left * per_power, right * per_power)).y[:, -1])
    return np.array(states)[:, :2]


@compiled
def _stepped(parameters, powers, interval, strides, states):
    """The recorded powers driven in the engine's small steps, whatever their length."""
    p, stride, state = parameters[0], strides[0], states[0]
    plant.make_stride(p, stride, interval)
    plant.stand(state, 0.0, 0.0, 0.0)
    for i in range(powers.shape[0]):
        states[i + 1] = states[i]
        left, right = powers[i, 0], powers[i, 1]
        left, right = plant.wheel_target(p, left, p.left_top), plant.wheel_target(p, right, p.right_top)
        plant.slip(p, stride, states[i + 1], left, right)


def stepped_poses(setup: Setup, powers: np.ndarray, step_s: float) -> np.ndarray:
    """Where powers lead in steps of a length, x and y."""
    parameters = pack_plant(setup.robot)
    parameters["max_step"] = step_s
    states = np.zeros(len(powers) + 1, plant.PLANT_STATE)
    _stepped(parameters, powers, 0.01, np.zeros(1, plant.STRIDE), states)
    return np.column_stack((states["x"], states["y"]))


def errors(setup: Setup, packed: Packed) -> None:
    """How far each way of moving is from a 10 us integration of the same commands, over the lap and at worst."""
    lap = run.run(packed)
    powers = np.ascontiguousarray(np.column_stack((lap.trace.left_power, lap.trace.right_power))[:-1])
    careful = stepped_poses(setup, powers, 1e-5)
    exact = run.open_loop(setup.robot, powers, 0.01)
    for name, poses in (
        ("engine, in closed form", np.column_stack((exact["x"], exact["y"]))),
        ("in steps of 1 ms, as C's", stepped_poses(setup, powers, 1e-3)),
        ("SciPy solve_ivp", solve_ivp_poses(setup, powers)),
    ):
        print(f"  {name:26} {np.hypot(*(poses - careful).T).max():.1e} mm from steps of 10 us, at worst")


def one_run(setup: Setup, packed: Packed, folder: str) -> None:
    """A lap with its trace, against the others."""
    lap = run.run(packed)
    engine = median_s(lambda: run.run(packed), 60)
    print(f"one lap with its trace ({lap.time_s:.1f} s of driving, {len(lap.trace)} loops)")
    print(f"  engine                   {1000 * engine:9.2f} ms      1.00")
    in_c, exact = c_lap(packed, folder, exact=False), c_lap(packed, folder, exact=True)
    if in_c is None or exact is None:
        print("  C, gcc -O2               no gcc here")
    else:
        end, _, trace = exact()
        apart = float(np.abs(lap.trace.x_mm - trace[1]).max())
        pairs = [(median_s(lambda: run.run(packed), 8), median_s(in_c, 8)) for _ in range(9)]
        ratio = statistics.median(ours / theirs for ours, theirs in pairs)
        print(f"  C, gcc -O2, in steps     {1000 * engine / ratio:9.2f} ms      {1 / ratio:.2f}")
        print(f"    engine / C = {ratio:.2f}, the median of nine pairs")
        print(f"    C in closed form: {end:.4f} s against {lap.time_s:.4f} s; x apart by at most {apart:.1e} mm")
    seconds = 1.0
    slow = python_lap(seconds) * lap.time_s / seconds
    print(f"  plain Python             {1000 * slow:9.0f} ms      {slow / engine:.0f}")
    powers = np.full((100, 2), (50.0, 48.0))
    scipy = median_s(lambda: solve_ivp_poses(setup, powers), 3) * lap.time_s
    print(f"  SciPy solve_ivp, motion  {1000 * scipy:9.0f} ms      {scipy / engine:.0f}")
    errors(setup, packed)


def many_runs(setup: Setup, packed: Packed) -> None:
    """Sweeps over speed and gain."""
    for count in (1_000, 10_000):
        setups = [
            with_value(with_value(setup, "program.speed", 30.0 + 50.0 * (i % 100) / 100), "trial.seed", i)
            for i in range(count if count <= 1_000 else 1_000)
        ]
        rows = joined([pack(each, packed.route, packed.field).parameters for each in setups])
        many = np.resize(rows, count)
        one_thread, all_cores = [], []
        for _ in range(2 if count > 1_000 else 3):
            one_thread.append(median_s(lambda many=many: sweep.sweep(many, packed, 1), 1))
            all_cores.append(median_s(lambda many=many: sweep.sweep(many, packed), 1))
        single, cores = statistics.median(one_thread), statistics.median(all_cores)
        print(
            f"sweep of {count:6} runs: one thread {single:6.2f} s, {os.cpu_count()} cores {cores:6.2f} s "
            f"(gain {single / cores:.2f}), {1000 * cores / count:.2f} ms a run"
        )


def memory(packed: Packed, count: int = 100_000) -> None:
    """No growth over a long row of short runs."""
    short = np.repeat(packed.parameters, 2_000)
    short["judge"]["time_limit"], short["max_rows"] = 0.2, 25
    sweep.sweep(short, packed)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for _ in range(count // short.size):
        sweep.sweep(short, packed)
    grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
    print(f"memory: peak grew by {grown / 1024:.1f} MiB over {count} runs")


def main() -> int:
    """Measure, print, and exit 0."""
    setup = demo_project("lighthouse").setup
    packed = pack(setup, derive.route(setup.mat, False), derive.field(setup))
    with tempfile.TemporaryDirectory() as folder:
        one_run(setup, packed, folder)
    many_runs(setup, packed)
    memory(packed)
    return 0


if __name__ == "__main__":
    sys.exit(main())
