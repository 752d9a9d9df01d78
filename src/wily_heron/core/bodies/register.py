"""Surface registration: our figure's mesh laid onto another body, so that what is known of one is known of the other."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..figure.base.body import Body
from ..figure.base.skeleton import Skeleton
from ..figure.figure import figure
from ..mesh.laplacian import cotangent_laplacian
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .bone_start import bone_start

_ROUNDS = ((1.0, 0.10), (0.5, 0.08), (0.25, 0.07), (0.12, 0.05), (0.06, 0.04), (0.03, 0.03), (0.015, 0.03), (0.008, 0.02), (0.004, 0.02))
"""Stiffness, and how far (share of the stature) a point may look for its place, round by round."""


@dataclass(frozen=True)
class Registered:
    """Level 1 of our figure on the other body: vertices (n, 3), our skeleton there, and how well it lies.

    `gap` is the mean distance (metres) of its vertices to the other surface, `loose` the share that found no place within reach.
    """

    points: np.ndarray
    skeleton: Skeleton
    gap: float
    loose: float


def register(points: np.ndarray, triangles: np.ndarray, places: Mapping[str, np.ndarray]) -> Registered:
    """Return our figure registered to a body.

    Bones are aligned first; then the surface is drawn to the nearest that faces alike, ever less stiffly, its bending kept small by a
    bi-Laplacian of the displacement.

    Args:
        points: (n, 3) float, metres; the body, upright and facing +z.
        triangles: (m, 3) int32.
        places: (3,) metres by our joints' names.

    Follows: Amberg, Romdhani & Vetter, Optimal step nonrigid ICP, 2007.
    """
    body = figure(1)
    start = bone_start(body, places, float(points[:, 1].max()))
    tree = TriangleTree(points, triangles)
    stature = float(np.ptp(points[:, 1]))
    p, first = start.points.copy(), start.points
    laplacian, mass = cotangent_laplacian(first, body.triangles)
    bending = (float(mass.mean()) * (laplacian @ sparse.diags(1.0 / mass) @ laplacian) + 0.2 * laplacian).tocsc()
    loose, gap = 1.0, 0.0
    for stiffness, reach in _ROUNDS:
        normal = vertex_normals(p, body.triangles)
        near = tree.nearest(p, facing=normal, agree=0.35, limit=reach * stature)
        found = near.triangle >= 0
        weight = np.where(found, 1.0 / (1.0 + (near.distance / (0.35 * reach * stature)) ** 2) ** 2, 0.0)
        system = (stiffness * 20.0 * bending + sparse.diags(weight + 1e-5)).tocsc()
        factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
        p = first + factor.solve(weight[:, None] * np.where(found[:, None], near.point - first, 0.0))
        loose, gap = 1.0 - float(found.mean()), float(near.distance[found].mean()) if found.any() else np.inf
    return Registered(p, Skeleton(body.skeleton.names, body.skeleton.parents, _joints(body, p, start.joints)), gap, loose)


def _joints(body: Body, p: np.ndarray, start: np.ndarray) -> np.ndarray:
    """Return our joints `(j, 3)` as the surface about them carries them: by the affine map that fits it best."""
    out = start.copy()
    for j in range(len(out)):
        share = np.where(body.skin.joints == j, body.skin.weights, 0.0).sum(axis=1).astype(np.float64)
        near = np.exp(-0.5 * np.sum((body.base - body.skeleton.positions[j]) ** 2, axis=1) / 0.05**2) * (share > 0.02)
        if near.sum() < 3.0:
            continue
        w = near / near.sum()
        a, b = w @ body.base, w @ p
        x, y = body.base - a, p - b
        affine = np.linalg.lstsq(np.sqrt(w)[:, None] * x, np.sqrt(w)[:, None] * y, rcond=1e-3)[0]
        out[j] = b + (body.skeleton.positions[j] - a) @ affine
    return out
