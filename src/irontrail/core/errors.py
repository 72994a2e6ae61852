"""The one family of errors for what a person can cause: what is wrong, where, and what to do."""

from typing import Protocol


class IronTrailError(Exception):
    """Something a person can mend.

    Parameters
    ----------
    what : str
        What is wrong, as a phrase that begins a sentence.
    where : str
        The file, field or argument it is wrong in; may be empty.
    remedy : str
        What to do about it, as a sentence; may be empty.

    Examples
    --------
    >>> str(IronTrailError("no such demo", "harbour", "The demos are: lighthouse, quarry."))
    'harbour: no such demo. The demos are: lighthouse, quarry.'
    """

    def __init__(self, what: str, where: str = "", remedy: str = "") -> None:
        self.what, self.where, self.remedy = what, where, remedy
        sentence = f"{where}: {what}" if where else what
        super().__init__(f"{sentence}. {remedy}" if remedy else sentence)


class OutOfRangeError(IronTrailError, ValueError):
    """A number of the project lies outside its physical range."""


class CalledOff(Exception):  # noqa: N818  (nothing has gone wrong)
    """Work was given up because nobody waits for it any more."""


class Check(Protocol):
    """What long work calls now and then, with the share (0..1) that is done where it knows it.

    It raises `CalledOff` if nobody waits for the work any more.
    """

    def __call__(self, share: float | None = None, /) -> None: ...


def carry_on(share: float | None = None, /) -> None:
    """The `Check` of whoever waits to the end."""
