"""Pairs: one boot without the other, or two that differ."""

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import KDTree

from ..mesh.islands import islands
from ..mesh.mesh import Mesh
from ..mesh.ops.subset import with_triangles, without_unused
from ..model.steps.receive import Finding

KEEP_LEFT, KEEP_RIGHT, SINGLE = "keep_left", "keep_right", "single"
ALIKE = 0.004
"""Halves of a pair whose points mirror onto each other within this (metres, 95 of 100) are alike."""
_TURNED = [0, 2, 1]


@dataclass(frozen=True)
class _Sides:
    left: np.ndarray
    right: np.ndarray


def look_for_pair(mesh: Mesh, category: str, mends: tuple[str, ...] | None) -> tuple[Mesh, list[Finding]]:
    """Return the mesh with the pair put right as `mends` say, and what was found; `mesh` is in metres, left is +x.

    A single boot or glove is mirrored unless told otherwise; of a pair that differs, one is kept and mirrored only when asked for.
    """
    sides = _sides(mesh)
    if sides is None:
        return mesh, []
    if not sides.right.any() or not sides.left.any():
        if category not in ("footwear", "glove"):
            return mesh, []
        accept = mends is None or SINGLE in mends
        here, there = ("left", "right") if sides.left.any() else ("right", "left")
        text, mend = f"only the {here} one of a pair is there", f"mirror it to the {there}"
        found = Finding(kind=SINGLE, count=1, text=text, mend=mend, mended=accept)
        return (_both(mesh) if accept else mesh), [found]
    miss = _difference(mesh, sides)
    if miss < ALIKE:
        return mesh, []
    keep_left, keep_right = (kind in (mends or ()) for kind in (KEEP_LEFT, KEEP_RIGHT))
    text = f"left and right of the pair differ by {1000 * miss:.0f} mm"
    found = [Finding(kind=KEEP_LEFT, count=1, text=text, mend="keep the left one, mirrored", mended=keep_left),
             Finding(kind=KEEP_RIGHT, count=1, text=text, mend="keep the right one, mirrored", mended=keep_right and not keep_left)]
    if keep_left or keep_right:
        chosen = sides.left if keep_left else sides.right
        mesh = _both(without_unused(with_triangles(mesh, chosen)))
    return mesh, found


def _sides(mesh: Mesh) -> _Sides | None:
    """Return the triangles left and right of the middle plane; None when a part crosses it by more than it should."""
    count, label = islands(mesh.triangles, len(mesh.points))
    x = mesh.points[:, 0].astype(np.float64)
    low, high = np.full(count, np.inf), np.full(count, -np.inf)
    np.minimum.at(low, label, x)
    np.maximum.at(high, label, x)
    part = label[mesh.triangles[:, 0]]
    used = np.bincount(part, minlength=count) > 0
    room = 0.01 * max(float(np.ptp(mesh.points, axis=0).max()), 1e-6)
    if ((low < -room) & (high > room) & used).any():
        return None
    left = ((low + high) / 2 > 0)[part]
    return _Sides(left, ~left)


def _difference(mesh: Mesh, sides: _Sides) -> float:
    """Return the mirrored distance (metres) that 95 of 100 points of one side keep to the other's, the greater of both ways."""
    a, b = (mesh.points[np.unique(mesh.triangles[rows])].astype(np.float64) for rows in (sides.left, sides.right))
    b = b * [-1.0, 1.0, 1.0]
    return max(float(np.quantile(KDTree(p).query(q)[0], 0.95)) for p, q in ((a, b), (b, a)))


def _both(mesh: Mesh) -> Mesh:
    """Return the mesh with its mirror image."""
    n = len(mesh.points)
    uv, fold, received = mesh.corner_uv, mesh.corner_fold, mesh.received
    return replace(
        mesh, points=np.concatenate([mesh.points, mesh.points * np.array([-1, 1, 1], np.float32)]),
        triangles=np.concatenate([mesh.triangles, mesh.triangles[:, _TURNED] + n]).astype(np.int32),
        triangle_material=np.tile(mesh.triangle_material, 2), polygon=np.concatenate([mesh.polygon, mesh.polygon + mesh.polygon.max() + 1]),
        corner_uv=None if uv is None else np.concatenate([uv, uv[:, _TURNED]]),
        corner_fold=None if fold is None else np.concatenate([fold, fold[:, _TURNED]]),
        received=None if received is None else np.concatenate([received, received]),
    )
