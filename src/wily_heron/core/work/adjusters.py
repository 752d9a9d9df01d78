"""The adjusters every piece has without an author: computed from where it lies on the body and from its openings."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse

from ..figure.figure import figure
from ..figure.on_figure import figure_tree
from ..figure.regions import face_regions
from ..mesh.edges import adjacency
from ..mesh.islands import islands
from ..mesh.loops import border_loops
from ..mesh.normals import vertex_normals
from ..space.surface import Surface

_PARTS: dict[str, tuple[str, ...]] = {
    "chest": ("chest", "upper_back"),
    "waist": ("belly", "lower_back"),
    "hip": ("lap", "seat"),
    "sleeve": ("upper_arm", "elbow", "forearm", "wrist"),
    "leg": ("thigh", "knee", "lower_leg", "ankle"),
}
_ROOM: dict[str, tuple[str, tuple[str, ...]]] = {
    "kneel": ("Room to kneel", ("knee",)),
    "sit": ("Room to sit", ("seat", "lap", "thigh")),
    "reach": ("Room to reach", ("shoulder", "upper_back", "upper_arm")),
}
_OUT, _LIFT, _RAISE, _FLARE, _SHIFT, _TWIST = 0.030, 0.015, 0.070, 0.060, 0.030, np.deg2rad(15.0)
"""What an adjuster at 1 moves (metres, radians)."""


@dataclass(frozen=True)
class Adjuster:
    """An adjuster: its name, what it is called, its group, what +1 and -1 do, and the move (n, 3) of each vertex at +1, in metres."""

    name: str
    label: str
    group: str
    more: str
    less: str
    move: np.ndarray


@dataclass(frozen=True)
class Opening:
    """An open border of a piece: its name, its vertices, the unit direction (3,) in which the piece ends there, and the middle of that end.

    A cuff that is turned up has its border above its end.
    """

    name: str
    label: str
    loop: np.ndarray
    way: np.ndarray
    end: np.ndarray


def adjusters(points: np.ndarray, triangles: np.ndarray, carrier: np.ndarray) -> list[Adjuster]:
    """Return the adjusters of a piece (n, 3) lying on the body whose level-1 figure's vertices are `carrier` (b, 3).

    All moves are smooth over the surface and add up; loose parts go with what they lie on.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        carrier: (b, 3) metres, the level-1 figure's vertices on the body.
    """
    p = np.asarray(points, np.float64)
    names, of = face_regions(1)
    near = figure_tree(carrier).nearest(p)
    plain = np.array([names[r].removeprefix("l_").removeprefix("r_") for r in of[near.triangle]])
    smooth = _smoother(p, triangles)
    facing = _unit(smooth(_facing_out(p, triangles, near.point), 12))
    limb = _along(carrier, near.triangle)
    out = _unit(facing - np.sum(facing * limb, axis=1)[:, None] * limb)
    found: list[Adjuster] = []

    def add(name, label, group, more, less, move):
        if np.abs(move).max() > 1e-5:
            found.append(Adjuster(name, label, group, more, less, move.astype(np.float32)))

    covered = {part: np.isin(plain, regions) for part, regions in _PARTS.items()}
    add("out", "Whole piece", "let out / take in", "let out", "take in", _OUT * out)
    for part, inside in covered.items():
        if inside.sum() > 30 and 0.03 < inside.mean() < 0.97:
            add(
                f"out {part}",
                part.capitalize(),
                "let out / take in",
                "let out",
                "take in",
                _OUT * smooth(inside.astype(float), 16)[:, None] * out,
            )
    surface = Surface.of(p, triangles)
    for opening in openings(p, triangles, carrier, surface):
        reach = max(0.12, 0.5 * float(np.ptp(p @ opening.way)))
        rows, far = surface.within(opening.loop, reach)
        w = np.zeros(len(p))
        w[rows] = 1.0 - far / reach
        upward = opening.way[1] > 0.5
        add(
            f"raise {opening.name}",
            opening.label,
            "raise / drop",
            "raise",
            "drop",
            (_RAISE if upward else -_RAISE) * w[:, None] * opening.way,
        )
        middle = p[opening.loop].mean(axis=0)
        spoke = p - middle
        spoke -= (spoke @ opening.way)[:, None] * opening.way
        flare = np.zeros(len(p))
        flare[rows] = (1.0 - far / reach) ** 1.5
        add(f"flare {opening.name}", opening.label, "flare", "flare", "narrow", _FLARE * flare[:, None] * _unit(spoke))
    add("lift", "Lift off the body", "whole piece", "farther", "nearer", _LIFT * facing)
    for name, (label, regions) in _ROOM.items():
        inside = np.isin(plain, regions)
        if inside.sum() > 20:
            add(name, label, "room to move", "more room", "less room", 0.7 * _OUT * smooth(inside.astype(float), 24)[:, None] * facing)
    shoulder = np.isin(plain, ("shoulder",))
    if shoulder.sum() > 20:
        w = smooth(shoulder.astype(float), 24)[:, None]
        add("shoulder up", "Shoulder height", "shoulders", "raise", "drop", w * [0.0, 0.025, 0.0])
        add("shoulder wide", "Shoulder width", "shoulders", "wider", "narrower", 0.025 * w * np.sign(p[:, :1]) * [1.0, 0.0, 0.0])
    head = np.isin(plain, ("scalp", "face", "ear"))
    if head.sum() > 30:
        w = smooth(head.astype(float), 8)
        add("hood up", "Hood or brim, height", "headwear", "raise", "drop", 0.03 * w[:, None] * np.array([0.0, 1.0, 0.0]))
        middle = near.point[head].mean(axis=0)
        spread = (p - middle) * [1.0, 0.0, 1.0]
        add("hood wide", "Hood or brim, width", "headwear", "wider", "narrower", 0.03 * w[:, None] * _unit(spread))
    heights = p[:, 1]
    hang = np.clip((heights.max() - heights) / max(float(np.ptp(heights)), 1e-6), 0, 1) * (~np.isin(plain, _PARTS["sleeve"]))
    around = np.stack([p[:, 2] - near.point[:, 2].mean(), np.zeros(len(p)), near.point[:, 0].mean() - p[:, 0]], axis=1)
    add("twist", "Twist", "whole piece", "to its left", "to its right", _TWIST * smooth(hang, 12)[:, None] * around)
    for axis, (name, label, more, less) in enumerate(
        (
            ("shift side", "Shift sideways", "to its left", "to its right"),
            ("shift up", "Shift up", "up", "down"),
            ("shift ahead", "Shift forward", "forward", "back"),
        )
    ):
        add(name, label, "whole piece", more, less, np.tile(_SHIFT * np.eye(3)[axis], (len(p), 1)))
    return found


def openings(points: np.ndarray, triangles: np.ndarray, carrier: np.ndarray, surface: Surface | None = None) -> list[Opening]:
    """Return the open borders of a piece at least 12 cm round, named by where they lie on the body."""
    p = np.asarray(points, np.float64)
    surface = surface or Surface.of(p, triangles)
    names, of = face_regions(1)
    tree = figure_tree(carrier)
    _, label = islands(triangles, len(p))
    size = np.bincount(label)
    out: list[Opening] = []
    for loop in border_loops(triangles):
        if size[label[loop[0]]] < 0.15 * size[0]:
            continue  # a placket or a pocket, not the piece
        if np.linalg.norm(p[loop] - p[np.roll(loop, 1)], axis=1).sum() < 0.12:
            continue
        rows, far = surface.within(loop, 0.08)
        inner = rows[far > 0.03]
        if len(inner) < 3:
            continue
        middle = p[loop].mean(axis=0)
        way = _unit((middle - p[inner].mean(axis=0))[None])[0]
        about = (p[surface.within(loop, 0.4)[0]] - middle) @ way
        if (about > 0.005).sum() > (about < -0.005).sum():
            way, about = -way, -about
        end = middle + way * float(np.clip(np.quantile(about, 0.99), 0.0, 0.15))
        region = names[np.bincount(of[tree.nearest(p[loop]).triangle]).argmax()]
        if p[loop, 0].min() < -0.03 and p[loop, 0].max() > 0.03:
            region = region.removeprefix("l_").removeprefix("r_")  # it goes round both sides
        name = _opening_name(region, way)
        count = sum(o.name == name or o.name.startswith(name + " ") for o in out)
        name = f"{name} {count + 1}" if count else name
        out.append(Opening(name, name.capitalize(), loop, way, end))
    return out


def _opening_name(region: str, way: np.ndarray) -> str:
    side = {"l_": "left ", "r_": "right "}.get(region[:2], "")
    plain = region[2:] if side else region
    if plain in ("wrist", "forearm", "palm", "back_of_hand", "elbow", "upper_arm") or "finger" in plain or plain == "thumb":
        return f"{side}cuff"
    if plain in ("shoulder",) and abs(way[0]) > 0.5:
        return f"{side}armhole"
    if plain in ("neck", "face", "scalp", "shoulder") or (way[1] > 0.5 and plain in ("chest", "upper_back")):
        return "neck"
    if plain == "ear":
        return f"{side}ear"
    if plain in ("ankle", "lower_leg", "knee", "thigh", "foot") and way[1] < 0.5:
        return f"{side}leg" if side else "hem"
    if plain in ("ankle", "lower_leg", "knee", "thigh"):
        return f"{side}top"
    return "waist" if way[1] > 0.5 else "hem"


def adjusted(points: np.ndarray, found: list[Adjuster], values: dict[str, float]) -> tuple[np.ndarray, list[str]]:
    """Return points (n, 3) with the adjusters at `values`, and the names among them that this piece does not have."""
    by_name = {a.name: a for a in found}
    p = np.asarray(points, np.float64).copy()
    for name, value in values.items():
        if name in by_name:
            p += value * by_name[name].move
    return p, [n for n in values if n not in by_name]


def _smoother(p: np.ndarray, triangles: np.ndarray):
    near = adjacency(triangles, len(p))
    mean = sparse.diags(1.0 / np.maximum(np.asarray(near.sum(axis=1)).ravel(), 1.0)) @ near
    edge = np.linalg.norm(p[triangles[:, 0]] - p[triangles[:, 1]], axis=1).mean()

    def smooth(values: np.ndarray, rounds: int) -> np.ndarray:
        """Even values (n, ...) out over about sqrt(rounds) cm, whatever the size of the faces."""
        out = values
        for _ in range(int(np.clip(rounds * (0.012 / max(edge, 1e-4)) ** 2, 2, 160))):
            out = 0.5 * out + 0.5 * (mean @ out)
        return out

    return smooth


def _facing_out(p: np.ndarray, triangles: np.ndarray, foot: np.ndarray) -> np.ndarray:
    normal = vertex_normals(p, triangles)
    away = np.sum(normal * (p - foot), axis=1)
    return np.where((away < -0.3 * np.linalg.norm(p - foot, axis=1))[:, None], -normal, normal)  # a lining goes with its outside


def _along(carrier: np.ndarray, triangle: np.ndarray) -> np.ndarray:
    """The direction of the limb or trunk under each vertex: of the bone that carries the skin there."""
    body = figure(1)
    corner = body.triangles[triangle, 0]
    joint = body.skin.joints[corner, np.argmax(body.skin.weights[corner], axis=1)]
    child = {int(parent): j for j, parent in reversed(list(enumerate(body.skeleton.parents))) if parent >= 0}
    way = np.tile([0.0, 1.0, 0.0], (len(body.skeleton.names), 1))
    for j, name in enumerate(body.skeleton.names):
        if name[:2] in ("l_", "r_") and j in child and "sterno" not in name:
            way[j] = body.skeleton.positions[child[j]] - body.skeleton.positions[j]
    return _unit(way)[joint]


def _unit(v: np.ndarray) -> np.ndarray:
    return v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12)
