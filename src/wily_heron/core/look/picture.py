"""Small lit pictures of meshes on the CPU: thumbnails, trial cells, sheets."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.normals import vertex_normals
from .raster_kernels import project, rasterise, shade

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
    ways = scale * axes * np.array([1, -1, -1])[:, None]
    middle = np.array([width / 2, height / 2, 0.0]) - ways @ view.centre
    zbuffer, face = np.full((height, width), np.inf, np.float32), np.full((height, width), -1, np.int32)
    count, drawn, placed = sum(len(s.points) for s in sitters), 0, 0
    screen, normal, colour, corners = np.empty((count, 3)), np.empty((count, 3)), np.empty((count, 3)), []
    for s in reversed(sitters):  # what is worn over others hides most of them
        mine = slice(placed, placed + len(s.points))
        project(np.asarray(s.points, np.float64), ways, middle, screen[mine])
        triangles = np.ascontiguousarray(s.triangles)
        rasterise(screen[mine], triangles, drawn, zbuffer, face)
        normal[mine], colour[mine] = vertex_normals(s.points, s.triangles), s.colour
        corners.append(triangles + placed)
        drawn, placed = drawn + len(s.triangles), mine.stop
    lights = np.stack([axes[2], axes.T @ np.array([-0.45, 0.62, 0.64]), axes.T @ np.array([0.80, 0.10, 0.45])])
    image = np.empty((size[1], size[0], 4 if alpha else 3), np.uint8)
    shade(face, screen, np.concatenate(corners), normal, colour, lights, np.asarray(background, np.float64), supersample, image)
    return image
