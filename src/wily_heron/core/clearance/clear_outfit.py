"""Clearing a whole outfit in one cell: each piece from the skin out makes room for the inner ones, then the inner ones give way."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from ..figure.body import Body, shaped
from ..figure.pose import Pose
from ..piece.clear_steps import Loose
from ..piece.pose_fix import clear_poses, with_yielding
from ..piece.state import Piece
from .cell import CellResult, Dressed
from .clear import CAP, Begun
from .give_way import give_way
from .layers import Layers
from .recall import Recall

_ENOUGH, _ENOUGH_LAYERED = 0.05, 0.02
"""What still shows (cm2) once something has been tried is left if it is no more than this, of layers the less, with folds between them:
half or less of what a cell holds with, so that it holds for whoever looks from elsewhere too."""
_LITTLE = 0.03
"""Layers that show no more than this share of what they did are not cleared from the start again."""
_FIRST = 2
"""The less is asked for in so many first turns only: what comes after takes long."""

Worn = dict[str, Piece]
Known = tuple[Dressed, CellResult]
_Eased = tuple[Worn, set[str], set[str], Known | None]
"""The outfit, the names of what moved, and of what fell, and the cell, where it has been measured."""


@dataclass(frozen=True)
class _Here:
    """The cell that is cleared, the ease asked for, and what its pairs of layers were nearest to."""

    body: Body
    shape: np.ndarray
    pose: Pose
    ease: float
    recall: tuple[Recall, ...]

    @property
    def cells(self) -> list[tuple[np.ndarray, Pose]]:
        return [(self.shape, self.pose)]

    def measured(self, worn: Worn) -> Known:
        dressed = Dressed(shaped(self.body, self.shape), worn)
        return dressed, dressed.measure(self.pose, recall=self.recall)

    def step(self, ease_out: Callable, worn: Worn, fallen: set[str], known: Known | None, pieces: Mapping[str, Piece],
             start: CellResult) -> "_Step":
        """Return what one way of easing out makes of the outfit, held to what one clearing may move it from `pieces`."""
        tried, moved, fell, then = ease_out(self, worn, fallen, known)
        if not moved:
            return _Step(worn, moved, fell, known)
        then = then or self.measured(tried)
        if not _near(then[1], start, fallen | fell):
            tried = {n: p if n in fallen | fell else _held(p, pieces[n], self.pose, a.points - b.points)
                     for (n, p), a, b in zip(tried.items(), then[1].layers, start.layers, strict=True)}
            then = self.measured(tried)
        return _Step(tried, moved, fell, then)


@dataclass(frozen=True)
class _Step:
    """The outfit after one way of easing out, what of it that `moved` and `fell`, and the cell with it."""

    worn: Worn
    moved: set[str]
    fell: set[str]
    known: Known | None


def clear_outfit(pieces: Mapping[str, Piece], body: Body, shape: np.ndarray, pose: Pose, ease: float) -> tuple[Worn, list[str]]:
    """Return the outfit (from the skin out, by name) cleared in one cell, as correctives for its pose, and the names of what changed.

    A piece alone is eased out, not through itself; what then still shows gives way under it, the skin at last. Layers give way first, from
    the outermost in, which bulks nothing up; then each is eased out so that none spoils what lies over it; and again. Where layers still
    show, they give way to what is seen alone, or, where much is left, each piece may spoil what lies over it, which is eased out after it.
    Where nothing else holds, pieces may go through themselves. A round is kept only if the whole cell shows less, and holds or is no
    deeper in any pair, nothing having moved farther than one clearing may but cloth that fell. The first is tried for the least thing seen.
    """
    worn, changed, fallen = dict(pieces), set(), set()
    here = _Here(body, shape, pose, ease, tuple(Recall() for _ in pieces))
    known = here.measured(worn)
    start = cell = known[1]
    past: dict[tuple, tuple[Worn, _Step]] = {}
    enough, layered = 0.0, len(pieces) > 1
    for count, turn in enumerate((*(_LAYERED if layered else _ALONE), *_LAST)):
        tried, moved, fell, there = worn, set(changed), set(fallen), known
        if turn in _LAST and cell.figures["holds"]:
            break
        if turn.anew:
            if layered and cell.figures["area_cm2"] < _LITTLE * start.figures["area_cm2"]:
                continue
            tried, moved, there = {n: worn[n] if n in fallen else p for n, p in pieces.items()}, set(fallen), None
        vain = None
        for ease_out in turn.ways:
            if cell.figures["area_cm2"] <= enough:
                break
            enough = _ENOUGH_LAYERED if layered and count < _FIRST else _ENOUGH
            if ease_out is vain:
                continue
            of, step = past.get((ease_out, id(tried)), (None, None))
            if of is not tried or step is None:
                step = here.step(ease_out, tried, fell, there, pieces, start)
                past[ease_out, id(tried)] = tried, step
            vain = ease_out if not step.moved or _GAINS < _area(step.known) / max(_area(there), 1e-9) < _AMISS else None
            if not step.moved or step.known is None:
                continue
            tried, moved, fell, there = step.worn, moved | step.moved, fell | step.fell, step.known
            after = there[1]
            less = after.figures["area_cm2"] < cell.figures["area_cm2"]
            no_deeper = after.figures["holds"] or _deepest(after) >= _deepest(start) - 0.05
            if less and no_deeper and _near(after, start, fell):
                worn, cell, known, changed, fallen = tried, after, there, moved, fell
    return worn, [n for n in pieces if n in changed]


def _sparing(here: _Here, pieces: Worn, fallen: set[str], known: Known | None, through: bool = False) -> _Eased:
    """Ease each piece out, from the skin on, at will `through` itself, none so that what lies over it shows more. What has `fallen` stays
    so."""
    worn, names, moved, fell = dict(pieces), list(pieces), set(), set()
    then = None
    for i, name in enumerate(names):
        layers = Layers(tuple(worn[n] for n in names[:i]), tuple(worn[n] for n in names[i + 1 :]), here.recall)
        then = _eased(here, worn, name, layers, fallen, moved, fell, None if moved else known, through)
    alone = then is not None and len(names) == 1 and then.figures["area_cm2"] > _ENOUGH  # what is to hold is looked at from all sides
    return worn, moved, fell, (Dressed(shaped(here.body, here.shape), worn), then) if alone else None


def _yielding(here: _Here, pieces: Worn, fallen: set[str], _: Known | None, through: bool = False) -> _Eased:
    """Ease each piece out, from the skin on, and then what lies over it, at will `through` itself. What has `fallen` stays so."""
    worn, names, moved, fell = dict(pieces), list(pieces), set(), set()
    for i, name in enumerate(names):
        layers = Layers(tuple(worn[n] for n in names[:i]), tuple(worn[n] for n in names[i + 1 :]), here.recall, over_matters=False)
        _eased(here, worn, name, layers, fallen, moved, fell, through=through)
    return worn, moved, fell, None


def _eased(here: _Here, worn: Worn, name: str, layers: Layers, fallen: set[str], moved: set[str], fell: set[str],
           known: Known | None = None, through: bool = False) -> CellResult | None:
    """Ease one piece out, note whether it `moved` or `fell`, and return the cell at a glance if it only moved; `known` is the cell, if it
    is measured as it is worn now."""
    if worn[name].skin is None:
        return None
    loose: Loose = "eased" if name in fallen else "falls"
    begun = Begun(shaped(here.body, here.shape), worn[name], here.pose, layers, known)
    eased, (report,) = clear_poses(worn[name], here.body, here.cells, here.ease, layers, loose=loose, begun=begun, through=through,
                                  shown=True)
    if not report["moved"]:
        return None
    worn[name] = eased
    moved.add(name)
    fell |= {name} if report.get("fell") else set()
    return None if fell else begun.cell


def _giving_way(here: _Here, pieces: Worn, _: set[str], known: Known | None, seen_through: bool = True) -> _Eased:
    """Tuck each piece in under what lies over it, from the outermost in, whatever is under it, and let the skin give way under the
    innermost. What is to give way hides nothing, if it is `seen_through`. Where that shows more than before, what is under could not
    follow: the outermost that moved stays, and again."""
    known = known or here.measured(pieces)
    names, of, best = list(pieces), len(pieces), (pieces, set(), set(), known)
    while of:
        worn, moved = _tucked(here, pieces, of, known, seen_through)
        if not moved:
            break
        then = here.measured(worn)
        if not best[1] or _area(then) < _area(best[3]):
            best = worn, moved, set(), then
        of = max(names.index(n) for n in moved) if _area(then) > _area(known) else 0
    return best


def _tucked(here: _Here, pieces: Worn, of: int, known: Known | None, seen_through: bool) -> tuple[Worn, set[str]]:
    """Return the outfit with the innermost so many `of` its pieces tucked in, and the names of what moved."""
    worn, names, moved = dict(pieces), list(pieces), set()
    for i in range(of - 1, -1, -1):
        piece = worn[names[i]]
        if piece.skin is None:
            continue
        layers = Layers(tuple(worn[n] for n in names[:i]), tuple(worn[n] for n in names[i + 1 :]), here.recall, False, seen_through)
        if layers.over:
            piece, (report,) = clear_poses(piece, here.body, here.cells, 0.5 * here.ease, layers, "in", through=False)
            moved |= {names[i]} if report["moved"] else set()
        if i == 0:
            move, report = give_way(piece, here.body, here.shape, here.pose, layers=layers, known=None if moved else known)
            if report["moved"]:
                piece = with_yielding(piece, here.body, here.pose, move)
                moved.add(names[i])
        worn[names[i]] = piece
    return worn, moved


_AGAIN = 3
"""What has given way may show what gave way before it anew: it goes round so often."""
_GAINS, _AMISS = 0.9, 2.0
"""What leaves about so much of what showed is not done again at once; where it has gone amiss, what it has left may be mended by it."""


@dataclass(frozen=True)
class _Turn:
    """Ways of easing out, one after another; `anew` from the start, where what has been eased out for its own sake has to go another
    way."""

    ways: tuple[Callable, ...]
    anew: bool = False


_to_what_is_seen = partial(_giving_way, seen_through=False)
_GIVING, _SEEN = _AGAIN * (_giving_way,), _AGAIN * (_to_what_is_seen,)
_ALONE = (_Turn((_sparing,)), _Turn(_GIVING), _Turn((_sparing,)))
_LAYERED = (_Turn((_to_what_is_seen, _sparing, *_SEEN)), _Turn((_sparing, *_SEEN), anew=True), _Turn((*_GIVING, _sparing)),
            _Turn((_yielding, *_GIVING), anew=True), _Turn((_sparing, *_SEEN)))
_LAST = (_Turn((partial(_sparing, through=True), *_SEEN)), _Turn((partial(_yielding, through=True), *_GIVING), anew=True))


def _held(piece: Piece, before: Piece, pose: Pose, moved: np.ndarray) -> Piece:
    """Return the piece with what has `moved` (n, 3) too far since `before`, over several rounds, held to what one clearing may move it."""
    size = np.linalg.norm(moved, axis=1)
    if size.max(initial=0.0) <= CAP or piece.fixes is None:
        return piece
    of = [next((i for i, c in enumerate(p.correctives) if c.pose == pose.name and not c.shapes), -1) for p in (piece, before)]
    if of[0] < 0:
        return piece
    was = before.fixes[of[1]] if of[1] >= 0 and before.fixes is not None else np.zeros_like(piece.fixes[of[0]])
    fixes = piece.fixes.copy()
    fixes[of[0]] = was + np.minimum(1.0, CAP / np.maximum(size, 1e-9))[:, None] * (fixes[of[0]] - was)
    return replace(piece, fixes=fixes)


def _near(after: CellResult, start: CellResult, fell: set[str]) -> bool:
    """Whether no layer has moved farther than one clearing may, but for those that fell."""
    pairs = zip(after.layers, start.layers, strict=True)
    return all(a.name in fell or np.linalg.norm(a.points - b.points, axis=1).max() <= CAP + 1e-4 for a, b in pairs)


def _area(known: Known | None) -> float:
    return known[1].figures["area_cm2"] if known else np.inf


def _deepest(cell: CellResult) -> float:
    return min(0.0, *(p["clearance_mm"] for p in cell.figures["pairs"]))
