"""How the core's inner loops are compiled: kept between starts, without the interpreter's lock, as IEEE 754 divides."""

from contextlib import suppress
from typing import Any

from numba import config, njit
from numba.core import cgutils, types
from numba.extending import intrinsic

from irontrail.core.compiled_cache import CheckedCache


def compiled(function, inline="never"):
    """A function compiled when it is first called, or as it was compiled before."""
    made: Any = njit(nogil=True, error_model="numpy", inline=inline)(function)
    # Without any folder to keep it in it is compiled at every start.
    with suppress(RuntimeError):
        made._cache = CheckedCache(function)
    return made


def inlined(function):
    """The same for what a run does in every loop: written out where it is called.

    A call costs some 10 ns, and a loop has dozens; the price is paid once, when the engine is compiled.
    """
    return compiled(function, inline="always")


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
