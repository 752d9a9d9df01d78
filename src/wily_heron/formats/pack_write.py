"""A pack to a .glb: body and pieces on one skin, shapes as morph targets, wearers and poses as clips. Contract in docs/pack.md."""

from typing import Any

import numpy as np

from ..core.figure.body import shape_values, shaped
from ..core.figure.correctives import driven_values
from ..core.figure.pose import Pose, pose_matrices
from ..core.figure.skeleton import Skin
from ..core.mesh.mesh import Mesh
from ..core.mesh.normals import vertex_normals
from ..core.piece.pack import Pack
from .glb import GlbWriter
from .motion_clip import motion_clip

VERSION = 1
_VERTEX, _INDEX = 34962, 34963
_SKIN_COLOUR = [0.60, 0.53, 0.44, 1.0]


def write_pack(pack: Pack) -> bytes:
    """Return the pack as .glb bytes."""
    out = GlbWriter()
    j = out.json
    skeleton = pack.body.skeleton
    joints = len(skeleton.names)
    positions = skeleton.positions.astype(np.float32)
    inverse = np.tile(np.eye(4, dtype=np.float32), (joints, 1, 1))
    inverse[:, 3, :3] = -positions  # column-major
    j["nodes"] = [_joint_node(skeleton, positions, i) for i in range(joints)]
    j["skins"] = [{"joints": list(range(joints)), "skeleton": 0,
                   "inverseBindMatrices": out.accessor(inverse.reshape(joints, 16), "MAT4")}]
    j["materials"] = [{"name": "skin", "pbrMetallicRoughness": {
        "baseColorFactor": _SKIN_COLOUR, "metallicFactor": 0.0, "roughnessFactor": 0.75}}]
    j["meshes"] = []
    body_mesh = Mesh(pack.body.base, pack.body.triangles, pack.body.corner_uv)
    nodes = [_mesh_node(out, "body", body_mesh, pack.body.skin, pack.body.deltas, pack.body.shapes, [0])]
    for packed in pack.pieces:
        mesh = packed.piece.mesh
        first = len(j["materials"])
        for m in mesh.materials:
            j["materials"].append({"name": m.name, "doubleSided": True, "pbrMetallicRoughness": {
                "baseColorFactor": [*m.colour, 1.0], "metallicFactor": m.metal, "roughnessFactor": m.roughness}})
        still = np.zeros((len(pack.body.shapes), len(mesh.points), 3), np.float32)
        deltas = packed.piece.deltas if packed.piece.deltas is not None else still
        skin = packed.piece.skin or _carried(len(mesh.points))
        name = f"piece:{slug(packed.name)}"
        nodes.append(_mesh_node(out, name, mesh, skin, deltas, pack.body.shapes, list(range(first, first + len(mesh.materials)))))
    mesh_nodes = list(range(joints, joints + len(nodes)))
    j["nodes"] += nodes
    clips = [_clip(out, pack, f"{who}/{pose.name}", settings, pose, mesh_nodes)
             for who, settings in pack.cast.items() for pose in pack.poses.values()]
    clips += [motion_clip(out, pack.body, motion, mesh_nodes) for motion in pack.motions]
    if clips:
        j["animations"] = clips
    j["scene"] = 0
    j["scenes"] = [{"name": pack.wearer, "nodes": [0, *mesh_nodes], "extras": {"wily_heron": _extras(pack)}}]
    return out.bytes()


def slug(name: str) -> str:
    """Return a name as used in node names: lower case, words joined by hyphens."""
    return "-".join("".join(c if c.isalnum() else " " for c in name.lower()).split()) or "piece"


def _joint_node(skeleton, positions: np.ndarray, i: int) -> dict[str, Any]:
    parent = skeleton.parents[i]
    offset = positions[i] - (positions[parent] if parent >= 0 else 0)
    node: dict[str, Any] = {"name": skeleton.names[i], "translation": [float(x) for x in offset]}
    children = np.flatnonzero(skeleton.parents == i).tolist()
    if children:
        node["children"] = children
    return node


def _carried(count: int) -> Skin:
    return Skin(np.zeros((count, 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1)))


def _mesh_node(out: GlbWriter, name: str, mesh: Mesh, skin: Skin, deltas, shapes, materials: list[int]) -> dict[str, Any]:
    corner, rows, uv = _split(mesh)
    normals = vertex_normals(mesh.points, mesh.triangles).astype(np.float32)
    lone = np.linalg.norm(normals, axis=1) < 0.5
    normals[lone] = [0, 1, 0]
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    attributes = {
        "POSITION": out.accessor(mesh.points[rows], "VEC3", _VERTEX, bounds=True),
        "NORMAL": out.accessor(normals[rows], "VEC3", _VERTEX),
        "JOINTS_0": out.accessor(skin.joints[rows].astype(np.uint8), "VEC4", _VERTEX),
        "WEIGHTS_0": out.accessor(_unit_sum(skin.weights)[rows], "VEC4", _VERTEX),
    }
    if uv is not None:
        attributes["TEXCOORD_0"] = out.accessor(uv, "VEC2", _VERTEX)
    targets = [{"POSITION": out.mostly_still(d[rows].astype(np.float32))} for d in deltas]
    primitives = []
    for m, material in enumerate(materials):
        chosen = corner[mesh.triangle_material == m]
        if not len(chosen):
            continue
        primitive: dict[str, Any] = {"attributes": attributes, "material": material,
                                     "indices": out.accessor(chosen.ravel().astype(np.uint32), "SCALAR", _INDEX)}
        if targets:
            primitive["targets"] = targets
        primitives.append(primitive)
    entry: dict[str, Any] = {"name": name, "primitives": primitives}
    if targets:
        entry["weights"] = [0.0] * len(targets)
        entry["extras"] = {"targetNames": list(shapes)}
    out.json["meshes"].append(entry)
    return {"name": name, "mesh": len(out.json["meshes"]) - 1, "skin": 0}


def _split(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray | None]:
    """Return corner indices (m, 3) into split vertices, the welded vertex of each, and its uv (v, 2), flipped to glTF's origin."""
    if mesh.corner_uv is None:
        return mesh.triangles, np.arange(len(mesh.points)), None
    flat = np.stack([mesh.corner_uv[..., 0], 1.0 - mesh.corner_uv[..., 1]], axis=-1).reshape(-1, 2).astype(np.float32)
    keys = np.concatenate([mesh.triangles.reshape(-1, 1).astype(np.float64), np.round(flat.astype(np.float64), 6)], axis=1)
    _, first, inverse = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    return inverse.reshape(-1, 3), mesh.triangles.reshape(-1)[first], flat[first]


def _unit_sum(weights: np.ndarray) -> np.ndarray:
    out = weights.astype(np.float32).copy()
    out[:, 0] = np.float32(1.0) - (out[:, 1] + out[:, 2] + out[:, 3])
    return out


def _clip(out: GlbWriter, pack: Pack, name: str, settings, pose: Pose, mesh_nodes: list[int]) -> dict[str, Any]:
    """One key: the wearer's morph weights, and joints set so that world times inverse bind is the application's skin matrix.

    The wearer's own joints lie elsewhere than the packed ones; each joint is therefore put where its skin matrix carries its
    packed position, which makes file and application agree exactly.
    """
    body, skeleton = pack.body, pack.body.skeleton
    wearer = shaped(body, shape_values(body, settings))
    matrices = pose_matrices(wearer, pose)
    world = matrices.copy()
    world[:, :3, 3] += np.einsum("jab,jb->ja", matrices[:, :3, :3], skeleton.positions)
    local = world.copy()
    for i, parent in enumerate(skeleton.parents):
        if parent >= 0:
            local[i] = np.linalg.inv(world[parent]) @ world[i]
    time = out.accessor(np.zeros(1, np.float32), "SCALAR", bounds=True)
    samplers, channels = [], []

    def key(node: int, path: str, values, kind: str) -> None:
        samplers.append({"input": time, "interpolation": "STEP", "output": out.accessor(np.asarray(values, np.float32), kind)})
        channels.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})

    for i in range(len(skeleton.names)):
        key(i, "translation", local[i, :3, 3], "VEC3")
        q = matrix_quaternion(local[i, :3, :3])
        key(i, "rotation", q / np.linalg.norm(q), "VEC4")
    if body.shapes:
        for node in mesh_nodes:
            key(node, "weights", wearer.shape + driven_values(body, pose) - body.made_at, "SCALAR")
    return {"name": name, "samplers": samplers, "channels": channels}


def matrix_quaternion(m: np.ndarray) -> np.ndarray:
    """Return the unit quaternion (x, y, z, w) of a rotation matrix. Follows: Shepperd 1978, by its largest component."""
    trace = m[0, 0] + m[1, 1] + m[2, 2]
    choices = np.array([m[0, 0], m[1, 1], m[2, 2], trace])
    i = int(np.argmax(choices))
    if i == 3:
        q = np.array([m[2, 1] - m[1, 2], m[0, 2] - m[2, 0], m[1, 0] - m[0, 1], 1 + trace])
    else:
        k, n = (i + 1) % 3, (i + 2) % 3
        q = np.empty(4)
        q[i], q[k], q[n], q[3] = 1 + 2 * m[i, i] - trace, m[k, i] + m[i, k], m[n, i] + m[i, n], m[n, k] - m[k, n]
    return q / np.linalg.norm(q)


def _extras(pack: Pack) -> dict[str, Any]:
    body = pack.body
    return {
        "version": VERSION, "wearer": {"name": pack.wearer, "shape": dict(zip(body.shapes, body.made_at.tolist(), strict=True))},
        "cast": {name: dict(settings) for name, settings in pack.cast.items()},
        "pieces": [{"node": f"piece:{slug(p.name)}", "name": p.name, "category": p.category, "layer": i + 1,
                    "ease_mm": round(1000 * p.ease, 3)} for i, p in enumerate(pack.pieces)],
        "hidden_body_faces": [], "clearance": pack.clearance, "floor_vertices": body.floor.tolist(),
        "joint_moves": {s: np.round(d, 7).tolist() for s, d in zip(body.shapes, body.joint_deltas, strict=True)},
    }
