"""Which real run to drive next: what knowing its outcome is worth, over many robots like the team's."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.pit.remedies import Times, both_times, gain_times, speed_times, to_do
from irontrail.core.quantity import put_each, value_at
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.tune.tries import Trying

Floats = NDArray[np.float64]

# What is not known of the real robot, and stays the same from run to run: (path, least, most), as factors.
UNKNOWN = (
    ("robot.drive.response_time_s", 0.7, 1.4),
    ("program.delay_s", 0.5, 2.0),
    ("robot.drive.top_speed_mm_s", 0.9, 1.1),
    ("robot.drive.grip", 0.7, 1.1),
)
UNLIKE_PERCENT = 4.0
ROBOTS = 300
# A run that fails is worth as much as one that takes so many times as long.
FAILED_TIMES = 2.0
# A run that tells less than this (s) is not worth one's while; nor one whose worth is not sure.
WORTH_S = 0.05


@dataclass(frozen=True)
class NextRun:
    """A real run that might be driven next: what to change, what is foretold, and what knowing its outcome is worth.

    `worth_s` is by how many seconds the run that counts is faster on average if this one has been driven first and what
    it showed is acted on, with its standard error; `says` what to do once it is known. `loss_s` is what the run that
    counts takes on average with this, one that fails counted as FAILED_TIMES as long.
    """

    do: str
    setup: Setup
    finish_share: float
    time_s: float
    loss_s: float
    worth_s: float
    error_s: float
    says: str


CHANGES: tuple[tuple[Times, float], ...] = (
    (speed_times, 1.1),
    (speed_times, 1.25),
    (both_times, 1.15),
    (gain_times, 0.75),
    (gain_times, 1.3),
)


def next_runs(setup: Setup, trying: Trying) -> tuple[tuple[NextRun, ...], float]:
    """Five real runs that might come next, the one that tells most first; and what the numbers as they are take (s).

    Many robots are drawn, each as the model's may really be. Every setting is run twice on each: once as the run that
    tells, once as the run that counts. What to do after a run that fails, is slower or faster than most is chosen on
    one half of the robots and judged on the other, and the other way round.
    """
    settings = list(dict.fromkeys([setup, *(change(setup, times) for change, times in CHANGES)]))
    robots = np.random.default_rng([setup.trial.seed, 515])
    drawn = [_robot(robots) for _ in range(ROBOTS)]
    on_robots = [[_as_robot(each, robot) for robot in drawn] for each in settings]
    # Each from a start of its own.
    told = [[perturbed(robot, 2 * i + 1) for i, robot in enumerate(row)] for row in on_robots]
    counts = [[perturbed(robot, 2 * i + 2) for i, robot in enumerate(row)] for row in on_robots]
    tells, scored = (
        np.array([[tried.times_s[0] for tried in trying(row, starts=1)] for row in rows]) for rows in (told, counts)
    )
    known = scored[0][np.isfinite(scored[0])]
    failed = FAILED_TIMES * (float(np.median(known)) if known.size else float(setup.trial.time_limit_s))
    loss = np.where(np.isfinite(scored), scored, failed)
    best, found = int(loss.mean(axis=1).argmin()), []
    for i in range(1, len(settings)):
        seen = _seen(tells[i])
        saved, rule = _worth(loss, seen, list(dict.fromkeys((0, i, best))))
        finished = tells[i][np.isfinite(tells[i])]
        found.append(
            NextRun(
                do=to_do(setup, settings[i]),
                setup=settings[i],
                finish_share=finished.size / ROBOTS,
                time_s=float(np.median(finished)) if finished.size else float("nan"),
                loss_s=float(loss[i].mean()),
                worth_s=float(saved.mean()),
                error_s=float(saved.std(ddof=1) / np.sqrt(saved.size)),
                says=_rule_words(rule, i, setup, settings),
            )
        )
    found.sort(key=lambda run: (not worth_driving(run), -run.worth_s if worth_driving(run) else run.loss_s))
    return tuple(found), float(loss[0].mean())


def worth_driving(run: NextRun) -> bool:
    """Whether what a run tells is worth something for sure."""
    return run.worth_s > max(WORTH_S, 2.0 * run.error_s)


def next_in_words(runs: Sequence[NextRun], now_s: float) -> tuple[str, str]:
    """What to change for the next real run, and why; `now_s` is what the run that counts takes with today's numbers."""
    first = runs[0]
    if worth_driving(first):
        return first.do, (
            f"Knowing how that goes is worth {first.worth_s:.1f} s in the run that counts: it finishes on "
            f"{100 * first.finish_share:.0f} of 100 robots like yours. {first.says}"
        )
    if first.loss_s < now_s:
        return first.do, (
            f"It is {now_s - first.loss_s:.1f} s better on average over robots like yours, and finishes on "
            f"{100 * first.finish_share:.0f} of 100: drive it once to be sure."
        )
    return "The numbers you have.", (
        "None of five changes is better on average over robots like yours, and no single run of "
        "them tells enough to change that. Each more time shows better how much your runs differ."
    )


def _robot(random: np.random.Generator) -> dict[str, float]:
    """What a real robot is, drawn: factors by path, and how unlike its wheels are."""
    made = {path: float(np.exp(random.uniform(np.log(low), np.log(high)))) for path, low, high in UNKNOWN}
    return made | {"robot.drive.mismatch_percent": float(random.uniform(-UNLIKE_PERCENT, UNLIKE_PERCENT))}


def _as_robot(setup: Setup, robot: dict[str, float]) -> Setup:
    """A setup on a drawn robot."""
    now = {path: float(value_at(setup, path)) for path in robot}
    return put_each(
        setup, {path: now[path] + by if path.endswith("_percent") else now[path] * by for path, by in robot.items()}
    )


# What is seen of a run: it failed, it was slower than most, it was faster.
FAILED, SLOWER, QUICKER = range(3)


def _seen(times: Floats) -> NDArray[np.int64]:
    finished = np.isfinite(times)
    middle = float(np.median(times[finished])) if finished.any() else 0.0
    return np.where(~finished, FAILED, np.where(np.nan_to_num(times) > middle, SLOWER, QUICKER))


def _worth(loss: Floats, seen: NDArray[np.int64], among: list[int]) -> tuple[Floats, dict[int, int]]:
    """What acting on what was seen saves for each robot, by rules that other robots chose; and the rule from all.

    A rule chooses among some of the settings.
    """
    half = np.arange(seen.size) % 2
    saved = np.zeros(seen.size)
    for side in (0, 1):
        chose, judged = half != side, half == side
        rule = _rule(loss[:, chose], seen[chose], among)
        always = _least(loss[:, chose], among)
        picked = np.array([rule[int(each)] for each in seen[judged]])
        saved[judged] = loss[always, judged] - loss[picked, np.flatnonzero(judged)]
    return saved, _rule(loss, seen, among)


def _least(loss: Floats, among: list[int]) -> int:
    return among[int(loss[among].mean(axis=1).argmin())]


def _rule(loss: Floats, seen: NDArray[np.int64], among: list[int]) -> dict[int, int]:
    """What to drive after each that may be seen: the setting that is best on the robots that showed it."""
    always = _least(loss, among)
    return {
        what: _least(loss[:, seen == what], among) if (seen == what).sum() >= 5 else always
        for what in (FAILED, SLOWER, QUICKER)
    }


def _rule_words(rule: dict[int, int], i: int, setup: Setup, settings: Sequence[Setup]) -> str:
    def do(which: int) -> str:
        if which == 0:
            return "go back to the numbers you have"
        if which == i:
            return "take it"
        words = to_do(setup, settings[which]).rstrip(".")
        return f"try {words[0].lower()}{words[1:]}"

    if rule[FAILED] == rule[SLOWER] == rule[QUICKER]:
        return f"Whatever it shows, {do(rule[FAILED])}."
    if rule[SLOWER] == rule[QUICKER]:
        return f"If it fails, {do(rule[FAILED])}; else {do(rule[QUICKER])}."
    if rule[FAILED] == rule[SLOWER]:
        return f"If it is quick, {do(rule[QUICKER])}; if not, {do(rule[FAILED])}."
    return f"If it fails, {do(rule[FAILED])}; if slow, {do(rule[SLOWER])}; if quick, {do(rule[QUICKER])}."
