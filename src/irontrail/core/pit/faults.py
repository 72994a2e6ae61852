"""What to do if: a fault put on the robot as it is modelled, until it shows, and what mends that.

A fault is put on harder and harder; a remedy is changed further and further, and then tried on starts that did not
choose it. A fault that never shows, and one that nothing mends, has no advice.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from irontrail.core.causes.ended import where_most_end
from irontrail.core.pit.remedies import Remedy, both_times, gain_times, mended, speed_times, to_do
from irontrail.core.quantity import put, quantity_at
from irontrail.core.setup import Setup
from irontrail.core.tune.tries import Tried, Trying

# A robot rocks if it swings so many times as much as it should, and at least by so much more.
ROCKS, ROCKS_MM = 1.5, 1.0
# It is calm again if no more than this share is left of what it swung more than it should.
CALM = 0.4
LATER_S = (0.01, 0.02, 0.03, 0.04, 0.06, 0.08, 0.1, 0.13)
FASTER = (1.1, 1.2, 1.3, 1.4, 1.5, 1.65, 1.8, 2.0)
# Of the starts with a fault so many fail where it is told what to do about it.
FAILS = 0.25
LESS = (0.9, 0.8, 0.7, 0.6, 0.5, 0.4)
LOW_BATTERY = 0.8


@dataclass(frozen=True)
class Advice:
    """What to do if: what is seen, what to change, how it was tried, and the setup with the change."""

    when: str
    do: str
    tried: str
    setup: Setup


def _rocks(base: Tried, trying: Trying) -> Advice | None:
    """Its answer comes later than modelled until it rocks; a smaller gain, or else less speed, calms it."""

    def rocks(tried: Tried) -> bool:
        return not tried.holds or tried.swing_mm > max(ROCKS * base.swing_mm, base.swing_mm + ROCKS_MM)

    def calm(again: Tried) -> bool:
        much = tried.swing_mm if tried.good else ROCKS * base.swing_mm + ROCKS_MM
        return again.holds and again.swing_mm <= base.swing_mm + CALM * max(much - base.swing_mm, 0.0)

    setup = base.setup
    for by in LATER_S:
        worse = put(setup, "program.delay_s", setup.program.delay_s + by)
        tried = trying.one(worse)
        if rocks(tried):
            break
    else:
        return None
    for change in (gain_times, speed_times, both_times):
        remedy = mended(worse, change, LESS, calm, trying)
        if remedy is not None:
            swung = f" and swung {tried.swing_mm:.1f} mm" if tried.good else ""
            says = (
                f"Made to answer {1000 * by:.0f} ms later, {tried.of_starts} starts came through{swung}; "
                f"with this {remedy.tried.of_starts} fresh ones, swinging {remedy.tried.swing_mm:.1f}."
            )
            return _advice("It rocks", base, remedy, says)
    return None


def _leaves(base: Tried, trying: Trying) -> Advice | None:
    """Its wheels turn faster than modelled until it is thrown off; where most are, and the speed that keeps it on."""
    setup, path = base.setup, "robot.drive.top_speed_mm_s"
    for times in FASTER:
        worse = put(setup, path, setup.robot.drive.top_speed_mm_s * times)
        tried = trying.one(worse)
        if tried.good <= (1.0 - FAILS) * tried.starts:
            break
    else:
        return None
    where, count = where_most_end(worse, [i for i, time in enumerate(tried.times_s, 1) if not np.isfinite(time)])
    remedy = mended(worse, speed_times, LESS, lambda each: each.holds, trying)
    if remedy is None:
        return None
    plain = trying.one(remedy.made_of(setup), fresh=9)
    if not plain.holds:
        return None
    says = (
        f"Made {100 * (times - 1):.0f} % faster, {tried.starts - tried.good} of {tried.starts} starts failed, "
        f"{count} of them there; with this {remedy.tried.of_starts} fresh ones came through. As modelled it then takes "
        f"{plain.time_s:.1f} s, not {base.time_s:.1f}."
    )
    return _advice(f"It leaves the line at {where}", base, remedy, says)


def _battery_low(base: Tried, trying: Trying) -> Advice | None:
    """What a battery a fifth down does, and what to do about it: nothing, another speed, or another battery."""
    setup, path = base.setup, "robot.drive.battery"
    now, ranges = setup.robot.drive.battery, quantity_at(base.setup, "robot.drive.battery")
    low = now * LOW_BATTERY
    if low < ranges.low:
        return None
    tried = trying.one(put(setup, path, low))
    when = "The battery is low"
    if not tried.holds:
        says = f"At {ranges.shown(low)} % only {tried.of_starts} starts came through."
        return Advice(when, "Change the battery; leave the numbers.", says, setup)
    says = f"At {ranges.shown(low)} % {tried.of_starts} starts came through, in {tried.time_s:.1f} s."
    faster = mended(tried.setup, speed_times, (1.0 / LOW_BATTERY,), lambda each: each.holds, trying)
    if faster is None or not faster.tried.time_s < tried.time_s:
        return Advice(when, "Leave the numbers: it is only slower.", says, setup)
    quicker, charged = faster.tried, trying.one(faster.made_of(setup), fresh=8)
    says += f" With this {quicker.of_starts} fresh ones, in {quicker.time_s:.1f} s (full: {base.time_s:.1f})."
    if not charged.holds:
        says += f" Charged again only {charged.of_starts} would: then set it back."
    return _advice(when, base, faster, says)


def _advice(when: str, base: Tried, remedy: Remedy, says: str) -> Advice:
    made = remedy.made_of(base.setup)
    return Advice(when, to_do(base.setup, made), says, made)


# In the order that they stand on the card.
FAULTS: tuple[Callable[[Tried, Trying], Advice | None], ...] = (_rocks, _leaves, _battery_low)
