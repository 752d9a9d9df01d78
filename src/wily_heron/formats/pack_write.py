"""A pack to a .glb: body and pieces on one skin, shapes as morph targets, wearers and poses as clips. Contract in docs/pack.md."""

from typing import Any

import numpy as np

from ..core.figure.body import shape_values, shaped
from ..core.figure.correctives import driven_values
from ..core.figure.pose import Pose, pose_matrices
from ..core.figure.rotation_arrays import matrix_turns
from ..core.figure.skeleton import Skin
from ..core.mesh.mesh import Material, Mesh
from ..core.piece.pack import Pack
from .glb import GlbWriter
from .gltf_parts import MaterialWriter, joint_nodes, mesh_node, skin_entry
from .motion_clip import motion_clip

VERSION = 1
_SKIN_COLOUR = (0.60, 0.53, 0.44)


def write_pack(pack: Pack) -> bytes:
    """Return the pack as .glb bytes."""
    out = GlbWriter()
    j = out.json
    skeleton = pack.body.skeleton
    joints = len(skeleton.names)
    j["nodes"], j["skins"], j["meshes"] = joint_nodes(skeleton), [skin_entry(out, skeleton)], []
    materials = MaterialWriter(out, pack.textures)
    skin = materials.add(Material("skin", _SKIN_COLOUR, 0.75))
    j["materials"][skin].pop("doubleSided")
    body_mesh = Mesh(pack.body.base, pack.body.triangles, pack.body.corner_uv)
    nodes = [mesh_node(out, "body", body_mesh, pack.body.skin, pack.body.deltas, pack.body.shapes, [skin])]
    for packed in pack.pieces:
        mesh = packed.piece.mesh
        numbers = [materials.add(m) for m in mesh.materials]
        still = np.zeros((len(pack.body.shapes), len(mesh.points), 3), np.float32)
        deltas = packed.piece.deltas if packed.piece.deltas is not None else still
        skin = packed.piece.skin or _carried(len(mesh.points))
        nodes.append(mesh_node(out, f"piece:{slug(packed.name)}", mesh, skin, deltas, pack.body.shapes, numbers))
    mesh_nodes = list(range(joints, joints + len(nodes)))
    j["nodes"] += nodes
    clips = [_clip(out, pack, f"{who}/{pose.name}", settings, pose, mesh_nodes)
             for who, settings in pack.cast.items() for pose in pack.poses.values()]
    clips += [motion_clip(out, pack.body, motion, mesh_nodes) for motion in pack.motions]
    if clips:
        j["animations"] = clips
    roots = np.flatnonzero(skeleton.parents < 0).tolist()
    j["scene"] = 0
    j["scenes"] = [{"name": pack.wearer, "nodes": [*roots, *mesh_nodes], "extras": {"wily_heron": _extras(pack)}}]
    return out.bytes()


def slug(name: str) -> str:
    """Return a name as used in node names: lower case, words joined by hyphens."""
    return "-".join("".join(c if c.isalnum() else " " for c in name.lower()).split()) or "piece"


def _carried(count: int) -> Skin:
    return Skin(np.zeros((count, 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1)))


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
        q = matrix_turns(local[i, :3, :3])
        key(i, "rotation", q / np.linalg.norm(q), "VEC4")
    if body.shapes:
        for node in mesh_nodes:
            key(node, "weights", wearer.shape + driven_values(body, pose) - body.made_at, "SCALAR")
    return {"name": name, "samplers": samplers, "channels": channels}


def _extras(pack: Pack) -> dict[str, Any]:
    body = pack.body
    return {
        "version": VERSION, "wearer": {"name": pack.wearer, "shape": dict(zip(body.shapes, body.made_at.tolist(), strict=True))},
        "cast": {name: dict(settings) for name, settings in pack.cast.items()},
        "pieces": [{"node": f"piece:{slug(p.name)}", "name": p.name, "category": p.category, "layer": i + 1,
                    "ease_mm": round(1000 * p.ease, 3)} for i, p in enumerate(pack.pieces)],
        "own_body": body.posed_like is not None,
        "hidden_body_faces": [], "clearance": pack.clearance, "floor_vertices": body.floor.tolist(),
        "joint_moves": {s: np.round(d, 7).tolist() for s, d in zip(body.shapes, body.joint_deltas, strict=True)},
    }
