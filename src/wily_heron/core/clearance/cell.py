"""One cell of the trial sheet: an outfit on one wearer in one pose, measured."""

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..figure.body import Wearer
from ..figure.pose import Pose, pose_matrices
from ..figure.skinning import skin_points
from ..piece.state import Piece
from ..piece.worn import at_rest, dressed_skin, worn_points
from ..space.tree import Screen, TriangleTree
from ..space.tree_memo import tree_on
from .cover import UNDER, Cover
from .cover_memo import cover_of
from .find import Found, find
from .recall import Recall
from .regions import dominant_joint, region_name
from .shots import Shot, seen_in
from .skin_holes import cloth_holes, holes

CLEAN_AREA = 1e-5
"""A cell with at most 0.1 cm2 of visible poke-through holds."""
EVERY = slice(None)
_NO_FACES = np.zeros(0, np.int32)


@dataclass(frozen=True)
class Layer:
    """One over-layer in a cell: its name, posed points (n, 3), tree, and what the pair with the layer under it shows."""

    name: str
    points: np.ndarray
    tree: TriangleTree
    found: Found


@dataclass(frozen=True)
class CellResult:
    """A measured cell: posed body points, the layers from the innermost out, the figures in plain types, and the faces of the skin that
    are left out and can be missed."""

    body_points: np.ndarray
    layers: tuple[Layer, ...]
    figures: dict
    hole_faces: np.ndarray


class Dressed:
    """A wearer with pieces on, innermost first: what can be kept between cells of the same wearer is kept here."""

    def __init__(self, wearer: Wearer, pieces: dict[str, Piece]) -> None:
        self.wearer = wearer
        self.names = list(pieces)
        self.pieces = [pieces[name] for name in self.names]
        self.rest = [at_rest(piece, wearer) for piece in self.pieces]
        self.body_tree = tree_on(wearer.points, wearer.body.triangles)
        gone = [p.hidden for p in self.pieces if p.hidden is not None]
        self.hidden = np.unique(np.concatenate(gone)) if gone else np.zeros(0, np.int32)
        self.skin_faces = np.delete(wearer.body.triangles, self.hidden, axis=0) if len(self.hidden) else wearer.body.triangles
        self._skin_tree = TriangleTree(wearer.points, self.skin_faces) if len(self.hidden) else self.body_tree
        self._trees = [tree_on(rest, p.mesh.triangles) for rest, p in zip(self.rest, self.pieces, strict=True)]
        self._seen_trees = [t if p.left_out is None else TriangleTree(rest, p.shown)
                            for t, rest, p in zip(self._trees, self.rest, self.pieces, strict=True)]
        self._worn: tuple[Pose, tuple[np.ndarray, list[np.ndarray]]] | None = None
        self._at: dict[int, np.ndarray] = {}
        self._screens: dict[tuple, Screen] = {}
        self.covers: list[Cover] = []
        under, triangles = wearer.points, self.skin_faces
        for rest, piece in zip(self.rest, self.pieces, strict=True):
            self.covers.append(cover_of(under, triangles, rest, piece.mesh.triangles))
            under, triangles = rest, piece.shown

    @property
    def blockers(self) -> list[TriangleTree]:
        """What can be seen of the skin and of each piece, where the last cell has put it."""
        return [self._skin_tree, *self._seen_trees]

    def measure(self, pose: Pose, moved: Mapping[int, np.ndarray] | None = None, look_for_holes: bool = False,
                skin: np.ndarray | None = None, shots: Sequence[Shot] | None = None, recall: Sequence[Recall] = (),
                only: Container[int] | None = None, glance: bool = False, hiding: slice = EVERY) -> CellResult:
        """Return the cell in `pose`: every neighbouring pair of layers, skin included. A piece not yet bound stays at rest.

        `moved` puts layers, by their place from the skin out, at points (n, 3) other than where they are worn, `skin` the skin. Skin that
        pieces hide is not there; `look_for_holes` asks as well whether its lack can be seen, at a third of a second. With `shots`, the
        figures tell as well what each of them sees of what shows. `recall`, one a pair, remembers from one measurement of the cell to the
        next; at a `glance`, what of a fold could not be seen then is taken to be hidden still. Only the layers `hiding`, skin first, hide
        anything. Pairs other than `only`, counted from the skin out, are not asked, and told as if they held.
        """
        instead, (body, posed) = moved or {}, self._posed(pose)
        body, posed = body if skin is None else skin, [instead.get(i, points) for i, points in enumerate(posed)]
        for tree, points in zip((self._skin_tree, *self._trees, *self._seen_trees), (body, *posed, *posed), strict=True):
            self._put(tree, points)
        blockers, layers, screen = self.blockers, [], self._screen(hiding)
        for i, name in enumerate(self.names):
            if only is None or i in only:
                found = find(blockers[i], self._trees[i], self.covers[i], screen, recall[i] if recall else None, glance)
            else:
                found = Found((), np.zeros(len(blockers[i].points)), UNDER)
            layers.append(Layer(name, posed[i], self._trees[i], found))
        figures = self._figures(layers)
        open_ = self._holes(body, posed, blockers) if look_for_holes else {}
        if open_:
            _tell_holes(figures, open_)
        if shots is not None:
            _tell_shots(figures, layers, shots, blockers)
        return CellResult(body, tuple(layers), figures, open_["Skin"][1] if "Skin" in open_ else _NO_FACES)

    def clearance_map(self, layer: int, cell: CellResult) -> np.ndarray:
        """Return `(n,) float32` signed clearance in metres of a layer's vertices over the skin, in a measured cell."""
        self._put(self.body_tree, cell.body_points)
        signed, _ = self.body_tree.signed_distance(cell.layers[layer].points)
        return signed.astype(np.float32)

    def _posed(self, pose: Pose) -> tuple[np.ndarray, list[np.ndarray]]:
        """Return the points of the skin and of each piece as they are worn in a pose, kept until another is asked for."""
        if self._worn is None or self._worn[0] is not pose:
            matrices = pose_matrices(self.wearer, pose)
            body = skin_points(dressed_skin(self.pieces, self.wearer, pose), self.wearer.body.skin, matrices)
            self._worn = pose, (body, [worn_points(p, self.wearer, pose, matrices) for p in self.pieces])
        return self._worn[1]

    def _screen(self, hiding: slice) -> Screen:
        """Return what is hidden by the layers `hiding`, kept from one cell to the next."""
        which = hiding.start, hiding.stop
        if which not in self._screens:
            self._screens[which] = Screen(self.blockers[hiding])
        return self._screens[which]

    def _put(self, tree: TriangleTree, points: np.ndarray) -> None:
        """Refit a tree to an array of points, if it is not there already."""
        if self._at.get(id(tree)) is not points:
            tree.refit(points)
            self._at[id(tree)] = points

    def _holes(self, body: np.ndarray, posed: list[np.ndarray], blockers: list[TriangleTree]) -> dict[str, tuple[float, np.ndarray]]:
        """Return what is left out and can be missed, by layer: its area (m2) and its faces."""
        found: dict[str, tuple[float, np.ndarray]] = {}
        if len(self.hidden):
            found["Skin"] = holes(body, self.wearer.body.triangles, self.hidden, blockers[1:])
        for name, piece, points in zip(self.names, self.pieces, posed, strict=True):
            if piece.left_out is not None:
                found[name] = cloth_holes(points, piece.mesh.triangles, piece.left_out, blockers)
        return {name: told for name, told in found.items() if told[0] > 0}

    def _figures(self, layers: list[Layer]) -> dict:
        pairs, under = [], "Skin"
        for i, layer in enumerate(layers):
            skin = self.wearer.body.skin if i == 0 else self.pieces[i - 1].skin
            riders = None if i == 0 else self.pieces[i - 1].riders
            places = []
            for k, place in enumerate(layer.found.places):
                name = under if skin is None else region_name(self.wearer.skeleton.names[dominant_joint(skin, place.vertices, riders)])
                places.append(
                    {
                        "name": name,
                        "depth_mm": round(1000 * place.depth, 2),
                        "area_cm2": round(1e4 * place.area, 3),
                        "centre": [round(float(x), 4) for x in place.centre],
                        "seen_along": [round(float(x), 3) for x in layer.found.seen.best_view(k)],
                    }
                )
            pairs.append(
                {
                    "over": layer.name,
                    "under": under,
                    "clearance_mm": round(1000 * layer.found.least, 2),
                    "area_cm2": round(1e4 * layer.found.area, 3),
                    "pinched_cm2": round(1e4 * layer.found.pinched, 3),
                    "places": places,
                }
            )
            under = layer.name
        area = sum(p["area_cm2"] for p in pairs)
        return {
            "clearance_mm": min((p["clearance_mm"] for p in pairs), default=40.0),
            "area_cm2": round(area, 3),
            "places": sum(len(p["places"]) for p in pairs),
            "holds": area <= 1e4 * CLEAN_AREA,
            "holes_cm2": 0.0,
            "pairs": pairs,
        }


def _tell_holes(figures: dict, open_: Mapping[str, tuple[float, np.ndarray]]) -> None:
    """Add to a cell's figures what of each layer is left out and can be missed (cm2)."""
    figures["holes"] = [{"of": name, "area_cm2": round(1e4 * area, 3)} for name, (area, _) in open_.items()]
    figures["holes_cm2"] = round(sum(h["area_cm2"] for h in figures["holes"]), 3)
    figures["holds"] = figures["area_cm2"] + figures["holes_cm2"] <= 1e4 * CLEAN_AREA


def _tell_shots(figures: dict, layers: list[Layer], shots: Sequence[Shot], blockers: list[TriangleTree]) -> None:
    """Add to a cell's figures what the shots see of what shows: by place and pair, by shot, and in all (cm2)."""
    by_shot = np.zeros(len(shots))
    for pair, layer in zip(figures["pairs"], layers, strict=True):
        seen = layer.found.seen
        views = seen_in(shots, seen.points, seen.facing, blockers)
        by_shot += 1e4 * views @ seen.area
        any_ = views.any(axis=0)
        pair["in_shots_cm2"] = round(1e4 * float(seen.area[any_].sum()), 3)
        for k, place in enumerate(pair["places"]):
            mine = seen.place == k
            place["in_shots_cm2"] = round(1e4 * float(seen.area[any_ & mine].sum()), 3)
            place["shots"] = [shot.name for shot, v in zip(shots, views, strict=True) if v[mine].any()]
    figures["in_shots_cm2"] = round(sum(p["in_shots_cm2"] for p in figures["pairs"]), 3)
    figures["shots"] = [{"name": shot.name, "area_cm2": round(float(a), 3)} for shot, a in zip(shots, by_shot, strict=True)]
