"""An outfit cleared in several cells, the worst first, all pieces together."""

from collections.abc import Sequence

from ...clearance.cell import Dressed
from ...clearance.figures import Figures, OwnFigures
from ...figure.base.body import Body, shaped
from ...model.report import Found
from ...model.state import Piece
from ...model.steps.clear import CellFigures
from ..clear_cells import Cell
from .together import outfit_cleared

_ALLOWED_CM2 = 0.05
"""A cell may show more for another's sake, up to half of what it may (cm2)."""


class SheetCell(Found):
    """One cell of a sheet before and after: whether something was kept in it, and the places of the pieces it changed."""

    kept: bool
    changed: tuple[int, ...]
    before: CellFigures
    after: CellFigures


def clear_sheet(pieces: Sequence[Piece], body: Body, cells: Sequence[Cell], ease: float) -> tuple[list[Piece], list[SheetCell]]:
    """Return an outfit, from the skin out, cleared in `cells` (shape values (s,), pose) as correctives for their poses, and a report per
    cell: whether something was kept, its figures before and after, and which pieces changed.

    What is made in a cell is kept only if it `helps` among the cells of its pose. Cells at rest are left as they are: a pose alone has
    correctives.

    Args:
        pieces: The pieces, from the skin out.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        ease: How far apart layers are brought, metres.
    """
    worn, first = list(pieces), [_measured(pieces, body, cell) for cell in cells]
    now, changes = list(first), dict[int, tuple[int, ...]]()
    for i in sorted(range(len(cells)), key=lambda k: -first[k].area_cm2):
        shape, pose = cells[i]
        if not now[i].places or not pose.rotations:
            continue
        made = outfit_cleared(worn, body, shape, pose, ease)
        changed = [k for k, (a, b) in enumerate(zip(worn, made, strict=True)) if a is not b]
        alike = [k for k, (_, p) in enumerate(cells) if p.name == pose.name]
        then = [_measured(made, body, cells[k]) for k in alike]
        if changed and helps([now[k] for k in alike], then, alike.index(i)):
            worn = made
            for k, figures in zip(alike, then, strict=True):
                now[k] = figures
            changes[i] = tuple(changed)
    now = [_measured(worn, body, cell) for cell in cells]
    return worn, [SheetCell(kept=i in changes or not a.places, changed=changes.get(i, ()), before=a.brief(), after=b.brief())
                  for i, (a, b) in enumerate(zip(first, now, strict=True))]


def helps(before: Sequence[OwnFigures], after: Sequence[OwnFigures], cleared: int) -> bool:
    """Return whether of the cells of a pose, by their figures, the one that was `cleared` shows less, all of them together too, and none
    of the others more than before or than half of what it may."""
    was, now = ([f.area_cm2 for f in figures] for figures in (before, after))
    if now[cleared] >= was[cleared] or sum(now) >= sum(was):
        return False
    return all(b <= max(a, _ALLOWED_CM2) for k, (a, b) in enumerate(zip(was, now, strict=True)) if k != cleared)


def _measured(pieces: Sequence[Piece], body: Body, cell: Cell) -> Figures:
    return Dressed(shaped(body, cell[0]), {str(k): p for k, p in enumerate(pieces)}).measure(cell[1]).figures
