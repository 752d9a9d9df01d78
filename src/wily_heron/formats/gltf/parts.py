"""Meshes, materials and joints as glTF 2.0 has them, for packs and single pieces alike."""

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np

from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.mesh.mesh import Material, Mesh
from ...core.mesh.ops.folds import split_corners
from ...core.model.model import Texture
from ..images.textures import SIDE, drawable
from .glb import GlbWriter

_VERTEX, _INDEX = 34962, 34963


class MaterialWriter:
    """Puts materials and the textures they ask for in a file, each texture once; what the format cannot hold becomes a PNG."""

    def __init__(self, out: GlbWriter, textures: Iterable[Texture]) -> None:
        self.out = out
        self._held = {t.name: t for t in textures}
        self._placed: dict[str, int] = {}
        out.json.setdefault("materials", [])

    def add(self, material: Material) -> int:
        """Append a material; return its index."""
        surface: dict[str, Any] = {"baseColorFactor": [*material.colour, 1.0], "metallicFactor": material.metal,
                                   "roughnessFactor": material.roughness}
        entry: dict[str, Any] = {"name": material.name, "doubleSided": True, "pbrMetallicRoughness": surface}
        for where, key, name in ((surface, "baseColorTexture", material.colour_map), (entry, "normalTexture", material.normal_map),
                                 (surface, "metallicRoughnessTexture", material.rough_map)):
            if name in self._held:
                where[key] = {"index": self._texture(self._held[name])}
        self.out.json["materials"].append(entry)
        return len(self.out.json["materials"]) - 1

    def _texture(self, texture: Texture) -> int:
        if texture.name not in self._placed:
            plain = texture.media in ("image/png", "image/jpeg")
            data, media = (texture.data, texture.media) if plain else (drawable(texture, SIDE), "image/png")
            images, textures = self.out.json.setdefault("images", []), self.out.json.setdefault("textures", [])
            images.append({"name": texture.name, "mimeType": media, "bufferView": self.out.view(data)})
            if not self.out.json.get("samplers"):
                self.out.json["samplers"] = [{"wrapS": 10497, "wrapT": 10497}]
            textures.append({"source": len(images) - 1, "sampler": 0})
            self._placed[texture.name] = len(textures) - 1
        return self._placed[texture.name]


def joint_nodes(skeleton: Skeleton) -> list[dict[str, Any]]:
    """Return a node for each joint, its rest frame world-aligned; joint `i` is meant to be node `i`."""
    positions, nodes = skeleton.positions.astype(np.float32), []
    for i, parent in enumerate(skeleton.parents):
        offset = positions[i] - (positions[parent] if parent >= 0 else 0)
        node: dict[str, Any] = {"name": skeleton.names[i], "translation": [float(x) for x in offset]}
        children = np.flatnonzero(skeleton.parents == i).tolist()
        nodes.append(node | ({"children": children} if children else {}))
    return nodes


def skin_entry(out: GlbWriter, positions: np.ndarray, one_root: bool) -> dict[str, Any]:
    """Return the skin of all joints at `positions` (j, 3), whose inverse bind matrices only move."""
    joints = len(positions)
    inverse = np.tile(np.eye(4, dtype=np.float32), (joints, 1, 1))
    inverse[:, 3, :3] = -positions.astype(np.float32)  # column-major
    entry = {"joints": list(range(joints)), "inverseBindMatrices": out.accessor(inverse.reshape(joints, 16), "MAT4")}
    return entry | ({"skeleton": 0} if one_root else {})


def mesh_node(out: GlbWriter, name: str, mesh: Mesh, skin: Skin | None, deltas: np.ndarray, shapes: Sequence[str],
              materials: Sequence[int]) -> dict[str, Any]:
    """Append a mesh, its points split at texture seams and folds; return the node that holds it. `deltas` (s, n, 3) are its morphs."""
    corner, rows, uv, normals = split_corners(mesh)
    attributes = {"POSITION": out.accessor(mesh.points[rows], "VEC3", _VERTEX, bounds=True),
                  "NORMAL": out.accessor(normals, "VEC3", _VERTEX)}
    if skin is not None:
        joints, weights = skin.joints[rows], _unit_sum(skin.weights)[rows]
        size = np.uint8 if joints.max(initial=0) < 256 else np.uint16
        for k in range(joints.shape[1] // 4):
            attributes[f"JOINTS_{k}"] = out.accessor(joints[:, 4 * k:4 * k + 4].astype(size), "VEC4", _VERTEX)
            attributes[f"WEIGHTS_{k}"] = out.accessor(np.ascontiguousarray(weights[:, 4 * k:4 * k + 4]), "VEC4", _VERTEX)
    if uv is not None:
        attributes["TEXCOORD_0"] = out.accessor(np.stack([uv[:, 0], 1.0 - uv[:, 1]], axis=1).astype(np.float32), "VEC2", _VERTEX)
    targets = [{"POSITION": out.mostly_still(d[rows].astype(np.float32))} for d in deltas]
    primitives = []
    for m, material in enumerate(materials):
        chosen = corner[mesh.triangle_material == m]
        if not len(chosen):
            continue
        primitive: dict[str, Any] = {"attributes": attributes, "material": material,
                                     "indices": out.accessor(chosen.ravel().astype(np.uint32), "SCALAR", _INDEX)}
        primitives.append(primitive | ({"targets": targets} if targets else {}))
    entry: dict[str, Any] = {"name": name, "primitives": primitives}
    if targets:
        entry |= {"weights": [0.0] * len(targets), "extras": {"targetNames": list(shapes)}}
    out.json["meshes"].append(entry)
    return {"name": name, "mesh": len(out.json["meshes"]) - 1} | ({"skin": 0} if skin is not None else {})


def _unit_sum(weights: np.ndarray) -> np.ndarray:
    out = weights.astype(np.float32).copy()
    out[:, 0] = np.float32(1.0) - out[:, 1:].sum(axis=1, dtype=np.float32)
    return out
