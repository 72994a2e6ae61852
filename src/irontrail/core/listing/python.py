"""A listing in Python for small controllers: one file that runs alike on any Python."""

import ast
from collections import deque
from collections.abc import Iterator

from irontrail.core.listing.beside import READS, Beside, beside
from irontrail.core.listing.parts import Function, Listing
from irontrail.core.listing.robot import PLAIN, Asked, Options, asked, robot_says
from irontrail.core.listing.source import Source, source
from irontrail.core.setup import Setup

RULE_MARK = "  #@"


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
    """A setup's program in Python."""
    made = source(setup)
    names = {each.name for each in made.memory}
    lines = [f"# {line}".rstrip() for line in robot_says(setup, made)]
    lines += ["", "import time", "", "# --- The numbers, as on screen", ""]
    more = beside(setup, made, options)
    numbers = [*made.numbers, made.loop_s, *more.numbers]
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
    lines += ["", *_main(made, options, more)]
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
    waiting: deque[ast.AST] = deque([ast.parse("\n".join(function.lines).replace("return", "pass;"))])
    found: dict[str, None] = {}
    # As `ast.walk` goes, but from statement to statement: what they calculate gives nothing a value.
    while waiting:
        node = waiting.popleft()
        waiting += [*getattr(node, "body", ()), *getattr(node, "orelse", ())]
        if isinstance(node, ast.Assign):
            found |= {target.id: None for target in node.targets[:1] if isinstance(target, ast.Name)}
    return list(found)


def _main(made: Source, options: Options, more: Beside) -> list[str]:
    """Calibrating, the loop paced by the clock, the log and the stop."""
    lines = [*_calibrating(options, more), "", ""] if more.sensors else []
    lines += ["def run():", "    # The loop: paced by the clock, so that it does not drift."]
    lines += ["    calibrate()"] if more.sensors else []
    lines += ["    log = []"] if options.log else []
    lines += ["    begun = clock()", "    loops = 0", "    while stopped == 0:", "        now = clock() - begun"]
    lines += ["        if button() == 1 and now > 0.5:", "            break"] if options.stop_button else []
    reads = READS | ({name: name for name in more.lights} if options.log else {})
    step = [f"{name} = {READS[name]}" for name in more.lights] if options.log else []
    step += [f"decide({', '.join(reads[name] for name in made.inputs)})", "set_powers(left_power, right_power)"]
    if options.log:
        step += ["if len(log) < LOG_ROWS:", f"    log.append(({', '.join(more.columns.values())}))"]
    if made.decision_loops > 1:
        lines += ["        if loops % DECISION_LOOPS == 0:", *(f"            {line}" for line in step)]
    else:
        lines += [f"        {line}" for line in step]
    lines += ["        loops = loops + 1", "        while clock() - begun < loops * LOOP_TIME:", "            pass"]
    lines += ["    set_powers(0.0, 0.0)"]
    if options.log:
        lines += [f'    print("{",".join(more.columns)}")', "    for row in log:"]
        lines += ['        print(",".join(str(value) for value in row))']
    return [*lines, "", "", 'if __name__ == "__main__":', "    run()"]


def _calibrating(options: Options, more: Beside) -> list[str]:
    sensors = [(each.end, each.raw) for each in more.sensors]
    lines = ["def calibrate():", "    # What is read on the line and on the mat, before the start."]
    lines.append(f"    global {', '.join(f'DARK{end}, BRIGHT{end}' for end, _ in sensors)}")
    seen = [f"low{end} = high{end} = {raw}" for end, raw in sensors]
    if options.calibrate == "by hand":
        for name, over in more.over:
            lines += [f'    print("Hold it over {over} and press the button.")', "    while button() == 0:",
                      "        pass"]  # fmt: skip
            lines += [f"    {name.lower()}{end} = {raw}" for end, raw in sensors]
            lines += ["    while button() == 1:", "        pass"]
    else:
        lines += [f"    {line}" for line in seen]
        lines += ["    for way, length in ((1.0, 1.0), (-1.0, 2.0), (1.0, 1.0)):", "        begun = clock()",
                  "        set_powers(-SWEEP_POWER * way, SWEEP_POWER * way)",
                  "        while clock() - begun < length * SWEEP_TIME:"]  # fmt: skip
        for end, raw in sensors:
            lines += [f"            seen{end} = {raw}", f"            low{end} = min(low{end}, seen{end})",
                      f"            high{end} = max(high{end}, seen{end})"]  # fmt: skip
        lines.append("    set_powers(0.0, 0.0)")
    for each in more.sensors:
        lines += [f"    if abs({each.bright} - {each.dark}) >= 1.0:", f"        DARK{each.end} = {each.dark}",
                  f"        BRIGHT{each.end} = {each.bright}", "    else:",
                  f'        print("{each.no_difference}")']  # fmt: skip
    return lines
