"""The open borders of a mesh, each as a loop of vertices in order."""

import numpy as np

from .edges import unique_edges


def border_loops(triangles: np.ndarray) -> list[np.ndarray]:
    """Return the closed loops of border edges, each `(k,)` vertex indices running against the faces' winding.

    Where borders touch at a vertex the loop is closed there; strands that do not close are left out.

    >>> [sorted(loop.tolist()) for loop in border_loops(np.array([[0, 1, 2], [2, 1, 3]], np.int32))]
    [[0, 1, 2, 3]]
    """
    sides = np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1).reshape(-1, 2).astype(np.int64)
    _, edge = unique_edges(triangles)
    border = sides[np.bincount(edge.ravel())[edge.ravel()] == 1]
    after: dict[int, list[int]] = {}
    for a, b in border.tolist():
        after.setdefault(b, []).append(a)
    loops = []
    for start in list(after):
        path, place, at = [], dict[int, int](), start
        while after.get(at):
            place[at] = len(path)
            path.append(at)
            at = after[at].pop()
            cut = place.get(at)
            if cut is not None:  # a loop is closed; where two touch, the rest goes on from there
                if len(path) - cut > 2:
                    loops.append(np.array(path[cut:]))
                for gone in path[cut:]:
                    del place[gone]
                del path[cut:]
    return loops
