"""The trip on the mat: its hand, joined to the session."""

import numpy as np
from PySide6.QtCore import QObject, QPointF, Signal

from irontrail.app.session import Session
from irontrail.app.stops.trip.editing import double_leg, take_out_leg
from irontrail.app.widgets.trip_hand import MarkedLeg, Scatter, TripHand
from irontrail.core.advice.leg_ends import ELLIPSE_SIGMAS, LegEnd
from irontrail.core.advice.leg_way import LegWay, dragged, leg_way, nudged
from irontrail.core.result import LegRun, point_way
from irontrail.core.setup import Setup
from irontrail.core.steering.leg_words import all_ends
from irontrail.core.steering.planning import legs_of


class TripOnMat(QObject):
    """Shows the legs of the run in sight on the mat, and edits what is dragged there; says `picked(leg)`."""

    picked = Signal(int)

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self.session = session
        self.hand = TripHand(self)
        self.hand.picked.connect(self.picked)
        self.hand.picked.connect(self._grip)
        self.hand.dragged.connect(self._on_dragged)
        self.hand.nudged.connect(self._on_nudged)
        self.hand.doubled.connect(lambda leg: double_leg(session, leg))
        self.hand.taken_out.connect(lambda leg: take_out_leg(session, leg))
        self._way: tuple[LegWay, int] | None = None

    def show(self, chosen: int) -> None:
        """Show the legs of the run in sight, one of them chosen."""
        view = self.session.view
        count = len(legs_of(self.session.setup.program))
        if view is None or view.setup.mat.name != self.session.setup.mat.name:
            self.hand.set_legs((), chosen, count)
            return
        x, y = point_way(view.run.trace, view.setup.reference)
        ends = self._scatters()
        self.hand.set_legs(
            tuple(
                MarkedLeg(
                    x[leg.begun : leg.over + 1], y[leg.begun : leg.over + 1], *self._pose(leg, x, y), leg.ended >= 0,
                    ends.get(leg.number),
                )
                for leg in view.run.legs
            ),
            chosen,
            count,
        )  # fmt: skip

    def _pose(self, leg: LegRun, x: np.ndarray, y: np.ndarray) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where a leg left the axle and the sensor: at rest after the last one."""
        view = self.session.view
        assert view is not None
        run, mount = view.run, view.setup.reference
        if leg is run.legs[-1]:
            c, s = float(np.cos(run.rest_heading_rad)), float(np.sin(run.rest_heading_rad))
            tip = run.rest_x_mm + mount.ahead_mm * c - mount.aside_mm * s
            return (run.rest_x_mm, run.rest_y_mm), (tip, run.rest_y_mm + mount.ahead_mm * s + mount.aside_mm * c)
        axle = float(run.trace.x_mm[leg.over]), float(run.trace.y_mm[leg.over])
        return axle, (float(x[leg.over]), float(y[leg.over]))

    def _scatters(self) -> dict[int, Scatter]:
        """What is known of where the legs end, if it is known of this setup."""
        ends = self.session.adviser.leg_ends(self.session.setup)
        if ends is None:
            return {}
        return {i: _scatter(end) for i, end in enumerate(ends.legs) if end.reached > 1}

    # --- editing

    def _grip(self, leg: int) -> None:
        """What a mark is dragged along is the way as it was when it was taken hold of."""
        view = self.session.view
        self._way = None
        if view is not None and leg < len(view.run.legs):
            made = view.run.legs[leg]
            self._way = leg_way(view.setup, view.run, made), made.ended_by

    def _on_dragged(self, leg: int, at: QPointF, free: bool, settled: bool) -> None:
        if self._way is None or self._way[0].leg != leg:
            return
        way, ended_by = self._way
        setup = dragged(self.session.setup, way, ended_by, at.x(), at.y(), free)
        self._edit(leg, setup, "drag")
        self.hand.set_words("" if settled else _told(setup, leg))
        if settled:
            self.session.settle()

    def _on_nudged(self, leg: int, steps: float) -> None:
        view = self.session.view
        ended_by = view.run.legs[leg].ended_by if view is not None and leg < len(view.run.legs) else 0
        self._edit(leg, nudged(self.session.setup, leg, ended_by, steps), "nudge")

    def _edit(self, leg: int, setup: Setup, how: str) -> None:
        self.session.edit(f"leg {leg + 1} ends {_told(setup, leg)}", setup, f"{how} leg {leg}")


def _told(setup: Setup, leg: int) -> str:
    return all_ends(legs_of(setup.program)[leg])


def _scatter(end: LegEnd) -> Scatter:
    large, small, turned = end.axes
    return Scatter(end.middle, (ELLIPSE_SIGMAS * large, ELLIPSE_SIGMAS * small), turned, end.heading_rad)
