"""The mesh every room works on: welded points, triangles, and what the source file said about corners."""

from dataclasses import dataclass, field, replace

import numpy as np


@dataclass(frozen=True)
class Material:
    """A named surface: base colour (linear RGB, 0..1), roughness and metalness (0..1)."""

    name: str
    colour: tuple[float, float, float] = (0.6, 0.6, 0.6)
    roughness: float = 0.8
    metal: float = 0.0


@dataclass(frozen=True)
class Mesh:
    """Welded `points` (n, 3) float32 and `triangles` (m, 3) int32; per triangle its material and source polygon.

    `corner_uv` is `(m, 3, 2) float32` or None: texture coordinates live on corners, so that seams need no split points.
    """

    points: np.ndarray
    triangles: np.ndarray
    corner_uv: np.ndarray | None = None
    triangle_material: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    polygon: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    materials: tuple[Material, ...] = (Material("cloth"),)

    def __post_init__(self) -> None:
        if len(self.triangle_material) != len(self.triangles):
            object.__setattr__(self, "triangle_material", np.zeros(len(self.triangles), np.int32))
        if len(self.polygon) != len(self.triangles):
            object.__setattr__(self, "polygon", np.arange(len(self.triangles), dtype=np.int32))

    def moved(self, points: np.ndarray) -> "Mesh":
        """Return the same mesh with other `points` (n, 3)."""
        return replace(self, points=np.ascontiguousarray(points, np.float32))
