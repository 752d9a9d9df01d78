"""Binding: skin weights and shapes from the body's surface, accepted where it is near and facing alike, solved elsewhere."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..figure.body import Wearer
from ..figure.correctives import DRIVEN
from ..figure.shapes import LEFT
from ..figure.skeleton import Skin
from ..figure.skinning import strongest
from ..mesh.islands import islands
from ..mesh.laplacian import cotangent_laplacian
from ..mesh.normals import vertex_normals
from ..space.tree import Nearest, TriangleTree
from .recipe import Bind


@dataclass(frozen=True)
class Correspondence:
    """Where each piece vertex lies on the body: `nearest` (all vertices) and whether it is `accepted` (n,)."""

    nearest: Nearest
    accepted: np.ndarray


def correspond(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, reach: float, angle: float) -> Correspondence:
    """Return the closest body points, accepted within `reach` metres and `angle` radians between the normals."""
    tree = TriangleTree(wearer.points, wearer.body.triangles)
    normal = vertex_normals(points, triangles)
    near = tree.nearest(points)
    skin = tree.normals_at(near)
    skin /= np.maximum(np.linalg.norm(skin, axis=1, keepdims=True), 1e-12)
    if np.median(np.sum(normal * skin, axis=1)) < 0:
        normal = -normal  # an inside-out piece binds as well
    accepted = (near.distance < reach) & (np.sum(normal * skin, axis=1) > np.cos(angle))
    return Correspondence(near, accepted)


def inpaint(points: np.ndarray, triangles: np.ndarray, known: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Return `values` (n, k) kept where `known` (n,), and solved elsewhere by minimal x^T (L + L M^-1 L) x.

    Islands without any known vertex keep their values. Follows: Abdrashitov, Raichstat, Monsen & Hill, Robust skin weights
    transfer via weight inpainting, 2023.
    """
    count, label = islands(triangles, len(points))
    has_known = np.bincount(label[known], minlength=count) > 0
    free = np.flatnonzero(~known & has_known[label])
    out = np.array(values, np.float64)
    if not len(free):
        return out
    laplacian, mass = cotangent_laplacian(points, triangles)
    energy = (laplacian + laplacian @ sparse.diags(1.0 / mass) @ laplacian).tocsr()
    fixed = np.flatnonzero(known | ~has_known[label])
    system = energy[free][:, free].tocsc() + 1e-9 * sparse.identity(len(free), format="csc")
    columns = np.flatnonzero(np.abs(out[fixed]).max(axis=0) > 0)
    right = -(energy[free][:, fixed] @ out[fixed][:, columns])
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    out[free] = 0.0
    out[np.ix_(free, columns)] = factor.solve(np.ascontiguousarray(right))
    return out


def bind(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, step: Bind) -> tuple[Skin, dict]:
    """Return the skin of a piece lying on `wearer` at rest: at most 4 joints a vertex, summing to 1, and the report."""
    at = correspond(points, triangles, wearer, step.reach, step.angle)
    skin = wearer.body.skin
    dense = np.zeros((len(points), len(wearer.skeleton.names)))
    corners = wearer.body.triangles[at.nearest.triangle]
    for k in range(3):
        rows = np.repeat(np.arange(len(points)), skin.joints.shape[1])
        np.add.at(dense, (rows, skin.joints[corners[:, k]].ravel()),
                  (at.nearest.where[:, k, None] * skin.weights[corners[:, k]]).ravel())
    solved = np.clip(inpaint(points, triangles, at.accepted, dense), 0.0, None)
    total = solved.sum(axis=1, keepdims=True)
    solved = np.where(total > 1e-6, solved / np.maximum(total, 1e-6), dense)
    _share_on_islands(points, triangles, solved)
    result = strongest(solved)
    report = {
        "joints": int((np.bincount(result.joints.ravel(), result.weights.ravel()) > 0).sum()), "most": 4,
        "accepted": round(float(at.accepted.mean()), 4), "solved": round(1.0 - float(at.accepted.mean()), 4),
    }
    return result, report


def _share_on_islands(points: np.ndarray, triangles: np.ndarray, dense: np.ndarray) -> None:
    """Give every small island (a button) the one set of weights of the cloth at its centre, in place."""
    count, label = islands(triangles, len(points))
    size = np.bincount(label, minlength=count)
    carrier = np.flatnonzero(size[label] >= max(400, len(points) // 20))
    for island in range(count):
        rows = np.flatnonzero(label == island)
        if size[island] >= max(400, len(points) // 20) or not len(carrier) or np.ptp(points[rows], axis=0).max() > 0.12:
            continue
        centre = points[rows].mean(axis=0)
        nearest = carrier[np.argmin(np.sum((points[carrier] - centre) ** 2, axis=1))]
        dense[rows] = dense[nearest]


def follow(points: np.ndarray, triangles: np.ndarray, wearer: Wearer) -> tuple[np.ndarray, dict]:
    """Return the piece's shape deltas `(s, n, 3) float32`: the body's under it, spread smoothly to parts far from the skin."""
    at = correspond(points, triangles, wearer, 0.06, np.deg2rad(60.0))
    body = wearer.body
    corners = body.triangles[at.nearest.triangle]
    s, n = len(body.shapes), len(points)
    under = np.einsum("nk,snka->nsa", at.nearest.where, body.deltas[:, corners].astype(np.float64)).reshape(n, s * 3)
    spread = inpaint(points, triangles, at.accepted, under)
    _share_on_islands(points, triangles, spread)
    deltas = np.ascontiguousarray(spread.reshape(n, s, 3).transpose(1, 0, 2), np.float32)
    count = sum(not name.endswith(LEFT) and name not in DRIVEN for name in body.shapes)
    return deltas, {"shapes": count, "under": round(float(at.accepted.mean()), 4)}
