"""Which way faces look: consistent winding within each part, and parts turned inside out."""

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from ..edges import unique_edges


def inconsistent(triangles: np.ndarray) -> np.ndarray:
    """Return `(m,) bool`: the triangles to turn over so that neighbours agree, the fewest in each part.

    A graph of two nodes a triangle (as it is, turned over) is joined over every edge that two triangles share; the nodes that are
    connected go together. A part that cannot be made to agree (a Moebius band) is left alone.

    >>> int(inconsistent(np.array([[0, 1, 2], [1, 2, 3], [2, 4, 3]], np.int32)).sum())  # one of three runs against the others
    1
    """
    m = len(triangles)
    edges, sides = unique_edges(triangles)
    forward = triangles == edges[sides][:, :, 0]
    order = np.argsort(sides.ravel(), kind="stable")
    edge, face, way = sides.ravel()[order], order // 3, forward.ravel()[order]
    count = np.bincount(edge, minlength=len(edges))
    first = np.flatnonzero(np.r_[True, edge[1:] != edge[:-1]])
    pair = first[count[edge[first]] == 2]
    a, b = face[pair], face[pair + 1]
    agree = way[pair] != way[pair + 1]
    rows = np.concatenate([a, a + m])
    cols = np.concatenate([np.where(agree, b, b + m), np.where(agree, b + m, b)])
    graph = sparse.csr_matrix((np.ones(len(rows)), (rows, cols)), shape=(2 * m, 2 * m))
    _, label = connected_components(graph, directed=False)
    as_is, turned = label[:m], label[m:]
    sizes = np.bincount(as_is, minlength=label.max() + 1)  # triangles that are as they are in each component
    return (as_is != turned) & ((sizes[turned] > sizes[as_is]) | ((sizes[turned] == sizes[as_is]) & (turned < as_is)))


def inside_out(points: np.ndarray, triangles: np.ndarray, label: np.ndarray) -> np.ndarray:
    """Return `(m,) bool`: triangles of parts whose faces look inwards; `label` (m,) is the part of each triangle.

    A part looks inwards if the volume its faces sweep from its own middle is negative; open parts are judged by the same sum.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        label: (m,) int, the part of each triangle.

    >>> import trimesh
    >>> ball = trimesh.creation.icosphere(subdivisions=2, radius=0.1)
    >>> inside_out(ball.vertices, ball.faces, np.zeros(len(ball.faces), int)).any()
    np.False_
    >>> inside_out(ball.vertices, ball.faces[:, ::-1], np.zeros(len(ball.faces), int)).all()
    np.True_
    """
    parts = int(label.max()) + 1 if len(label) else 0
    size = np.bincount(label, minlength=parts)
    corner = points[triangles].astype(np.float64)
    middle = np.stack([np.bincount(label, corner[:, :, k].mean(axis=1), parts) for k in range(3)], axis=1) / size[:, None]
    corner -= middle[label][:, None]
    volume = np.einsum("ij,ij->i", corner[:, 0], np.cross(corner[:, 1], corner[:, 2]))
    total = np.bincount(label, volume, parts)
    scale = np.bincount(label, np.abs(volume), parts)
    return (total < -0.15 * scale)[label]
