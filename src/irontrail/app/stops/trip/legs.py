"""The legs as a ribbon, one of them chosen, with its few numbers and what ends it."""

from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QMenu

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.trip.editing import double_leg, edit_trip, take_out_leg
from irontrail.app.stops.trip.leg_editor import LegEditor
from irontrail.app.stops.trip.on_mat import TripOnMat
from irontrail.app.theme import Theme
from irontrail.app.widgets.leg_picture import SAYS, LegButton
from irontrail.app.widgets.remark_list import RemarkList, Said
from irontrail.app.widgets.trip_ribbon import RibbonLeg, TripRibbon
from irontrail.core.capital import capital
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.steering import planning
from irontrail.core.steering.leg_words import all_ends, leg_title
from irontrail.core.steering.legs import LEGS, TurnLeg
from irontrail.core.steering.planning import legs_of
from irontrail.core.steering.program import Program

SET_DOWN = {"on the line": "on the line", "in the zone": "in the start zone"}


class LegsSheet(Panel):
    """The ribbon, kinds to put in, what is wrong, and the chosen leg."""

    WANTS = frozenset({"trip remarks", "leg ends"})
    SAYS = "The legs of the run, in driving order, and what each does."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.chosen = 0
        self.on_mat = TripOnMat(session, self)
        self.hand = self.on_mat.hand
        self.on_mat.picked.connect(self.choose)
        self.starts = self.add_choice(
            "Set down", tuple(SET_DOWN), self._set_down, says="The robot is set down {} before it sets out."
        )
        self.ribbon = TripRibbon(theme)
        self.ribbon.picked.connect(self.choose)
        self.ribbon.moved.connect(self.reorder)
        self.ribbon.gap_pressed.connect(self._ask_kind)
        self.ribbon.doubled.connect(lambda leg: double_leg(session, leg))
        self.ribbon.taken_out.connect(lambda leg: take_out_leg(session, leg))
        self.column.addWidget(self.ribbon)
        self.empty = self.add_words(
            "No legs yet: the robot follows its line to the finish. Put in the first thing that it is to do.", "quiet"
        )
        row = self.add_row()
        row.setSpacing(4)
        self.kinds: dict[str, LegButton] = {}
        for kind in LEGS:
            button = LegButton(kind, theme)
            button.clicked.connect(lambda _on=False, kind=kind: self.put_in(self.chosen + 1, kind))
            row.addWidget(button)
            self.kinds[kind] = button
        self.remarks = RemarkList(theme, self._mend)
        self.column.addWidget(self.remarks)
        self.editor = LegEditor(session, theme)
        self.column.addWidget(self.editor)
        self.finish()

    # --- what is worked on

    def choose(self, leg: int) -> None:
        """Work on another leg."""
        self.take_typed()
        self.chosen = leg
        self._show()

    # --- editing

    def _edit(self, label: str, change: Callable[[Program], Program], chosen: int) -> None:
        """Change the trip as one step, and work on a leg of it then."""
        before, self.chosen = self.chosen, chosen
        if not edit_trip(self.session, label, change):
            self.chosen = before

    def put_in(self, at: int, kind: str) -> None:
        """Put a leg in, before the one that is now number `at`."""
        self.take_typed()
        at = min(max(at, 0), len(legs_of(self.session.setup.program)))
        self._edit(f"leg {at + 1}: {kind}", lambda program: planning.put_in(program, at, kind), at)

    def reorder(self, leg: int, to: int) -> None:
        """Move a leg to another place."""
        self.take_typed()
        self._edit(f"move leg {leg + 1}", lambda program: planning.moved(program, leg, to), to)

    def _ask_kind(self, at: int, place: QPoint) -> None:
        """Offer the kinds of legs where one is to be put in."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for kind in LEGS:
            action = menu.addAction(f"{capital(kind)}: {SAYS[kind][0].lower()}{SAYS[kind][1:-1]}")
            action.setObjectName(kind)
            action.triggered.connect(lambda _on=False, kind=kind: self.put_in(at, kind))
        menu.popup(place)

    def _set_down(self, name: str) -> None:
        setup: Setup = with_value(self.session.setup, "trial.set_down", SET_DOWN[name])
        if name == "in the zone" and setup.mat.start is None:
            self.session.notice("This mat has no start zone: lay one down under Mat, Things.")
        # What moves it on from there counted along the line before.
        setup = with_value(setup, "trial.start_mm", 0.0) if name == "in the zone" else setup
        self.session.edit(f"set down {SET_DOWN[name]}", setup)
        self._show()

    def _mend(self, i: int) -> None:
        advice = self.session.adviser.advice
        remarks = advice.trip_remarks if advice is not None else None
        if remarks and i < len(remarks) and (mended := remarks[i].mended) is not None:
            self.session.try_mend(remarks[i].mend, mended)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        self._show()

    def show_view(self) -> None:
        self._show_ribbon()

    def show_advice(self) -> None:
        self._show_ribbon()
        self._show_remarks()

    def _show(self) -> None:
        legs = legs_of(self.session.setup.program)
        self.chosen = min(max(self.chosen, 0), len(legs) - 1)
        down = self.session.setup.trial.set_down
        for name, button in self.starts.items():
            button.setChecked(SET_DOWN[name] == down)
        self._show_ribbon()
        self._show_remarks()
        self.editor.show_leg(self.chosen)

    def _show_ribbon(self) -> None:
        session, view = self.session, self.session.view
        legs = legs_of(session.setup.program)
        self.empty.setVisible(not legs)
        driven = {leg.number: leg for leg in view.run.legs} if view is not None else {}
        ends = session.adviser.leg_ends(session.setup)
        sure = dict(enumerate(ends.legs)) if ends is not None else {}
        shown = []
        for i, leg in enumerate(legs):
            made, seconds = driven.get(i), None
            if made is not None and view is not None:
                last = view.run.time_s if made is view.run.legs[-1] else view.run.trace.time_s[made.over]
                seconds = float(last - view.run.trace.time_s[made.begun])
            shown.append(
                RibbonLeg(
                    kind=leg.kind,
                    title=leg_title(leg),
                    ends=all_ends(leg),
                    brakes=leg.then == "brake" or i + 1 == len(legs),
                    turn_deg=leg.angle_deg if isinstance(leg, TurnLeg) else 0.0,
                    seconds=seconds,
                    ended=made is None or made.ended >= 0,
                    came=sure[i].reached if i in sure else None,
                    starts=sure[i].starts if i in sure else 0,
                )
            )
        self.ribbon.set_legs(tuple(shown), self.chosen)
        self.on_mat.show(self.chosen)

    def _show_remarks(self) -> None:
        advice = self.session.adviser.advice
        fitting = advice is not None and advice.request.setup == self.session.setup
        remarks = (advice.trip_remarks or ()) if advice is not None and fitting else ()
        self.remarks.set_said(tuple(Said(remark.says, remark.mend) for remark in remarks))
