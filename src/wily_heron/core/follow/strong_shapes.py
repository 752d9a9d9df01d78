"""Each shape at full strength, and the strong ones two and three at once, cleared: what a sum of moves leaves under the skin."""

from dataclasses import dataclass
from itertools import combinations, product

import numpy as np
from scipy import sparse

from ..figure.base.shapes import EXTRAS, LEFT
from ..figure.correctives import DRIVEN
from ..mesh.edges import adjacency
from ..model.correctives import Corrective
from .ground import Ground
from .shape_kernels import stands_off

_STRONG, _COUNT, _PAIRS, _TRIPLES = 0.004, 14, 40, 24
_LOW, _FEW = 3e-4, 3
"""A vertex is short when it lacks more than this (metres); fewer of them than this are left."""

_SPREAD = 10
"""Rounds in which a move spreads, by one ring of vertices each."""


@dataclass(frozen=True)
class Cleared:
    """Correctives for shapes alone and together, their moves `fixes` (c, n, 3), and how many vertices were short before and after."""

    correctives: tuple[Corrective, ...]
    fixes: np.ndarray
    short: int
    left: int


class StrongShapes:
    """A piece with its shapes' moves (s, n, 3), measured against what is under it, skin or another piece, as shapes change both."""

    def __init__(self, points: np.ndarray, triangles: np.ndarray, names: tuple[str, ...], ground: Ground, deltas: np.ndarray, ease: float,
                 of: np.ndarray) -> None:
        self.names, self.deltas, self.points = names, deltas, np.asarray(points, np.float64)
        self.corners, self.where, self.skin, self.moves = ground.corners, ground.where, ground.points, ground.moves
        near = adjacency(triangles, len(points))
        self.mean = sparse.diags(1.0 / np.maximum(np.asarray(near.sum(axis=1)).ravel(), 1.0)) @ near
        self.of = of
        self.correctives: list[Corrective] = []
        self.fixes: list[np.ndarray] = []
        self._driven: list[tuple[tuple[int, float], ...]] = []
        gap, _ = self.gaps({})
        self.judged = ground.sure & (gap > -0.002) & (gap < 0.05)
        self.want = np.minimum(ease, np.maximum(gap, 0.0))

    def gaps(self, values: dict[int, float]) -> tuple[np.ndarray, np.ndarray]:
        """Return how far each vertex stands off its own face of what is under it (n,) at shape `values`, and that face's normal (n, 3)."""
        p, skin = self.points.copy(), self.skin.copy()
        for s, v in values.items():
            p += v * self.deltas[s]
            skin += v * self.moves[s]
        for driven, fix in zip(self._driven, self.fixes, strict=True):
            share = 1.0
            for s, whole in driven:
                share *= min(max(values.get(s, 0.0) / whole, 0.0), 1.5)
            if share:
                p += share * fix
        out, way = np.empty(len(p)), np.empty((len(p), 3))
        stands_off(p, skin, self.corners, self.where, out, way)
        return out, way

    def short(self, values: dict[int, float]) -> tuple[np.ndarray, np.ndarray]:
        """Return what each vertex lacks (n,) in metres, 0 where it is well, and along which direction (n, 3)."""
        gap, way = self.gaps(values)
        lack = np.where(self.judged, self.want - gap, 0.0)
        return np.where(lack > _LOW, lack, 0.0), way

    def clear(self, values: dict[int, float]) -> bool:
        """Add a corrective that clears these shape values together; return whether one was called for."""
        lack, way = self.short(values)
        if (lack > 0).sum() < _FEW:
            return False
        rows = self._reached(lack > 0)
        short, along, mean = lack[rows], way[rows], self.mean[rows][:, rows]
        near = np.zeros((len(rows), 3))
        for _ in range(_SPREAD):
            near += 1.05 * _still(short, near, along)[:, None] * along
            near = 0.4 * near + 0.6 * (mean @ near)
        near += _still(short, near, along)[:, None] * along
        move = np.zeros((len(lack), 3))
        move[rows] = near
        for r in range(int(self.of.max(initial=-1)) + 1):
            move[self.of == r] = move[self.of == r].mean(axis=0)
        shapes = tuple((self.names[s], float(v)) for s, v in values.items())
        self.correctives.append(Corrective(" + ".join(f"{n} {v:+g}" for n, v in shapes), shapes))
        self.fixes.append(move.astype(np.float32))
        self._driven.append(tuple((s, float(v)) for s, v in values.items()))
        return True

    def _reached(self, short: np.ndarray) -> np.ndarray:
        """Return the rows that a move of the `short` (n,) vertices spreads to: all others stay where they are."""
        reached = short.astype(np.float64)
        for _ in range(_SPREAD):
            reached += self.mean @ reached
        return np.flatnonzero(reached)

    def strong(self) -> list[int]:
        """Return the shapes that move the piece most, in parts or whole."""
        most = np.sqrt((self.deltas.astype(np.float32) ** 2).sum(axis=2)).max(axis=1)
        own = [s for s, n in enumerate(self.names) if n not in DRIVEN and n not in EXTRAS and not n.endswith(LEFT) and most[s] > _STRONG]
        rough = {s: max(self._bends(s, 1.0), self._bends(s, -1.0)) for s in own}
        return sorted(own, key=lambda s: -rough[s])[:_COUNT]

    def _bends(self, s: int, value: float) -> float:
        """How far the piece's distance from the skin strays at a shape's full strength: what is not straight about it."""
        gap, _ = self.gaps({s: value})
        still, _ = self.gaps({})
        return float(np.quantile(np.abs(gap - still)[self.judged], 0.99)) if self.judged.any() else 0.0


def _still(lack: np.ndarray, move: np.ndarray, way: np.ndarray) -> np.ndarray:
    """Return what vertices still lack (n,) of `lack` (n,) after a move (n, 3), each along its `way` (n, 3)."""
    return np.maximum(lack - np.einsum("ij,ij->i", move, way), 0.0) * (lack > 0)


def clear_shapes(shapes: StrongShapes, pairs: bool) -> Cleared:
    """Return correctives that keep the piece off what is under it at each shape's full strength both ways, and with `pairs` at the strong
    ones two and three at once: the worst first, each measured with those before it in place."""
    short = 0
    singles = [{s: v} for s in range(len(shapes.names)) for v in (1.0, -1.0)
               if np.abs(shapes.deltas[s]).max(initial=0.0) > 1e-4 and not (shapes.names[s] in EXTRAS and v < 0)]
    for values in singles:
        short += int((shapes.short(values)[0] > 0).sum())
        shapes.clear(values)
    if pairs:
        strong = shapes.strong()
        for count, most in ((2, _PAIRS), (3, _TRIPLES)):
            chosen = strong if count == 2 else strong[:6]
            trials = [dict(zip(c, signs, strict=True)) for c in combinations(chosen, count) for signs in product((1.0, -1.0), repeat=count)]
            lacks = [float(shapes.short(t)[0].sum()) for t in trials]
            for i in np.argsort(lacks)[::-1][:most]:
                if lacks[i] <= 0:
                    break
                shapes.clear(trials[i])
    left = sum(int((shapes.short(v)[0] > 0).sum()) for v in singles)
    fixes = np.array(shapes.fixes, np.float32) if shapes.fixes else np.zeros((0, len(shapes.points), 3), np.float32)
    return Cleared(tuple(shapes.correctives), fixes, short, left)
