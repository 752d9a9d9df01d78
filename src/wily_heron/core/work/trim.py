"""Trimming: by a plane, along a line drawn on the cloth, or by what is selected; with a hem turned under."""

from dataclasses import replace

import numpy as np
from scipy import sparse
from scipy.spatial import KDTree

from ..errors import InputError
from ..mesh.edges import adjacency
from ..mesh.islands import islands
from ..mesh.loops import border_loops
from ..mesh.mesh import Mesh
from ..mesh.normals import vertex_normals
from ..mesh.ops.subset import with_triangles, without_unused
from ..model.steps.trim import Curve, Plane, Selection, Trim
from ..model.steps.work import WorkReport
from ..space.surface import Surface
from .split import split


def trim(mesh: Mesh, step: Trim) -> tuple[Mesh, WorkReport]:
    """Return the mesh with a part cut off, or slit open, and what was done.

    Raises `InputError` where the cut misses the piece, or does not cut off the part it is to.

    Args:
        mesh: The mesh, in metres.
        step: What is asked for, as a step of the bench.
    """
    cut = step.cut
    if isinstance(cut, Plane):
        field, where = _plane(mesh, cut, step.off)
    elif isinstance(cut, Curve):
        field, where = _curve(mesh, cut)
    else:
        field, where = _selection(mesh, cut), None
    parted, above, on = split(mesh, field, where)
    if not len(on):
        raise InputError(what="the cut does not meet the piece", where="the trim", todo="Draw it over the cloth, or move the plane to it.")
    before = len(border_loops(mesh.triangles))
    if isinstance(cut, Selection):
        kept = with_triangles(parted, ~above)
    elif step.off is None:
        more = len(border_loops(parted.triangles)) - before
        return parted, WorkReport(kind=step.kind, removed=0, slit=True, borders=more, vertices=len(parted.points),
                                  triangles=len(parted.triangles))
    else:
        _, label = islands(parted.triangles, len(parted.points))
        used = np.unique(parted.triangles)
        seed = used[np.argmin(np.sum((parted.points[used] - np.array(step.off)) ** 2, axis=1))]
        gone = label == label[seed]
        _, old = islands(mesh.triangles, len(mesh.points))
        if gone[: len(mesh.points)][old == old[np.argmin(np.sum((mesh.points - np.array(step.off)) ** 2, axis=1))]].all():
            raise InputError(
                what="the cut does not part the piece there",
                where="the trim",
                todo="Draw the line from border to border or close it, or leave out what is to come off to make a slit.",
            )
        if gone[used].mean() > 0.97:
            raise InputError(what="that would take all of the piece off", where="the trim", todo="Choose the other side of the cut.")
        gone |= _carried_along(parted, label, gone)
        kept = with_triangles(parted, ~gone[parted.triangles[:, 0]])
    if not len(kept.triangles):
        raise InputError(what="nothing of the piece would be left", where="the trim", todo="Choose the other side.")
    edge = np.zeros(len(parted.points), bool)
    edge[on] = True
    used = np.zeros(len(parted.points), bool)
    used[kept.triangles.ravel()] = True
    out, fresh = without_unused(kept), edge[used]
    removed = len(mesh.triangles) - len(out.triangles)
    out = hemmed(out, fresh, step.hem, step.thick) if step.hem > 0 else out
    return out, WorkReport(kind=step.kind, removed=removed, cut=int(fresh.sum()), vertices=len(out.points), triangles=len(out.triangles))


def _plane(mesh: Mesh, cut: Plane, off: tuple | None) -> tuple[np.ndarray, np.ndarray | None]:
    """The distance to the plane; where a part is to come off, only the cut that bounds it: one sleeve, not both and the body."""
    normal = np.array(cut.normal)
    length = np.linalg.norm(normal)
    if length < 1e-9:
        raise InputError(what="the plane has no direction", where="the trim", todo="Give a normal that is not 0.")
    field = (mesh.points.astype(np.float64) - cut.point) @ (normal / length)
    if off is None:
        return field, None
    side = field > 0
    if not side.any() or side.all():
        return field, None
    inner = mesh.triangles[side[mesh.triangles].all(axis=1)]
    _, label = islands(inner, len(mesh.points))
    rows = np.flatnonzero(side)
    seed = rows[np.argmin(np.sum((mesh.points[rows] - np.array(off)) ** 2, axis=1))]
    mine = label == label[seed]
    return field, mine[mesh.triangles].any(axis=1)


def _curve(mesh: Mesh, cut: Curve) -> tuple[np.ndarray, np.ndarray]:
    """The distance to the line, negative on its left as seen from outside, and the triangles near it."""
    line = np.array(cut.points, np.float64)
    if cut.closed:
        line = np.vstack([line, line[:1]])
    a, b = line[:-1], line[1:]
    step = b - a
    length = np.linalg.norm(step, axis=1)
    a, b, step, length = a[length > 1e-7], b[length > 1e-7], step[length > 1e-7], length[length > 1e-7]
    if not len(a):
        raise InputError(what="the line has no length", where="the trim", todo="Draw it again.")
    p = mesh.points.astype(np.float64)
    edge = np.linalg.norm(p[mesh.triangles[:, 0]] - p[mesh.triangles[:, 1]], axis=1)
    best, field = np.full(len(p), np.inf), np.zeros(len(p))
    normal = vertex_normals(p, mesh.triangles)
    within = np.zeros(len(p), bool)
    for k in range(len(a)):
        t = np.clip((p - a[k]) @ step[k] / length[k] ** 2, 0.0, 1.0)
        gap = p - a[k] - t[:, None] * step[k]
        far = np.linalg.norm(gap, axis=1)
        closer = far < best
        side = np.sum(np.cross(normal, step[k]) * gap, axis=1)
        best[closer] = far[closer]
        field[closer] = (np.sign(side) * far)[closer]
        within[closer] = (t > 1e-9)[closer] & (t < 1 - 1e-9)[closer] | (0 < k < len(a) - 1) | cut.closed
    reach = 2.0 * float(np.quantile(edge, 0.95))
    near = (best < reach)[mesh.triangles].all(axis=1) & within[mesh.triangles].any(axis=1)
    return field, np.asarray(near)


def _selection(mesh: Mesh, cut: Selection) -> np.ndarray:
    """Above 0 in what is selected, its border evened out."""
    rows = np.flatnonzero(np.isin(mesh.received, cut.rows)) if mesh.received is not None else np.array(cut.rows)
    rows = rows[rows < len(mesh.points)]
    if not len(rows):
        raise InputError(what="what was selected is no longer there", where="the trim", todo="Select it again.")
    chosen = np.zeros(len(mesh.points))
    chosen[rows] = 1.0
    if cut.radius > 0:
        chosen[Surface.of(mesh.points, mesh.triangles).within(rows, cut.radius)[0]] = 1.0
    near = adjacency(mesh.triangles, len(mesh.points))
    mean = sparse.diags(1.0 / np.maximum(np.asarray(near.sum(axis=1)).ravel(), 1.0)) @ near
    for _ in range(6):
        chosen = 0.5 * chosen + 0.5 * (mean @ chosen)
    return chosen - 0.5


def _carried_along(mesh: Mesh, label: np.ndarray, gone: np.ndarray) -> np.ndarray:
    """Loose parts (buttons, straps) that lie on what comes off come off as well."""
    out = np.zeros(len(gone), bool)
    used = np.zeros(len(gone), bool)
    used[mesh.triangles.ravel()] = True
    main = np.bincount(label[used]).argmax()
    rest = np.flatnonzero(used & ~gone & (label != main))
    if not len(rest):
        return out
    cloth = np.flatnonzero(used & ((label == main) | gone))
    _, near = KDTree(mesh.points[cloth]).query(mesh.points[rest])
    lost = gone[cloth[near]]
    for island in np.unique(label[rest]):
        mine = rest[label[rest] == island]
        if lost[label[rest] == island].mean() > 0.5:
            out[mine] = True
    return out


def hemmed(mesh: Mesh, on: np.ndarray, width: float, thick: float) -> Mesh:
    """Return the mesh with the borders through vertices `on` (n,) turned under by `width`, `thick` off the cloth (metres)."""
    p = mesh.points.astype(np.float64)
    normal = vertex_normals(p, mesh.triangles)
    points, triangles, uv, material, polygon, fold = [p], [mesh.triangles], [], [], [], []
    received = [mesh.received] if mesh.received is not None else None
    uv_of = _uv_of_vertices(mesh)
    count, top = len(p), int(mesh.polygon.max(initial=0)) + 1
    for loop in border_loops(mesh.triangles):
        if on[loop].mean() < 0.6:
            continue
        k = len(loop)
        along = p[np.roll(loop, -1)] - p[np.roll(loop, 1)]
        inward = np.cross(normal[loop], along)
        inward /= np.maximum(np.linalg.norm(inward, axis=1, keepdims=True), 1e-12)
        middle = _ring_inside(mesh, p, loop)
        inward *= np.where(np.sum(inward * (middle - p[loop]), axis=1) < 0, -1.0, 1.0)[:, None]
        under = p[loop] - thick * normal[loop]
        turned = under + width * inward
        points += [under, turned]
        i, j = np.arange(k), (np.arange(k) + 1) % k
        for a, b in ((loop, count + i), (count + i, count + k + i)):
            quad = np.stack([a[i], a[j], b[j], b[i]], axis=1)
            strip = np.concatenate([quad[:, [0, 1, 2]], quad[:, [0, 2, 3]]])
            triangles.append(strip)
            places = uv_of[np.concatenate([loop[i], loop[j]])].reshape(2, k, 2)
            corner = np.concatenate([np.stack([places[0], places[1], places[1]], 1), np.stack([places[0], places[1], places[0]], 1)])
            uv.append(corner)
            material.append(np.full(2 * k, mesh.triangle_material[0] if len(mesh.triangle_material) else 0))
            polygon.append(top + np.tile(i, 2))
            fold.append(np.zeros((2 * k, 3), np.uint8))
            top += k
        if received is not None:
            received += [mesh.received[loop], mesh.received[loop]]  # type: ignore[index]
        count += 2 * k
    if len(points) == 1:
        return mesh
    return replace(
        mesh,
        points=np.vstack(points).astype(np.float32),
        triangles=np.vstack(triangles).astype(np.int32),
        corner_uv=None if mesh.corner_uv is None else np.concatenate([mesh.corner_uv, *uv]).astype(np.float32),
        triangle_material=np.concatenate([mesh.triangle_material, *material]).astype(np.int32),
        polygon=np.concatenate([mesh.polygon, *polygon]).astype(np.int32),
        corner_fold=None if mesh.corner_fold is None else np.concatenate([mesh.corner_fold, *fold]),
        received=None if received is None else np.concatenate(received).astype(np.int32),
    )


def _ring_inside(mesh: Mesh, p: np.ndarray, loop: np.ndarray) -> np.ndarray:
    near = adjacency(mesh.triangles, len(p))[loop]
    return (near @ p) / np.maximum(np.asarray(near.sum(axis=1)), 1.0)


def _uv_of_vertices(mesh: Mesh) -> np.ndarray:
    out = np.zeros((len(mesh.points), 2), np.float32)
    if mesh.corner_uv is not None:
        out[mesh.triangles.ravel()] = mesh.corner_uv.reshape(-1, 2)
    return out
