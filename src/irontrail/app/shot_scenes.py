"""What each of the README's screenshots shows: a demo, and what is done before it is taken."""

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TypeVar

from PySide6.QtCore import QCoreApplication, QDeadlineTimer
from PySide6.QtWidgets import QApplication

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops.light.probe import ProbeSheet
from irontrail.app.stops.mat.files import FilesSheet
from irontrail.app.stops.mat.tape import TapeSheet
from irontrail.app.stops.pit.film import FilmSheet
from irontrail.app.stops.pit.listing import ListingSheet
from irontrail.app.stops.pit.venue import VenueSheet
from irontrail.app.stops.trip.legs import LegsSheet
from irontrail.app.window import Window
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.project import Evidence
from irontrail.core.quantity import with_value

# Where the robot is shown: in the harbour, coming out of its second bend.
MOMENT_S = 12.6
# No picture takes so long to come about.
MOST_MS = 600_000


PanelT = TypeVar("PanelT", bound=Panel)
Act = Callable[[Session, Window], None]


@dataclass(frozen=True)
class Shot:
    """One picture: its file's name, the demo and theme, and what is done before it is taken."""

    name: str
    act: Act
    demo: str = "lighthouse"
    theme: str = "light"


def wait_for(done: Callable[[], bool]) -> None:
    """Let the window live until something is done; no picture is taken of what is not."""
    deadline = QDeadlineTimer(MOST_MS)
    while not done():
        if deadline.hasExpired():
            what = "what it shows has not come to its end"
            raise IronTrailError(what, "a screenshot", "Try again when less is running.")
        QApplication.processEvents()
        # What is waited for gives way to a window at work.
        time.sleep(0.005)


def settle(session: Session) -> None:
    """Let the window catch up with the session."""
    wait_for(lambda: session.advised)
    for _ in range(3):
        QCoreApplication.processEvents()


def _keep_on_off(session: Session) -> None:
    """Keep an on-off run to compare with, then steer in proportion."""
    session.choose_law("on-off")
    settle(session)
    session.keep()
    session.choose_law("proportional")
    settle(session)


def _steer(session: Session, _window: Window) -> None:
    _keep_on_off(session)


def _sheet(stop: str, sheet: str, before: Callable[[Session], None] = _keep_on_off) -> Act:
    """One sheet of a stop, after something has been done."""

    def act(session: Session, window: Window) -> None:
        before(session)
        session.looking.go_to(stop)
        panel = window.panel(stop)
        assert isinstance(panel, SheetedPanel)
        panel.turn_to(sheet)

    return act


def _shown(window: Window, stop: str, name: str, kind: type[PanelT]) -> PanelT:
    """A sheet brought into sight, known for what it is."""
    panel = window.panel(stop)
    assert isinstance(panel, SheetedPanel)
    panel.turn_to(name)
    sheet = panel.sheet(name)
    assert isinstance(sheet, kind)
    return sheet


def _table(session: Session) -> None:
    session.edit("a table", with_value(session.setup, "program.arrangement", "table"))


def _too_fast(session: Session) -> None:
    session.set_value("program.speed", 68.0)


def _findings(session: Session, window: Window) -> None:
    """Too fast, on a trail that tells where it steered hard."""
    _sheet("Run", "Findings", _too_fast)(session, window)
    window.stage.set_shade("steer")


def _some_kept(session: Session) -> None:
    """A logbook of an afternoon: an on-off run, then proportional ones, then PID."""
    _keep_on_off(session)
    for path, value in (
        ("program.speed", 55.0),
        ("program.speed", 60.0),
        ("program.proportional.gain", 0.6),
        ("program.proportional.gain", 0.7),
    ):
        session.set_value(path, value)
        settle(session)
        session.keep()
    session.choose_law("PID")
    settle(session)
    session.keep()
    session.kept_runs.annotate(3, note="smooth, but wide in the harbour", star=True)


def _listing(session: Session, window: Window) -> None:
    """A listing that has gone out, with one number changed since, where it creeps up to the end."""
    session.looking.go_to("Pit")
    sheet = _shown(window, "Pit", "Listing", ListingSheet)
    sheet.boxes["log"].click()
    sheet.copy.click()
    window.notice.hide()
    session.set_value("program.speed", 46.0)
    settle(session)
    session.playback.seek(11.0)
    sheet.view.show_lit()


def _stop(name: str) -> Act:
    return lambda session, _window: session.looking.go_to(name)


def _tape(session: Session, window: Window) -> None:
    """A bend of the harbour chosen, with what it measures beside it."""
    session.looking.go_to("Mat")
    sheet = _shown(window, "Mat", "Tape", TapeSheet)
    sheet.choose(0, 9)


def _trip(session: Session, window: Window) -> None:
    """The third leg of the trip chosen."""
    _sheet("Trip", "Legs", _nothing)(session, window)
    sheet = _shown(window, "Trip", "Legs", LegsSheet)
    sheet.choose(2)


def _probe(session: Session, window: Window) -> None:
    """Some readings held, on the line, on the mat and on the edge."""
    _sheet("Light", "Probe", _nothing)(session, window)
    sheet = _shown(window, "Light", "Probe", ProbeSheet)
    for kind, x, y in (
        ("dark", 560.0, 120.0),
        ("dark", 1880.0, 500.0),
        ("bright", 900.0, 500.0),
        ("edge", 600.0, 131.0),
    ):
        sheet.carry_to(x, y)
        sheet.hold(kind)


def _nothing(_session: Session) -> None:
    pass


def _some_speeds(session: Session) -> None:
    """An on-off run and two proportional ones kept, and PID in sight."""
    _keep_on_off(session)
    session.set_value("program.speed", 56.0)
    settle(session)
    session.keep()
    session.choose_law("PID")
    session.set_value("program.speed", 62.0)


def _some_alike(session: Session) -> None:
    """Three runs kept: slower, hardly slower, and faster than the one in sight."""
    for speed in (46.0, 49.8, 53.0):
        session.set_value("program.speed", speed)
        settle(session)
        session.keep()
    session.set_value("program.speed", 50.0)


def _worked(stop: str, sheet: str, before: Callable[[Session], None] = _nothing) -> Act:
    """One sheet of a stop, with its long work done."""

    def act(session: Session, window: Window) -> None:
        _sheet(stop, sheet, before)(session, window)
        settle(session)
        shown = _shown(window, stop, sheet, WorkingPanel)
        shown.button.click()
        wait_for(lambda: not shown.work.running)

    return act


def _fast(session: Session) -> None:
    session.set_value("program.speed", 58.0)


def _pages(session: Session, window: Window) -> None:
    """Three of an afternoon's runs, with what the team says of them."""
    _worked("Pit", "Pages", _some_kept)(session, window)
    project = session.project
    said = Evidence(
        title="Pip and the lamp oil",
        opening="Pip carries lamp oil from the boathouse to the light. It has one sensor and two wheels.",
        tried="On-off was safe and slow. We steered in proportion, then went faster until the harbour threw it off.",
        learned="Speed costs swing. Three terms bought it back.",
    )
    session.document.apply("words", replace(project, evidence=said))


def _film(session: Session, window: Window) -> None:
    _sheet("Pit", "Film", _some_speeds)(session, window)
    settle(session)
    sheet = _shown(window, "Pit", "Film", FilmSheet)
    session.playback.seek(MOMENT_S)
    sheet.ofs["the race"].click()


def _venue(session: Session, window: Window) -> None:
    """Two readings taken in a hall, three real times, and what follows."""
    _sheet("Pit", "Venue", _nothing)(session, window)
    sheet = _shown(window, "Pit", "Venue", VenueSheet)
    for dial, value in ((sheet.dark, 14.0), (sheet.bright, 62.0)):
        dial.edit_to(value)
    for real in (20.5, 20.9, 20.4):
        sheet.times.time.edit_to(real)
        sheet.times.finished.click()
    settle(session)
    _worked("Pit", "Venue")(session, window)


# A mat as a drawing program gives it: three lines, of which none is called the route, and words.
DRAWING = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">'
    '<rect width="2000" height="1000" fill="#e9eef0"/><g fill="none" stroke-width="20">'
    '<path stroke="#222a33" d="M200 800 C 500 200 900 200 1100 600 S 1600 900 1800 300"/>'
    '<path stroke="#a03a33" stroke-dasharray="80 25" d="M200 200 H900 A150 150 0 0 1 1050 350 V900"/>'
    '<ellipse stroke="#2b6a35" cx="1500" cy="500" rx="300" ry="250"/></g><text x="40" y="60">Saltmarsh</text></svg>'
)


def _files(session: Session, window: Window) -> None:
    _sheet("Mat", "Files", _nothing)(session, window)
    sheet = _shown(window, "Mat", "Files", FilesSheet)
    with TemporaryDirectory() as folder:
        path = Path(folder) / "Boathouse.svg"
        path.write_text(DRAWING, encoding="utf-8")
        sheet.open(path)
        wait_for(lambda: not sheet.underway.work.running)


SHOTS = (
    Shot("mat-files", _files),
    Shot("mat-tape", _tape),
    Shot("robot-two", _stop("Robot"), demo="ropewalk"),
    Shot("light-probe", _probe),
    Shot("steer-proportional", _steer),
    Shot("steer-pair", _sheet("Steer", "Pair", _table), demo="ropewalk"),
    Shot("trip-legs", _trip, demo="lantern"),
    Shot("run-findings", _findings),
    Shot("run-logbook", _sheet("Run", "Logbook", _some_kept)),
    Shot("compare-race", _sheet("Compare", "Race", _some_speeds)),
    Shot("compare-chance", _worked("Compare", "Chance", _some_alike)),
    Shot("tune-map", _worked("Tune", "Map")),
    Shot("tune-search", _worked("Tune", "Search")),
    Shot("tune-event", _worked("Tune", "Event", _fast)),
    Shot("pit-listing", _listing, demo="lantern", theme="dark"),
    Shot("pit-card", _worked("Pit", "Card")),
    Shot("pit-pages", _pages),
    Shot("pit-film", _film),
    Shot("pit-venue", _venue),
)
