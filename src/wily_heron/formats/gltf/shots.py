"""Shots as the cameras of a glTF file: read from any scene that holds cameras, written as a scene of cameras alone."""

from collections.abc import Sequence

import numpy as np
from pydantic import ValidationError

from ...core.clearance.find.shots import Shot
from ...core.errors import InputError
from ..beside import Beside
from .file import damaged, listed, open_gltf
from .glb import GlbWriter
from .scene import node_worlds

_MOST = 200
_MIDDLE = np.array([0.0, 0.9, 0.0])
"""What a camera's target lies level with: the middle of a figure (metres)."""


def read_shots(data: bytes, name: str, beside: Beside | None = None) -> list[Shot]:
    """Return the perspective cameras of a .glb or .gltf where its scene puts them, as they stand at its beginning.

    Raises `InputError` for a damaged file and where there is no such camera.
    """
    reader = open_gltf(data, name, beside or {})
    nodes, cameras = listed(reader, "nodes"), listed(reader, "cameras")
    out: list[Shot] = []
    for index, (world, _) in node_worlds(reader).items():
        held = nodes[index].get("camera")
        if not isinstance(held, int) or not 0 <= held < len(cameras) or not isinstance(cameras[held].get("perspective"), dict):
            continue
        camera, lens = cameras[held], cameras[held]["perspective"]
        eye, up, ahead = world[:3, 3], world[:3, 1], -world[:3, 2]
        called = str(nodes[index].get("name") or camera.get("name") or f"Camera {len(out) + 1}")[:60]
        try:
            ahead = ahead / np.linalg.norm(ahead)
            away = max(0.5, float(ahead @ (_MIDDLE - eye)))
            places = {"eye": eye, "target": eye + away * ahead, "up": up / np.linalg.norm(up)}
            turned = {k: tuple(round(float(x), 6) for x in v) for k, v in places.items()}
            out.append(Shot.model_validate({"name": called, **turned, "lens": lens["yfov"], "frame": lens.get("aspectRatio") or 16 / 9}))
        except (ValidationError, KeyError, TypeError, ValueError):
            raise damaged(name, f"the camera of {called} cannot be read") from None
    if not out:
        raise InputError(what="it holds no camera with perspective", where=name, todo="Export the scene with its cameras as glTF (.glb).")
    if len(out) > _MOST:
        raise InputError(what=f"it holds {len(out)} cameras", where=name, todo=f"Export at most {_MOST} at a time.")
    return out


def write_shots(shots: Sequence[Shot]) -> bytes:
    """Return a .glb that holds the shots as cameras, a node each, and nothing else."""
    out = GlbWriter()
    nodes, cameras = [], []
    for k, shot in enumerate(shots):
        back = np.subtract(shot.eye, shot.target)
        back = back / np.linalg.norm(back)
        side = np.cross(shot.up, back)
        side /= np.linalg.norm(side)
        matrix = np.eye(4)
        matrix[:3] = np.stack([side, np.cross(back, side), back, shot.eye], axis=1)
        nodes.append({"name": shot.name, "camera": k, "matrix": matrix.T.ravel().tolist()})
        lens = {"yfov": shot.lens, "aspectRatio": shot.frame, "znear": 0.01}
        cameras.append({"type": "perspective", "name": shot.name, "perspective": lens})
    out.json.update(nodes=nodes, cameras=cameras, scene=0, scenes=[{"nodes": list(range(len(nodes)))}])
    return out.bytes()
