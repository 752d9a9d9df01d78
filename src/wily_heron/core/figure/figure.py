"""The generated figure as loaded from its data file."""

from functools import lru_cache
from pathlib import Path

import numpy as np

from ..errors import InputError
from ..mesh.triangles import triangulate_quads
from .body import Body
from .shapes import SHAPE_NAMES
from .skeleton import Skeleton, Skin

DATA = Path(__file__).with_name("figure.npz")
LEVELS = 2


@lru_cache(maxsize=2)
def figure(level: int = LEVELS) -> Body:
    """Return the figure at refinement `level` 1 (cloth proxy, ~8k vertices) or 2 (default, ~34k).

    The vertices of level 1 are the first of level 2, so one set of arrays serves both.
    """
    if level not in (1, 2):
        raise InputError(what=f"level {level} does not exist", where="the figure", todo="Use level 1 or 2.")
    with np.load(DATA) as d:
        quads = d[f"quads{level}"]
        n = int(quads.max()) + 1
        floor = d["floor"]
        return Body(
            base=d["base"][:n], triangles=triangulate_quads(quads),
            skeleton=Skeleton(tuple(str(x) for x in d["joint_names"]), d["joint_parents"], d["joints"]),
            skin=Skin(np.ascontiguousarray(d["skin_joints"][:n], np.int32), d["skin_weights"][:n]),
            shapes=SHAPE_NAMES, deltas=d["deltas"][:, :n].astype(np.float32) * np.float32(1e-5),
            joint_deltas=d["joint_deltas"], made_at=np.zeros(len(SHAPE_NAMES)), floor=floor[floor < n],
        )


def mirror_pairs(level: int = LEVELS) -> np.ndarray:
    """Return `(n,) int32`: the vertex on the other side of each vertex (itself on the midline)."""
    with np.load(DATA) as d:
        return d["mirror"][: int(d[f"quads{level}"].max()) + 1]
