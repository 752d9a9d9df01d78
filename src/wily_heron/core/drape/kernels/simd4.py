# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""Rows of four numbers, three of them a place, in one wide register: read, put, added, multiplied in one instruction each.

Arrays of rows are (n, 4), C-contiguous, of doubles; what stands in a row's fourth place is carried along.
"""

import operator

import numpy as np
from llvmlite import ir
from numba.core import types
from numba.extending import intrinsic, models, overload, register_model

_FOUR = ir.VectorType(ir.DoubleType(), 4)
_ORDER = ir.VectorType(ir.IntType(32), 4)
_FAST = ("fast",)


class _Wide(types.Type):
    def __init__(self) -> None:
        super().__init__("Wide")


_WIDE = _Wide()


@register_model(_Wide)
class _WideModel(models.PrimitiveModel):
    def __init__(self, manager, kind) -> None:
        super().__init__(manager, kind, _FOUR)


@intrinsic
def row(typing, array, i):
    """Return row `i` of an array."""
    def made(context, builder, signature, args):
        out = builder.load(_place(context, builder, signature.args[0], *args))
        out.align = 8
        return out

    return _WIDE(array, types.intp), made


@intrinsic
def single_row(typing, array, i):
    """Return row `i` of an array of single floats."""
    def made(context, builder, signature, args):
        data = context.make_array(signature.args[0])(context, builder, args[0]).data
        at = builder.gep(data, [builder.shl(args[1], ir.Constant(args[1].type, 2))])
        out = builder.load(builder.bitcast(at, ir.VectorType(ir.FloatType(), 4).as_pointer()))
        out.align = 4
        return builder.fpext(out, _FOUR)

    return _WIDE(array, types.intp), made


@intrinsic
def of_row(typing, a, place):
    """Return one number of a row: `place` is 0 to 3 as it is written."""
    def made(context, builder, signature, args):
        return builder.extract_element(args[0], builder.trunc(args[1], ir.IntType(32)))

    return types.float64(_WIDE, types.intp), made


@intrinsic
def put(typing, array, i, value):
    """Write row `i` of an array."""
    def made(context, builder, signature, args):
        builder.store(args[2], _place(context, builder, signature.args[0], *args[:2])).align = 8
        return context.get_dummy_value()

    return types.void(array, types.intp, _WIDE), made


@intrinsic
def put_single(typing, array, i, value):
    """Write row `i` of an array of single floats."""
    def made(context, builder, signature, args):
        data = context.make_array(signature.args[0])(context, builder, args[0]).data
        at = builder.gep(data, [builder.shl(args[1], ir.Constant(args[1].type, 2))])
        value = builder.fptrunc(args[2], ir.VectorType(ir.FloatType(), 4))
        builder.store(value, builder.bitcast(at, value.type.as_pointer())).align = 4
        return context.get_dummy_value()

    return types.void(array, types.intp, _WIDE), made


@intrinsic
def dot(typing, a, b):
    """Return the inner product of the places of two rows."""
    def made(context, builder, signature, args):
        by = builder.fmul(*args, flags=_FAST)
        x, y, z = (builder.extract_element(by, ir.Constant(ir.IntType(32), k)) for k in range(3))
        return builder.fadd(builder.fadd(x, y, flags=_FAST), z, flags=_FAST)

    return types.float64(_WIDE, _WIDE), made


@intrinsic
def cross(typing, a, b):
    """Return the outer product of the places of two rows."""
    def made(context, builder, signature, args):
        on = lambda v: builder.shuffle_vector(v, v, ir.Constant(_ORDER, [1, 2, 0, 3]))  # noqa: E731
        one, two = builder.fmul(args[0], on(args[1]), flags=_FAST), builder.fmul(on(args[0]), args[1], flags=_FAST)
        return on(builder.fsub(one, two, flags=_FAST))

    return _WIDE(_WIDE, _WIDE), made


@intrinsic
def _plus(typing, a, b):
    return _WIDE(_WIDE, _WIDE), lambda context, builder, signature, args: builder.fadd(*args, flags=_FAST)


@intrinsic
def _minus(typing, a, b):
    return _WIDE(_WIDE, _WIDE), lambda context, builder, signature, args: builder.fsub(*args, flags=_FAST)


@intrinsic
def _times(typing, a, by):
    def made(context, builder, signature, args):
        first = builder.insert_element(ir.Constant(_FOUR, ir.Undefined), args[1], ir.Constant(ir.IntType(32), 0))
        return builder.fmul(args[0], builder.shuffle_vector(first, first, ir.Constant(_ORDER, [0, 0, 0, 0])), flags=_FAST)

    return _WIDE(_WIDE, types.float64), made


def _place(context, builder, kind, array, i):
    data = context.make_array(kind)(context, builder, array).data
    return builder.bitcast(builder.gep(data, [builder.shl(i, ir.Constant(i.type, 2))]), _FOUR.as_pointer())


@overload(operator.add)
def _add(a, b):
    return (lambda a, b: _plus(a, b)) if a is _WIDE and b is _WIDE else None


@overload(operator.sub)
def _sub(a, b):
    return (lambda a, b: _minus(a, b)) if a is _WIDE and b is _WIDE else None


@overload(operator.mul)
def _mul(a, b):
    return (lambda a, b: _times(a, float(b))) if a is _WIDE else None


def rows_of_four(n: int) -> np.ndarray:
    """Return `n` rows of nothing, none of which lies across two lines of the processor's memory: those would be read and written twice."""
    room = np.zeros(4 * n + 8)
    first = -(room.ctypes.data // 8) % 8
    return room[first : first + 4 * n].reshape(n, 4)
