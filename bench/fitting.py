"""The suite of fitting: truth by known correspondence, and the time of fits, previews and strokes."""

from collections.abc import Iterator

import numpy as np

from bench.fit_truth import EASE, KINDS, bodies, made, roughly, with_arms
from bench.measure import Figure, median_ms
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.fit import fit, lay
from wily_heron.core.fit.target import FitTarget
from wily_heron.core.mesh.edges import edge_use, unique_edges
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.hand import HandDab, Stroke
from wily_heron.core.space.tree import TriangleTree
from wily_heron.core.space.under import Under
from wily_heron.core.work.strokes import Stroking


def fitting() -> Iterator[Figure]:
    """Fit scores in tenths of millimetres are printed as they come; the figures yielded are times."""
    for known in (False, True):
        print("\nfrom the source body" if known else "\nno source, pins with 6 mm of noise", end=": ")
        print("mm from the true place, mean and 95th percentile;")
        print("share within 1 mm of the ease; log spread of edges; newly pierced faces")
        scores = [_scored(kind, known) for kind in KINDS]
        print("  all      " + _told(np.mean(scores, axis=0)))
    fine = figure(2)
    wearer = shaped(fine, {"girth": 0.8, "belly": 0.6})
    small = shaped(fine, {"stature": -0.6, "girth": -0.5})
    n = len(figure(1).base)
    shirt = made("shirt", with_arms(small, 20), 2)
    points, pins = roughly(shirt, np.random.default_rng(1))
    stand = FitTarget(Under.of(wearer.points, fine.triangles), wearer.points[:n], wearer.shape)
    step = Fit(ease=0.008, pins={k: (float(v[0]), float(v[1]), float(v[2])) for k, v in pins.items()})
    size = f"{len(points) / 1000:.1f}k"
    yield Figure(f"fit a {size} shirt, no source, pinned", median_ms(lambda: fit(points, shirt.triangles, stand, step), 3))
    yield Figure(f"fit a {size} shirt, no source, no pins", median_ms(lambda: fit(points, shirt.triangles, stand, Fit(ease=0.008)), 3))
    whole = made("shirt", small.points, 2)
    ridden = FitTarget(stand.under, stand.carrier, stand.shape, small.points[:n])
    yield Figure(f"fit a {size} shirt from its source", median_ms(lambda: fit(whole.points, shirt.triangles, ridden, Fit(ease=0.008)), 3))
    laid = lay(points, shirt.triangles, stand, step, shirt.rigid)
    yield Figure("preview of another ease", median_ms(lambda: fit(points, shirt.triangles, stand, step, laid=laid, quick=True), 5))
    suit = made("suit", fine.base, 2)
    hand = Stroking(suit.points, suit.triangles, np.arange(len(suit.points)), Under.of(fine.base, fine.triangles))
    at = int(np.argmin(np.linalg.norm(suit.points - [0.1, 1.1, 0.12], axis=1)))
    for tool in ("pull", "press", "puff", "iron"):
        stroke = Stroke.model_validate({"tool": tool, "radius": 0.15, "mirror": True, "dabs": ()})
        dab = HandDab(at=at, move=(0.0, 0.0, 0.001))
        yield Figure(f"{tool}, both sides, 15 cm, {len(suit.points) / 1000:.0f}k", median_ms(lambda s=stroke, d=dab: hand.dab(s, d), 15))


def _scored(kind: str, known: bool) -> np.ndarray:
    on, names, rng, out = bodies(), list(bodies()), np.random.default_rng(5), []
    for k in range(6):
        source, target = on[names[k]], on[names[(k + 1 + k % 3) % 6]]
        piece = made(kind, source.points if known else with_arms(source, 20 * (1 if k % 2 else -1)))
        truth = made(kind, target.points)
        points, pins = (piece.points, {}) if known else roughly(piece, rng)
        stand = FitTarget(Under.of(target.points, target.body.triangles), target.points, target.shape, source.points if known else None)
        ease = EASE.get(kind, 0.008)
        step = Fit(ease=ease, pins={k: (float(v[0]), float(v[1]), float(v[2])) for k, v in pins.items()})
        got = fit(points, piece.triangles, stand, step, rigid=piece.rigid)
        off = 1000 * np.linalg.norm(got.points - truth.points, axis=1)
        edges, _ = unique_edges(piece.triangles)
        long = [np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1) for p in (got.points, points)]
        rests = piece.rests & ~piece.rigid
        every, _ = edge_use(piece.triangles)
        before, after = (TriangleTree(p, piece.triangles).pierced(every) for p in (points, got.points))
        at_ease = (np.abs(got.clearance - ease)[rests] < 0.001).mean() if rests.any() else 1.0
        out.append((off.mean(), np.quantile(off, 0.95), at_ease, np.std(np.log(long[0] / long[1])), (after & ~before).sum()))
    score = np.mean(out, axis=0)
    print(f"  {kind:9s}" + _told(score))
    return score


def _told(score: np.ndarray) -> str:
    return f"{score[0]:6.2f} {score[1]:6.2f}   {score[2]:.3f}   {score[3]:.3f}   {score[4]:.1f}"
