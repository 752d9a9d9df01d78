"""Wavefront OBJ + MTL: bytes to a mesh, and back."""

import warnings

import numpy as np

from ..core.errors import InputError
from ..core.mesh.mesh import Material, Mesh
from ..core.mesh.weld import fans

MAX_BYTES = 512 * 2**20
_TODO = "Export it again from the program it came from, as OBJ with faces."


def read_obj(data: bytes, name: str, mtl: bytes | None = None) -> Mesh:
    """Return the mesh in an OBJ file; polygons become triangle fans that remember their polygon.

    Reads v, vt, f (with negative indices), usemtl, and Kd / Pr / Pm of the MTL. Raises `InputError` for an empty or textual
    file, numbers that are not finite, and faces that point outside the vertex list.
    """
    if not data.strip():
        raise InputError(what="the file is empty", where=name, todo=_TODO)
    if len(data) > MAX_BYTES:
        raise InputError(what=f"the file is {len(data) / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB", where=name,
                         todo="Split the piece or reduce it before bringing it in.")
    points, uvs, names, polygons, polygon_material = _parse(data, name)
    if not len(points) or not polygons:
        raise InputError(what="it holds no vertices and faces; it does not look like an OBJ file", where=name, todo=_TODO)
    return _assemble(points, uvs, names, polygons, polygon_material, name, _materials(mtl))


def _parse(data: bytes, name: str):
    points: list[bytes] = []
    uvs: list[bytes] = []
    names: list[str] = []
    polygons: list[tuple[int, bytes, int, int]] = []
    materials: list[int] = []
    current = 0
    for number, line in enumerate(data.split(b"\n"), 1):
        word, _, rest = line.strip().partition(b" ")
        if word == b"v":
            points.append(rest)
        elif word == b"vt":
            uvs.append(rest)
        elif word == b"f":
            polygons.append((number, rest, len(points), len(uvs)))
            materials.append(current)
        elif word == b"usemtl":
            label = rest.decode("utf-8", "replace").strip() or "material"
            if label not in names:
                names.append(label)
            current = names.index(label)
    return _numbers(points, 3, name, "v"), _numbers(uvs, 2, name, "vt"), names, polygons, materials


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
        kind = "vertex" if word == "v" else "texture coordinate"
        raise InputError(what=f"{kind} {bad[0] + 1} is not a finite number ({len(bad)} such)", where=name,
                         todo="Find and delete the broken points in the program it came from, then export again.")
    if len(out) and np.abs(out).max() > 1e9:
        raise InputError(what="coordinates beyond 1e9 units", where=name, todo="Check the export scale and export again.")
    return out


def _assemble(points, uvs, names, polygons, polygon_material, name, known) -> Mesh:
    quick = _whole(polygons, len(points), len(uvs))
    at, source, corner_uv = quick if quick else _one_by_one(points, uvs, polygons, name)
    uv = None
    if len(uvs):
        uv = np.where((corner_uv >= 0)[..., None], uvs[np.maximum(corner_uv, 0)], 0.0).astype(np.float32)
    labels = names or ["cloth"]
    return Mesh(points.astype(np.float32), at.astype(np.int32), uv, np.array(polygon_material, np.int32)[source],
                source.astype(np.int32), tuple(known.get(n, Material(n)) for n in labels))


def _whole(polygons, point_count: int, uv_count: int):
    """Return triangles, their polygon and texture corners in one go, or None where a file needs a closer look."""
    text = b" ".join(p[1] for p in polygons)
    if b"-" in text:
        return None
    sizes = np.array([len(p[1].split()) for p in polygons])
    numbers = _plain(text.replace(b"//", b" 0 ").replace(b"/", b" "), np.int64)
    width = len(numbers) // max(int(sizes.sum()), 1)
    if sizes.min() < 3 or width not in (1, 2, 3) or len(numbers) != width * sizes.sum():
        return None
    corner = numbers.reshape(-1, width)
    v, t = corner[:, 0] - 1, corner[:, 1] - 1 if width > 1 and uv_count else np.full(len(corner), -1)
    if v.min() < 0 or v.max() >= point_count or t.max() >= uv_count:
        return None
    order, polygon = fans(np.arange(len(v)), sizes)
    return v[order], polygon, t[order]


def _one_by_one(points, uvs, polygons, name):
    """Return the same face by face, and say which is wrong."""
    triangles, corner_uv, source = [], [], []
    with_uv = len(uvs) > 0
    for index, (line, text, seen_v, seen_t) in enumerate(polygons):
        corners = text.split()
        if len(corners) < 3:
            raise InputError(what=f"a face with {len(corners)} corners", where=f"{name}, line {line}", todo=_TODO)
        vs, ts = [], []
        for corner in corners:
            parts = corner.split(b"/")
            try:
                v = int(parts[0])
                t = int(parts[1]) if with_uv and len(parts) > 1 and parts[1] else 0
            except ValueError:
                raise InputError(what=f"'{corner.decode('utf-8', 'replace')[:20]}' is not a face corner",
                                 where=f"{name}, line {line}", todo=_TODO) from None
            v = v - 1 if v > 0 else seen_v + v
            t = t - 1 if t > 0 else (seen_t + t if t < 0 else -1)
            if not 0 <= v < len(points) or t >= len(uvs) or (t < 0 and parts[1:2] and parts[1].startswith(b"-") and t < -1):
                raise InputError(what=f"a face points to vertex {v + 1} of {len(points)}", where=f"{name}, line {line}",
                                 todo="The file is cut off or damaged: export it again.")
            vs.append(v)
            ts.append(t)
        for k in range(1, len(vs) - 1):
            triangles.append((vs[0], vs[k], vs[k + 1]))
            corner_uv.append((ts[0], ts[k], ts[k + 1]))
            source.append(index)
    return np.array(triangles), np.array(source), np.array(corner_uv)


def _materials(mtl: bytes | None) -> dict[str, Material]:
    out: dict[str, Material] = {}
    label = ""
    for line in (mtl or b"").decode("utf-8", "replace").splitlines():
        word, _, rest = line.strip().partition(" ")
        try:
            if word == "newmtl":
                label = rest.strip()
                out[label] = Material(label)
            elif label and word in ("Kd", "Pr", "Pm"):
                values = [min(max(float(x), 0.0), 1.0) for x in rest.split()]
                old = out[label]
                if word == "Kd":
                    out[label] = Material(label, (values[0], values[1], values[2]), old.roughness, old.metal)
                elif word == "Pr":
                    out[label] = Material(label, old.colour, values[0], old.metal)
                else:
                    out[label] = Material(label, old.colour, old.roughness, values[0])
        except (ValueError, IndexError):
            continue  # a damaged material line costs its colour, not the piece
    return out


def write_obj(mesh: Mesh) -> bytes:
    """Return the mesh as OBJ text in metres, Y up, triangles, texture coordinates where known."""
    lines = [f"v {x:.7g} {y:.7g} {z:.7g}" for x, y, z in mesh.points.tolist()]
    if mesh.corner_uv is not None:
        lines += [f"vt {u:.6g} {v:.6g}" for u, v in mesh.corner_uv.reshape(-1, 2).tolist()]
    for m, material in enumerate(mesh.materials):
        rows = np.flatnonzero(mesh.triangle_material == m)
        if len(rows):
            lines.append(f"usemtl {material.name}")
        for t in rows.tolist():
            a, b, c = (mesh.triangles[t] + 1).tolist()
            k = 3 * t + 1
            lines.append(f"f {a}/{k} {b}/{k + 1} {c}/{k + 2}" if mesh.corner_uv is not None else f"f {a} {b} {c}")
    return ("\n".join(lines) + "\n").encode()
