"""The figures of a run: what it came to, in numbers, as shown, kept and exported."""

from dataclasses import dataclass, fields
from math import isfinite
from typing import Annotated, Literal, get_args, get_type_hints

from irontrail.core.quantity import Part, with_unit

Outcome = Literal["finished", "off-mat", "lost", "stuck", "time-out", "stopped"]


@dataclass(frozen=True)
class Figure:
    """What a figure of a run is on screen: its name, its unit, and which way it is better.

    Parameters
    ----------
    label, short : str
        Its name, and that where there is little room.
    unit : str
        On screen; empty for a plain number.
    decimals : int
        Figures after the point on screen.
    shown_per_stored : float
        Factor from the stored to the shown unit (100 for shares shown as percent).
    better : "less", "more" or "near 0"
        Which way it is better; empty where neither is.
    """

    label: str
    unit: str = ""
    decimals: int = 1
    shown_per_stored: float = 1.0
    better: Literal["less", "more", "near 0", ""] = ""
    short: str = ""

    def shown(self, value: float) -> str:
        """A value as on screen, without its unit; a dash where there is none."""
        if not isfinite(value):
            return "–"
        text = f"{value * self.shown_per_stored:.{self.decimals}f}"
        return (text.lstrip("-") if float(text) == 0.0 else text).replace("-", "−")

    def in_unit(self, value: float) -> str:
        """A value as on screen, with its unit."""
        return with_unit(self.shown(value), self.unit)

    @property
    def with_unit(self) -> str:
        """Its name with its unit, for a table without a column of units."""
        return f"{self.label}, {self.unit}" if self.unit else self.label


@dataclass(frozen=True)
class Figures(Part):
    """Measures of one run; docs/model.md defines each.

    Lengths are in millimetres, times in seconds, angles in degrees; shares are 0..1. `wobble_mm` and
    `heading_swing_deg` are peak to peak. `steer_effort` is in percent of steer a second. Those of spots are 0 on a mat
    without any; of several spots the one that is missed most counts.
    """

    outcome: Outcome
    time_s: Annotated[float, Figure("time", "s", 2, better="less", short="time")]
    route_length_mm: Annotated[float, Figure("line", "m", 2, 0.001)]
    path_length_mm: Annotated[float, Figure("path", "m", 2, 0.001, "less")]
    progress_mm: Annotated[float, Figure("progress", "m", 2, 0.001, "more")]
    mean_speed_mm_s: Annotated[float, Figure("mean speed", "mm/s", 0, better="more")]
    rms_edge_mm: Annotated[float, Figure("off the edge, RMS", "mm", better="less", short="RMS")]
    worst_edge_mm: Annotated[float, Figure("off the edge, worst", "mm", better="less", short="worst")]
    wobble_hz: Annotated[float, Figure("swings at", "Hz")]
    wobble_mm: Annotated[float, Figure("swing", "mm", better="less", short="swing")]
    heading_swing_deg: Annotated[float, Figure("heading swing", "°", better="less")]
    crossings_per_m: Annotated[float, Figure("edge crossed", "per m", 0, better="less")]
    clipped_share: Annotated[float, Figure("clipped", "%", 1, 100.0, "less", "clip")]
    skid_mm: Annotated[float, Figure("skid", "mm", 0, better="less")]
    coast_mm: Annotated[float, Figure("coasts", "mm", 0, better="less")]
    end_angle_deg: Annotated[float, Figure("angle at rest", "°", 0, better="near 0")]
    seed: int
    steer_effort: Annotated[float, Figure("steering effort", "%/s", 0, better="less")] = 0.0
    slide_deg: Annotated[float, Figure("turn lost to sliding", "°", 0, better="less")] = 0.0
    spots_missed: Annotated[float, Figure("spots missed", "%", 0, 100.0, "less", "spots")] = 0.0
    spot_miss_mm: Annotated[float, Figure("off its spot", "mm", better="less", short="off spot")] = 0.0
    spot_miss_deg: Annotated[float, Figure("turned off its spot", "°", better="less")] = 0.0


def _shown() -> dict[str, Figure]:
    hints = get_type_hints(Figures, include_extras=True)
    return {
        field.name: extra
        for field in fields(Figures)
        for extra in get_args(hints[field.name])[1:]
        if isinstance(extra, Figure)
    }


# Every figure that is shown, by its field.
FIGURES = _shown()


# Those that only a mat with spots has.
OF_SPOTS = ("spots_missed", "spot_miss_mm", "spot_miss_deg")


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
