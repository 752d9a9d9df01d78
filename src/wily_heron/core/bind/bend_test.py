"""The bend test: each joint that bears a piece swings through its range, alone, and the worst of each is told."""

from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Wearer
from ..mesh.edges import edge_lengths, unique_edges
from ..model.state import Piece
from ..model.worn import at_rest, worn_points
from ..motion.pose import Pose, pose_matrices, posed_body
from ..motion.ranges import joint_turn, swings
from ..space.tree import TriangleTree

_BEARS = 3.0
"""A joint swings in the test if it bears at least this many vertices' worth of the piece, or the part of the body it leads to does."""
_SHARE = 0.85


@dataclass(frozen=True)
class Bend:
    """One swing of one joint to one end: its pose, the worst stretch of an edge there (99.9th percentile, times its length), and how deep
    the piece goes under the skin (metres, 99.9th percentile of its vertices, what lies there at rest left out)."""

    joint: str
    swing: str
    degrees: float
    stretch: float
    depth: float
    rotations: dict[str, list[float]]


def bend_test(piece: Piece, wearer: Wearer) -> list[Bend]:
    """Return every swing of the joints near a bound piece, at 85 % of its range, the worst first."""
    assert piece.skin is not None
    names = wearer.skeleton.names
    bears = np.bincount(np.minimum(piece.skin.joints, len(names)).ravel(), piece.skin.weights.ravel(), minlength=len(names) + 1)
    edges, _ = unique_edges(piece.mesh.triangles)
    rest = at_rest(piece, wearer).astype(np.float64)
    long = np.maximum(edge_lengths(rest, edges), 1e-6)
    tree = TriangleTree(wearer.points, wearer.body.triangles)
    sunk = tree.signed_distance(rest)[0] < 0.0
    out = []
    for j, name in enumerate(names):
        if bears[j] < _BEARS:
            continue
        ways = swings(name)
        for k, way in enumerate(ways):
            for degrees in {_SHARE * way.low, _SHARE * way.high} - {0.0}:
                angles = np.zeros(len(ways))
                angles[k] = degrees
                pose = Pose("bend", name, "bend", {name: joint_turn(name, angles)})
                matrices = pose_matrices(wearer, pose)
                posed = worn_points(piece, wearer, pose, matrices).astype(np.float64)
                depth = -tree.refit(posed_body(wearer, pose)).signed_distance(posed)[0]
                out.append(Bend(name, way.name, float(degrees), float(np.quantile(edge_lengths(posed, edges) / long, 0.999)),
                                max(float(np.quantile(depth[~sunk], 0.999)), 0.0), {name: pose.rotations[name].tolist()}))
    return sorted(out, key=lambda b: -(100 * b.depth + 0.3 * b.stretch))

