"""Records for the kernel, made and filled thousands of times a second: NumPy clears and copies them field by field."""

from collections.abc import Mapping
from struct import Struct

import numpy as np
from numpy.typing import NDArray

# How a number of eight bytes is written.
_CODES = {"f8": "d", "i8": "q", "u8": "Q"}


def blank(dtype: np.dtype[np.void]) -> NDArray[np.void]:
    """A record of zeros, shape (1,)."""
    return np.frombuffer(bytearray(dtype.itemsize), dtype)


def joined(records: list[NDArray[np.void]]) -> NDArray[np.void]:
    """Records of one kind in a row, shape (n,)."""
    return np.frombuffer(bytearray().join([each.tobytes() for each in records]), records[0].dtype)


class Form:
    """A kind of record whose numbers, of eight bytes each, are filled in together.

    NumPy, told one number after the other, takes ten times as long.
    """

    def __init__(self, dtype: np.dtype[np.void]) -> None:
        self.dtype = dtype
        # By which numbers are given: what writes those that lie beside one another, where, and their names.
        self._writers: dict[tuple[str, ...], list[tuple[Struct, int, tuple[str, ...]]]] = {}

    def filled(
        self, values: Mapping[str, float], like: NDArray[np.void] | None = None, **parts: NDArray[np.void]
    ) -> NDArray[np.void]:
        """A record, shape (1,), of these numbers and these records, shape (1,); all else is 0, or as in `like`.

        Raises
        ------
        TypeError
            If a part, or what it is to be like, is of another kind.
        """
        if like is not None and not _same(like.dtype, self.dtype):
            raise TypeError("that is no such record")
        made = bytearray(self.dtype.itemsize) if like is None else bytearray(like.tobytes())
        names = tuple(values)
        if names not in self._writers:
            self._writers[names] = self._made(names)
        for writer, at, beside in self._writers[names]:
            writer.pack_into(made, at, *[values[name] for name in beside])
        for name, part in parts.items():
            kind, at = self._place(name)
            if not _same(part.dtype, kind):
                raise TypeError(f"{name} is no such record")
            made[at : at + kind.itemsize] = part.tobytes()
        return np.frombuffer(made, self.dtype)

    def _made(self, names: tuple[str, ...]) -> list[tuple[Struct, int, tuple[str, ...]]]:
        rows: list[list[str]] = []
        for name in sorted(names, key=lambda name: self._place(name)[1]):
            if rows and self._place(rows[-1][-1])[1] + 8 == self._place(name)[1]:
                rows[-1].append(name)
            else:
                rows.append([name])
        return [
            (
                Struct("=" + "".join(_CODES[self._place(name)[0].str[1:]] for name in row)),
                self._place(row[0])[1],
                tuple(row),
            )
            for row in rows
        ]

    def _place(self, name: str) -> tuple[np.dtype[np.void], int]:
        """Kind of a field, or of one within it, as in "inner.x", and where it begins, in bytes."""
        kind, at = self.dtype, 0
        for part in name.split("."):
            assert kind.fields is not None
            kind, further = kind.fields[part][:2]
            at += further
        return kind, at


def _same(one: np.dtype[np.void], other: np.dtype[np.void]) -> bool:
    # To be compared takes longer than to be filled.
    return one is other or one == other
