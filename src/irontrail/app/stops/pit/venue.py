"""The event in order: two readings in, places to look at again, real times beside the foretold, the next real run."""

from contextlib import suppress
from dataclasses import dataclass, replace

from PySide6.QtWidgets import QPushButton

from irontrail.app.session import Session
from irontrail.app.stops.pit.real_times import RealTimes, driven
from irontrail.app.theme import Theme
from irontrail.app.widgets.place_hand import PlaceHand
from irontrail.app.working import WorkingPanel
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.sensor import Calibration
from irontrail.core.mat.tape import Mat
from irontrail.core.pit.next_run import next_in_words
from irontrail.core.pit.readings import Readings, take_in
from irontrail.core.pit.runs_needed import runs_needed
from irontrail.core.pit.venue import Venue, venue_of
from irontrail.core.project import KeptRun
from irontrail.core.quantity import Quantity, quantities
from irontrail.core.setup import Setup

DIFFERENCE = Quantity(
    "to see a difference of", "s", 0.01, 60.0, 0.05, 1.0, 2, says="The smallest difference of times you want to see."
)
# Runs guessed before it is known what there is to be tried.
RUNS_GUESSED = 3800


@dataclass(frozen=True)
class _Asked:
    """What the event was worked out for."""

    setup: Setup
    found: Calibration
    kept: tuple[KeptRun, ...]


class VenueSheet(WorkingPanel):
    """Five steps in the order of the event; what takes runs is worked out by one press."""

    SAYS = "The event in order: readings, real times, and which run next."
    GUESSED = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.venue: Venue | None = None
        self._asked: _Asked | None = None
        self._typed_for: Mat | None = None
        self.hand = PlaceHand(self)
        self.add_heading("1  Read line and mat there, raw")
        ranges = quantities(Calibration)
        self.dark = self.add_number(ranges["dark"], 0.0, 100.0, self._on_typed)
        self.bright = self.add_number(ranges["bright"], 0.0, 100.0, self._on_typed)
        self.readings_say = self.add_words()
        self.take = QPushButton("Take these")
        self.take.setProperty("small", "true")
        self.take.setToolTip("Change calibration, or target and gains, as said")
        self.take.clicked.connect(self.take_readings)
        self.add_row().addWidget(self.take)
        self.add_work("Work the event out", self.start, "What the readings do, where it strays, and which run next.")
        self.add_heading("2  Look at these places again")
        self.places_say = self.add_words()
        self.add_heading("3  Time it, and write it down")
        self.times = RealTimes(session, theme)
        self.column.addWidget(self.times)
        self.add_heading("4  Drive this next")
        self.next_do = self.add_words("", "lead")
        self.next_says = self.add_words()
        self.others = self.add_words("", "quiet")
        self.add_heading("5  How many runs")
        self.difference = self.add_number(DIFFERENCE, 0.05, 2.0, lambda _value, _settled: self._show_runs())
        self.difference.set_value(0.2)
        self.runs_say = self.add_words()
        self.finish()

    # --- 1: readings

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        if self._typed_for is not setup.mat:
            # Until others are typed they are what it would read here.
            self._typed_for = None
            # Where they cannot be told apart, what was typed stays.
            with suppress(IronTrailError):
                here = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
                self.dark.set_value(here.dark)
                self.bright.set_value(here.bright)
        if self._asked is not None and self._asked.setup != setup and self.work.running:
            self.call_off()
        self._show_readings()
        self._show_times()
        self._show_worked_out()

    def _on_typed(self, _value: float, _settled: bool) -> None:
        self._typed_for = self.session.setup.mat
        self._show_readings()
        self._show_worked_out()

    def _found(self) -> Calibration:
        """The two readings; IronTrailError if they are the same."""
        return Calibration(self.dark.value, self.bright.value)

    def _readings(self) -> Readings:
        return take_in(self.session.setup, self._found())

    def _show_readings(self) -> None:
        try:
            taken = self._readings()
        except IronTrailError as error:
            self.readings_say.setText(str(error))
            self.take.setEnabled(False)
            return
        self.take.setEnabled(taken.anew != taken.there)
        venue, says = self._worked_out(), taken.says
        worked = venue.readings if venue is not None else None
        if worked is not None and worked.as_set is not None and worked.with_new is not None:
            says += (
                f" With that {worked.with_new.of_starts} starts come through, as it is set {worked.as_set.of_starts}."
            )
            if worked.as_set.good > worked.with_new.good:
                says += " Leave it as it is."
            elif worked.as_set.good == worked.with_new.good and worked.as_set.holds:
                says += " It does as well as it is."
        if self.session.setup.second is not None:
            says += " They are the first sensor's; the second takes what it reads on the same mat."
        self.readings_say.setText(says)

    def take_readings(self) -> None:
        """Make the program read as before with the two readings; the mat on the table stays as it is."""
        setup = self.session.setup
        try:
            anew = self._readings().anew
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._typed_for = setup.mat
        self.session.edit("two readings", replace(anew, mat=setup.mat))

    # --- working it out

    def start(self) -> None:
        """Work the event out for the settings and readings as they are."""
        try:
            asked = _Asked(self.session.setup, self._found(), driven(self.session))
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._asked, self.venue = asked, None
        self.begin(lambda tell: venue_of(asked.setup, asked.found, asked.kept, tell), RUNS_GUESSED)

    def show_partial(self, partial: Venue) -> None:
        self._show(partial)

    def show_result(self, result: Venue) -> None:
        self._show(result)

    def _show(self, venue: Venue) -> None:
        self.venue = venue
        self._show_readings()
        self._show_times()
        self._show_worked_out()

    def _worked_out(self) -> Venue | None:
        """What was worked out, if it is still of these settings and readings."""
        asked = self._asked
        if asked is None or asked.setup != self.session.setup:
            return None
        with suppress(IronTrailError):
            return self.venue if asked.found == self._found() else None
        return None

    def _show_worked_out(self) -> None:
        venue = self._worked_out()
        waits = "" if venue is not None else "Not worked out yet."
        places = venue.places if venue is not None else ()
        assert isinstance(self.hand, PlaceHand)
        self.hand.set_places(tuple((str(i), place.x_mm, place.y_mm) for i, place in enumerate(places, 1)))
        said = [f"{i}  {place.name}: it strays {place.worst_mm:.0f} mm." for i, place in enumerate(places, 1)]
        trip = venue is not None and venue.setup.program.trip is not None
        self.places_say.setText("\n".join(said) or ("Of a trip: its legs' ends, on Trip ▸ Ends." if trip else waits))
        nexts = venue.next_runs if venue is not None else ()
        do, why = next_in_words(nexts, venue.now_s) if venue is not None and nexts else ("", waits)
        self.next_do.setText(do)
        self.next_do.setVisible(bool(do))
        self.next_says.setText(why)
        self.others.setText(
            "\n".join(f"{run.do} Finishes on {100 * run.finish_share:.0f} of 100." for run in nexts if run.do != do)
        )
        self._show_runs()

    # --- 3: real times

    def _show_times(self) -> None:
        venue = self._worked_out()
        foretold = {each.kept.setup: each.tried for each in venue.foretold} if venue is not None else {}
        if venue is not None and venue.plain is not None:
            foretold[venue.setup] = venue.plain
        self.times.show_foretold(foretold)

    # --- 5: how many runs

    def _show_runs(self) -> None:
        venue = self._worked_out()
        foretold, tried = (venue.foretold, venue.tried) if venue is not None else ((), None)
        self.runs_say.setText(runs_needed(self.difference.value, foretold, tried))
