"""The weight brush: what one joint gains the others lose, along the surface, with locks and a mirror."""

import numpy as np
from scipy import sparse

from ..errors import InputError
from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..figure.figure import figure
from ..figure.regions import face_regions
from ..mesh.edges import adjacency
from ..mesh.mesh import Mesh
from ..model.riders import Riders
from ..model.steps.bind import Weigh, WeighReport
from ..space.surface import Surface, soft
from ..space.tree import TriangleTree
from .dense import dense_of, sparse_of


class WeightBrush:
    """A piece's weights in the hand: `dense` (n, j), changed dab by dab; vertices that go with the piece's own joints stay out."""

    def __init__(self, mesh: Mesh, skin: Skin, riders: Riders | None, wearer: Wearer) -> None:
        self.names = wearer.skeleton.names
        self.wearer, self.skin, self.points = wearer, skin, np.asarray(mesh.points, np.float64)
        self.dense = dense_of(skin, len(self.names))
        self.surface = Surface.of(mesh.points, mesh.triangles)
        self.cloth = np.ones(len(self.points), bool) if riders is None else skin.joints[:, 0] < riders.first
        self.near = sparse.csr_matrix(adjacency(mesh.triangles, len(self.points)) @ sparse.diags(self.cloth.astype(float)))
        rows = mesh.received if mesh.received is not None else np.arange(len(self.points))
        self._row = {int(r): i for i, r in enumerate(rows)}

    def stroke(self, step: Weigh) -> np.ndarray:
        """Make a whole stroke; return the vertices it touched. Raises `InputError` for a joint or region that is not there."""
        for name in (step.joint, *([step.other] if step.other else []), *step.locks):
            self.wearer.skeleton.index(name)
        if step.tool in ("share",) and not step.other:
            raise InputError(what="it names one joint alone", where="sharing weights", todo="Choose the other joint of the pair as well.")
        if step.tool == "fill":
            rows = self._region(step.region)
            self._apply(step, step.joint, step.other, rows, np.full(len(rows), step.strength), step.locks)
            return rows
        touched = [self.dab(step, at) for at in step.dabs]
        return np.unique(np.concatenate(touched)) if touched else np.zeros(0, np.int64)

    def dab(self, step: Weigh, received: int) -> np.ndarray:
        """Make one dab about a received row, and its mirror image if asked; return the vertices touched, none if its place is gone."""
        vertex = self._row.get(received)
        if vertex is None:
            return np.zeros(0, np.int64)
        rows = self._one(step, vertex, step.joint, step.other, step.locks)
        other = int(self.surface.other[vertex]) if step.mirror else -1
        if other >= 0 and other != vertex:
            rows = np.union1d(rows, self._one(step, other, mirrored_name(step.joint), mirrored_name(step.other),
                                              tuple(mirrored_name(n) for n in step.locks)))
        return rows

    def weights(self, rows: np.ndarray) -> Skin:
        """Return the weights of vertices `rows` as they are kept: as many joints a vertex as the piece has."""
        mask = np.ones(len(rows), bool)
        return sparse_of(self.dense[rows], Skin(self.skin.joints[rows], self.skin.weights[rows]), mask & self.cloth[rows])

    def _one(self, step: Weigh, vertex: int, joint: str, other: str, locks: tuple[str, ...]) -> np.ndarray:
        rows, far = self.surface.within(np.array([vertex]), step.radius)
        inside = self.cloth[rows]
        rows, far = rows[inside], far[inside]
        self._apply(step, joint, other, rows, step.strength * soft(far, step.radius), locks)
        return rows

    def _apply(self, step: Weigh, joint: str, other: str, rows: np.ndarray, amount: np.ndarray, locks: tuple[str, ...]) -> None:
        j = self.wearer.skeleton.index(joint)
        locked = [self.names.index(n) for n in locks if n != joint]
        w = self.dense[rows]
        if step.tool == "iron":
            w = w + amount[:, None] * (self._mean(rows) - w)
            w[:, locked] = self.dense[rows][:, locked]
            self.dense[rows] = w / np.maximum(w.sum(axis=1, keepdims=True), 1e-9)
            return
        free = 1.0 - w[:, locked].sum(axis=1)
        if other:
            k = self.wearer.skeleton.index(other)
            free = w[:, j] + w[:, k]
        now = w[:, j]
        if step.tool in ("add", "fill"):
            new = now + amount * (free - now)
        elif step.tool == "take":
            new = now - amount * now
        elif step.tool == "blend":
            new = now + amount * (self._mean(rows)[:, j] - now)
        else:
            a, b = (self.wearer.skeleton.positions[self.names.index(n)] for n in (joint, other))
            way = b - a
            along = np.clip((self.points[rows] - a) @ way / max(float(way @ way), 1e-9), 0.0, 1.0)
            new = now + amount * (free * (1.0 - along) - now)
        new = np.clip(new, 0.0, np.maximum(free, 0.0))
        if other:
            w[:, self.names.index(other)] = free - new
        else:
            rest = np.setdiff1d(np.arange(w.shape[1]), [j, *locked])
            held = w[:, rest].sum(axis=1)
            need = np.maximum(free - new, 0.0)
            grow = np.where(held > 1e-6, need / np.maximum(held, 1e-6), 0.0)
            w[:, rest] *= grow[:, None]
            short = (held <= 1e-6) & (need > 1e-6)  # nobody else bears it: what is taken goes to those about it, or stays
            if short.any():
                about = self._mean(rows[short])[:, rest]
                total = about.sum(axis=1, keepdims=True)
                w[np.ix_(np.flatnonzero(short), rest)] = np.where(total > 1e-6, need[short, None] * about / np.maximum(total, 1e-6), 0.0)
                new[short] = free[short] - w[np.ix_(np.flatnonzero(short), rest)].sum(axis=1)
        w[:, j] = new
        self.dense[rows] = w

    def _mean(self, rows: np.ndarray) -> np.ndarray:
        """The mean weights (r, j) of each vertex's neighbours on the cloth; its own where it has none."""
        around = self.near[rows]
        count = np.asarray(around.sum(axis=1)).ravel()[:, None]
        return np.where(count > 0, (around @ self.dense) / np.maximum(count, 1.0), self.dense[rows])

    def _region(self, region: str) -> np.ndarray:
        if not region:
            return np.flatnonzero(self.cloth)
        names, of = face_regions(1)
        if region not in names:
            raise InputError(what=f"there is no region '{region}'", where="filling a region", todo=f"The regions are {', '.join(names)}.")
        n = len(figure(1).base)
        near = TriangleTree(self.wearer.points[:n], figure(1).triangles).nearest(self.points)
        return np.flatnonzero(self.cloth & (of[near.triangle] == names.index(region)))


def mirrored_name(joint: str) -> str:
    """Return the joint of the other side; those of the middle are their own.

    >>> mirrored_name("l_elbow"), mirrored_name("skullbase")
    ('r_elbow', 'skullbase')
    """
    return f"r_{joint[2:]}" if joint.startswith("l_") else f"l_{joint[2:]}" if joint.startswith("r_") else joint


def painted_weights(mesh: Mesh, skin: Skin, riders: Riders | None, wearer: Wearer, step: Weigh) -> tuple[Skin, WeighReport]:
    """Return the weights after one stroke, and what it did.

    Args:
        mesh: The mesh, in metres.
        skin: (n, k) joints and weights.
        riders: Its own joints, if it has any.
        wearer: The body in its shape, at rest.
        step: What is asked for, as a step of the bench.
    """
    brush = WeightBrush(mesh, skin, riders, wearer)
    touched = brush.stroke(step)
    rows = np.zeros(len(mesh.points), bool)
    rows[touched] = True
    rows &= brush.cloth
    return sparse_of(brush.dense, skin, rows), WeighReport(kind="weigh", tool=step.tool, joint=step.joint, touched=len(touched))
