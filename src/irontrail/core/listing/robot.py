"""What a listing asks of the team's own controller, and what it says of the robot at its top."""

from dataclasses import dataclass
from typing import Literal

from irontrail.core.listing.parts import in_a_comment
from irontrail.core.listing.source import Source
from irontrail.core.setup import Setup


@dataclass(frozen=True)
class Options:
    """What a listing does beside driving: calibrate at the start, keep a log, stop on the button."""

    calibrate: Literal["no", "by a sweep", "by hand"] = "no"
    log: bool = False
    wheels: bool = False
    stop_button: bool = False


PLAIN = Options()


@dataclass(frozen=True)
class Asked:
    """A function that the team fills in: its name, what it takes, what it is to do, and what it gives until it is."""

    name: str
    takes: tuple[str, ...]
    says: tuple[str, ...]
    gives: str = ""


def asked(setup: Setup, made: Source, options: Options) -> list[Asked]:
    """The functions that the team fills in, as few as this program can do with."""
    found = [Asked("read_light", (), (_light_says(setup, "first"),), "0.0")]
    if "second_light" in made.inputs:
        found.append(Asked("read_second_light", (), (_light_says(setup, "second"),), "0.0"))
    wiring = setup.robot.wiring
    sides = (
        ("left", wiring.left_output, wiring.left_mirrored), ("right", wiring.right_output, wiring.right_mirrored),
    )  # fmt: skip
    says = [
        f"{side} wheel: output {output}, {'mirrored: set it to minus its power' if mirrored else 'as it is'}"
        for side, output, mirrored in sides
    ]
    found.append(Asked("set_powers", ("left", "right"), ("Set both motors, -100 to 100, forward positive.", *says)))
    if "left_rolled" in made.inputs or "right_rolled" in made.inputs or (options.log and options.wheels):
        per_turn = f"One turn of a wheel is {3.14159265 * setup.robot.drive.wheel_diameter_mm:.1f} mm."
        for side in ("left", "right"):
            found.append(
                Asked(
                    f"{side}_rolled",
                    (),
                    (f"How far the {side} wheel has rolled by its counts, in mm.", per_turn),
                    "0.0",
                )
            )
    found.append(Asked("clock", (), ("Seconds, with their thousandths, going on evenly.",), "time.time()"))
    if "pressed" in made.inputs or options.stop_button or (options.calibrate == "by hand" and made.calibrates):
        found.append(Asked("button", (), ("1 while the button is pressed, else 0.",), "0"))
    if "at_finish" in made.inputs:
        found.append(
            Asked("at_finish", (), ("1 once the robot is at the mat's finish, else 0: if somebody can tell it.",), "0")
        )
    return found


def _light_says(setup: Setup, which: str) -> str:
    alone = setup.seen_by("second" if which == "second" else "first")
    sensor, wiring = alone.light.sensor, setup.robot.wiring
    where = (
        f" (input {wiring.first_input if which == 'first' else wiring.second_input})"
        if setup.second is not None
        else ""
    )
    what = f"What the {which + ' ' if setup.second is not None else ''}light sensor gives now{where}: "
    if sensor.names_colours:
        return what + ", ".join(f"{i} for {in_a_comment(named.name)}" for i, named in enumerate(sensor.palette)) + "."
    if sensor.scale == "counts":
        return what + f"counts from 0 to {sensor.highest_count}."
    return what + "percent, from 0 to 100."


def robot_says(setup: Setup, made: Source) -> list[str]:
    """The first lines: what this is a program of."""
    edge = "both edges" if setup.program.astride else f"the {setup.program.edge} edge"
    return [
        in_a_comment(made.title),
        f"Follows {edge} of a {setup.program.line} line: {setup.program.steers_by}.",
        "Written by Iron Trail from the settings of this project; it decides as the run on screen does.",
    ]
