"""Eight kinds of piece as they are worn, made on the house's figure by plain rules, for the suites of binding and following."""

from dataclasses import dataclass

import numpy as np

from bench.fit_truth import bodies, made
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.figure import figure

FITTED = ("shirt", "trousers", "suit", "coat", "gloves", "spats", "hood", "tabard")


@dataclass(frozen=True)
class Garment:
    """A piece: points (n, 3), triangles, and how it is worn."""

    points: np.ndarray
    triangles: np.ndarray
    category: str


def garments(wearer: Wearer) -> dict[str, Garment]:
    """Return the fitted kinds, a skirt and a straight robe, each made on `wearer` (level 1)."""
    out = {}
    for kind in (*FITTED, "skirt"):
        piece = made(kind, wearer.points)
        out[kind] = Garment(piece.points, piece.triangles, {"spats": "footwear", "hood": "headwear", "gloves": "glove"}.get(kind, "top"))
    out["robe"] = robe(wearer)
    return out


def robe(wearer: Wearer, around: int = 120, rings: int = 84, flare: float = 0.0) -> Garment:
    """A robe from the ribs to the shins, rings 3 cm off the widest of the body above each height: straight, or by `flare` wider at the hem
    than at the hips."""
    low, high = 0.16 * wearer.points[:, 1].max(), 0.70 * wearer.points[:, 1].max()
    hips = 0.53 * wearer.points[:, 1].max()
    trunk = wearer.points[(np.abs(wearer.points[:, 0]) < 0.26) & (wearer.points[:, 1] < high + 0.05)]
    angle = np.linspace(0, 2 * np.pi, around, endpoint=False)
    way = np.stack([np.sin(angle), np.cos(angle)], axis=1)
    points, reach = [], np.zeros(around)
    for y in np.linspace(high, low, rings):
        band = trunk[np.abs(trunk[:, 1] - y) < 0.03][:, [0, 2]]
        if len(band):
            reach = np.maximum(reach, (band @ way.T).max(axis=0) + 0.03)
        ring = way * reach[:, None] * (1.0 + flare * np.clip((hips - y) / (hips - low), 0.0, 1.0))
        points.append(np.stack([ring[:, 0], np.full(around, y), ring[:, 1]], axis=1))
    i = np.arange(around * (rings - 1))
    right = (i // around) * around + (i + 1) % around
    faces = np.concatenate([np.stack([i, i + around, right], 1), np.stack([right, i + around, right + around], 1)])
    return Garment(np.concatenate(points), np.ascontiguousarray(faces, np.int32), "dress")


def wearers() -> dict[str, Wearer]:
    """Return eight bodies: the six of the fitting suite, the neutral figure and a lean tall one."""
    more = {"neutral": shaped(figure(1), {}), "lean": shaped(figure(1), {"girth": -0.6, "stature": 0.5, "limb_length": 0.3})}
    return {**bodies(), **more}
