"""The generated figure as loaded from its data file."""

import hashlib
from dataclasses import replace
from pathlib import Path

import numpy as np

from ..errors import InputError
from ..memo import memoised
from ..mesh.triangles import triangulate_quads
from .base.body import Body
from .base.pattern_refine import refined_uv
from .base.refine import refined
from .base.shape_moves import Ground, Moves, mirrored_moves, none, together
from .base.shapes import DRAWN, EXTRAS, SLIDERS
from .base.skeleton import Skeleton, Skin
from .correctives import DRIVEN, corrective_moves
from .ears import ear_moves
from .kept import FIGURE
from .shape_table import also, shape_moves

SHAPE_NAMES = SLIDERS + tuple(DRIVEN) + EXTRAS
DATA = Path(__file__).with_name("figure.npz")
LEVELS = 2


def figure(level: int = LEVELS) -> Body:
    """Return the figure at refinement `level` 1 (cloth proxy, ~10k vertices), 2 (default, ~39k) or 3 (plates, ~156k).

    The vertices of a level are the first of the next.

    >>> len(figure(1).base), figure(1).skeleton.names[0]
    (9922, 'humanoid_root')
    """
    if level not in (1, 2, 3):
        raise InputError(what=f"level {level} does not exist", where="the figure", todo="Use level 1, 2 or 3.")
    return _loaded(level)


@memoised(FIGURE)
def _loaded(level: int) -> Body:
    if level == 3:
        fine = refined(figure(2), _quads(2))
        with np.load(DATA) as d:
            return replace(fine, corner_uv=_triangle_uv(d["cage_uv"], 3))
    with np.load(DATA) as d:
        quads = d[f"quads{level}"]
        n = int(quads.max()) + 1
        floor, base = d["floor"], d["base"][:n]
        skeleton = Skeleton(tuple(str(x) for x in d["joint_names"]), d["joint_parents"], d["joints"])
        skin = Skin(np.ascontiguousarray(d["skin_joints"][:n], np.int32), d["skin_weights"][:n])
        ground, pairs = Ground.of(base, skin, skeleton), d["mirror"][:n]
        turned = joint_pairs(skeleton.names)

        def mirror(moves: Moves) -> Moves:
            return mirrored_moves(moves, pairs, turned)

        moves = shape_moves(ground, mirror)
        moves |= {name: corrective_moves(ground, name) for name in DRIVEN}
        moves |= {name: none(ground) for name in EXTRAS}
        moves["pointed_ears"] = ear_moves(ground.points, d["regions"], d["region_names"], quads), none(ground)[1]
        drawn, joints = d["deltas"], d["joint_deltas"]
        for i, name in enumerate(DRAWN):
            moves[name] = together((drawn[i, :n] * np.float32(1e-5), joints[i]), also(ground, name, mirror))
        return Body(
            base=base, triangles=triangulate_quads(quads), skeleton=skeleton, skin=skin, shapes=SHAPE_NAMES,
            deltas=np.array([moves[s][0] for s in SHAPE_NAMES], np.float32),
            joint_deltas=np.array([moves[s][1] for s in SHAPE_NAMES]), made_at=np.zeros(len(SHAPE_NAMES)), floor=floor[floor < n],
            corner_uv=_triangle_uv(d["cage_uv"], level),
        )


@memoised(FIGURE)
def figure_version() -> str:
    """Return a name for the figure's data and shapes: what was computed on another figure must be computed anew."""
    body = figure(1)
    parts = (body.base, body.deltas, body.joint_deltas, body.skin.weights, body.skeleton.positions)
    digest = hashlib.sha256(" ".join(body.shapes + body.skeleton.names).encode())
    for part in parts:
        digest.update(np.ascontiguousarray(part).tobytes())
    return digest.hexdigest()[:16]


def _triangle_uv(cage_uv: np.ndarray, levels: int) -> np.ndarray:
    """Return the texture coordinates of the level's triangles `(m, 3, 2) float32`."""
    uv = refined_uv(cage_uv, levels)
    return np.stack([uv[:, [0, 1, 2]], uv[:, [0, 2, 3]]], axis=1).reshape(-1, 3, 2).astype(np.float32)


def joint_pairs(names: tuple[str, ...]) -> np.ndarray:
    """Return `(j,) int`: the joint on the other side of each (itself on the midline).

    >>> joint_pairs(("l_knee", "r_knee", "vl5"))
    array([1, 0, 2])
    """
    other = {"l_": "r_", "r_": "l_"}
    return np.array([names.index(other[n[:2]] + n[2:]) if n[:2] in other else i for i, n in enumerate(names)])


def _quads(level: int) -> np.ndarray:
    with np.load(DATA) as d:
        return d[f"quads{level}"]


def mirror_pairs(level: int = LEVELS) -> np.ndarray:
    """Return `(n,) int32`: the vertex on the other side of each vertex (itself on the midline).

    >>> pairs = mirror_pairs(1)
    >>> bool((pairs[pairs] == np.arange(len(pairs))).all())  # the other of the other is the vertex itself
    True
    """
    with np.load(DATA) as d:
        return d["mirror"][: int(d[f"quads{level}"].max()) + 1]
