"""Skins and animations of a glTF file as one skeleton with world-aligned rest frames at the bind pose."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ...core.figure.base.rotation_arrays import matrix_turns, turn_matrices
from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.motion.motion import Motion
from .file import damaged
from .glb import GlbReader

_JOINTS = 1000
_FRAMES = 5000
_RATE = 30.0


@dataclass(frozen=True)
class Rig:
    """The joints of all skins together: the skeleton, its joint for a node, the joints each skin lists, bind matrices (j, 4, 4)."""

    skeleton: Skeleton
    of_node: dict[int, int]
    joints_of: dict[int, np.ndarray]
    bind: np.ndarray
    worlds: dict[int, tuple[np.ndarray, int]]


def read_rig(reader: GlbReader, worlds: dict[int, tuple[np.ndarray, int]]) -> Rig | None:
    """Return the joints of the file's skins, None if it has none; `worlds` are node matrices and parents, parents first."""
    skins, nodes = reader.json.get("skins", []), reader.json.get("nodes", [])
    if not skins:
        return None
    bind: dict[int, np.ndarray] = {}
    try:
        for skin in skins:
            listed = [int(j) for j in skin["joints"]]
            inverse = reader.array(skin["inverseBindMatrices"]).reshape(-1, 4, 4) if "inverseBindMatrices" in skin else None
            for k, node in enumerate(listed):
                if node not in bind and node in worlds:
                    bind[node] = np.eye(4) if inverse is None else np.linalg.inv(inverse[k].T.astype(np.float64))
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, np.linalg.LinAlgError):
        raise damaged(reader.name, "its skin cannot be read") from None
    order = [node for node in worlds if node in bind]
    if not order or len(order) > _JOINTS:
        raise damaged(reader.name, f"its skins have {len(order)} joints in the scene; 1 to {_JOINTS} can be read")
    of_node = {node: j for j, node in enumerate(order)}
    parents, names = [], []
    for node in order:
        above = worlds[node][1]
        while above >= 0 and above not in of_node:
            above = worlds[above][1]
        parents.append(of_node.get(above, -1))
        names.append(_unique(str(nodes[node].get("name") or f"joint {node}")[:80], names))
    matrices = np.array([bind[node] for node in order])
    skeleton = Skeleton(tuple(names), np.array(parents, np.int32), matrices[:, :3, 3].copy())
    joints_of = {k: np.array([of_node.get(int(j), 0) for j in skin["joints"]], np.int32) for k, skin in enumerate(skins)}
    return Rig(skeleton, of_node, joints_of, matrices, worlds)


def skin_rows(reader: GlbReader, attributes: dict[str, Any], count: int, joints: np.ndarray) -> Skin:
    """Return the weights of a primitive's points on the rig's joints, the four greatest of all sets, sum 1."""
    rows, shares = [], []
    for k in range(4):
        if f"JOINTS_{k}" not in attributes or f"WEIGHTS_{k}" not in attributes:
            break
        row, share = reader.array(attributes[f"JOINTS_{k}"]), reader.array(attributes[f"WEIGHTS_{k}"])
        if row.shape != (count, 4) or share.shape != (count, 4):
            raise damaged(reader.name, "its weights do not match its points")
        scale = {np.dtype(np.uint8): 255.0, np.dtype(np.uint16): 65535.0}.get(share.dtype, 1.0)
        rows.append(row.astype(np.int64))
        shares.append(np.maximum(share.astype(np.float64) / scale, 0.0))
    row, share = np.concatenate(rows, axis=1), np.concatenate(shares, axis=1)
    if row.size and ((row >= len(joints)) & (share > 0)).any():
        raise damaged(reader.name, f"a point follows joint {int(row.max())} of {len(joints)}")
    best = np.argsort(-share, axis=1, kind="stable")[:, :4]
    row, share = np.take_along_axis(row, best, axis=1), np.take_along_axis(share, best, axis=1)
    total = share.sum(axis=1, keepdims=True)
    share = np.where(total > 1e-6, share / np.maximum(total, 1e-6), [1.0, 0.0, 0.0, 0.0])
    return Skin(np.where(share > 0, joints[np.minimum(row, len(joints) - 1)], 0).astype(np.int32), share.astype(np.float32))


def read_clips(reader: GlbReader, rig: Rig) -> tuple[Motion, ...]:
    """Return the file's animations of its joints, 30 frames a second, as turns from the bind pose in world-aligned frames."""
    out: list[Motion] = []
    entries = reader.json.get("animations", [])
    for k, entry in enumerate(entries if isinstance(entries, list) else []):
        try:
            clip = _clip(reader, rig, entry, str(entry.get("name") or f"clip {k + 1}")[:80])
        except (KeyError, TypeError, ValueError, IndexError, AttributeError):
            raise damaged(reader.name, f"its animation {k + 1} cannot be read") from None
        if clip is not None:
            out.append(clip)
    return tuple(out)


def _clip(reader: GlbReader, rig: Rig, entry: dict[str, Any], name: str) -> Motion | None:
    tracks: dict[tuple[int, str], tuple[np.ndarray, np.ndarray, str]] = {}
    for channel in entry["channels"]:
        node, path, sampler = channel["target"].get("node"), channel["target"]["path"], entry["samplers"][int(channel["sampler"])]
        if path not in ("translation", "rotation", "scale") or node is None:
            continue
        times, values = reader.array(sampler["input"]).ravel().astype(np.float64), reader.array(sampler["output"])
        way = sampler.get("interpolation", "LINEAR")
        if way == "CUBICSPLINE":
            values, way = values.reshape(len(times), 3, -1)[:, 1], "LINEAR"  # read at its keys; between them on a line
        if len(values) != len(times) or not len(times):
            raise ValueError(name)
        scale = {np.dtype(np.int8): 127.0, np.dtype(np.uint8): 255.0, np.dtype(np.int16): 32767.0,
                 np.dtype(np.uint16): 65535.0}.get(values.dtype, 1.0)
        tracks[int(node), path] = times, values.astype(np.float64) / scale, way
    if not any(node in rig.of_node for node, _ in tracks):
        return None
    return _sampled(reader, rig, tracks, _frame_times([t[0] for t in tracks.values()]), name)


def _frame_times(keys: list[np.ndarray]) -> np.ndarray:
    """Return the longest track's own times where they are even, else 30 a second."""
    longest = max(keys, key=len)[:_FRAMES]
    start, end = min(k[0] for k in keys), max(k[-1] for k in keys)
    step = np.diff(longest)
    if len(step) and step.min() > 1e-3 and np.ptp(step) < 1e-3 * step.max() and longest[0] == start and longest[-1] == end:
        return longest
    return start + np.arange(min(round((end - start) * _RATE) + 1, _FRAMES)) / _RATE


def _sampled(reader: GlbReader, rig: Rig, tracks, at: np.ndarray, name: str) -> Motion:
    nodes, frames = reader.json["nodes"], len(at)
    needed: set[int] = set()
    for node in rig.of_node:
        while node >= 0 and node not in needed:
            needed.add(node)
            node = rig.worlds[node][1]
    world: dict[int, np.ndarray] = {}
    joints, base = len(rig.of_node), rig.bind[:, :3, :3]
    turns, places = np.zeros((frames, joints, 3, 3)), np.zeros((frames, joints, 3))
    for node in (n for n in rig.worlds if n in needed):
        local = _locals(nodes[node], node, tracks, at)
        parent = rig.worlds[node][1]
        world[node] = world[parent] @ local if parent >= 0 else local
        if node in rig.of_node:
            j = rig.of_node[node]
            turns[:, j] = _unscaled(world[node][:, :3, :3]) @ _unscaled(base[j][None])[0].T
            places[:, j] = world[node][:, :3, 3]
    skeleton = rig.skeleton
    local_turns = np.zeros((frames, joints, 4))
    for j, parent in enumerate(skeleton.parents):
        about = turns[:, j] if parent < 0 else turns[:, parent].transpose(0, 2, 1) @ turns[:, j]
        local_turns[:, j] = matrix_turns(about)
    offsets = skeleton.positions - np.where(skeleton.parents[:, None] >= 0, skeleton.positions[np.maximum(skeleton.parents, 0)], 0.0)
    return Motion(name, skeleton.names, skeleton.parents, offsets, local_turns, places[:, 0] - skeleton.positions[0],
                  float(at[1] - at[0]) if len(at) > 1 else 1.0 / _RATE)


def _locals(node: dict[str, Any], index: int, tracks, at: np.ndarray) -> np.ndarray:
    if "matrix" in node and not any((index, p) in tracks for p in ("translation", "rotation", "scale")):
        return np.repeat(np.array(node["matrix"], float).reshape(1, 4, 4).transpose(0, 2, 1), len(at), axis=0)

    def track(path: str, default: tuple[float, ...]) -> np.ndarray:
        if (index, path) not in tracks:
            return np.repeat(np.array([node.get(path, default)], float), len(at), axis=0)
        times, values, way = tracks[index, path]
        after = np.clip(np.searchsorted(times, at, side="right"), 1, max(len(times) - 1, 1))
        if way == "STEP" or len(times) == 1:
            return values[np.clip(np.searchsorted(times, at + 1e-9, side="right") - 1, 0, len(times) - 1)]
        a, b = values[after - 1], values[after]
        t = np.clip((at - times[after - 1]) / np.maximum(times[after] - times[after - 1], 1e-9), 0.0, 1.0)[:, None]
        if path == "rotation":
            b = np.where(np.sum(a * b, axis=1, keepdims=True) < 0, -b, b)
        return a + t * (b - a)

    out = np.tile(np.eye(4), (len(at), 1, 1))
    out[:, :3, :3] = turn_matrices(track("rotation", (0, 0, 0, 1))) * track("scale", (1, 1, 1))[:, None, :]
    out[:, :3, 3] = track("translation", (0, 0, 0))
    return out


def _unscaled(m: np.ndarray) -> np.ndarray:
    return m / np.maximum(np.linalg.norm(m, axis=1, keepdims=True), 1e-12)


def _unique(name: str, taken: list[str]) -> str:
    made, n = name, 2
    while made in taken:
        made, n = f"{name}.{n}", n + 1
    return made
