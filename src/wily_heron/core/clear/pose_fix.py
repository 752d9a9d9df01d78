"""Correctives for poses: made by clearing or by hand in a pose, kept at rest, coming in with that pose."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np

from ..clearance.figures import OwnFigures
from ..figure.base.body import Body, shape_values, shaped
from ..figure.base.skinning import blended_linear
from ..model.correctives import Corrective, PoseSpace, relevant_joints
from ..model.layer_names import SKIN_NAME
from ..model.state import Piece
from ..model.steps.alteration import Cell
from ..model.steps.clear import CellClearing, Fix, FixReport, Loose
from ..model.worn import piece_matrices, worn_points
from ..model.yields import with_yield
from ..motion.own_poses import pose_for
from ..motion.pose import Pose, pose_matrices, posed_body
from ..space.tree import TriangleTree
from ..space.under import Under
from ..work.adjusters import adjusted, adjusters
from ..work.strokes import Stroking
from .clear import Baseline, Way, clear
from .clear_cells import Cell as ShapeInPose
from .clear_cells import measure_cells, no_worse, spares
from .fall.fall import MAX_STRETCH
from .fall.hanging_cloth import Hanging
from .give_way import give_way
from .layers import ALONE, Layers


def with_fix(piece: Piece, body: Body, pose: Pose, move: np.ndarray, name: str) -> Piece:
    """Return the piece with a corrective that moves it by `move` (n, 3) metres at rest when `pose` is taken; one there already for the
    pose gains it. Rigid parts move whole.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        pose: The pose of the cell.
        move: (n, 3) metres at rest.
        name: What the corrective is called.
    """
    assert piece.skin is not None
    move = np.asarray(move, np.float32).copy()
    if piece.riders is not None:
        of = np.where(piece.skin.joints[:, 0] >= piece.riders.first, piece.skin.joints[:, 0] - piece.riders.first, -1)
        for r in range(len(piece.riders.places)):
            move[of == r] = move[of == r].mean(axis=0)
    fixes = np.zeros((0, *move.shape), np.float32) if piece.fixes is None else piece.fixes
    own = next((i for i, c in enumerate(piece.correctives) if c.pose == pose.name and not c.shapes), -1)
    if own >= 0:
        fixes = fixes.copy()
        fixes[own] += move
        made = replace(piece, fixes=fixes)
    else:
        made = replace(piece, correctives=(*piece.correctives, Corrective(name, (), pose.name)), fixes=np.concatenate([fixes, move[None]]))
    return replace(made, examples=_examples(made, body, pose))


def lessened(piece: Piece, before: Piece, body: Body, pose: Pose, share: np.ndarray) -> Piece:
    """Return the piece with what its corrective for `pose` has gained since `before` made less, to a `share` (n,) of it.

    Args:
        piece: The piece, bound.
        before: The piece as it was before.
        body: The body, in any shape.
        pose: The pose of the cell.
        share: (n,) float, 0 to 1.
    """
    def fix(p: Piece) -> np.ndarray:
        own = next((i for i, c in enumerate(p.correctives) if c.pose == pose.name and not c.shapes), -1)
        return p.fixes[own] if own >= 0 and p.fixes is not None else np.zeros_like(p.mesh.points, np.float32)

    return with_fix(piece, body, pose, (share - 1.0)[:, None] * (fix(piece) - fix(before)), pose.label)


def with_yielding(piece: Piece, body: Body, pose: Pose | None, move: np.ndarray) -> Piece:
    """Return the piece under which the skin gives way by `move` (n, 3) metres at rest: when `pose` is taken, or without one always.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        pose: The pose of the cell.
        move: (n, 3) metres at rest.
    """
    if pose is None or not pose.rotations:
        return replace(piece, yields=with_yield(piece.yields, Corrective("always", (), ""), move))
    made = replace(piece, yields=with_yield(piece.yields, Corrective(pose.label, (), pose.name), move))
    return replace(made, examples=_examples(made, body, pose))


def _examples(piece: Piece, body: Body, pose: Pose) -> PoseSpace:
    """Return the space of a piece's examples with `pose` among them, each told by the joints that bear what it moves."""
    assert piece.skin is not None
    e = piece.examples
    poses: dict[str, Mapping] = {}
    if e is not None:
        poses |= {n: dict(zip(e.joints, turns, strict=True)) for n, turns in zip(e.names, e.turns, strict=True)}
    poses[pose.name] = pose.rotations
    skeleton = shaped(body, body.made_at).skeleton
    moved = {n: np.zeros(len(piece.skin.joints), bool) for n in poses}
    for corrective, fix in zip(piece.correctives, () if piece.fixes is None else piece.fixes, strict=True):
        if corrective.pose:
            moved[corrective.pose] |= np.linalg.norm(fix, axis=1) > 1e-4
    bearing = {n: set(relevant_joints(skeleton, piece.skin, rows)) for n, rows in moved.items()}
    if piece.yields is not None:
        for n in poses:
            bearing[n] |= set(relevant_joints(skeleton, body.skin, piece.yields.moved_by(n)))
    return PoseSpace.of(poses, {n: tuple(sorted(joints)) for n, joints in bearing.items()})


class PosedPiece:
    """A bound piece in a cell, to be worked on as it is posed: its `points` (n, 3), and the way back to rest."""

    def __init__(self, piece: Piece, body: Body, cell: Cell) -> None:
        assert piece.skin is not None
        self.piece, self.pose = piece, pose_for(cell.pose, cell.rotations)
        wearer = shaped(body, shape_values(body, cell.shape))
        matrices = pose_matrices(wearer, self.pose)
        self.points = worn_points(piece, wearer, self.pose, matrices).astype(np.float64)
        self.under = Under(TriangleTree(posed_body(wearer, self.pose), body.triangles))
        self._linear = blended_linear(piece.skin, piece_matrices(piece, wearer, self.pose, matrices))

    def stroking(self) -> Stroking:
        """Return the posed piece in the hand."""
        mesh = self.piece.mesh
        rows = mesh.received if mesh.received is not None else np.arange(len(self.points))
        return Stroking(self.points, mesh.triangles, rows, self.under, self.piece.protect)

    def moves(self, rows: np.ndarray, posed: np.ndarray) -> np.ndarray:
        """Return the move at rest (r, 3) that takes vertices `rows` to `posed` (r, 3)."""
        return np.linalg.solve(self._linear[rows], (posed - self.points[rows])[:, :, None])[:, :, 0]

    def at_rest(self, rows: np.ndarray, posed: np.ndarray) -> np.ndarray:
        """Return where vertices `rows` lie in the piece's kept shape when they are to be at `posed` (r, 3) here."""
        return self.piece.mesh.points[rows] + self.moves(rows, posed)


def fixed(state: Piece, body: Body, step: Fix, here: Callable[[], np.ndarray]) -> tuple[Piece, FixReport]:
    """Return the piece with a corrective made by hand, and what it came to: strokes on it as it is posed, adjusters as they act at
    rest."""
    at = PosedPiece(state, body, step.cell)
    hand, pose, lost = at.stroking(), at.pose, 0
    for stroke in step.strokes:
        lost += hand.apply(stroke)[1]
    move = at.moves(np.arange(len(at.points)), hand.points)
    unknown: list[str] = []
    if step.values:
        points, unknown = adjusted(state.mesh.points, adjusters(state.mesh.points, state.mesh.triangles, here()), step.values)
        move = move + points - state.mesh.points
    made = with_fix(state, body, pose, move, pose.label)
    return made, FixReport(pose=pose.name, lost=lost, unknown=tuple(unknown), moved=float(np.linalg.norm(move, axis=1).max(initial=0.0)))


def clear_poses(piece: Piece, body: Body, cells: Sequence[ShapeInPose], ease: float, layers: Layers = ALONE,
                way: Way = "out", loose: Loose = "falls", baseline: Baseline | None = None,
                through: bool = True, shown: bool = False, brief: bool = False) -> tuple[Piece, list[CellClearing]]:
    """Return the piece with a corrective for the pose of each cell that fails, and a report for each cell.

    A corrective is kept only if its cell gets better and no other cell of those given gets worse.

    Args:
        piece: The piece, bound.
        body: The body it is worn on.
        cells: Shape values (s,) and pose of each cell.
        ease: How far apart layers are brought, metres.
        layers: What lies under it and over it.
        way: "out" off what lies under it, "in" beneath what lies over it.
        loose: "falls" where cloth about the legs falls as cloth into poses that stretch it too far; "eased" where it is eased out alone.
        baseline: The only cell, where it is measured already; it tells in the end what the cell shows.
        through: Whether the piece may go through itself on the way; see `clear`.
        shown: Cloth falls only in poses where something shows.
        brief: See `clear`.
    """
    if len(cells) == 1:
        baseline = baseline or Baseline(shaped(body, cells[0][0]), piece, cells[0][1], layers)
    alone = baseline is not None and piece.riders is None  # what clearing measures last is then what the corrective does
    figures = measure_cells(piece, body, cells, layers) if baseline is None else [baseline.own()]
    reports = [CellClearing(kept=f.places == 0, before=f.brief()) for f in figures]
    for i in sorted(range(len(cells)), key=lambda k: -figures[k].area_cm2):
        shape, pose = cells[i]
        falls = way == "out" and loose == "falls" and bool(pose.rotations)
        hanging = Hanging(piece, shaped(body, shape), pose) if falls and (figures[i].places or not shown) else None
        taut = hanging is not None and hanging.stretch() > MAX_STRETCH
        if hanging is not None and taut:
            piece, figures, reports[i] = _hang(hanging, cells, figures, i, layers, reports[i])
            baseline = None
        if figures[i].places == 0:
            continue
        if alone and baseline is None:
            baseline = Baseline(shaped(body, shape), piece, pose, layers)
        eased, report = clear(piece, body, shape, pose, ease, layers, way, baseline, through, brief)
        if report.kept:
            made = with_fix(piece, body, pose, eased.mesh.points - piece.mesh.points, pose.label)
            now = [baseline.own()] if alone and baseline is not None else measure_cells(made, body, cells, layers)
            if no_worse(figures, now, i):
                piece, figures = made, now
                reports[i] = reports[i].moved_as(report)
        if figures[i].places and falls and not taut:  # as it lies now, eased out or not
            piece, figures, reports[i] = _hang(Hanging(piece, shaped(body, shape), pose), cells, figures, i, layers, reports[i])
    return piece, [r.ending(f.brief()) for r, f in zip(reports, figures, strict=True)]


def clear_skin(piece: Piece, body: Body, cells: Sequence[ShapeInPose], layers: Layers = ALONE,
               always: bool = False) -> tuple[Piece, list[CellClearing]]:
    """Return the piece under which the skin gives way in each cell that fails, and a report per cell; the piece itself stays.

    It does so in the pose of that cell, or `always`; it is kept only if no other cell gets worse.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        layers: The pieces under it and over it.
        always: In every pose, not in that of the cell alone.
    """
    figures = measure_cells(piece, body, cells, layers)
    reports = [CellClearing(kept=f.places == 0, before=f.brief()) for f in figures]
    for i in sorted(range(len(cells)), key=lambda k: -figures[k].area_cm2):
        if piece.skin is None or not any(p.under == SKIN_NAME and p.places for p in figures[i].pairs):
            continue
        move, report = give_way(piece, body, *cells[i], layers=layers)
        if report.moved:
            made = with_yielding(piece, body, None if always else cells[i][1], move)
            now = measure_cells(made, body, cells, layers)
            if no_worse(figures, now, i):
                piece, figures = made, now
                reports[i] = reports[i].moved_as(report)
        elif report.why:
            reports[i] = reports[i].model_copy(update={"why": report.why})
    return piece, [r.ending(f.brief()) for r, f in zip(reports, figures, strict=True)]


def _hang(hanging: Hanging, cells: Sequence[ShapeInPose], figures: list[OwnFigures], i: int, layers: Layers,
          report: CellClearing) -> tuple[Piece, list[OwnFigures], CellClearing]:
    """Return the piece, the cells' figures and the report of cell `i` with what hangs about the legs fallen into it, if no cell is the
    worse for it."""
    piece = hanging.piece
    if not hanging.rows.any():
        return piece, figures, report
    move = hanging.fallen(layers.under)
    made = with_fix(piece, hanging.wearer.body, hanging.pose, move, hanging.pose.label)
    now = measure_cells(made, hanging.wearer.body, cells, layers)
    before, after = hanging.stretch(), Hanging(made, hanging.wearer, hanging.pose).stretch()
    if now[i].area_cm2 > figures[i].area_cm2 or after > max(before, MAX_STRETCH) or not spares(figures, now, i):
        return piece, figures, report
    size = np.linalg.norm(move, axis=1)
    fell = {"kept": True, "fell": True, "moved": int((size > 1e-4).sum()), "stretch": (before, after), "greatest_move": float(size.max())}
    return made, now, report.model_copy(update=fell)
