"""The sensor is too near to the axle, or too far before it."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import FAR_SHARE, NEAR_SHARE, USUAL_AHEAD, Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _share(look: Look) -> float:
    return look.setup.robot.mount.ahead_mm / look.setup.robot.drive.track_width_mm


def _unusual(look: Look) -> float:
    share = _share(look)
    return 1.5 * max(doublings(share, FAR_SHARE), doublings(1.0 / max(share, 0.02), 1.0 / NEAR_SHARE))


def _undone(look: Look) -> Iterator[Setup]:
    track = look.setup.robot.drive.track_width_mm
    yield with_value(look.setup, "robot.mount.ahead_mm", float(round(USUAL_AHEAD * track)))


def _says(look: Look) -> str:
    ahead = look.setup.robot.mount.ahead_mm
    where = "near to" if _share(look) < NEAR_SHARE else "far before"
    return f"its sensor is too {where} the axle: {ahead:.0f} mm, with wheels {_track(look):.0f} mm apart"


def _track(look: Look) -> float:
    return look.setup.robot.drive.track_width_mm


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Sensor {setup.robot.mount.ahead_mm:.0f} mm ahead", setup)


AHEAD = Supposition("sensor's place", _unusual, _undone, _says, _remedies)
