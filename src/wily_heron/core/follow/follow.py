"""Following: a bound piece carries every shape of its wearer's body."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..bind.worn_as import sole_of
from ..figure.base.body import Wearer
from ..figure.base.shapes import LEFT
from ..figure.base.skeleton import Skin
from ..figure.correctives import DRIVEN
from ..model.correctives import Corrective
from ..model.riders import Riders
from ..model.state import Piece
from ..model.steps.follow import Follow, FollowReport
from ..space.tree import TriangleTree
from .forms import carried_moves, flat, hats, ridden, similar, wraps
from .ground import ground_under
from .shapes import footing, shape_moves
from .strong_shapes import StrongShapes, clear_shapes


@dataclass(frozen=True)
class Following:
    """A piece's moves with the shapes (s, n, 3), its riders with theirs, correctives with their moves (c, n, 3), and the report."""

    deltas: np.ndarray
    riders: Riders | None
    correctives: tuple[Corrective, ...]
    fixes: np.ndarray | None
    report: FollowReport


def follow(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, skin: Skin, riders: Riders | None = None, step: Follow | None = None,
           worn_as: str = "cloth", carried: int = -1, tree: TriangleTree | None = None, layers: Sequence[Piece] = ()) -> Following:
    """Return how a bound piece follows each shape of the wearer's body.

    Rigid parts move without bending, a hat grows alike all round, a sole stays flat. Every shape alone is then cleared at full strength,
    and the strong ones together.

    Args:
        points: (n, 3) float, metres; the piece at rest.
        triangles: (m, 3) int32.
        wearer: The body it lies on.
        skin: (n, k) weights of the skeleton's joints, then of its own.
        riders: Its own joints, if it has any.
        step: What is asked for.
        worn_as: Which joints suit it: cloth, head, sole or belt.
        carried: The joint that carries all of it, -1 for none.
        tree: The wearer's skin, where it is at hand.
        layers: The pieces under it; at each vertex it is cleared off the next one beneath.
    """
    step, body = step or Follow(), wearer.body
    p = np.asarray(points, np.float64)
    tree = tree or TriangleTree(wearer.points, body.triangles)
    count = sum(not name.endswith(LEFT) and name not in DRIVEN for name in body.shapes)
    if carried >= 0:
        deltas, moves = carried_moves(p, wearer, carried, tree, riders)
        return Following(deltas, riders and replace(riders, moves=moves), (), None, FollowReport(shapes=count, under=0.0))
    at = footing(p, triangles, wearer, tree)
    deltas, known = shape_moves(p, triangles, wearer, at)
    at = replace(at, sure=known)
    of = np.full(len(p), -1)
    if riders is not None:
        of = np.where(skin.joints[:, 0] >= riders.first, skin.joints[:, 0] - riders.first, -1)
        riders = replace(riders, moves=ridden(deltas, p, of, len(riders.places)))
    if worn_as == "head":
        for rows in hats(p, triangles, at.sure, at.offset):
            similar(deltas, p, rows, at.sure, wraps(p[rows], wearer, tree))
    if worn_as == "sole":
        for side in ("l_", "r_"):
            ankle, ball = (np.where(np.isin(skin.joints, wearer.skeleton.some((f"{side}{joint}",))), skin.weights, 0.0).sum(axis=1)
                           for joint in ("talocrural", "metatarsophalangeal"))
            whole = ankle > 0.999
            rows = whole & (p[:, 1] < p[whole, 1].min() + 0.06) if whole.any() else whole
            rows |= sole_of(p, triangles, side) & (ankle + ball > 0.999)
            if rows.sum() > 8:
                flat(deltas, p, rows)
    report = FollowReport(shapes=count, under=round(float(at.sure.mean()), 4))
    if not step.clear:
        return Following(deltas, riders, (), None, report)
    ground = ground_under(p, triangles, wearer, at, layers)
    cleared = clear_shapes(StrongShapes(p, triangles, body.shapes, ground, deltas, step.ease, of), step.pairs)
    report = report.model_copy(update={"correctives": len(cleared.correctives), "short": cleared.short, "left": cleared.left})
    return Following(deltas, riders, cleared.correctives, cleared.fixes if cleared.correctives else None, report)
