"""Where a piece is worn: a first placement from its category and size, the drop onto the body, and landmarks to snap to."""

import numpy as np

from ..figure.body_landmarks import body_landmarks
from ..figure.figure import figure
from ..figure.regions import face_regions
from ..mesh.normals import vertex_normals
from ..model.steps.receive import Place
from ..space.tree import TriangleTree
from .place import place

_WORN: dict[str, tuple[tuple[str, ...], str]] = {
    "top": (("chest", "belly", "upper_back", "lower_back", "shoulder", "upper_arm", "forearm", "elbow"), "top"),
    "bottom": (("lap", "seat", "thigh", "knee", "lower_leg"), "top"),
    "dress": (("chest", "belly", "upper_back", "lower_back", "shoulder", "lap", "seat", "thigh", "knee"), "top"),
    "suit": (
        (
            "chest",
            "belly",
            "upper_back",
            "lower_back",
            "shoulder",
            "upper_arm",
            "elbow",
            "forearm",
            "lap",
            "seat",
            "thigh",
            "knee",
            "lower_leg",
        ),
        "top",
    ),
    "footwear": (("ankle", "foot", "sole", "toes"), "bottom"),
    "headwear": (("scalp",), "top"),
    "hair": (("scalp", "neck"), "top"),
    "beard": (("face",), "bottom"),
    "glove": (("palm", "back_of_hand", "thumb", "index_finger", "middle_finger", "ring_finger", "little_finger", "wrist"), "bottom"),
}
"""The regions a category covers, and which end of it sits there."""
ASIDE = 0.15
"""A piece whose middle is this near (metres) to its proposed place, and of about the right size, already stands where it is worn."""


def propose(points: np.ndarray, category: str, carrier: np.ndarray) -> tuple[Place, str]:
    """Return a first placement of a piece (n, 3) by category on the body whose level-1 figure's vertices are `carrier`, and why.

    A piece on one side only goes to that side's foot or hand. It is turned by quarter turns if it lies, and sized only where its size
    cannot be right.

    Args:
        points: (n, 3) float, metres.
        category: What it is: top, bottom, footwear, ...
        carrier: (b, 3) metres, the level-1 figure's vertices on the body.
    """
    p = np.asarray(points, np.float64)
    if category not in _WORN:
        return Place(), "a rigid piece is put where it is worn by hand, or snapped to a landmark"
    regions, end = _WORN[category]
    low, high = p.min(axis=0), p.max(axis=0)
    lone = category in ("footwear", "glove") and not (low[0] < 0 < high[0] and (high[0] - low[0]) > 0.8 * _box(carrier, regions, "")[1][0])
    side = "" if not lone else "l_" if p[:, 0].mean() >= 0 else "r_"
    goal_low, goal_size = _box(carrier, regions, side)
    size = high - low
    ratios = goal_size / np.maximum(size, 1e-6)
    wrong = (ratios > 1.6).all() or (ratios < 0.62).all()  # a long or a short piece is no wrong size, one out of all scale is
    scale = float(np.median(ratios)) if wrong else 1.0
    middle = (low + high) / 2
    goal = goal_low + goal_size / 2
    if end == "top":
        goal[1] = goal_low[1] + goal_size[1] + (0.012 if category in ("headwear", "hair") else 0.0) - scale * size[1] / 2
    else:
        goal[1] = goal_low[1] - (0.006 if category == "footwear" else 0.0) + scale * size[1] / 2
    move = goal - middle
    if np.linalg.norm(move) < ASIDE and scale == 1.0:
        return Place(), "it stands where it is worn"
    where = {"l_": "left ", "r_": "right "}.get(side, "")
    sized = f", sized by {scale:.2f}" if scale != 1.0 else ""
    return Place(move=_vector(move), scale=scale), f"laid where a {where}{category} is worn{sized}"


def _box(carrier: np.ndarray, regions: tuple[str, ...], side: str) -> tuple[np.ndarray, np.ndarray]:
    names, of = face_regions(1)
    wanted = [i for i, n in enumerate(names) if n in regions or (n[:2] in ("l_", "r_") and n[2:] in regions and n.startswith(side))]
    rows = np.unique(figure(1).triangles[np.isin(of, wanted)])
    low = carrier[rows].min(axis=0).astype(np.float64)
    return low, np.ptp(carrier[rows].astype(np.float64), axis=0)


def dropped(points: np.ndarray, body_points: np.ndarray, body_triangles: np.ndarray, ease: float) -> float:
    """Return how far (metres, down is negative) a piece falls until it is `ease` over the body, or stands on the floor.

    Args:
        points: (n, 3) float, metres.
        body_points: (b, 3) float, metres.
        body_triangles: (c, 3) int32.
        ease: How far over the body it stops, metres.
    """
    p = np.asarray(points, np.float64)
    body = TriangleTree(body_points, body_triangles)
    down = np.tile([0.0, -1.0, 0.0], (len(p), 1))
    fall, _ = body.first_hits(p, down, 3.0)
    floor = float(p[:, 1].min())
    inside = body.signed_distance(p)[0] < 0
    if inside.any():  # sunk in: up until it is out, then down again
        up, _ = body.first_hits(p[inside], -down[inside], 3.0)
        return float(np.where(np.isfinite(up), up, 0.0).max()) + ease
    nearest = float(fall.min())
    return -min(nearest - ease, floor) if np.isfinite(nearest) else -floor


def snapped(points: np.ndarray, step: Place, row: int, landmark: str, carrier: np.ndarray, ease: float) -> Place:
    """Return the placement that brings vertex `row` of the received points to `ease` metres off a landmark of the wearer.

    Args:
        points: (n, 3) float, metres.
        step: What is asked for, as a step of the bench.
        row: The row of the received point.
        landmark: A landmark of the wearer, by name.
        carrier: (b, 3) metres, the level-1 figure's vertices on the body.
        ease: How far off it, metres.
    """
    at = body_landmarks()[landmark]
    goal = carrier[at] + ease * vertex_normals(carrier, figure(1).triangles)[at]
    return step.model_copy(update={"move": _vector(np.array(step.move) + goal - place(points, step)[row])})


def _vector(v: np.ndarray) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])
