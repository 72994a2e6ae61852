"""The engine's speed as ratios measured in one run.

One lap of the demo with its trace, against the same loop in plain Python, the same loop in C compiled with -O2 (where
gcc is), and SciPy's solve_ivp on the open-loop motion alone; and sweeps of 1,000 and 10,000 runs on one thread and on
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
from irontrail.core.engine import kernel, run, sweep
from irontrail.core.engine.pack import Packed, pack
from irontrail.core.project import Setup, demo_project
from irontrail.core.quantity import with_value

C_SOURCE = Path(__file__).parent / "loop.c"
# In the order of loop.c's enum.
C_PARAMETERS = (
    "track_width", "left_top", "right_top", "response_time", "dead_band", "grip", "power_step", "ahead", "aside",
    "lamp_share", "room_share", "dark_level", "noise", "raw_step", "dark", "bright", "mm_per_px", "mat_width",
    "mat_height", "light_turn", "target", "speed", "gain", "loop_time", "delay", "max_step", "route_step",
    "half_tape", "edge_sign", "finish", "start_x", "start_y", "start_heading", "start_s", "time_limit",
    "lost_distance", "stuck_time", "closed", "seed",
)  # fmt: skip
# Columns of the C trace, by their rows in the kernel's.
C_COLUMNS = (
    kernel.TIME, kernel.X, kernel.Y, kernel.HEADING, kernel.READING, kernel.STEER, kernel.LEFT, kernel.RIGHT,
    kernel.LEFT_SPEED, kernel.RIGHT_SPEED, kernel.PROGRESS, kernel.EDGE,
)  # fmt: skip


def median_s(act: Callable[[], object], times: int) -> float:
    """Median seconds of an act."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def c_lap(packed: Packed, folder: str) -> Callable[[], tuple[float, np.ndarray]] | None:
    """The lap in C, returning its time and trace; None without gcc."""
    if shutil.which("gcc") is None:
        return None
    library = str(Path(folder) / "loop.so")
    subprocess.run(["gcc", "-O2", "-shared", "-fPIC", "-o", library, str(C_SOURCE), "-lm"], check=True)
    lap = ctypes.CDLL(library).run
    lap.restype = ctypes.c_long
    values = np.array([float(packed.parameters[name][0]) for name in C_PARAMETERS])
    route, most = packed.route, int(packed.parameters["max_rows"][0])
    field, x, y = packed.field, np.ascontiguousarray(route.x_mm), np.ascontiguousarray(route.y_mm)

    def address(array: np.ndarray) -> ctypes.c_void_p:
        return ctypes.c_void_p(array.ctypes.data)

    def act() -> tuple[float, np.ndarray]:
        trace, end, outcome = np.empty((len(C_COLUMNS), most)), ctypes.c_double(), ctypes.c_long()
        rows = lap(
            address(values), address(field), ctypes.c_long(field.shape[1]), ctypes.c_long(field.shape[2]),
            address(x), address(y), ctypes.c_long(x.size), address(trace), ctypes.c_long(most),
            ctypes.byref(end), ctypes.byref(outcome),
        )  # fmt: skip
        return end.value, trace[:, :rows]

    return act


def python_lap(packed: Packed, seconds: float) -> Callable[[], None]:
    """The kernel's own source run by the interpreter, for some seconds of driving."""
    import importlib

    from irontrail.core.engine import laws, motion, place, sensing

    parameters = packed.parameters.copy()
    parameters["time_limit"] = seconds
    plain: dict[str, Any] = {}
    for module in (sensing, laws, place, motion, kernel):
        spec = importlib.util.find_spec(module.__name__)
        source = Path(str(spec.origin)).read_text()  # type: ignore[union-attr]
        lines = [line for line in source.splitlines() if not line.startswith(("@njit", "from numba"))]
        text = "\n".join(lines)
        # The names that one file takes from another are already here.
        while "from irontrail" in text:
            start = text.index("from irontrail")
            end = (
                text.index(")", start) + 1 if "(" in text[start : text.index("\n", start)] else text.index("\n", start)
            )
            text = text[:start] + text[end:]
        exec(compile(text, module.__name__, "exec"), plain)
    route = packed.route
    trace = np.empty((kernel.TRACE_ROWS, int(seconds / 0.01) + 3))
    record = parameters.view(np.recarray)

    def act() -> None:
        with np.errstate(over="ignore"):
            plain["simulate"](
                record, packed.field, route.x_mm, route.y_mm, route.heading, trace, np.empty(kernel.SUMMARY_SIZE)
            )

    return act


def solve_ivp_lap(setup: Setup, seconds: float) -> Callable[[], None]:
    """SciPy on the open-loop motion: constant powers between two loops, one call a loop, default tolerances."""
    from scipy.integrate import solve_ivp

    drive = setup.robot.drive
    tau, track = drive.response_time_s, drive.track_width_mm

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

    def act() -> None:
        state = np.zeros(5)
        for _ in range(int(seconds / 0.01)):
            state = solve_ivp(motion, (0.0, 0.01), state, args=(240.0, 230.0)).y[:, -1]

    return act


def one_run(setup: Setup, packed: Packed, folder: str) -> None:
    """A lap with its trace, against the others."""
    lap = run.run(packed)
    engine = median_s(lambda: run.run(packed), 60)
    print(f"one lap with its trace ({lap.time_s:.1f} s of driving, {len(lap.trace)} loops)")
    print(f"  engine                   {1000 * engine:9.2f} ms      1.00")
    in_c = c_lap(packed, folder)
    if in_c is None:
        print("  C, gcc -O2               no gcc here")
    else:
        end, trace = in_c()
        engine_x, c_x = lap.trace.x_mm, trace[1]
        apart = float(np.abs(engine_x[:1000] - c_x[:1000]).max())
        pairs = [(median_s(lambda: run.run(packed), 8), median_s(in_c, 8)) for _ in range(9)]
        ratio = statistics.median(ours / theirs for ours, theirs in pairs)
        print(f"  C, gcc -O2               {1000 * engine / ratio:9.2f} ms      {1 / ratio:.2f}")
        print(f"    engine / C = {ratio:.2f}, the median of nine pairs")
        print(f"    same lap: {end:.4f} s against {lap.time_s:.4f} s; x apart by at most {apart:.1e} mm in 10 s")
    seconds = 1.0
    plain = python_lap(packed, seconds)
    slow = median_s(plain, 3) * lap.time_s / seconds
    print(f"  plain Python             {1000 * slow:9.0f} ms      {slow / engine:.0f}")
    scipy = median_s(solve_ivp_lap(setup, seconds), 3) * lap.time_s / seconds
    print(f"  SciPy solve_ivp, motion  {1000 * scipy:9.0f} ms      {scipy / engine:.0f}")


def many_runs(setup: Setup, packed: Packed) -> None:
    """Sweeps over speed and gain."""
    for count in (1_000, 10_000):
        setups = [
            with_value(with_value(setup, "program.speed", 30.0 + 50.0 * (i % 100) / 100), "trial.seed", i)
            for i in range(count if count <= 1_000 else 1_000)
        ]
        rows = np.concatenate([pack(each, packed.route, packed.field).parameters for each in setups])
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
    short["time_limit"], short["max_rows"] = 0.2, 25
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
