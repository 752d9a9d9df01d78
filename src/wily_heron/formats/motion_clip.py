"""A motion as a glTF animation on the packed wearer's joints."""

from typing import Any

import numpy as np

from ..core.figure.body import Body, shaped
from ..core.figure.correctives import driven_values
from ..core.figure.motion import Motion
from ..core.figure.pose import stand_on_floor
from .glb import GlbWriter


def motion_clip(out: GlbWriter, body: Body, motion: Motion, mesh_nodes: list[int]) -> dict[str, Any]:
    """Return the animation: rotations of the joints that turn, the root's path, and the shapes that the bends drive.

    The root goes over the floor as the motion says; its height is such that the lowest of the body is on the floor, frame by frame.
    """
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
    driven = np.array([driven_values(body, pose) for pose in poses])
    if driven.any():
        for node in mesh_nodes:
            keys(node, "weights", driven.reshape(-1), "SCALAR")
    return {"name": motion.name, "samplers": samplers, "channels": channels}
