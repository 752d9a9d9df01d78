"""Small lit pictures of meshes on the CPU: thumbnails, trial cells, sheets."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.normals import vertex_normals
from .raster_kernels import rasterise

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
    image = np.empty((height, width, 3))
    image[:] = background
    seen = face >= 0
    index, weight = corner[face[seen]], bary[seen][:, :, None]
    n = np.sum(normal[index] * weight, axis=1)
    n /= np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-12)
    n *= np.where(n @ axes[2] < 0, -1.0, 1.0)[:, None]
    base = np.sum(colour[index] * weight, axis=1)
    key = axes.T @ np.array([-0.45, 0.62, 0.64])
    fill = axes.T @ np.array([0.80, 0.10, 0.45])
    light = 0.42 + 0.12 * n[:, 1] + 0.66 * np.maximum(n @ key, 0.0) + 0.16 * np.maximum(n @ fill, 0.0)
    rim = (1.0 - np.abs(n @ axes[2])) ** 3
    image[seen] = np.clip(base * light[:, None] * (1.0 - 0.25 * rim[:, None]) + 0.02, 0.0, 1.0)
    image = image.reshape(size[1], supersample, size[0], supersample, 3).mean(axis=(1, 3))
    out = (np.clip(image, 0, 1) * 255 + 0.5).astype(np.uint8)
    if not alpha:
        return out
    cover = seen.reshape(size[1], supersample, size[0], supersample).mean(axis=(1, 3))
    solid = np.clip((image - (1 - cover[:, :, None]) * np.asarray(background)) / np.maximum(cover, 1e-6)[:, :, None], 0, 1)
    return np.concatenate([(solid * 255 + 0.5).astype(np.uint8), (cover[:, :, None] * 255 + 0.5).astype(np.uint8)], axis=2)
