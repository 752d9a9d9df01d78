# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""Eight boxes, or eight triangles, asked at once in wide registers: which of them matter comes back as the bits of a number.

Boxes are (n, 6, 8) single floats: least x, y, z, then greatest, of each eight. Triangles are (l, 12, 8) doubles: x, y, z of the three
corners, then of the unit normal.
"""

from functools import reduce

from llvmlite import ir
from numba.core import types
from numba.extending import intrinsic

_LANE, _BITS, _PLACE = ir.IntType(1), ir.IntType(8), ir.IntType(32)
_FLAT = ir.Constant(ir.VectorType(_PLACE, 8), [0] * 8)


class _Eight:
    """Eight numbers in the making, one a lane."""

    def __init__(self, builder, value) -> None:
        self.builder, self.value = builder, value

    def _with(self, other):
        return other.value if isinstance(other, _Eight) else ir.Constant(self.value.type, [float(other)] * 8)

    def __add__(self, other):
        return _Eight(self.builder, self.builder.fadd(self.value, self._with(other), flags=("contract",)))

    def __sub__(self, other):
        return _Eight(self.builder, self.builder.fsub(self.value, self._with(other), flags=("contract",)))

    def __mul__(self, other):
        return _Eight(self.builder, self.builder.fmul(self.value, self._with(other), flags=("contract",)))

    def __truediv__(self, other):
        return _Eight(self.builder, self.builder.fdiv(self.value, self._with(other)))

    def is_(self, how: str, other):
        """Return in which lanes a comparison holds."""
        return self.builder.fcmp_ordered(how, self.value, self._with(other))

    def most(self, other):
        return _Eight(self.builder, self.builder.select(self.is_(">", other), self.value, self._with(other)))

    def least(self, other):
        return _Eight(self.builder, self.builder.select(self.is_("<", other), self.value, self._with(other)))


def _spread(builder, value):
    one = builder.insert_element(ir.Constant(ir.VectorType(value.type, 8), ir.Undefined), value, ir.Constant(_PLACE, 0))
    return _Eight(builder, builder.shuffle_vector(one, one, _FLAT))


def _rows(context, builder, kind, array, at, low, high):
    """Read rows `low` to `high` of eight of an array's entry `at`."""
    number = ir.FloatType() if kind.dtype == types.float32 else ir.DoubleType()
    data, rows = context.make_array(kind)(context, builder, array).data, 6 if kind.dtype == types.float32 else 12
    begin = builder.mul(at, ir.Constant(at.type, 8 * rows))
    out = []
    for k in range(low, high):
        place = builder.gep(data, [builder.add(begin, ir.Constant(at.type, 8 * k))])
        value = builder.load(builder.bitcast(place, ir.VectorType(number, 8).as_pointer()))
        value.align = 4 if number == ir.FloatType() else 8
        out.append(_Eight(builder, value))
    return out


def _told(context, builder, kind, array, values, lanes):
    """Write eight values, and return the lanes as bits."""
    data = context.make_array(kind)(context, builder, array).data
    builder.store(values.value, builder.bitcast(data, values.value.type.as_pointer())).align = 4
    return _bits(builder, lanes)


def _bits(builder, lanes):
    return builder.zext(builder.bitcast(lanes, _BITS), ir.IntType(64))


def _all(builder, tests):
    return reduce(builder.and_, tests)


def _dot(a, b):
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cross(a, b):
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def _less(a, b):
    return tuple(x - y for x, y in zip(a, b, strict=True))


@intrinsic
def first_lane(typing, bits):
    """Return the lowest lane of some."""
    def made(context, builder, signature, args):
        return builder.cttz(args[0], ir.Constant(_LANE, 0))

    return types.int64(types.int64), made


@intrinsic
def box_gaps(typing, boxes, node, px, py, pz, limit, out):
    """Fill `out` (8,) with the squares of how far a point is from the boxes of a node; return which are below `limit`."""
    def made(context, builder, signature, args):
        box = _rows(context, builder, signature.args[0], *args[:2], 0, 6)
        at = [_spread(builder, a) for a in args[2:5]]
        off = [(low - p).most(p - high).most(0.0) for low, high, p in zip(box[:3], box[3:], at, strict=True)]
        total = _dot(off, off)
        return _told(context, builder, signature.args[6], args[6], total, total.is_("<", _spread(builder, args[5])))

    f = types.float32
    return types.int64(boxes, types.intp, f, f, f, f, out), made


@intrinsic
def box_hits(typing, boxes, node, ox, oy, oz, ix, iy, iz, reach, out):
    """Fill `out` (8,) with how far along a ray, its direction inverted, the boxes of a node begin; return which it meets in `reach`."""
    def made(context, builder, signature, args):
        box = _rows(context, builder, signature.args[0], *args[:2], 0, 6)
        enter, leave = box[0] * 0.0, _spread(builder, args[8])
        for a in range(3):
            o, inverse = _spread(builder, args[2 + a]), _spread(builder, args[5 + a])
            one, two = (box[a] - o) * inverse, (box[3 + a] - o) * inverse
            enter, leave = one.least(two).most(enter), one.most(two).least(leave)
        return _told(context, builder, signature.args[9], args[9], enter, enter.is_("<=", leave))

    f = types.float32
    return types.int64(boxes, types.intp, f, f, f, f, f, f, f, out), made


@intrinsic
def box_overlaps(typing, boxes, node, lx, ly, lz, hx, hy, hz):
    """Return which boxes of a node share room with a box."""
    def made(context, builder, signature, args):
        box = _rows(context, builder, signature.args[0], *args[:2], 0, 6)
        low, high = ([_spread(builder, a) for a in args[k : k + 3]] for k in (2, 5))
        tests = [a.is_("<=", b) for a, b in zip(box[:3], high, strict=True)] + [a.is_(">=", b) for a, b in zip(box[3:], low, strict=True)]
        return _bits(builder, _all(builder, tests))

    f = types.float32
    return types.int64(boxes, types.intp, f, f, f, f, f, f), made


@intrinsic
def normals_agree(typing, triangles, leaf, fx, fy, fz, agree):
    """Return which of eight triangles have normals that make at least the cosine `agree` with a direction."""
    def made(context, builder, signature, args):
        normal = _rows(context, builder, signature.args[0], *args[:2], 9, 12)
        cosine = _dot(normal, [_spread(builder, a) for a in args[2:5]])
        return _bits(builder, cosine.is_(">=", _spread(builder, args[5])))

    f = types.float64
    return types.int64(triangles, types.intp, f, f, f, f), made


@intrinsic
def planes_near(typing, triangles, leaf, px, py, pz, limit):
    """Return which of eight triangles lie in planes nearer to a point than the root of `limit`."""
    def made(context, builder, signature, args):
        rows = signature.args[0], *args[:2]
        p, normal = [_spread(builder, a) for a in args[2:5]], _rows(context, builder, *rows, 9, 12)
        off = _dot(_less(p, _rows(context, builder, *rows, 0, 3)), normal)
        return _bits(builder, (off * off).is_("<", _spread(builder, args[5])))

    f = types.float64
    return types.int64(triangles, types.intp, f, f, f, f), made


@intrinsic
def triangle_gaps(typing, triangles, leaf, px, py, pz, limit, out):
    """Fill `out` (8,) with the squares of how far a point is from eight triangles; return which are below `limit`."""
    def made(context, builder, signature, args):
        rows = _rows(context, builder, signature.args[0], *args[:2], 0, 12)
        p, normal = [_spread(builder, a) for a in args[2:5]], rows[9:]
        corners = [rows[3 * k : 3 * k + 3] for k in range(3)]
        off = _dot(_less(p, corners[0]), normal)
        sides, within = [], []
        for k in range(3):  # to a side, but to the plane within all three, as no point is of a triangle that is a line
            along, way = _less(corners[(k + 1) % 3], corners[k]), _less(p, corners[k])
            share = (_dot(way, along) / (_dot(along, along) + 1e-60)).most(0.0).least(1.0)
            rest = _less(way, [share * a for a in along])
            sides.append(_dot(rest, rest))
            within.append(_dot(_cross(along, way), normal).is_(">", 0.0))
        nearest = sides[0].least(sides[1]).least(sides[2])
        square = _Eight(builder, builder.select(_all(builder, within), (off * off).value, nearest.value))
        return _told(context, builder, signature.args[6], args[6], square, square.is_("<", _spread(builder, args[5])))

    f = types.float64
    return types.int64(triangles, types.intp, f, f, f, f, out), made


def _met(context, builder, kind, args):
    """Return of eight triangles their determinants with a ray, and of where it meets their planes the shares and how far along it, both
    times the determinant.

    Follows: Moeller & Trumbore, Fast minimum storage ray/triangle intersection, 1997."""
    rows = _rows(context, builder, kind, *args[:2], 0, 9)
    origin, way = ([_spread(builder, a) for a in args[k : k + 3]] for k in (2, 5))
    one, two = _less(rows[3:6], rows[:3]), _less(rows[6:], rows[:3])
    across, start = _cross(way, two), _less(origin, rows[:3])
    turned = _cross(start, one)
    return _dot(one, across), _dot(start, across), _dot(way, turned), _dot(two, turned)


@intrinsic
def triangle_hits(typing, triangles, leaf, ox, oy, oz, dx, dy, dz, reach, out):
    """Fill `out` (8,) with how far along a ray it meets eight triangles; return which it meets, before `reach`."""
    def made(context, builder, signature, args):
        det, u, v, far = _met(context, builder, signature.args[0], args)
        u, v, far = u / det, v / det, far / det
        tests = [(det * det).is_(">=", 1e-32), u.is_(">=", 0.0), v.is_(">=", 0.0), (u + v).is_("<=", 1.0), far.is_(">", 0.0),
                 far.is_("<", _spread(builder, args[8]))]
        return _told(context, builder, signature.args[9], args[9], far, _all(builder, tests))

    f = types.float64
    return types.int64(triangles, types.intp, f, f, f, f, f, f, f, out), made


@intrinsic
def triangle_blocks(typing, triangles, leaf, ox, oy, oz, dx, dy, dz, reach):
    """Return which of eight triangles a ray meets before `reach`: as `triangle_hits`, without a division."""
    def made(context, builder, signature, args):
        det, u, v, far = _met(context, builder, signature.args[0], args)
        u, v, far, size = u * det, v * det, far * det, det * det
        tests = [size.is_(">=", 1e-32), u.is_(">=", 0.0), v.is_(">=", 0.0), (u + v).is_("<=", size), far.is_(">", 0.0),
                 far.is_("<", size * _spread(builder, args[8]))]
        return _bits(builder, _all(builder, tests))

    f = types.float64
    return types.int64(triangles, types.intp, f, f, f, f, f, f, f), made
