"""A listing in C99: the same source, translated line by line."""

import ast
from collections.abc import Iterator
from re import sub

from irontrail.core.errors import IronTrailError
from irontrail.core.listing.beside import READS, Beside, beside
from irontrail.core.listing.parts import Function, Listing
from irontrail.core.listing.python import RULE_MARK, assigned, marked
from irontrail.core.listing.robot import PLAIN, Asked, Options, asked, robot_says
from irontrail.core.listing.source import Source, source
from irontrail.core.setup import Setup

# Parameters that are whole numbers.
WHOLE = ("pressed", "at_finish", "turned", "number")
_OPERATORS: dict[type, str] = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.GtE: ">=", ast.Gt: ">", ast.LtE: "<=", ast.Lt: "<",
    ast.Eq: "==", ast.NotEq: "!=", ast.And: "&&", ast.Or: "||", ast.USub: "-",
}  # fmt: skip
_CALLS = {"min": "fminf", "max": "fmaxf", "abs": "fabsf"}


def c99(setup: Setup, options: Options = PLAIN, team: str = "", double: bool = False) -> Listing:
    """A setup's program in C99, with `float`, or `double`; `team` takes the place of the functions that it asks for."""
    made = source(setup)
    more = beside(setup, made, options)
    lines = ["/*", *(f" * {line}".rstrip() for line in robot_says(setup, made)), " */", "", "#include <math.h>"]
    lines += ["#include <stdio.h>"] if options.log or more.sensors else []
    lines += ["", "/* --- The numbers, as on screen */", ""]
    numbers = [*made.numbers, made.loop_s, *more.numbers]
    read = {"DARK", "BRIGHT", "DARK_2", "BRIGHT_2"} if more.sensors else set()
    fixed = [
        f"#define {each.name} {each.value if isinstance(each.value, int) else _number(each.value)}" for each in numbers
    ]
    width = max(len(line) for line in fixed)
    for line, each in zip(fixed, numbers, strict=True):
        if each.name in read:
            line = f"static float {each.name} = {_number(each.value)};"
        lines.append(f"{line:{width}}  /* {each.says} */")
    if made.decision_loops > 1:
        lines.append(f"#define DECISION_LOOPS {made.decision_loops}  /* loops for a decision */")
    lines += ["", "/* --- What your controller does: fill these in */", ""]
    if team:
        lines += team.splitlines()
    else:
        for wanted in asked(setup, made, options):
            lines += _asked(wanted)
    lines += ["", "/* --- What is remembered from one decision to the next */", ""]
    whole = {each.name for each in made.memory if isinstance(each.begins, int)}
    for variable in made.memory:
        kind = "int" if variable.name in whole else "float"
        says = f"  /* {variable.says} */" if variable.says else ""
        begins = str(variable.begins) if kind == "int" else _number(variable.begins)
        lines.append(f"static {kind} {variable.name} = {begins};{says}")
    lines += ["", "/* --- The program */"]
    names = {each.name for each in made.memory}
    returning = {function.name: function.whole for function in made.functions}
    for function in made.functions:
        lines += ["", *_Printer(function, names, whole, returning).printed()]
    if not team:
        lines += ["", *_main(made, options, more)]
    listing = marked(lines)
    return _doubled(listing) if double else listing


def _number(value: float) -> str:
    text = repr(float(value))
    return f"{text}f" if value >= 0.0 else f"({text}f)"


def _doubled(listing: Listing) -> Listing:
    """The same with numbers of twice the length."""
    text = sub(r"\bf(min|max|abs)f\(", r"f\1(", listing.text)
    text = sub(r"\bfloat\b", "double", sub(r"(?<=\d)f\b", "", text))
    return Listing(text, listing.marks)


def _asked(each: Asked) -> Iterator[str]:
    yield ""
    yield from (f"/* {line} */" for line in each.says)
    if each.name == "set_powers":
        yield "static void set_powers(float left, float right)"
        yield from ("{", "    (void)left;", "    (void)right;", "}")
        return
    name = "clock_s" if each.name == "clock" else each.name
    kind = "int" if each.name in ("button", "at_finish") else "float"
    gives = "0" if kind == "int" else "0.0f"
    yield f"static {kind} {name}(void)"
    yield from ("{", f"    return {gives};", "}")


class _Printer:
    """Translates one function."""

    def __init__(self, function: Function, memory: set[str], whole: set[str], returning: dict[str, bool]) -> None:
        self.function, self.memory, self.returning = function, memory, returning
        self.whole = whole | {name for name in function.takes if name in WHOLE}
        self.text = "\n".join(function.lines)
        self.source_lines = self.text.splitlines()
        self.tree = ast.parse(f"def {function.name}():\n" + "\n".join(f"    {line}" for line in self.source_lines))

    def printed(self) -> Iterator[str]:
        """The function in C."""
        function = self.function
        body = self.tree.body[0]
        assert isinstance(body, ast.FunctionDef)
        gives = any(isinstance(node, ast.Return) for node in ast.walk(body))
        kind = "int" if function.whole else "float" if gives else "void"
        takes = ", ".join(f"{'int' if name in self.whole else 'float'} {name}" for name in function.takes) or "void"
        yield f"/* {function.says} */"
        yield f"static {kind} {function.name}({takes})"
        yield "{"
        local = [name for name in assigned(function) if name not in self.memory and name not in function.takes]
        for name in local:
            if self._is_whole(name, body):
                self.whole.add(name)
        for name in local:
            yield f"    int {name} = 0;" if name in self.whole else f"    float {name} = 0.0f;"
        yield from self._block(body.body, 1)
        yield "}"

    def _is_whole(self, name: str, body: ast.FunctionDef) -> bool:
        """A local name that is only ever given whole numbers."""
        values = [
            node.value for node in ast.walk(body)
            if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name) and node.targets[0].id == name
        ]  # fmt: skip
        return all(
            (isinstance(value, ast.Constant) and isinstance(value.value, int))
            or (
                isinstance(value, ast.Call)
                and isinstance(value.func, ast.Name)
                and self.returning.get(value.func.id, False)
            )
            for value in values
        )

    def _mark(self, node: ast.stmt) -> str:
        """The mark, or the comment, at a statement's line."""
        line = self.source_lines[node.lineno - 2]
        return RULE_MARK + line.partition(RULE_MARK)[2] if RULE_MARK in line else ""

    def _block(self, statements: list[ast.stmt], deep: int) -> Iterator[str]:
        pad = "    " * deep
        for node in statements:
            before = self.source_lines[node.lineno - 3].strip() if node.lineno >= 3 else ""
            if before.startswith("#"):
                yield f"{pad}/* {before.removeprefix('#').strip()} */"
            if isinstance(node, ast.Assign):
                target = node.targets[0]
                assert isinstance(target, ast.Name)
                yield f"{pad}{target.id} = {self._of(node.value)};{self._mark(node)}"
            elif isinstance(node, ast.Return):
                assert node.value is not None
                yield f"{pad}return {self._of(node.value)};"
            elif isinstance(node, ast.Expr):
                yield f"{pad}{self._of(node.value)};"
            elif isinstance(node, ast.If):
                yield from self._if(node, deep)
            else:
                raise IronTrailError(f"{ast.dump(node)} has no C", self.function.name)

    def _if(self, node: ast.If, deep: int, word: str = "if") -> Iterator[str]:
        pad = "    " * deep
        yield f"{pad}{word} ({self._of(node.test)}) {{"
        yield from self._block(node.body, deep + 1)
        if len(node.orelse) == 1 and isinstance(node.orelse[0], ast.If):
            yield from self._if(node.orelse[0], deep, "} else if")
        elif node.orelse:
            yield f"{pad}}} else {{"
            yield from self._block(node.orelse, deep + 1)
            yield f"{pad}}}"
        else:
            yield f"{pad}}}"

    def _of(self, node: ast.expr) -> str:
        """An expression."""
        if isinstance(node, ast.Constant):
            return str(node.value) if isinstance(node.value, int) else _number(float(node.value))  # type: ignore[arg-type]
        if isinstance(node, ast.Name):
            return node.id
        if isinstance(node, ast.UnaryOp):
            return f"-{self._within(node.operand)}"
        if isinstance(node, ast.BinOp):
            left, right = (self._within(side, node.op, i == 1) for i, side in enumerate((node.left, node.right)))
            return f"{left} {_OPERATORS[type(node.op)]} {right}"
        if isinstance(node, ast.Compare):
            left, right = (self._of(side) for side in (node.left, node.comparators[0]))
            return f"{left} {_OPERATORS[type(node.ops[0])]} {right}"
        if isinstance(node, ast.BoolOp):
            each = [
                f"({self._of(value)})" if isinstance(value, ast.BoolOp) else self._of(value) for value in node.values
            ]
            return f" {_OPERATORS[type(node.op)]} ".join(each)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
            if node.func.id == "int":
                return f"(float)(int)({self._of(node.args[0])})"
            name = _CALLS.get(node.func.id, node.func.id)
            return f"{name}({', '.join(self._of(argument) for argument in node.args)})"
        raise IronTrailError(f"{ast.dump(node)} has no C", self.function.name)

    def _within(self, node: ast.expr, operator: ast.operator | None = None, right: bool = False) -> str:
        """A part of an expression, in brackets where C needs them."""
        text = self._of(node)
        if not isinstance(node, ast.BinOp):
            return f"({text})" if isinstance(node, ast.UnaryOp) and operator is not None else text
        times = (ast.Mult, ast.Div)
        if operator is None or (isinstance(operator, times) and not isinstance(node.op, times)):
            return f"({text})"
        return f"({text})" if right else text


def _main(made: Source, options: Options, more: Beside) -> list[str]:
    """Calibrating, the loop paced by the clock, the log and the stop."""
    lines = [*_calibrating(options, more), ""] if more.sensors else []
    wide = len(more.columns)
    lines += [f"static float kept[LOG_ROWS][{wide}];  /* the log */", ""] if options.log else []
    timed = "now" in made.inputs or options.log or options.stop_button
    lines += ["/* The loop: paced by the clock, so that it does not drift. */", "int main(void)", "{"]
    lines += [f"    float begun{', now' if timed else ''};"]
    lines += [f"    float {', '.join(more.lights)};", "    int row, rows = 0;"] if options.log else []
    lines += ["    long loops = 0;", ""]
    lines += ["    calibrate();"] if more.sensors else []
    lines += ["    begun = clock_s();", "    while (stopped == 0) {"]
    lines += ["        now = clock_s() - begun;"] if timed else []
    if options.stop_button:
        lines += ["        if (button() == 1 && now > 0.5f) {", "            break;", "        }"]
    reads = READS | ({name: name for name in more.lights} if options.log else {})
    step = [f"{name} = {READS[name]};" for name in more.lights] if options.log else []
    step += [f"decide({', '.join(reads[name] for name in made.inputs)});", "set_powers(left_power, right_power);"]
    if options.log:
        step += ["if (rows < LOG_ROWS) {", *(f"    kept[rows][{i}] = {value};" for i, value in
                 enumerate(more.columns.values())), "    rows = rows + 1;", "}"]  # fmt: skip
    if made.decision_loops > 1:
        lines += ["        if (loops % DECISION_LOOPS == 0) {", *(f"            {line}" for line in step), "        }"]
    else:
        lines += [f"        {line}" for line in step]
    lines += [
        "        loops = loops + 1;",
        "        while (clock_s() - begun < (float)loops * LOOP_TIME) {",
        "        }",
    ]
    lines += ["    }", "    set_powers(0.0f, 0.0f);"]
    if options.log:
        row = ", ".join(f"(double)kept[row][{i}]" for i in range(wide))
        lines += [f'    printf("{",".join(more.columns)}\\n");', "    for (row = 0; row < rows; row = row + 1) {",
                  f'        printf("{",".join(["%g"] * wide)}\\n", {row});', "    }"]  # fmt: skip
    return [*lines, "    return 0;", "}"]


def _calibrating(options: Options, more: Beside) -> list[str]:
    sensors = [(each.end, each.raw) for each in more.sensors]
    lines = ["/* What is read on the line and on the mat, before the start. */", "static void calibrate(void)", "{"]
    if options.calibrate == "by hand":
        lines += [*(f"    float dark{end}, bright{end};" for end, _ in sensors), ""]
        for name, over in more.over:
            lines += [f'    printf("Hold it over {over} and press the button.\\n");', "    while (button() == 0) {",
                      "    }"]  # fmt: skip
            lines += [f"    {name.lower()}{end} = {raw};" for end, raw in sensors]
            lines += ["    while (button() == 1) {", "    }"]
    else:
        lines += ["    float begun, way = 1.0f, length = SWEEP_TIME;", "    int turn;"]
        lines += [f"    float seen{end}, low{end} = {raw}, high{end} = low{end};" for end, raw in sensors]
        lines += ["", "    for (turn = 0; turn < 3; turn = turn + 1) {", "        begun = clock_s();",
                  "        set_powers(-SWEEP_POWER * way, SWEEP_POWER * way);",
                  "        while (clock_s() - begun < length) {"]  # fmt: skip
        for end, raw in sensors:
            lines += [f"            seen{end} = {raw};", f"            low{end} = fminf(low{end}, seen{end});",
                      f"            high{end} = fmaxf(high{end}, seen{end});"]  # fmt: skip
        lines += ["        }", "        way = -way;", "        length = turn == 0 ? 2.0f * SWEEP_TIME : SWEEP_TIME;",
                  "    }", "    set_powers(0.0f, 0.0f);"]  # fmt: skip
    for each in more.sensors:
        lines += [f"    if (fabsf({each.bright} - {each.dark}) >= 1.0f) {{", f"        DARK{each.end} = {each.dark};",
                  f"        BRIGHT{each.end} = {each.bright};", "    } else {",
                  f'        printf("{each.no_difference}\\n");', "    }"]  # fmt: skip
    return [*lines, "}"]
