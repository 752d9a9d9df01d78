"""Resolving: ease a piece out in a cell so that what lies under it no longer shows, its detail kept."""

from dataclasses import replace

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..figure.body import shaped
from ..figure.pose import Pose, pose_matrices
from ..figure.skinning import blended_linear
from ..mesh.edges import adjacency
from ..mesh.islands import islands
from ..mesh.laplacian import uniform_laplacian
from ..mesh.normals import vertex_normals
from ..piece.state import Piece
from ..piece.worn import piece_matrices
from ..space.tree import TriangleTree
from .cell import Dressed
from .cover import AGREE, UNDER
from .find import stand_out

CAP = 0.025
"""No vertex moves farther than this (metres) in one clearing."""
_RINGS, _ROUNDS = 6, 8


def clear(piece: Piece, body, shape: np.ndarray, pose: Pose, ease: float) -> tuple[Piece, dict]:
    """Return the piece eased out in one cell (shape values (s,), pose), and the report before and after.

    In the cell, vertices under the skin, and the corners of faces the skin pierces, are pushed out to `ease`; the push is
    spread over six rings so that the Laplacian of the displacement stays small (Sorkine et al., Laplacian surface editing,
    2004), capped at 25 mm, and carried back to the rest shape through the inverse of each vertex's blended joint matrix.
    Kept, as a whole or by region, only if the cell's area shrinks and its depth gets no worse.
    """
    if piece.skin is None:
        return piece, {"kept": False, "why": "the piece is not bound yet"}
    wearer = shaped(body, shape)
    before = Dressed(wearer, {"piece": piece})
    cell = before.measure(pose)
    first = cell.figures
    if not first["places"]:
        return piece, {"kept": True, "before": _brief(first), "after": _brief(first), "moved": 0, "greatest_move": 0.0}
    matrices = blended_linear(piece.skin, piece_matrices(piece, wearer, pose, pose_matrices(wearer, pose)))
    best, figures, moved = piece, first, np.zeros(len(piece.mesh.points))
    move = _push(before, cell, ease)
    for region in [np.ones(len(moved), bool), *_regions(piece.mesh.triangles, move)]:
        if figures["places"] == 0:
            break
        rest_move = np.linalg.solve(matrices, (move * region[:, None])[:, :, None])[:, :, 0]
        eased = replace(best, mesh=best.mesh.moved(best.mesh.points + rest_move))
        after = Dressed(wearer, {"piece": eased}).measure(pose).figures
        if after["area_cm2"] < figures["area_cm2"] and after["clearance_mm"] >= figures["clearance_mm"] - 0.05:
            best, figures = eased, after
            moved = np.maximum(moved, np.linalg.norm(move, axis=1) * region)
            if region.all():
                break
    return best, {"kept": best is not piece, "before": _brief(first), "after": _brief(figures),
                  "moved": int((moved > 1e-4).sum()), "greatest_move": float(moved.max())}


def _regions(triangles: np.ndarray, move: np.ndarray) -> list[np.ndarray]:
    """The connected regions (masks (n,)) of a displacement (n, 3), greatest first: tried one by one when the whole fails."""
    busy = np.linalg.norm(move, axis=1) > 1e-5
    inner = triangles[busy[triangles].all(axis=1)]
    if not len(inner):
        return []
    count, label = islands(inner, len(move))
    size = np.bincount(label[busy], minlength=count)
    chosen = [i for i in np.argsort(-size) if size[i] > 3][:6]
    return [busy & (label == i) for i in chosen] if len(chosen) > 1 else []


def _brief(figures: dict) -> dict:
    return {k: figures[k] for k in ("clearance_mm", "area_cm2", "places")}


def _push(dressed: Dressed, cell, ease: float) -> np.ndarray:
    """Return the posed displacement (n, 3) that clears the piece in a measured cell."""
    piece, layer, cover = dressed.pieces[0], cell.layers[0], dressed.covers[0]
    dressed.body_tree.refit(cell.body_points)
    triangles, start = piece.mesh.triangles, np.asarray(layer.points, np.float64)
    body_normal = vertex_normals(cell.body_points, dressed.wearer.body.triangles)
    under = np.flatnonzero(cover.covered)
    laplacian = uniform_laplacian(triangles, len(start))
    bilaplacian = (laplacian.T @ laplacian).tocsr()
    near = adjacency(triangles, len(start))
    tree = TriangleTree(start, triangles)
    ask = (cell.body_points[under], body_normal[under], cover.spot[under])
    need, way = np.zeros(len(start)), np.zeros((len(start), 3))
    most = min(CAP, layer.found.places[0].depth + ease + 0.002)  # a shallow fault never earns a great move
    move, allowed = np.zeros_like(start), np.zeros(len(start), bool)
    shown = layer.found.depth[under] > 0
    _, _, hit = stand_out(ask[0][shown], ask[1][shown], ask[2][shown], tree, cover)
    allowed[triangles[hit]] = True
    for _ in range(_RINGS):
        allowed = allowed | (near @ allowed > 0)
    for _ in range(_ROUNDS):
        p = start + move
        tree.refit(p)
        short, direction = _short_of(p, triangles, tree, dressed.body_tree, ask, cover, ease)
        more = (short > 2e-4) & allowed
        if not more.any():
            break
        fresh = more & (need == 0)  # a vertex asked again keeps its first way out
        way[fresh] = direction[fresh]
        need[more] = np.clip(np.sum(move * way, axis=1) + short, need, most)[more]
        region = need > 0
        for _ in range(_RINGS):
            region = region | (near @ region > 0)
        rows = np.flatnonzero(region)
        move = np.zeros_like(start)
        move[rows] = _solve(bilaplacian[rows][:, rows], need[rows], way[rows])
        size = np.linalg.norm(move, axis=1, keepdims=True)
        move *= np.minimum(1.0, most / np.maximum(size, 1e-12))
    return move


def _short_of(p, triangles, tree, body_tree, ask: tuple[np.ndarray, np.ndarray, np.ndarray], cover, ease):
    """Return how many metres each piece vertex lacks (n,) and along which unit direction (n, 3) it should go."""
    normal = cover.outward * vertex_normals(p, triangles)
    near = body_tree.nearest(p, facing=normal, agree=AGREE, limit=0.5 * UNDER)
    hit = np.maximum(near.triangle, 0)
    side = np.sum((p - near.point) * body_tree.normals[hit], axis=1)
    there = near.triangle >= 0
    short = np.where(there & (side < 0), near.distance + ease, np.where(there & (near.distance < 0.5 * ease), ease - near.distance, 0.0))
    way = body_tree.normals[hit] * there[:, None]
    stand, _, t = stand_out(*ask, tree, cover)
    rows = np.flatnonzero(stand > 0)
    for k in range(3):
        v, lack = triangles[t[rows], k], stand[rows] + ease
        order = np.argsort(lack)
        better = lack[order] > short[v[order]]
        short[v[order][better]] = lack[order][better]
        way[v[order][better]] = ask[1][rows][order][better]
    return short, way


def _solve(bilaplacian, need: np.ndarray, way: np.ndarray) -> np.ndarray:
    """Return displacements (r, 3): smooth, and along `way` as long as `need` where it is asked."""
    asked = need > 0
    weight = np.where(asked, 4.0, 0.0) + 1e-4
    system = (bilaplacian + sparse.diags(weight)).tocsc()
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    return factor.solve((weight * need)[:, None] * way)
