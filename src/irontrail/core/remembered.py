"""Arrays that are remembered up to so many, or so many bytes, the one asked for longest ago forgotten first."""

import sys
from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray


class Remembered:
    """Arrays by key.

    Parameters
    ----------
    most_bytes : int
        How much is kept; a single array that is larger is made anew each time.
    most : int, optional
        How many are kept. Memory for as many more is had with the first of them, as copies of it: later it would be
        waited for.
    """

    def __init__(self, most_bytes: int, most: int | None = None) -> None:
        self.most_bytes, self.most = most_bytes, most
        self._kept: OrderedDict[Hashable, NDArray[Any]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()
        self._spares: list[tuple[Hashable, NDArray[Any]]] = []

    def get(self, key: Hashable, make: Callable[[], NDArray[Any]]) -> NDArray[Any]:
        """The array of a key, made if it is not there."""
        known = self.known(key)
        if known is None:
            self.put(key, known := make())
        return known

    def known(self, key: Hashable) -> NDArray[Any] | None:
        """The array of a key, if it is there."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def put(self, key: Hashable, made: NDArray[Any]) -> None:
        """Keep the array of a key; one that is there already stays."""
        with self._lock:
            if self.most is not None and not self._kept and 2 * self.most * made.nbytes <= self.most_bytes:
                self._spares = [(key, made.copy()) for _ in range(self.most)]
            if key not in self._kept and made.nbytes <= self.most_bytes:
                self._kept[key] = made
                self._bytes += made.nbytes
            while self._bytes > self.most_bytes or (self.most is not None and len(self._kept) > self.most):
                its_key, forgotten = self._kept.popitem(last=False)
                self._bytes -= forgotten.nbytes
                alone = _ALONE if forgotten.base is None else _PART_ALONE
                if _holders(forgotten) == alone:
                    self._spares = [*self._spares, (its_key, forgotten)][-(self.most or 1) :]

    def spare(self) -> tuple[Any, NDArray[Any]] | None:
        """An array that is forgotten, or a copy, and its key; nobody else holds it: its memory is another's now.

        New memory takes longer to come by than a mat to be laid.
        """
        with self._lock:
            return self._spares.pop() if self._spares else None


def _holders(array: NDArray[Any]) -> int:
    """How many hold an array, and the one whose memory it shows; who asks among them, as they are counted."""
    whole = array.base
    return sys.getrefcount(array) + (0 if whole is None else sys.getrefcount(whole))


def _of_one_alone(part: bool) -> int:
    """How many are counted of an array that only a function's own name holds: that is Python's affair."""
    forgotten = np.zeros((1, 1))
    forgotten = forgotten[None] if part else forgotten
    return _holders(forgotten)


_ALONE, _PART_ALONE = _of_one_alone(False), _of_one_alone(True)
