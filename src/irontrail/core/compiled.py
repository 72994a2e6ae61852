"""How the core's inner loops are compiled: kept between starts, without the interpreter's lock, as IEEE 754 divides."""

from typing import Any

from numba import config, njit
from numba.core import cgutils, types
from numba.extending import intrinsic

compiled = njit(cache=True, nogil=True, error_model="numpy")
# For what a run does in every loop: written out where it is called. A call costs some 10 ns, and a loop has dozens; the
# price is paid once, when the engine is compiled.
inlined = njit(cache=True, nogil=True, error_model="numpy", inline="always")


def _without_count(_context, array):
    """The same array, not counted as held: counting every array that is passed on costs an inner loop a third.

    Only for arrays that the caller of the compiled function holds.
    """

    def make(context, builder, signature, values):
        made = context.make_array(signature.args[0])(context, builder, value=values[0])
        made.meminfo = cgutils.get_null_value(made.meminfo.type)
        made.parent = cgutils.get_null_value(made.parent.type)
        return made._getvalue()

    if not isinstance(array, types.Array):
        return None
    return array(array), make


def _as_it_is(array):
    return array


# The interpreter counts by itself.
unowned: Any = _as_it_is if getattr(config, "DISABLE_JIT", 0) else intrinsic(_without_count)
