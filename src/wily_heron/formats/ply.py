"""PLY, textual and binary, to a mesh and back."""

import numpy as np

from ..core.errors import InputError
from ..core.mesh.mesh import Mesh
from ..core.mesh.ops.weld import fans
from ..core.mesh.polygons import polygon_corners

_TYPES = {"char": "i1", "uchar": "u1", "short": "i2", "ushort": "u2", "int": "i4", "uint": "u4", "float": "f4", "double": "f8",
          "int8": "i1", "uint8": "u1", "int16": "i2", "uint16": "u2", "int32": "i4", "uint32": "u4", "float32": "f4", "float64": "f8"}
_MOST = 50_000_000
_TODO = "Export it again as PLY with vertices and faces."


def read_ply(data: bytes, name: str) -> Mesh:
    """Return the mesh in a PLY file: points, polygons as fans, and texture coordinates kept on points (s t, u v) if there are any.

    Raises `InputError` for a damaged header, lists cut off, or faces that point beyond the points.
    """
    end = data.find(b"end_header")
    if not data.startswith(b"ply") or end < 0:
        raise _wrong(name, "it does not begin as a PLY file does")
    order, elements = _header(data[:end].decode("ascii", "replace"), name)
    body = data[data.find(b"\n", end) + 1:]
    rows = _textual(body, elements, name) if order == "" else _binary(body, elements, order, name)
    vertex, corners, sizes = rows
    missing = [axis for axis in "xyz" if axis not in vertex]
    if missing or not len(sizes):
        raise _wrong(name, f"it holds no {'coordinates ' + ' '.join(missing) if missing else 'faces'}")
    points = np.stack([vertex[axis] for axis in "xyz"], axis=1).astype(np.float64)
    if not np.isfinite(points).all():
        raise _wrong(name, "it holds points that are not finite numbers")
    if len(corners) and not 0 <= corners.min() <= corners.max() < len(points):
        raise _wrong(name, f"a face points to vertex {int(corners.max())} of {len(points)}")
    if sizes.min() < 3:
        raise _wrong(name, "a face has fewer than three corners")
    triangles, polygon = fans(corners, sizes)
    uv = next((np.stack([vertex[a], vertex[b]], axis=1) for a, b in (("s", "t"), ("u", "v"), ("texture_u", "texture_v"))
               if a in vertex and b in vertex), None)
    corner_uv = None if uv is None else uv[triangles].astype(np.float32)
    return Mesh(points.astype(np.float32), triangles.astype(np.int32), corner_uv, np.zeros(len(triangles), np.int32), polygon)


def write_ply(mesh: Mesh) -> bytes:
    """Return the mesh as binary little-endian PLY: points and its polygons, grouped by size."""
    corners, sizes = polygon_corners(mesh)
    index, start = mesh.triangles.ravel()[corners], np.cumsum(sizes) - sizes
    kind, count = ("uchar", "u1") if sizes.max(initial=3) < 256 else ("uint", "<u4")
    head = (f"ply\nformat binary_little_endian 1.0\nelement vertex {len(mesh.points)}\n"
            "property float x\nproperty float y\nproperty float z\n"
            f"element face {len(sizes)}\nproperty list {kind} int vertex_indices\nend_header\n")
    out = [head.encode(), mesh.points.astype("<f4").tobytes()]
    for size in np.unique(sizes).tolist():
        first = start[sizes == size]
        faces = np.empty(len(first), [("n", count), ("v", "<i4", size)])
        faces["n"], faces["v"] = size, index[first[:, None] + np.arange(size)]
        out.append(faces.tobytes())
    return b"".join(out)


_Element = tuple[str, int, list[tuple[str, str, str]]]


def _wrong(name: str, what: str) -> InputError:
    return InputError(what=what, where=name, todo=_TODO)


def _header(text: str, name: str) -> tuple[str, list[_Element]]:
    """Return the byte order ('' for text) and the elements: name, count, properties (name, type, count type or '')."""
    order, elements = None, []
    try:
        for line in text.splitlines()[1:]:
            words = line.split()
            if not words or words[0] in ("comment", "obj_info"):
                continue
            if words[0] == "format":
                order = {"ascii": "", "binary_little_endian": "<", "binary_big_endian": ">"}[words[1]]
            elif words[0] == "element":
                count = int(words[2])
                if not 0 <= count <= _MOST:
                    raise _wrong(name, f"it says it holds {count} of {words[1]}")
                elements.append((words[1], count, []))
            elif words[0] == "property" and words[1] == "list":
                elements[-1][2].append((words[4], _TYPES[words[3]], _TYPES[words[2]]))
            elif words[0] == "property":
                elements[-1][2].append((words[2], _TYPES[words[1]], ""))
    except (KeyError, IndexError, ValueError):
        raise _wrong(name, "its header cannot be read") from None
    if order is None:
        raise _wrong(name, "its header names no format")
    return order, elements


def _textual(body: bytes, elements: list[_Element], name: str):
    numbers = body.split()
    at, vertex, corners, sizes = 0, {}, [], []
    try:
        for element, count, properties in elements:
            plain = [p for p in properties if not p[2]]
            if len(plain) == len(properties):
                width = len(properties)
                if at + count * width > len(numbers):
                    raise IndexError
                block = np.array(numbers[at:at + count * width], dtype=float).reshape(count, width)
                at += count * width
                if element == "vertex":
                    vertex = {p[0]: block[:, i] for i, p in enumerate(properties)}
                continue
            for _ in range(count):
                for prop, _, counted in properties:
                    size = int(numbers[at]) if counted else 1
                    at += 1 if counted else 0
                    if not 0 <= size <= len(numbers) - at:
                        raise IndexError
                    if element == "face" and prop in ("vertex_indices", "vertex_index"):
                        corners += [int(x) for x in numbers[at:at + size]]
                        sizes.append(size)
                    at += size
    except (IndexError, ValueError):
        raise _wrong(name, "it is cut off or holds something that is no number") from None
    return vertex, np.array(corners, np.int64), np.array(sizes, np.int64)


def _binary(body: bytes, elements: list[_Element], order: str, name: str):
    at, vertex = 0, {}
    corners, sizes = np.zeros(0, np.int64), np.zeros(0, np.int64)
    for element, count, properties in elements:
        if all(not counted for _, _, counted in properties):
            row = np.dtype([(p, order + kind) for p, kind, _ in properties])
            if at + count * row.itemsize > len(body):
                raise _wrong(name, f"it is cut off among its {count} of {element}")
            block = np.frombuffer(body, row, count, at)
            at += count * row.itemsize
            if element == "vertex":
                vertex = {p: block[p] for p, _, _ in properties}
        elif element == "face":
            corners, sizes, at = _binary_faces(body, at, count, properties, order, name)
        else:
            break  # lists of what is no face come after all that is needed
    return vertex, corners, sizes


def _binary_faces(body: bytes, at: int, count: int, properties: list[tuple[str, str, str]], order: str, name: str):
    """Return corners, sizes and where the faces end: at once if all have as many corners as the first, else one by one."""
    if not count:
        return np.zeros(0, np.int64), np.zeros(0, np.int64), at
    index = next((p for p in properties if p[0] in ("vertex_indices", "vertex_index") and p[2]), None)
    if index is None:
        raise _wrong(name, "its faces have no corners")
    if len(properties) == 1:
        first = int(np.frombuffer(body, order + index[2], 1, at)[0]) if at < len(body) else 0
        row = np.dtype([("n", order + index[2]), ("v", order + index[1], (max(first, 0),))])
        if 0 < first < 64 and at + count * row.itemsize <= len(body):
            block = np.frombuffer(body, row, count, at)
            if (block["n"] == first).all():
                return block["v"].astype(np.int64).ravel(), np.full(count, first), at + count * row.itemsize
    corners, sizes = [], []
    try:
        for _ in range(count):
            for prop, kind, counted in properties:
                size = 1
                if counted:
                    size = int(np.frombuffer(body, order + counted, 1, at)[0])
                    at += np.dtype(counted).itemsize
                if size < 0 or at + size * np.dtype(kind).itemsize > len(body):
                    raise ValueError
                if prop == index[0]:
                    corners.append(np.frombuffer(body, order + kind, size, at).astype(np.int64))
                    sizes.append(size)
                at += size * np.dtype(kind).itemsize
    except ValueError:
        raise _wrong(name, f"it is cut off among its {count} faces") from None
    return np.concatenate(corners), np.array(sizes, np.int64), at
