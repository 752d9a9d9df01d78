"""Small lit pictures of meshes on the CPU: thumbnails, trial cells, sheets."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.normals import vertex_normals
from .raster_kernels import rasterise, shade

PAPER = (0.953, 0.937, 0.894)


@dataclass(frozen=True)
class Sitter:
    """One mesh to draw: points (n, 3), triangles (m, 3), colour (3,) or per vertex (n, 3) in linear-ish 0..1."""

    points: np.ndarray
    triangles: np.ndarray
    colour: np.ndarray | tuple[float, float, float]


@dataclass(frozen=True)
class View:
    """An orthographic view: turned by `yaw` and `pitch` (radians), looking at `centre`, `height` metres from top to bottom."""

    centre: tuple[float, float, float]
    height: float
    yaw: float = 0.0
    pitch: float = 0.0

    def axes(self) -> np.ndarray:
        """Return rows right, up, towards-the-viewer."""
        cy, sy, cp, sp = np.cos(self.yaw), np.sin(self.yaw), np.cos(self.pitch), np.sin(self.pitch)
        towards = np.array([sy * cp, sp, cy * cp])
        right = np.array([cy, 0.0, -sy])
        return np.array([right, np.cross(towards, right), towards])


def picture(sitters: Sequence[Sitter], view: View, size: tuple[int, int], background=PAPER, supersample: int = 2,
            alpha: bool = False) -> np.ndarray:
    """Return an image `(h, w, 3) uint8` (or 4 channels with `alpha`) of the sitters under one soft key and sky light."""
    width, height = size[0] * supersample, size[1] * supersample
    axes, scale = view.axes(), height / view.height
    zbuffer = np.full((height, width), np.inf)
    face = np.full((height, width), -1, np.int64)
    bary = np.zeros((height, width, 3))
    offset, normals, colours, corners = 0, [], [], []
    points_seen = 0
    for s in sitters:
        local = (np.asarray(s.points, np.float64) - view.centre) @ axes.T
        xy = np.stack([width / 2 + local[:, 0] * scale, height / 2 - local[:, 1] * scale], axis=1)
        tags = np.arange(offset, offset + len(s.triangles))
        rasterise(xy, -local[:, 2], s.triangles, tags, zbuffer, face, bary)
        offset += len(s.triangles)
        normals.append(vertex_normals(s.points, s.triangles))
        colours.append(np.broadcast_to(np.asarray(s.colour, np.float64), (len(s.points), 3)))
        corners.append(s.triangles + points_seen)
        points_seen += len(s.points)
    normal, colour, corner = np.concatenate(normals), np.concatenate(colours), np.concatenate(corners)
    lights = np.stack([axes[2], axes.T @ np.array([-0.45, 0.62, 0.64]), axes.T @ np.array([0.80, 0.10, 0.45])])
    shaded = np.zeros((size[1], size[0], 4))
    shade(face, bary, corner, normal, colour, lights, np.asarray(background, np.float64), supersample, shaded)
    image, cover = shaded[:, :, :3], shaded[:, :, 3:]
    if not alpha:
        return (np.clip(image, 0, 1) * 255 + 0.5).astype(np.uint8)
    solid = np.clip((image - (1 - cover) * np.asarray(background)) / np.maximum(cover, 1e-6), 0, 1)
    return (np.concatenate([solid, cover], axis=2) * 255 + 0.5).astype(np.uint8)
