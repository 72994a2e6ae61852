"""Proofreading a sensor that watches, without a run: what a leg waits for, and its watcher never comes over."""

from collections.abc import Iterator
from itertools import product

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.remark import Remark
from irontrail.core.light.profile import bilinear
from irontrail.core.light.reading import reading_of_patch, reading_per_raw
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.quantity import with_value
from irontrail.core.robot.mount import Mount
from irontrail.core.setup import Setup
from irontrail.core.steering.legs import AtMark, AtReading, FollowLeg

# How finely a watcher's way is looked along, and how far the robot may swing aside of it.
LOOK_MM, ASIDE_MM = 4.0, 7.0
NOISE_SIGMAS = 3.0


def proofread_watcher(setup: Setup) -> Iterator[Remark]:
    """A leg that follows its line waits for what its watching sensor never comes over on that line."""
    trip = setup.program.trip
    if trip is None or setup.second is None:
        return
    for place, leg in enumerate(trip.legs):
        if not isinstance(leg, FollowLeg):
            continue
        for i, end in enumerate(leg.ends):
            if not isinstance(end, AtReading | AtMark) or end.sensor != "second":
                continue
            below = end.side == "below" if isinstance(end, AtReading) else end.mark == "crossing"
            low, high = _watched(setup, setup.second.mount)
            if low <= end.reading if below else high >= end.reading:
                continue
            met = f"nothing below {low:.0f}" if below else f"nothing above {high:.0f}"
            says = (
                f"Leg {place + 1} waits for its second sensor to read {end.reading:g}: riding along the lines of this "
                f"mat that sensor reads {met}."
            )
            path = f"program.trip.legs.{place}.ends.{i}.sensor"
            yield Remark("watcher", says, mend="Watch with the first", mended=with_value(setup, path, "first"))


def _watched(setup: Setup, watcher: Mount) -> tuple[float, float]:
    """The least and the greatest that the second sensor reads while the robot rides along any line, either way."""
    alone, reference = setup.seen_by("second"), setup.reference
    seen, values = derive.field(alone), []
    ahead, beside = watcher.ahead_mm - reference.ahead_mm, watcher.aside_mm - reference.aside_mm
    for stroke, route in derive.lines(setup.mat):
        s = np.arange(0.0, route.length_mm, LOOK_MM)
        along = np.interp(s, route.s_mm, np.unwrap(route.heading))
        x, y = np.interp(s, route.s_mm, route.x_mm), np.interp(s, route.s_mm, route.y_mm)
        edges = (0.0,) if setup.program.astride else (-0.5 * stroke.width_mm, 0.5 * stroke.width_mm)
        for back, edge, off in product((False, True), edges, (-ASIDE_MM, 0.0, ASIDE_MM)):
            heading, aside = along + (np.pi if back else 0.0), edge + off + beside
            at_x = x + ahead * np.cos(heading) - aside * np.sin(heading)
            at_y = y + ahead * np.sin(heading) + aside * np.cos(heading)
            patches = bilinear(seen, at_x / MM_PER_PX, at_y / MM_PER_PX)
            values.append(reading_of_patch(alone.light, watcher.height_mm, patches, setup.mat.gloss))
    found = np.concatenate(values)
    light = alone.light
    noise = 0.0 if light.sensor.names_colours else NOISE_SIGMAS * light.sensor.noise * reading_per_raw(light)
    return float(found.min()) - noise, float(found.max()) + noise
