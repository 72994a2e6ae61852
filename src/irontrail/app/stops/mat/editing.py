"""Changes of the mat as steps of the session's history; what cannot be laid is said."""

from collections.abc import Callable
from dataclasses import replace

from irontrail.app.session import Session
from irontrail.core.errors import IronTrailError
from irontrail.core.mat import lines
from irontrail.core.mat.tape import Mat, Stroke


def edit_mat(session: Session, label: str, change: Callable[[Mat], Mat], key: str | None = None) -> bool:
    """Change the mat; whether it could be."""
    setup = session.setup
    try:
        session.edit(label, replace(setup, mat=change(setup.mat)), key)
    except IronTrailError as error:
        session.notice(str(error))
        return False
    return True


def edit_line(
    session: Session, line: int, label: str, change: Callable[[Stroke], Stroke], key: str | None = None
) -> bool:
    """Change one of the mat's lines; whether it could be."""
    return edit_mat(session, label, lambda mat: lines.with_line(mat, line, change(mat.lines[line])), key)
