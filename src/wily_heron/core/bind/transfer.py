"""Weights taken from what lies under a piece: accepted where it is near, faces alike and is its own limb, solved elsewhere."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components
from scipy.sparse.linalg import splu

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skeleton, Skin
from ..mesh.edges import unique_edges
from ..mesh.islands import islands
from ..mesh.laplacian import cotangent_laplacian
from ..mesh.normals import vertex_normals
from ..space.tree import Nearest, TriangleTree
from .weight_kernels import gather

_STRANGE = 0.22
"""Neighbours on the cloth whose bones lie farther apart than this along the skeleton (metres) have landed on two limbs."""
_TORN = 2.5
"""Neighbours whose feet on the skin lie this many times farther apart than they do have landed on two sides of something."""
_PATCH = 0.25
"""A patch on another limb than the cloth about it is taken for a mistake below this share of its part."""


@dataclass(frozen=True)
class Surface:
    """A surface that weights are taken from: its tree and the weights of its vertices, on the skeleton's joints alone."""

    tree: TriangleTree
    skin: Skin


@dataclass(frozen=True)
class Taken:
    """Weights as taken: `dense` (n, j), where each vertex lies on the skin (`nearest`), and which were `accepted` (n,)."""

    dense: np.ndarray
    nearest: Nearest
    accepted: np.ndarray


def facing_out(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree) -> tuple[np.ndarray, Nearest]:
    """Return the piece's normals (n, 3) looking away from the body, whichever way its faces look, and the nearest skin.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        tree: The skin, as a tree of triangles.
    """
    normal = vertex_normals(points, triangles).astype(np.float64)
    near = tree.nearest(points)
    return (-normal if np.median(np.sum(normal * tree.normals[near.triangle], axis=1)) < 0 else normal), near


def take(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, under: Sequence[Surface], reach: float, angle: float) -> Taken:
    """Return weights of the surfaces under a piece.

    Of several the nearest counts, so an outer piece goes with the piece under it. Where a patch of cloth lies on a limb whose bone is far
    along the skeleton from that of the cloth about it (a hand beside a coat's hem), it is not taken.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body.
        under: The surfaces, the skin first.
        reach: How near one must lie, metres.
        angle: How nearly alike it must face, radians.
    """
    count, skin = len(wearer.skeleton.names), under[0]
    normal, near = facing_out(points, triangles, skin.tree)
    agree = float(np.cos(angle))
    dense, best = np.zeros((len(points), count)), np.full(len(points), np.inf)
    feet = np.array(near.point)
    for surface in under:
        limit = np.minimum(np.minimum(best, reach), 2.0 * near.distance + 0.015)  # much farther than the nearest is something else
        at = _facing(surface.tree, points, normal, agree, limit, near if surface is skin else None)
        rows = np.flatnonzero(at.triangle >= 0)
        dense[rows] = 0.0
        gather(rows, surface.tree.triangles[at.triangle[rows]], at.where[rows], surface.skin.joints, surface.skin.weights, dense)
        best[rows], feet[rows] = at.distance[rows], at.point[rows]
    accepted = np.isfinite(best)
    edges, _ = unique_edges(triangles)
    accepted &= ~_estranged(points, triangles, edges, accepted, feet, dense, wearer.skeleton)
    accepted &= ~parted(points, triangles, accepted, feet, lambda a, b: 0.5 * np.abs(dense[a] - dense[b]).sum(axis=1) > 0.12, edges)
    lost = np.flatnonzero(~accepted)
    dense[lost] = 0.0
    gather(lost, skin.tree.triangles[near.triangle[lost]], near.where[lost], skin.skin.joints, skin.skin.weights, dense)
    return Taken(dense, near, accepted)


def _facing(tree: TriangleTree, points: np.ndarray, normal: np.ndarray, agree: float, limit: np.ndarray, near: Nearest | None) -> Nearest:
    """Return the nearest that faces as `normal` (n, 3) does, within `limit` (n,); where what is `near` anyway does, that is it."""
    if near is None:
        return tree.nearest(points, facing=normal, agree=agree, limit=limit)
    faces = np.sum(normal * tree.normals[near.triangle], axis=1) >= agree
    triangle = np.where(faces & (near.distance < limit), near.triangle, -1)
    where, point, distance = near.where.copy(), near.point.copy(), near.distance.copy()
    rows = np.flatnonzero(~faces)
    at = tree.nearest(points[rows], facing=normal[rows], agree=agree, limit=limit[rows])
    triangle[rows], where[rows], point[rows], distance[rows] = at.triangle, at.where, at.point, at.distance
    return Nearest(triangle, where, point, distance)


def take_nearest(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, under: Surface, reach: float, angle: float) -> Taken:
    """Return the weights of the nearest skin whatever it is; `accepted` says where it lies within `reach` and `angle`. For comparison.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body in its shape, at rest.
        under: The skin, or a piece over it.
        reach: How near it must lie, metres.
        angle: How nearly alike it must face, radians.
    """
    normal, near = facing_out(points, triangles, under.tree)
    dense = np.zeros((len(points), len(wearer.skeleton.names)))
    gather(np.arange(len(points)), under.tree.triangles[near.triangle], near.where, under.skin.joints, under.skin.weights, dense)
    alike = np.sum(normal * under.tree.normals[near.triangle], axis=1) > np.cos(angle)
    return Taken(dense, near, (near.distance < reach) & alike)


def bone_distances(skeleton: Skeleton) -> np.ndarray:
    """Return `(j, j)` metres between joints along the bones, 0 between those at most two bones apart, which may well meet in the skin.

    >>> from ..figure.figure import figure
    >>> skeleton = figure(1).skeleton
    >>> far = bone_distances(skeleton)[skeleton.names.index("l_radiocarpal")]
    >>> bool(far[skeleton.names.index("l_elbow")] == 0), bool(far[skeleton.names.index("l_hip")] > 0.5)
    (True, True)
    """
    count, parents = len(skeleton.names), skeleton.parents
    on_way = np.eye(count)
    for j, parent in enumerate(parents):
        if parent >= 0:
            on_way[j] += on_way[parent]
    bone = np.array([np.linalg.norm(skeleton.positions[j] - skeleton.positions[p]) if p >= 0 else 0.0 for j, p in enumerate(parents)])
    shared = (on_way * bone) @ on_way.T
    hops = on_way @ on_way.T
    apart, steps = (np.diag(m)[:, None] + np.diag(m) - 2 * m for m in (shared, hops))
    return np.where(steps <= 2, 0.0, apart)


def _estranged(points, triangles, edges, accepted, feet, dense, skeleton) -> np.ndarray:
    edges = edges[accepted[edges].all(axis=1)]
    if not len(edges):
        return np.zeros(len(points), bool)
    a, b = edges.T
    long = np.linalg.norm(points[a] - points[b], axis=1)
    bone = np.argmax(dense, axis=1)
    apart = bone_distances(skeleton)[bone[a], bone[b]]
    jump = (apart > _STRANGE + 2 * long) | (np.linalg.norm(feet[a] - feet[b], axis=1) > 4 * long + 0.05)
    if not jump.any():
        return np.zeros(len(points), bool)
    kept = edges[~jump]
    graph = sparse.csr_matrix((np.ones(len(kept)), kept.T), shape=(len(points),) * 2)
    _, patch = connected_components(graph, directed=False)
    parts, label = islands(triangles, len(points))
    size = np.bincount(patch[accepted], minlength=patch.max() + 1)
    whole = np.bincount(label[accepted], minlength=parts)
    small = size[patch] < _PATCH * whole[label]
    beside = np.zeros(patch.max() + 1, bool)  # only a patch that a jump leads out of lies on another limb
    beside[patch[a[jump]]] = beside[patch[b[jump]]] = True
    return accepted & small & beside[patch]


def parted(points: np.ndarray, triangles: np.ndarray, accepted: np.ndarray, feet: np.ndarray,
           tears: Callable[[np.ndarray, np.ndarray], np.ndarray], edges: np.ndarray | None = None) -> np.ndarray:
    """Return `(n,) bool`: where neighbours on the cloth have landed far apart on the skin (a collar half on the neck, half on the jaw; a
    turned-up cuff) and what they took there `tears` them apart, asked of pairs of rows; with two rings about them."""
    edges = unique_edges(triangles)[0] if edges is None else edges
    a, b = edges[accepted[edges].all(axis=1)].T
    far = np.linalg.norm(feet[a] - feet[b], axis=1) > _TORN * np.linalg.norm(points[a] - points[b], axis=1) + 0.004
    a, b = a[far], b[far]
    parts = tears(a, b)
    torn = np.zeros(len(points), bool)
    torn[a[parts]] = torn[b[parts]] = True
    for _ in range(2 if torn.any() else 0):
        ring = torn[triangles].any(axis=1)
        torn[triangles[ring].ravel()] = True
    return torn


def inpaint(points: np.ndarray, triangles: np.ndarray, known: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Return `values` (n, k) kept where `known` (n,), and solved elsewhere by minimal x^T (L + L M^-1 L) x.

    Islands without any known vertex keep their values. Follows: Abdrashitov, Raichstat, Monsen & Hill, Robust skin weights
    transfer via weight inpainting, 2023.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        known: (n,) bool, where it is given.
        values: (n, k) weights.

    >>> strip = np.array([[x, y, 0] for x in range(5) for y in (0, 1)], float)
    >>> faces = np.array([[2 * k + a for a in f] for k in range(4) for f in ((0, 2, 1), (1, 2, 3))])
    >>> known = np.array([True, True] + [False] * 6 + [True, True])
    >>> given = np.where(np.arange(10)[:, None] < 2, [1.0, 0.0], [0.0, 1.0])
    >>> inpaint(strip, faces, known, given)[::2, 0].round(2)  # from one end to the other, smoothly
    array([1.  , 0.82, 0.5 , 0.19, 0.  ])
    """
    out = np.array(values, np.float64)
    near = ~known
    for _ in range(2):  # nothing farther than two rings bears on what is solved
        near[triangles[near[triangles].any(axis=1)].ravel()] = True
    faces = triangles[near[triangles].any(axis=1)]
    used = near.copy()
    used[faces.ravel()] = True
    rows, place = np.flatnonzero(used), np.cumsum(used) - 1
    faces = place[faces].astype(np.int32)
    count, label = islands(faces, len(rows))
    has_known = np.bincount(label[known[rows]], minlength=count) > 0
    free = rows[~known[rows] & has_known[label]]
    if not len(free):
        return out
    laplacian, mass = cotangent_laplacian(points[rows], faces)
    energy = (laplacian + laplacian @ sparse.diags(1.0 / mass) @ laplacian).tocsr()
    lines, fixed = energy[place[free]], np.flatnonzero(near & known)
    columns = np.flatnonzero(np.abs(out[fixed]).max(axis=0, initial=0.0) > 0)
    system = lines[:, place[free]].tocsc() + 1e-9 * sparse.identity(len(free), format="csc")
    right = -(lines[:, place[fixed]] @ out[np.ix_(fixed, columns)])
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    out[free] = 0.0
    out[np.ix_(free, columns)] = factor.solve(np.ascontiguousarray(right))
    return out


def shares(solved: np.ndarray, instead: np.ndarray) -> np.ndarray:
    """Return weights (n, j) none below nothing and summing to 1; where nothing is left of one, what stands `instead`.

    Args:
        solved: (n, j) weights as they were solved.
        instead: (n, j) weights for rows of which nothing is left.

    >>> shares(np.array([[0.6, -0.1, 0.6], [-1.0, 0, 0]]), np.array([[1.0, 0, 0], [0, 1, 0]]))
    array([[0.5, 0. , 0.5],
           [0. , 1. , 0. ]])
    """
    solved = np.clip(solved, 0.0, None)
    total = solved.sum(axis=1, keepdims=True)
    return np.where(total > 1e-6, solved / np.maximum(total, 1e-6), instead)
