"""One level finer than the figure's data: for plates, where a silhouette fills the picture."""

import numpy as np
from scipy import sparse

from ...mesh.ops.catmull_clark import catmull_clark
from ...mesh.triangles import triangulate_quads
from .body import Body
from .skeleton import Skin
from .skinning import strongest


def keeping_subdivision(quads: np.ndarray, count: int) -> tuple[sparse.csr_matrix, np.ndarray]:
    """Return `(S, fine_quads)` like `catmull_clark`, but the old vertices stay exactly where they are.

    The control points are moved outwards first, so that the smoothed surface passes within a hundredth of the sagitta of the
    old vertices, which are then put back. Limits: two steps of that correction, not the exact interpolation.
    Follows: Halstead, Kass & DeRose, Efficient, fair interpolation using Catmull-Clark surfaces, 1993 (its iterative form).

    Args:
        quads: (q, 4) int32.
        count: How many vertices there are.
    """
    smooth, fine = catmull_clark(quads, count)
    keep = sparse.identity(count, format="csr")
    lag = keep - smooth[:count]
    control = keep + lag + lag @ lag
    return sparse.csr_matrix(sparse.vstack([keep, smooth[count:] @ control])), fine


def refined(body: Body, quads: np.ndarray) -> Body:
    """Return `body`, whose faces are `quads` (m, 4), one level finer: shape, deltas and weights ride the same matrix.

    Args:
        body: The body, in any shape.
        quads: (q, 4) int32.
    """
    count = len(body.base)
    matrix, fine = keeping_subdivision(quads, count)
    smooth, _ = catmull_clark(quads, count)
    dense = np.zeros((count, len(body.skeleton.names)))
    np.add.at(dense, (np.arange(count)[:, None], body.skin.joints), body.skin.weights)
    finer = strongest(smooth[count:] @ dense)
    skin = Skin(np.concatenate([body.skin.joints, finer.joints]), np.concatenate([body.skin.weights, finer.weights]))
    return Body(
        base=(matrix @ body.base).astype(np.float32), triangles=triangulate_quads(fine), skeleton=body.skeleton, skin=skin,
        shapes=body.shapes, deltas=np.array([(matrix @ d).astype(np.float32) for d in body.deltas]),
        joint_deltas=body.joint_deltas, made_at=body.made_at, floor=body.floor,
    )
