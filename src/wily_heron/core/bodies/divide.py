"""Taking a dressed body apart: which faces are the body, which the pieces, proposed from what the file says and what the shape shows."""

import re
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from ..mesh.edges import unique_edges
from ..mesh.normals import triangle_normals
from ..model.category import guess_category
from ..model.model import Model
from ..space.tree import TriangleTree

_FLESH = re.compile(r"\b(skin|body|flesh|head|face|hand|hands|foot|feet|eye|eyes|iris|tooth|teeth|tongue|lash|lashes|brow|brows|nails?)\b")
_LARGE = 0.01
"""Parts below this share of the whole surface (buttons, eyes) go with what they lie on."""
_ON = 0.02
"""Small parts lie on what is within this (metres); parts of one material are one when within a quarter of it."""


BODY = "Body"
"""What the body is called until an artist names it."""


@dataclass(frozen=True)
class Part:
    """A proposed part: its name, whether it is the body, its category if a piece, how sure (0..1), and why."""

    name: str
    is_body: bool
    category: str
    sure: float
    why: str


@dataclass(frozen=True)
class Proposal:
    """The part of each triangle `(m,) int32`, and the parts; the body, if there is one, is part 0."""

    label: np.ndarray
    parts: tuple[Part, ...]


def units(model: Model) -> np.ndarray:
    """Return `(m,)`: the connected run of one object and one material that each triangle belongs to."""
    mesh = model.mesh
    _, sides = unique_edges(mesh.triangles)
    m = len(mesh.triangles)
    order = np.argsort(sides.ravel(), kind="stable")
    edge, face = sides.ravel()[order], np.repeat(np.arange(m), 3)[order]
    a, b = face[:-1], face[1:]
    same = (edge[:-1] == edge[1:]) & (mesh.triangle_material[a] == mesh.triangle_material[b])
    same &= model.triangle_object[a] == model.triangle_object[b]
    graph = sparse.csr_matrix((np.ones(same.sum()), (a[same], b[same])), shape=(m, m))
    return connected_components(graph, directed=False)[1]


def propose(model: Model, stature: float) -> Proposal:
    """Return the proposed parts of a dressed body in metres, upright.

    The body is told by names, by being covered (rays outward from its skin meet other parts), by height and by how many joints move
    it. The rest is grouped by the file's objects, by material and touch, and by left and right; small parts go with what they lie on.

    Args:
        model: The model, upright and in metres.
        stature: The wearer's, metres.
    """
    unit = units(model)
    facts = _Facts(model, unit)
    body, why = _body(facts)
    group = _grouped(facts, body)
    label = np.zeros(len(unit), np.int32)
    parts = []
    if body.any():
        label[body[unit]] = 0
        parts.append(Part(BODY, True, "", facts.sure_of_body(body), why))
    for g in sorted(set(group[~body].tolist()), key=lambda g: -facts.area[(group == g) & ~body].sum()):
        rows = ((group == g) & ~body)[unit]
        label[rows] = len(parts)
        used = np.unique(model.mesh.triangles[rows])
        at = np.zeros(len(model.mesh.points), np.int32)
        at[used] = np.arange(len(used))
        guess = guess_category(model.mesh.points[used], at[model.mesh.triangles[rows]], stature)
        name = facts.name_of((group == g) & ~body, guess.name)
        while name in [p.name for p in parts]:
            name += " 2"
        parts.append(Part(name, False, guess.name, round(guess.sure, 2), guess.why))
    return Proposal(label, tuple(parts))


class _Facts:
    """What is known of each unit: area, middle, box, names, joints, and how much of it is covered."""

    def __init__(self, model: Model, unit: np.ndarray) -> None:
        mesh = model.mesh
        self.model, self.unit, self.count = model, unit, int(unit.max()) + 1
        corner = mesh.points[mesh.triangles].astype(np.float64)
        face_area = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
        self.area = np.bincount(unit, face_area, self.count)
        first = np.unique(unit, return_index=True)[1]
        self.material, self.object = mesh.triangle_material[first], model.triangle_object[first]
        middle = corner.mean(axis=1)
        self.middle = np.stack([np.bincount(unit, face_area * middle[:, a], self.count) for a in range(3)], axis=1)
        self.middle /= np.maximum(self.area, 1e-12)[:, None]
        self.low, self.high = np.full((self.count, 3), np.inf), np.full((self.count, 3), -np.inf)
        np.minimum.at(self.low, unit, corner.min(axis=1))
        np.maximum.at(self.high, unit, corner.max(axis=1))
        self.covered = self._covered(middle, face_area)
        self.large = self.area > _LARGE * self.area.sum()

    def _covered(self, middle: np.ndarray, face_area: np.ndarray) -> np.ndarray:
        """The share of each unit that has another within 8 cm over it, from some 3,000 faces drawn by their area."""
        mesh = self.model.mesh
        rng = np.random.default_rng(5)
        rows = rng.choice(len(face_area), 3000, p=face_area / face_area.sum())
        normal = triangle_normals(mesh.points, mesh.triangles)[rows]
        tree = TriangleTree(mesh.points, mesh.triangles)
        _, hit = tree.first_hits(middle[rows] + 5e-4 * normal, normal, 0.08)
        other = (hit >= 0) & (self.unit[np.maximum(hit, 0)] != self.unit[rows])
        seen = np.bincount(self.unit[rows], minlength=self.count)
        return np.bincount(self.unit[rows[other]], minlength=self.count) / np.maximum(seen, 1)

    def words(self, u: int) -> str:
        """The names a unit goes under, apart into words."""
        text = f"{self.model.mesh.materials[self.material[u]].name} {self.model.objects[self.object[u]]}"
        return re.sub(r"[^a-z]+", " ", re.sub(r"([a-z])([A-Z])", r"\1 \2", text).lower())

    def joints(self, rows: np.ndarray) -> int:
        """How many joints move the units in `rows`."""
        skin = self.model.skin
        if skin is None:
            return 0
        used = np.unique(self.model.mesh.triangles[rows[self.unit]])
        return len(np.unique(skin.joints[used][skin.weights[used] > 0.2]))

    def sure_of_body(self, body: np.ndarray) -> float:
        """How sure the body is: names, cover and height each speak for it."""
        named = any(_FLESH.search(self.words(u)) for u in np.flatnonzero(body & self.large).tolist())
        tall = float(np.ptp([self.low[body, 1].min(), self.high[body, 1].max()]) / np.ptp([self.low[:, 1].min(), self.high[:, 1].max()]))
        return round(min(1.0, 0.35 * named + 0.35 * min(tall, 1.0) + 0.3 * min(float(self.covered[body & self.large].mean()) * 2, 1.0)), 2)

    def name_of(self, rows: np.ndarray, category: str) -> str:
        """A part's name: its object's where that is its own, else its material's and its category's."""
        largest = int(np.flatnonzero(rows)[np.argmax(self.area[rows])])
        material = self.model.mesh.materials[self.material[largest]].name
        own = set(self.object[rows].tolist())
        alone = len(own) == 1 and not (self.object[~rows] == next(iter(own))).any()
        name = self.model.objects[next(iter(own))] if alone and len(self.model.objects) > 1 else f"{material} {category}"
        plain = " ".join(re.sub(r"[^A-Za-z0-9]+", " ", re.sub(r"([a-z])([A-Z])", r"\1 \2", name)).split())
        return (plain or category).capitalize()[:50]


def _body(facts: _Facts) -> tuple[np.ndarray, str]:
    """Return which units are the body `(u,) bool`, and why."""
    named = np.array([bool(_FLESH.search(facts.words(u))) for u in range(facts.count)])
    if facts.area[named].sum() > 0.12 * facts.area.sum():
        return named, f"its materials or objects are named so, {100 * facts.covered[named & facts.large].mean():.0f} % of it is covered"
    best, score, why = None, 0.0, ""
    height = float(np.ptp([facts.low[:, 1].min(), facts.high[:, 1].max()]))
    for u in np.flatnonzero(facts.large):
        rows = (facts.material == facts.material[u]) & (facts.object == facts.object[u])
        tall = float((facts.high[rows, 1].max() - facts.low[rows, 1].min()) / height)
        cover = float(np.average(facts.covered[rows], weights=facts.area[rows]))
        moved = facts.joints(rows)
        points = tall + 1.5 * cover + 0.01 * moved
        if points > score and tall > 0.75 and (cover > 0.15 or facts.large.sum() == 1):
            best, score = rows, points
            why = f"{100 * cover:.0f} % of it is covered by other parts, it is {100 * tall:.0f} % of the height" + (
                f" and {moved} joints move it" if moved else "")
    if best is None:
        return np.zeros(facts.count, bool), ""
    inside = ~facts.large & (facts.covered > 0.5) & np.array([_near(facts, u, best) for u in range(facts.count)])
    return best | inside, why


def _near(facts: _Facts, u: int, rows: np.ndarray) -> bool:
    return bool(((facts.low[rows] - _ON <= facts.middle[u]) & (facts.middle[u] <= facts.high[rows] + _ON)).all(axis=1).any())


def _grouped(facts: _Facts, body: np.ndarray) -> np.ndarray:
    """Return the group of each unit that is no body."""
    group = np.arange(facts.count)

    def join(a: int, b: int) -> None:
        group[group == group[a]] = group[b]

    mesh, unit = facts.model.mesh, facts.unit
    own_object = [o for o in set(facts.object.tolist()) if not body[facts.object == o].any()]
    free: list[int] = np.flatnonzero(~body).tolist()
    large: list[int] = [u for u in free if facts.large[u]]
    if len(facts.model.objects) > 1:
        for o in own_object:
            rows = np.flatnonzero((facts.object == o) & ~body)
            for u in rows[1:]:
                join(int(u), int(rows[0]))
    points = {u: mesh.points[np.unique(mesh.triangles[unit == u])] for u in free}
    trees = {u: KDTree(points[u]) for u in large}
    for i, u in enumerate(large):
        for v in large[i + 1:]:
            if group[u] == group[v]:
                continue
            gap = float(trees[v].query(points[u], distance_upper_bound=_ON)[0].min())
            touch = gap < 1e-5 or (gap < _ON / 4 and facts.material[u] == facts.material[v])
            across = np.abs(facts.middle[u] * [-1, 1, 1] - facts.middle[v]).max() < _ON
            twins = across and facts.material[u] == facts.material[v] and 0.7 < facts.area[u] / facts.area[v] < 1.4
            if touch or twins:
                join(u, v)
    held = np.unique(group[large]) if large else np.zeros(0, int)
    for u in free:
        if facts.large[u] or group[u] in held or not large:
            continue
        gaps = [float(trees[v].query(points[u])[0].min()) for v in large]
        if min(gaps) < _ON:
            join(int(u), large[int(np.argmin(gaps))])
    return group
