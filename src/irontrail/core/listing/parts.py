"""What a listing's source is made of."""

from dataclasses import dataclass

# What a decision may be given, in this order; a program takes only what it has a use for.
INPUTS = ("light", "second_light", "now", "left_rolled", "right_rolled", "pressed", "at_finish")


@dataclass(frozen=True)
class Function:
    """A function: its name, what it takes, its lines, and what it is for; `whole`: it returns a whole number."""

    name: str
    takes: tuple[str, ...]
    lines: tuple[str, ...]
    says: str
    whole: bool = False

    def call(self) -> str:
        """A call of it with arguments of the same names."""
        return f"{self.name}({', '.join(self.takes)})"


@dataclass(frozen=True)
class Listing:
    """A listing as text; `marks` tells which line decides: (line from 0, "rule" or "leg", its number)."""

    text: str
    marks: tuple[tuple[int, str, int], ...]

    @property
    def lines(self) -> list[str]:
        return self.text.splitlines()


def in_a_comment(text: str) -> str:
    """A name that somebody gave, as it can stand in a comment of any language: on one line, and ending none."""
    text = "".join(letter if letter.isprintable() else " " for letter in text)
    for mark in ("*/", "/*", "??"):
        text = text.replace(mark, " ".join(mark))
    return " ".join(text.split()).rstrip("\\")
