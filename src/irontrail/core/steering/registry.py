"""The steering laws there are: a line of `LawSettings` each. All else about a law stands in its own file."""

from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Annotated, Literal, get_args, get_type_hints

from irontrail.core.quantity import Part
from irontrail.core.steering.law import Law
from irontrail.core.steering.laws.bands import BANDS, Bands
from irontrail.core.steering.laws.mixed import MIXED, Mixed
from irontrail.core.steering.laws.on_off import ON_OFF, OnOff
from irontrail.core.steering.laws.pid import PID, Pid
from irontrail.core.steering.laws.proportional import PROPORTIONAL, Proportional
from irontrail.core.steering.laws.table import TABLE


@dataclass(frozen=True)
class LawSettings(Part):
    """The settings of every law, so that changing the law and back loses nothing; in the order they are offered."""

    on_off: Annotated[OnOff, ON_OFF] = OnOff()
    bands: Annotated[Bands, BANDS] = Bands()
    mixed: Annotated[Mixed, MIXED] = Mixed()
    proportional: Annotated[Proportional, PROPORTIONAL] = Proportional()
    pid: Annotated[Pid, PID] = Pid()


def _laws() -> dict[str, Law]:
    hints = get_type_hints(LawSettings, include_extras=True)
    found = (extra for field in fields(LawSettings) for extra in get_args(hints[field.name])[1:])
    return {law.name: law for law in found if isinstance(law, Law)}


# By name: those that there are to choose from, for one sensor or two.
LAWS = _laws()
# All that may decide, in the order of their codes: a table of two sensors' cases too.
DECIDING = {**LAWS, TABLE.name: TABLE}
LAW_FIELDS = tuple(law.field for law in DECIDING.values())
LAW_NAMES = tuple(LAWS)
if TYPE_CHECKING:
    LawName = str
else:
    LawName = Literal[LAW_NAMES]
