"""How exactly a team can do the same thing twice: by how much a start, the light, the battery and more may be off."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity, quantities


@dataclass(frozen=True)
class Shaking(Part):
    """By how much each start may differ either way, evenly spread; wear only adds."""

    off_mm: Annotated[
        float, Quantity("set down aside", "mm", 0.0, 40.0, 1.0, says="How far beside its place it may be set down.")
    ] = 4.0
    angle_deg: Annotated[
        float, Quantity("set down turned", "°", 0.0, 60.0, 1.0, says="By how much it may be set down turned.")
    ] = 6.0
    along_mm: Annotated[
        float, Quantity("set down along", "mm", 0.0, 100.0, 1.0, says="How far before or behind its place it may be.")
    ] = 15.0
    light: Annotated[
        float, Quantity("light", "%", 0.0, 1.0, 0.05, 100.0, says="By how much the room may be lighter or darker.")
    ] = 0.2
    battery: Annotated[
        float, Quantity("charge", "%", 0.0, 0.5, 0.01, 100.0, says="By how much the battery may be fuller or emptier.")
    ] = 0.05
    unlike_percent: Annotated[
        float, Quantity("wheels unlike", "%", 0.0, 15.0, 0.5, 1.0, 1, says="By how much one wheel may be the faster.")
    ] = 0.0
    height_mm: Annotated[
        float, Quantity("height", "mm", 0.0, 8.0, 0.5, 1.0, 1, says="By how much the sensor may hang otherwise.")
    ] = 0.0
    wear_mm: Annotated[
        float, Quantity("wear", "mm", 0.0, 4.0, 0.1, 1.0, 1, says="How wavy the tape's edges may have become.")
    ] = 0.0

    @property
    def changes_what_is_seen(self) -> bool:
        """Each start has a mat of its own, as its sensors see it: far more work than the rest."""
        return self.height_mm > 0.0 or self.wear_mm > 0.0


# At an event, where less is in a team's hands.
AT_EVENT = Shaking(8.0, 8.0, 20.0, 0.3, 0.1, 3.0, 1.5, 1.0)


def in_words(shaking: Shaking) -> str:
    r"""How a start is shaken, in a phrase; what is not shaken is not told.

    >>> in_words(Shaking()).replace("\u00a0", " ")
    'up to 4 mm aside, 6° turned, 15 mm along; light ± 20 %, charge ± 5 %'
    """
    place = [
        f"{value:g}{unit}{where}"
        for value, unit, where in (
            (shaking.off_mm, "\u00a0mm", " aside"), (shaking.angle_deg, "°", " turned"),
            (shaking.along_mm, "\u00a0mm", " along"),
        )
        if value > 0.0
    ]  # fmt: skip
    rest = [
        f"{name} {sign}{value:g}\u00a0{unit}"
        for name, sign, value, unit in (
            ("light", "±\u00a0", 100.0 * shaking.light, "%"), ("charge", "±\u00a0", 100.0 * shaking.battery, "%"),
            ("wheels", "±\u00a0", shaking.unlike_percent, "%"), ("height", "±\u00a0", shaking.height_mm, "mm"),
            ("edges worn", "up to ", shaking.wear_mm, "mm"),
        )
        if value > 0.0
    ]  # fmt: skip
    said = [f"up to {', '.join(place)}"] if place else []
    return "; ".join([*said, *([", ".join(rest)] if rest else [])]) or "not at all, but for the sensor's noise"


def scaled(shaking: Shaking, times: float) -> Shaking:
    """One that shakes so many times as hard, each number held inside what it can be."""
    ranges = quantities(Shaking)
    return Shaking(**{name: quantity.clamped(times * getattr(shaking, name)) for name, quantity in ranges.items()})
