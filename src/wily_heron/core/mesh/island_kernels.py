"""Connected parts. Loops over plain arrays."""

from numba import njit


@njit(cache=True, nogil=True)
def join(faces, root):
    """Lead every vertex of `root` (n,), which comes in as its own row, to the least row of its part. Follows: Tarjan 1975 (halving)."""
    for f in range(faces.shape[0]):
        for k in range(1, faces.shape[1]):
            a, b = faces[f, 0], faces[f, k]
            while root[a] != a:
                root[a] = root[root[a]]
                a = root[a]
            while root[b] != b:
                root[b] = root[root[b]]
                b = root[b]
            if a < b:
                root[b] = a
            elif b < a:
                root[a] = b
    for v in range(len(root)):
        root[v] = root[root[v]]
