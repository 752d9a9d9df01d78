"""Finding what shows in a cell: how long it takes on bodies of three finenesses, and what of it is asking from where it is seen."""

import statistics
import time
from collections.abc import Iterator
from dataclasses import replace

import igl
import numpy as np

import wily_heron.core.clearance.find.find as finder
from bench.clearing import bodies, dressed_in
from bench.measure import Figure
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.find.face_samples import Asked
from wily_heron.core.figure.base.body import Body, shaped
from wily_heron.core.figure.base.skeleton import Skin
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.pose import Pose
from wily_heron.core.motion.pose_library import POSES

_RUNS = 9


def finding() -> Iterator[Figure]:
    """A robe of 10k vertices and a coat, each in a pose that makes work of it, posed anew every time, skinning included: what stands out by
    vertices, points of faces and edges through faces; what area of it, closely; and from where it is seen."""
    heavy, figures = bodies()["heavy"], (figure(1), _thinned(figure(2), 50_000), figure(2))
    for kind, name in (("robe", "sit"), ("robe", "kneel"), ("coat", "stride")):
        pieces = dressed_in((kind,), heavy)
        for body in figures:
            wearer = shaped(body, heavy.shape)
            whole, closely, seen = _timed(Dressed(wearer, pieces), POSES[name])
            of = f"{kind} of {len(pieces[kind].mesh.points) / 1000:.0f}k in {name}, body of {len(wearer.points) / 1000:.0f}k"
            yield Figure(f"find: {of}", whole - closely - seen)
            yield Figure("  and its area, asked closely", whole - seen)
            yield Figure("  and from where it is seen", whole)


def _thinned(body: Body, faces: int) -> Body:
    """Return the body thinned out to so many faces, its vertices some of those it has."""
    _, triangles, _, born = igl.qslim(body.base.astype(float), body.triangles.astype(np.int64), faces)
    kept, triangles = np.sort(born), np.argsort(np.argsort(born))[triangles]  # in the body's own order, as neighbours lie in it
    floor = np.searchsorted(kept, np.intersect1d(kept, body.floor))
    triangles, skin = triangles[np.argsort(triangles.min(axis=1))], Skin(body.skin.joints[kept], body.skin.weights[kept])
    return replace(body, base=body.base[kept], triangles=np.ascontiguousarray(triangles, np.int32), skin=skin, floor=floor,
                   deltas=np.ascontiguousarray(body.deltas[:, kept]), corner_uv=None)


def _timed(dressed: Dressed, pose: Pose) -> tuple[float, float, float]:
    """Return the median milliseconds of a cell, and of what of it goes into asking closely, and from where what stands out is seen."""
    spent = {"cell": 0.0, "closely": 0.0, "seen": 0.0}
    told: dict[str, list[float]] = {what: [] for what in spent}

    def watched(work, what, when=lambda *args: True):
        def timed(*args):
            began = time.perf_counter()
            out = work(*args)
            spent[what] += 1000 * (time.perf_counter() - began) * when(*args)
            return out

        return timed

    kept = finder._seen, Asked._look, Asked.part
    finder._seen, Asked.part = watched(finder._seen, "seen"), watched(Asked.part, "closely")
    Asked._look = watched(Asked._look, "closely", lambda _, name, *rest: name in ("fine", "finest"))
    try:
        for run in range(_RUNS + 1):
            dressed.measure(POSES["stand"])  # so that nothing is where the last cell left it
            spent.update(dict.fromkeys(spent, 0.0))
            watched(dressed.measure, "cell")(pose)
            for what in told if run else ():
                told[what].append(spent[what])
    finally:
        finder._seen, Asked._look, Asked.part = kept
    return statistics.median(told["cell"]), statistics.median(told["closely"]), statistics.median(told["seen"])
