"""How much of a lamp's light comes back from a mat; the one laid last is kept for each lamp."""

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.reading import LAMP_WEIGHTS
from irontrail.core.mat.tape import Mat


class LitMat:
    """The mat that was last laid in a lamp's light, a third of the work of all three colours.

    The next one is laid over it: new memory takes longer to come by than a mat to be laid.
    """

    def __init__(self, lamp: str) -> None:
        self.lamp = LAMP_WEIGHTS[lamp]
        self._lock = Lock()
        self._mat: Mat | None = None
        self._laid: NDArray[np.float32] | None = None

    @contextmanager
    def of(self, mat: Mat) -> Iterator[NDArray[np.float32]]:
        """The mat's reflectance, shape (height, width, 1), until it is left.

        While another thread is at one, it is laid by itself.
        """
        from irontrail.core.mat.raster import laid_cells, make_raster, same_sheet

        if not self._lock.acquire(blocking=False):
            yield make_raster(mat, lamp=self.lamp)
            return
        try:
            if self._laid is None or self._mat != mat:
                before, self._mat = self._mat, None
                used = laid_cells(before) if before is not None and same_sheet(before, mat) else None
                self._laid = make_raster(mat, lamp=self.lamp, over=self._laid, used=used)
                self._mat = mat
            yield self._laid
        finally:
            self._lock.release()


IN_LAMPLIGHT = {lamp: LitMat(lamp) for lamp in LAMP_WEIGHTS}
