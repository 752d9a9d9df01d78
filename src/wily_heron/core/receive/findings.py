"""What receiving looks for in a piece, and the mend for each thing found.

A finding is looked for on the mesh as the mends before it leave it, so that accepting one never hides another.
"""

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import KDTree

from ..figure.figure import figure
from ..mesh.edges import edge_use
from ..mesh.islands import islands
from ..mesh.loops import border_loops
from ..mesh.mesh import Mesh
from ..mesh.ops.subset import merged, turned_over, with_triangles, without_unused
from ..mesh.ops.uv_room import overlapping
from ..mesh.ops.winding import inconsistent, inside_out
from ..model.model import Model
from ..model.steps.receive import Finding
from ..space.tree import TriangleTree

HOLE_EDGES = 8
"""Openings of at most this many edges are taken for damage; longer ones for necks, hems and cuffs."""
SPECK = 0.001
"""Parts below this share of the piece's surface, a few faces lost in space."""
WELD = 2e-6
"""Points nearer than this share of the piece's size are one point."""
_TURNED = [0, 2, 1]
COARSE = 0.06
"""Edges longer than this (metres) cannot bend with an elbow or knee."""
LEAVES = 12_000_000
"""So many leaves of its tree a piece may take to be asked for faces that pierce others: seven seconds of a heap, the second that a sound
piece of a million faces takes ten times over."""
BENDS, NEAR_BEND = ("shoulder", "elbow", "radiocarpal", "hip", "knee", "talocrural", "vl1", "vc4"), 0.14
"""Joints a piece must bend at, and how near (metres) their skin an edge is asked to."""


@dataclass(frozen=True)
class _Look:
    kind: str
    find: Callable[[Mesh], tuple[int, Mesh]]
    one: str
    many: str
    mend: str


def look_over(mesh: Mesh, mends: Collection[str] | None) -> tuple[Mesh, list[Finding]]:
    """Return the mesh with the accepted `mends` (kinds; None accepts all) done, and what was found.

    Lengths are not yet in metres here: every limit is a share of the piece's own size.
    """
    found = []
    for look in _LOOKS:
        count, mended = look.find(mesh)
        if not count:
            continue
        accept = mends is None or look.kind in mends
        text = (look.one if count == 1 else look.many).format(count)
        found.append(Finding(kind=look.kind, count=count, text=text, mend=look.mend, mended=accept))
        mesh = mended if accept else mesh
    return mesh, found


def told_only(mesh: Mesh, stature: float) -> list[Finding]:
    """Return what is found and cannot be mended by a program; `mesh` is in metres beside a wearer of `stature`.

    Args:
        mesh: The mesh, in metres.
        stature: The wearer's, metres.
    """
    found = []
    edges, use = edge_use(mesh.triangles)
    if count := int((use > 2).sum()):
        found.append(_note("non_manifold", count, f"{count} edges where more than two faces meet"))
    if count := int(_too_coarse(mesh.points, edges, stature).sum()):
        found.append(_note("coarse", count, f"{count} edges longer than {100 * COARSE:.0f} cm at a joint: too coarse to bend there"))
    pierced, all_asked = TriangleTree(mesh.points, mesh.triangles).some_pierced(edges, LEAVES)
    count, crowded = int(pierced.sum()), "too many faces lie in one place to look at all of them"
    if count:
        text = f"{count} {'face is' if count == 1 else 'faces are'} pierced by others of the same piece"
        found.append(_note("crossing", count, text if all_asked else f"at least {text}; {crowded}"))
    elif not all_asked:
        found.append(_note("crossing", 1, f"it is not known whether faces pierce others: {crowded}"))
    if mesh.corner_uv is None:
        found.append(_note("no_uv", 1, "it has no texture coordinates"))
    elif count := int((_uv_area(mesh) < 1e-12).sum()):
        found.append(_note("flat_uv", count, f"{count} faces without room in the texture"))
    if mesh.corner_uv is not None and (count := int(overlapping(mesh.corner_uv).sum())):
        found.append(_note("shared_uv", count, f"{count} faces share their room in the texture with others"))
    return found


def _note(kind: str, count: int, text: str) -> Finding:
    return Finding(kind=kind, count=count, text=text)


def _too_coarse(points: np.ndarray, edges: np.ndarray, stature: float) -> np.ndarray:
    """Return `(e,) bool`: the long edges near a joint that bends, on a piece that hangs where it is worn."""
    skeleton = figure(1).skeleton
    bends = [p for n, p in zip(skeleton.names, skeleton.positions, strict=True) if n.removeprefix("l_").removeprefix("r_") in BENDS]
    at = np.array(bends) * stature / float(figure(1).base[:, 1].max())
    a, b = points[edges[:, 0]].astype(np.float64), points[edges[:, 1]].astype(np.float64)
    near, _ = KDTree(at).query((a + b) / 2)
    return (np.linalg.norm(a - b, axis=1) > COARSE) & (near < NEAR_BEND)


def told_of_file(model: Model) -> list[Finding]:
    """Return what did not come with the piece though it asks for it."""
    missing = model.missing()
    if not missing:
        return []
    word = "texture is" if len(missing) == 1 else "textures are"
    return [_note("missing_texture", len(missing), f"{len(missing)} {word} missing: {', '.join(missing)}")]


def symmetry(points: np.ndarray) -> float:
    """Return the share of points with a partner across x = 0, within 0.5 % of the size."""
    near = 0.005 * float(np.ptp(points, axis=0).max())
    gap, _ = KDTree(points).query(points * np.array([-1.0, 1.0, 1.0]), distance_upper_bound=near)
    return float(np.isfinite(gap).mean())


def _degenerate(mesh: Mesh) -> tuple[int, Mesh]:
    t = mesh.triangles
    corner = mesh.points[t].astype(np.float64)
    area = np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
    size = float(np.ptp(mesh.points, axis=0).max())
    bad = (t[:, 0] == t[:, 1]) | (t[:, 1] == t[:, 2]) | (t[:, 2] == t[:, 0]) | (area <= 1e-14 * size * size)
    return int(bad.sum()), with_triangles(mesh, ~bad)


def _split(mesh: Mesh) -> tuple[int, Mesh]:
    """Points in one place that different faces use; two closed parts that merely touch there are kept apart."""
    step = WELD * max(float(np.ptp(mesh.points, axis=0).max()), 1e-12)
    _, use = edge_use(mesh.triangles)
    if not (use == 1).any():
        return 0, mesh
    _, onto = np.unique(np.round(mesh.points.astype(np.float64) / step), axis=0, return_inverse=True)
    first = np.full(int(onto.max()) + 1, len(mesh.points))
    np.minimum.at(first, onto, np.arange(len(onto)))
    target = first[onto]
    return int((target != np.arange(len(target))).sum()), merged(mesh, target)


def _duplicates(mesh: Mesh) -> tuple[int, Mesh]:
    _, first = np.unique(np.sort(mesh.triangles, axis=1), axis=0, return_index=True)
    keep = np.zeros(len(mesh.triangles), bool)
    keep[first] = True
    return int((~keep).sum()), with_triangles(mesh, keep)


def _unused(mesh: Mesh) -> tuple[int, Mesh]:
    lean = without_unused(mesh)
    return len(mesh.points) - len(lean.points), lean


def _specks(mesh: Mesh) -> tuple[int, Mesh]:
    """Tiny parts of less than four faces: buttons and buckles have more."""
    count, label = islands(mesh.triangles, len(mesh.points))
    part = label[mesh.triangles[:, 0]]
    corner = mesh.points[mesh.triangles].astype(np.float64)
    area = np.bincount(part, np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1), count)
    speck = (np.bincount(part, minlength=count) < 4) & (area < SPECK * area.sum())
    used = np.bincount(part, minlength=count) > 0
    if area[speck].sum() > 0.01 * area.sum():  # a piece of loose faces is torn, not full of specks
        return 0, mesh
    return int((speck & used).sum()), without_unused(with_triangles(mesh, ~speck[part])) if (speck & used).any() else mesh


def _winding(mesh: Mesh) -> tuple[int, Mesh]:
    bad = inconsistent(mesh.triangles)
    return int(bad.sum()), turned_over(mesh, bad)


def _inside_out(mesh: Mesh) -> tuple[int, Mesh]:
    _, label = islands(mesh.triangles, len(mesh.points))
    part = label[mesh.triangles[:, 0]]
    bad = inside_out(mesh.points, mesh.triangles, part)
    return len(np.unique(part[bad])), turned_over(mesh, bad)


def _holes(mesh: Mesh) -> tuple[int, Mesh]:
    _, label = islands(mesh.triangles, len(mesh.points))
    faces = np.bincount(label[mesh.triangles[:, 0]])
    small = [p for p in border_loops(mesh.triangles) if len(p) <= HOLE_EDGES and faces[label[p[0]]] > 2 * len(p)]
    if not small:
        return 0, mesh
    filling = np.concatenate([np.stack([np.full(len(p) - 2, p[0]), p[1:-1], p[2:]], axis=1) for p in small]).astype(np.int32)
    uv = mesh.corner_uv
    if uv is not None:
        at = np.zeros((len(mesh.points), 2), np.float32)
        at[mesh.triangles.ravel()] = uv.reshape(-1, 2)
        uv = np.concatenate([uv, at[filling]])
    polygon = int(mesh.polygon.max()) + 1 + np.arange(len(filling), dtype=np.int32)
    at_point = np.zeros(len(mesh.points), np.int32)
    at_point[mesh.triangles.ravel()] = np.repeat(mesh.triangle_material, 3)
    fold = mesh.corner_fold
    if fold is not None:
        fold = np.concatenate([fold, np.zeros((len(filling), 3), np.uint8)])
    return len(small), replace(mesh, triangles=np.concatenate([mesh.triangles, filling]), corner_uv=uv, corner_fold=fold,
                               triangle_material=np.concatenate([mesh.triangle_material, at_point[filling[:, 0]]]),
                               polygon=np.concatenate([mesh.polygon, polygon]))


def _half(mesh: Mesh) -> tuple[int, Mesh]:
    """A half that ends on x = 0 with an open border there: the other half is its mirror image."""
    x = mesh.points[:, 0].astype(np.float64)
    size = float(np.ptp(mesh.points, axis=0).max())
    edges, use = edge_use(mesh.triangles)
    rim = np.unique(edges[use == 1])
    on = np.abs(x) < 1e-4 * size
    if min(x.max(), -x.min()) > 1e-4 * size or on[rim].sum() < 4 or np.abs(x).max() < 0.02 * size:
        return 0, mesh
    n = len(mesh.points)
    middle = np.zeros(n, bool)
    middle[rim] = on[rim]
    other = np.where(middle, np.arange(n), n + np.cumsum(~middle) - 1)
    points = mesh.points.copy()
    points[middle, 0] = 0.0
    both = np.concatenate([points, points[~middle] * np.array([-1, 1, 1], np.float32)])
    uv, fold, received = mesh.corner_uv, mesh.corner_fold, mesh.received
    return 1, replace(
        mesh, points=both, triangles=np.concatenate([mesh.triangles, other[mesh.triangles][:, _TURNED]]).astype(np.int32),
        triangle_material=np.tile(mesh.triangle_material, 2), corner_uv=None if uv is None else np.concatenate([uv, uv[:, _TURNED]]),
        corner_fold=None if fold is None else np.concatenate([fold, fold[:, _TURNED]]),
        received=None if received is None else np.concatenate([received, received[~middle]]),
        polygon=np.concatenate([mesh.polygon, mesh.polygon + int(mesh.polygon.max()) + 1]),
    )


def _uv_area(mesh: Mesh) -> np.ndarray:
    assert mesh.corner_uv is not None
    a, b, c = (mesh.corner_uv[:, k].astype(np.float64) for k in range(3))
    return 0.5 * np.abs((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0])


_LOOKS = (
    _Look("split", _split, "{} point is a copy of another, so the surface is torn there",
          "{} points are copies of others, so the surface is torn there", "join them"),
    _Look("degenerate", _degenerate, "{} face has no area", "{} faces have no area", "drop them"),
    _Look("duplicate", _duplicates, "{} face lies on another", "{} faces lie on others", "drop the copies"),
    _Look("speck", _specks, "{} speck of a few faces lies loose", "{} specks of a few faces lie loose", "drop them"),
    _Look("unused", _unused, "{} point belongs to no face", "{} points belong to no face", "drop them"),
    _Look("winding", _winding, "{} face looks the other way from its neighbours", "{} faces look the other way from their neighbours",
          "turn them over"),
    _Look("inside_out", _inside_out, "{} part is inside out", "{} parts are inside out", "turn it right side out"),
    _Look("half", _half, "only one half is there: it ends on the middle plane", "only halves are there", "mirror it"),
    _Look("hole", _holes, "{} small hole", "{} small holes", "close them"),
)
KINDS = tuple(look.kind for look in _LOOKS)
"""The findings that have a mend."""
