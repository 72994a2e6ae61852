"""Steering by a table: a sensor on either side of the line makes four cases, and each has its pair of powers."""

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, Any

from irontrail.core.quantity import Part, Quantity, quantities, value_at, with_value
from irontrail.core.steering.law import Law, Power, Sentence, Tuned
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.slope import held, number

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program


@dataclass(frozen=True)
class Case(Part):
    """The powers of both wheels in one case."""

    left: Annotated[
        float, Quantity("left wheel", "%", -100.0, 100.0, 1.0, says="The power of the left wheel in this case.")
    ]
    right: Annotated[
        float, Quantity("right wheel", "%", -100.0, 100.0, 1.0, says="The power of the right wheel in this case.")
    ]


@dataclass(frozen=True)
class Table(Part):
    """What is done with neither sensor on the line, with the left or the right one on it, and with both: a crossing."""

    neither: Case = Case(40.0, 40.0)
    left: Case = Case(5.0, 45.0)
    right: Case = Case(45.0, 5.0)
    both: Case = Case(40.0, 40.0)


# By field, in the order of their numbers: how each begins in words.
CASES = {
    "neither": "Neither sensor on the line",
    "left": "The left sensor on the line",
    "right": "The right sensor on the line",
    "both": "Both sensors on the line",
}
WHEELS = ("left", "right")


def _step(law: Any, case: float, _target: float, _memory: Any) -> tuple[float, float, float]:
    i = int(case)
    return case, law.left[i], law.right[i]


def _packed(table: Table, _period_s: float) -> tuple[Any, ...]:
    return tuple(tuple(getattr(getattr(table, case), wheel) for case in CASES) for wheel in WHEELS)


def _words(program: "Program") -> tuple[Sentence, ...]:
    return tuple(
        Sentence(f"{says}: left wheel {number(case.left)}, right wheel {number(case.right)}.", i)
        for i, (says, case) in enumerate((says, getattr(program.table, name)) for name, says in CASES.items())
    )


def _powers(program: "Program") -> tuple[Power, ...]:
    found = []
    for case, says in CASES.items():
        for wheel in WHEELS:
            path = f"table.{case}.{wheel}"

            def put(other: "Program", power: float, path: str = path) -> "Program":
                return with_value(other, path, power)

            found.append(Power(f"{says}: the {wheel} wheel's", value_at(program, path), None, None, put))
    return tuple(found)


def _speed(program: "Program") -> float:
    table = program.table
    return 0.25 * (table.left.left + table.left.right + table.right.left + table.right.right)


def _steer(program: "Program") -> float:
    table = program.table
    return 0.25 * (table.left.right - table.left.left + table.right.left - table.right.right)


def _with(program: "Program", speed: float, steer: float) -> "Program":
    """Both turns by a speed and a steer; straight on at that speed, over a crossing too."""
    # Wheels that turn off the line have a steer below 0.
    left = held(Case(0.0, 0.0), left=speed - steer, right=speed + steer)
    straight = Case(speed, speed)
    return replace(program, table=Table(straight, left, Case(left.right, left.left), straight))


def _listed(program: "Program") -> Steps:
    ranges, numbers, lines = quantities(Case), [], []
    for i, (name, says) in enumerate(CASES.items()):
        lines.append("else:" if i + 1 == len(CASES) else f"{'if' if i == 0 else 'elif'} value == {i}.0:")
        for wheel in WHEELS:
            number_name, label = f"{name.upper()}_{wheel.upper()}", f"{says[0].lower()}{says[1:]}: {wheel} wheel"
            value = getattr(getattr(program.table, name), wheel)
            numbers.append(Number.of(number_name, ranges[wheel], value, label))
            lines.append(f"    {wheel} = {number_name}  #@{i}")
    return Steps(tuple(numbers), tuple(lines))


TABLE = Law(
    name="table",
    field="table",
    settings=Table,
    record=(("left", "f8", (len(CASES),)), ("right", "f8", (len(CASES),))),
    packed=_packed,
    step=_step,
    gives="powers",
    says="One pair of powers for each of the four cases.",
    shape=((0.0, 0.5), (1.0, 0.5)),
    words=_words,
    handles=lambda _program: (),
    moved=lambda program, *_: program,
    powers=_powers,
    dials=(),
    tuned=(
        Tuned(
            "table.speed", 10.0, 90.0,
            Quantity("speed of the table", "%", 0.0, 100.0, 1.0, says="How fast all four cases drive, together."),
            _speed, lambda program, speed: _with(program, speed, _steer(program)),
        ),
        Tuned(
            "table.steer", 4.0, 80.0,
            Quantity("steer of the table", "%", 0.0, 100.0, 1.0, says="How hard both turns turn."),
            _steer, lambda program, steer: _with(program, _speed(program), steer),
        ),
    ),
    uses_target=False,
    both=_with,
    listed=_listed,
)  # fmt: skip
