"""The signed distance field of the body: lofts, round cones, ellipsoids and small displacements, from shape values."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from ..base.landmarks import Landmarks, landmarks
from . import field_kernels as kernels
from .tables import details, drawing, sections, total

TORSO, ARM, LEG, HEAD = 1, 2, 4, 8
WHOLE = TORSO | ARM | LEG | HEAD
_GROUPS = {"torso": TORSO, "arm": ARM, "leg": LEG, "head": HEAD}
_ROWS = 96
_X, _Y, _Z = np.eye(3)
_DIGITS = drawing("digits")


@dataclass(frozen=True)
class Field:
    """Primitives as arrays for `field_kernels`: kinds/groups (k,), blends (k,), data (k, 16), tables (t, 96, 7)."""

    kinds: np.ndarray
    blends: np.ndarray
    groups: np.ndarray
    data: np.ndarray
    tables: np.ndarray

    def args(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Return the arrays in the order the kernels take them."""
        return self.kinds, self.blends, self.groups, self.data, self.tables


class _Builder:
    def __init__(self) -> None:
        self.rows: list[tuple[int, float, int, np.ndarray]] = []
        self.tables: list[np.ndarray] = []

    def _add(self, kind: int, blend: float, group: int, values: Sequence[float]) -> None:
        data = np.zeros(16)
        data[: len(values)] = values
        self.rows.append((kind, blend, group, data))

    def loft(self, group, blend, start, axis, side, length, sections, smooth=0.010, front=None) -> None:
        """Add a loft: rows of (u, centre side, centre front, inward, outward, front, back, exponent)."""
        front = np.cross(side, axis) if front is None else front
        rows = np.asarray(sections, float)
        at = np.linspace(0.0, length, _ROWS)
        dense = PchipInterpolator(rows[:, 0], rows[:, 1:], axis=0, extrapolate=True)(at)
        dense = gaussian_filter1d(dense, smooth / (length / _ROWS), axis=0, mode="nearest")
        self._add(kernels.LOFT, blend, group, [*start, *axis, *side, *front, length, len(self.tables)])
        self.tables.append(dense)

    def cone(self, group, blend, a, b, ra, rb) -> None:
        self._add(kernels.CONE, blend, group, [*a, *b, ra, rb])

    def ellipsoid(self, group, blend, centre, radii, axes=None) -> None:
        self._add(kernels.ELLIPSOID, blend, group, [*centre, *radii, *np.ravel(np.eye(3) if axes is None else axes)])

    def bump(self, group, centre, sigma, height) -> None:
        self._add(kernels.BUMP, 0.0, group, [*centre, *np.broadcast_to(sigma, 3), height])

    def details(self, part: str, **sizes: float) -> None:
        """Add the single primitives of a part, as their table tells them."""
        for row in details(part, **sizes):
            groups = sum(_GROUPS[name] for name in row.groups)
            if row.kind == "cone":
                self.cone(groups, row.blend, row.at, row.to, *row.size[:2])
            elif row.kind == "ellipsoid":
                self.ellipsoid(groups, row.blend, row.at, row.size)
            else:
                self.bump(groups, row.at, row.size, row.height)

    def framed(self, name: str, group: int, origin: np.ndarray, axes: Sequence[np.ndarray], **sizes: float) -> None:
        """Add the primitive of this name, which lies from `origin` along a limb's own `axes`, as its table tells it."""
        row = drawing("framed")[name]
        at, to = (origin + far[0] * axes[0] + far[1] * axes[1] + far[2] * axes[2] for far in (row["at"], row.get("to", row["at"])))
        size = [total(cell, sizes) for cell in row["size"]]
        if row["kind"] == "cone":
            self.cone(group, row["blend"], at, to, *size)
        elif row["kind"] == "ellipsoid":
            self.ellipsoid(group, row["blend"], at, size, np.array(axes))
        else:
            self.bump(group, at, size, row["height"])

    def field(self) -> Field:
        order = [r for r in self.rows if r[0] != kernels.BUMP] + [r for r in self.rows if r[0] == kernels.BUMP]
        return Field(
            np.array([r[0] for r in order], np.int32), np.array([r[1] for r in order]),
            np.array([r[2] for r in order], np.int32), np.array([r[3] for r in order]), np.array(self.tables),
        )


def body_field(p: Mapping[str, float]) -> Field:
    """Return the field of the body for shape values `p` (metres; stature and leg length are applied after)."""
    b, at = _Builder(), landmarks(p)
    v = {name: float(p.get(name, 0.0)) for name in
         ("girth", "muscle", "shoulder", "bust", "waist", "belly", "hip", "seat")}
    _torso(b, at, v)
    _neck_and_head(b, at, v)
    _leg(b, at, v)
    _arm(b, at, v)
    return b.field()


def _torso(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g, m, w, hip, sh = v["girth"], v["muscle"], v["waist"], v["hip"], v["shoulder"]
    wide_hip = 0.020 * hip + 0.026 * g
    wide_waist = 0.024 * w + 0.040 * g
    wide_chest = 0.020 * g + 0.006 * m + 0.012 * sh
    fore, seat, soft = v["belly"], v["seat"], 0.030 * g
    rows = sections("torso", hip=wide_hip, waist=wide_waist, chest=wide_chest, belly=fore, seat=seat, soft=soft)
    y0 = rows[0][0]
    b.loft(TORSO, 0.0, (0, y0, 0), (0, 1, 0), (1, 0, 0), rows[-1][0] - y0, [(r[0] - y0, *r[1:]) for r in rows], 0.014)
    tip = at.shoulder + np.array([-0.012, 0.020, -0.004])
    lean = (1.0 - 0.5 * g) * (1.0 + 0.4 * m)
    b.details("torso", tip_x=tip[0], tip_y=tip[1], tip_z=tip[2], spread=at.spread, full=0.5 + 0.5 * v["bust"], lean=lean, **v)


def _neck_and_head(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g = v["girth"]
    b.details("neck")
    full = .006 * g
    rows = sections("head", girth=full)
    b.loft(HEAD, 0.018, (0, 1.476, 0.0), (0, 1, 0), (1, 0, 0), 0.155, rows, 0.006)
    b.details("head", full=full)


def _leg(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g, m, hip = v["girth"], v["muscle"], v["hip"]
    f, c = .024 * g + .007 * m + .008 * hip, .010 * g + .006 * m
    a = .006 * g
    x = lambda y: float(np.interp(y, [at.ankle[1], at.knee[1], at.hip[1]], [at.ankle[0], at.knee[0], at.hip[0]]))  # noqa: E731
    rows = sections("leg", thigh=f, calf=c, ankle=a)
    y0 = rows[0][0]
    b.loft(LEG, 0.036, (0, y0, 0), (0, 1, 0), (1, 0, 0), rows[-1][0] - y0,
           [(r[0] - y0, r[1] + x(r[0]), *r[2:]) for r in rows], 0.012)
    knee, ankle = ({f"{name}_{axis}": value for axis, value in zip("xyz", point, strict=True)}
                   for name, point in (("knee", at.knee), ("ankle", at.ankle)))
    b.details("leg", thigh=f, shin=a, vastus=1 + .6 * m, calf_head=1 + .8 * m, **knee, **ankle)
    heel, axis, side = foot_frame(at)
    rows = sections("foot", ankle=a)
    b.loft(LEG, 0.030, heel, axis, side, 0.205, rows, 0.008, front=(0, 1, 0))
    b.framed("ball of the foot", LEG, heel, (axis, side, _Y))
    for points, radii in toe_chains(at):
        b.cone(LEG, 0.0045, points[0], points[1], radii[0] + .4 * a, radii[1] + .4 * a)
    b.framed("heel", LEG, heel, (_X, _Y, _Z))


def _arm(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g, m = v["girth"], v["muscle"]
    up, fore, wr = .013 * g + .009 * m, .007 * g + .005 * m, .0012 * g + .0005 * m
    side = np.array([0.0, 0.0, 1.0])  # the loft's "side" runs forward, its "front" towards the back of the hand
    rows = sections("arm", upper=up, forearm=fore, wrist=wr, bend=.012)
    start = at.shoulder - .050 * at.arm
    b.loft(ARM, 0.054, start, at.arm, side, 0.595, [(r[0] + .050, *r[1:]) for r in rows], 0.010)
    b.framed("deltoid", ARM, at.shoulder, (at.arm, at.palm, side), upper=up)
    b.framed("point of the elbow", ARM, at.elbow, (side, at.arm, at.palm))
    fat = .0022 * g + .0008 * m
    rows = sections("hand", flesh=fat)
    w = at.wrist
    b.loft(ARM, 0.014, w, at.arm, side, 0.103, rows, 0.008)
    for points, radii in finger_chains(at):
        for i in range(len(points) - 1):
            b.cone(ARM, 0.007 if i == 0 else 0.0015, points[i], points[i + 1], radii[i] + fat, radii[i + 1] + fat)
    b.framed("ball of the thumb", ARM, w, (at.arm, side, at.palm), flesh=fat)


def finger_chains(at: Landmarks) -> list[tuple[np.ndarray, list[float]]]:
    """Return thumb to little finger of the left hand: joint points `(4, 3)` root to tip, and the radius at each."""
    forward, thumb, hand = _Z, _DIGITS["thumb"], _DIGITS["hand"]
    chains: list[tuple[np.ndarray, list[float]]] = []
    along, ahead, back = thumb["towards"]
    thumb_dir = along * at.arm + ahead * forward + back * at.palm
    thumb_dir /= np.linalg.norm(thumb_dir)
    along, ahead, back = thumb["root"]
    root = at.wrist + along * at.arm + ahead * forward + back * at.palm
    chains.append((np.array([root, *(root + far * thumb_dir for far in thumb["joints"])]), thumb["radii"]))
    for finger in _DIGITS["finger"]:
        across, (first, second, third), radius = finger["across"], finger["bones"], finger["radius"]
        knuckle, second_bent, third_bent = hand["bent"]
        direction = at.arm + across * hand["spread"] * forward + knuckle * at.palm
        direction /= np.linalg.norm(direction)
        curl, tip = direction + second_bent * at.palm, direction + third_bent * at.palm
        curl /= np.linalg.norm(curl)
        tip /= np.linalg.norm(tip)
        p0 = at.wrist + finger["along"] * at.arm + across * forward
        p1 = p0 + first * direction
        p2 = p1 + second * curl
        chains.append((np.array([p0, p1, p2, p2 + third * tip]), [radius, *(radius * share for share in hand["taper"])]))
    return chains


def foot_frame(at: Landmarks) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the left foot's heel point on the floor and the unit directions along and across (outwards)."""
    foot = _DIGITS["foot"]
    turn, (aside, back) = np.deg2rad(foot["turned"]), foot["heel"]
    heel = np.array([at.ankle[0] + aside, 0.0, at.ankle[2] + back])
    return heel, np.array([np.sin(turn), 0.0, np.cos(turn)]), np.array([np.cos(turn), 0.0, -np.sin(turn)])


def toe_chains(at: Landmarks) -> list[tuple[np.ndarray, list[float]]]:
    """Return great to little toe of the left foot: root and tip `(2, 3)`, and the radius at each."""
    heel, axis, across = foot_frame(at)
    out, (root_up, tip_up) = [], _DIGITS["foot"]["lifted"]
    for toe in _DIGITS["toe"]:
        (a0, a1), (r0, r1), (w0, w1) = toe["across"], toe["reach"], toe["radius"]
        root = heel + r0 * axis + a0 * across + np.array([0, w0 + root_up, 0])
        tip = heel + r1 * axis + a1 * across + np.array([0, w1 + tip_up, 0])
        out.append((np.array([root, tip]), [w0, w1]))
    return out
