"""The edges of a mesh and who meets at them."""

import numpy as np
from scipy import sparse


def unique_edges(faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(edges, face_edges)` of `(m, k) int32` faces: `(e, 2)` sorted pairs and the edge index of each side `(m, k)`.

    Side `i` of a face runs from corner `i` to corner `i + 1`.

    >>> edges, face_edges = unique_edges(np.array([[0, 1, 2], [2, 1, 3]], np.int32))
    >>> edges.tolist()
    [[0, 1], [0, 2], [1, 2], [1, 3], [2, 3]]
    >>> edges[face_edges[1]].tolist()
    [[1, 2], [1, 3], [2, 3]]
    """
    m, k = faces.shape
    one, two = faces.ravel(), np.roll(faces, -1, axis=1).ravel()
    low, high = np.minimum(one, two).astype(np.int64), np.maximum(one, two).astype(np.int64)
    span = int(faces.max()) + 1 if faces.size else 1
    keys, inverse = np.unique(low * span + high, return_inverse=True)
    edges = np.stack([keys // span, keys % span], axis=1).astype(np.int32)
    return edges, inverse.reshape(m, k).astype(np.int32)


def edge_lengths(points: np.ndarray, edges: np.ndarray) -> np.ndarray:
    """Return the length (e,) of each edge (e, 2) of `points` (n, 3).

    Args:
        points: (n, 3) float, metres.
        edges: (e, 2) int, rows of points.

    >>> edge_lengths(np.array([[0.0, 0.0, 0.0], [3.0, 4.0, 0.0]]), np.array([[0, 1]])).tolist()
    [5.0]
    """
    return np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1)


def edge_use(faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(edges, count)`: each edge `(e, 2)` and how many faces use it (1 = border, more than 2 = non-manifold).

    >>> edges, count = edge_use(np.array([[0, 1, 2], [2, 1, 3]], np.int32))
    >>> edges[count == 2].tolist()
    [[1, 2]]
    """
    edges, face_edges = unique_edges(faces)
    return edges, np.bincount(face_edges.ravel(), minlength=len(edges))


def adjacency(faces: np.ndarray, vertex_count: int) -> sparse.csr_matrix:
    """Return the symmetric `(n, n)` matrix with a 1 for every edge of `(m, k)` faces.

    Args:
        faces: (m, 3) int32 triangles, or (m, 4) quads.
        vertex_count: How many vertices there are.

    >>> adjacency(np.array([[0, 1, 2]], np.int32), 4).toarray().astype(int).tolist()
    [[0, 1, 1, 0], [1, 0, 1, 0], [1, 1, 0, 0], [0, 0, 0, 0]]
    """
    edges, _ = unique_edges(faces)
    rows, cols = np.concatenate([edges[:, 0], edges[:, 1]]), np.concatenate([edges[:, 1], edges[:, 0]])
    return sparse.csr_matrix((np.ones(len(rows)), (rows, cols)), shape=(vertex_count, vertex_count))


def border_vertices(faces: np.ndarray, vertex_count: int) -> np.ndarray:
    """Return `(n,) bool`: the vertices that lie on an edge with one face only.

    Args:
        faces: (m, 3) int32 triangles, or (m, 4) quads.
        vertex_count: How many vertices there are.

    >>> fan = np.array([[0, 1, 2], [0, 2, 3], [0, 3, 1]], np.int32)  # all round vertex 0
    >>> border_vertices(fan, 4).tolist()
    [False, True, True, True]
    """
    edges, count = edge_use(faces)
    border = np.zeros(vertex_count, bool)
    border[edges[count == 1].ravel()] = True
    return border
