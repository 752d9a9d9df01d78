"""A model to one .glb: a node for each of its objects, one skin, morphs, clips and textures."""

from typing import Any

import numpy as np

from ...core.model.model import Model
from ...core.motion.motion import Motion
from .glb import GlbWriter
from .parts import MaterialWriter, joint_nodes, mesh_node, skin_entry


def write_gltf(model: Model) -> bytes:
    """Return the model as .glb bytes, in metres and Y up as the model must be."""
    out = GlbWriter()
    j = out.json
    j["meshes"], j["nodes"] = [], []
    rigged = model.skeleton if model.skin is not None else None
    if rigged is not None:
        j["nodes"] = joint_nodes(rigged)
        j["skins"] = [skin_entry(out, rigged.positions, int((rigged.parents < 0).sum()) == 1)]
    roots = [] if rigged is None else np.flatnonzero(rigged.parents < 0).tolist()
    materials = MaterialWriter(out, model.textures)
    held = np.unique(model.triangle_object)
    for k in held.tolist():
        part = model.part(model.triangle_object == k) if len(held) > 1 else model
        numbers = [materials.add(m) for m in part.mesh.materials]
        j["nodes"].append(mesh_node(out, model.objects[k], part.mesh, part.skin if rigged else None, part.deltas, part.morphs, numbers))
        roots.append(len(j["nodes"]) - 1)
    clips = [_animation(out, clip) for clip in model.clips] if rigged is not None else []
    if clips:
        j["animations"] = clips
    j["scene"], j["scenes"] = 0, [{"nodes": roots}]
    return out.bytes()


def _animation(out: GlbWriter, clip: Motion) -> dict[str, Any]:
    time = out.accessor(np.arange(len(clip.rotations), dtype=np.float32) * np.float32(clip.seconds), "SCALAR", bounds=True)
    samplers: list[dict[str, Any]] = []
    channels: list[dict[str, Any]] = []

    def keys(node: int, path: str, values: np.ndarray, kind: str) -> None:
        samplers.append({"input": time, "interpolation": "LINEAR", "output": out.accessor(values.astype(np.float32), kind)})
        channels.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})

    for joint in range(len(clip.names)):
        turns = clip.rotations[:, joint]
        if np.abs(turns[:, :3]).max() > 1e-7:
            keys(joint, "rotation", turns / np.linalg.norm(turns, axis=1, keepdims=True), "VEC4")
    keys(0, "translation", clip.offsets[0] + clip.root, "VEC3")
    return {"name": clip.name, "samplers": samplers, "channels": channels}
