"""What a stride, a seat and a kneel do to cloth about the legs, by its weights alone."""

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..figure.base.skinning import skin_points
from ..mesh.edges import edge_lengths, unique_edges
from ..model.steps.bind import Legs
from ..motion.pose import pose_matrices, posed_body
from ..motion.pose_library import POSES
from ..space.tree import TriangleTree
from .legs import skirt

_TRIED = ("stride", "sit", "kneel")


def striding(points: np.ndarray, triangles: np.ndarray, skin: Skin, wearer: Wearer) -> Legs | None:
    """Return how many times its length the worst edge about the legs is over the poses tried, in which `pose`, and how deep a leg comes
    through there at most (`depth_mm`); None for a piece (n, 3) that does not hang about both.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        skin: (n, k) joints and weights.
        wearer: The body in its shape, at rest.
    """
    rows = skirt(points, triangles, wearer) & (skin.joints.max(axis=1) < len(wearer.skeleton.names))
    if not rows.any():
        return None
    edges, _ = unique_edges(triangles)
    edges = edges[rows[edges].all(axis=1)]
    long = np.maximum(edge_lengths(points, edges), 1e-6)
    tree, stretches = TriangleTree(wearer.points, wearer.body.triangles), []
    deep = 0.0
    for name in _TRIED:
        posed = skin_points(points, skin, pose_matrices(wearer, POSES[name]))
        deep = max(deep, -float(tree.refit(posed_body(wearer, POSES[name])).signed_distance(posed[rows])[0].min()))
        stretches.append((float((edge_lengths(posed, edges) / long).max()), name))
    stretch, pose = max(stretches)
    return Legs(stretch=round(stretch, 2), pose=pose, depth_mm=round(1000 * deep, 1))

