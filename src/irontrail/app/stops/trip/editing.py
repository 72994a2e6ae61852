"""Changes of the trip as steps of the session's history; what cannot be is said."""

from collections.abc import Callable
from dataclasses import replace

from irontrail.app.session import Session
from irontrail.core.errors import IronTrailError
from irontrail.core.steering.planning import doubled, legs_of, taken_out
from irontrail.core.steering.program import Program


def edit_trip(session: Session, label: str, change: Callable[[Program], Program]) -> bool:
    """Change the program's trip as one step; whether it could be."""
    setup = session.setup
    try:
        made = replace(setup, program=change(setup.program))
    except IronTrailError as error:
        session.notice(str(error))
        return False
    session.edit(label, made)
    return True


def double_leg(session: Session, leg: int) -> None:
    """The same leg once more, after itself."""
    edit_trip(session, f"double leg {leg + 1}", lambda program: doubled(program, leg))


def take_out_leg(session: Session, leg: int) -> None:
    """Take a leg out of the trip, if it is there."""
    if 0 <= leg < len(legs_of(session.setup.program)):
        edit_trip(session, f"take out leg {leg + 1}", lambda program: taken_out(program, leg))
