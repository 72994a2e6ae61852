"""Names and notes are plain: letters and signs to be read, none that steer a screen or turn the way of reading."""

import unicodedata
from typing import Annotated, Any

from annotated_types import MaxLen, Predicate

# Control characters, halves of a letter, and breaks of lines and paragraphs.
_STEERING = ("Cc", "Cs", "Zl", "Zp")
_TURNING = "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"
_LINES = "\n\t"
NAME_LETTERS, TEXT_LETTERS = 200, 20_000


def plain_name(text: str) -> str:
    """A name without what does not belong in one.

    >>> plain_name("Pip\\n2")
    'Pip 2'
    """
    return plain_text(text.replace("\n", " ").replace("\t", " "))[:NAME_LETTERS]


def plain_text(text: str) -> str:
    """A text of some lines without what does not belong in one."""
    return "".join(letter for letter in text[:TEXT_LETTERS] if _is_read(letter) or letter in _LINES)


def is_plain_name(text: str) -> bool:
    """Whether a text is fit for a name."""
    return plain_name(text) == text


def is_plain_text(text: str) -> bool:
    """Whether a text of some lines is fit to be kept."""
    return plain_text(text) == text


def _is_read(letter: str) -> bool:
    return letter not in _TURNING and unicodedata.category(letter) not in _STEERING


# Checked when a file is read; a part that is made otherwise keeps what is plain of it.
Name = Annotated[str, MaxLen(NAME_LETTERS), Predicate(is_plain_name)]
Text = Annotated[str, MaxLen(TEXT_LETTERS), Predicate(is_plain_text)]


def keep_plain(part: Any, *names: str, lines: bool = False) -> None:
    """Make the texts of a frozen part plain; called when it is made."""
    for name in names:
        text = getattr(part, name)
        made = plain_text(text) if lines else plain_name(text)
        if made != text:
            object.__setattr__(part, name, made)
