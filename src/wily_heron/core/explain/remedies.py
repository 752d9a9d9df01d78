"""Remedies for what shows in a cell: each is tried, measured, and told with what it costs; the best first."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..clear.clear import clear
from ..clear.give_way import give_way
from ..clear.hide import covered_faces
from ..clear.pose_fix import with_fix, with_yielding
from ..clearance.cell import CLEAN_AREA, Dressed
from ..clearance.find.shots import Shot
from ..clearance.pair import Pair
from ..clearance.skin_holes import holes
from ..drape.drape import Draping
from ..drape.passage import into_pose
from ..errors import InputError
from ..figure.base.body import shaped
from ..figure.base.rotation import IDENTITY
from ..memo import Same
from ..mesh.dihedral import dihedrals
from ..mesh.edges import edge_lengths, unique_edges
from ..mesh.normals import vertex_normals
from ..model.layer_names import SKIN_NAME
from ..model.state import Piece
from ..model.steps.draping import Drape
from ..model.worn import rest_moves, worn_points
from ..motion.own_poses import own_pose
from ..motion.pose import Pose
from ..work.adjusters import adjusters
from .explain import elsewhere, face_need, finer, reordered
from .failing_pair import Case

Cell = tuple[np.ndarray, Pose]
_FALL = Drape(settle=12, move=18, hang=18, keep="pose")
_FALLS = 20_000
"""How a piece is let fall to see whether that helps; beyond so many vertices it takes too long to try."""
_SLACK = 0.02
"""A neighbouring cell may show this much more (cm2): the noise of sampling."""


@dataclass(frozen=True)
class Remedy:
    """A remedy that was tried: its kind and words; what would be done, as plain data; what the cell then shows (cm2) and how deep (mm).

    Its price: the greatest move (mm), the mean change of edges (%) and folds (degrees) where it moves; body faces hidden; neighbours
    that get worse, of how many; degrees a joint turns.
    """

    kind: str
    words: str
    do: dict[str, Any]
    area: float
    depth: float
    move: float = 0.0
    edges: float = 0.0
    folds: float = 0.0
    hidden: int = 0
    worse: int = 0
    near: int = 0
    turn: float = 0.0

    @property
    def holds(self) -> bool:
        """Whether the cell holds with it and no neighbour gets worse."""
        return self.area <= 1e4 * CLEAN_AREA and self.worse == 0

    @property
    def cost(self) -> float:
        """What it costs, in mm of move or as much as that: what is left counts most, then neighbours, then detail and turned joints.

        To leave what no shot sees costs least.
        """
        if self.kind == "leave":
            return 0.0
        left = max(0.0, self.area - 1e4 * CLEAN_AREA)
        return 100.0 * left + 50.0 * self.worse + self.move + 2.0 * self.edges + self.folds + 2.0 * self.turn


class Trying:
    """Tries remedies on a case, beside `neighbours`: other cells that must not get worse; `shots` are those that show the case."""

    def __init__(self, case: Case, ease: float, neighbours: Sequence[Cell] = (), carrier: np.ndarray | None = None,
                 shots: Sequence[Shot] | None = None) -> None:
        self.case, self.ease, self.carrier, self.shots = case, ease, carrier, shots
        self.neighbours = list(neighbours)
        self._last: tuple[tuple, Dressed] | None = None
        self._before = [self._area(case.pieces, *cell) for cell in self.neighbours]

    def all(self) -> Iterator[Remedy]:
        """Yield each remedy that changes anything for the better, as it is tried."""
        case, own = self.case, self.case.pieces[self.case.over]
        if not case.pair.shows:
            return
        yield from self.leave()
        for way in (self.ease_out, self.tuck, self.hide, self.refine, self.adjust, self.reorder, self.nudge, self.drape):
            if own.skin is None and way not in (self.reorder, self.hide):
                continue
            for found in way():
                if found.area < case.area - 1e-3:
                    yield found

    def leave(self) -> Iterator[Remedy]:
        """It stays as it is, where no shot sees it."""
        if self.shots is None:
            return
        figures = self.case.dressed().measure(self.case.pose, shots=self.shots).figures
        pair = next(p for p in figures.pairs if (p.over, p.under) == (self.case.over, self.case.under or SKIN_NAME))
        if (pair.in_shots_cm2 or 0.0) <= 1e4 * CLEAN_AREA:
            yield Remedy("leave", "Leave it: no shot sees it", {"reason": "no shot sees it", "by_shots": True}, pair.area_cm2,
                         max(0.0, -pair.clearance_mm))

    def ease_out(self) -> Iterator[Remedy]:
        """The over-layer moves out, kept for the pose; and for good."""
        case, name = self.case, self.case.over
        own = case.pieces[name]
        eased, report = clear(own, case.body, case.shape, case.pose, self.ease, case.layers(name))
        if not report.kept:
            return
        if case.pose.rotations:
            made = with_fix(own, case.body, case.pose, eased.mesh.points - own.mesh.points, case.pose.label)
            yield self._tried("ease out", f"Ease {name} out in {case.pose.label.lower()}", {"piece": name, "way": "out", "keep": "pose"},
                              {**case.pieces, name: made}, name)
        yield self._tried("ease out", f"Ease {name} out for good", {"piece": name, "way": "out", "keep": "rest"},
                          {**case.pieces, name: eased}, name)

    def tuck(self) -> Iterator[Remedy]:
        """The under-layer gives way, so that the outfit does not bulk up."""
        case, name = self.case, self.case.under
        if name is None:
            yield from self._skin_gives_way()
            return
        if case.pieces[name].skin is None:
            return
        own = case.pieces[name]
        tucked, report = clear(own, case.body, case.shape, case.pose, 0.5 * self.ease, case.layers(name), "in")
        if report.kept:
            keep, move = "pose" if case.pose.rotations else "rest", tucked.mesh.points - own.mesh.points
            made = with_fix(own, case.body, case.pose, move, case.pose.label) if keep == "pose" else tucked
            yield self._tried("tuck", f"Tuck {name} in under {case.over}", {"piece": name, "way": "in", "keep": keep},
                              {**case.pieces, name: made}, name)

    def _skin_gives_way(self) -> Iterator[Remedy]:
        case, name = self.case, self.case.over
        move, report = give_way(case.pieces[name], case.body, case.shape, case.pose, layers=case.layers(name))
        if report.moved:
            keep = "pose" if case.pose.rotations else "rest"
            made = with_yielding(case.pieces[name], case.body, case.pose, move)
            yield self._tried("tuck", f"Let the skin give way under {name}", {"piece": name, "way": "skin", "keep": keep},
                              {**case.pieces, name: made}, None, 1000 * report.greatest_move)

    def hide(self) -> Iterator[Remedy]:
        """The skin that shows is left out, where no one can miss it."""
        case, name = self.case, self.case.over
        if case.under is not None:
            return
        own, layers = case.pieces[name], case.layers(name)
        cells = [*self.neighbours, (case.shape, case.pose)]
        unhidden = replace(own, hidden=None)
        faces = covered_faces(unhidden, case.body, self.neighbours, layers)
        if not len(faces):
            return
        made = replace(own, hidden=faces)
        dressed = Dressed(shaped(case.body, case.shape), {**case.pieces, name: made})
        cell = dressed.measure(case.pose)
        hole, _ = holes(cell.body_points, case.body.triangles, faces, [layer.tree for layer in cell.layers])
        found = self._tried("hide", f"Hide the skin under {name}", {"piece": name, "hide": True, "cells": len(cells)},
                            {**case.pieces, name: made}, None)
        words = found.words + (f": a hole of {1e4 * hole:.1f} cm² would open here" if hole > CLEAN_AREA else "")
        yield replace(found, words=words, hidden=len(faces), area=found.area + 1e4 * hole)

    def refine(self) -> Iterator[Remedy]:
        """Finer faces about the place, then eased out."""
        case, name = self.case, self.case.over
        own, need = case.pieces[name], face_need(case)
        triangles = own.mesh.triangles
        centres = np.array([p.centre for p in case.pair.found.places])
        middle = np.asarray(case.cell().points_of(case.key.over), float)[triangles].mean(axis=1)
        faces = (np.linalg.norm(middle[:, None] - centres[None], axis=2) < 0.08).any(axis=1)
        corner = own.mesh.points[triangles]
        size = np.linalg.norm(corner - np.roll(corner, 1, axis=1), axis=2).max(axis=1)
        if not faces.any() or np.median(size[faces]) <= need or len(triangles) > 60_000 or own.riders is not None:
            return
        made = finer(case, faces & (size > need))
        pieces = {**case.pieces, name: made}
        eased, report = clear(made, case.body, case.shape, case.pose, self.ease, case.layers(name, pieces))
        if report.kept:
            eased = with_fix(made, case.body, case.pose, eased.mesh.points - made.mesh.points, case.pose.label)
            yield self._tried("refine", f"Refine {name} where it bends ({1000 * need:.0f} mm) and ease it out",
                              {"piece": name, "refine": round(need, 4), "way": "out", "keep": "pose"}, {**pieces, name: eased}, None,
                              move=1000 * report.greatest_move)

    def adjust(self) -> Iterator[Remedy]:
        """The adjuster that clears it with the least: a few are tried at a few strengths."""
        case, name = self.case, self.case.over
        own = case.pieces[name]
        if self.carrier is None or not case.pose.rotations:
            return
        dressed, cell = case.dressed(), case.cell()
        here = np.array([p.centre for p in case.pair.found.places[:3]])
        near = np.linalg.norm(np.asarray(cell.points_of(case.key.over), float)[:, None] - here[None], axis=2).min(axis=1) < 0.05
        found = adjusters(own.mesh.points, own.mesh.triangles, self.carrier)
        out = vertex_normals(own.mesh.points, own.mesh.triangles)[near] * case.pair.cover.outward
        reach = [float(np.sum(a.move[near] * out, axis=1).mean()) if near.any() else 0.0 for a in found]  # what lifts it off there
        best: Remedy | None = None
        for i in np.argsort(reach)[::-1][:3]:
            for value in (0.35, 0.8):
                move = value * found[i].move
                made = with_fix(own, case.body, case.pose, move, case.pose.label)
                posed = worn_points(made, dressed.wearer, case.pose)
                if dressed.measure(case.pose, {case.key.over: posed}).pair(case.key).area_cm2 > 1e4 * CLEAN_AREA:
                    continue
                way = found[i].more if value > 0 else found[i].less
                tried = self._tried("adjuster", f"{found[i].label}: {way} {abs(value):g}, in {case.pose.label.lower()}",
                                    {"piece": name, "values": {found[i].name: value}}, {**case.pieces, name: made}, name)
                if best is None or tried.cost < best.cost:
                    best = tried
                break
        if best is not None:
            yield best

    def reorder(self) -> Iterator[Remedy]:
        """The over-layer goes just below the under-layer on the rail."""
        case = self.case
        if case.under is None:
            return
        yield self._tried("reorder", f"{case.over} under {case.under} on the rail", {"piece": case.over, "swap": case.under},
                          reordered(case.pieces, case.over, case.under), None)

    def nudge(self) -> Iterator[Remedy]:
        """The smallest turn of one joint towards rest that frees it."""
        case = self.case
        turned = {j: q for j, q in case.pose.rotations.items() if abs(float(np.dot(q, IDENTITY))) < np.cos(np.radians(1.0))}
        skeleton = shaped(case.body, case.shape).skeleton
        found = case.pair.found
        if not turned or not found.places:
            return
        own = case.pieces[case.over]
        used = np.zeros(len(skeleton.names))
        if own.skin is None:
            return
        cloth = np.asarray(case.cell().points_of(case.key.over), float)
        near = np.linalg.norm(cloth - found.places[0].centre, axis=1) < 0.10
        known = np.minimum(own.skin.joints[near], len(used) - 1)
        np.add.at(used, known.ravel(), own.skin.weights[near].ravel())
        chosen: list[str] = []
        for j in np.argsort(-used)[:3]:
            k = int(j)
            while k >= 0 and len(chosen) < 3:
                if skeleton.names[k] in turned and skeleton.names[k] not in chosen:
                    chosen.append(skeleton.names[k])
                k = int(skeleton.parents[k])
        dressed = case.dressed()
        best: tuple[float, str, Pose, Pair] | None = None
        for joint in chosen:
            whole = np.degrees(2 * np.arccos(min(abs(float(np.dot(turned[joint], IDENTITY))), 1.0)))
            for degrees in (5.0, 10.0, 20.0):
                if degrees > whole or (best is not None and degrees >= best[0]):
                    break
                rotations = {**case.pose.rotations, joint: _towards_rest(np.asarray(turned[joint], float), degrees / whole)}
                pose = own_pose(f"{case.pose.label}, eased", {n: [float(x) for x in q] for n, q in rotations.items()})
                pair = dressed.measure(pose).pair(case.key)
                if pair.area_cm2 <= 1e4 * CLEAN_AREA:
                    best = (degrees, joint, pose, pair)
                    break
        if best is not None:
            degrees, joint, pose, pair = best
            turns = {n: [round(float(x), 6) for x in q] for n, q in pose.rotations.items()}
            yield Remedy("nudge", f"Turn {joint.replace('_', ' ')} back by {degrees:g}°", {"pose": pose.label, "rotations": turns},
                         pair.area_cm2, max(0.0, -pair.clearance_mm), turn=degrees)

    def drape(self) -> Iterator[Remedy]:
        """The piece falls into the pose as cloth, on what lies under it, and is kept there as it hangs."""
        case, name = self.case, self.case.over
        own = case.pieces[name]
        if not case.pose.rotations or own.riders is not None or len(own.mesh.points) > _FALLS:
            return
        under = [case.pieces[n] for n in list(case.pieces)[: case.key.over]]
        try:
            falling = Draping(own, shaped(case.body, case.shape), _FALL, into_pose(case.pose, _FALL.settle, _FALL.move, _FALL.hang), under)
        except InputError:
            return  # there is no cloth in it
        move = rest_moves(own, falling.wearer, case.pose, falling.run())
        made = with_fix(own, case.body, case.pose, move, case.pose.label)
        yield self._tried("drape", f"Let {name} fall into {case.pose.label.lower()} as {_FALL.fabric.name}",
                          {"piece": name, "drape": _FALL.model_dump(mode="json", exclude={"cell", "over"})},
                          {**case.pieces, name: made}, name)

    def _tried(self, kind: str, words: str, do: dict, pieces: Mapping[str, Piece], changed: str | None, move: float = 0.0) -> Remedy:
        case = self.case
        dressed = Dressed(shaped(case.body, case.shape), dict(pieces))
        cell = dressed.measure(case.pose)
        worse = sum(self._area(pieces, *c) > b + _SLACK for c, b in zip(self.neighbours, self._before, strict=True))
        area = max(0.0, cell.figures.area_cm2 - elsewhere(case))  # what other pairs showed already is not this remedy's to answer for
        depth = max((-p.clearance_mm for p in cell.figures.pairs if p.over == case.over and p.places), default=0.0)
        edges = folds = 0.0
        if changed is not None:
            at = list(pieces).index(changed)
            move, edges, folds = detail(case.cell().layers[at].points, cell.layers[at].points, pieces[changed].mesh.triangles)
        return Remedy(kind, words, do, round(area, 3), round(depth, 2), round(move, 2), round(edges, 2), round(folds, 2), 0, worse,
                      len(self.neighbours))

    def _area(self, pieces: Mapping[str, Piece], shape: np.ndarray, pose: Pose) -> float:
        key = (tuple((n, Same(p)) for n, p in pieces.items()), shape.tobytes())
        if self._last is None or self._last[0] != key:
            self._last = (key, Dressed(shaped(self.case.body, shape), dict(pieces)))
        return self._last[1].measure(pose).figures.area_cm2


def detail(before: np.ndarray, after: np.ndarray, triangles: np.ndarray) -> tuple[float, float, float]:
    """Return the greatest move (mm), and where it moves the mean change of edge length (%) and of folds (degrees)."""
    size = np.linalg.norm(np.asarray(after, float) - before, axis=1)
    busy = size > 1e-4
    if not busy.any():
        return 0.0, 0.0, 0.0
    edges, _ = unique_edges(triangles)
    edges = edges[busy[edges].any(axis=1)]
    long = [edge_lengths(np.asarray(p, float), edges) for p in (before, after)]
    sides, flat = dihedrals(before, triangles)
    bent = np.abs(dihedrals(after, triangles)[1] - flat)[busy[sides].any(axis=1)]
    return 1000 * float(size.max()), 100 * float(np.abs(long[1] / np.maximum(long[0], 1e-9) - 1).mean()), float(np.degrees(bent.mean()))


def _towards_rest(q: np.ndarray, share: float) -> np.ndarray:
    """Turn `q` back towards no turn by a share of its angle."""
    q = q if q @ IDENTITY >= 0 else -q
    half = np.arccos(min(float(q @ IDENTITY), 1.0))
    axis = q[:3] / max(float(np.linalg.norm(q[:3])), 1e-12)
    left = half * (1.0 - share)
    return np.array([*(np.sin(left) * axis), np.cos(left)])
