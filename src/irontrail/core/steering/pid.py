"""PID steering: what the error is, what it has added up to, and how fast it changes."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class Pid(Part):
    """Gains per second; steer = kp e + ki * integral of e dt + kd * filtered de/dt.

    The integral's share of the steer is held within `integral_limit` (anti-windup by clamping); the derivative goes
    through a first-order filter of time constant `filter_s`, since each step of a rounded reading would otherwise
    kick the wheels.
    """

    kp: Annotated[float, Quantity("proportional gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2)] = 0.8
    ki: Annotated[float, Quantity("integral gain", "per s", 0.0, 100.0, 0.05, 1.0, 2)] = 0.2
    kd: Annotated[float, Quantity("derivative gain", "s", 0.0, 5.0, 0.002, 1.0, 3)] = 0.03
    filter_s: Annotated[float, Quantity("derivative filter", "ms", 0.0, 0.5, 0.002, 1000.0)] = 0.02
    integral_limit: Annotated[float, Quantity("integral limit", "%", 0.0, 200.0, 1.0)] = 40.0


@dataclass(frozen=True)
class PerLoop:
    """The numbers of a hand-written loop: steer = kp e + ki * sum of e + kd * (e - last e)."""

    kp: float
    ki: float
    kd: float


def per_loop(pid: Pid, loop_time_s: float) -> PerLoop:
    """What a loop that adds up errors and takes plain differences needs for the same gains.

    >>> per_loop(Pid(kp=1.0, ki=0.5, kd=0.06), 0.01)
    PerLoop(kp=1.0, ki=0.005, kd=6.0)
    """
    return PerLoop(pid.kp, pid.ki * loop_time_s, pid.kd / loop_time_s)
