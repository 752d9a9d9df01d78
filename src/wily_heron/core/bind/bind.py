"""Binding: what each vertex of a piece goes with."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..model.riders import Riders
from ..model.steps.bind import Bind, BindReport, BoundPart
from ..space.tree import TriangleTree
from .even import evened
from .legs import crotch, leg_weights, skirt
from .parts import find_parts, ride
from .transfer import Surface, Taken, inpaint, shares, take, take_nearest
from .weight_kernels import keep_greatest
from .worn_as import headed, soled, waisted


@dataclass(frozen=True)
class Bound:
    """A piece's weights, its own joints if it has any, and the report."""

    skin: Skin
    riders: Riders | None
    report: BindReport


def bind(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, step: Bind, under: Sequence[Surface] = (), worn_as: str = "cloth",
         tree: TriangleTree | None = None) -> Bound:
    """Return the weights of a piece that lies on a wearer at rest: at most `step.most` joints a vertex, summing to 1.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body, in its rest pose.
        step: What is asked for: reach (metres), angle (radians), the most joints a vertex.
        under: Surfaces over the skin that it may take from as well.
        worn_as: Which joints suit it: cloth, head, sole or belt.
        tree: The wearer's skin, where it is at hand.

    Follows: Abdrashitov et al., Robust skin weights transfer via weight inpainting, 2023.
    """
    p = np.asarray(points, np.float64)
    skin = Surface(tree or TriangleTree(wearer.points, wearer.body.triangles), wearer.body.skin)
    if step.how == "nearest":
        taken = take_nearest(p, triangles, wearer, skin, step.reach, step.angle)
        return _bound(p, triangles, wearer, step, taken, taken.dense, taken.accepted, "cloth", 0)
    taken = take(p, triangles, wearer, (skin, *under), step.reach, step.angle)
    dense, known, hangs, hanging = taken.dense, taken.accepted.copy(), 0, np.zeros(len(p), bool)
    if worn_as == "head":
        headed(dense, wearer.skeleton)
    elif worn_as == "belt":
        dense = waisted(p, wearer)
        known[:] = True
    elif worn_as == "sole":
        soled(p, triangles, wearer, dense, known)
    if step.legs == "auto" and worn_as == "cloth":
        hanging = skirt(p, triangles, wearer)
        if hangs := int(hanging.sum()):
            low = hanging & (p[:, 1] < crotch(wearer) - 0.05)
            dense[low] = leg_weights(p, np.flatnonzero(low), wearer, step.width)
            known = (known & ~hanging & (p[:, 1] > crotch(wearer) + 0.06)) | low | (known & ~_near(hanging, p))
    solved = shares(inpaint(p, triangles, known, dense), dense)
    if step.even and worn_as == "cloth":
        solved = evened(p, triangles, wearer, taken.nearest, solved, ~_near(hanging, p) & ~hanging if hangs else np.ones(len(p), bool))
    return _bound(p, triangles, wearer, step, taken, solved, known, worn_as, hangs)


def _near(hanging: np.ndarray, p: np.ndarray) -> np.ndarray:
    """What lies within the height of the lap above the hanging cloth: solved between skirt and waist."""
    top = p[hanging, 1].max()
    return (p[:, 1] < top + 0.08) & (np.abs(p[:, 0]) < np.abs(p[hanging, 0]).max() + 0.05)


def _bound(p, triangles, wearer, step: Bind, taken: Taken, dense, known, worn_as: str, hangs: int) -> Bound:
    parts = find_parts(p, triangles, step.rigid, step.cloth)
    of, riders = ride(p, parts, dense, len(wearer.body.shapes), step.alone)
    joints, weights = np.empty((len(p), step.most), np.int32), np.empty((len(p), step.most), np.float32)
    keep_greatest(dense, step.most, joints, weights)
    stiff = of >= 0
    if riders is not None:
        joints[stiff], weights[stiff] = 0, 0.0
        joints[stiff, 0], weights[stiff, 0] = riders.first + of[stiff], 1.0
    used = np.bincount(joints.ravel(), weights.ravel(), minlength=dense.shape[1])[: dense.shape[1]] > 0
    names = wearer.skeleton.names
    told = [BoundPart(name=part.name, rigid=part.rigid, vertices=len(part.rows), size_mm=round(1000 * part.size(p), 1),
                      vertex=int(part.rows[0]), joint=names[int(riders.main[of[part.rows[0]]])] if riders and part.rigid else None)
            for part in parts[:60]]
    report = BindReport(joints=int(used.sum()), most=step.most, accepted=round(float(taken.accepted.mean()), 4),
                        solved=round(1.0 - float(known.mean()), 4), how=step.how, worn_as=worn_as, hangs=hangs, parts=told)
    return Bound(Skin(joints, weights), riders, report)
