"""Build the figure's data file: the base body and the shapes it is drawn anew for.

Deterministic: the same code writes the same bytes. Run by hand, never at start.
"""

import hashlib
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy import sparse

from ...mesh.edges import adjacency
from ..base.shapes import DRAWN
from ..base.skeleton import Skin
from ..base.skinning import strongest
from ..cage_grid import Cage
from ..figure import DATA, LEVELS, joint_pairs
from ..regions import cage_regions
from .cage import build_cage
from .nails import nail_moves
from .pattern import cage_uv
from .rig import cage_weights, joint_tree
from .surface import Topology, body_surface, quad_normals, topology

STEP = 1e-5
"""Shape deltas are kept as multiples of this many metres."""
REACH = {"girth": 0.85}
"""How far the drawing goes for a shape's +1 and -1, where it is not all the way."""
CENTRE = {"waist": 0.25, "hip": 0.5, "bust": -0.1}
"""Where between the drawn extremes the middle body stands: within 1 cm of the mean of EN 13402-3's women's size 88 and men's size 92."""


def generate(report: Callable[[str], None] | None = None) -> dict[str, np.ndarray]:
    """Return the arrays of the data file: base vertices, shape deltas, joints, weights, quads per level, mirror pairs."""
    cage = build_cage({})
    top = topology(cage, LEVELS)
    base = body_surface({}, top, LEVELS)
    base = base + nail_moves(base, quad_normals(base, top.quads[LEVELS]), top.mirror[-1])
    floor = base[:, 1].min()
    base[:, 1] -= floor
    names, parents, joints = joint_tree({})
    joints = joints - [0, floor, 0]
    deltas, joint_deltas = [], []
    for shape in DRAWN:
        reach = REACH.get(shape, 1.0)
        more, less = body_surface({shape: reach}, top, LEVELS), body_surface({shape: -reach}, top, LEVELS)
        if report:
            report(shape)
        deltas.append(_evened(0.5 * (more - less), top))
        joint_deltas.append(0.5 * (joint_tree({shape: reach})[2] - joint_tree({shape: -reach})[2]))
    for shape, value in CENTRE.items():
        base = base + value * deltas[DRAWN.index(shape)]
        joints = joints + value * joint_deltas[DRAWN.index(shape)]
    skin, (region_names, regions) = skin_of(cage, top, names), cage_regions(cage)
    return {
        "region_names": np.array(region_names), "regions": regions,
        "base": base.astype(np.float32), "deltas": np.round(np.array(deltas) / STEP).astype(np.int16),
        "joint_names": np.array(names), "joint_parents": parents, "joints": joints,
        "joint_deltas": np.array(joint_deltas), "skin_joints": skin.joints.astype(np.uint8), "skin_weights": skin.weights,
        "cage_uv": cage_uv(cage, base[: len(cage.points)]), "mirror": top.mirror[-1].astype(np.int32), "floor": _floor_points(base),
        **{f"quads{level}": top.quads[level] for level in range(1, LEVELS + 1)},
    }


def skin_of(cage: Cage, top: Topology, names: tuple[str, ...]) -> Skin:
    """Return the body's skin: the cage's weights refined with it, four a vertex, as even on the midline as beside it."""
    dense = cage_weights(cage, names)
    for matrix in top.refine:
        dense = matrix @ dense
    other = joint_pairs(names)
    for row in np.flatnonzero(top.mirror[-1] == np.arange(len(dense))):
        order = np.argsort(-dense[row], kind="stable")
        if other[order[3]] == order[4]:  # the fourth place would go to one of a pair: neither gets it
            dense[row, order[3:5]] = 0.0
    return strongest(dense)


def _evened(delta: np.ndarray, top: Topology) -> np.ndarray:
    """Return a drawn shape's moves with the drawing's own grain taken out: three rounds of averaging with the neighbours."""
    near = adjacency(top.quads[LEVELS], len(delta))
    mean = sparse.diags(1.0 / np.asarray(near.sum(axis=1)).ravel()) @ near
    for _ in range(3):
        delta = 0.5 * delta + 0.5 * (mean @ delta)
    return delta


def _floor_points(base: np.ndarray) -> np.ndarray:
    """Return indices of vertices that may meet the floor: feet, shins and knee fronts, seat, every centimetre or two."""
    y, z, x = base[:, 1], base[:, 2], np.abs(base[:, 0])
    foot = y < 0.10
    shin = (y < 0.56) & (y > 0.10) & (z > 0.01)
    seat = (y > 0.80) & (y < 0.95) & (z < -0.09) & (x < 0.2)
    chosen = np.flatnonzero(foot | shin | seat)
    cells = np.round(base[chosen] / np.where(foot[chosen], 0.014, 0.026)[:, None]).astype(int)
    _, first = np.unique(cells, axis=0, return_index=True)
    return np.sort(chosen[first]).astype(np.int32)


def main() -> None:
    """Write the data file and print its hash."""
    arrays = generate(print)
    with DATA.open("wb") as out:
        np.savez_compressed(out, **arrays)  # type: ignore[arg-type]
    digest = hashlib.sha256(b"".join(np.ascontiguousarray(a).tobytes() for a in arrays.values())).hexdigest()
    print(f"{Path(DATA).name}: {len(arrays['base'])} vertices, {len(DRAWN)} drawn shapes, sha256 {digest}")


if __name__ == "__main__":
    main()
