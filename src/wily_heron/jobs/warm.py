"""Run every compiled kernel once, so that numba loads it from its cache, or compiles it into that: no artist waits for a compiler."""

import sys
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ..core.bind.bind import bind
from ..core.clear.clear import clear
from ..core.clearance.cell import Dressed
from ..core.drape.cloth import Cloth, Worn
from ..core.drape.drape import Draping
from ..core.drape.kernels import substep_kernels
from ..core.drape.passage import into_pose
from ..core.drape.sheet import sheet
from ..core.figure.base.body import Wearer, shaped
from ..core.figure.base.skeleton import Skin
from ..core.figure.figure import figure
from ..core.fit.fit import fit
from ..core.fit.target import FitTarget
from ..core.follow.follow import follow
from ..core.look.portrait import cell_portrait
from ..core.mesh.boxes import box_about, in_box
from ..core.mesh.mesh import Mesh
from ..core.mesh.ops.coarse import coarse_of
from ..core.mesh.ops.uv_room import overlapping
from ..core.model.state import Piece
from ..core.model.steps.bind import Bind
from ..core.model.steps.draping import Along, Drape
from ..core.model.steps.fabric import FABRICS
from ..core.model.steps.fit import Fit
from ..core.motion.pose_library import POSES
from ..core.motion.spring import Links, Spring, hang
from ..core.space.surface import Surface
from ..core.space.under import Under

AT_START = ("fit", "stage")
"""What the first piece needs before it is seen; what is left is compiled meanwhile."""


def warm(groups: Sequence[str]) -> None:
    """Run the kernels of these groups once on a small sleeve round the waist."""
    body = figure(1)
    wearer = shaped(body, body.made_at)
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, 40, endpoint=False), np.linspace(0.98, 1.2, 8))
    points = np.stack([0.16 * np.sin(angle), height, 0.13 * np.cos(angle)], axis=-1).reshape(-1, 3).astype(np.float32)
    quads = [(r * 40 + c, r * 40 + (c + 1) % 40, (r + 1) * 40 + (c + 1) % 40, (r + 1) * 40 + c) for r in range(7) for c in range(40)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))], np.int32)
    for group in groups:
        _GROUPS[group](Mesh(points, triangles), wearer)


def _fit(mesh: Mesh, wearer: Wearer) -> None:
    """Receiving, working by hand, fitting, binding and following."""
    points, triangles = mesh.points, mesh.triangles
    overlapping(points[triangles][:, :, :2])
    Surface.of(points, triangles).within(np.array([0]), 0.05)
    fit(points, triangles, FitTarget(Under.of(wearer.points, wearer.body.triangles), wearer.points, wearer.shape), Fit())
    follow(points, triangles, wearer, bind(points, triangles, wearer, Bind()).skin)


def _stage(mesh: Mesh, wearer: Wearer) -> None:
    """Measuring a cell and drawing its picture."""
    trunk = Skin(np.zeros((len(mesh.points), 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (len(mesh.points), 1)))
    dressed = Dressed(wearer, {"band": Piece(mesh, wearer.body.made_at, trunk)})
    cell = dressed.measure(POSES["stand"])
    in_box(mesh.points.astype(np.float64), box_about(mesh.points))
    dressed.clearance_maps(cell)
    cell_portrait(dressed, cell, (32, 32))


def _clear(mesh: Mesh, wearer: Wearer) -> None:
    """Clearing a piece that holds, and one before which skin shows; and what swings on springs."""
    piece = _bound(mesh, wearer)
    sunk = mesh.moved(mesh.points - np.array([0.0, 0.0, 0.06], np.float32))
    for each in (piece, replace(piece, mesh=sunk)):
        clear(each, wearer.body, wearer.body.made_at, POSES["stand"], 0.004)
    top = mesh.points[:1].astype(np.float64)
    hang(Links(top, top - [0.0, 0.1, 0.0], np.array([-1]), Spring()), np.eye(4)[None])


def _solver(mesh: Mesh, wearer: Wearer) -> None:
    """The substeps of a drape: cloth that hangs by its upper edge, with nothing about it."""
    held = mesh.points[:, 1] > mesh.points[:, 1].max() - 0.01
    rows = np.flatnonzero(held)
    worn = Worn(rows, np.ones(len(rows)))
    Cloth(sheet(mesh.points, mesh.triangles, FABRICS["linen"], held), worn=worn).frame()


def _cloth(mesh: Mesh, wearer: Wearer) -> None:
    """All else of a drape, alone and along with another piece. The substeps are left to `_solver`, which another process compiles."""
    piece, way = _bound(mesh, wearer), into_pose(POSES["stand"], 1, 1, 1)
    coarse_of(mesh.points, mesh.triangles, 0.1)
    substeps, substep_kernels.substeps = substep_kernels.substeps, lambda *_: None
    try:
        Draping(piece, wearer, Drape(substeps=4, along=(Along(piece="band"),)), way, along=(piece,)).run()
        Draping(piece, wearer, Drape(substeps=4), way).run()
    finally:
        substep_kernels.substeps = substeps


def _bound(mesh: Mesh, wearer: Wearer) -> Piece:
    skin = bind(mesh.points, mesh.triangles, wearer, Bind()).skin
    return Piece(mesh, wearer.body.made_at, skin, np.zeros((len(wearer.body.shapes), len(mesh.points), 3), np.float32))


_GROUPS: dict[str, Callable[[Mesh, Wearer], None]] = {"fit": _fit, "stage": _stage, "clear": _clear, "solver": _solver, "cloth": _cloth}


if __name__ == "__main__":
    warm(sys.argv[1:] or tuple(_GROUPS))
