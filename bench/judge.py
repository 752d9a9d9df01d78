"""A second judge of poke-through: random points of the surface and rays both ways instead of nearest points, with its own 48 views.

Its rays are the house's (held to another library's in the tests); all else is done another way than in the product.
"""

import numpy as np
from scipy.spatial import KDTree

from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.pose import Pose, pose_matrices
from wily_heron.core.figure.skinning import skin_points
from wily_heron.core.mesh.edges import border_vertices
from wily_heron.core.mesh.normals import triangle_normals
from wily_heron.core.piece.worn import dressed_skin, worn_points
from wily_heron.core.space.tree import TriangleTree

_PER_CM2 = 36.0
_AGREE, _UNDER, _OUT, _BORDER, _STRAY, _OTHER, _PINCH = 0.2, 0.04, 0.15, 0.03, 0.12, 0.05, 0.003
_k = np.arange(48) + 0.5
_round = np.sqrt(1 - (1 - _k / 24) ** 2)
_VIEWS = np.stack([np.cos(2.39996 * _k) * _round, 1 - _k / 24, np.sin(2.39996 * _k) * _round], 1)
_FAN = _VIEWS[_VIEWS[:, 1] > 0.25]


class Judge:
    """Judges a dressed wearer: what belongs under is settled at rest, what shows is seen in each pose."""

    def __init__(self, dressed: Dressed, seed: int = 0) -> None:
        self.dressed = dressed
        rng, wearer = np.random.default_rng(seed), dressed.wearer
        self.faces = [wearer.body.triangles, *(p.mesh.triangles for p in dressed.pieces)]
        points = [wearer.points.astype(float), *(np.asarray(r, float) for r in dressed.rest)]
        self.pairs = [_belonging(points[i], self.faces[i], points[i + 1], self.faces[i + 1], rng) for i in range(len(dressed.pieces))]
        start = np.cumsum([0, *(len(p) for p in points)])
        self.scene = TriangleTree(np.concatenate(points), np.concatenate([f + s for f, s in zip(self.faces, start, strict=False)]))
        self.rims = [_rim(points[i + 1], self.faces[i + 1]) for i in range(len(dressed.pieces))]
        self.under = [TriangleTree(p, f) for p, f in zip(points[:-1], self.faces[:-1], strict=True)]
        self.cloth = [TriangleTree(p, f) for p, f in zip(points[1:], self.faces[1:], strict=True)]

    def posed(self, pose: Pose, pieces: list) -> list[np.ndarray]:
        """Return the points of the body and of each piece in a pose."""
        wearer = self.dressed.wearer
        matrices = pose_matrices(wearer, pose)
        body = skin_points(dressed_skin(pieces, wearer, pose), wearer.body.skin, matrices)
        return [body, *(worn_points(p, wearer, pose, matrices) for p in pieces)]

    def judge(self, layers: list[np.ndarray]) -> tuple[float, float]:
        """Return the visible area (cm2) and the greatest depth (mm) of what shows with the layers at these points, skin first."""
        self.scene.refit(np.concatenate(layers))
        area = depth = 0.0
        for i, (face, where, each, spot) in enumerate(self.pairs):
            x = np.einsum("qk,qka->qa", where, layers[i][self.faces[i][face]].astype(float))
            n = triangle_normals(layers[i], self.faces[i])[face]
            cloth, rest = self.cloth[i].refit(layers[i + 1]), np.asarray(self.dressed.rest[i], float)
            t, hit = cloth.first_hits(x, -n, _UNDER)
            out = np.flatnonzero((hit >= 0) & (t > 1e-4) & (np.sum(cloth.normals[np.maximum(hit, 0)] * n, axis=1) > _AGREE))
            lay = rest[cloth.triangles].mean(axis=1)
            back = lay[hit[out]]  # what lies before it here may be a hem it did not belong under at rest
            out = out[(np.linalg.norm(back - spot[out], axis=1) < _STRAY) & (self.rims[i].query(back)[0] > _BORDER)]
            above, _ = cloth.first_hits(x[out] + 1e-5 * n[out], n[out], _UNDER)
            out = out[above > t[out]]
            out = out[~_pinched(x[out], n[out], self.under[i].refit(layers[i]))]
            far = np.linalg.norm(lay[hit[out]] - spot[out], axis=1)
            out = out[~_under_its_own(x[out], n[out], far, spot[out], cloth, lay)]
            seen = np.zeros(len(out), bool)
            for view in _VIEWS:
                ask = np.flatnonzero(~seen & (n[out] @ view > 0.15))
                far, _ = self.scene.first_hits(x[out[ask]] + 2e-4 * n[out[ask]], np.broadcast_to(view, (len(ask), 3)), 3.0)
                seen[ask[~np.isfinite(far)]] = True
            area += each * float(seen.sum())
            depth = max(depth, _deepest(x[out[seen]], n[out[seen]], t[out[seen]], cloth))
        return 1e4 * area, 1000 * depth


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
        _, hit = cloth.first_hits(x + 1e-5 * way, way, _UNDER)
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


def _belonging(under, faces, over, over_faces, rng):
    """Random points of the under-layer that belong under the over-layer: faces, barycentric places, the area each stands for, spots."""
    corner = under[faces]
    size = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
    pick = np.flatnonzero(KDTree(over).query(corner.mean(axis=1))[0] < _OUT)
    count = int(1e4 * size[pick].sum() * _PER_CM2)
    face, where = rng.choice(pick, count, p=size[pick] / size[pick].sum()), rng.dirichlet([1, 1, 1], count)
    x, n = np.einsum("qk,qka->qa", where, corner[face]), triangle_normals(under, faces)[face]
    cloth = TriangleTree(over, over_faces)
    good = lambda hit: (hit >= 0) & (np.sum(cloth.normals[np.maximum(hit, 0)] * n, axis=1) > _AGREE)  # noqa: E731
    t, hit = cloth.first_hits(x + 1e-6 * n, n, _OUT)
    back, sunk = cloth.first_hits(x, -n, _UNDER)
    above, below = good(hit), good(sunk)
    spot = x + np.where(above, t, np.where(below, -back, 0.0))[:, None] * n
    keep = above | below
    keep &= _rim(over, over_faces).query(spot)[0] > _BORDER
    return face[keep], where[keep], size[pick].sum() / max(count, 1), spot[keep]


def _rim(points, faces):
    """A tree of the open borders' vertices; of a closed surface, of a point far off."""
    rim = points[border_vertices(faces, len(points))]
    return KDTree(rim if len(rim) else np.full((1, 3), 1e3))
