"""Several sheets as one, so that they move together."""

from collections.abc import Sequence

import numpy as np

from .sheet import Part, Sheet


def side_by_side(sheets: Sequence[Sheet]) -> Sheet:
    """Return one sheet of several; its mesh is theirs one after the other. Each half of it is made of their halves, so that two threads
    still share no vertex."""
    if len(sheets) == 1:
        return sheets[0]
    begin = np.cumsum([0, *(len(s.points) for s in sheets)])
    first = np.array([s.halves[1] for s in sheets])
    second = np.array([len(s.points) for s in sheets]) - first
    low, high = np.cumsum(first) - first, first.sum() + np.cumsum(second) - second
    place = [np.concatenate([a + np.arange(f), b + np.arange(g)]) for a, b, f, g in zip(low, high, first, second, strict=True)]
    back = np.argsort(np.concatenate(place))

    def vertices(name: str) -> np.ndarray:
        return np.concatenate([getattr(s, name) for s in sheets])[back]

    def part(name: str, *values: str) -> tuple[Part, list[np.ndarray]]:
        mine = [getattr(s, name) for s in sheets]
        kind = np.concatenate([np.repeat(np.arange(3), np.diff(p.split)) for p in mine])
        order = np.argsort(kind, kind="stable")
        rows = np.concatenate([to[p.rows].astype(np.int32) for to, p in zip(place, mine, strict=True)])[order]
        split = np.concatenate([[0], np.cumsum(np.bincount(kind, minlength=3))]).astype(np.int64)
        return Part(np.ascontiguousarray(rows), split), [np.concatenate([getattr(s, v) for s in sheets])[order] for v in values]

    def rows(name: str) -> np.ndarray:
        return np.concatenate([to[getattr(s, name)] for to, s in zip(place, sheets, strict=True)])

    faces, (weave, drawn, soft) = part("faces", "weave", "drawn", "soft")
    sewn, (stitch,) = part("sewn", "stitch")
    bends, (weight, bend_soft, curve) = part("bends", "weight", "bend_soft", "curve")
    links, (most,) = part("links", "most")
    flat = lambda name: np.concatenate([getattr(s, name) for s in sheets])  # noqa: E731
    return Sheet(
        order=np.concatenate([s.order + at for s, at in zip(sheets, begin, strict=False)])[back],
        halves=np.array([0, first.sum(), begin[-1]]),
        points=vertices("points"),
        triangles=rows("triangles").astype(np.int32),
        mass=vertices("mass"),
        faces=faces,
        weave=weave,
        drawn=drawn,
        soft=soft,
        sewn=sewn,
        stitch=stitch,
        threads=rows("threads").astype(np.int32),
        rest=flat("rest"),
        bends=bends,
        weight=weight,
        bend_soft=bend_soft,
        curve=curve,
        links=links,
        most=most,
        tied=rows("tied"),
        tied_to=rows("tied_to"),
        tie=flat("tie"),
        friction=vertices("friction"),
        damping=vertices("damping"),
        thickness=vertices("thickness"),
        gap=vertices("gap"),
    )
