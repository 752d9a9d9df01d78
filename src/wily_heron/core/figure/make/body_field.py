"""The signed distance field of the body: lofts, round cones, ellipsoids and small displacements, from shape values."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from ..base.landmarks import Landmarks, landmarks
from . import field_kernels as kernels
from .lofts import sections

TORSO, ARM, LEG, HEAD = 1, 2, 4, 8
WHOLE = TORSO | ARM | LEG | HEAD
_ROWS = 96


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
    b.cone(TORSO, 0.050, (0.026, 1.452, -0.034), tip, .024 + .003 * m + .004 * g, .016 + .003 * m)  # trapezius
    b.cone(TORSO, 0.030, (0.040, 1.28, -0.088), (0.135, 1.340, -0.082), .036 + .006 * m, .034 + .006 * m)  # shoulder blade
    b.cone(TORSO, 0.050, (0.080, 1.13, -0.026), (0.140 + .5 * at.spread, 1.315, -0.050), .024 + .006 * m, .040 + .012 * m)  # lats
    b.cone(TORSO, 0.040, (0.042, 1.275, 0.070), (0.128 + .4 * at.spread, 1.318, 0.038), .034 + .007 * m, .034 + .007 * m)  # pectorals
    b.cone(TORSO, 0.016, (0.014, 1.418, 0.036), (tip[0] - .012, tip[1] + .002, -0.004), .0085, .0085)  # collarbone
    full = 0.5 + 0.5 * v["bust"]
    b.ellipsoid(TORSO, 0.055, (0.074 + .004 * g, 1.232 - .010 * full - .004 * g, 0.070 + .012 * full + .016 * g),
                (.052 + .014 * full + .006 * g, .054 + .016 * full + .006 * g, .036 + .028 * full + .006 * g))
    b.ellipsoid(TORSO, 0.042, (0.074 + .010 * hip, 0.872, -0.062 - .010 * seat - .010 * g),
                (.070 + .010 * hip + .012 * g, .082 + .006 * seat + .006 * g, .054 + .012 * seat + .010 * g))
    b.ellipsoid(TORSO, 0.080, (0.0, 1.000 - .010 * g, 0.030 + .018 * fore + .018 * g),
                (.085 + .018 * fore + .030 * g, .100 + .012 * fore + .010 * g, .060 + .026 * fore + .018 * g))
    lean = (1.0 - 0.5 * g) * (1.0 + 0.4 * m)
    b.bump(TORSO, (0, 1.20, -0.115), (.012, .13, .05), -.007 * lean)  # spine groove
    b.bump(TORSO, (0, 1.02, -0.085), (.014, .07, .05), -.006 * lean)
    b.bump(TORSO, (0, 0.862, -0.130), (.010, .050, .05), -.010)  # between the glutes
    b.bump(TORSO, (0, 1.27, 0.105), (.012, .06, .04), -.005 * lean)  # breastbone
    b.bump(TORSO, (0, 1.10, 0.10), (.010, .07, .04), -.0025 * lean)
    b.bump(TORSO, (0, 1.012, 0.105 + .055 * fore + .045 * g), (.009, .009, .03), -.007)  # navel
    b.bump(TORSO, (0, 1.432, 0.018), (.014, .012, .02), -.006)  # pit of the neck
    b.bump(TORSO | LEG, (0.085, 0.885, 0.085), (.020, .014, .03), -.004 * lean)  # inguinal line
    b.bump(TORSO | LEG, (0.055, 0.855, 0.085), (.016, .014, .03), -.004 * lean)
    b.bump(TORSO, (0.112, 1.255, -0.100), (.012, .040, .03), .003 * lean)


def _neck_and_head(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g = v["girth"]
    b.cone(HEAD | TORSO, 0.032, (0, 1.425, -0.034), (0, 1.540, -0.006), .057, .053)
    b.cone(HEAD | TORSO, 0.014, (0.010, 1.432, 0.024), (0.050, 1.550, -0.014), .0100, .0115)  # sternomastoid
    full = .006 * g
    rows = sections("head", girth=full)
    b.loft(HEAD, 0.018, (0, 1.476, 0.0), (0, 1, 0), (1, 0, 0), 0.155, rows, 0.006)
    b.ellipsoid(HEAD, 0.020, (0, 1.607, -0.008), (.0725, .0935, .0985))  # cranium
    b.cone(HEAD, 0.016, (0, 1.604, 0.0850), (0, 1.574, 0.1010), .0070, .0085)  # bridge of the nose
    b.ellipsoid(HEAD, 0.009, (0, 1.5670, 0.1020), (.0088, .0080, .0092))  # its tip
    b.ellipsoid(HEAD, 0.014, (0.0096, 1.5620, 0.0925), (.0054, .0062, .0085))  # nostril wing
    b.ellipsoid(HEAD, 0.026, (0, 1.5290, 0.0760), (.026, .0170, .0125))  # the mouth's mound
    b.cone(HEAD, 0.007, (0, 1.5348, 0.0912), (0.0230, 1.5284, 0.0802), .0060, .0026)  # upper lip
    b.cone(HEAD, 0.007, (0, 1.5216, 0.0900), (0.0212, 1.5268, 0.0800), .0078, .0030)  # lower lip
    b.ellipsoid(HEAD, 0.030, (0, 1.492, 0.0755), (.019, .017, .015))  # chin
    b.cone(HEAD, 0.034, (0.040 + .5 * full, 1.515, 0.014), (0.049 + .5 * full, 1.560, -0.002), .013, .013)  # jaw angle
    b.ellipsoid(HEAD, 0.040, (0.043, 1.567, 0.046), (.022, .019, .021))  # cheekbone
    b.ellipsoid(HEAD, 0.040, (0.036, 1.535, 0.050), (.021, .028, .022))  # cheek
    b.cone(HEAD, 0.014, (0.014, 1.6120, 0.0820), (0.046, 1.6130, 0.0630), .0050, .0045)  # brow ridge
    b.bump(HEAD, (0.0315, 1.5945, 0.082), (.0150, .0110, .020), -.0105)  # eye socket
    b.bump(HEAD, (0.0315, 1.5940, 0.082), (.0112, .0086, .020), .0114)  # the eye under its lids
    for x, y in ((.0230, 1.5908), (.0315, 1.5893), (.0400, 1.5912)):
        b.bump(HEAD, (x, y, 0.083), (.0058, .0018, .016), -.0018)  # the lids' meeting line
    b.bump(HEAD, (0.0, 1.5284, 0.091), (.0170, .0013, .012), -.0030)  # between the lips
    b.bump(HEAD, (0.0238, 1.5282, 0.080), (.0030, .0030, .010), -.0014)  # corner of the mouth
    b.bump(HEAD, (0, 1.5115, 0.088), (.014, .0050, .014), -.0022)  # over the chin
    b.bump(HEAD, (0.0, 1.5450, 0.093), (.0032, .0050, .014), -.0014)  # philtrum
    b.bump(HEAD, (0.0063, 1.5540, 0.098), (.0042, .0036, .006), -.0020)  # nostril
    b.bump(HEAD, (0.067, 1.612, 0.045), (.014, .022, .02), -.0018)  # temple


def _leg(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g, m, hip = v["girth"], v["muscle"], v["hip"]
    f, c = .024 * g + .007 * m + .008 * hip, .010 * g + .006 * m
    a = .006 * g
    x = lambda y: float(np.interp(y, [at.ankle[1], at.knee[1], at.hip[1]], [at.ankle[0], at.knee[0], at.hip[0]]))  # noqa: E731
    rows = sections("leg", thigh=f, calf=c, ankle=a)
    y0 = rows[0][0]
    b.loft(LEG, 0.036, (0, y0, 0), (0, 1, 0), (1, 0, 0), rows[-1][0] - y0,
           [(r[0] - y0, r[1] + x(r[0]), *r[2:]) for r in rows], 0.012)
    k = at.knee
    b.ellipsoid(LEG, 0.022, (k[0], k[1] + .006, k[2] + .036 + .3 * f), (.024, .030, .018))  # kneecap
    b.bump(LEG, (k[0], k[1] - .055, k[2] + .045), (.016, .014, .02), .003)
    b.bump(LEG, (k[0] - .028, k[1] + .045, k[2] + .045), (.018, .022, .02), .004 * (1 + .6 * m))  # vastus
    b.bump(LEG, (k[0] + .030, k[1] + .060, k[2] + .045), (.018, .030, .02), .003 * (1 + .6 * m))
    b.bump(LEG, (k[0] - .026, .325, -.078), (.018, .045, .02), .0045 * (1 + .8 * m))  # calf heads
    b.bump(LEG, (k[0] + .024, .345, -.076), (.018, .040, .02), .0035 * (1 + .8 * m))
    e = at.ankle
    b.ellipsoid(LEG, 0.014, (e[0] - .030 - a, e[1] + .012, e[2] + .004), (.006, .013, .011))  # malleoli
    b.ellipsoid(LEG, 0.014, (e[0] + .031 + a, e[1] + .002, e[2] - .004), (.006, .013, .010))
    heel, axis, side = foot_frame(at)
    rows = sections("foot", ankle=a)
    b.loft(LEG, 0.030, heel, axis, side, 0.205, rows, 0.008, front=(0, 1, 0))
    b.cone(LEG, 0.012, heel + .196 * axis - .022 * side + [0, .0150, 0], heel + .176 * axis + .028 * side + [0, .0125, 0], .0120, .0098)
    for points, radii in toe_chains(at):
        b.cone(LEG, 0.0045, points[0], points[1], radii[0] + .4 * a, radii[1] + .4 * a)
    b.ellipsoid(LEG, 0.012, heel + np.array([0, .012, .022]), (.027, .0115, .030))


def _arm(b: _Builder, at: Landmarks, v: dict[str, float]) -> None:
    g, m = v["girth"], v["muscle"]
    up, fore, wr = .013 * g + .009 * m, .007 * g + .005 * m, .0012 * g + .0005 * m
    side = np.array([0.0, 0.0, 1.0])  # the loft's "side" runs forward, its "front" towards the back of the hand
    rows = sections("arm", upper=up, forearm=fore, wrist=wr, bend=.012)
    start = at.shoulder - .050 * at.arm
    b.loft(ARM, 0.054, start, at.arm, side, 0.595, [(r[0] + .050, *r[1:]) for r in rows], 0.010)
    s = at.shoulder
    b.ellipsoid(ARM, 0.034, s + .030 * at.arm + .010 * at.palm, (.052 + up, .044 + up, .047 + up),
                np.array([at.arm, at.palm, side]))  # deltoid
    e = at.elbow
    b.bump(ARM, e + np.array([0, 0, -.038]) - .004 * at.arm, (.014, .014, .012), .004)
    fat = .0022 * g + .0008 * m
    rows = sections("hand", flesh=fat)
    w = at.wrist
    b.loft(ARM, 0.014, w, at.arm, side, 0.103, rows, 0.008)
    for points, radii in finger_chains(at):
        for i in range(len(points) - 1):
            b.cone(ARM, 0.007 if i == 0 else 0.0015, points[i], points[i + 1], radii[i] + fat, radii[i + 1] + fat)
    b.cone(ARM, 0.014, w + .020 * at.arm + .020 * side - .006 * at.palm,
           w + .055 * at.arm + .030 * side - .008 * at.palm, .014 + fat, .013 + fat)  # ball of the thumb


def finger_chains(at: Landmarks) -> list[tuple[np.ndarray, list[float]]]:
    """Return thumb to little finger of the left hand: joint points `(4, 3)` root to tip, and the radius at each."""
    forward = np.array([0.0, 0.0, 1.0])
    chains: list[tuple[np.ndarray, list[float]]] = []
    thumb_dir = 0.70 * at.arm + 0.68 * forward - 0.20 * at.palm
    thumb_dir /= np.linalg.norm(thumb_dir)
    root = at.wrist + .026 * at.arm + .026 * forward - .006 * at.palm
    chains.append((np.array([root, root + .044 * thumb_dir, root + .076 * thumb_dir, root + .100 * thumb_dir]),
                   [.0140, .0108, .0102, .0084]))
    fan = [(.0300, .083, .044, .024, .017, .0096), (.0100, .090, .048, .028, .018, .0098),
           (-.0102, .087, .045, .026, .018, .0093), (-.0296, .079, .035, .020, .016, .0084)]
    for across, along, first, second, third, radius in fan:
        direction = at.arm + across * 2.6 * forward - 0.10 * at.palm
        direction /= np.linalg.norm(direction)
        curl = direction - 0.16 * at.palm
        curl /= np.linalg.norm(curl)
        tip = direction - 0.30 * at.palm
        tip /= np.linalg.norm(tip)
        p0 = at.wrist + along * at.arm + across * forward
        p1 = p0 + first * direction
        p2 = p1 + second * curl
        chains.append((np.array([p0, p1, p2, p2 + third * tip]), [radius, radius * .93, radius * .88, radius * .74]))
    return chains


def foot_frame(at: Landmarks) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the left foot's heel point on the floor and the unit directions along and across (outwards)."""
    turn = np.deg2rad(8.0)
    heel = np.array([at.ankle[0] - .006, 0.0, at.ankle[2] - .052])
    return heel, np.array([np.sin(turn), 0.0, np.cos(turn)]), np.array([np.cos(turn), 0.0, -np.sin(turn)])


def toe_chains(at: Landmarks) -> list[tuple[np.ndarray, list[float]]]:
    """Return great to little toe of the left foot: root and tip `(2, 3)`, and the radius at each."""
    heel, axis, across = foot_frame(at)
    rows = [  # across at root and tip, reach at root and tip, radius at root and tip
        (-.0285, -.0290, .200, .236, .0128, .0122), (-.0075, -.0068, .200, .236, .0088, .0082),
        (.0086, .0104, .196, .229, .0080, .0076), (.0236, .0264, .188, .219, .0076, .0071),
        (.0378, .0408, .172, .205, .0074, .0068),
    ]
    out = []
    for a0, a1, r0, r1, w0, w1 in rows:
        root = heel + r0 * axis + a0 * across + np.array([0, w0 + .0045, 0])
        tip = heel + r1 * axis + a1 * across + np.array([0, w1 + .0005, 0])
        out.append((np.array([root, tip]), [w0, w1]))
    return out


def _frame(first, second) -> np.ndarray:
    a = np.asarray(first, float)
    a = a / np.linalg.norm(a)
    s = np.asarray(second, float)
    s = s - (s @ a) * a
    s = s / np.linalg.norm(s)
    return np.array([a, s, np.cross(a, s)])
