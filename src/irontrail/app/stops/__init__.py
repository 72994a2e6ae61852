"""The stops of the work line, one file or folder a panel; they never import each other."""

from collections.abc import Callable
from importlib import import_module

from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.theme import Theme

# Where each stop's panel is made.
_PANELS = {
    "Mat": "mat.MatPanel",
    "Robot": "robot.RobotPanel",
    "Light": "light.LightPanel",
    "Steer": "steer.SteerPanel",
    "Trip": "trip.TripPanel",
    "Run": "run.RunPanel",
    "Compare": "compare.ComparePanel",
    "Tune": "tune.TunePanel",
    "Pit": "pit.PitPanel",
}
MODULES = tuple(f"{__name__}.{place.partition('.')[0]}" for place in _PANELS.values())


def panel_type(stop: str) -> Callable[[Session, Theme], SheetedPanel]:
    """What makes the panel of a stop; its file is read only now."""
    file, _, name = _PANELS[stop].partition(".")
    made: Callable[[Session, Theme], SheetedPanel] = getattr(import_module(f"irontrail.app.stops.{file}"), name)
    return made


def make_panel(stop: str, session: Session, theme: Theme) -> SheetedPanel:
    """The panel of a stop."""
    return panel_type(stop)(session, theme)
