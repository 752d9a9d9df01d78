"""Wavefront OBJ: bytes to a model, and back. Materials are in `mtl`."""

import warnings
from dataclasses import dataclass, field

import numpy as np

from ...core.errors import InputError
from ...core.mesh.mesh import Material, Mesh
from ...core.mesh.ops.folds import corner_folds, corner_normals
from ...core.mesh.ops.weld import fans
from ...core.mesh.polygons import polygon_corners
from ...core.model.model import Model
from ..beside import Beside
from .mtl import read_mtl

MAX_BYTES = 512 * 2**20
_TODO = "Export it again from the program it came from, as OBJ with faces."


@dataclass
class _Text:
    """The lines of an OBJ by what they hold; a face knows its line and how many of each list stood before it."""

    points: list[bytes] = field(default_factory=list)
    uvs: list[bytes] = field(default_factory=list)
    normals: list[bytes] = field(default_factory=list)
    polygons: list[tuple[int, bytes, int, int, int]] = field(default_factory=list)
    material: list[int] = field(default_factory=list)
    object: list[int] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    objects: list[str] = field(default_factory=list)


def read_obj(data: bytes, name: str, beside: Beside | None = None) -> Model:
    """Return the model in an OBJ file; polygons become triangle fans that remember their polygon.

    Reads v, vt, vn, f (with negative indices), o, g, usemtl, and the materials and textures of the .mtl in `beside`. Raises
    `InputError` for an empty or textual file, numbers that are not finite, and faces that point outside the lists.
    """
    if not data.strip():
        raise InputError(what="the file is empty", where=name, todo=_TODO)
    if len(data) > MAX_BYTES:
        raise InputError(what=f"the file is {len(data) / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB", where=name,
                         todo="Split the piece or reduce it before bringing it in.")
    text = _parse(data)
    points = _numbers(text.points, 3, name, "v")
    uvs, normals = _numbers(text.uvs, 2, name, "vt"), _numbers(text.normals, 3, name, "vn")
    if not len(points) or not text.polygons:
        raise InputError(what="it holds no vertices and faces; it does not look like an OBJ file", where=name, todo=_TODO)
    known, textures = read_mtl(name, beside or {})
    mesh, source = _assemble(points, uvs, normals, text, name, known)
    used = {m for material in mesh.materials for m in material.maps()}
    objects = tuple(text.objects) or ("piece",)
    return Model(mesh, textures=tuple(t for t in textures if t.name in used), objects=objects,
                 triangle_object=np.array(text.object, np.int32)[source])


def _parse(data: bytes) -> _Text:
    text = _Text()
    current = part = 0
    for number, line in enumerate(data.split(b"\n"), 1):
        word, _, rest = line.strip().partition(b" ")
        if word == b"v":
            text.points.append(rest)
        elif word == b"vt":
            text.uvs.append(rest)
        elif word == b"vn":
            text.normals.append(rest)
        elif word == b"f":
            text.polygons.append((number, rest, len(text.points), len(text.uvs), len(text.normals)))
            text.material.append(current)
            text.object.append(part)
        elif word == b"usemtl":
            current = _place(text.names, rest, "material")
        elif word in (b"o", b"g"):
            part = _place(text.objects, rest, "part")
    return text


def _place(names: list[str], label: bytes, otherwise: str) -> int:
    text = label.decode("utf-8", "replace").strip()[:80] or otherwise
    if text not in names:
        names.append(text)
    return names.index(text)


def _numbers(rows: list[bytes], width: int, name: str, word: str) -> np.ndarray:
    out = _plain(b" ".join(rows), np.float64) if rows and len(rows[0].split()) == width else np.zeros(0)
    if len(out) == len(rows) * width:  # the usual file: as many numbers on every line
        out = out.reshape(-1, width)
        return _in_measure(out, name, word)
    out = np.empty((len(rows), width))
    for i, row in enumerate(rows):
        try:
            values = [float(x) for x in row.split()[:width]]
            out[i] = values if len(values) == width else [*values, 0.0]
        except ValueError:
            raise InputError(what=f"line '{word} {row.decode('utf-8', 'replace')[:40]}' does not hold {width} numbers",
                             where=f"{name}, {word} {i + 1}", todo=_TODO) from None
    return _in_measure(out, name, word)


def _plain(text: bytes, kind: type) -> np.ndarray:
    """Return the numbers in `text`, none if something in it is no number: that is met again, and named, one by one."""
    with warnings.catch_warnings():
        warnings.simplefilter("error", DeprecationWarning)
        try:
            return np.fromstring(text, kind, sep=" ")
        except (ValueError, DeprecationWarning):
            return np.zeros(0, kind)


def _in_measure(out: np.ndarray, name: str, word: str) -> np.ndarray:
    bad = np.flatnonzero(~np.isfinite(out).all(axis=1))
    if len(bad):
        kind = {"v": "vertex", "vt": "texture coordinate"}.get(word, "normal")
        raise InputError(what=f"{kind} {bad[0] + 1} is not a finite number ({len(bad)} such)", where=name,
                         todo="Find and delete the broken points in the program it came from, then export again.")
    if len(out) and np.abs(out).max() > 1e9:
        raise InputError(what="coordinates beyond 1e9 units", where=name, todo="Check the export scale and export again.")
    return out


def _assemble(points, uvs, normals, text: _Text, name: str, known: dict[str, Material]) -> tuple[Mesh, np.ndarray]:
    quick = _whole(text.polygons, len(points), len(uvs), len(normals))
    at, source, corner_uv, corner_normal = quick if quick else _one_by_one(points, uvs, normals, text.polygons, name)
    uv = None
    if len(uvs):
        uv = np.where((corner_uv >= 0)[..., None], uvs[np.maximum(corner_uv, 0)], 0.0).astype(np.float32)
    fold = corner_folds(at, normals[corner_normal]) if len(normals) and (corner_normal >= 0).all() else None
    labels = text.names or ["cloth"]
    mesh = Mesh(points.astype(np.float32), at.astype(np.int32), uv, np.array(text.material, np.int32)[source],
                source.astype(np.int32), tuple(known.get(n, Material(n)) for n in labels), fold)
    return mesh, source


def _whole(polygons, point_count: int, uv_count: int, normal_count: int):
    """Return triangles, their polygon, texture and normal corners in one go, or None where a file needs a closer look."""
    text = b" ".join(p[1] for p in polygons)
    if b"-" in text:
        return None
    sizes = np.array([len(p[1].split()) for p in polygons])
    numbers = _plain(text.replace(b"//", b" 0 ").replace(b"/", b" "), np.int64)
    width = len(numbers) // max(int(sizes.sum()), 1)
    if sizes.min() < 3 or width not in (1, 2, 3) or len(numbers) != width * sizes.sum():
        return None
    corner = numbers.reshape(-1, width)
    none = np.full(len(corner), -1)
    v, t = corner[:, 0] - 1, corner[:, 1] - 1 if width > 1 and uv_count else none
    n = corner[:, 2] - 1 if width > 2 and normal_count else none
    if v.min() < 0 or v.max() >= point_count or t.max() >= uv_count or n.max() >= normal_count:
        return None
    order, polygon = fans(np.arange(len(v)), sizes)
    return v[order], polygon, t[order], n[order]


def _one_by_one(points, uvs, normals, polygons, name):
    """Return the same face by face, and say which is wrong."""
    triangles, corner_uv, corner_normal, source = [], [], [], []
    for index, (line, text, *seen) in enumerate(polygons):
        corners = text.split()
        if len(corners) < 3:
            raise InputError(what=f"a face with {len(corners)} corners", where=f"{name}, line {line}", todo=_TODO)
        rows = [_corner(c, seen, (len(points), len(uvs), len(normals)), f"{name}, line {line}") for c in corners]
        for k in range(1, len(rows) - 1):
            for out, column in ((triangles, 0), (corner_uv, 1), (corner_normal, 2)):
                out.append((rows[0][column], rows[k][column], rows[k + 1][column]))
            source.append(index)
    return np.array(triangles), np.array(source), np.array(corner_uv), np.array(corner_normal)


def _corner(corner: bytes, seen: list[int], counts: tuple[int, int, int], where: str) -> list[int]:
    """Return a corner's vertex, texture coordinate and normal, from 0; -1 where it has none."""
    parts = corner.split(b"/")
    try:
        given = [int(parts[k]) if k < len(parts) and parts[k] else 0 for k in range(3)]
    except ValueError:
        raise InputError(what=f"'{corner.decode('utf-8', 'replace')[:20]}' is not a face corner", where=where, todo=_TODO) from None
    out = [g - 1 if g > 0 else before + g if g < 0 else -1 for g, before in zip(given, seen, strict=True)]
    for index, count, kind in zip(out, counts, ("vertex", "texture coordinate", "normal"), strict=True):
        if index >= count > 0 or index < -1 or (kind == "vertex" and not 0 <= index < count):
            raise InputError(what=f"a face points to {kind} {index + 1} of {count}", where=where,
                             todo="The file is cut off or damaged: export it again.")
    return [v if v < count else -1 for v, count in zip(out, counts, strict=True)]


def write_obj(mesh: Mesh, mtl: str | None = None) -> bytes:
    """Return the mesh as OBJ text in metres, Y up: its polygons, texture coordinates, and normals where it has folds.

    `mtl` names the material file that goes with it.
    """
    lines = [f"mtllib {mtl}"] if mtl else []
    lines += [f"v {x:.7g} {y:.7g} {z:.7g}" for x, y, z in mesh.points.tolist()]
    corners, sizes = polygon_corners(mesh)
    columns = [mesh.triangles.ravel()[corners] + 1]
    if mesh.corner_uv is not None:
        places, at = np.unique(mesh.corner_uv.reshape(-1, 2), axis=0, return_inverse=True)
        lines += [f"vt {u:.7g} {v:.7g}" for u, v in places.tolist()]
        columns.append(at.ravel()[corners] + 1)
    if mesh.corner_fold is not None:
        normals, at = corner_normals(mesh)
        lines += [f"vn {x:.5f} {y:.5f} {z:.5f}" for x, y, z in normals.tolist()]
        columns.append(at.ravel()[corners] + 1)
    join = "//" if mesh.corner_uv is None and mesh.corner_fold is not None else "/"
    words = [join.join(map(str, row)) for row in np.stack(columns, axis=1).tolist()]
    start = np.cumsum(sizes) - sizes
    material = mesh.triangle_material[corners[start] // 3]
    for m in np.unique(material).tolist():
        lines.append(f"usemtl {mesh.materials[m].name}")
        lines += ["f " + " ".join(words[start[p]:start[p] + sizes[p]]) for p in np.flatnonzero(material == m).tolist()]
    return ("\n".join(lines) + "\n").encode()
