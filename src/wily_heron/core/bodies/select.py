"""Choosing faces of a model by hand: a run of faces, a lasso, one more ring, a material."""

import numpy as np

from ..errors import InputError
from ..mesh.normals import triangle_normals
from ..model.model import Model
from ..space.tree import TriangleTree
from .divide import units


def run_of(model: Model, triangle: int) -> np.ndarray:
    """Return `(m,) bool`: the connected run of one material that holds `triangle`."""
    found = units(model)
    return found == found[_checked(model, triangle)]


def of_material(model: Model, triangle: int) -> np.ndarray:
    """Return `(m,) bool`: all faces of the material of `triangle`."""
    return model.mesh.triangle_material == model.mesh.triangle_material[_checked(model, triangle)]


def in_lasso(model: Model, matrix: np.ndarray, outline: np.ndarray, eye: np.ndarray, through: bool) -> np.ndarray:
    """Return `(m,) bool`: the faces whose middle lies in `outline` (k, 2) after projection by `matrix` (4, 4) to -1..1.

    Unless `through`, only faces that look towards `eye` (3,) and that nothing stands before.
    """
    mesh = model.mesh
    middle = mesh.points[mesh.triangles].astype(np.float64).mean(axis=1)
    flat = np.concatenate([middle, np.ones((len(middle), 1))], axis=1) @ np.asarray(matrix, float).T
    at = flat[:, :2] / np.maximum(np.abs(flat[:, 3:]), 1e-12) * np.sign(flat[:, 3:])
    chosen = (flat[:, 3] > 0) & _inside(at, np.asarray(outline, float))
    if through or not chosen.any():
        return chosen
    rows = np.flatnonzero(chosen)
    way = np.asarray(eye, float) - middle[rows]
    far = np.linalg.norm(way, axis=1)
    way /= np.maximum(far, 1e-12)[:, None]
    normal = triangle_normals(mesh.points, mesh.triangles)[rows]
    towards = np.sum(normal * way, axis=1) > 0
    _, hit = TriangleTree(mesh.points, mesh.triangles).first_hits(middle[rows] + 1e-3 * way, way, float(far.max()))
    chosen[rows[~towards | (hit >= 0)]] = False
    return chosen


def grown(model: Model, chosen: np.ndarray, rings: int = 1) -> np.ndarray:
    """Return `chosen` (m,) with the faces that share a point with it; fewer rings than 0 take as many away.

    Args:
        model: The model.
        chosen: (m,) bool, the triangles that are meant.
        rings: How many rings; fewer than 0 take as many away.
    """
    out = chosen.copy()
    t = model.mesh.triangles
    for _ in range(abs(rings)):
        touched = np.zeros(len(model.mesh.points), bool)
        touched[t[out if rings > 0 else ~out].ravel()] = True
        near = touched[t].any(axis=1)
        out = out | near if rings > 0 else out & ~near
    return out


def _checked(model: Model, triangle: int) -> int:
    if not 0 <= triangle < len(model.mesh.triangles):
        raise InputError(what=f"there is no face {triangle}", where="the selection", todo="Click on the mesh.")
    return triangle


def _inside(at: np.ndarray, outline: np.ndarray) -> np.ndarray:
    """Whether points (n, 2) lie in a polygon (k, 2), by the crossings of a ray. Follows: Shimrat, Algorithm 112, 1962."""
    out = np.zeros(len(at), bool)
    for (x0, y0), (x1, y1) in zip(outline, np.roll(outline, -1, axis=0), strict=True):
        between = (y0 > at[:, 1]) != (y1 > at[:, 1])
        x = x0 + (at[:, 1] - y0) / (y1 - y0 if y1 != y0 else 1e-300) * (x1 - x0)
        out ^= between & (at[:, 0] < x)
    return out
