"""The compiled engine: one run from start to rest, in four parts that know nothing of each other.

Each loop of the program the judge says how the run stands; where a decision is due, `sense` gives what the sensor gave
`delay` ago and `control_step` turns that into powers; `plant_step` drives at these, exactly, to the instant of the next
sample and on to the next loop. Plain arrays in, plain arrays out; nothing here allocates per loop, and the
interpreter's lock is released, so that runs can share the machine's cores.
"""

import numpy as np

from irontrail.core.compiled import compiled, inlined, unowned
from irontrail.core.control.legs import GOES_ON
from irontrail.core.control.step import control_step
from irontrail.core.engine.judge import (
    FINISHED,
    RUNNING,
    STOPPED,
    TIME_OUT,
    begin,
    driven,
    follow,
    meet,
    nearest_line,
    outcome_at,
    resume,
    see,
    set_back,
)
from irontrail.core.engine.legs_driven import (
    ANEW,
    NOT_FOLLOWED,
    ON_ALONG,
    end_leg,
    finish_end,
    follow_legs,
    start_trip,
)
from irontrail.core.engine.place import route_heading, wrapped
from irontrail.core.engine.plant import (
    coast,
    make_stride,
    plant_step,
    point_of,
    put_down,
    stand,
)
from irontrail.core.engine.samples import first_looks, look_at_once, look_on, sense_all, take_sample
from irontrail.core.steering.law import D_SHARE, I_SHARE, P_SHARE

# Progress and finish are looked at this often where a loop is longer, and a slow sensor's light this often.
WATCH_S = 0.01
NODE_S = 0.001


@compiled
def simulate(parameters, field, second_field, lines, all_x, all_y, all_headings, all_reach, states, trace, summary):
    """One run; fills `trace` and `summary`.

    Parameters
    ----------
    parameters : ndarray of PARAMETERS, shape (1,)
    field, second_field : ndarray, shape (channels, rows, columns), float32
        As each sensor sees the mat; the second one's is not looked at without one.
    lines : ndarray of LINE, shape (lines,)
        The one that the trial is about first; without a trip there is no other.
    all_x, all_y, all_headings, all_reach : ndarray, shape (n,)
        The points of all lines, one after the other.
    states : ndarray of STATE, shape (1,)
        Room to work in; whatever it held is lost. A record does not keep its array alive, so that all of them lie in
        arrays that the caller holds.
    trace : ndarray of ROW, shape (max_rows,)
    summary : ndarray of SUMMARY, shape (1,)
    """
    field, second_field = unowned(field), unowned(second_field)
    all_x, all_y = unowned(all_x), unowned(all_y)
    all_headings, all_reach = unowned(all_headings), unowned(all_reach)
    p, work = parameters[0], states[0]
    line = lines[0]
    first, last = line.first, line.first + line.count
    route_x, route_y = all_x[first:last], all_y[first:last]
    headings, reach = all_headings[first:last], all_reach[first:last]
    plant, judged, timing, decision = work.plant, work.judge, work.timing, work.decision
    make_timing(p, timing)
    stand(plant, p.start_x, p.start_y, p.start_heading)
    x, y = point_of(p.plant, plant)
    begin(p.judge, line, judged, x, y, route_x, route_y, reach)
    first_looks(p, work, field, second_field)
    work.memory[:] = 0.0
    decision.second_raw_output = 0.0
    start_trip(p, work)

    # What is called with a plain 0 is compiled once more, for 0.
    zero = np.int64(0)
    skid, row, pulled = 0.0, zero, False
    # Loops until the program decides, until a sample is taken that is decided on, and the place of that in the ring:
    # counted, for to divide takes as long as to drive a stride.
    until_decided, until_sampled, place, kept = 0, -timing.late % p.decision_loops, zero, timing.late + 1
    while True:
        time = row * p.loop_time
        if time >= p.pull_time and not pulled:
            pulled = True
            pull(p, line, work, field, second_field, time, route_x, route_y, reach)
        outcome = outcome_at(p.judge, judged, time)
        decision.ended, followed = GOES_ON, judged.following
        if until_decided == 0:
            until_decided = p.decision_loops
            sense_all(p, work, place)
            leg, braked = work.trip.leg, work.trip.braking
            decide_on(p.controller, work, time)
            if decision.stopped and outcome == RUNNING:
                outcome = FINISHED if work.trip.done else STOPPED
            if p.controller.leg_count > 0:
                way = follow_legs(p, work, row, leg, braked)
                if way == ANEW:
                    x, y = point_of(p.plant, plant)
                    judged.line, point = nearest_line(lines, judged, all_x, all_y, all_headings, x, y, plant.heading)
                    line = lines[judged.line]
                    first, last = line.first, line.first + line.count
                    route_x, route_y = all_x[first:last], all_y[first:last]
                    headings, reach = all_headings[first:last], all_reach[first:last]
                    meet(p.judge, line, judged, point, x, y, time, route_x, route_y, reach)
                elif way == ON_ALONG:
                    resume(line, judged, time)
                if way != NOT_FOLLOWED:
                    work.legs[work.trip.leg].line, work.legs[work.trip.leg].met_s = judged.line, judged.met_s
        write(p, work, time, skid, followed, headings, trace[row])
        skid = plant.skid
        row += 1
        if outcome != RUNNING or row >= trace.size:
            break
        until_decided -= 1
        until_sampled = until_sampled - 1 if until_sampled > 0 else p.decision_loops - 1
        drive_loop(p, line, work, field, second_field, row, until_sampled == 0, place, route_x, route_y, reach)
        place = place + 1 if place + 1 < kept else zero

    result = summary[0]
    result.outcome = outcome if outcome != RUNNING else TIME_OUT
    result.end_time = judged.arrived if outcome == FINISHED and judged.arrived < np.inf and judged.whole else time
    result.legs = work.trip.leg + 1 if p.controller.leg_count > 0 else 0
    if result.legs > 0 and work.legs[work.trip.leg].ended < 0:
        # The finish ends a last leg that waits for it; whatever else ends a run leaves its leg without an end.
        came = finish_end(p.controller.legs[work.trip.leg]) if outcome == FINISHED else GOES_ON
        end_leg(work.legs[work.trip.leg], plant, row - 1, came)
    result.rows, result.skid, result.slide = row, plant.skid, plant.slide
    result.coast = coast(p.plant, timing.before_sample, plant)
    result.rest_x, result.rest_y, result.rest_heading = plant.x, plant.y, plant.heading
    x, y = point_of(p.plant, plant)
    see(line, judged, x, y, route_x, route_y, reach)
    result.end_angle = wrapped(plant.heading - route_heading(judged.place, headings))


@compiled
def make_timing(p, timing):
    """Lay out how each loop is driven."""
    loop = p.loop_time
    timing.late = int(p.delay / loop + 1e-9)
    rest = p.delay - timing.late * loop
    if rest < 1e-9 * loop:
        rest = 0.0
    timing.slow = p.sensor.lag > 0.0 or (p.sensors > 1 and p.second.lag > 0.0)
    timing.watched = loop > WATCH_S
    longest = NODE_S if timing.slow else WATCH_S
    timing.before_count = int(np.ceil((loop - rest) / longest - 1e-9))
    timing.after_count = int(np.ceil(rest / longest - 1e-9))
    make_stride(p.plant, timing.before_sample, (loop - rest) / timing.before_count)
    make_stride(p.plant, timing.after_sample, rest / max(timing.after_count, 1))


@compiled
def pull(p, line, work, field, second_field, time, route_x, route_y, reach):
    """A hand sets the robot down elsewhere; samples on their way are of the new place, but for a slow sensor's."""
    put_down(work.plant, p.pull_x, p.pull_y, p.pull_heading)
    x, y = point_of(p.plant, work.plant)
    set_back(line, work.judge, x, y, time, route_x, route_y, reach)
    places = 0 if work.timing.slow else work.timing.late + 1
    look_at_once(p.sensor, work.plant, work.first, field, places)
    if p.sensors > 1:
        look_at_once(p.second, work.plant, work.second, second_field, places)


@inlined
def decide_on(controller, work, time):
    """Let the program decide on what its sensor gives."""
    decision, plant = work.decision, work.plant
    reading, second, error, wanted_left, wanted_right, left, right, rule, stopped = control_step(
        controller, work.memory, work.trip, decision.raw_output, decision.second_raw_output, time, plant.left_rolled,
        plant.right_rolled, work.judge.arrived < np.inf and not work.judge.whole,
    )  # fmt: skip
    decision.ended = work.trip.ended
    decision.reading, decision.second_reading, decision.error = reading, second, error
    decision.rule, decision.stopped = rule, 1.0 if stopped else 0.0
    decision.wanted_left, decision.wanted_right, decision.left, decision.right = wanted_left, wanted_right, left, right


@inlined
def drive_loop(p, line, work, field, second_field, row, wanted, place, route_x, route_y, reach):
    """Drive from the loop before row `row` to that row; `wanted`: the sample for a place of the ring is decided on."""
    timing, plant, left, right = work.timing, work.plant, work.decision.left, work.decision.right
    at = (row - 1) * p.loop_time
    for later in (False, True):
        stride = timing.after_sample if later else timing.before_sample
        for _ in range(timing.after_count if later else timing.before_count):
            plant_step(p.plant, stride, plant, left, right)
            if timing.slow or timing.watched:
                at += stride.length
                if timing.watched:
                    x, y = point_of(p.plant, plant)
                    follow(p.judge, line, work.judge, x, y, at, route_x, route_y, reach)
                if timing.slow:
                    look_on(p.sensor, plant, work.first, field, stride.length)
                    if p.sensors > 1:
                        look_on(p.second, plant, work.second, second_field, stride.length)
        if not later and wanted:
            take_sample(p.sensor, plant, timing.slow, work.first, field, place)
            if p.sensors > 1:
                take_sample(p.second, plant, timing.slow, work.second, second_field, place)
    if not timing.watched:
        x, y = point_of(p.plant, plant)
        follow(p.judge, line, work.judge, x, y, row * p.loop_time, route_x, route_y, reach)


@inlined
def write(p, work, time, skid, followed, headings, row):
    """Put all that is known at a loop's beginning into a row of the trace; `skid` as it was a loop before.

    A row counts as following if it was come to so, or is the first of a leg that follows.
    """
    plant, judged, decision, sign = work.plant, work.judge, work.decision, p.controller.steer_sign
    legs = p.controller.leg_count > 0
    if legs:
        sign = p.controller.legs[work.trip.leg].steer_sign
    row.time_s, row.x_mm, row.y_mm, row.heading_rad = time, plant.x, plant.y, plant.heading
    row.reading, row.error = decision.reading, decision.error
    row.steer = 0.5 * (decision.wanted_left - decision.wanted_right)
    row.left_power, row.right_power = decision.left, decision.right
    row.left_speed_mm_s, row.right_speed_mm_s = plant.left, plant.right
    row.progress_mm, row.edge_mm = driven(judged), judged.edge
    row.side = 1.0 if decision.error >= 0.0 else 0.0
    row.angle_rad = wrapped(plant.heading - route_heading(judged.place, headings))
    row.clipped = 1.0 if max(abs(decision.wanted_left), abs(decision.wanted_right)) > 100.0 else 0.0
    row.skidding = 1.0 if plant.skid > skid else 0.0
    row.rule, row.raw_output, row.margin = decision.rule, decision.raw_output, decision.margin
    row.p_term, row.i_term = sign * work.memory[P_SHARE], sign * work.memory[I_SHARE]
    row.d_term = sign * work.memory[D_SHARE]
    row.leg, row.ended_by = work.trip.leg + 1.0 if legs else 0.0, decision.ended
    row.following = max(followed, judged.following)
    row.second_raw_output, row.second_reading = decision.second_raw_output, decision.second_reading
