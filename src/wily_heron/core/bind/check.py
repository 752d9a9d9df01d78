"""What is wrong with a piece's weights, and how it is put right."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import KDTree

from ..clearance.regions import region_name
from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..mesh.edges import adjacency, unique_edges
from ..model.riders import Riders
from ..model.steps.bind import Fault, WeighReport
from .dense import dense_of, sparse_of
from .transfer import inpaint

_BEARS = 0.05
_FAR, _FARTHER = 0.12, 2.5
"""A joint is out of place on a vertex farther from any skin of its own than this (metres), and this many times its way to the skin."""
_STEEP = 30.0
"""Half the weights changing hands within 1/60 m: steeper than any joint of the body."""
KINDS = ("stray", "far", "unweighted", "jump", "leak")
_TEXT = {
    "stray": "{n} vertices are borne a little by {joint}, which is nowhere near",
    "far": "{n} vertices follow {joint}, which is nowhere near",
    "unweighted": "{n} vertices follow nothing but the root",
    "jump": "{n} vertices stand where the weights jump from one to the next, about {joint}",
    "leak": "{n} vertices of one side are borne by the other: {joint}",
}
_MEND = {"stray": "Take it off", "far": "Solve them anew", "unweighted": "Solve them anew", "jump": "Even them out", "leak": "Take it off"}


@dataclass(frozen=True)
class WeightFault:
    """One kind of fault at a joint: the vertices it is on, worst first, and the joint's column, -1 for none."""

    kind: str
    rows: np.ndarray
    joint: int
    name: str

    def report(self) -> Fault:
        """Return it as a report tells it, at most 3,000 of its vertices."""
        text = _TEXT[self.kind].format(n=len(self.rows), joint=f"{region_name(self.name)} ({self.name})" if self.name else "")
        return Fault(kind=self.kind, count=len(self.rows), joint=self.name, text=text, mend=_MEND[self.kind],
                     rows=self.rows[:3000].tolist())


def check_weights(points: np.ndarray, triangles: np.ndarray, skin: Skin, riders: Riders | None, wearer: Wearer) -> list[WeightFault]:
    """Return the faults of a piece's weights: strays, vertices that follow what is far or nothing, jumps, and leaks across the middle.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        skin: (n, k) joints and weights.
        riders: Its own joints, if it has any.
        wearer: The body in its shape, at rest.
    """
    names, body = wearer.skeleton.names, wearer.body
    some = slice(None, None, max(1, len(wearer.points) // 12_000))  # the skin to the centimetre is enough here
    there = wearer.points[some]
    p, dense = np.asarray(points, np.float64), dense_of(skin, len(names))
    cloth = np.ones(len(p), bool) if riders is None else skin.joints[:, 0] < riders.first
    out: list[WeightFault] = []
    bearing_skin = dense_of(Skin(body.skin.joints[some], body.skin.weights[some]), len(names))
    bearing = bearing_skin > _BEARS
    to_skin, under = KDTree(there).query(p)
    for j in np.flatnonzero((dense > 1e-3).any(axis=0)):
        rows = np.flatnonzero(cloth & (dense[:, j] > 1e-3))
        own = np.flatnonzero(bearing[:, j])
        if j == 0 or not len(own):
            continue
        away = KDTree(there[own]).query(p[rows])[0]
        wrong = away > np.maximum(_FAR + to_skin[rows], _FARTHER * to_skin[rows])
        for kind, mine in (("stray", wrong & (dense[rows, j] < 0.3)), ("far", wrong & (dense[rows, j] >= 0.3))):
            if mine.any():
                out.append(WeightFault(kind, _worst(rows[mine], away[mine]), int(j), names[j]))
    lost = np.flatnonzero(cloth & (dense[:, 0] > 0.999))
    if len(lost):
        at_root = KDTree(there[bearing[:, 0]]).query(p[lost])[0]
        lost = lost[at_root > _FAR + to_skin[lost]]
    if len(lost):
        out.append(WeightFault("unweighted", lost, -1, ""))
    allowed = bearing_skin[under]
    out += _jumps(p, triangles, dense, cloth, allowed, names)
    return out + _leaks(p, dense, cloth, allowed, to_skin, names)


def _jumps(p, triangles, dense, cloth, allowed, names) -> list[WeightFault]:
    """What is as steep as the skin under it (a knuckle) is no fault."""
    odd = 0.5 * np.abs(dense - allowed).sum(axis=1) > 0.25
    edges, _ = unique_edges(triangles)
    edges = edges[odd[edges].any(axis=1)]
    edges = edges[cloth[edges].all(axis=1)]
    a, b = edges.T
    change = dense[a] - dense[b]
    half = 0.5 * np.abs(change).sum(axis=1)
    steep = (half > 0.2) & (half > _STEEP * np.maximum(np.linalg.norm(p[a] - p[b], axis=1), 0.004))
    if not steep.any():
        return []
    joint = np.bincount(np.argmax(np.abs(change[steep]), axis=1)).argmax()
    rows, first = np.unique(edges[steep].ravel(), return_index=True)
    return [WeightFault("jump", _worst(rows, np.repeat(half[steep], 2)[first]), int(joint), names[joint])]


def _leaks(p, dense, cloth, allowed, to_skin, names) -> list[WeightFault]:
    out = []
    side = np.array([1 if n.startswith("l_") else -1 if n.startswith("r_") else 0 for n in names])
    for sign in (1, -1):
        own = side == sign
        share, there = dense[:, own].sum(axis=1), allowed[:, own].sum(axis=1)
        wrong = cloth & (p[:, 0] * sign < -0.04) & (to_skin < 0.025) & (share > 0.05) & (there < 0.01)
        if wrong.any():
            rows = np.flatnonzero(wrong)
            joint = np.flatnonzero(own)[dense[np.ix_(rows, np.flatnonzero(own))].sum(axis=0).argmax()]
            out.append(WeightFault("leak", _worst(rows, share[rows]), int(joint), names[joint]))
    return out


def mended(points: np.ndarray, triangles: np.ndarray, skin: Skin, riders: Riders | None, wearer: Wearer, kinds: Sequence[str],
           only: set[int]) -> tuple[Skin, WeighReport]:
    """Return the weights with the faults of `kinds` put right, all or those at vertices `only`, and what was done.

    What is out of place is taken off and the rest made up to 1; where little is left, the vertex is solved from those about it.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        skin: (n, k) joints and weights.
        riders: Its own joints, if it has any.
        wearer: The body in its shape, at rest.
        kinds: Kinds of faults to mend.
        only: Rows of vertices to mend; all if empty.
    """
    faults = [f for f in check_weights(points, triangles, skin, riders, wearer) if f.kind in kinds]
    dense = dense_of(skin, len(wearer.skeleton.names))
    near = adjacency(triangles, len(points))
    side = np.array([1 if n.startswith("l_") else -1 if n.startswith("r_") else 0 for n in wearer.skeleton.names])
    touched, open_ = np.zeros(len(points), bool), np.zeros(len(points), bool)
    for fault in faults:
        rows = np.array([r for r in fault.rows.tolist() if not only or r in only], np.int64)
        if not len(rows):
            continue
        mine = np.zeros(len(points), bool)
        mine[rows] = True
        touched |= mine
        if fault.kind in ("stray", "far"):
            dense[rows, fault.joint] = 0.0
        elif fault.kind == "leak":
            dense[np.ix_(rows, np.flatnonzero(side == side[fault.joint]))] = 0.0
        elif fault.kind == "unweighted":
            dense[rows] = 0.0
        else:
            for _ in range(2):
                mine = mine | (near @ mine > 0)
            open_ |= mine
    total = dense.sum(axis=1)
    open_ |= touched & (total < 0.2)
    touched |= open_
    if riders is not None:
        touched &= skin.joints[:, 0] < riders.first
        open_ &= touched
    known = ~open_ & (total > 0.2)
    solved = np.clip(inpaint(points, triangles, known, dense / np.maximum(total, 1e-9)[:, None]), 0.0, None)
    made = sparse_of(solved, skin, touched)
    left = [f for f in check_weights(points, triangles, made, riders, wearer) if f.kind in kinds]
    return made, WeighReport(kind="mend", mended=int(touched.sum()), left=sum(len(f.rows) for f in left))


def _worst(rows: np.ndarray, badness: np.ndarray) -> np.ndarray:
    return rows[np.argsort(-badness, kind="stable")]
