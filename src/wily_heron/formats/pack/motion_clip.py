"""A motion as a glTF animation on the packed wearer's joints."""

from typing import Any

import numpy as np

from ...core.figure.base.body import shaped
from ...core.figure.base.rotation_arrays import matrix_turns
from ...core.figure.base.skeleton import skin_matrices, world_matrices
from ...core.figure.correctives import driven_values
from ...core.model.pack import Pack
from ...core.model.riders import rider_frames
from ...core.model.worn import fix_values, rider_change, yield_values
from ...core.motion.motion import Motion
from ...core.motion.pose import stand_on_floor
from ..gltf.glb import GlbWriter
from .riders import PackedRiders


def motion_clip(out: GlbWriter, pack: Pack, riders: PackedRiders, motion: Motion, first_mesh: int) -> dict[str, Any]:
    """Return the animation: rotations of the joints that turn, the root's path, what the pieces' own joints do, and the shapes and
    correctives that the bends drive.

    The root goes over the floor as the motion says; its height is such that the lowest of the body is on the floor, frame by frame.
    """
    body = pack.body
    wearer = shaped(body, body.made_at)
    poses = [motion.pose(f) for f in range(len(motion.rotations))]
    time = out.accessor(np.arange(len(poses), dtype=np.float32) * np.float32(motion.seconds), "SCALAR", bounds=True)
    samplers: list[dict[str, Any]] = []
    channels: list[dict[str, Any]] = []

    def keys(node: int, path: str, values: np.ndarray, kind: str) -> None:
        samplers.append({"input": time, "interpolation": "LINEAR", "output": out.accessor(values.astype(np.float32), kind)})
        channels.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})

    for node, name in enumerate(body.skeleton.names):
        turns = motion.rotations[:, motion.names.index(name)] if name in motion.names else None
        if turns is not None and np.abs(turns[:, 3]).min() < 1.0 - 1e-9:
            keys(node, "rotation", turns / np.linalg.norm(turns, axis=1, keepdims=True), "VEC4")
    path = motion.root * [1.0, 0.0, 1.0] + np.array([stand_on_floor(wearer, pose) for pose in poses])
    keys(0, "translation", body.skeleton.positions[0] + path, "VEC3")
    if riders.names:
        matrices = [skin_matrices(wearer.skeleton, world_matrices(wearer.skeleton, pose.rotations, root))
                    for pose, root in zip(poses, path, strict=True)]
        moving = [rider_frames(p.piece.riders, [rider_change(p.piece, wearer, pose) for pose in poses], matrices, motion.seconds)
                  for p in pack.pieces if p.piece.riders is not None]
        local = np.array([riders.locals(np.concatenate([m, *(frames[f] for frames in moving)]), body.skeleton.parents)
                          for f, m in enumerate(matrices)])
        for node in range(len(body.skeleton.names), local.shape[1]):
            keys(node, "translation", local[:, node, :3, 3], "VEC3")
            keys(node, "rotation", _unflipped(matrix_turns(local[:, node, :3, :3])), "VEC4")
    driven = np.array([driven_values(body, pose) for pose in poses])
    own = [np.array([np.concatenate([yield_values(p.piece, wearer, pose.rotations) for p in pack.pieces] or [[]]) for pose in poses])]
    own += [np.array([fix_values(p.piece, wearer, pose.rotations) for pose in poses]) for p in pack.pieces]
    if driven.any() or any(f.any() for f in own):
        for k, more in enumerate(own):
            keys(first_mesh + k, "weights", np.concatenate([driven, more], axis=1).reshape(-1), "SCALAR")
    return {"name": motion.name, "samplers": samplers, "channels": channels}


def _unflipped(turns: np.ndarray) -> np.ndarray:
    """Return quaternions (f, 4) with signs such that each goes the short way on from the one before it."""
    sign = np.where(np.sum(turns[1:] * turns[:-1], axis=1) < 0, -1.0, 1.0)
    return turns * np.concatenate([[1.0], np.cumprod(sign)])[:, None]
