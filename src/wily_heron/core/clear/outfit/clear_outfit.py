"""Clearing a whole outfit in one cell: turns of easing out and giving way, each kept only if the cell is the better for it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from ...clearance.cell import CellResult
from ...clearance.find.incremental import Recalls
from ...figure.base.body import Body
from ...model.state import Piece
from ...motion.pose import Pose
from ..clear import CAP
from ..pose_fix import lessened
from .borders import borders_lifted
from .outfit_ways import CellContext, Eased, Measurement, Worn, area, giving_way, sparing, yielding
from .self_intersections import off_themselves

_ALLOWED_CM2, _ENOUGH_LAYERED = 0.05, 0.02
"""What still shows (cm2) once something has been tried is left if it is no more than this, of layers the less, with folds between them:
half or less of what a cell holds with, so that it holds for whoever looks from elsewhere too."""
_SMALL_SHARE = 0.03
"""Layers that show no more than this share of what they did are not cleared from the start again by the same ease."""
_FIRST = 2
"""The less is asked for in so many first turns only: what comes after takes long."""
_AGAIN = 3
"""What has given way may show what gave way before it anew: it goes round so often."""
_GAINS, _WORSENED = 0.9, 2.0
"""What leaves about so much of what showed is not done again at once; where it has gone amiss, what it has left may be mended by it."""
_GIVE_UP_CM2 = 5.0
"""But of layers that is given up after the first turns, if it leaves more than this (cm2) as well."""
_MAX_SHARE_LEFT = 0.75
"""An outfit that holds is not moved any more for what leaves more than this share of what it still shows."""


@dataclass(frozen=True)
class _Turn:
    """Ways of easing out, one after another, by so much of the `ease` asked for, and the `last` of them where next to nothing is left;
    `anew` from the start, where what has been eased out for its own sake has to go another way. What ends in a fold it does not get out
    of by one ease mostly passes it by another."""

    ways: tuple[Callable[..., Eased], ...]
    anew: bool = False
    ease: float = 1.0
    last: tuple[Callable[..., Eased], ...] = ()

    @property
    def each(self) -> list[tuple[Callable[..., Eased], bool]]:
        """The ways, and whether it is one of the last."""
        return [(way, at >= len(self.ways)) for at, way in enumerate((*self.ways, *self.last))]


_to_what_is_seen = partial(giving_way, seen_through=False)
_thoroughly = partial(sparing, brief=False)
_GIVING, _SEEN = _AGAIN * (giving_way,), _AGAIN * (_to_what_is_seen,)
_ALONE = (_Turn((sparing,)), _Turn(_GIVING), _Turn((_thoroughly, *_GIVING)), _Turn((*_GIVING, _thoroughly), anew=True))
_GIVE_FIRST, _EASE_FIRST = (_to_what_is_seen, sparing, *_SEEN), (sparing, *_SEEN)
_BY_MORE_OR_LESS = tuple(_Turn(ways, True, ease, (_thoroughly, giving_way, sparing, _thoroughly)) for ease, ways in
                         ((1.25, _EASE_FIRST), (1.25, _GIVE_FIRST), (1.5, _EASE_FIRST), (1.5, _GIVE_FIRST), (0.75, _GIVE_FIRST)))
_FROM_THERE = _Turn((*_GIVING, sparing)), _Turn((_thoroughly, *_SEEN))
_LAYERED = (_Turn(_GIVE_FIRST), _Turn(_EASE_FIRST, anew=True), *_FROM_THERE, *_BY_MORE_OR_LESS, _FROM_THERE[0],
            _Turn((yielding, *_GIVING), anew=True), _FROM_THERE[1])
"""In the order in which they were found to hold most of the hard cells of the suite soonest."""


@dataclass(frozen=True)
class _Step:
    """The outfit after one way of easing out, what of it that `moved` and `fell`, and the cell with it."""

    worn: Worn
    moved: set[str]
    fell: set[str]
    known: Measurement | None


def clear_outfit(pieces: Mapping[str, Piece], body: Body, shape: np.ndarray, pose: Pose, ease: float,
                 go_on: Callable[[], None] = lambda: None) -> tuple[Worn, list[str]]:
    """Return the outfit cleared in one cell, as correctives for its pose, and the names of what changed.

    1. A piece alone is eased out; what then still shows gives way under it, the skin last.
    2. Layers give way first, from the outermost in, to what is seen: that bulks nothing up. Then each is eased out so that none spoils
       what lies over it; and again.
    3. Where layers still show, they are eased out first, give way to all that stands out, and do the same by more or less than the ease.

    A step is kept only if the whole cell shows less, and holds or is no deeper in any pair. Nothing moves farther than one clearing may,
    but cloth that fell. No piece goes through itself for it.

    Args:
        pieces: The pieces by name, from the skin out.
        body: The body.
        shape: (s,) shape values of the cell.
        pose: The pose of the cell.
        ease: How far apart layers are brought, metres.
        go_on: Called between steps; what it raises ends the work.
    """
    worn, changed, fallen = dict(pieces), set(), set()
    context = CellContext(body, shape, pose, ease, Recalls())
    begin = known = context.measured(worn)
    start = cell = known[1]
    past: dict[tuple, tuple[Worn, _Step]] = {}
    enough, layered, little = 0.0, len(pieces) > 1, _SMALL_SHARE * start.figures.area_cm2
    for count, turn in enumerate(_LAYERED if layered else _ALONE):
        tried, moved, fell, there = worn, set(changed), set(fallen), known
        if turn.anew:
            if layered and turn.ease == 1.0 and cell.figures.area_cm2 < little:
                continue
            tried = {n: worn[n] if n in fallen else p for n, p in pieces.items()}
            moved, there = set(fallen), None if fallen else begin
        no_gain = None
        for ease_out, last in turn.each:
            if cell.figures.area_cm2 <= enough or (last and area(there) > little):
                break
            enough = _ENOUGH_LAYERED if layered and count < _FIRST else _ALLOWED_CM2
            if ease_out is no_gain:
                continue
            of, step = past.get((ease_out, turn.ease, id(tried)), (None, None))
            if of is not tried or step is None:
                go_on()
                step = _stepped(replace(context, ease=turn.ease * ease), ease_out, tried, fell, there, pieces, start)
                past[ease_out, turn.ease, id(tried)] = tried, step
            if layered and count >= _FIRST and area(step.known) > max(_WORSENED * area(there), _GIVE_UP_CM2):
                break
            no_gain = ease_out if not step.moved or _GAINS < area(step.known) / max(area(there), 1e-9) < _WORSENED else None
            if not step.moved or step.known is None:
                continue
            tried, moved, fell, there = step.worn, moved | step.moved, fell | step.fell, step.known
            after = there[1]
            if not turn.anew and cell.figures.holds and not after.figures.holds:
                break  # what holds is not let go for the little it still shows
            less = after.figures.area_cm2 < (_MAX_SHARE_LEFT if cell.figures.holds else 1.0) * cell.figures.area_cm2
            no_deeper = after.figures.holds or _deepest(after) >= _deepest(start) - 0.05
            if less and no_deeper and _near(after, start, fell):
                worn, cell, known, changed, fallen = tried, after, there, moved, fell
    if changed:
        cleared = worn
        worn, (_, cell) = borders_lifted(context, cleared, known, start, fallen)
        changed |= {name for name, piece in worn.items() if piece is not cleared[name]}
    return off_themselves(context, worn, cell, pieces, start, fallen), [n for n in pieces if n in changed]


def _stepped(context: CellContext, ease_out: Callable[..., Eased], worn: Worn, fallen: set[str], known: Measurement | None,
             pieces: Mapping[str, Piece], start: CellResult) -> _Step:
    """Return what one way of easing out makes of the outfit, held to what one clearing may move it from `pieces`."""
    tried, moved, fell, then = ease_out(context, worn, fallen, known)
    if not moved:
        return _Step(worn, moved, fell, known)
    then = then or context.measured(tried)
    if not _near(then[1], start, fallen | fell):
        tried = {n: p if n in fallen | fell else _held(p, pieces[n], context, a.points - b.points)
                 for (n, p), a, b in zip(tried.items(), then[1].layers, start.layers, strict=True)}
        then = context.measured(tried)
    return _Step(tried, moved, fell, then)


def _held(piece: Piece, before: Piece, context: CellContext, moved: np.ndarray) -> Piece:
    """Return the piece with what has `moved` (n, 3) too far since `before`, over several rounds, held to what one clearing may move it."""
    size = np.linalg.norm(moved, axis=1)
    if size.max(initial=0.0) <= CAP:
        return piece
    return lessened(piece, before, context.body, context.pose, np.minimum(1.0, CAP / np.maximum(size, 1e-9)))


def _near(after: CellResult, start: CellResult, fell: set[str]) -> bool:
    """Whether no layer has moved farther than one clearing may, but for those that fell."""
    pairs = zip(after.layers, start.layers, strict=True)
    return all(a.name in fell or np.linalg.norm(a.points - b.points, axis=1).max() <= CAP + 1e-4 for a, b in pairs)


def _deepest(cell: CellResult) -> float:
    return min(0.0, cell.figures.clearance_mm)
