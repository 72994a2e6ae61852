"""What was compiled, kept between starts: damaged or half written, it is compiled anew; a full disk is no error."""

import hashlib
from contextlib import suppress
from pathlib import Path
from typing import ClassVar

from numba.core.caching import (
    CompileResultCacheImpl,
    FunctionCache,
    IndexDataCacheFile,
    UserProvidedCacheLocator,
)

from irontrail.core.compiled_sources import module_of

DIGEST_BYTES = 32


class _Locator(UserProvidedCacheLocator):
    """A folder for each state of a file of ours and of all that it imports.

    Numba's own goes by the place of the file, and does not see a change in what it takes from others.
    """

    def __init__(self, function, file):
        super().__init__(function, file)
        self._cache_path = str(Path(self._cache_path).parent / str(module_of(Path(file))))

    @classmethod
    def from_function(cls, function, file):
        return super().from_function(function, file) if module_of(Path(file)) is not None else None


class _Results(CompileResultCacheImpl):
    _locator_classes: ClassVar = [_Locator, *CompileResultCacheImpl._locator_classes]  # type: ignore[misc]


class CheckedCache(FunctionCache):
    """Numba's cache of one function, whose files are checked before anything of them is run."""

    _impl_class = _Results

    def __init__(self, function):
        super().__init__(function)
        plain = self._cache_file
        self._cache_file = _CheckedFiles(plain._cache_path, self._impl.filename_base, plain._source_stamp)

    def save_overload(self, sig, data):
        """Keep what was compiled, if there is room."""
        with suppress(OSError):
            super().save_overload(sig, data)


class _CheckedFiles(IndexDataCacheFile):
    """Each data file begins with the digest of the rest: machine code with a flipped bit would not fail politely."""

    def _load_index(self):
        try:
            return super()._load_index()
        except Exception:
            # A damaged pickle may raise anything.
            return {}

    def _save_data(self, name, data):
        packed = self._dump(data)
        with self._open_for_write(self._data_path(name)) as file:
            file.write(hashlib.sha256(packed).digest() + packed)

    def _load_data(self, name):
        import pickle

        with open(self._data_path(name), "rb") as file:  # noqa: PTH123  (a text path of Numba's)
            content = file.read()
        digest, packed = content[:DIGEST_BYTES], content[DIGEST_BYTES:]
        if hashlib.sha256(packed).digest() != digest:
            raise OSError("damaged; it is compiled anew")
        return pickle.loads(packed)
