"""A second judge of poke-through: random points of the surface and rays both ways instead of nearest points, with its own 48 views.

Its rays are the house's (held to another library's in the tests); all else is done another way than in the product.
"""

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.mesh.edges import border_vertices
from wily_heron.core.mesh.normals import triangle_areas, triangle_normals
from wily_heron.core.model.worn import dressed_skin, worn_points
from wily_heron.core.motion.pose import Pose, pose_matrices
from wily_heron.core.space.tree import TriangleTree

_PER_CM2 = 36.0
_AGREE, _UNDER, _OUT, _BORDER, _STRAY, _OTHER, _PINCH, _LIMB = 0.2, 0.04, 0.15, 0.03, 0.12, 0.05, 0.003, 0.008


def _views(count: int) -> np.ndarray:
    """Unit ways (count, 3) spread evenly over the sphere. Follows: Fibonacci lattice."""
    k = np.arange(count) + 0.5
    high = 1 - 2 * k / count
    round_ = np.sqrt(1 - high**2)
    return np.stack([np.cos(2.39996 * k) * round_, high, np.sin(2.39996 * k) * round_], 1)


_FAN = _views(48)[_views(48)[:, 1] > 0.25]


class Judge:
    """Judges a dressed wearer: what belongs under is settled at rest, what shows is seen in each pose, from so many `views`."""

    def __init__(self, dressed: Dressed, seed: int = 0, views: int = 48) -> None:
        self.dressed, self.views = dressed, _views(views)
        rng, wearer = np.random.default_rng(seed), dressed.wearer
        self.faces = [wearer.body.triangles, *(p.mesh.triangles for p in dressed.pieces)]
        points = [wearer.points.astype(float), *(np.asarray(r, float) for r in dressed.rest)]
        self.samples = [_Samples(points[i], self.faces[i], points[i + 1 :], self.faces[i + 1 :], rng) for i in range(len(dressed.pieces))]
        start = np.cumsum([0, *(len(p) for p in points)])
        self.scene = TriangleTree(np.concatenate(points), np.concatenate([f + s for f, s in zip(self.faces, start, strict=False)]))
        self.rims = [_Rim(points[i + 1], self.faces[i + 1]) for i in range(len(dressed.pieces))]
        self.under = [TriangleTree(p, f) for p, f in zip(points[:-1], self.faces[:-1], strict=True)]
        self.cloth = [TriangleTree(p, f) for p, f in zip(points[1:], self.faces[1:], strict=True)]

    def posed(self, pose: Pose, pieces: list) -> list[np.ndarray]:
        """Return the points of the body and of each piece in a pose."""
        wearer = self.dressed.wearer
        matrices = pose_matrices(wearer, pose)
        body = skin_points(dressed_skin(pieces, wearer, pose), wearer.body.skin, matrices)
        return [body, *(worn_points(p, wearer, pose, matrices) for p in pieces)]

    def judge(self, layers: list[np.ndarray]) -> tuple[float, float]:
        """Return the visible area (cm2) and the greatest depth (mm) of what shows with the layers at these points, skin first: of each
        layer what is out of any that it belongs under."""
        self.scene.refit(np.concatenate(layers))
        area = depth = 0.0
        for i, samples in enumerate(self.samples):
            x = np.einsum("qk,qka->qa", samples.where, layers[i][self.faces[i][samples.face]].astype(float))
            n = triangle_normals(layers[i], self.faces[i])[samples.face]
            shown = np.zeros(len(x), bool)
            outs = [self._out(i, i + k, layers, x, n, *under) for k, under in enumerate(samples.under)]
            for _, out, _ in outs:
                shown[out] = True
            some = np.flatnonzero(shown)
            shown[some] = self._seen(x[some], n[some])
            grown = triangle_areas(layers[i], self.faces[i][samples.face]) / samples.rest  # a face creased in the pose counts for less
            area += samples.each * float(grown[shown].sum())
            for cloth, out, t in outs:
                kept = shown[out]
                depth = max(depth, _deepest(x[out[kept]], n[out[kept]], t[kept], cloth))
        return 1e4 * area, 1000 * depth

    def _out(self, i: int, over: int, layers: list[np.ndarray], x: np.ndarray, n: np.ndarray, rows: np.ndarray,
             spot: np.ndarray) -> tuple[TriangleTree, np.ndarray, np.ndarray]:
        """Which points of layer `i`, of those in `rows` with their spots, are out of the piece `over`, and how far (r,)."""
        cloth, rest = self.cloth[over].refit(layers[over + 1]), np.asarray(self.dressed.rest[over], float)
        t, hit = cloth.first_hits(x[rows], -n[rows], _UNDER)
        own, _ = self.under[i].refit(layers[i]).first_hits(x[rows] - _LIMB * n[rows], -n[rows], _UNDER)
        facing = np.sum(cloth.normals[np.maximum(hit, 0)] * n[rows], axis=1) > _AGREE
        out = np.flatnonzero((hit >= 0) & facing & (t > 1e-4) & (t < own + _LIMB))
        lay = rest[cloth.triangles].mean(axis=1)
        back = lay[hit[out]]  # what lies before it here may be a hem it did not belong under at rest
        out = out[(np.linalg.norm(back - spot[out], axis=1) < _STRAY) & (self.rims[over].off(hit[out], back) > 0)]
        above, _ = cloth.first_hits(x[rows[out]] + 1e-5 * n[rows[out]], n[rows[out]], _UNDER)
        out = out[above > t[out]]
        out = out[~_pinched(x[rows[out]], n[rows[out]], self.under[i].refit(layers[i]))]
        far = np.linalg.norm(lay[hit[out]] - spot[out], axis=1)
        out = out[~_under_its_own(x[rows[out]], n[rows[out]], far, spot[out], cloth, lay)]
        return cloth, rows[out], t[out]

    def _seen(self, x: np.ndarray, n: np.ndarray) -> np.ndarray:
        """Which points are seen from one of the judge's own sides."""
        seen = np.zeros(len(x), bool)
        for view in self.views:
            ask = np.flatnonzero(~seen & (n @ view > 0.15))
            far, _ = self.scene.first_hits(x[ask] + 2e-4 * n[ask], np.broadcast_to(view, (len(ask), 3)), 3.0)
            seen[ask[~np.isfinite(far)]] = True
        return seen


def _pinched(x, n, own):
    """Which points have more of their own layer within 3 mm before them: asked from above, so that no ray begins past a fold's edge."""
    return own.first_hits(x + _PINCH * n, -n, 2 * _PINCH)[0] < _PINCH - 1e-7


def _fan(n):
    """Directions about each of n (q, 3), none leaning more than 75 degrees from it."""
    side = np.cross(n, np.where(np.abs(n[:, :1]) < 0.7, [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]))
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    return [along * n - a * side - b * np.cross(side, n) for a, along, b in _FAN]


def _under_its_own(x, n, far, spot, cloth, lay):
    """Which points lie before cloth that lay `far` from their spots at rest, and under cloth that lay less than half so far: within a
    sleeve that goes through the coat's side, what is before the side is not out, though it may be seen up the cuff. The cloth's faces
    `lay` there (m, 3)."""
    out = np.zeros(len(x), bool)
    for way in _fan(n):
        _, hit = cloth.first_hits(x + 1e-5 * way, way, _OUT)
        met = np.maximum(hit, 0)
        inner = (hit >= 0) & (np.sum(cloth.normals[met] * way, axis=1) > 0)
        out |= inner & (np.linalg.norm(lay[met] - spot, axis=1) < 0.5 * far)
    return out & (far > _OTHER)


def _deepest(x, n, t, cloth):
    """How far the farthest point lies from the cloth behind it: straight back (t), or along the nearest of a fan of rays, if it leans."""
    least = t.copy()
    for way in _fan(-n):
        far, hit = cloth.first_hits(x, way, _UNDER)
        good = (hit >= 0) & (np.sum(cloth.normals[np.maximum(hit, 0)] * n, axis=1) > _AGREE)
        least[good] = np.minimum(least, far)[good]
    return float(least.max(initial=0.0))


class _Samples:
    """Random points of an under-layer: their `face` and its size at `rest`, barycentric `where`, the area `each` stands for at rest, and
    which of them belong `under` each piece over it, from the next outwards, and where on it."""

    def __init__(self, points, faces, over, over_faces, rng) -> None:
        corner = points[faces]
        size = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
        near = np.min([KDTree(o).query(corner.mean(axis=1))[0] for o in over], axis=0)
        pick = np.flatnonzero(near < _OUT)
        count = int(1e4 * size[pick].sum() * _PER_CM2)
        self.face = rng.choice(pick, count, p=size[pick] / size[pick].sum()) if count else pick[:0]
        self.rest = size[self.face]
        self.where, self.each = rng.dirichlet([1, 1, 1], count), float(size[pick].sum()) / max(count, 1)
        x, n = np.einsum("qk,qka->qa", self.where, corner[self.face]), triangle_normals(points, faces)[self.face]
        own, _ = TriangleTree(points, faces).first_hits(x - _LIMB * n, -n, _UNDER)  # the far side of a limb
        self.under = [_belonging(x, n, own, cloth, its) for cloth, its in zip(over, over_faces, strict=True)]


def _belonging(x, n, own, over, over_faces):
    """Which points belong under a piece at rest, and where on it; `own` is how far behind each its own layer lies again."""
    cloth = TriangleTree(over, over_faces)
    good = lambda hit: (hit >= 0) & (np.sum(cloth.normals[np.maximum(hit, 0)] * n, axis=1) > _AGREE)  # noqa: E731
    t, hit = cloth.first_hits(x + 1e-6 * n, n, _OUT)
    back, sunk = cloth.first_hits(x, -n, _UNDER)
    above, below = good(hit), good(sunk) & (back < 0.5 * (own + _LIMB))  # past the middle of a limb it is the cloth of its other side
    below &= ~(above & (t < _UNDER))  # within a part of it that runs through another
    spot = x + np.where(above, t, np.where(below, -back, 0.0))[:, None] * n
    rows = np.flatnonzero(above | below)
    rows = rows[_Rim(over, over_faces).off(np.where(above, hit, sunk)[rows], spot[rows]) > 0]
    return rows, spot[rows]


class _Rim:
    """The open borders of each part of a surface: a button on a coat ends, the coat does not."""

    def __init__(self, points, faces) -> None:
        n = len(points)
        ends = np.concatenate([faces[:, :2], faces[:, 1:]])
        _, part = connected_components(coo_array((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(n, n)), directed=False)
        rim, self.part = border_vertices(faces, n), part[faces[:, 0]]
        self.trees = {k: KDTree(points[rim & (part == k)]) for k in np.unique(part[rim])}
        self.margin = {k: min(_BORDER, 0.5 * tree.query(points[part == k])[0].max()) for k, tree in self.trees.items()}

    def off(self, hit, places):
        """How far places (q, 3) on the faces `hit` lie straight off an open border of the same part, inf where it has none, less 3 cm or
        half the width of the part."""
        out, of = np.full(len(places), np.inf), self.part[hit]
        for k, tree in self.trees.items():
            out[of == k] = tree.query(places[of == k])[0] - self.margin[k]
        return out
