"""What a received file holds: a mesh and, where it brings them, skeleton, weights, morphs, clips and textures."""

from dataclasses import dataclass, field, replace

import numpy as np

from ..figure.base.skeleton import Skeleton, Skin
from ..mesh.mesh import Mesh
from ..mesh.ops.subset import turned_over, with_triangles, without_unused
from ..motion.motion import Motion

LYING = np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]])
"""Takes Z up to Y up."""
MIRRORED = np.diag([-1.0, 1.0, 1.0])
TURNED = np.diag([-1.0, 1.0, -1.0])


@dataclass(frozen=True)
class Texture:
    """A picture by the name materials know it under, its bytes as they came, and its media type."""

    name: str
    data: bytes
    media: str


@dataclass(frozen=True)
class Model:
    """A mesh in its file's own units, points welded, with what came with it.

    `skin` (n, 4) rides on `skeleton`, whose rest frames are world-aligned at the bind pose; `deltas` (k, n, 3) float32 belong to
    `morphs`; `triangle_object` (m,) tells which of the file's named `objects` a triangle belongs to; `missing` are textures that
    materials ask for and the upload does not hold.
    """

    mesh: Mesh
    skeleton: Skeleton | None = None
    skin: Skin | None = None
    morphs: tuple[str, ...] = ()
    deltas: np.ndarray = field(default_factory=lambda: np.zeros((0, 0, 3), np.float32))
    clips: tuple[Motion, ...] = ()
    textures: tuple[Texture, ...] = ()
    objects: tuple[str, ...] = ("piece",)
    triangle_object: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))

    def __post_init__(self) -> None:
        if len(self.triangle_object) != len(self.mesh.triangles):
            object.__setattr__(self, "triangle_object", np.zeros(len(self.mesh.triangles), np.int32))
        if not self.morphs:
            object.__setattr__(self, "deltas", np.zeros((0, len(self.mesh.points), 3), np.float32))

    def missing(self) -> tuple[str, ...]:
        """Return the textures that materials ask for and that did not come."""
        held = {t.name for t in self.textures}
        return tuple(dict.fromkeys(m for material in self.mesh.materials for m in material.maps() if m not in held))

    def part(self, rows: np.ndarray) -> "Model":
        """Return the model of the triangles in `rows` (mask) alone; morphs that do not move it are left out."""
        used = np.zeros(len(self.mesh.points), bool)
        used[self.mesh.triangles[rows].ravel()] = True
        mesh = without_unused(with_triangles(self.mesh, rows))
        kinds, material = np.unique(mesh.triangle_material, return_inverse=True)
        mesh = replace(mesh, triangle_material=material.astype(np.int32).ravel(), materials=tuple(mesh.materials[int(k)] for k in kinds))
        moved = [k for k in range(len(self.morphs)) if np.abs(self.deltas[k, used]).max(initial=0.0) > 1e-7]
        wanted = {m for material in mesh.materials for m in material.maps()}
        return replace(
            self, mesh=mesh, skin=self.skin and Skin(self.skin.joints[used], self.skin.weights[used]),
            morphs=tuple(self.morphs[k] for k in moved), deltas=np.ascontiguousarray(self.deltas[moved][:, used]),
            textures=tuple(t for t in self.textures if t.name in wanted), triangle_object=self.triangle_object[rows],
        )

    def scaled(self, factor: float, lying: bool = False) -> "Model":
        """Return the model with lengths times `factor`, and Z up turned to Y up if `lying`."""
        return self.turned(factor * (LYING if lying else np.eye(3)))

    def turned(self, linear: np.ndarray) -> "Model":
        """Return the model with everything in it turned, mirrored and scaled by `linear` (3, 3), a rotation or reflection times a size.

        A reflection turns the faces over, so that they keep looking outwards.
        """
        flip = float(np.sign(np.linalg.det(linear)))
        way = linear / np.cbrt(abs(np.linalg.det(linear)))

        def put(x: np.ndarray) -> np.ndarray:
            return np.asarray(x, np.float64) @ linear.T

        mesh = self.mesh.moved(put(self.mesh.points))
        if flip < 0:
            mesh = turned_over(mesh, np.ones(len(mesh.triangles), bool))
        clips = tuple(replace(c, offsets=put(c.offsets), root=put(c.root),
                              rotations=np.concatenate([flip * c.rotations[..., :3] @ way.T, c.rotations[..., 3:]], axis=-1))
                      for c in self.clips)
        skeleton = self.skeleton and replace(self.skeleton, positions=put(self.skeleton.positions))
        return replace(self, mesh=mesh, skeleton=skeleton, clips=clips, deltas=put(self.deltas).astype(np.float32))
