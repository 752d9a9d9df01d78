"""The displacement that brings one layer clear of another in a measured cell: the over-layer out, or the under-layer in."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.corners import any_corner, every_corner, ringed
from ..mesh.normals import vertex_normals
from ..mesh.ops.capped import capped
from ..mesh.topology import Topology, topology_of
from ..space.tree import TriangleTree
from ..space.tree_memo import tree_on
from .cover.cover import AGREE, UNDER, Cover
from .cover.samples import FINE, SPLIT, inside, on_faces, unit
from .find.face_samples import stand_out
from .smooth_move import SmoothMove

CAP = 0.025
"""No vertex moves farther than this (metres) in one clearing."""
_RINGS, _ROUNDS = 6, 8
_FEW = 300
"""So many faces about what shows, or fewer, are asked at sixteen points each, more at seven."""
_SLIVER = 0.4
"""What lies nearer under the cloth than this share of the ease, beside what shows, comes through between the points that are asked."""


@dataclass(frozen=True)
class Between:
    """Two neighbouring layers of a measured cell: the under-layer's points (n, 3) and triangles, the over-layer's, how the one belongs
    under the other, which under vertices lie at what shows (n,), and how deep the deepest place is (metres)."""

    under: np.ndarray
    under_triangles: np.ndarray
    over: np.ndarray
    over_triangles: np.ndarray
    cover: Cover
    shown: np.ndarray
    deepest: float


def push_out(pair: Between, ease: float, rounds: int = _ROUNDS) -> np.ndarray:
    """Return the displacement (m, 3) of the over-layer that brings it to `ease` over the under-layer where that shows.

    Vertices under the other layer, and the corners of faces it pierces, are pushed; the push is spread over six rings so that the
    Laplacian of the displacement stays small. Follows: Sorkine et al., Laplacian surface editing, 2004.

    Args:
        pair: The two layers as they lie in the cell.
        ease: How far off the under-layer it is brought, metres.
        rounds: How often the push is made.
    """
    cover, triangles, start = pair.cover, pair.over_triangles, np.asarray(pair.over, np.float64)
    under_tree = tree_on(pair.under, pair.under_triangles)
    normal = vertex_normals(pair.under, pair.under_triangles)
    rows = np.flatnonzero(cover.covered)
    inner = _samples(pair, normal)
    at_corners = (pair.under[rows], normal[rows], cover.spot[rows], normal[rows])
    ask = tuple(np.concatenate(each) for each in zip(at_corners, inner, strict=True))
    tree = tree_on(start, triangles)
    stand, _, _, near = stand_out(ask[0], ask[1], ask[2], tree, cover)
    under_hit = np.maximum(near.triangle, 0)
    hit = under_hit[(stand > 0) & np.concatenate([pair.shown[rows], np.ones(len(inner[0]), bool)])]
    seeds = np.zeros(len(start), bool)
    seeds[triangles[hit]] = True
    mesh = topology_of(triangles, len(start))
    allowed = ringed(seeds, triangles, _RINGS)
    there = any_corner(allowed, triangles)[under_hit]  # what lies under cloth that stays where it is need not be asked again
    ask = tuple(each[there] for each in ask)
    movable = np.flatnonzero(allowed)
    return spread_move(start, mesh, allowed, _most(pair, ease),
                   lambda p: _short_of(p, movable, triangles, tree.refit(p), under_tree, ask, cover, ease), rounds)


def push_in(pair: Between, ease: float, floors: Sequence[TriangleTree] = (), fixed: np.ndarray | None = None,
            rounds: int = _ROUNDS) -> np.ndarray:
    """Return the displacement (n, 3) of the under-layer that tucks it `ease` beneath the over-layer where it shows.

    It stays half a millimetre over the `floors`, the layers beneath it, where there are any; `fixed` (n,) vertices do not move.
    """
    cover, triangles, start = pair.cover, pair.under_triangles, np.asarray(pair.under, np.float64)
    tree = tree_on(pair.over, pair.over_triangles)
    faces = triangles[any_corner(ringed(pair.shown, triangles, 1), triangles) & every_corner(cover.covered, triangles)]

    mesh = topology_of(triangles, len(start))
    allowed = ringed(pair.shown, triangles, _RINGS)
    candidates = np.flatnonzero(allowed & cover.covered)

    def short(p: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        normal, lack, way = vertex_normals(p, triangles), np.zeros(len(p)), np.zeros_like(p)
        stand, gap, _, near = stand_out(p[candidates], normal[candidates], cover.spot[candidates], tree, cover)
        way[candidates] = -cover.outward * tree.normals[np.maximum(near.triangle, 0)]
        lack[candidates] = np.where(stand > 0, stand + ease, np.where(gap < 0.5 * ease, ease - gap, 0.0))
        stand, gap, *_ = stand_out(*on_faces(p, faces, SPLIT), inside(cover.spot[faces]), tree, cover)
        within = np.where(stand > 0, stand + ease, np.where(gap < _SLIVER * ease, ease - gap, 0.0)).reshape(-1, len(SPLIT)).max(axis=1)
        for corner in faces.T:
            np.maximum.at(lack, corner, within)
        if fixed is not None:
            lack[fixed] = 0.0
        return lack, way

    move = spread_move(start, mesh, allowed, _most(pair, ease), short, rounds)
    for floor in floors:
        p = start + move
        signed, near = floor.signed_distance(p)
        low = (signed < 5e-4) & (signed > -CAP) & (np.linalg.norm(move, axis=1) > 1e-6)  # what lies deeper lies past its border
        move[low] += ((5e-4 - signed)[:, None] * floor.normals_at(near))[low]
        move = capped(move, CAP)
    return move


def _samples(pair: Between, normal: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Points inside the faces about what shows, these faces' normals, rest spots, and the way out of the smooth surface: faces can cross
    between their corners."""
    faces, cover = pair.under_triangles, pair.cover
    near = any_corner(ringed(pair.shown, faces, 1), faces)
    kept = near[cover.part]
    part, there = faces[cover.part[kept]], cover.part_covered[kept].ravel()
    out = []
    whole = faces[near & every_corner(cover.covered, faces)]
    for rows, where, of in ((whole, FINE if len(whole) < _FEW else SPLIT, slice(None)), (part, FINE, there)):
        points, facing = on_faces(pair.under, rows, where)
        spot = inside(cover.spot[rows], where) if rows is whole else cover.part_spot[kept].reshape(-1, 3)
        out.append((points[of], facing[of], spot[of], unit(inside(normal[rows], where))[of]))
    points, facing, spot, way = (np.concatenate(each) for each in zip(*out, strict=True))
    return points, facing, spot, way


def _most(pair: Between, ease: float) -> float:
    return min(CAP, pair.deepest + ease + 0.002)  # a shallow fault never earns a great move


def spread_move(start: np.ndarray, mesh: Topology, allowed: np.ndarray, most: float,
                short_of: Callable[[np.ndarray], tuple[np.ndarray, np.ndarray]], rounds: int = _ROUNDS) -> np.ndarray:
    """Return the smoothest move (n, 3), of `allowed` (n,) vertices and no farther than `most` metres, after which nothing is short: at
    points (n, 3), `short_of` tells how many metres each lacks (n,) and which way (n, 3) it should go."""
    need, way = np.zeros(len(start)), np.zeros((len(start), 3))
    move, smooth = np.zeros_like(start), None
    for _ in range(rounds):
        short, direction = short_of(start + move)
        more = (short > 2e-4) & allowed
        if not more.any():
            break
        fresh = more & (need == 0)  # a vertex asked again keeps its first way out
        way[fresh] = direction[fresh]
        need[more] = np.clip(np.einsum("ia,ia->i", move, way) + short, need, most)[more]
        rows = np.flatnonzero(ringed(need > 0, mesh.triangles, _RINGS))
        if smooth is None or not np.array_equal(smooth.rows, rows):
            smooth = SmoothMove(mesh.bilaplacian, rows)
        move = np.zeros_like(start)
        move[rows] = smooth.solve(need[rows], way[rows])
        move = capped(move, most)
    return move


def _short_of(p, rows, triangles, tree: TriangleTree, under_tree: TriangleTree, ask: tuple[np.ndarray, ...], cover,
              ease) -> tuple[np.ndarray, np.ndarray]:
    """Return how many metres each piece vertex lacks (n,), of those in `rows`, and along which unit direction (n, 3) it should go."""
    normal = cover.outward * vertex_normals(p, triangles)
    near = under_tree.nearest(p[rows], facing=normal[rows], agree=AGREE, limit=0.5 * UNDER)
    hit = np.maximum(near.triangle, 0)
    side = np.einsum("ia,ia->i", p[rows] - near.point, under_tree.normals[hit])
    there, far = near.triangle >= 0, near.distance
    short, way = np.zeros(len(p)), np.zeros((len(p), 3))
    short[rows] = np.where(there & (side < 0), far + ease, np.where(there & (far < 0.5 * ease), ease - far, 0.0))
    way[rows] = under_tree.normals[hit] * there[:, None]
    stand, gap, _, near = stand_out(ask[0], ask[1], ask[2], tree, cover)
    t = np.maximum(near.triangle, 0)
    out = np.flatnonzero((stand > 0) | (gap < _SLIVER * ease))
    for k in range(3):
        v, lack = triangles[t[out], k], np.where(stand > 0, stand, -gap)[out] + ease
        order = np.argsort(lack)
        better = lack[order] > short[v[order]]
        short[v[order][better]] = lack[order][better]
        way[v[order][better]] = ask[3][out][order][better]
    return short, way
