"""The suites of binding and following: stretch, penetration, rigid parts and shapes over bodies and seeded poses, and the times."""

import time
from collections.abc import Callable, Iterator

import numpy as np

from bench.fit_truth import made
from bench.measure import Figure, median_ms
from bench.wardrobe import FITTED, Garment, garments, robe, wearers
from wily_heron.core.bind.bind import Bound, bind
from wily_heron.core.bind.legs import skirt
from wily_heron.core.bind.paint import WeightBrush
from wily_heron.core.bind.transfer import inpaint
from wily_heron.core.bind.worn_as import worn_as_of
from wily_heron.core.clear.fall.hanging_cloth import on_arms
from wily_heron.core.clear.pose_fix import clear_poses
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.base.shapes import EXTRAS, LEFT
from wily_heron.core.figure.correctives import DRIVEN
from wily_heron.core.figure.figure import figure
from wily_heron.core.follow.follow import follow
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.mesh.islands import islands
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind, Weigh
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.worn import at_rest, worn_points
from wily_heron.core.motion.pose import Pose, posed_body
from wily_heron.core.motion.random_poses import random_poses
from wily_heron.core.space.tree import TriangleTree

WAYS = {"ours": Bind(), "nearest only": Bind(how="nearest"), "published": Bind(reach=0.03, legs="off", worn_as="cloth", even=False)}


def worn_piece(g: Garment, wearer: Wearer, step: Bind) -> tuple[Piece, Bound]:
    """Return a garment bound by `step`, not yet following."""
    worn = step.worn_as if step.worn_as != "auto" else worn_as_of(g.points, g.category, wearer)
    bound = bind(g.points, g.triangles, wearer, step, worn_as=worn)
    return Piece(Mesh(g.points.astype(np.float32), g.triangles), wearer.shape, bound.skin, riders=bound.riders), bound


def stretch(g: Garment, posed: np.ndarray, rows: np.ndarray | None = None) -> np.ndarray:
    """Return how many times its length each edge of the cloth has (those with both ends in `rows`)."""
    edges, _ = unique_edges(g.triangles)
    if rows is not None:
        edges = edges[rows[edges].all(axis=1)]
    long = lambda p: np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1)  # noqa: E731
    return long(posed) / np.maximum(long(g.points), 1e-6)


def binding() -> Iterator[Figure]:
    """Stretch over seeded poses by three ways of weighting; then times."""
    on = wearers()
    poses = {"seen": random_poses(30, 11, 0.7), "kept apart": random_poses(30, 2026, 0.7)}
    print("\nstretch of edges, 99.9th percentile over 8 bodies x 30 poses (cloth / the skin under it = times as much):")
    for kind in FITTED:
        print(f"  {kind:9s}{_line(on, poses, kind, _fitted)}", flush=True)
    strain, drift = _parts(on, [p for some in poses.values() for p in some])
    print(f"buttons over the same poses, both sets: strain at most {100 * strain:.4f} %, drift from the cloth {1000 * drift:.2f} mm")
    print("the greatest stretch between the legs and how deep they come through, mm (each the mean over cells, then the greatest of all)")
    for kind in ("robe", "skirt"):
        print(f"  {kind:9s}{_line(on, poses, kind, _between)}", flush=True)
    print("the same once each cell is cleared for its pose, and the part of the cells that fell; seconds a cell")
    for kind in ("robe", "skirt"):
        for which, some in poses.items():
            rows = np.array([r for k, w in enumerate(on.values()) for r in _hung(garments(w)[kind], w, some[k::8])])
            told = " / ".join(f"{rows[:, c].mean():.2f} {rows[:, c].max():.2f}" for c in (0, 1))
            print(f"  {kind:9s}{which:10s}: {told}  {100 * rows[:, 2].mean():.0f} %  {np.median(rows[:, 3]):.1f} s", flush=True)
    yield from times()


def _line(on: dict[str, Wearer], poses: dict[str, list[Pose]], kind: str, measure: Callable) -> str:
    told = ""
    for way, step in WAYS.items():
        for which in ("seen", "kept apart") if way == "ours" else ("seen",):
            rows = np.array([r for k, w in enumerate(on.values()) for r in measure(garments(w)[kind], w, step, poses[which][k::8])])
            told += f"  {way[:9]}{' (held out)' if which != 'seen' else ''}: "
            if measure is _fitted:
                cloth, skin = rows.mean(axis=0)
                told += f"{cloth:.2f} / {skin:.2f} = {cloth / skin:.2f}"
            else:
                told += " / ".join(f"{rows[:, c].mean():.2f} {rows[:, c].max():.2f}" for c in (0, 1))
    return told


def _fitted(g: Garment, wearer: Wearer, step: Bind, poses: list[Pose]) -> Iterator[tuple[float, float]]:
    """Yield the 99.9th percentile of stretch of the cloth, and of the skin right under it, in each pose."""
    piece, _ = worn_piece(g, wearer, step)
    near = TriangleTree(wearer.points, wearer.body.triangles).nearest(g.points)
    corners = wearer.body.triangles[near.triangle]
    still = Garment(np.einsum("nk,nka->na", near.where, wearer.points[corners]), g.triangles, "")
    for pose in poses:
        under = np.einsum("nk,nka->na", near.where, posed_body(wearer, pose)[corners])
        posed = worn_points(piece, wearer, pose).astype(float)
        yield float(np.quantile(stretch(g, posed), 0.999)), float(np.quantile(stretch(still, under), 0.999))


def _parts(on: dict[str, Wearer], poses: list[Pose]) -> tuple[float, float]:
    """Return the greatest strain of an edge of the coat's buttons, and how far (metres) one comes from the cloth about it."""
    strain = drift = 0.0
    for k, wearer in enumerate(on.values()):
        g = garments(wearer)["coat"]
        piece, _ = worn_piece(g, wearer, Bind())
        assert piece.skin is not None
        assert piece.riders is not None
        stiff = piece.skin.joints[:, 0] >= piece.riders.first
        label, cloth = islands(g.triangles, len(g.points))[1], np.flatnonzero(~stiff)
        edges, _ = unique_edges(g.triangles)
        edges = edges[stiff[edges].all(axis=1)]
        buttons = [np.flatnonzero(label == i) for i in np.unique(label[stiff])]
        about = [cloth[np.argsort(np.linalg.norm(g.points[cloth] - g.points[b].mean(axis=0), axis=1))[:12]] for b in buttons]
        far = lambda p, b, a: np.linalg.norm(p[b].mean(axis=0) - p[a].mean(axis=0))  # noqa: E731
        long = lambda p, e=edges: np.linalg.norm(p[e[:, 0]] - p[e[:, 1]], axis=1)  # noqa: E731
        for pose in poses[k::8]:
            posed = worn_points(piece, wearer, pose).astype(float)
            strain = max(strain, float(np.abs(long(posed) / long(g.points) - 1).max()))
            drift = max(drift, *(abs(float(far(posed, b, a) - far(g.points, b, a))) for b, a in zip(buttons, about, strict=True)))
    return strain, drift


def _between(g: Garment, wearer: Wearer, step: Bind, poses: list[Pose]) -> Iterator[tuple[float, float]]:
    """Yield the greatest stretch between the legs and how deep they come through in each pose, with weights alone."""
    piece, _ = worn_piece(g, wearer, step)
    for pose in poses:
        yield _legs(g, wearer, pose, piece)


def _hung(g: Garment, wearer: Wearer, poses: list[Pose]) -> Iterator[tuple[float, float, bool, float]]:
    """Yield the same in each pose once cleared for it, whether the cloth fell, and the seconds that took."""
    piece, _ = worn_piece(g, wearer, Bind())
    for pose in poses:
        began = time.perf_counter()
        cleared, (told,) = clear_poses(piece, wearer.body, [(wearer.shape, pose)], 0.004)
        yield (*_legs(g, wearer, pose, cleared), told.fell, time.perf_counter() - began)


def _legs(g: Garment, wearer: Wearer, pose: Pose, piece: Piece) -> tuple[float, float]:
    hangs, arm = skirt(g.points, g.triangles, wearer), on_arms(wearer.skeleton, wearer.body.skin)
    legs = wearer.body.triangles[~arm[wearer.body.triangles].all(axis=1)]
    posed = worn_points(piece, wearer, pose).astype(float)
    inside = -TriangleTree(posed_body(wearer, pose), legs).signed_distance(posed[hangs])[0].min()
    return float(stretch(g, posed, hangs & (np.abs(g.points[:, 0]) < 0.06)).max()), 1000 * max(0.0, float(inside))


def times() -> Iterator[Figure]:
    """The times of weights at 10k and 30k, fitted and loose, beside the published method, and of following."""
    wearer = shaped(figure(1), {})
    tree = TriangleTree(wearer.points, wearer.body.triangles)
    for name, g in (("suit", garments(wearer)["suit"]), ("robe", garments(wearer)["robe"])):
        published = lambda g=g: bind(g.points, g.triangles, wearer, WAYS["published"], tree=tree)  # noqa: E731
        yield Figure(f"weights of a {len(g.points) / 1000:.1f}k {name} x 62 joints",
                     median_ms(lambda g=g: bind(g.points, g.triangles, wearer, Bind(), tree=tree)), "accept and inpaint as published",
                     median_ms(published))
    fine = shaped(figure(), {})
    tree2 = TriangleTree(fine.points, fine.body.triangles)
    shirt, suit, wide = made("shirt", fine.points, 2), made("suit", fine.points, 2), robe(fine, 200, 150)
    for name, big in (("shirt", shirt), ("suit", suit), ("robe", wide)):
        yield Figure(f"weights of a {len(big.points) / 1000:.1f}k {name}, 40k body",
                     median_ms(lambda b=big: bind(b.points, b.triangles, fine, Bind(), tree=tree2), 3))
    mesh = Mesh(suit.points.astype(np.float32), suit.triangles)
    brush = WeightBrush(mesh, bind(suit.points, suit.triangles, fine, Bind(), tree=tree2).skin, None, fine)
    at = int(np.argmin(np.linalg.norm(suit.points - [0.1, 1.1, 0.12], axis=1)))
    for tool in ("add", "blend", "iron"):
        step = Weigh.model_validate({"tool": tool, "joint": "vl1", "radius": 0.1, "mirror": True, "dabs": ()})
        yield Figure(f"weight brush, {tool}, both sides, 10 cm, {len(suit.points) / 1000:.1f}k",
                     median_ms(lambda s=step: brush.weights(brush.dab(s, at)), 15))
    g = garments(wearer)["robe"]
    bound = bind(g.points, g.triangles, wearer, Bind(), tree=tree)
    for name, step in (("81 shapes alone", Follow(clear=False)), ("81 shapes, cleared, pairs and triples", Follow())):
        yield Figure(f"follow, {len(g.points) / 1000:.1f}k robe, {name}",
                     median_ms(lambda s=step: follow(g.points, g.triangles, wearer, bound.skin, bound.riders, s, tree=tree), 3))


def following() -> Iterator[Figure]:
    """Vertices inside at each shape alone, and over 500 random combinations of three to six, beside plain barycentric moves."""
    wearer = shaped(figure(1), {})
    tree = TriangleTree(wearer.points, wearer.body.triangles)
    shapes = [i for i, n in enumerate(figure(1).shapes) if n not in DRIVEN and n not in EXTRAS and not n.endswith(LEFT)]
    rng = np.random.default_rng(77)
    mixes = [dict(zip(rng.choice(shapes, k, replace=False).tolist(), rng.uniform(-1, 1, k), strict=True)) for k in rng.integers(3, 7, 500)]
    print("\nper cent of vertices more than 0.3 mm inside: each shape alone (mean, worst), 500 mixes (mean, worst); correctives")
    for kind, g in garments(wearer).items():
        bound = bind(g.points, g.triangles, wearer, Bind(), worn_as=worn_as_of(g.points, g.category, wearer), tree=tree)
        told = f"  {kind:9s}"
        for way, step in (("ours", Follow()), ("moves alone", Follow(clear=False))):
            got = follow(g.points, g.triangles, wearer, bound.skin, bound.riders, step, tree=tree)
            piece = Piece(Mesh(g.points.astype(np.float32), g.triangles), wearer.shape, bound.skin, got.deltas, riders=got.riders,
                          correctives=got.correctives, fixes=got.fixes)
            alone = [_inside(piece, wearer, {s: v}, tree) for s in shapes for v in (1.0, -1.0)]
            mixed = [_inside(piece, wearer, m, tree) for m in mixes]
            told += f"  {way}: {np.mean(alone):.3f} {np.max(alone):.2f}  {np.mean(mixed):.3f} {np.max(mixed):.2f}  {len(got.correctives)}"
        print(told, flush=True)
    half = np.arange(len(g.points)) % 2 == 0
    yield Figure("half of a robe solved", median_ms(lambda: inpaint(g.points, g.triangles, half, np.ones((len(half), 4)))))


def _inside(piece: Piece, wearer: Wearer, values: dict[int, float], tree: TriangleTree) -> float:
    shape = wearer.shape.copy()
    for s, v in values.items():
        shape[s] = v
    there = shaped(wearer.body, shape)
    points = at_rest(piece, there).astype(float)
    distance, _ = TriangleTree(there.points, there.body.triangles).signed_distance(points)
    return float(100 * (distance < -3e-4).mean())
