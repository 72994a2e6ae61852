"""What suppositions look at: a setup, and what of it is unusual, in figures that do not depend on its size."""

from dataclasses import dataclass
from functools import cached_property
from math import log2

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.light.sensor import Calibration
from irontrail.core.mat.route import stroke_route
from irontrail.core.quantity import put, value_at
from irontrail.core.result import Run, point_way
from irontrail.core.setup import Setup
from irontrail.core.steering.side import edge_sign
from irontrail.core.theory.linear import LinearLoop, linear_loop
from irontrail.core.theory.sampled import ultimate_gain
from irontrail.core.tune.axes import Axis, axis, of_law

# What is usual, where a setup has no other measure: of the sensor's place as a share of the track.
USUAL_AHEAD, NEAR_SHARE, FAR_SHARE = 0.65, 0.38, 0.9
# What is still usual, and what it is as a rule: beyond the first something else is to be said first.
USUAL: dict[str, tuple[float, float]] = {
    "program.decision_loops": (1, 1),
    "program.loop_time_s": (0.02, 0.01),
    "program.delay_s": (0.03, 0.015),
    "light.sensor.lag_s": (0.02, 0.003),
    "robot.drive.response_time_s": (0.1, 0.06),
    "robot.mount.height_mm": (11.0, 8.0),
}
MOST_UNUSUAL = 4.0
# So near to another line, in the last so many seconds, a run has to do with it; so long along it, it followed it.
NEAR_MM, NEAR_ENDING_S, ALONG_S = 60.0, 1.5, 0.3

Floats = NDArray[np.float64]


def doublings(value: float, usual: float) -> float:
    """How many times a value has doubled beyond what is usual; 0 below that.

    >>> doublings(4.0, 1.0), doublings(0.5, 1.0)
    (2.0, 0.0)
    """
    if value <= usual:
        return 0.0
    return min(log2(value / usual), MOST_UNUSUAL) if usual > 0.0 else MOST_UNUSUAL


@dataclass(frozen=True, eq=False)
class Look:
    """A setup in trouble, with the run that is in sight."""

    setup: Setup

    @cached_property
    def run(self) -> Run:
        """The run in sight."""
        return derive.run(self.setup)

    @property
    def period_s(self) -> float:
        """From one decision to the next."""
        return self.setup.program.decision_time_s

    @cached_property
    def speed(self) -> Axis:
        """How fast it drives."""
        return axis(self.setup, of_law(self.setup.program.chosen.name)[0])

    @cached_property
    def steer(self) -> Axis:
        """How hard it steers."""
        return axis(self.setup, of_law(self.setup.program.chosen.name)[1])

    @property
    def speed_mm_s(self) -> float:
        """Of both wheels when it goes straight on."""
        drive = self.setup.robot.drive
        return 0.01 * self.speed.of(self.setup) * drive.top_speed_mm_s * drive.battery

    @cached_property
    def late_s(self) -> float:
        """How late it answers: half a decision, the delay, the sensor's lag and the motors'."""
        setup = self.setup
        lag = setup.light.sensor.lag_s + setup.robot.drive.response_time_s
        return 0.5 * self.period_s + setup.program.delay_s + lag

    @property
    def blind_mm(self) -> float:
        """How far it drives before its answer to a reading takes hold."""
        return self.late_s * self.speed_mm_s

    @property
    def seen_mm(self) -> float:
        """How far on either side of its edge the reading tells the distance."""
        return 2.0 * spot_sigma_mm(self.setup.light.sensor, self.setup.robot.mount.height_mm)

    @cached_property
    def raw(self) -> Calibration | None:
        """What the sensor reads on line and mat here, raw; None where they read alike."""
        try:
            return calibrate_on(self.setup.mat, self.setup.light, self.setup.robot.mount.height_mm)
        except IronTrailError:
            return None

    @property
    def contrast(self) -> float:
        """How far apart line and mat read, raw; 0 where they read alike."""
        return abs(self.raw.bright - self.raw.dark) if self.raw is not None else 0.0

    @cached_property
    def across(self) -> tuple[float, float]:
        """The least and the greatest reading across its edge."""
        profile = derive.profile(self.setup)
        near = profile.edge_mm >= -0.5 * self.setup.mat.followed.width_mm
        return float(profile.reading[near].min()), float(profile.reading[near].max())

    @cached_property
    def target_share(self) -> float | None:
        """Where between the least and the greatest reading the target lies, 0..1 if inside; None of no target."""
        program = self.setup.program
        if not program.chosen.uses_target or program.arrangement != "one" or self.setup.light.sensor.names_colours:
            return None
        low, high = self.across
        return (program.target - low) / (high - low) if high - low > 1.0 else None

    @cached_property
    def plain(self) -> "Look":
        """The same robot as late, as high and with its sensor as far before it as is usual, where it is more so.

        Whether a speed or a gain is unusual is told by this one: else a slow loop would make any gain too high.
        """
        setup = self.setup
        for path, (most, as_a_rule) in USUAL.items():
            if value_at(setup, path) > most:
                setup = put(setup, path, as_a_rule)
        track, ahead = setup.robot.drive.track_width_mm, setup.robot.mount.ahead_mm
        if not NEAR_SHARE <= ahead / track <= FAR_SHARE:
            setup = put(setup, "robot.mount.ahead_mm", USUAL_AHEAD * track)
        setup = put(setup, "robot.drive.battery", max(setup.robot.drive.battery, 0.9))
        return Look(setup) if setup != self.setup else self

    @cached_property
    def line_is(self) -> str:
        """Whether what it reads on its line is darker or lighter than what it reads off it."""
        profile = derive.profile(self.setup)
        well = min(8.0, 0.45 * self.setup.mat.followed.width_mm)
        off, on = (float(np.interp(at, profile.edge_mm, profile.reading)) for at in (well, -well))
        return "dark" if on < off else "light"

    @cached_property
    def to_other_lines_mm(self) -> Floats:
        """How far its sensor is from the middle of the nearest line that is not its own, in each row of its run."""
        from scipy.spatial import cKDTree

        mat, (x, y) = self.setup.mat, point_way(self.run.trace, self.setup.reference)
        away = np.full(x.size, np.inf)
        for i, stroke in enumerate(mat.lines):
            if i != mat.goal:
                route = stroke_route(stroke, mat.name)
                there = np.column_stack((route.x_mm, route.y_mm))
                away = np.minimum(away, cKDTree(there).query(np.column_stack((x, y)))[0])
        return away

    def _rows(self, seconds: float) -> int:
        """So many rows of its run last that long, at least one."""
        return max(1, round(seconds / self.setup.program.loop_time_s))

    @property
    def ends_near_another_line(self) -> bool:
        """It left its line, and on the last bit of its way was near another one; or it finished, as others may not."""
        if self.run.outcome == "finished":
            return True
        last = self._rows(NEAR_ENDING_S)
        return float(self.to_other_lines_mm[-last:].min()) < NEAR_MM

    @property
    def took_another_line(self) -> bool:
        """It left its line along another one."""
        off = max(self.setup.off_middle_mm, 0.5 * self.setup.mat.followed.width_mm) + self.seen_mm
        last = self._rows(ALONG_S)
        own = np.abs(self.run.trace.edge_mm[-last:])
        return (
            self.run.outcome != "finished"
            and float(np.median(self.to_other_lines_mm[-last:])) < off
            and float(own[-1]) > self.seen_mm
        )

    @cached_property
    def gain_share(self) -> float | None:
        """Its gain as a share of the one at which it rocks; None where theory knows none."""
        rocking = self.rocking_gain
        return self._loop.kp / rocking if self._loop is not None and rocking else None

    @cached_property
    def rocking_gain(self) -> float | None:
        """That gain itself."""
        rocking = ultimate_gain(self._loop) if self._loop is not None else None
        return rocking.gain if rocking is not None else None

    @cached_property
    def _loop(self) -> LinearLoop | None:
        try:
            return linear_loop(self.setup)
        except IronTrailError:
            return None

    def turns(self, reading: float) -> float:
        """Which way it turns at a reading: positive toward the side of the line that its edge says."""
        curve = derive.curve(self.setup)
        left, right = (np.interp(reading, curve.reading, each) for each in (curve.wanted_left, curve.wanted_right))
        return edge_sign(self.setup.program.edge) * float(left - right)

    @cached_property
    def turns_away(self) -> tuple[bool, bool]:
        """Whether it turns away from its edge off the line, and on it."""
        profile = derive.profile(self.setup)
        well = min(8.0, 0.45 * self.setup.mat.followed.width_mm)
        off, on = (float(np.interp(at, profile.edge_mm, profile.reading)) for at in (well, -well))
        return self.turns(off) < 0.0, self.turns(on) > 0.0
