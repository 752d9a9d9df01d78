"""Growing a piece from the skin: regions of the body become a suit, a glove, a sock or a boot with its sole."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse

from ..errors import InputError
from ..figure.base.body import Wearer
from ..figure.figure import figure
from ..figure.regions import face_regions
from ..mesh.edges import adjacency
from ..mesh.loops import border_loops
from ..mesh.mesh import Material, Mesh
from ..mesh.normals import vertex_normals
from ..mesh.triangles import triangulate_quads
from .trim import hemmed

READY: dict[str, tuple[str, ...]] = {
    "bodysuit": (
        "neck",
        "chest",
        "belly",
        "lap",
        "upper_back",
        "lower_back",
        "seat",
        "shoulder",
        "upper_arm",
        "elbow",
        "forearm",
        "wrist",
        "thigh",
        "knee",
        "lower_leg",
    ),
    "shirt": ("chest", "belly", "upper_back", "lower_back", "shoulder", "upper_arm", "elbow", "forearm"),
    "trousers": ("lap", "seat", "thigh", "knee", "lower_leg"),
    "gloves": ("wrist", "palm", "back_of_hand", "thumb", "index_finger", "middle_finger", "ring_finger", "little_finger"),
    "socks": ("ankle", "foot", "sole", "toes", "lower_leg"),
    "boots": ("ankle", "foot", "sole", "toes", "lower_leg"),
    "hood": ("scalp", "ear", "neck"),
}
"""Ready choices of regions by what they make."""


@dataclass(frozen=True)
class Growth:
    """What to grow: `regions` by name (sides left out mean both), `ease` and `hem` in metres, a `sole` so thick, 0 for none.

    `even` 0 to 1 bridges toes, ears and hollows as a bag would.
    """

    regions: tuple[str, ...]
    ease: float = 0.004
    hem: float = 0.015
    sole: float = 0.0
    even: float = 0.3


def region_names() -> tuple[str, ...]:
    """Return the regions that can be grown from."""
    return face_regions(1)[0]


def grow(wearer: Wearer, growth: Growth, carrier: np.ndarray | None = None) -> Mesh:
    """Return a piece of quads grown from the wearer's skin, outside facing out, with texture places cut at the body's seams.

    `carrier` (b, 3) are the level-1 figure's vertices on a body of one's own; our own figure is grown from at level 2. Raises
    `InputError` for unknown regions or none.

    Args:
        wearer: The body in its shape, at rest.
        growth: Regions, ease and hems, in metres.
        carrier: (b, 3) metres, the level-1 figure's vertices on the body.
    """
    level = 1 if carrier is not None else 2
    body, (names, of) = figure(level), face_regions(level)
    wanted = [i for i, n in enumerate(names) if n in growth.regions or (n[:2] in ("l_", "r_") and n[2:] in growth.regions)]
    unknown = [r for r in growth.regions if r not in names and f"l_{r}" not in names]
    if unknown or not wanted:
        raise InputError(
            what=f"the body has no region '{unknown[0]}'" if unknown else "no region is chosen",
            where="growing a piece",
            todo=f"Choose among {', '.join(sorted({n.removeprefix('l_').removeprefix('r_') for n in names}))}.",
        )
    skin = (wearer.points[: len(body.base)] if carrier is None else carrier).astype(np.float64)
    quads = np.concatenate([body.triangles[0::2], body.triangles[1::2, 2:]], axis=1)
    mine = np.flatnonzero(np.isin(of[0::2], wanted))
    used, local = np.unique(quads[mine], return_inverse=True)
    local = local.reshape(-1, 4)
    points = _lifted(skin, vertex_normals(skin, body.triangles), used, local, growth)
    triangles = triangulate_quads(local)
    uv = None if body.corner_uv is None else body.corner_uv[np.stack([2 * mine, 2 * mine + 1], axis=1).ravel()]
    polygon = np.repeat(np.arange(len(mine)), 2).astype(np.int32)
    mesh = Mesh(
        points.astype(np.float32), triangles.astype(np.int32), uv, polygon=polygon, materials=(Material("cloth", (0.42, 0.36, 0.29)),)
    )
    soles = np.isin(np.array(names)[of[0::2][mine]], ("l_sole", "r_sole"))
    if growth.hem > 0:
        mesh = hemmed(mesh, np.ones(len(mesh.points), bool), growth.hem, 0.0012)
    return _soled(mesh, local[soles], points, growth.sole) if growth.sole > 0 and soles.any() else mesh


def _lifted(skin: np.ndarray, normals: np.ndarray, used: np.ndarray, quads: np.ndarray, growth: Growth) -> np.ndarray:
    """The skin at its ease, evened out, its borders as clean lines, and never nearer to the skin than its ease."""
    near = adjacency(quads, len(used))
    mean = sparse.diags(1.0 / np.asarray(near.sum(axis=1)).ravel()) @ near
    rim = _rim(quads, len(used))
    inner = np.asarray(rim.sum(axis=1)).ravel() == 0
    foot, up = skin[used], normals[used]
    p = foot + growth.ease * up
    for _ in range(round(4 + 60 * growth.even)):
        p = np.where(inner[:, None], 0.5 * p + 0.5 * (mean @ p), 0.5 * p + 0.5 * (rim @ p))
        p = p + np.maximum(growth.ease - np.sum((p - foot) * up, axis=1), 0.0)[:, None] * up
    return p


def _rim(quads: np.ndarray, count: int) -> sparse.csr_matrix:
    """The mean of each border vertex's two neighbours along the border."""
    triangles = triangulate_quads(quads)
    rows, cols = [], []
    for loop in border_loops(triangles):
        rows += [loop, loop]
        cols += [np.roll(loop, 1), np.roll(loop, -1)]
    if not rows:
        return sparse.csr_matrix((count, count))
    r, c = np.concatenate(rows), np.concatenate(cols)
    m = sparse.csr_matrix((np.ones(len(r)), (r, c)), shape=(count, count))
    return sparse.diags(1.0 / np.maximum(np.asarray(m.sum(axis=1)).ravel(), 1.0)) @ m


def _soled(mesh: Mesh, quads: np.ndarray, points: np.ndarray, thick: float) -> Mesh:
    """The mesh with a flat sole under the given quads, a part and a material of its own: its top follows the boot, its tread is level."""
    used, local = np.unique(quads, return_inverse=True)
    local = local.reshape(-1, 4)
    top = points[used] + [0.0, 0.001, 0.0]
    tread = top.copy()
    for side in (1.0, -1.0):
        mine = np.sign(top[:, 0]) == side
        if mine.any():
            tread[mine, 1] = top[mine, 1].min() - thick
    middle = tread[:, [0, 2]].copy()
    for side in (1.0, -1.0):
        mine = np.sign(top[:, 0]) == side
        if mine.any():
            tread[np.ix_(mine, [0, 2])] += 0.04 * (middle[mine] - middle[mine].mean(axis=0))  # the welt stands out a little
    up, down, n = triangulate_quads(local), triangulate_quads(local[:, ::-1]), len(used)
    walls = []
    for loop in border_loops(up):
        i, j = loop, np.roll(loop, -1)
        walls += [np.stack([i, i + n, j], axis=1), np.stack([j, i + n, j + n], axis=1)]
    faces = np.concatenate([down, up + n, *walls])  # the sole's own outside: its top looks into the boot's bottom
    faces = faces[:, ::-1] if _volume(np.vstack([top, tread]), faces) < 0 else faces
    base, count = len(mesh.points), len(faces)
    flat = np.tile(np.vstack([top, tread])[:, [0, 2]], 1)
    uv = ((flat - flat.min(axis=0)) / np.ptp(flat, axis=0).max()).astype(np.float32)
    return Mesh(
        np.vstack([mesh.points, top, tread]).astype(np.float32),
        np.vstack([mesh.triangles, faces + base]).astype(np.int32),
        None if mesh.corner_uv is None else np.concatenate([mesh.corner_uv, uv[faces]]),
        np.concatenate([mesh.triangle_material, np.ones(count, np.int32)]),
        np.concatenate([mesh.polygon, mesh.polygon.max() + 1 + np.arange(count)]).astype(np.int32),
        (*mesh.materials, Material("sole", (0.13, 0.11, 0.10))),
    )


def _volume(points: np.ndarray, faces: np.ndarray) -> float:
    a, b, c = points[faces].transpose(1, 0, 2)
    return float(np.einsum("na,na->", a, np.cross(b, c))) / 6
