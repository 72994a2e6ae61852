"""Does what Compare and Tune say hold: against starts that chose nothing, and a search ten times as long.

    .venv/bin/python -m bench.tuning [--only search|chance|map|event|calm] [--setup NAME]

`search`: six setups on five mats, each by ten seeds, which together are a search ten times as long; all over 400
fresh starts; --setup picks some. `chance`: 200 pairs of settings that are alike, and 200 that are 3 % apart. `map` and
`event`: what is told against 500 fresh runs. `calm`: how long calling off takes, and whether a seed repeats.
"""

import argparse
import time
from dataclasses import replace

import numpy as np

from irontrail.core.demos import demo_project
from irontrail.core.project import Project
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import axis, to_tune
from irontrail.core.tune.chance import STARTS, Comparison
from irontrail.core.tune.event import Event
from irontrail.core.tune.grid import GridSpec, best_cell, explore
from irontrail.core.tune.robustness import robustness_of
from irontrail.core.tune.search import search
from irontrail.core.tune.search_spec import SearchSpec
from irontrail.core.tune.tries import Tried, Trying

FRESH_SET, LONG = 63, 10


def setups() -> dict[str, Setup]:
    """Six setups on five mats, and four laws."""
    light, quarry = demo_project("lighthouse").setup, demo_project("quarry").setup
    return {
        "lighthouse, proportional": light,
        "lighthouse, PID": with_value(light, "program.law", "PID"),
        "quarry, on-off": with_value(quarry, "program.law", "on-off"),
        "tannery, proportional": demo_project("tannery").setup,
        "orchard, bands": with_value(demo_project("orchard").setup, "program.law", "bands"),
        "ferry, proportional": demo_project("ferry").setup,
    }


def spec_of(setup: Setup, seed: int = 1) -> SearchSpec:
    """The search of a setup's own numbers."""
    return SearchSpec(setup, tuple(axis(setup, path) for path in to_tune(setup)), seed=seed)


def of_search(names: tuple[str, ...] = ()) -> None:
    """Print for each setup what was told, what fresh starts say, and the best of a search ten times as long."""
    print(f"{'setup':26} seed  time, s   told %  fresh %   took, s    runs")
    for name, setup in setups().items():
        if names and name not in names:
            continue
        times = []
        for seed in range(1, LONG + 1):
            spec = spec_of(setup, seed)
            begun = time.perf_counter()
            found = search(spec)
            took = time.perf_counter() - begun
            assert found is not None and found.best is not None
            fresh = Trying().one(spec.setup_of(found.best.values), FRESH_SET, 400)
            times.append(float(np.nanmean(fresh.times_s)) if found.keeps else np.inf)
            print(
                f"{name:26} {seed:4} {times[-1]:8.3f} {100 * found.best.finished:8.1f} {fresh.good / 4:8.1f} "
                f"{took:9.1f} {found.runs:7}",
                flush=True,
            )
        print(
            f"{name:26} best of {LONG}: {min(times):.3f}; the first {100 * (times[0] / min(times) - 1.0):.1f} % above"
        )


def of_chance() -> None:
    """Print how often settings that are alike are called better or worse, and how often 3 % are found."""
    setup = demo_project("lighthouse").setup
    quick = with_value(setup, "program.speed", setup.program.speed * 1.03)
    for name, one, other, fresh in (("alike, on starts of their own", setup, setup, 5), ("3 % apart", setup, quick, 0)):
        count = 200 * STARTS
        first, second = Trying().one(one, 0, count), Trying().one(other, fresh, count)
        said = []
        for k in range(200):
            part = slice(k * STARTS, (k + 1) * STARTS)
            pair = (Tried(each.setup, each.times_s[part], each.swings_mm[part]) for each in (first, second))
            said.append(Comparison(*pair).verdict)
        told = {word: said.count(word) for word in dict.fromkeys(said)}
        print(f"200 pairs of settings {name}: {told}")


def of_map() -> None:
    """Print what the best cell of a map is told to do, and does, on four mats."""
    for name in ("lighthouse", "quarry", "tannery", "ferry"):
        setup = demo_project(name).setup
        spec = GridSpec(setup, axis(setup, "program.speed"), axis(setup, "program.proportional.gain"), 20, 5)
        made = explore(spec)
        assert made is not None
        best = best_cell(made, "time_s")
        if best is None:
            print(f"map of {name}: no cell holds with all beside it")
            continue
        fresh = Trying().one(spec.setup_at(*best.cell), FRESH_SET, 500)
        print(
            f"map of {name}: told {best.value:.2f} s, {100 * best.good / best.starts:.1f} %; "
            f"500 fresh runs {np.nanmean(fresh.times_s):.2f} s, {fresh.good / 5:.1f} %"
        )


def of_event() -> None:
    """Print what is told of the event, with its interval, and what 500 fresh runs there say."""
    for name in ("lighthouse", "quarry", "tannery", "ropewalk"):
        project: Project = demo_project(name)
        for calibrated in (True, False):
            event = Event.of(project, calibrated)
            begun = time.perf_counter()
            holds = robustness_of(project.setup, event)
            took = time.perf_counter() - begun
            assert holds is not None
            share, low, high = holds.places[1 + calibrated].share
            fresh = Trying().one(event.there(project.setup), FRESH_SET, 500)
            print(
                f"event of {name}, {'calibrated' if calibrated else 'as set'}: told {100 * share:.0f} % "
                f"({100 * low:.0f} to {100 * high:.0f}); 500 fresh runs {fresh.good / 5:.1f} %; took {took:.1f} s"
            )


def of_calm() -> None:
    """Print how long calling off takes, and whether a search repeats."""
    spec = spec_of(demo_project("lighthouse").setup)
    short = replace(spec, generations=6, rounds=2)
    one, two = search(short, threads=1), search(short, threads=2)
    assert one is not None and two is not None
    print(f"a search finds the same on one thread and on two: {one.best == two.best and one.course == two.course}")
    event = Event.of(demo_project("lighthouse"))
    for name, work in (
        ("a search", lambda go: search(spec, lambda _found, _done: go())),
        ("the event", lambda go: robustness_of(spec.setup, event, lambda _holds, _done: go())),
    ):
        waits = []
        for after in (0.4, 1.1, 2.3):
            begun = time.perf_counter()
            work(lambda begun=begun, after=after: time.perf_counter() - begun < after)
            waits.append(time.perf_counter() - begun - after)
        print(f"{name} called off within {1000 * max(waits):.0f} ms")


BENCHES = {"chance": of_chance, "map": of_map, "event": of_event, "calm": of_calm}


def main() -> int:
    """Print all of them, or one."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--only", choices=(*BENCHES, "search"))
    parser.add_argument("--setup", action="append", default=[], choices=tuple(setups()), help="of search, only these")
    options = parser.parse_args()
    if options.only in (None, "search"):
        of_search(tuple(options.setup))
    for name, bench in BENCHES.items():
        if options.only in (None, name):
            bench()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
