"""A listing in Python for small controllers: one file that runs alike on any Python."""

import ast
from collections.abc import Iterator
from dataclasses import dataclass

from irontrail.core.listing.parts import Function
from irontrail.core.listing.robot import PLAIN, Asked, Options, asked, robot_says
from irontrail.core.listing.source import Source, source
from irontrail.core.project import Setup

RULE_MARK = "  #@"


@dataclass(frozen=True)
class Listing:
    """A listing as text; `marks` tells which line decides: (line from 0, "rule" or "leg", its number)."""

    text: str
    marks: tuple[tuple[int, str, int], ...]

    @property
    def lines(self) -> list[str]:
        return self.text.splitlines()


def marked(lines: list[str]) -> Listing:
    """A listing of lines that carry marks at their ends."""
    plain, marks = [], []
    for i, line in enumerate(lines):
        text, _, mark = line.partition(RULE_MARK)
        if mark:
            leg = mark.startswith("leg ")
            marks.append((i, "leg" if leg else "rule", int(mark.removeprefix("leg "))))
        plain.append(text.rstrip())
    return Listing("\n".join(plain) + "\n", tuple(marks))


def python(setup: Setup, options: Options = PLAIN) -> Listing:
    """A setup's program in Python; IronTrailError if it cannot be listed."""
    made = source(setup)
    names = {each.name for each in made.memory}
    lines = [f"# {line}".rstrip() for line in robot_says(setup, made)]
    lines += ["", "import time", "", "# --- The numbers, as on screen", ""]
    numbers = [*made.numbers, made.loop_s]
    width = max(len(f"{each.name} = {each.value!r}") for each in numbers)
    lines += [f"{f'{each.name} = {each.value!r}':{width}}  # {each.says}" for each in numbers]
    if made.decision_loops > 1:
        lines.append(f"DECISION_LOOPS = {made.decision_loops}  # loops for a decision")
    lines += ["", "# --- What your controller does: fill these in", ""]
    for each in asked(setup, made, options):
        lines += _asked(each)
    lines += ["", "# --- What is remembered from one decision to the next", ""]
    for variable in made.memory:
        says = f"  # {variable.says}" if variable.says else ""
        lines.append(f"{variable.name} = {variable.begins!r}{says}")
    lines += ["", "", "# --- The program", ""]
    for function in made.functions:
        lines += ["", *_function(function, names)]
    lines += ["", *_main(setup, made, options)]
    return marked(lines)


def _asked(each: Asked) -> Iterator[str]:
    yield ""
    yield f"def {each.name}({', '.join(each.takes)}):"
    yield from (f"    # {line}" for line in each.says)
    yield f"    return {each.gives}" if each.gives else "    pass"
    yield ""


def _function(function: Function, memory: set[str]) -> Iterator[str]:
    yield f"def {function.name}({', '.join(function.takes)}):"
    yield f"    # {function.says}"
    changed = [name for name in assigned(function) if name in memory]
    if changed:
        yield f"    global {', '.join(changed)}"
    yield from (f"    {line}" for line in function.lines)
    yield ""


def assigned(function: Function) -> list[str]:
    """The names that a function's lines give a value, in the order in which they first do."""
    tree = ast.parse("\n".join(function.lines).replace("return", "pass;"))
    found = [node.targets[0].id for node in ast.walk(tree) if isinstance(node, ast.Assign)]  # type: ignore[attr-defined]
    return list(dict.fromkeys(found))


def _main(setup: Setup, made: Source, options: Options) -> list[str]:
    """Calibrating, the loop paced by the clock, the log and the stop."""
    reads = {
        "light": "read_light()", "second_light": "read_second_light()", "now": "now", "left_rolled": "left_rolled()",
        "right_rolled": "right_rolled()", "pressed": "button()", "at_finish": "at_finish()",
    }  # fmt: skip
    given = ", ".join(reads[name] for name in made.inputs)
    lines: list[str] = []
    if options.calibrate != "no" and made.calibrates:
        lines += _calibrating(setup, options)
    lines += ["", "def run():", "    # The loop: paced by the clock, so that it does not drift."]
    lines += ["    calibrate()"] if options.calibrate != "no" and made.calibrates else []
    lines += ["    log = []"] if options.log else []
    lines += ["    begun = clock()", "    loops = 0", "    while stopped == 0:", "        now = clock() - begun"]
    lines += ["        if button() == 1 and now > 0.5:", "            break"] if options.stop_button else []
    step = [f"decide({given})", "set_powers(left_power, right_power)"]
    if options.log:
        rolled = ", left_rolled(), right_rolled()" if options.wheels else ""
        step.append(f"log.append((now, {reads['light']}, left_power, right_power{rolled}))")
    if made.decision_loops > 1:
        lines += ["        if loops % DECISION_LOOPS == 0:", *(f"            {line}" for line in step)]
    else:
        lines += [f"        {line}" for line in step]
    lines += ["        loops = loops + 1", "        while clock() - begun < loops * LOOP_TIME:", "            pass"]
    lines += ["    set_powers(0.0, 0.0)"]
    if options.log:
        head = "time_s,light,left_power,right_power" + (",left_mm,right_mm" if options.wheels else "")
        lines += [f'    print("{head}")', "    for row in log:", '        print(",".join(str(value) for value in row))']
    return [*lines, "", "", 'if __name__ == "__main__":', "    run()"]


def _calibrating(setup: Setup, options: Options) -> list[str]:
    which = [""] if "second_light" not in source(setup).inputs else ["", "_2"]
    reads = {"": "read_light()", "_2": "read_second_light()"}
    raws = {
        end: f"{reads[end]} * RAW_PER_COUNT{end}" if seen.light.sensor.scale == "counts" else reads[end]
        for end, seen in zip(which, (setup.seen_by(name) for name in setup.sensors), strict=False)
    }
    lines = ["", "def calibrate():", "    # What is read on the line and on the mat, before the start."]
    lines.append(f"    global {', '.join(f'DARK{end}, BRIGHT{end}' for end in which)}")
    if options.calibrate == "by hand":
        for name, where in (("DARK", "the line"), ("BRIGHT", "the mat")):
            lines += [
                f'    print("Hold it over {where} and press the button.")',
                "    while button() == 0:",
                "        pass",
            ]
            lines += [f"    {name}{end} = {raws[end]}" for end in which]
            lines += ["    while button() == 1:", "        pass"]
        return lines
    high = {end: f"high{end}" for end in which}
    lines += [f"    low{end} = high{end} = {raws[end]}" for end in which]
    lines += ["    for way, length in ((1.0, 0.4), (-1.0, 0.8), (1.0, 0.4)):", "        begun = clock()",
              "        set_powers(-20.0 * way, 20.0 * way)", "        while clock() - begun < length:"]  # fmt: skip
    for end in which:
        lines += [f"            seen{end} = {raws[end]}", f"            low{end} = min(low{end}, seen{end})",
                  f"            high{end} = max(high{end}, seen{end})"]  # fmt: skip
    lines.append("    set_powers(0.0, 0.0)")
    for end, name in zip(which, setup.sensors, strict=False):
        dark = setup.seen_by(name).light.sensor.reads_high_on == "dark"
        low, top = ("BRIGHT", "DARK") if dark else ("DARK", "BRIGHT")
        lines += [f"    {low}{end} = low{end}", f"    {top}{end} = {high[end]}"]
    return lines
