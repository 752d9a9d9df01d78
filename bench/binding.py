"""The suites of binding and following: stretch, penetration, rigid parts and shapes over bodies and seeded poses, and the times."""

from collections.abc import Iterator

import numpy as np

from bench.fit_truth import made
from bench.measure import Figure, median_ms
from bench.wardrobe import Garment, garments, robe, wearers
from wily_heron.core.bind.bind import Bound, bind
from wily_heron.core.bind.legs import skirt
from wily_heron.core.bind.paint import WeightBrush
from wily_heron.core.bind.transfer import inpaint
from wily_heron.core.bind.worn_as import worn_as_of
from wily_heron.core.figure.body import Wearer, shaped
from wily_heron.core.figure.correctives import DRIVEN
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose import Pose, pose_matrices, posed_body
from wily_heron.core.figure.random_poses import random_poses
from wily_heron.core.figure.shapes import EXTRAS, LEFT
from wily_heron.core.follow.follow import follow
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.piece.recipe import Bind, Follow, Weigh
from wily_heron.core.piece.state import Piece
from wily_heron.core.piece.worn import at_rest, worn_points
from wily_heron.core.space.tree import TriangleTree

WAYS = {"ours": Bind(), "nearest only": Bind(how="nearest"), "published": Bind(reach=0.03, legs="off", worn_as="cloth")}


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
    print("\nstretch of edges, 99.9th percentile over 8 bodies x 30 poses (cloth / the skin under it);")
    print("robe and skirt: the greatest between the legs, and how deep legs come through (mean over cells of the deepest, mm)")
    for kind in garments(on["neutral"]):
        line = f"  {kind:9s}"
        for way, step in WAYS.items():
            for which in (("seen", "kept apart") if way == "ours" else ("seen",)):
                got = np.array([_stretched(garments(w)[kind], w, step, poses[which][k::8], kind) for k, w in enumerate(on.values())])
                line += f"  {way[:9]}{' (held out)' if which != 'seen' else ''}: " + " / ".join(f"{x:.2f}" for x in np.nanmean(got, axis=0))
        print(line, flush=True)
    yield from times()


def _stretched(g: Garment, wearer: Wearer, step: Bind, poses: list[Pose], kind: str) -> tuple[float, float]:
    piece, _ = worn_piece(g, wearer, step)
    hangs = skirt(g.points, g.triangles, wearer) if kind in ("robe", "skirt") else None
    between = None if hangs is None else hangs & (np.abs(g.points[:, 0]) < 0.06)
    cloth, skin = [], []
    near = TriangleTree(wearer.points, wearer.body.triangles).nearest(g.points)
    corners = wearer.body.triangles[near.triangle]
    for pose in poses:
        matrices = pose_matrices(wearer, pose)
        posed = worn_points(piece, wearer, pose, matrices).astype(float)
        body = posed_body(wearer, pose)
        if hangs is not None:
            cloth.append(stretch(g, posed, between).max())
            skin.append(1000 * max(0.0, -TriangleTree(body, wearer.body.triangles).signed_distance(posed[hangs])[0].min()))
        else:
            under = np.einsum("nk,nka->na", near.where, body[corners])
            still = Garment(np.einsum("nk,nka->na", near.where, wearer.points[corners]), g.triangles, "")
            cloth.append(np.quantile(stretch(g, posed), 0.999))
            skin.append(np.quantile(stretch(still, under), 0.999))
    return float(np.mean(cloth)), float(np.mean(skin))


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
