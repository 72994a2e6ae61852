"""What can be grabbed on the steering curve, and what moving it does to the program."""

from irontrail.core.steering.law import Handle
from irontrail.core.steering.program import Program
from irontrail.core.steering.slope import held


def handles(program: Program) -> tuple[Handle, ...]:
    """All handles of a program's curve; the target's line itself is one more."""
    return program.chosen.handles(program)


def moved(program: Program, name: str, reading: float, power: float, alike: bool = True) -> Program:
    """The program after a handle has been put somewhere, in whole units; `alike`: both sides of it together."""
    reading, power = float(round(reading)), float(round(power))
    if name == "target":
        return held(program, target=reading) if program.arrangement == "one" else program
    return program.chosen.moved(program, name, reading, power, alike)


def nudged(program: Program, name: str, by_reading: float, by_power: float, alike: bool = True) -> Program:
    """The program after a handle has been moved by some units; a slope by some steps of its gain."""
    stepped = program.chosen.nudged(program, name, by_power, alike)
    if stepped is not None:
        return stepped
    handle = next(each for each in handles(program) if each.name == name)
    return moved(program, name, handle.reading + by_reading, handle.power + by_power, alike)
