"""What is measured, beside whom."""

from collections.abc import Callable, Iterator

import igl
import numpy as np
import trimesh

from bench.binding import binding, following
from bench.clearing import clearing, holding
from bench.cloth import cloth
from bench.finding import finding
from bench.fitting import fitting
from bench.measure import Figure, median_ms
from bench.outfits import outfits
from bench.receiving import receiving
from bench.sheet import sheet
from demo.coat import FILE
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.bind.bind import bind
from wily_heron.core.clear.clear import clear
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.measure_solve import solve_measures
from wily_heron.core.figure.measures.measures import MEASURES, take
from wily_heron.core.fit.fit import fit
from wily_heron.core.fit.target import FitTarget
from wily_heron.core.follow.follow import follow
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.motion.pose import pose_matrices
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.tree import TriangleTree
from wily_heron.core.space.under import Under
from wily_heron.formats.piece_read import read_model_file


def skinning() -> Iterator[Figure]:
    """Linear blend skinning and shapes of the whole body."""
    body = figure()
    wearer = shaped(body, CAST["Corvane"])
    matrices = pose_matrices(wearer, POSES["kneel"])

    def with_numpy() -> np.ndarray:
        blended = np.einsum("nk,nkab->nab", body.skin.weights, matrices[body.skin.joints])
        return np.einsum("nab,nb->na", blended[:, :3, :3], wearer.points) + blended[:, :3, 3]

    count = len(body.base)
    yield Figure(
        f"skinning, {count // 1000}k vertices, {len(matrices)} joints",
        median_ms(lambda: skin_points(wearer.points, body.skin, matrices)),
        "numpy einsum",
        median_ms(with_numpy),
    )
    every = np.random.default_rng(3).uniform(-1, 1, len(body.shapes))
    yield Figure(
        f"a new shape, {len(CAST['Old Moss'])} of {len(body.shapes)} shapes in use",
        median_ms(lambda: shaped(body, CAST["Old Moss"])),
        "numpy tensordot over all",
        median_ms(lambda: body.base + np.tensordot(every.astype(np.float32), body.deltas, axes=1)),
    )
    yield Figure(f"a new shape, all {len(body.shapes)} shapes in use", median_ms(lambda: shaped(body, every)))


def measures() -> Iterator[Figure]:
    """Body measures taken, and the shape solved from five of them."""
    wearer = shaped(figure(), CAST["Ibbet"])
    take(wearer)
    asked = {"stature": 1.82, "bust_girth": 1.04, "waist_girth": 0.92, "hip_girth": 1.08, "inside_leg_height": 0.84}
    mesh = trimesh.Trimesh(wearer.points, wearer.body.triangles, process=False)
    yield Figure(
        "one girth by slicing and hull",
        median_ms(lambda: take(wearer, ("waist_girth",))),
        "trimesh plane cut alone",
        median_ms(lambda: trimesh.intersections.mesh_plane(mesh, [0, 1, 0], [0, 1.08, 0])),
    )
    yield Figure(f"all {len(MEASURES)} measures", median_ms(lambda: take(wearer)))
    yield Figure("shape solved from 5 measures", median_ms(lambda: solve_measures(figure(), asked)))


def nearest() -> Iterator[Figure]:
    """Closest points of 11k coat vertices on the body."""
    body = figure()
    points = run_step(Piece.of(read_model_file(FILE), body.made_at), shaped(body, {}), Receive()).mesh.points.astype(float)
    skin, triangles = body.base.astype(float), body.triangles.astype(np.int64)
    tree = TriangleTree(skin, triangles)
    peer = igl.AABB()
    peer.init(skin, triangles)
    yield Figure(
        "closest points, 11k on 68k triangles",
        median_ms(lambda: tree.nearest(points)),
        "libigl AABB",
        median_ms(lambda: peer.squared_distance(skin, triangles, points)),
    )

    def make() -> object:
        other = igl.AABB()
        other.init(skin, triangles)
        return other

    yield Figure("tree for a new pose (refit)", median_ms(lambda: tree.refit(skin)), "libigl AABB (rebuilt)", median_ms(make))


def bench_piece() -> Iterator[Figure]:
    """The steps of the demo coat, 11k vertices."""
    wearer = shaped(figure(), CAST["Ibbet"])
    coat = run_step(Piece.of(read_model_file(FILE), wearer.shape), wearer, Receive())
    triangles, skin = coat.mesh.triangles, wearer.body.triangles
    stand = FitTarget(Under.of(wearer.points, skin), wearer.points[: len(figure(1).base)], wearer.shape)
    yield Figure("fit", median_ms(lambda: fit(coat.mesh.points, triangles, stand, Fit()), 3))
    fitted = run_step(coat, wearer, Fit())
    yield Figure("bind, loose (10 cm)", median_ms(lambda: bind(fitted.mesh.points, triangles, wearer, Bind()), 5))
    yield Figure("bind, fitted (3 cm)", median_ms(lambda: bind(fitted.mesh.points, triangles, wearer, Bind(reach=0.03)), 5))
    skin_of = bind(fitted.mesh.points, triangles, wearer, Bind())
    yield Figure("follow, 81 shapes", median_ms(lambda: follow(fitted.mesh.points, triangles, wearer, skin_of.skin, skin_of.riders), 3))
    worn = run_step(run_step(fitted, wearer, Bind()), wearer, Follow())
    dressed = Dressed(wearer, {"coat": worn})
    yield Figure("measure a cell", median_ms(lambda: dressed.measure(POSES["stride"])))
    yield Figure("clear a cell", median_ms(lambda: clear(worn, wearer.body, wearer.shape, POSES["stride"], 0.004), 3))


SUITES: dict[str, Callable[[], Iterator[Figure]]] = {
    "skinning": skinning, "measures": measures, "nearest": nearest, "piece": bench_piece, "receiving": receiving, "fitting": fitting,
    "binding": binding, "following": following, "finding": finding, "clearing": clearing, "holding": holding, "sheet": sheet,
    "outfits": outfits, "cloth": cloth,
}
