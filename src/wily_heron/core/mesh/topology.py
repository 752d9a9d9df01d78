"""What of a mesh follows from its triangles alone, kept for the meshes met last."""

from functools import cached_property

import numpy as np
from scipy import sparse

from ..memo import Memo, Same
from .edges import adjacency, border_vertices, edge_use, unique_edges
from .laplacian import uniform_laplacian


class Topology:
    """A mesh of triangles (m, 3) over `count` vertices: which are neighbours, and how a value differs from its neighbours' mean."""

    def __init__(self, triangles: np.ndarray, count: int) -> None:
        self.triangles, self.count = triangles, count

    @cached_property
    def _unique(self) -> tuple[np.ndarray, np.ndarray]:
        return unique_edges(self.triangles)

    @property
    def edges(self) -> np.ndarray:
        """Return the edges (e, 2), each once."""
        return self._unique[0]

    @property
    def sides(self) -> np.ndarray:
        """Return which edge each side of a triangle is (m, 3), the kth from corner k on."""
        return self._unique[1]

    @cached_property
    def border_edges(self) -> np.ndarray:
        """Return the edges (b, 2) of one face only."""
        edges, count = edge_use(self.triangles)
        return edges[count == 1]

    @cached_property
    def border(self) -> np.ndarray:
        """Return `(n,) bool`: the vertices that lie on an edge with one face only."""
        return border_vertices(self.triangles, self.count)

    @cached_property
    def near(self) -> sparse.csr_matrix:
        """Return `adjacency` (n, n)."""
        return adjacency(self.triangles, self.count)

    @cached_property
    def bilaplacian(self) -> sparse.csr_matrix:
        """Return (n, n): the uniform Laplacian, transposed, times itself."""
        laplacian = uniform_laplacian(self.triangles, self.count)
        return (laplacian.T @ laplacian).tocsr()

    @cached_property
    def mean(self) -> sparse.csr_matrix:
        """Return (n, n): the mean of each vertex's neighbours."""
        return self.near.multiply(1.0 / np.maximum(np.asarray(self.near.sum(axis=1)), 1.0)).tocsr()


_KNOWN: Memo[Topology] = Memo("topologies", 128 * 2**20)


def topology_of(triangles: np.ndarray, count: int) -> Topology:
    """Return the topology of triangles (m, 3) over `count` vertices, as it was made if the same array was met lately.

    Args:
        triangles: (m, 3) int32.
        count: How many vertices there are.

    >>> topology_of(np.array([[0, 1, 2], [0, 2, 3]], np.int32), 4).edges.tolist()
    [[0, 1], [0, 2], [0, 3], [1, 2], [2, 3]]
    """
    known = _KNOWN.of(Same(triangles), lambda: Topology(triangles, count))
    return known if known.count == count else Topology(triangles, count)
