"""How far the work has come at each stop, for the work line."""

from irontrail.app.session import Session
from irontrail.app.widgets.work_line import State

# A target this far off the middle of what the sensor reads answers slowly on one side.
OFF_MIDDLE = 15.0
# A profile that spans less than this share of the calibrated range wants calibrating.
LEAST_SPAN = 80.0


def readiness(session: Session) -> dict[str, tuple[State, str]]:
    """The state of every stop, with two words where one needs attention."""
    states = dict.fromkeys(("Mat", "Robot", "Light", "Steer", "Run"), (State.READY, ""))
    # Without legs the trip is one that follows the line: there is nothing to be done.
    states["Trip"] = (State.READY, "")
    states |= dict.fromkeys(("Compare", "Tune", "Pit"), (State.EMPTY, ""))
    view = session.view
    if view is None:
        return states
    states["Tune"] = (State.READY, "")
    if view.setup.program.trip is not None:
        waits = view.run.legs[-1] if view.run.legs and view.run.legs[-1].ended < 0 else None
        if waits is not None:
            states["Trip"] = (State.ATTENTION, f"leg {waits.number + 1} waits")
    if session.project.kept:
        states["Compare"] = (State.READY, "")
    reading = view.profile.reading
    low, high = float(reading.min()), float(reading.max())
    if high - low < LEAST_SPAN:
        states["Light"] = (State.ATTENTION, "calibrate")
    elif not view.setup.program.astride and abs(view.setup.program.aim - (low + high) / 2) > OFF_MIDDLE:
        states["Light"] = (State.ATTENTION, "set target")
    if view.figures.outcome != "finished":
        words = {
            "lost": "line lost",
            "off-mat": "off the mat",
            "stuck": "stuck",
            "time-out": "too slow",
            "stopped": "stops early",
        }
        states["Run"] = (State.ATTENTION, words[view.figures.outcome])
    return states
