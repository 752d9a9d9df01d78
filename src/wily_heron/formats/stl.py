"""STL, textual and binary, to a mesh and back."""

import re

import numpy as np

from ..core.errors import InputError
from ..core.mesh.mesh import Mesh
from ..core.mesh.ops.weld import welded

_ROW = np.dtype([("normal", "<f4", 3), ("corner", "<f4", (3, 3)), ("note", "<u2")])
_VERTEX = re.compile(rb"vertex\s+(\S+)\s+(\S+)\s+(\S+)")


def read_stl(data: bytes, name: str) -> Mesh:
    """Return the mesh in an STL file, corners in one place joined; raises `InputError` for a damaged or empty file."""
    count = int.from_bytes(data[80:84], "little") if len(data) >= 84 else -1
    if count >= 0 and len(data) == 84 + 50 * count:
        corner = np.frombuffer(data, _ROW, count, 84)["corner"].reshape(-1, 3)
    elif data.lstrip()[:5] == b"solid":
        try:
            corner = np.array([[float(x) for x in row] for row in _VERTEX.findall(data)], np.float64).reshape(-1, 3)
        except ValueError:
            raise _wrong(name, "it holds a corner that is no number") from None
    elif count >= 0:
        raise _wrong(name, f"it says it holds {count} faces, and its {len(data)} bytes are not enough or too many for that")
    else:
        raise _wrong(name, "it does not look like an STL file")
    if not len(corner) or len(corner) % 3:
        raise _wrong(name, "it holds no whole face")
    if not np.isfinite(corner).all():
        raise _wrong(name, "it holds points that are not finite numbers")
    return Mesh(*welded(corner, np.arange(len(corner)).reshape(-1, 3)))


def write_stl(mesh: Mesh) -> bytes:
    """Return the mesh as binary STL."""
    rows = np.zeros(len(mesh.triangles), _ROW)
    corner = mesh.points[mesh.triangles]
    normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    rows["corner"], rows["normal"] = corner, normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-20)
    return b"\0" * 80 + len(rows).to_bytes(4, "little") + rows.tobytes()


def _wrong(name: str, what: str) -> InputError:
    return InputError(what=what, where=name, todo="Export it again as STL, or as OBJ, which keeps more of the piece.")
