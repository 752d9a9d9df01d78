# The USD library has no type stubs:
# pyright: reportAttributeAccessIssue=false
"""Meshes that move point by point to USD: time-sampled points, one sample a frame."""

import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from pxr import Gf, Kind, Sdf, Usd, UsdGeom, Vt

from ..slug import slug


@dataclass
class Moving:
    """A mesh by name with triangles (m, 3), a display colour (3,) and its points (n, 3) in each frame."""

    name: str
    triangles: np.ndarray
    colour: Sequence[float] = (0.6, 0.55, 0.47)
    frames: list[np.ndarray] = field(default_factory=list)


def write_moving(meshes: Sequence[Moving], fps: float) -> bytes:
    """Return a .usdc of the meshes under /drape, metres, Y up, frames from 0 on, `fps` to the second."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "drape.usdc"
        stage = Usd.Stage.CreateNew(str(path))
        UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
        UsdGeom.SetStageMetersPerUnit(stage, 1.0)
        stage.SetTimeCodesPerSecond(fps)
        stage.SetFramesPerSecond(fps)
        stage.SetStartTimeCode(0)
        stage.SetEndTimeCode(max(len(m.frames) for m in meshes) - 1)
        root = UsdGeom.Xform.Define(stage, "/drape")
        Usd.ModelAPI(root.GetPrim()).SetKind(Kind.Tokens.component)
        stage.SetDefaultPrim(root.GetPrim())
        for moving in meshes:
            _add(stage, moving)
        stage.GetRootLayer().Save()
        return path.read_bytes()


def _add(stage: Usd.Stage, moving: Moving) -> None:
    name = slug(moving.name).replace("-", "_")
    name = name if Sdf.Path.IsValidIdentifier(name) else f"_{name}"
    while stage.GetPrimAtPath(f"/drape/{name}"):
        name += "_"
    mesh = UsdGeom.Mesh.Define(stage, f"/drape/{name}")
    mesh.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(np.full(len(moving.triangles), 3, np.int32)))
    mesh.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(np.ascontiguousarray(moving.triangles.ravel(), np.int32)))
    mesh.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
    mesh.CreateDoubleSidedAttr(True)
    mesh.CreateDisplayColorAttr(Vt.Vec3fArray([Gf.Vec3f(*map(float, moving.colour))]))
    points, extent = mesh.CreatePointsAttr(), mesh.CreateExtentAttr()
    for frame, at in enumerate(moving.frames):
        flat = np.ascontiguousarray(at, np.float32)
        points.Set(Vt.Vec3fArray.FromNumpy(flat), frame)
        extent.Set(Vt.Vec3fArray.FromNumpy(np.array([flat.min(axis=0), flat.max(axis=0)])), frame)
