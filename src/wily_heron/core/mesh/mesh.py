"""The mesh every room works on: welded points, triangles, and what the source file said about corners."""

from dataclasses import dataclass, field, replace

import numpy as np


@dataclass(frozen=True)
class Material:
    """A named surface: base colour (linear RGB, 0..1), roughness and metalness (0..1), and the names of its textures, if any.

    `rough_map` holds roughness in green and metalness in blue, as glTF 2.0 has it.
    """

    name: str
    colour: tuple[float, float, float] = (0.6, 0.6, 0.6)
    roughness: float = 0.8
    metal: float = 0.0
    colour_map: str | None = None
    normal_map: str | None = None
    rough_map: str | None = None

    def maps(self) -> tuple[str, ...]:
        """Return the names of the textures it asks for."""
        return tuple(m for m in (self.colour_map, self.normal_map, self.rough_map) if m)


@dataclass(frozen=True)
class Mesh:
    """Welded `points` (n, 3) float32 and `triangles` (m, 3) int32; per triangle its material and source polygon.

    `corner_uv` is `(m, 3, 2) float32` or None: texture coordinates live on corners, so that seams need no split points.
    `corner_fold` is `(m, 3) uint8` or None: corners of a point with the same number share one normal, so that a sharp fold in the
    source needs no split points either. `received` is `(n,) int32` or None: the row of the received mesh each point came from.
    """

    points: np.ndarray
    triangles: np.ndarray
    corner_uv: np.ndarray | None = None
    triangle_material: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    polygon: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    materials: tuple[Material, ...] = (Material("cloth"),)
    corner_fold: np.ndarray | None = None
    received: np.ndarray | None = None

    def __post_init__(self) -> None:
        if len(self.triangle_material) != len(self.triangles):
            object.__setattr__(self, "triangle_material", np.zeros(len(self.triangles), np.int32))
        if len(self.polygon) != len(self.triangles):
            object.__setattr__(self, "polygon", np.arange(len(self.triangles), dtype=np.int32))

    def moved(self, points: np.ndarray) -> "Mesh":
        """Return the same mesh with other `points` (n, 3)."""
        return replace(self, points=np.ascontiguousarray(points, np.float32))
