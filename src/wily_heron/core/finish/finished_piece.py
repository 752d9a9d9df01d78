"""A piece as it leaves the house: welded, smoothed, finer, thick, its folds sharp; all it does with shapes and poses goes along."""

from dataclasses import dataclass, replace

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from ..errors import InputError
from ..figure.base.skeleton import Skin
from ..mesh.edges import adjacency, border_vertices, unique_edges
from ..mesh.mesh import Mesh
from ..mesh.normals import vertex_normals
from ..mesh.ops.folds import sharp_folds
from ..mesh.ops.loop_subdivision import loop_subdivision
from ..mesh.ops.subset import with_triangles
from ..mesh.rigid_islands import stiff_islands
from ..model.report import Report
from ..model.state import Piece
from ..model.steps.finish import Finish
from ..work.solid import evened, two_sided

_MAX_FACES = 400_000


@dataclass(frozen=True)
class _Cloth:
    """A mesh on the way: how its vertices come of the piece's in place (`carry`) and in what they are carried by (`share`, nowhere below
    0), both (n', n), and the piece's face (m',) each face came of."""

    mesh: Mesh
    carry: sparse.csr_matrix
    share: sparse.csr_matrix
    face: np.ndarray


class FinishReport(Report):
    """What finishing came to: its `vertices` and `triangles`, how many vertices were `welded` away, the greatest way (metres) that
    smoothing and finer faces `moved` the cloth."""

    key = "finish"
    vertices: int
    triangles: int
    welded: int = 0
    moved: float


def finished(piece: Piece, step: Finish) -> Piece:
    """Return the piece finished; its report tells what was done. Raises `InputError` for more than 400,000 faces.

    Shape deltas and correctives ride the same weights as the points, thickness stands on the cloth of each shape, skin weights are shared
    out anew among as many joints as before. Finer cloth passes near where its vertices were rather than shrink inside them.
    """
    n, faces = len(piece.mesh.points), len(piece.mesh.triangles)
    if step.does("finer") and faces * 4**step.finer * (2 if step.does("thick") else 1) > _MAX_FACES:
        raise InputError(what=f"it would have more than {_MAX_FACES:,} faces", where="the finish",
                         todo="Ask for less fine cloth, or no thickness.")
    unit = sparse.csr_matrix(sparse.identity(n))
    cloth, welded = _Cloth(piece.mesh, unit, unit, np.arange(faces)), 0
    if step.does("weld"):
        cloth = _welded(cloth, step.weld)
        welded = n - len(cloth.mesh.points)
    if step.does("smooth"):
        cloth = _even(cloth, step.smooth)
    for _ in range(step.finer if step.does("finer") else 0):
        cloth = _finer(cloth)
    points = cloth.carry @ piece.mesh.points.astype(np.float64)
    moved = float(np.linalg.norm(points - cloth.share @ piece.mesh.points, axis=1).max(initial=0.0))
    thin = replace(cloth.mesh, points=points.astype(np.float32))
    deltas, fixes = (None if a is None else np.stack([cloth.carry @ each for each in a]).astype(np.float32) if len(a) else
                     np.zeros((0, len(points), 3), np.float32) for a in (piece.deltas, piece.fixes))
    mesh, share, face = thin, cloth.share, cloth.face
    if step.does("thick"):
        made = _Thick(thin, step)
        mesh, share, face = made.mesh, sparse.csr_matrix(sparse.vstack([share, share])), face[made.face]
        deltas, fixes = (None if a is None else made.moves(a) for a in (deltas, fixes))
    if step.does("sharp"):
        mesh = replace(mesh, corner_fold=sharp_folds(mesh.points, mesh.triangles, step.sharp))
    report = FinishReport(vertices=len(mesh.points), triangles=len(mesh.triangles), welded=welded, moved=moved)
    skin = None if piece.skin is None else _shared(piece.skin, share)
    own = lambda a: None if a is None else (share @ a).astype(np.float32)  # noqa: E731
    left_out = None if piece.left_out is None else np.flatnonzero(np.isin(face, piece.left_out)).astype(np.int32)
    return replace(piece, mesh=mesh, skin=skin, deltas=deltas, fixes=fixes, trouble=own(piece.trouble), protect=own(piece.protect),
                   left_out=left_out).reporting(report)


def _welded(cloth: _Cloth, reach: float) -> _Cloth:
    """Join border vertices within `reach` metres of each other at their mean; neighbours along a border stay two."""
    mesh = cloth.mesh
    n = len(mesh.points)
    rim = np.flatnonzero(border_vertices(mesh.triangles, n))
    pairs = rim[KDTree(mesh.points[rim]).query_pairs(reach, output_type="ndarray")] if len(rim) else np.zeros((0, 2), np.int64)
    joined = np.asarray(adjacency(mesh.triangles, n)[pairs[:, 0], pairs[:, 1]]).ravel() > 0 if len(pairs) else np.zeros(0, bool)
    pairs = pairs[~joined]
    count, onto = connected_components(sparse.coo_matrix((np.ones(len(pairs)), pairs.T), shape=(n, n)), directed=False)
    mean = sparse.csr_matrix((1.0 / np.bincount(onto)[onto], (onto, np.arange(n))), shape=(count, n))
    first = np.full(count, n)
    np.minimum.at(first, onto, np.arange(n))
    triangles = onto[mesh.triangles].astype(np.int32)
    whole = (triangles[:, 0] != triangles[:, 1]) & (triangles[:, 1] != triangles[:, 2]) & (triangles[:, 2] != triangles[:, 0])
    made = replace(mesh, points=(mean @ mesh.points).astype(np.float32), triangles=triangles,
                   received=None if mesh.received is None else mesh.received[first])
    carry, share = (sparse.csr_matrix(mean @ each) for each in (cloth.carry, cloth.share))
    return _Cloth(with_triangles(made, whole), carry, share, cloth.face[whole])


def _even(cloth: _Cloth, amount: float) -> _Cloth:
    """Even the cloth out without shrinking, borders and small stiff parts kept."""
    mesh = cloth.mesh
    return replace(cloth, carry=evened(cloth.carry, mesh.triangles, round(1 + 5 * amount), stiff_islands(mesh.points, mesh.triangles)))


def _finer(cloth: _Cloth) -> _Cloth:
    """Part every face in four on a smooth surface that passes near the vertices there were; small stiff parts keep their faces flat."""
    mesh = cloth.mesh
    n = len(mesh.points)
    smooth, triangles = loop_subdivision(mesh.triangles, n)
    smooth = sparse.csr_matrix(smooth)
    still = stiff_islands(mesh.points, mesh.triangles)
    edges, _ = unique_edges(mesh.triangles)
    flat = sparse.csr_matrix(sparse.vstack([sparse.identity(n), sparse.csr_matrix(
        (np.full(2 * len(edges), 0.5), (np.repeat(np.arange(len(edges)), 2), edges.ravel())), shape=(len(edges), n))]))
    stiff = np.concatenate([still, still[edges[:, 0]]]).astype(float)
    smooth = sparse.diags(1.0 - stiff) @ smooth + sparse.diags(stiff) @ flat
    out = 2.0 * sparse.identity(n) - smooth[:n]  # so much further out as the smooth surface would lie inside
    half = np.array([[[1, 0, 0], [.5, .5, 0], [.5, 0, .5]], [[0, 1, 0], [0, .5, .5], [.5, .5, 0]], [[0, 0, 1], [.5, 0, .5], [0, .5, .5]],
                     [[.5, .5, 0], [0, .5, .5], [.5, 0, .5]]])
    parent = np.repeat(np.arange(len(mesh.triangles)), 4)

    def corners(values: np.ndarray | None) -> np.ndarray | None:
        return None if values is None else np.einsum("qkc,tca->tqka", half, values).reshape(-1, 3, values.shape[2]).astype(np.float32)

    nearest = np.tile(np.argmax(half, axis=2), (len(mesh.triangles), 1))
    fold = None if mesh.corner_fold is None else mesh.corner_fold[parent[:, None], nearest]
    carry = sparse.csr_matrix(smooth @ out @ cloth.carry)
    made = Mesh((smooth @ out @ mesh.points).astype(np.float32), triangles, corners(mesh.corner_uv), mesh.triangle_material[parent],
                np.arange(len(triangles), dtype=np.int32), mesh.materials, fold,
                None if mesh.received is None else np.concatenate([mesh.received, mesh.received[edges[:, 0]]]))
    return _Cloth(made, carry, sparse.csr_matrix(flat @ cloth.share), cloth.face[parent])


class _Thick:
    """A `mesh` with a second side, walls between the two along its borders, and the `face` of the thin one each of its faces came of; twice
    as thick for the width of a hem along the borders."""

    def __init__(self, thin: Mesh, step: Finish) -> None:
        self._thin, points, triangles = thin, thin.points.astype(np.float64), thin.triangles
        rim, fold = border_vertices(triangles, len(points)), np.zeros(len(points))
        if step.hem > 0 and rim.any():
            far, _ = KDTree(points[rim]).query(points)
            step_wide = float(np.median(np.linalg.norm(points[triangles[:, 0]] - points[triangles[:, 1]], axis=1)))
            fold = np.clip(1.0 - 2.0 * (far - step.hem) / step_wide, 0.0, 1.0)  # the turned edge ends within a face
        self._thick = step.thick * (1.0 + fold) * (1.0 if step.side == "out" else -1.0)
        other = points + self._thick[:, None] * vertex_normals(points, triangles)
        self._out = step.side == "out"
        self.mesh, self.face = two_sided(thin, *((other, points) if self._out else (points, other)))

    def moves(self, moves: np.ndarray) -> np.ndarray:
        """Return the moves (k, 2 n, 3) of both sides for moves (k, n, 3) of the thin cloth: the other side stands on the moved one."""
        points, triangles = self._thin.points.astype(np.float64), self._thin.triangles
        normal, out = vertex_normals(points, triangles), np.empty((len(moves), 2 * len(points), 3), np.float32)
        for k, move in enumerate(moves):
            turned = vertex_normals(points + move, triangles) - normal if move.any() else 0.0
            other = move + self._thick[:, None] * turned
            out[k] = np.vstack([other, move] if self._out else [move, other])
        return out


def _shared(skin: Skin, share: sparse.csr_matrix) -> Skin:
    """Return the skin (n', k) whose weights are shares of those of `skin` (n, k), the greatest k of each row."""
    n, k = skin.joints.shape
    count = int(skin.joints.max()) + 1
    rows = np.repeat(np.arange(n), k)
    each = sparse.csr_matrix((skin.weights.ravel().astype(np.float64), (rows, skin.joints.ravel())), shape=(n, count))
    whole = sparse.csr_matrix(share @ each).toarray().astype(np.float32)
    joints = np.argpartition(-whole, min(k, count) - 1, axis=1)[:, :k] if count > k else np.tile(np.arange(count), (len(whole), 1))
    weights = np.take_along_axis(whole, joints, axis=1)
    order = np.argsort(-weights, axis=1, kind="stable")
    joints, weights = np.take_along_axis(joints, order, axis=1), np.take_along_axis(weights, order, axis=1)
    if count < k:
        joints, weights = (np.pad(a, ((0, 0), (0, k - count))) for a in (joints, weights))
    weights /= np.maximum(weights.sum(axis=1, keepdims=True), 1e-12)
    return Skin(np.where(weights > 0, joints, 0).astype(np.int32), weights.astype(np.float32))
