"""Any glTF 2.0 scene to one model: every triangle of every node where the scene puts it, with skin, morphs, clips and textures."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ...core.errors import InputError
from ...core.figure.base.skeleton import Skin, quaternion_matrix
from ...core.mesh.mesh import Mesh
from ...core.mesh.ops.folds import corner_folds
from ...core.mesh.ops.weld import joined
from ...core.model.model import Model
from ..beside import Beside
from .file import damaged, listed, open_gltf
from .glb import GlbReader
from .materials import Pictures
from .rig import Rig, read_clips, read_rig, skin_rows

_DEPTH = 200
_ONE = np.array([1, 0, 0, 0], np.float32)
_MOST = 8_000_000
_MOST_MOVES = 120_000_000


@dataclass
class _Part:
    """One primitive where the scene puts it: points, triangles, corner texture places and normals, weights, moves by morph name."""

    points: np.ndarray
    triangles: np.ndarray
    uv: np.ndarray | None
    normals: np.ndarray | None
    skin: Skin | None
    moves: dict[str, np.ndarray]
    material: int
    object: int


@dataclass(frozen=True)
class _Placed:
    """A node that holds a mesh: its place in the scene, its skin if any, and the joint it hangs from if any."""

    mesh: int
    matrix: np.ndarray
    name: str
    skin: int | None
    joint: int | None


def read_gltf(data: bytes, name: str, beside: Beside | None = None) -> Model:
    """Return the model in a .glb or .gltf; points that were split for texture seams or folds are joined.

    Raises `InputError` for a damaged file, buffers that did not come with it, nodes that hang from themselves, or no triangles.
    """
    beside = beside or {}
    reader = open_gltf(data, name, beside)
    worlds = node_worlds(reader)
    rig = read_rig(reader, worlds)
    placed = _placed(reader, worlds, rig)
    parts: list[_Part] = []
    for k, node in enumerate(placed):
        parts += _parts(reader, node, k, rig)
    if sum(len(p.points) for p in parts) > _MOST:
        raise damaged(name, f"it holds more than {_MOST} points")
    if not parts:
        raise InputError(what="the scene holds no triangles", where=name, todo="Export the piece as a triangle or polygon mesh.")
    return _assembled(reader, parts, placed, rig, beside)


def _assembled(reader: GlbReader, parts: list[_Part], placed: list[_Placed], rig: Rig | None, beside: Beside) -> Model:
    names = tuple(dict.fromkeys(n for p in parts for n in p.moves))
    total = sum(len(p.points) for p in parts)
    if len(names) * total * 3 > _MOST_MOVES:
        raise damaged(reader.name, f"{len(names)} morphs of {total} points are more than can be held")
    points = np.concatenate([p.points for p in parts])
    if not np.isfinite(points).all() or np.abs(points).max() > 1e9:
        raise damaged(reader.name, "it puts points beyond all measure")
    deltas = np.zeros((len(names), total, 3), np.float32)
    start, starts = 0, []
    for p in parts:
        starts.append(start)
        for n, moves in p.moves.items():
            deltas[names.index(n), start:start + len(p.points)] = moves
        start += len(p.points)
    skin = None
    if rig is not None and any(p.skin for p in parts):
        loose = [Skin(np.zeros((len(p.points), 4), np.int32), np.tile(_ONE, (len(p.points), 1))) for p in parts]
        skins = [p.skin or still for p, still in zip(parts, loose, strict=True)]
        skin = Skin(np.concatenate([s.joints for s in skins]), np.concatenate([s.weights for s in skins]))
    owner = np.concatenate([np.full(len(p.points), p.object) for p in parts])
    carried = [owner[:, None].astype(np.float32)]
    if len(names):
        carried.append(deltas.transpose(1, 0, 2).reshape(total, -1))
    if skin is not None:
        carried += [skin.joints.astype(np.float32) * (skin.weights > 0), skin.weights]
    first, onto = joined(points, np.concatenate(carried, axis=1))
    corners = np.concatenate([p.triangles + s for p, s in zip(parts, starts, strict=True)])
    triangles = onto[corners].astype(np.int32)
    kinds, material = np.unique(np.concatenate([np.full(len(p.triangles), p.material) for p in parts]), return_inverse=True)
    uv = None
    if any(p.uv is not None for p in parts):
        uv = np.concatenate([np.zeros((*p.triangles.shape, 2), np.float32) if p.uv is None else p.uv for p in parts])
        uv = np.stack([uv[..., 0], 1.0 - uv[..., 1]], axis=-1).astype(np.float32)  # V runs down in glTF
    fold = None
    if all(p.normals is not None for p in parts):
        fold = corner_folds(triangles, np.concatenate([p.normals for p in parts if p.normals is not None]))
    pictures = Pictures(reader, beside)
    materials = tuple(pictures.material(int(k)) for k in kinds)
    mesh = Mesh(points[first].astype(np.float32), triangles, uv, material.astype(np.int32), np.zeros(0, np.int32), materials, fold)
    return Model(
        mesh, rig.skeleton if rig and skin else None, Skin(skin.joints[first], skin.weights[first]) if skin else None,
        names, np.ascontiguousarray(deltas[:, first]), read_clips(reader, rig) if rig and skin else (), tuple(pictures.textures.values()),
        tuple(p.name for p in placed), np.concatenate([np.full(len(p.triangles), p.object) for p in parts]).astype(np.int32),
    )


def node_worlds(reader: GlbReader) -> dict[int, tuple[np.ndarray, int]]:
    """Return world matrix and parent (-1 for roots) of every node of the scene, parents first."""
    nodes, scenes = listed(reader, "nodes"), listed(reader, "scenes")
    out: dict[int, tuple[np.ndarray, int]] = {}
    try:
        roots = scenes[int(reader.json.get("scene", 0))].get("nodes", []) if scenes else _roots(nodes)
        stack = [(int(root), np.eye(4), -1, 0) for root in reversed(roots)]
        while stack:
            index, above, parent, depth = stack.pop()
            if index in out or depth > _DEPTH or not 0 <= index < len(nodes):
                raise damaged(reader.name, f"node {index} hangs from itself or lies beyond the list")
            world = above @ _local(nodes[index])
            if not np.isfinite(world).all():
                raise damaged(reader.name, f"node {index} has a place that is no number")
            out[index] = world, parent
            stack += [(int(child), world, index, depth + 1) for child in reversed(nodes[index].get("children", []))]
    except (TypeError, ValueError, IndexError, AttributeError):
        raise damaged(reader.name, "its nodes cannot be read") from None
    return out


def _roots(nodes: list[dict[str, Any]]) -> list[int]:
    held = {int(c) for n in nodes for c in n.get("children", [])}
    return [i for i in range(len(nodes)) if i not in held]


def _placed(reader: GlbReader, worlds: dict[int, tuple[np.ndarray, int]], rig: Rig | None) -> list[_Placed]:
    nodes, count, out = listed(reader, "nodes"), len(listed(reader, "meshes")), []
    for index, (world, parent) in worlds.items():
        node = nodes[index]
        if "mesh" not in node:
            continue
        mesh, skin = node["mesh"], node.get("skin")
        if not isinstance(mesh, int) or not 0 <= mesh < count:
            raise damaged(reader.name, f"node {index} asks for mesh {mesh}")
        above, joint = parent, None
        while rig is not None and above >= 0 and joint is None:
            joint, above = rig.of_node.get(above), worlds[above][1]
        skinned = isinstance(skin, int) and rig is not None and skin in rig.joints_of
        out.append(_Placed(mesh, np.eye(4) if skinned else world, str(node.get("name") or f"part {index}")[:80], skin if skinned else None,
                           joint))
    return out


def _local(node: dict[str, Any]) -> np.ndarray:
    if "matrix" in node:
        return np.array(node["matrix"], float).reshape(4, 4).T
    turn = quaternion_matrix(np.array(node.get("rotation", (0, 0, 0, 1)), float))
    out = np.eye(4)
    out[:3, :3] = turn * np.array(node.get("scale", (1, 1, 1)), float)
    out[:3, 3] = np.array(node.get("translation", (0, 0, 0)), float)
    return out


def _parts(reader: GlbReader, node: _Placed, number: int, rig: Rig | None) -> list[_Part]:
    mesh = listed(reader, "meshes")[node.mesh]
    primitives, extras = mesh.get("primitives", []), mesh.get("extras")
    names = extras.get("targetNames", []) if isinstance(extras, dict) else []
    linear = node.matrix[:3, :3]
    out = []
    for primitive in primitives if isinstance(primitives, list) else []:
        if not isinstance(primitive, dict) or primitive.get("mode", 4) != 4:
            continue
        try:
            attributes, targets = dict(primitive["attributes"]), list(primitive.get("targets", []))
            points = reader.array(attributes["POSITION"]).astype(np.float64)
            index = reader.array(primitive["indices"]).astype(np.int64) if "indices" in primitive else np.arange(len(points))
            material = int(primitive.get("material", -1))
            moves = {str(names[k]) if k < len(names) else f"morph {k + 1}": reader.array(t["POSITION"]).astype(np.float64) @ linear.T
                     for k, t in enumerate(targets) if "POSITION" in t}
        except (KeyError, TypeError, ValueError):
            raise damaged(reader.name, "a part of it has no points") from None
        n = len(points)
        if points.ndim != 2 or points.shape[1] != 3 or (len(index) and not 0 <= index.min() <= index.max() < n):
            raise damaged(reader.name, "a face points beyond its points")
        if any(m.shape != (n, 3) for m in moves.values()):
            raise damaged(reader.name, "a morph does not match its points")
        t = index[: len(index) // 3 * 3].reshape(-1, 3)
        if np.linalg.det(linear) < 0:
            t = t[:, [0, 2, 1]]
        uv, normals = _beside_points(reader, attributes, "TEXCOORD_0", n, 2), _beside_points(reader, attributes, "NORMAL", n, 3)
        skin = None
        if rig is not None and node.skin is not None and "JOINTS_0" in attributes:
            skin = skin_rows(reader, attributes, n, rig.joints_of[node.skin])
        elif rig is not None and node.joint is not None:
            skin = Skin(np.tile(np.array([node.joint, 0, 0, 0], np.int32), (n, 1)), np.tile(_ONE, (n, 1)))
        out.append(_Part(points @ linear.T + node.matrix[:3, 3], t, None if uv is None else uv[t],
                         None if normals is None else normals[t], skin, moves, material, number))
    return out


def _beside_points(reader: GlbReader, attributes: dict[str, Any], key: str, count: int, width: int) -> np.ndarray | None:
    if key not in attributes:
        return None
    found = reader.array(attributes[key])
    if found.shape != (count, width):
        raise damaged(reader.name, f"its {key} does not match its points")
    return (found / {np.dtype(np.uint8): 255.0, np.dtype(np.uint16): 65535.0}.get(found.dtype, 1.0)).astype(np.float32)
