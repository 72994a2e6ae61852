"""How the core's inner loops are compiled: kept between starts, without the interpreter's lock, as IEEE 754 divides.

Where a product is added to something, both are rounded once, by processors that can: a sixth of a run's time. What a
program decides is compiled without that (`unfused`): a team's controller rounds each by itself.
"""

from contextlib import suppress
from typing import Any

from llvmlite import ir
from numba import config, njit
from numba.core import cgutils, types
from numba.extending import intrinsic

from irontrail.core.compiled_cache import CheckedCache


def compiled(function, forceinline=False, fused=True):
    """A function compiled when it is first called, or as it was compiled before."""
    fastmath = {"contract"} if fused else False
    # Nothing is called from C. The way in from Python stays, also for what is only written out where it is called:
    # whoever calls that would come to no error, but to a crash.
    make: Any = njit
    made = make(nogil=True, error_model="numpy", forceinline=forceinline, fastmath=fastmath, no_cfunc_wrapper=True)(
        function
    )
    # Without any folder to keep it in it is compiled at every start.
    with suppress(RuntimeError):
        made._cache = CheckedCache(function)
    return made


def inlined(function):
    """The same for what a run does in every loop: written out where it is called.

    A call costs some 10 ns, and a loop has dozens; the price is paid once, when the engine is compiled.
    """
    return compiled(function, forceinline=True)


def unfused(function):
    """As `compiled`, of what a program decides."""
    return compiled(function, fused=False)


def unfused_inlined(function):
    """As `inlined`, of what a program decides."""
    return compiled(function, forceinline=True, fused=False)


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


def _with_hint(_context, array, place):
    """Ask for an element of a flat array to be brought near, without waiting for it; any place is allowed."""

    def make(context, builder, signature, values):
        made = context.make_array(signature.args[0])(context, builder, value=values[0])
        pointer = builder.bitcast(builder.gep(made.data, [values[1]]), cgutils.voidptr_t)
        number = ir.IntType(32)
        kind = ir.FunctionType(ir.VoidType(), [cgutils.voidptr_t, number, number, number])
        hint = builder.module.declare_intrinsic("llvm.prefetch", [cgutils.voidptr_t], kind)
        # To be read, soon and again, as data.
        builder.call(hint, [pointer, number(0), number(3), number(1)])
        return context.get_dummy_value()

    if not isinstance(array, types.Array) or not isinstance(place, types.Integer):
        return None
    return types.none(array, place), make


def _without_hint(_array, _place):
    pass


_interpreted = bool(getattr(config, "DISABLE_JIT", 0))
# The interpreter counts by itself, and waits for what it reads.
unowned: Any = _as_it_is if _interpreted else intrinsic(_without_count)
bring_near: Any = _without_hint if _interpreted else intrinsic(_with_hint)
