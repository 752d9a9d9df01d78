"""One cell of the trial sheet: an outfit on one wearer in one pose, measured."""

from collections.abc import Container, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skinning import skin_points
from ..mesh.normals import vertex_normals
from ..model.layer_names import SKIN_NAME
from ..model.state import Piece
from ..model.worn import at_rest, dressed_skin, worn_points
from ..motion.pose import Pose, pose_matrices
from ..space.tree import Screen, TriangleTree
from ..space.tree_memo import tree_on
from .cover.cover import AGREE, UNDER, Cover, dot
from .cover.cover_memo import cover_of
from .cover.key import SKIN, Key
from .cover.rest_layer import RestLayer
from .figures import Figures, cell_figures
from .find.find import find
from .find.incremental import Recall, Recalls
from .find.protrusion import Standing, standing
from .find.shots import Shot
from .layer_order import between_of
from .pair import CLEAN_AREA, Pair, unmeasured
from .skin_holes import cloth_holes, holes

__all__ = ["CLEAN_AREA", "SKIN", "CellResult", "Dressed", "Key", "Layer", "Pair"]
_NO_FACES = np.zeros(0, np.int32)


@dataclass(frozen=True)
class Layer:
    """One piece in a cell: its name, posed points (n, 3), and tree."""

    name: str
    points: np.ndarray
    tree: TriangleTree


@dataclass(frozen=True)
class CellResult:
    """A measured cell: posed body points, the layers from the innermost out, every pair of layers of which one lies over the other
    anywhere, the figures, and the faces of the skin that are left out and can be missed."""

    body_points: np.ndarray
    layers: tuple[Layer, ...]
    pairs: tuple[Pair, ...]
    figures: Figures
    hole_faces: np.ndarray = field(default_factory=lambda: _NO_FACES)

    def pair(self, key: Key) -> Pair:
        """Return the pair of two layers, by their places. Raises `KeyError` where the one nowhere lies over the other."""
        for pair in self.pairs:
            if pair.key == key:
                return pair
        raise KeyError(key)

    def over(self, place: int) -> list[Pair]:
        """Return the pairs in which the piece at `place` is the outer layer: what lies under it, the nearest first."""
        return [pair for pair in self.pairs if pair.key.over == place]

    def under(self, place: int) -> list[Pair]:
        """Return the pairs in which the layer at `place` is the inner one: what lies over it, the innermost first."""
        return [pair for pair in self.pairs if pair.key.under == place]

    def points_of(self, place: int) -> np.ndarray:
        """Return the posed points (n, 3) of the layer at `place`, the skin at -1."""
        return self.body_points if place == SKIN else self.layers[place].points

    def stands_out(self, place: int = SKIN) -> np.ndarray:
        """Return how far (n,) each vertex of the layer at `place` stands out of whatever lies over it, in metres."""
        depth = np.zeros(len(self.points_of(place)))
        for pair in self.under(place):
            np.maximum(depth, pair.found.depth, out=depth)
        return depth


class Dressed:
    """A wearer with pieces on, innermost first: what can be kept between cells of the same wearer is kept here.

    Every layer is measured against every layer that lies over it anywhere, whatever stands between them on the rail (`covers`). What is
    sealed beneath one of them is not seen through another.
    """

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
        self._screens: dict[tuple[int, ...] | None, Screen] = {}
        self._normals: dict[int, tuple[np.ndarray, np.ndarray]] = {}
        self._stood: dict[Key, tuple[np.ndarray, np.ndarray, Standing, tuple[int, ...] | None]] = {}
        self.covers = self._covers()
        self._between = between_of(self.covers)
        self._over = {place: [key.over for key in self.covers if key.under == place] for place in range(SKIN, len(self.pieces))}

    def _covers(self) -> dict[Key, Cover]:
        """Return what of each layer belongs under which: by outer piece from the innermost out, and of each the nearest under it first."""
        inner = [RestLayer(self.wearer.points, self.skin_faces),
                 *(RestLayer(rest, p.shown) for rest, p in zip(self.rest, self.pieces, strict=True))]
        found: dict[Key, Cover] = {}
        for over, (rest, piece) in enumerate(zip(self.rest, self.pieces, strict=True)):
            outer = inner[over + 1] if piece.left_out is None else RestLayer(rest, piece.mesh.triangles)
            for under in range(over - 1, SKIN - 1, -1):
                cover = cover_of(inner[under + 1], outer)
                if cover is not None:
                    found[Key(over, under)] = cover
        return found

    def faces_of(self, place: int) -> np.ndarray:
        """Return the triangles (m, 3) of the layer at `place`, the skin's at -1."""
        return self.wearer.body.triangles if place == SKIN else self.pieces[place].mesh.triangles

    @property
    def blockers(self) -> list[TriangleTree]:
        """What can be seen of the skin and of each piece, where the last cell has put it."""
        return [self._skin_tree, *self._seen_trees]

    def measure(self, pose: Pose, moved: Mapping[int, np.ndarray] | None = None, look_for_holes: bool = False,
                skin: np.ndarray | None = None, shots: Sequence[Shot] | None = None, recall: Recalls | None = None,
                only: Container[Key] | None = None, glance: bool = False, hiding: tuple[int, ...] | None = None,
                threads: int = 1) -> CellResult:
        """Return the cell in `pose`: every pair of layers, skin included, of which one lies over the other anywhere. A piece not yet bound
        stays at rest.

        `moved` puts layers, by their place from the skin out, at points (n, 3) other than where they are worn, `skin` the skin. Skin that
        pieces hide is not there; `look_for_holes` asks as well whether its lack can be seen, at a third of a second. With `shots`, the
        figures tell as well what each of them sees of what shows. `recall` remembers from one measurement of the cell to the next; at a
        `glance`, what of a fold could not be seen then is taken to be hidden still. Only the layers `hiding`, by place, hide
        anything. Pairs other than `only` are not asked, and told as if they held. With more `threads` than one the pairs are asked side by
        side, which changes nothing but the time it takes; `recall` is asked in one.
        """
        instead, (body, posed) = moved or {}, self._posed(pose)
        body, posed = body if skin is None else skin, [instead.get(i, points) for i, points in enumerate(posed)]
        for tree, points in zip((self._skin_tree, *self._trees, *self._seen_trees), (body, *posed, *posed), strict=True):
            self._put(tree, points)
        layers = tuple(Layer(name, posed[i], self._trees[i]) for i, name in enumerate(self.names))
        screen, blockers = self._screen(hiding), self.blockers
        measured = [key for key in self.covers if only is None or key in only]
        if recall is not None:
            for key in measured:
                self._stand(key, hiding, recall[key])
        if recall is None and only is None and threads > 1:
            pairs = self._side_by_side(screen, hiding, threads)
        else:
            pairs = [self._pair(key, screen, recall, glance, hiding) if key in measured
                     else unmeasured(key, cover, len(blockers[key.under + 1].points)) for key, cover in self.covers.items()]
        figures = cell_figures(pairs, self.names, self.pieces, self.wearer)
        open_ = self._holes(body, posed, blockers) if look_for_holes else {}
        if open_:
            figures = figures.with_holes(open_)
        if shots is not None:
            figures = figures.with_shots(pairs, shots, blockers)
        return CellResult(body, layers, tuple(pairs), figures, open_[SKIN_NAME][1] if SKIN_NAME in open_ else _NO_FACES)

    def _side_by_side(self, screen: Screen, hiding: tuple[int, ...] | None, threads: int) -> list[Pair]:
        """Return all pairs, asked in several threads: how the layers stand, of one under-layer after the other, since what is sealed of it
        beneath one layer tells what is to be asked beneath the next, and then what each pair shows; the largest first."""
        size = {key: len(cover.faces) for key, cover in self.covers.items()}
        of_layer = {under: [key for key in self.covers if key.under == under] for under in sorted({key.under for key in self.covers})}

        def stand(under: int) -> None:
            for key in of_layer[under]:
                self._standing(key, hiding)

        screen.gather()
        with ThreadPoolExecutor(threads) as pool:
            list(pool.map(stand, sorted(of_layer, key=lambda under: -sum(size[key] for key in of_layer[under]))))
            keys = sorted(self.covers, key=lambda key: -size[key])
            found = dict(zip(keys, pool.map(lambda key: self._pair(key, screen, None, False, hiding), keys), strict=True))
        return [found[key] for key in self.covers]

    def _pair(self, key: Key, screen: Screen, recall: Recalls | None, glance: bool, hiding: tuple[int, ...] | None) -> Pair:
        """Return what one pair shows where its inner layer is not sealed beneath any other."""
        under, over = self.blockers[key.under + 1], self._trees[key.over]
        others = [place for place in self._over[key.under] if place != key.over and self._hides(place, hiding)]
        exposed: np.ndarray | None = None
        if others:
            exposed = np.ones(len(under.points), bool)
            for place in others:
                exposed &= ~self._standing(Key(place, key.under), hiding).sealed
        remembered, stood = recall[key] if recall is not None else None, self._standing(key, hiding)
        return Pair(key, self.covers[key], find(under, over, self.covers[key], screen, remembered, glance, stood, exposed))

    def _standing(self, key: Key, hiding: tuple[int, ...] | None) -> Standing:
        """Return how the vertices of a pair's inner layer stand to the outer one, but for those sealed beneath a layer between the two; as
        it was found if neither has moved."""
        known = self._stood.get(key)
        if known and known[0] is self.blockers[key.under + 1].points and known[1] is self._trees[key.over].points and known[3] == hiding:
            return known[2]
        return self._stand(key, hiding, None)

    def _stand(self, key: Key, hiding: tuple[int, ...] | None, recall: Recall | None) -> Standing:
        under, over = self.blockers[key.under + 1], self._trees[key.over]
        active: np.ndarray | None = None
        for third in self._between[key]:
            if self._hides(third, hiding):
                sealed = self._standing(Key(third, key.under), hiding).sealed
                active = ~sealed if active is None else active & ~sealed
        found = standing(under, over, self.covers[key], self._normal(key.under, under), active, recall)
        self._stood[key] = under.points, over.points, found, hiding
        return found

    def _hides(self, place: int, hiding: tuple[int, ...] | None) -> bool:
        """Whether the piece at `place` hides what lies beneath it: it is whole, and not left out of what hides."""
        return self.pieces[place].left_out is None and (hiding is None or place in hiding)

    def _normal(self, place: int, tree: TriangleTree) -> np.ndarray:
        """Return the unit vertex normals (n, 3) of a layer where it is now."""
        if place not in self._normals or self._normals[place][0] is not tree.points:
            self._normals[place] = tree.points, vertex_normals(tree.points, tree.triangles)
        return self._normals[place][1]

    def clearance_maps(self, cell: CellResult, threads: int = 1) -> list[np.ndarray]:
        """Return, of each layer of a measured cell, `(n,) float32` signed clearance in metres of its vertices: over the skin, or over a
        piece that lies under it there where that is less."""
        self._put(self.body_tree, cell.body_points)
        self.body_tree.sign()
        with ThreadPoolExecutor(threads) as pool:
            return list(pool.map(lambda layer: self._clearance_map(layer, cell), range(len(cell.layers))))

    def _clearance_map(self, layer: int, cell: CellResult) -> np.ndarray:
        points = np.asarray(cell.layers[layer].points, np.float64)
        signed, _ = self.body_tree.signed_distance(points)
        normal = self._normal(layer, cell.layers[layer].tree)
        for pair in cell.over(layer):
            if pair.key.under == SKIN:
                continue
            tree = self._trees[pair.key.under]
            near = tree.nearest(points, facing=pair.cover.outward * normal, agree=AGREE, limit=UNDER)
            over = dot(points - near.point, tree.normals[np.maximum(near.triangle, 0)])
            square = np.abs(over) > 0.5 * near.distance  # not past the border of what lies under it
            signed = np.where((near.triangle >= 0) & square & (over < signed), over, signed)
        return signed.astype(np.float32)

    def _posed(self, pose: Pose) -> tuple[np.ndarray, list[np.ndarray]]:
        """Return the points of the skin and of each piece as they are worn in a pose, kept until another is asked for."""
        if self._worn is None or self._worn[0] is not pose:
            matrices = pose_matrices(self.wearer, pose)
            body = skin_points(dressed_skin(self.pieces, self.wearer, pose), self.wearer.body.skin, matrices)
            self._worn = pose, (body, [worn_points(p, self.wearer, pose, matrices) for p in self.pieces])
        return self._worn[1]

    def _screen(self, hiding: tuple[int, ...] | None) -> Screen:
        """Return what is hidden by the layers `hiding`, kept from one cell to the next."""
        if hiding not in self._screens:
            every = self.blockers
            self._screens[hiding] = Screen(every if hiding is None else [every[place + 1] for place in hiding])
        return self._screens[hiding]

    def _put(self, tree: TriangleTree, points: np.ndarray) -> None:
        """Refit a tree to an array of points, if it is not there already."""
        if self._at.get(id(tree)) is not points:
            tree.refit(points)
            self._at[id(tree)] = points

    def _holes(self, body: np.ndarray, posed: list[np.ndarray], blockers: list[TriangleTree]) -> dict[str, tuple[float, np.ndarray]]:
        """Return what is left out and can be missed, by layer: its area (m2) and its faces."""
        found: dict[str, tuple[float, np.ndarray]] = {}
        if len(self.hidden):
            found[SKIN_NAME] = holes(body, self.wearer.body.triangles, self.hidden, blockers[1:])
        for name, piece, points in zip(self.names, self.pieces, posed, strict=True):
            if piece.left_out is not None:
                found[name] = cloth_holes(points, piece.mesh.triangles, piece.left_out, blockers)
        return {name: most for name, most in found.items() if most[0] > 0}
