"""The suite of cloth: robes through the motions of the house at three resolutions, judged by another library; times; a peer."""

import os
import time
from collections.abc import Callable, Iterator

import igl
import numba
import numpy as np

from bench.cloth_shapes import sheet_of
from bench.measure import Figure, median_ms
from bench.wardrobe import robe
from wily_heron.core.bind.bind import bind
from wily_heron.core.drape.cloth import Cloth, Worn
from wily_heron.core.drape.drape import Draping
from wily_heron.core.drape.passage import through_motion
from wily_heron.core.drape.sheet import sheet
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.draping import Drape
from wily_heron.core.model.steps.fabric import FABRICS
from wily_heron.core.motion.clips import clip_named
from wily_heron.core.motion.motion import with_lead_in

_SUBSTEPS = 20


def cloth() -> Iterator[Figure]:
    """How deep the cloth goes into the body over each motion is printed as it comes; the figures yielded are times a frame."""
    os.sched_setaffinity(0, range(os.cpu_count() or 1))  # two threads need two cores
    body = figure(2)
    wearer = shaped(body, body.made_at)
    threads = numba.get_num_threads()
    print("\nrobe, vertices, motion, frames; most vertices and deepest face centre over 1.5 mm inside in any frame (another library's")
    print("winding number), strain at the 99th percentile in the worst frame, mean substeps where 20 are given and more are taken while")
    print("it is taut: a straight hem of 1.24 m is narrower than the stride, a full one has room to sit")
    for around, rings in ((66, 48), (120, 84), (210, 145)):
        size = f"{around * rings / 1000:.0f}k"
        full, straight = _robe(wearer, around, rings, 0.8), _robe(wearer, around, rings)
        for cut, piece, motion in (*(("full", full, motion) for motion in ("walk", "row", "haul", "turn")), ("straight", straight, "walk")):
            print(f"  {cut:8s} {size:3s} {motion:4s} {_judged(_falling(piece, wearer, motion, finer=True))}", flush=True)
        fall = _falling(straight, wearer)
        yield Figure(f"a frame of a straight {size} robe walking, all collisions, {threads} threads",
                     float(np.median([_timed(fall.frame) for _ in range(fall.frames)])))
        if around == 120:
            numba.set_num_threads(1)
            alone = _falling(straight, wearer)
            yield Figure(f"the same, {size}, one thread", float(np.median([_timed(alone.frame) for _ in range(48)])))
            numba.set_num_threads(threads)
            yield Figure(f"laying out the cloth, {size}", median_ms(lambda p=straight: _falling(p, wearer), 5))
            yield Figure(f"its first frame, {size}", float(np.median([_timed(_falling(straight, wearer).frame) for _ in range(5)])))
    points, faces = sheet_of(1.0, 1.0, 0.0108, hanging=True)
    held = points[:, 1] > -1e-6
    rows = np.flatnonzero(held)
    hanging = Cloth(sheet(points, faces, FABRICS["linen"], held), worn=Worn(rows, np.ones(len(rows))), crowd=False)
    size = f"{len(points) / 1000:.0f}k"
    own = median_ms(hanging.frame, 24)
    yield Figure(f"a frame of a {size} hanging sheet, cloth only", own, "newton, XPBD on the CPU", _newton(points, faces))
    os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})


def _robe(wearer: Wearer, around: int, rings: int, flare: float = 0.0) -> Piece:
    made = robe(shaped(figure(1), wearer.shape), around, rings, flare)
    flat = made.points.astype(np.float32)
    return Piece(Mesh(flat, made.triangles), wearer.shape, bind(flat, made.triangles, wearer, Bind()).skin, None)


def _falling(piece: Piece, wearer: Wearer, motion: str = "walk", finer: bool = False) -> Draping:
    clip = with_lead_in(clip_named(motion, wearer.skeleton), 24)
    return Draping(piece, wearer, Drape(settle=12, substeps=_SUBSTEPS, finer=finer), through_motion(clip, 12))


def _judged(fall: Draping) -> str:
    """Go through a fall and say how deep in the body and how strained it came to be."""
    vertices, deepest, strain, steps = 0, -np.inf, 0.0, 0
    while fall.done < fall.frames:
        steps += fall.cloth.substeps
        fall.frame()
        x, body = fall.cloth.x.copy(), fall.collider.stop
        strain = max(strain, fall.report().strain_99)
        vertices = max(vertices, int((_depth(x, fall, body) > 0.0015).sum()))
        deepest = max(deepest, float(_depth(x[fall.cloth.sheet.triangles].mean(axis=1), fall, body).max()))
    return (f"{fall.frames} frames, {vertices} vertices, {1000 * deepest:.1f} mm; strain {100 * strain:.1f} %, "
            f"{steps / fall.frames:.0f} substeps")


def _depth(points: np.ndarray, fall: Draping, body: np.ndarray) -> np.ndarray:
    triangles = fall.collider.triangles.astype(np.int64)
    inside = igl.fast_winding_number(body, triangles, points) > 0.5
    far = np.sqrt(igl.point_mesh_squared_distance(points, body, triangles)[0])
    return np.where(inside, far, -far)


def _timed(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return 1000 * (time.perf_counter() - began)


def _newton(points: np.ndarray, faces: np.ndarray) -> float:
    """Milliseconds a frame of the peer on the same mesh: stretch springs and bending, one iteration in each of as many substeps."""
    import warp  # the peer is installed by ./heron bench alone  # pyright: ignore[reportMissingImports]
    from newton import ModelBuilder  # pyright: ignore[reportMissingImports]
    from newton.solvers import SolverXPBD  # pyright: ignore[reportMissingImports]

    warp.config.quiet = True
    builder = ModelBuilder()
    builder.add_cloth_mesh(
        pos=warp.vec3(0, 0, 0),
        rot=warp.quat_identity(),
        scale=1.0,
        vel=warp.vec3(0, 0, 0),
        density=FABRICS["linen"].weight,
        vertices=[warp.vec3(*map(float, p)) for p in points],
        indices=faces.ravel().tolist(),
        tri_ke=2e4,
        tri_ka=2e4,
        tri_kd=0.0,
        edge_ke=1e-4,
        edge_kd=0.0,
        add_springs=True,
        spring_ke=1e4,
        spring_kd=0.0,
        particle_radius=0.003,
    )
    model = builder.finalize(device="cpu")
    solver = SolverXPBD(model, iterations=1)
    states, control = [model.state(), model.state()], model.control()

    def frame() -> None:
        for _ in range(_SUBSTEPS):
            states[0].clear_forces()
            solver.step(states[0], states[1], control, None, 1 / 24 / _SUBSTEPS)
            states.reverse()

    return median_ms(frame, 5)
