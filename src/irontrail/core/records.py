"""Records for the kernel, made and filled thousands of times a second: NumPy clears and copies them field by field."""

import numpy as np
from numpy.typing import NDArray


def blank(dtype: np.dtype[np.void]) -> NDArray[np.void]:
    """A record of zeros, shape (1,)."""
    return np.frombuffer(bytearray(dtype.itemsize), dtype)


def copied(record: NDArray[np.void]) -> NDArray[np.void]:
    """A record of its own with the same values, shape (1,)."""
    return np.frombuffer(bytearray(record.view(np.uint8)), record.dtype)


def put(record: NDArray[np.void], name: str, part: NDArray[np.void]) -> None:
    """Copy a record, shape (1,), to a field of another that is of its kind."""
    place = record[name]
    if place.dtype != part.dtype:
        raise TypeError(f"{name} is no such record")
    place.view(np.uint8)[...] = part.view(np.uint8)


def joined(records: list[NDArray[np.void]]) -> NDArray[np.void]:
    """Records of one kind in a row, shape (n,)."""
    return np.frombuffer(bytearray().join([each.view(np.uint8).data for each in records]), records[0].dtype)
