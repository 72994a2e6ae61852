"""PID steering: what the error is, what it has added up to, and how fast it changes."""

from dataclasses import dataclass
from math import exp
from typing import TYPE_CHECKING, Annotated, Any

from irontrail.core.quantity import Part, Quantity, quantities
from irontrail.core.steering.law import (
    D_SHARE,
    I_SHARE,
    OWN_MEMORY,
    P_SHARE,
    DialRange,
    Gains,
    Handle,
    Law,
    PerLoop,
    Sentence,
    Tuned,
)
from irontrail.core.steering.listed import Number, Steps, Variable
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import (
    SPEED_DIAL,
    handle_away,
    held,
    moved_slope,
    nudged_slope,
    number,
    slope_handles,
    slope_powers,
    to_dark,
)

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

# What it remembers of its own.
INTEGRAL, DERIVATIVE, LAST_ERROR, BEGUN = range(OWN_MEMORY, OWN_MEMORY + 4)


@dataclass(frozen=True)
class Pid(Part):
    """Gains per second; steer = kp e + ki * integral of e dt + kd * filtered de/dt.

    The integral's share of the steer is held within `integral_limit` (anti-windup by clamping); the derivative goes
    through a first-order filter of time constant `filter_s`, since each step of a rounded reading would otherwise
    kick the wheels.
    """

    kp: Annotated[
        float,
        Quantity(
            "proportional gain",
            "% per unit",
            0.0,
            20.0,
            0.02,
            1.0,
            2,
            says="How hard it steers for each unit that the reading is off the target now.",
        ),
    ] = 0.8
    ki: Annotated[
        float,
        Quantity(
            "integral gain",
            "per s",
            0.0,
            100.0,
            0.05,
            1.0,
            2,
            says="How hard it steers for having been off to the same side for long.",
        ),
    ] = 0.2
    kd: Annotated[
        float,
        Quantity(
            "derivative gain",
            "s",
            0.0,
            5.0,
            0.002,
            1.0,
            3,
            says="How hard it steers against a reading that is changing quickly.",
        ),
    ] = 0.03
    filter_s: Annotated[
        float,
        Quantity(
            "derivative filter",
            "ms",
            0.0,
            0.5,
            0.002,
            1000.0,
            says="Over how long the change of the reading is smoothed, so that noise does not shake the wheels.",
        ),
    ] = 0.02
    integral_limit: Annotated[
        float,
        Quantity(
            "integral limit", "%", 0.0, 200.0, 1.0, says="The most that the integral part may add to the steering."
        ),
    ] = 40.0


@dataclass(frozen=True)
class LoopGains:
    """The numbers of a hand-written loop: steer = kp e + ki * sum of e + kd * (e - last e)."""

    kp: float
    ki: float
    kd: float


def per_loop(pid: Pid, period_s: float) -> LoopGains:
    """What a loop that adds up errors and takes plain differences needs for the same gains, deciding each `period_s`.

    >>> per_loop(Pid(kp=1.0, ki=0.5, kd=0.06), 0.01)
    LoopGains(kp=1.0, ki=0.005, kd=6.0)
    """
    return LoopGains(pid.kp, pid.ki * _adding(period_s), pid.kd * _taking(period_s))


def _adding(period_s: float) -> float:
    """How many times the integral gain a loop has that adds up one error each time."""
    return period_s


def _taking(period_s: float) -> float:
    """How many times the derivative gain a loop has that takes the change since the last time."""
    return 1.0 / period_s


def _step(law: Any, reading: float, target: float, memory: Any) -> tuple[float, float, float]:
    """The first error has no derivative yet."""
    error = reading - target
    if memory[BEGUN] > 0.0:
        slope = (error - memory[LAST_ERROR]) / law.period
        memory[DERIVATIVE] += (slope - memory[DERIVATIVE]) * law.derivative_share
    memory[LAST_ERROR], memory[BEGUN] = error, 1.0
    memory[INTEGRAL] += error * law.period
    if law.ki > 0.0:
        most = law.integral_limit / law.ki
        memory[INTEGRAL] = min(max(memory[INTEGRAL], -most), most)
    memory[P_SHARE] = law.kp * error
    memory[I_SHARE] = law.ki * memory[INTEGRAL]
    memory[D_SHARE] = law.kd * memory[DERIVATIVE]
    return 0.0, memory[P_SHARE] + memory[I_SHARE] + memory[D_SHARE], 0.0


def _packed(law: Pid, period_s: float) -> tuple[float, ...]:
    share = 1.0 - exp(-period_s / law.filter_s) if law.filter_s > 0.0 else 1.0
    return law.kp, law.ki, law.kd, share, law.integral_limit, period_s


def _words(program: "Program") -> tuple[Sentence, ...]:
    loop, sign = per_loop(program.pid, program.decision_time_s), "" if steer_sign(program) > 0 else "−"
    terms = f"{number(loop.kp)} × error + {number(loop.ki)} × sum of errors + {number(loop.kd)} × change of error"
    return (Sentence(f"Steer = {sign}({terms}).", 0),)


def _handles(program: "Program") -> tuple[Handle, ...]:
    away = handle_away(program, program.pid.kp)
    return slope_handles(program, to_dark(program, away) if program.aim + away > program.reach[1] - 2.0 else away)


def _gains(program: "Program") -> Gains:
    pid = program.pid
    return Gains(pid.kp, pid.ki, pid.kd, pid.filter_s)


def _listed(program: "Program") -> Steps:
    law, ranges, period = program.pid, quantities(Pid), program.decision_time_s
    _, _, _, share, _, _ = _packed(law, period)
    numbers = [Number.of(name.upper(), ranges[name], getattr(law, name)) for name in ("kp", "ki", "kd")]
    numbers += [
        Number.of("INTEGRAL_LIMIT", ranges["integral_limit"], law.integral_limit),
        Number("DERIVATIVE_SHARE", share, "share of each new change of error, by filter and time between decisions"),
        Number("PERIOD", period, "time between decisions, s"),
    ]
    lines = [
        "if begun == 1:",
        "    slope = (error - last_error) / PERIOD",
        "    derivative = derivative + (slope - derivative) * DERIVATIVE_SHARE",
        "last_error = error",
        "begun = 1",
        "integral = integral + error * PERIOD",
    ]
    if law.ki > 0.0:
        lines += [
            "most = INTEGRAL_LIMIT / KI",
            "integral = min(max(integral, -most), most)",
        ]
    lines += ["steer = KP * error + KI * integral + KD * derivative  #@0"]
    memory = (
        Variable("integral", 0.0, "the errors added up, each for its time"),
        Variable("derivative", 0.0, "how fast the error changes, smoothed"),
        Variable("last_error", 0.0),
        Variable("begun", 0, "0 before the first error"),
    )
    return Steps(tuple(numbers), tuple(lines), memory)


PID = Law(
    name="PID",
    field="pid",
    settings=Pid,
    record=tuple((name, "f8") for name in ("kp", "ki", "kd", "derivative_share", "integral_limit", "period")),
    packed=_packed,
    step=_step,
    gives="steer",
    # A slope, and the kick that a derivative gives to a sudden change.
    says="Steer by how far off it is, for how long, and how quickly that changes.",
    shape=((0.0, 0.0), (0.35, 0.32), (0.42, 0.85), (0.5, 0.45), (0.72, 0.68), (1.0, 1.0)),
    words=_words,
    handles=_handles,
    moved=moved_slope,
    nudged=nudged_slope,
    powers=slope_powers,
    dials=(
        SPEED_DIAL,
        DialRange("pid.kp", 0.0, 3.0),
        DialRange("pid.ki", 0.0, 3.0),
        DialRange("pid.kd", 0.0, 0.2),
    ),
    tuned=(
        Tuned("speed", 20.0, 100.0),
        Tuned("pid.kp", 0.1, 2.5),
        Tuned("pid.ki", 0.0, 3.0),
        Tuned("pid.kd", 0.0, 0.15),
    ),
    memory=4,
    gain="kp",
    terms=("proportional", "integral", "derivative"),
    gains=_gains,
    per_loop=(
        PerLoop(
            "pid.ki",
            Quantity(
                "times the sum of errors",
                "",
                0.0,
                2.0,
                0.0005,
                1.0,
                4,
                says="The integral gain as a program writes it that adds up one error each loop.",
            ),
            _adding,
        ),
        PerLoop(
            "pid.kd",
            Quantity(
                "times the change of error",
                "",
                0.0,
                5000.0,
                0.1,
                1.0,
                2,
                says="The derivative gain as a program writes it that takes the change since the last loop.",
            ),
            _taking,
        ),
    ),
    listed=_listed,
    rescaled=lambda law, _moved, times: held(law, kp=law.kp * times, ki=law.ki * times, kd=law.kd * times),
)
