"""From shape values to the body's surface: the cage refined level by level and drawn onto the field."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.spatial import KDTree

from ...mesh.edges import adjacency
from ...mesh.ops.catmull_clark import catmull_clark
from ..cage_grid import Cage
from . import field_kernels as kernels
from .body_field import HEAD, TORSO, Field, body_field
from .cage import build_cage
from .cage_head import HEAD_CENTRE

_CLIP = (0.030, 0.014, 0.006)


@dataclass(frozen=True)
class Topology:
    """What all shapes share: per level the refinement matrix and quads, and the vertex attributes read off the cage."""

    refine: tuple[sparse.csr_matrix, ...]
    quads: tuple[np.ndarray, ...]
    headness: tuple[np.ndarray, ...]
    keptness: tuple[np.ndarray, ...]
    """How much a vertex belongs to an ear, a hand or the toes, which keep their cage's shape."""
    saddle: tuple[np.ndarray, ...]
    """How much a vertex belongs to the seam between the legs, which is drawn up or down alone: level there, it would slide."""
    mirror: tuple[np.ndarray, ...]


def topology(cage: Cage, levels: int) -> Topology:
    """Return the refinement of `cage` for levels 0..`levels`."""
    quads = [np.array(cage.quads, np.int32)]
    head = [np.array([part == "head" for part in cage.parts], float)]
    kept = [np.array([_kept(part, u) for part, u in zip(cage.parts, cage.along, strict=True)], float)]
    mirror = [np.array([cage.mirror[i] for i in range(len(cage.points))])]
    saddle = [np.array([part == "pelvis" for part in cage.parts], float)]
    plain, refine = np.array(cage.points), []
    for _ in range(levels):
        matrix, finer = catmull_clark(quads[-1], len(head[-1]))
        refine.append(matrix)
        quads.append(finer)
        head.append(matrix @ head[-1])
        kept.append(matrix @ kept[-1])
        saddle.append(matrix @ saddle[-1])
        plain = matrix @ plain
        mirror.append(_pairs(plain))
    return Topology(tuple(refine), tuple(quads), tuple(head), tuple(kept), tuple(saddle), tuple(mirror))


def _kept(part: str, u: float) -> bool:
    """Whether a cage vertex keeps its place: where digits lie close, the nearest surface may be a neighbour's."""
    return part[:3] in ("ear", "fin", "toe") or part == "palm" or (part == "foot" and u > .170)


def _pairs(points: np.ndarray) -> np.ndarray:
    gap, index = KDTree(points).query(points * np.array([-1.0, 1.0, 1.0]))
    if gap.max() > 1e-9:
        raise ValueError(f"the cage is not mirror-exact: {gap.max()} m")
    return np.asarray(index)


def body_surface(p: Mapping[str, float], top: Topology, levels: int = 2) -> np.ndarray:
    """Return the vertices `(n, 3)` in metres of the body with shape values `p` at refinement level `levels`."""
    cage, field = build_cage(p), body_field(p)
    points = np.array(cage.points)
    trunk = np.array([part == "trunk" for part in cage.parts])
    _from_outside(points, trunk, field, np.array([0.0, 0.0, -0.01]), level=True, mask=TORSO)
    points = _settle(points, top, 0, field, rounds=2)
    for level in range(1, levels + 1):
        points = top.refine[level - 1] @ points
        points = _settle(points, top, level, field, rounds=5)
    return points


def _settle(points: np.ndarray, top: Topology, level: int, field: Field, rounds: int) -> np.ndarray:
    near = adjacency(top.quads[level], len(points))
    mean = sparse.diags(1.0 / np.asarray(near.sum(axis=1)).ravel()) @ near
    head = top.headness[level]
    free = 1.0 - np.clip(top.keptness[level], 0.0, 1.0)[:, None]  # these keep the shape of their cage
    star = (head > 0.93) & (free[:, 0] > 0.5)
    masks = np.where(head > 0.5, HEAD | TORSO, 15).astype(np.int32)
    upright = np.where((top.saddle[level] > 0.05)[:, None], [0.0, 1.0, 0.0], 1.0)
    strength = free * np.where(head > 0.4, 0.10, 0.45)[:, None] * (1.0, 0.8, 0.5)[level]
    args = field.args()
    for _ in range(rounds):
        shift = mean @ points - points
        normal = quad_normals(points, top.quads[level])
        shift -= normal * np.sum(shift * normal, axis=1, keepdims=True)
        points = points + strength * shift
        for _ in range(2):
            before = points.copy()
            kernels.newton(points, _CLIP[level], *args, masks)
            points = before + np.where(star[:, None], 0.0, free * upright) * (points - before)
        _from_outside(points, star, field, HEAD_CENTRE, level=False, mask=HEAD)
        points = _mirror_exact(points, top.mirror[level])
    return points


def _from_outside(points: np.ndarray, which: np.ndarray, field: Field, centre: np.ndarray, level: bool, mask: int) -> None:
    """Project the vertices in `which` along rays from `centre` (at their own height if `level`), marching inwards."""
    origins = np.repeat(centre[None], which.sum(), axis=0)
    if level:
        origins[:, 1] = points[which, 1]
    rays = points[which] - origins
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    reach = np.empty(len(rays))
    masks = np.full(len(rays), mask, np.int32)
    kernels.march(origins, rays, 0.35 if level else 0.17, *field.args(), masks, reach)
    hit = reach > 0
    moved = points[which]
    moved[hit] = origins[hit] + reach[hit, None] * rays[hit]
    points[which] = moved


def _mirror_exact(points: np.ndarray, pairs: np.ndarray) -> np.ndarray:
    return 0.5 * (points + points[pairs] * np.array([-1.0, 1.0, 1.0]))


def quad_normals(points: np.ndarray, quads: np.ndarray) -> np.ndarray:
    """Return the area-weighted unit vertex normals `(n, 3)` of a quad mesh."""
    a = points[quads[:, 2]] - points[quads[:, 0]]
    b = points[quads[:, 3]] - points[quads[:, 1]]
    face = np.cross(a, b)
    out = np.zeros_like(points)
    for corner in range(4):
        np.add.at(out, quads[:, corner], face)
    return out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-20)
