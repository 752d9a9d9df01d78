"""Any glTF 2.0 scene to one mesh: every triangle of every node where the scene puts it.

Only what is inside the file is read: the binary chunk or data URIs. Nothing is fetched, no path is followed.
"""

import base64
import binascii
import json
import struct

import numpy as np

from ..core.errors import InputError
from ..core.mesh.mesh import Material, Mesh
from ..core.mesh.weld import welded
from .glb import GlbReader

_DEPTH = 64
_MOST = 8_000_000


def read_gltf(data: bytes, name: str) -> Mesh:
    """Return the mesh of a .glb or a .gltf with its buffers inside, points that were split for texture seams joined.

    Raises `InputError` for a damaged file, buffers kept elsewhere, nodes that hang from themselves, or no triangles.
    """
    reader = GlbReader(data if data[:4] == b"glTF" else _as_glb(data, name), name)
    points, triangles, uvs, materials, used = [], [], [], [], 0
    for mesh_index, matrix in _placed_meshes(reader):
        for part in _list(reader, "meshes")[mesh_index].get("primitives", []):
            if part.get("mode", 4) != 4:
                continue
            p, t, uv = _primitive(reader, part)
            flip = np.linalg.det(matrix[:3, :3]) < 0
            points.append(p @ matrix[:3, :3].T + matrix[:3, 3])
            triangles.append((t[:, ::-1] if flip else t) + used)
            uvs.append(None if uv is None else (uv[t[:, ::-1]] if flip else uv[t]))
            materials.append(np.full(len(t), int(part.get("material", -1))))
            used += len(p)
            if used > _MOST:
                raise _damaged(name, f"it holds more than {_MOST} points")
    if not triangles:
        raise InputError(what="the scene holds no triangles", where=name, todo="Export the piece as a triangle or polygon mesh.")
    joined, faces = welded(np.concatenate(points), np.concatenate(triangles))
    if not np.isfinite(joined).all() or np.abs(joined).max() > 1e9:
        raise _damaged(name, "it puts points beyond all measure")
    which = np.concatenate(materials)
    kinds, of = np.unique(which, return_inverse=True)
    corner_uv = None
    if any(uv is not None for uv in uvs):
        filled = [np.zeros((*t.shape, 2), np.float32) if uv is None else uv for uv, t in zip(uvs, triangles, strict=True)]
        corner_uv = np.concatenate(filled)
        corner_uv = np.stack([corner_uv[..., 0], 1.0 - corner_uv[..., 1]], axis=-1).astype(np.float32)  # V runs down in glTF
    return Mesh(joined, faces, corner_uv, of.astype(np.int32), np.zeros(0, np.int32), tuple(_material(reader, int(k)) for k in kinds))


def _damaged(name: str, what: str) -> InputError:
    return InputError(what=what, where=name, todo="Export it again as binary glTF 2.0 (.glb) with its buffer inside.")


def _list(reader: GlbReader, key: str) -> list:
    found = reader.json.get(key, [])
    if not isinstance(found, list) or not all(isinstance(x, dict) for x in found):
        raise _damaged(reader.name, f"its {key} are no list")
    return found


def _placed_meshes(reader: GlbReader) -> list[tuple[int, np.ndarray]]:
    """Return (mesh, world matrix) of every node that holds one; a skinned mesh stands where its points are."""
    nodes, scenes = _list(reader, "nodes"), _list(reader, "scenes")
    out: list[tuple[int, np.ndarray]] = []
    try:
        roots = scenes[int(reader.json.get("scene", 0))].get("nodes", []) if scenes else range(len(nodes))
        stack = [(int(root), np.eye(4), 0) for root in roots]
        seen: set[int] = set()
        while stack:
            index, above, depth = stack.pop()
            if index in seen or depth > _DEPTH or not 0 <= index < len(nodes):
                raise _damaged(reader.name, f"node {index} hangs from itself or lies beyond the list")
            seen.add(index)
            node = nodes[index]
            world = above @ _local(node)
            if "mesh" in node:
                mesh = int(node["mesh"])
                if not 0 <= mesh < len(_list(reader, "meshes")):
                    raise _damaged(reader.name, f"node {index} asks for mesh {mesh}")
                out.append((mesh, np.eye(4) if "skin" in node else world))
            stack += [(int(child), world, depth + 1) for child in node.get("children", [])]
    except (TypeError, ValueError, IndexError, AttributeError):
        raise _damaged(reader.name, "its nodes cannot be read") from None
    return out


def _local(node: dict) -> np.ndarray:
    if "matrix" in node:
        return np.array(node["matrix"], float).reshape(4, 4).T
    x, y, z, w = (float(v) for v in node.get("rotation", (0, 0, 0, 1)))
    turn = np.array([[1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
                     [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
                     [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]])
    out = np.eye(4)
    out[:3, :3] = turn * np.array(node.get("scale", (1, 1, 1)), float)
    out[:3, 3] = np.array(node.get("translation", (0, 0, 0)), float)
    return out


def _primitive(reader: GlbReader, part: dict) -> tuple[np.ndarray, np.ndarray, np.ndarray | None]:
    try:
        attributes = part["attributes"]
        points = reader.array(attributes["POSITION"]).astype(np.float64)
        index = reader.array(part["indices"]).astype(np.int64) if "indices" in part else np.arange(len(points))
        uv = reader.array(attributes["TEXCOORD_0"]) if "TEXCOORD_0" in attributes else None
    except (KeyError, TypeError):
        raise _damaged(reader.name, "a part of it has no points") from None
    if points.ndim != 2 or points.shape[1] != 3 or (len(index) and not 0 <= index.min() <= index.max() < len(points)):
        raise _damaged(reader.name, "a face points beyond its points")
    if uv is not None:
        if uv.shape != (len(points), 2):
            raise _damaged(reader.name, "its texture coordinates do not match its points")
        scale = {np.dtype(np.uint8): 255.0, np.dtype(np.uint16): 65535.0}.get(uv.dtype, 1.0)
        uv = (uv / scale).astype(np.float32)
    return points, index[: len(index) // 3 * 3].reshape(-1, 3), uv


def _material(reader: GlbReader, index: int) -> Material:
    known = _list(reader, "materials")
    if not 0 <= index < len(known):
        return Material("cloth")
    surface = known[index].get("pbrMetallicRoughness", {})
    try:
        r, g, b = (min(max(float(c), 0.0), 1.0) for c in surface.get("baseColorFactor", (1, 1, 1, 1))[:3])
        roughness, metal = (min(max(float(surface.get(k, 1.0)), 0.0), 1.0) for k in ("roughnessFactor", "metallicFactor"))
    except (TypeError, ValueError):
        return Material(str(known[index].get("name", f"material {index}"))[:80])
    return Material(str(known[index].get("name", f"material {index}"))[:80], (r, g, b), roughness, metal)


def _as_glb(data: bytes, name: str) -> bytes:
    """Return a .gltf with its buffers in data URIs as the same file in one piece."""
    try:
        text = json.loads(data)
        buffers = text.get("buffers", [])
        if len(buffers) > 1:
            raise _damaged(name, "it has several buffers")
        raw = b""
        if buffers:
            uri = buffers[0].pop("uri", "")
            if not uri.startswith("data:") or "," not in uri:
                raise InputError(what=f"its buffer lies in another file ({uri[:60]})", where=name,
                                 todo="Export it as .glb, or as .gltf with everything embedded.")
            raw = base64.b64decode(uri.split(",", 1)[1], validate=True)
        inner = json.dumps(text).encode()
    except (ValueError, AttributeError, TypeError, KeyError, binascii.Error, RecursionError):
        raise _damaged(name, "its JSON cannot be read") from None
    inner += b" " * (-len(inner) % 4)
    raw += b"\0" * (-len(raw) % 4)
    return (struct.pack("<4sII", b"glTF", 2, 28 + len(inner) + len(raw)) + struct.pack("<I4s", len(inner), b"JSON") + inner
            + struct.pack("<I4s", len(raw), b"BIN\0") + raw)
