"""The suite of clearing: outfits on bodies in poses and in random poses kept apart, judged by a second method with other views."""

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import igl
import numpy as np

from bench.binding import worn_piece
from bench.fit_truth import made
from bench.judge import Judge
from bench.measure import Figure, median_ms
from bench.wardrobe import Garment, garments, wearers
from wily_heron.core.clear.outfit import outfit_ways as ways
from wily_heron.core.clear.outfit.clear_outfit import clear_outfit
from wily_heron.core.clear.pose_fix import clear_poses
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.explain.remedies import detail
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.follow.bound_piece import following_piece
from wily_heron.core.mesh.edges import edge_use
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.motion.clips import clip_named
from wily_heron.core.motion.pose import Pose
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.motion.random_poses import random_poses
from wily_heron.core.space.tree import TriangleTree

EASE = 0.004
OUTFITS = {
    "shirt": ("shirt",),
    "trousers": ("trousers",),
    "suit": ("suit",),
    "gloves": ("gloves",),
    "spats": ("spats",),
    "coat with buttons": ("coat",),
    "robe": ("robe",),
    "coarse shirt": ("coarse shirt",),
    "coat over shirt": ("shirt", "coat"),
    "hood over hair": ("cap of hair", "hood"),
    "suit, shirt, tabard, robe": ("suit", "shirt", "tabard", "robe"),
}
LIFT = {
    "suit": 0.003,
    "shirt": 0.005,
    "coat": 0.009,
    "tabard": 0.010,
    "robe": 0.030,
    "trousers": 0.004,
    "hood": 0.006,
    "cap of hair": 0.003,
    "gloves": 0.0015,
    "spats": 0.003,
    "coarse shirt": 0.005,
}
"""Metres of ease: what a costume shop leaves, less than the fit suite's, so that poses break it."""


def bodies() -> dict[str, Wearer]:
    """Twelve bodies: the eight of the binding suite and four more."""
    more = {
        "stout": {"girth": 1.0, "stature": -0.3},
        "muscled": {"muscle": 1.0, "shoulder_breadth": 0.6},
        "narrow": {"girth": -1.0, "hip": -0.4},
        "bellied": {"belly": 1.0, "stature": 0.4},
    }
    return wearers() | {n: shaped(figure(1), {k: v for k, v in s.items() if k in figure(1).shapes}) for n, s in more.items()}


def dressed_in(kinds: tuple[str, ...], wearer: Wearer) -> dict[str, Piece]:
    """Return an outfit made on a wearer, bound and following, from the skin out."""
    out = {}
    for kind in kinds:
        piece = worn_piece(garment(kind, wearer), wearer, Bind())[0]
        out[kind] = following_piece(piece, wearer, Follow(clear=False))[0]
    return out


def garment(kind: str, wearer: Wearer) -> Garment:
    """Return a kind of piece made on a wearer at the suite's own, small ease."""
    if kind == "robe":
        return garments(wearer)["robe"]
    base = {"coarse shirt": "shirt", "cap of hair": "hood"}.get(kind, kind)
    piece = made(base, wearer.points, 1, LIFT[kind])
    points, faces = piece.points, piece.triangles
    if kind == "coarse shirt":
        points, faces, *_ = igl.qslim(points, faces.astype(np.int64), len(faces) // 5)
        points, faces = np.ascontiguousarray(points), np.ascontiguousarray(faces, np.int32)
    category = {"spats": "footwear", "hood": "headwear", "cap of hair": "headwear", "gloves": "glove"}.get(kind, "top")
    return Garment(points, faces, category)


def cells_of(outfit: str, wearer: Wearer, poses: list[Pose], rng: np.random.Generator, tell: list[dict]) -> None:
    """Clear an outfit piece by piece in each pose alone, as correctives; add to `tell` what the judge says before and after."""
    pieces = dressed_in(OUTFITS[outfit], wearer)
    judge = Judge(Dressed(wearer, pieces), int(rng.integers(1 << 30)))
    for pose in poses:
        before = judge.posed(pose, list(pieces.values()))
        area, depth = judge.judge(before)
        took, worn = 0.0, dict(pieces)
        if area > 0.0 or not Dressed(wearer, worn).measure(pose).figures.holds:
            began = time.perf_counter()
            worn, _ = clear_outfit(worn, wearer.body, wearer.shape, pose, EASE)
            took = time.perf_counter() - began
        after = judge.posed(pose, list(worn.values()))
        left, deeper = judge.judge(after) if took else (area, depth)
        detail = [_detail(b, a, p.mesh.triangles) for b, a, p in zip(before[1:], after[1:], pieces.values(), strict=True)]
        tell.append(
            {
                "outfit": outfit,
                "pose": pose.name,
                "before": area,
                "after": left,
                "depth_before": depth,
                "depth_after": deeper,
                "seconds": took,
                **{k: max(d[k] for d in detail) for k in detail[0]},
            }
        )


def _detail(before: np.ndarray, after: np.ndarray, triangles: np.ndarray) -> dict:
    move, edge, dihedral = detail(before, after, triangles)
    every, _ = edge_use(triangles)
    pierced = [TriangleTree(p, triangles).pierced(every).sum() for p in (before, after)] if move else (0, 0)
    return {"move": move, "edge": edge, "dihedral": dihedral, "pierced": int(pierced[1] - pierced[0])}


def told(rows: list[dict]) -> str:
    """Return a line of figures over cells."""
    col = lambda k: np.array([r[k] for r in rows], float)  # noqa: E731
    fail = col("before") > 0.1
    went = col("seconds") > 0
    before, after = col("before"), col("after")
    worse = ((after > before + 0.1) | ((col("depth_after") > col("depth_before") + 0.3) & (after > 0.1))).sum()
    pick = lambda k, q: float(np.quantile(col(k)[went], q)) if went.any() else 0.0  # noqa: E731
    mean = lambda k: float(col(k)[went].mean()) if went.any() else 0.0  # noqa: E731
    gone = 100 * (1 - after.sum() / max(before.sum(), 1e-9))
    parts = (
        f"{len(rows):5d} cells {int(fail.sum()):5d} fail  {before.sum():9.1f} -> {after.sum():7.1f} cm2 ({gone:6.2f} %)",
        f"hold {100 * float((after <= 0.1).mean()):5.1f} %  worse {worse:3d}  move {col('move').max():4.1f} mm",
        f"edge {mean('edge'):4.1f} %  dihedral {mean('dihedral'):4.1f} deg  pierced {int(col('pierced').sum()):5d}",
        f"ms {1000 * pick('seconds', 0.5):4.0f} / {1000 * pick('seconds', 0.95):4.0f}",
    )
    return "  ".join(parts)


@contextmanager
def watched() -> Iterator[list[tuple[bool, float]]]:
    """Note of each alteration tried as outfits are cleared, of what shows somewhere, whether cloth fell in it, and its milliseconds, with
    the measurement of the cell that it begins with."""
    took: list[tuple[bool, float]] = []
    before = 0.0

    def begun(*args: Any, **more: Any) -> Any:
        nonlocal before
        began = time.perf_counter()
        out = kept[0](*args, **more)
        before = time.perf_counter() - began
        return out

    def timed(alter: Callable[..., Any]) -> Callable[..., Any]:
        def wrapped(*args: Any, **more: Any) -> Any:
            nonlocal before
            began = time.perf_counter() - (before if "baseline" in more else 0.0)
            out = alter(*args, **more)
            report = out[1][0] if isinstance(out[1], list) else out[1]
            if report.before and report.before.places:
                took.append((report.fell, 1000 * (time.perf_counter() - began)))
            return out

        return wrapped

    kept = ways.Baseline, ways.clear_poses, ways.give_way
    ways.Baseline, ways.clear_poses, ways.give_way = begun, timed(kept[1]), timed(kept[2])  # type: ignore[misc]
    try:
        yield took
    finally:
        ways.Baseline, ways.clear_poses, ways.give_way = kept  # type: ignore[misc]


def clearing(step: int = 1) -> Iterator[Figure]:
    """Outfits x bodies x poses of the library, then seeded random poses that nothing was tuned on; `step` takes every so many cells."""
    poses, apart = [p for n, p in POSES.items() if n != "rest"][:20], random_poses(200, 4711, 0.5)
    print("\nvisible poke-through by the second judge, cells worse, greatest move, mean change of edges and folds where moved,")
    print("newly pierced faces, time of an outfit (median / 95th percentile)")
    lean = bodies()["lean"]
    clear_outfit(dressed_in(("robe",), lean), lean.body, lean.shape, POSES["sit"], EASE)  # kernels are read from their cache
    every: dict[str, list[dict]] = {"library": [], "random": []}
    with watched() as alterations:
        for outfit in OUTFITS:
            rng = np.random.default_rng(3)
            rows: dict[str, list[dict]] = {"library": [], "random": []}
            for k, wearer in enumerate(bodies().values()):
                cells_of(outfit, wearer, poses[k % step :: step], rng, rows["library"])
                cells_of(outfit, wearer, apart[k :: 12 * step], rng, rows["random"])
            for which, got in rows.items():
                print(f"  {outfit:24s} {which:8s} {told(got)}", flush=True)
                every[which] += got
    for which, got in every.items():
        print(f"  {'all':24s} {which:8s} {told(got)}", flush=True)
    cells = [(r, 1000 * r["seconds"]) for r in every["library"] + every["random"] if r["seconds"] > 0]
    for name, took in (
        ("an alteration: a piece eased out or tucked in, the skin giving way", [ms for fell, ms in alterations if not fell]),
        ("a fall", [ms for fell, ms in alterations if fell]),
        ("one piece that does not fall", [ms for r, ms in cells if len(OUTFITS[r["outfit"]]) == 1 and r["move"] < 25.1]),
        ("the whole of an outfit, layers, falls and all", [ms for _, ms in cells]),
    ):
        for share, at in (("median", 0.5), ("95th percentile", 0.95)):
            yield Figure(f"{name}: {share}", float(np.quantile(took, at)))


def holding(count: int = 8) -> Iterator[Figure]:
    """Correctives made in poses of the library, judged in random poses they were not made for and in those of a walk."""
    made_in, apart = [p for n, p in POSES.items() if n != "rest"][:count], random_poses(24, 4711, 0.5)
    wearer = bodies()["heavy"]
    walk = clip_named("walk", wearer.skeleton)
    stride = [walk.pose(k) for k in range(0, len(walk.rotations), 3)]
    print(f"\nsecond judge, cm2, before -> after correctives made in {count} poses: in those / 24 random ones / in a walk's; cells worse")
    for outfit in ("trousers", "suit", "robe"):
        pieces = dressed_in(OUTFITS[outfit], wearer)
        ((name, piece),) = pieces.items()
        cleared, _ = clear_poses(piece, wearer.body, [(wearer.shape, p) for p in made_in], EASE)
        told = f"  {outfit:10s}"
        for poses in (made_in, apart, stride):
            judge = Judge(Dressed(wearer, pieces), 5)
            areas = np.array([[judge.judge(judge.posed(p, [worn]))[0] for worn in (piece, cleared)] for p in poses])
            told += f"  {areas[:, 0].sum():8.1f} -> {areas[:, 1].sum():7.1f} ({int((areas[:, 1] > areas[:, 0] + 0.1).sum())} worse)"
        print(told, flush=True)
    stride_cell = [(wearer.shape, POSES["stride"])]
    yield Figure(f"{name} cleared for one pose", median_ms(lambda: clear_poses(piece, wearer.body, stride_cell, EASE), 3))
