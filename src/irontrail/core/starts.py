"""The starts that a setup is tried from: each set down, lit, charged and worn a little otherwise, as a team's are."""

from dataclasses import replace
from functools import lru_cache

import numpy as np

from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import Part, moved, quantities
from irontrail.core.robot.mount import Mount
from irontrail.core.setup import Setup

# Worn mats are remembered, so that setups that share a mat share a worn one too.
WORN = 512


def perturbed(setup: Setup, number: int) -> Setup:
    """A setup as another try would find it, by its trial's shaking; the same for the same seed and number.

    Numbers begin at 1. Setups with the same seed and shaking are perturbed alike by the same number.
    """
    shaking, trial, drive = setup.trial.shaken, setup.trial, setup.robot.drive
    off, angle, along, light, battery, seed, unlike, height, wear, wear_seed = _drawn(trial.seed, number)

    def by(part: Part, name: str, change: float) -> float:
        now: float = getattr(part, name)
        return quantities(type(part))[name].clamped(now + change) if change else now

    made = moved(
        setup,
        trial=moved(
            trial,
            start_off_mm=by(trial, "start_off_mm", shaking.off_mm * off),
            start_angle_deg=by(trial, "start_angle_deg", shaking.angle_deg * angle),
            start_mm=by(trial, "start_mm", shaking.along_mm * along),
            seed=seed,
        ),
        light=moved(setup.light, room_light=by(setup.light, "room_light", shaking.light * light)),
        robot=moved(
            setup.robot,
            drive=moved(
                drive,
                battery=by(drive, "battery", shaking.battery * battery),
                mismatch_percent=by(drive, "mismatch_percent", shaking.unlike_percent * unlike),
            ),
        ),
    )
    if shaking.height_mm > 0.0:
        made = raised(made, shaking.height_mm * height)
    if shaking.wear_mm > 0.0:
        made = replace(made, mat=worn(made.mat, shaking.wear_mm * wear, wear_seed))
    return made


# The same starts are asked for by every setup that a search tries.
@lru_cache(maxsize=4096)
def _drawn(seed: int, number: int) -> tuple[float, float, float, float, float, int, float, float, float, int]:
    """What one start draws: shares of the shaking, -1..1 each, that of wear 0..1, and two seeds."""
    random = np.random.default_rng([seed, number])
    off, angle, along, light, battery = random.uniform(-1.0, 1.0, 5).tolist()
    of_run = int(random.integers(2**31 - 1))
    unlike, height = random.uniform(-1.0, 1.0, 2).tolist()
    return off, angle, along, light, battery, of_run, unlike, height, random.uniform(), int(random.integers(2**31 - 1))


def raised(setup: Setup, by_mm: float) -> Setup:
    """A setup whose robot's front hangs higher, with all sensors that are on it."""

    def higher(mount: Mount) -> Mount:
        return replace(mount, height_mm=quantities(type(mount))["height_mm"].clamped(mount.height_mm + by_mm))

    made = replace(setup, robot=replace(setup.robot, mount=higher(setup.robot.mount)))
    return made if made.second is None else replace(made, second=replace(made.second, mount=higher(made.second.mount)))


@lru_cache(maxsize=WORN)
def worn(mat: Mat, by_mm: float, seed: int) -> Mat:
    """A mat whose lines' edges have become so much wavier, by a pattern of their own."""
    most = quantities(type(mat.line))["unevenness_mm"].high
    lines = tuple(
        replace(line, unevenness_mm=min(line.unevenness_mm + by_mm, most), unevenness_seed=(seed + i) % (2**31 - 1))
        for i, line in enumerate(mat.lines)
    )
    return replace(mat, line=lines[0], other_lines=lines[1:])
