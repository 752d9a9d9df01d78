"""A reader of its own that evaluates a .glb by the glTF 2.0 rules alone; shares no code with the product."""

import json
import struct

import numpy as np

_TYPES = {5121: "u1", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDTH = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


class Gltf:
    def __init__(self, data: bytes) -> None:
        length = struct.unpack_from("<I", data, 12)[0]
        self.json = json.loads(data[20:20 + length])
        self.binary = data[28 + length:]

    def accessor(self, index: int) -> np.ndarray:
        a = self.json["accessors"][index]
        width = _WIDTH[a["type"]]
        out = np.zeros((a["count"], width), _TYPES[a["componentType"]])
        if "bufferView" in a:
            out = self._read(a, a["componentType"], a["count"], width)
        if "sparse" in a:
            s = a["sparse"]
            rows = self._read(s["indices"], s["indices"]["componentType"], s["count"], 1)[:, 0]
            out[rows] = self._read(s["values"], a["componentType"], s["count"], width)
        return out

    def _read(self, where: dict, kind: int, count: int, width: int) -> np.ndarray:
        start = self.json["bufferViews"][where["bufferView"]].get("byteOffset", 0) + where.get("byteOffset", 0)
        return np.frombuffer(self.binary, _TYPES[kind], count * width, start).reshape(count, width)

    def node(self, name: str) -> int:
        return next(i for i, n in enumerate(self.json["nodes"]) if n["name"] == name)

    def clip(self, name: str) -> dict[tuple[int, str], np.ndarray]:
        """The values a clip gives at its only key, by node and path."""
        clip = next(c for c in self.json["animations"] if c["name"] == name)
        return {(c["target"]["node"], c["target"]["path"]): self.accessor(clip["samplers"][c["sampler"]]["output"])
                for c in clip["channels"]}

    def _world(self, animated: dict) -> list[np.ndarray]:
        nodes = self.json["nodes"]
        parents = {child: i for i, n in enumerate(nodes) for child in n.get("children", [])}
        local = []
        for i, n in enumerate(nodes):
            t = animated.get((i, "translation"), np.array([n.get("translation", [0, 0, 0])]))[0]
            x, y, z, w = np.asarray(animated.get((i, "rotation"), np.array([n.get("rotation", [0, 0, 0, 1])]))[0], float)
            m = np.eye(4)
            m[:3, :3] = [[1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
                         [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
                         [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]]
            m[:3, 3] = t
            local.append(m)

        def up(i: int) -> np.ndarray:
            return up(parents[i]) @ local[i] if i in parents else local[i]

        return [up(i) for i in range(len(nodes))]

    def skinned(self, node_name: str, clip: str | None = None) -> np.ndarray:
        """Positions (v, 3) of a skinned node's vertices under a clip: morph, then linear blend by joint world x inverse bind."""
        animated = self.clip(clip) if clip else {}
        at = self.node(node_name)
        mesh = self.json["meshes"][self.json["nodes"][at]["mesh"]]
        primitive = mesh["primitives"][0]
        points = self.accessor(primitive["attributes"]["POSITION"]).astype(float)
        weights = animated.get((at, "weights"), np.array(mesh.get("weights", []))).ravel()
        for weight, target in zip(weights, primitive.get("targets", []), strict=True):
            points = points + weight * self.accessor(target["POSITION"])
        if "skin" not in self.json["nodes"][at]:  # it moves with the node it hangs from
            matrix = self._world(animated)[at]
            return points @ matrix[:3, :3].T + matrix[:3, 3]
        skin = self.json["skins"][self.json["nodes"][at]["skin"]]
        inverse = self.accessor(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1).astype(float)
        world = self._world(animated)
        matrices = np.array([world[j] @ inverse[k] for k, j in enumerate(skin["joints"])])
        sets = [k for k in range(4) if f"JOINTS_{k}" in primitive["attributes"]]
        joints, shares = (np.concatenate([self.accessor(primitive["attributes"][f"{what}_{k}"]) for k in sets], axis=1)
                          for what in ("JOINTS", "WEIGHTS"))
        blended = np.einsum("vk,vkab->vab", shares, matrices[joints])
        return np.einsum("vab,vb->va", blended, np.concatenate([points, np.ones((len(points), 1))], axis=1))[:, :3]
