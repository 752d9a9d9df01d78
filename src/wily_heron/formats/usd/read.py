"""USD (.usda, .usdc, .usdz) to a model, in metres and Y up as the stage says.

The USD library runs in a process of its own with at most 4 GB and two minutes; only the layer that was brought in is opened.
"""

import json
import subprocess
import sys
import tempfile
import zipfile
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np

from ...core.errors import InputError
from ...core.figure.base.rotation_arrays import matrix_turns
from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.mesh.mesh import Material, Mesh
from ...core.mesh.ops.folds import corner_folds
from ...core.mesh.ops.weld import fans
from ...core.model.model import Model, Texture
from ...core.motion.motion import Motion
from ..beside import Beside, plain_name
from ..images.textures import MEDIA, read_texture

_SECONDS = 120
_UNPACKED = 512 * 2**20
_LAYERS = (".usd", ".usda", ".usdc")


def read_usd(data: bytes, name: str, beside: Beside | None = None) -> Model:
    """Return the model in a USD file; raises `InputError` for damage, layers kept elsewhere, and scenes without a mesh."""
    beside = dict(beside or {})
    ending = Path(name).suffix.lower()
    if ending == ".usdz":
        data, ending, beside = _package(data, name)
    if not (data[:8] == b"PXR-USDC" or data[:5] == b"#usda"):
        raise _wrong(name, "the file is empty" if not data else "it does not begin as a USD file does")
    with tempfile.TemporaryDirectory() as folder:
        layer, out = Path(folder) / f"layer{ending}", Path(folder) / "out.npz"
        layer.write_bytes(data)
        try:
            done = subprocess.run([sys.executable, "-m", "wily_heron.formats.usd.child", str(layer), str(out)], capture_output=True,
                                  timeout=_SECONDS, cwd=Path(__file__).parents[3], check=False)
        except subprocess.TimeoutExpired:
            raise _wrong(name, f"reading it takes more than {_SECONDS} s") from None
        if done.returncode or not out.is_file():
            raise _wrong(name, "it is damaged, or asks for more than 4 GB of memory")
        with np.load(out) as arrays:
            found = {k: arrays[k] for k in arrays.files}
    notes = json.loads(found.pop("notes").tobytes())
    if "problem" in notes:
        raise _wrong(name, notes["problem"])
    if not notes["meshes"]:
        raise _wrong(name, "the stage holds no mesh")
    return _Stage(name, found, notes, beside).model()


def _wrong(name: str, what: str) -> InputError:
    return InputError(what=what, where=name, todo="Export it again as one flattened .usdc, .usda or .usdz.")


def _package(data: bytes, name: str) -> tuple[bytes, str, dict[str, bytes]]:
    """Return the root layer of a .usdz, its ending, and the textures inside by plain name."""
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            entries = archive.infolist()
            root = next((e for e in entries if e.filename.lower().endswith(_LAYERS)), None)
            if root is None or len(entries) > 500:
                raise _wrong(name, "it holds no layer")
            wanted = [root, *(e for e in entries if e.filename.lower().endswith(tuple(MEDIA)))]
            if sum(e.file_size for e in wanted) > _UNPACKED:
                raise _wrong(name, f"it swells to {sum(e.file_size for e in wanted) / 2**20:.0f} MB when unpacked")
            read = {e.filename: archive.read(e) for e in wanted}
    except (zipfile.BadZipFile, NotImplementedError, EOFError, OSError, ValueError, RuntimeError) as error:
        raise _wrong(name, f"it cannot be unpacked ({error})") from None
    return read.pop(root.filename), Path(root.filename).suffix.lower(), {plain_name(k): v for k, v in read.items()}


@dataclass
class _Stage:
    """What the child process found, to be put together."""

    name: str
    arrays: dict[str, np.ndarray]
    notes: dict[str, Any]
    beside: dict[str, bytes]

    def model(self) -> Model:
        """Return the model, in metres, Y up."""
        skeleton, first_joint = self._skeleton()
        points, triangles, uvs, normals, polygons, material, objects, joints, weights = [], [], [], [], [], [], [], [], []
        names = tuple(dict.fromkeys(n for m in self.notes["meshes"] for n, _ in m.get("morphs", [])))
        moves: list[tuple[int, np.ndarray, np.ndarray]] = []
        at = faces = 0
        for number, entry in enumerate(self.notes["meshes"]):
            p, t, source, corner, linear = self._placed(entry)
            n = len(p)
            points.append(p)
            triangles.append(t + at)
            polygons.append(source + faces)
            faces += len(self._of(entry, "counts"))
            uvs.append(self._corner(entry, "uv", corner))
            facing = self._corner(entry, "normals", corner)
            normals.append(None if facing is None else facing @ np.linalg.pinv(linear))
            material.append(self._of(entry, "material")[source])
            objects.append(np.full(len(t), number, np.int32))
            rows, shares = self._weights(entry, n, first_joint)
            joints.append(rows)
            weights.append(shares)
            for label, k in entry.get("morphs", []):
                moves.append((names.index(label), at + self._of(entry, f"rows{k}"), self._of(entry, f"moves{k}") @ linear.T))
            at += n
        deltas = np.zeros((len(names), at, 3), np.float32)
        for k, rows, offsets in moves:
            deltas[k, rows] = offsets
        t = np.concatenate(triangles).astype(np.int32)
        uv = None
        if any(u is not None for u in uvs):
            filled = [np.zeros((*x.shape, 2)) if u is None else u for u, x in zip(uvs, triangles, strict=True)]
            uv = np.concatenate(filled).astype(np.float32)
        fold = corner_folds(t, np.concatenate([x for x in normals if x is not None])) if all(x is not None for x in normals) else None
        kinds, which = np.unique(np.concatenate(material), return_inverse=True)
        materials, textures = self._materials(kinds)
        mesh = Mesh(np.concatenate(points).astype(np.float32), t, uv, which.astype(np.int32), np.concatenate(polygons).astype(np.int32),
                    materials, fold)
        skin = Skin(np.concatenate(joints), np.concatenate(weights)) if skeleton else None
        model = Model(mesh, skeleton, skin, names, deltas, self._clips(skeleton), textures,
                      tuple(str(m["name"])[:80] for m in self.notes["meshes"]), np.concatenate(objects))
        return model.scaled(float(self.notes["metres"]), self.notes["up"] == "z")

    def _of(self, entry: dict[str, Any], what: str) -> np.ndarray:
        return self.arrays[f"{entry['key']}_{what}"]

    def _placed(self, entry: dict[str, Any]):
        matrix = self._of(entry, "bind" if "skeleton" in entry else "world")
        points = self._of(entry, "points") @ matrix[:3, :3].T + matrix[:3, 3]
        indices = self._of(entry, "indices")
        corner, source = fans(np.arange(len(indices)), self._of(entry, "counts"))
        if entry["left"] != (np.linalg.det(matrix[:3, :3]) < 0):
            corner = corner[:, [0, 2, 1]]
        if not np.isfinite(points).all() or np.abs(points).max() > 1e9:
            raise _wrong(self.name, f"{entry['name']} stands beyond all measure")
        return points, indices[corner], source, corner, matrix[:3, :3]

    def _corner(self, entry: dict[str, Any], what: str, corner: np.ndarray) -> np.ndarray | None:
        values = self.arrays.get(f"{entry['key']}_{what}")
        return None if values is None else values[corner]

    def _skeleton(self) -> tuple[Skeleton | None, list[int]]:
        """Return all skeletons as one, and the first joint of each in it."""
        names, parents, places, first = [], [], [], []
        for k, entry in enumerate(self.notes["skeletons"]):
            first.append(len(names))
            parents += [p + first[-1] if p >= 0 else -1 for p in entry["parents"]]
            places.append(self.arrays[f"s{k}_bind"][:, :3, 3])
            for joint in entry["joints"]:
                names.append(joint if joint not in names else f"{joint}.{len(names)}")
        if any(p >= i for i, p in enumerate(parents)):
            raise _wrong(self.name, "its joints do not stand in order, parents first")
        return (Skeleton(tuple(names), np.array(parents, np.int32), np.concatenate(places)) if names else None), first

    def _weights(self, entry: dict[str, Any], count: int, first_joint: list[int]) -> tuple[np.ndarray, np.ndarray]:
        if "skeleton" not in entry:
            return np.zeros((count, 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1))
        joints, weights = self._of(entry, "joints"), np.maximum(self._of(entry, "weights"), 0.0)
        pad = max(4 - joints.shape[1], 0)
        joints, weights = np.pad(joints, ((0, 0), (0, pad))), np.pad(weights, ((0, 0), (0, pad)))
        best = np.argsort(-weights, axis=1, kind="stable")[:, :4]
        joints, weights = np.take_along_axis(joints, best, axis=1), np.take_along_axis(weights, best, axis=1)
        total = weights.sum(axis=1, keepdims=True)
        weights = np.where(total > 1e-6, weights / np.maximum(total, 1e-6), [1.0, 0.0, 0.0, 0.0])
        return np.where(weights > 0, joints + first_joint[entry["skeleton"]], 0).astype(np.int32), weights.astype(np.float32)

    def _materials(self, kinds: np.ndarray) -> tuple[tuple[Material, ...], tuple[Texture, ...]]:
        by_number = {m["number"]: m for m in self.notes["materials"].values()}
        out, textures = [], {}
        for k in kinds.tolist():
            m = by_number[k]
            maps = {}
            for key in ("colour_map", "normal_map", "roughness_map"):
                if m.get(key):
                    maps[key] = label = plain_name(m[key])
                    if label in self.beside and label not in textures:
                        textures[label] = read_texture(self.beside[label], label)
            plain = (1.0, 1.0, 1.0) if "colour_map" in maps else (0.6, 0.6, 0.6)
            r, g, b = (_share(c) for c in m.get("colour", plain))
            out.append(Material(str(m["name"])[:80], (r, g, b), _share(m.get("roughness", 0.8)), _share(m.get("metal", 0.0)),
                                maps.get("colour_map"), maps.get("normal_map"), maps.get("roughness_map")))
        return tuple(out), tuple(textures.values())

    def _clips(self, skeleton: Skeleton | None) -> tuple[Motion, ...]:
        """Return the clips of the first skeleton: turns from the bind pose in world-aligned frames."""
        out = []
        for clip in self.notes["clips"]:
            if skeleton is None or clip["skeleton"] != 0:
                continue
            frames, bind = self.arrays["s0_frames"], self.arrays["s0_bind"]
            count = frames.shape[1]
            base = _unscaled(bind[:, :3, :3])
            turns = _unscaled(frames[..., :3, :3].reshape(-1, 3, 3)).reshape(len(frames), count, 3, 3) @ base.transpose(0, 2, 1)
            parents = skeleton.parents[:count]
            local = np.where((parents >= 0)[None, :, None, None],
                             turns[:, np.maximum(parents, 0)].transpose(0, 1, 3, 2) @ turns, turns)
            offsets = skeleton.positions - np.where(skeleton.parents[:, None] >= 0, skeleton.positions[np.maximum(skeleton.parents, 0)], 0)
            seconds = min(max(float(clip["seconds"]), 1e-3), 5.0)
            out.append(Motion(str(clip["name"])[:80], skeleton.names[:count], parents, offsets[:count], matrix_turns(local),
                              frames[:, 0, :3, 3] - bind[0, :3, 3], seconds))
        return tuple(out)


def _share(x: float) -> float:
    return min(max(float(x), 0.0), 1.0)


def _unscaled(m: np.ndarray) -> np.ndarray:
    return m / np.maximum(np.linalg.norm(m, axis=-2, keepdims=True), 1e-12)
