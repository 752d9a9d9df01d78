"""The ways in which the pieces of an outfit are eased out in one cell, or give way."""

from dataclasses import dataclass

import numpy as np

from ...clearance.cell import CellResult, Dressed
from ...clearance.cover.key import SKIN
from ...clearance.find.incremental import Recalls
from ...figure.base.body import Body, Wearer, shaped
from ...model.state import Piece
from ...model.steps.clear import Loose
from ...motion.pose import Pose
from ..clear import Baseline
from ..give_way import give_way
from ..layers import Layers
from ..pose_fix import clear_poses, with_yielding

Worn = dict[str, Piece]
Measurement = tuple[Dressed, CellResult]
Eased = tuple[Worn, set[str], set[str], Measurement | None]
"""The outfit, the names of what moved, and of what fell, and the cell, where it has been measured."""


@dataclass(frozen=True)
class CellContext:
    """The cell that is cleared, the ease asked for, and what its pairs of layers were nearest to."""

    body: Body
    shape: np.ndarray
    pose: Pose
    ease: float
    recall: Recalls

    @property
    def cells(self) -> list[tuple[np.ndarray, Pose]]:
        return [(self.shape, self.pose)]

    @property
    def wearer(self) -> Wearer:
        return shaped(self.body, self.shape)

    def measured(self, worn: Worn) -> Measurement:
        """Return the wearer so dressed, and the cell."""
        dressed = Dressed(self.wearer, worn)
        return dressed, dressed.measure(self.pose, recall=self.recall)


def area(known: Measurement | None) -> float:
    """Return how much shows (cm2) in a cell, without end if it is not measured."""
    return known[1].figures.area_cm2 if known else np.inf


def sparing(context: CellContext, pieces: Worn, fallen: set[str], known: Measurement | None, brief: bool = True) -> Eased:
    """Ease each piece out, from the skin on, none so that what lies over it shows more, off the skin in `brief`, which gives way after
    it. What has `fallen` stays so."""
    worn, names, moved, fell = dict(pieces), list(pieces), set(), set()
    then = None
    for i, name in enumerate(names):
        layers = Layers(tuple(worn[n] for n in names[:i]), tuple(worn[n] for n in names[i + 1 :]), context.recall)
        then = _eased(context, worn, name, layers, fallen, moved, fell, None if moved else known, brief)
    if then is None or len(names) > 1 or then.figures.holds:  # what is to hold is looked at from all sides
        return worn, moved, fell, None
    return worn, moved, fell, (Dressed(context.wearer, worn), then)


def yielding(context: CellContext, pieces: Worn, fallen: set[str], _: Measurement | None) -> Eased:
    """Ease each piece out, from the skin on, and then what lies over it. What has `fallen` stays so."""
    worn, names, moved, fell = dict(pieces), list(pieces), set(), set()
    for i, name in enumerate(names):
        layers = Layers(tuple(worn[n] for n in names[:i]), tuple(worn[n] for n in names[i + 1 :]), context.recall, over_matters=False)
        _eased(context, worn, name, layers, fallen, moved, fell)
    return worn, moved, fell, None


def _eased(context: CellContext, worn: Worn, name: str, layers: Layers, fallen: set[str], moved: set[str], fell: set[str],
           known: Measurement | None = None, brief: bool = True) -> CellResult | None:
    """Ease one piece out, note whether it `moved` or `fell`, and return the cell at a glance if it only moved, and nothing rides on it;
    `known` is the cell, if it is measured as it is worn now."""
    if worn[name].skin is None:
        return None
    loose: Loose = "eased" if name in fallen else "falls"
    baseline = Baseline(context.wearer, worn[name], context.pose, layers, known)
    eased, (report,) = clear_poses(worn[name], context.body, context.cells, context.ease, layers, loose=loose, baseline=baseline,
                                  through=False, shown=True, brief=brief)
    if not report.moved:
        return None
    worn[name] = eased
    moved.add(name)
    fell |= {name} if report.fell else set()
    return None if fell or eased.riders is not None else baseline.cell


def giving_way(context: CellContext, pieces: Worn, _: set[str], known: Measurement | None, seen_through: bool = True) -> Eased:
    """Tuck each piece in under what lies over it, from the outermost in, whatever is under it, and let the skin give way under those next
    to it. What is to give way hides nothing, if it is `seen_through`. Where that shows more than before, what is under could not
    follow: the outermost that moved stays, and again."""
    known = known or context.measured(pieces)
    names, of, best = list(pieces), len(pieces), (pieces, set(), set(), known)
    while of:
        worn, moved = _tucked(context, pieces, of, known, seen_through)
        if not moved:
            break
        then = context.measured(worn)
        if not best[1] or area(then) < area(best[3]):
            best = worn, moved, set(), then
        of = max(names.index(n) for n in moved) if area(then) > area(known) else 0
    return best


def _tucked(context: CellContext, pieces: Worn, of: int, known: Measurement | None, seen_through: bool) -> tuple[Worn, set[str]]:
    """Return the outfit with the innermost so many `of` its pieces tucked in, and the names of what moved."""
    worn, names, moved = dict(pieces), list(pieces), set()
    for i in range(of - 1, -1, -1):
        piece = worn[names[i]]
        if piece.skin is None:
            continue
        layers = _layers(context, worn, i, seen_through)
        if layers.over:
            as_known = known if not moved and not seen_through else None
            baseline = Baseline(context.wearer, piece, context.pose, layers, as_known)
            piece, (report,) = clear_poses(piece, context.body, context.cells, 0.5 * context.ease, layers, "in", baseline=baseline,
                                          through=False)
            moved |= {names[i]} if report.moved else set()
        worn[names[i]] = piece
    shows = {pair.key.over for pair in known[1].under(SKIN) if pair.shows} if known and not moved else set(range(of))
    for place in sorted(shows & set(range(of))):
        name, piece = names[place], worn[names[place]]
        if piece.skin is None:
            continue
        layers = _layers(context, worn, place, seen_through)
        move, report = give_way(piece, context.body, context.shape, context.pose, layers=layers, known=None if moved else known)
        if report.moved:
            worn[name] = with_yielding(piece, context.body, context.pose, move)
            moved.add(name)
    return worn, moved


def _layers(context: CellContext, worn: Worn, place: int, seen_through: bool) -> Layers:
    """Return what the piece at `place` is worn between, all of which is to give way after it."""
    pieces = list(worn.values())
    return Layers(tuple(pieces[:place]), tuple(pieces[place + 1 :]), context.recall, False, seen_through)
