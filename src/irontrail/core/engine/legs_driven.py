"""Compiled: the record of the legs that were driven, kept up with what is decided and what the judge follows."""

import numpy as np

from irontrail.core.compiled import compiled, inlined
from irontrail.core.control.legs import FINISH, FOLLOW, GOES_ON, WAIT
from irontrail.core.engine.judge import leave

# A leg as it was driven: the rows in which it began, came to its end, and gave way to the next (-1 where it did not);
# what ended it; the line it followed and from which place of it; how far each wheel had counted at its beginning and at
# its end, and how far the axle's middle had come.
LEG_DRIVEN = np.dtype(
    [(name, "i8") for name in ("begun", "ended", "over", "ended_by", "line")]
    + [(name, "f8") for name in ("met_s", "left_from", "right_from", "way_from", "left_to", "right_to", "way_to")]
)
# Whether a leg that begins follows a line: none, the one that the robot is on, or one that it meets.
NOT_FOLLOWED, ON_ALONG, ANEW = range(3)


@compiled
def start_trip(p, work):
    """Nothing of the trip is driven yet; the robot follows its line from the start if its first leg does."""
    trip = work.trip
    if p.controller.leg_count > 0:
        work.judge.tracked = p.on_line
        if not (p.on_line and p.controller.legs[0].kind == FOLLOW):
            leave(work.judge)
    trip.leg, trip.begun, trip.braking, trip.ended, trip.done = 0, 0, 0, GOES_ON, 0
    work.decision.ended = GOES_ON
    for i in range(p.controller.leg_count):
        work.legs[i].begun = work.legs[i].ended = work.legs[i].over = -1


@compiled
def follow_legs(p, work, row, leg, braked):
    """Keep judge and record up with what was decided in a row; `leg` was driven before it, and maybe `braked`.

    Says whether a leg begins to follow a line, and which.
    """
    trip, judged, plant = work.trip, work.judge, work.plant
    if trip.ended != GOES_ON and braked == 0:
        end_leg(work.legs[leg], plant, row, trip.ended)
        leave(judged)
    begun = work.legs[trip.leg]
    if begun.begun >= 0:
        return NOT_FOLLOWED
    if trip.leg != leg:
        work.legs[leg].over = row
    asked = p.controller.legs[trip.leg]
    begun.begun, begun.ended_by, begun.line, begun.met_s = row, GOES_ON, -1, 0.0
    begun.left_from, begun.right_from, begun.way_from = plant.left_rolled, plant.right_rolled, plant.rolled
    judged.arrived = np.inf
    judged.whole = 1 if trip.leg + 1 == p.controller.leg_count and finish_end(asked) != GOES_ON else 0
    if asked.kind == FOLLOW:
        judged.edge_sign = asked.edge_sign
        return ON_ALONG if judged.tracked else ANEW
    leave(judged)
    # Standing, it stays on its line.
    if asked.kind != WAIT:
        judged.tracked = 0
    return NOT_FOLLOWED


@inlined
def end_leg(leg, plant, row, ended_by):
    """A leg has come to its end."""
    leg.ended, leg.ended_by = row, ended_by
    leg.left_to, leg.right_to, leg.way_to = plant.left_rolled, plant.right_rolled, plant.rolled


@inlined
def finish_end(asked):
    """The number of a leg's end at the mat's finish, from 1; GOES_ON if it has none."""
    found = GOES_ON
    for i in range(asked.end_count):
        if asked.ends[i].kind == FINISH:
            found = i + 1
    return found
