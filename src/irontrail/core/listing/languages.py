"""The languages that a program is listed in, and what has changed from one listing to the next."""

from collections.abc import Callable
from difflib import SequenceMatcher

from irontrail.core.listing.c99 import c99
from irontrail.core.listing.parts import Listing
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import PLAIN, Options
from irontrail.core.setup import Setup
from irontrail.core.steering.words import in_words


def words(setup: Setup, options: Options = PLAIN) -> Listing:  # noqa: ARG001
    """A setup's program in numbered sentences."""
    said = in_words(setup.effective_program)
    marks = []
    for i, sentence in enumerate(said):
        if sentence.rule is not None:
            marks.append((i, "rule", sentence.rule))
        elif sentence.leg is not None:
            marks.append((i, "leg", sentence.leg))
    return Listing("".join(f"{i}. {sentence.says}\n" for i, sentence in enumerate(said, 1)), tuple(marks))


# By name as on screen: how a file of it ends, and what prints it.
LANGUAGES: dict[str, tuple[str, Callable[[Setup, Options], Listing]]] = {
    "Python": (".py", python),
    "C": (".c", c99),
    "words": (".txt", words),
}


def listing(setup: Setup, language: str, options: Options = PLAIN) -> Listing:
    """A setup's program in one of `LANGUAGES`."""
    return LANGUAGES[language][1](setup, options)


def changed_lines(before: str, after: str) -> tuple[int, ...]:
    """The lines of a text, from 0, that stand otherwise, or not at all, in an earlier one."""
    old, new = before.splitlines(), after.splitlines()
    found: list[int] = []
    for kind, _, _, start, end in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if kind in ("replace", "insert"):
            found += range(start, end)
    return tuple(found)
