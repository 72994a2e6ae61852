"""The figures of a run: what it came to, in numbers, as shown, kept and exported."""

from dataclasses import dataclass, fields
from typing import Literal

from irontrail.core.quantity import Part

Outcome = Literal["finished", "off-mat", "lost", "stuck", "time-out", "stopped"]


@dataclass(frozen=True)
class Figures(Part):
    """Measures of one run; docs/model.md defines each.

    Lengths are in millimetres, times in seconds, angles in degrees; shares are 0..1. `wobble_mm` and
    `heading_swing_deg` are peak to peak. `steer_effort` is in percent of steer a second.
    """

    outcome: Outcome
    time_s: float
    route_length_mm: float
    path_length_mm: float
    progress_mm: float
    mean_speed_mm_s: float
    rms_edge_mm: float
    worst_edge_mm: float
    wobble_hz: float
    wobble_mm: float
    heading_swing_deg: float
    crossings_per_m: float
    clipped_share: float
    skid_mm: float
    coast_mm: float
    end_angle_deg: float
    seed: int
    steer_effort: float = 0.0
    slide_deg: float = 0.0


# Figures that differ by less than this share are the same: another processor may round another way.
SAME = 1e-6


def same_figures(one: Figures, other: Figures) -> bool:
    """Whether two runs came to the same, up to rounding."""
    for field in fields(Figures):
        a, b = getattr(one, field.name), getattr(other, field.name)
        if isinstance(a, str):
            if a != b:
                return False
        elif abs(a - b) > SAME * max(abs(a), abs(b), 1.0):
            return False
    return True
