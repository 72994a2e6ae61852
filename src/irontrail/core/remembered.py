"""Arrays that are remembered up to so many, or so many bytes, the one asked for longest ago forgotten first."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any

from numpy.typing import NDArray


class Remembered:
    """Arrays by key.

    Parameters
    ----------
    most_bytes : int
        How much is kept; a single array that is larger is made anew each time.
    most : int, optional
        How many are kept.
    """

    def __init__(self, most_bytes: int, most: int | None = None) -> None:
        self.most_bytes, self.most = most_bytes, most
        self._kept: OrderedDict[Hashable, NDArray[Any]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()

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
            if key not in self._kept and made.nbytes <= self.most_bytes:
                self._kept[key] = made
                self._bytes += made.nbytes
            while self._bytes > self.most_bytes or (self.most is not None and len(self._kept) > self.most):
                self._bytes -= self._kept.popitem(last=False)[1].nbytes
