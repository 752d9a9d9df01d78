"""Load every compiled kernel from the cache (compiling it the first time), so that no artist waits for a compiler."""

from dataclasses import replace

import numpy as np

from ..core.bind.bind import bind
from ..core.clearance.cell import Dressed
from ..core.clearance.clear import clear
from ..core.drape.drape import Draping
from ..core.drape.passage import into_pose
from ..core.figure.body import shaped
from ..core.figure.figure import figure
from ..core.figure.pose_library import POSES
from ..core.follow.follow import follow
from ..core.look.portrait import cell_portrait
from ..core.mesh.coarse import coarse_of
from ..core.mesh.mesh import Mesh
from ..core.piece.clearance_over import Under
from ..core.piece.draping import Along, Drape
from ..core.piece.fit import Stand, fit
from ..core.piece.recipe import Bind, Fit
from ..core.piece.state import Piece


def warm() -> None:
    """Run each kernel once on a small sleeve round the waist."""
    body = figure(1)
    wearer = shaped(body, body.made_at)
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, 40, endpoint=False), np.linspace(0.98, 1.2, 8))
    points = np.stack([0.16 * np.sin(angle), height, 0.13 * np.cos(angle)], axis=-1).reshape(-1, 3).astype(np.float32)
    quads = [(r * 40 + c, r * 40 + (c + 1) % 40, (r + 1) * 40 + (c + 1) % 40, (r + 1) * 40 + c) for r in range(7) for c in range(40)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))], np.int32)
    skin = bind(points, triangles, wearer, Bind()).skin
    fit(points, triangles, Stand(Under.of(wearer.points, body.triangles), wearer.points, wearer.shape), Fit())
    following = follow(points, triangles, wearer, skin)
    piece = Piece(Mesh(points, triangles), body.made_at, skin, following.deltas)
    dressed = Dressed(wearer, {"band": piece})
    cell = dressed.measure(POSES["stand"])
    dressed.clearance_map(0, cell)
    cell_portrait(dressed, cell, (32, 32))
    clear(piece, body, body.made_at, POSES["stand"], 0.004)
    sunk = piece.mesh.moved(points - np.array([0.0, 0.0, 0.06], np.float32))  # skin shows before it
    clear(replace(piece, mesh=sunk), body, body.made_at, POSES["stand"], 0.004)
    coarse_of(points, triangles, 0.1)
    way, together = into_pose(POSES["stand"], 1, 1, 1), (Along(piece="band"),)
    Draping(piece, wearer, Drape(substeps=4, along=together), way, along=(piece,)).run()
    Draping(piece, wearer, Drape(substeps=4), way).run()


if __name__ == "__main__":
    warm()
