"""What fails in an event handler is told, and goes no further.

Qt calls event handlers from its own code. A Python error that leaves one travels on through whatever called Qt, which
may be another handler half way through its work, or a painter that is still open; and such a process dies of it.
"""

import sys
from collections.abc import Callable
from functools import wraps
from types import FunctionType
from typing import Any

from PySide6.QtCore import QObject

# Handlers that answer something: what they answer when they have failed.
_ANSWERS = {"event": False, "eventFilter": False}


def guard_handlers() -> None:
    """Have every event handler guarded of the classes of this program that are made from now on."""
    before = QObject.__init_subclass__

    def guard(cls: type, **keywords: Any) -> None:
        before(**keywords)
        if not cls.__module__.startswith("PySide6"):
            for name, made in list(vars(cls).items()):
                if isinstance(made, FunctionType) and (name.endswith("Event") or name in _ANSWERS):
                    setattr(cls, name, guarded(made))

    QObject.__init_subclass__ = classmethod(guard)  # type: ignore[assignment, arg-type]


def guarded(handler: Callable[..., Any]) -> Callable[..., Any]:
    """A handler that tells `sys.excepthook` what fails in it, as a slot does, and then lets Qt go on."""
    answer = _ANSWERS.get(handler.__name__)

    @wraps(handler)
    def safely(*arguments: Any, **keywords: Any) -> Any:
        try:
            return handler(*arguments, **keywords)
        except Exception:
            sys.excepthook(*sys.exc_info())
            return answer

    return safely
