"""Fitting: from roughly placed to the set ease on this body."""

from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..figure.figure import figure
from ..figure.on_figure import figure_tree
from ..mesh.normals import triangle_areas, vertex_normals
from ..mesh.rigid_islands import best_rotation, stick_islands, stiff_islands
from ..model.steps.fit import Fit, FitReport
from ..space.under import FAR, Under, turned_out
from .close_over import closed_over, exposed
from .fingers import on_fingers
from .fit_report import fit_report
from .likely.likely_body import Likely, likely_body, missed
from .ride import ride
from .solve_fit import Goal, solve_fit
from .target import FitTarget, Transferred
from .toes import over_toes

_CLOSE = 0.03
_INSIDE_OUT = -0.2
_FLOOR = 0.03
"""What comes so near to the floor (metres) may have feet in it."""
_EXPOSED = 0.5
"""Metres of miss that all of the skin out of a closed piece would count as. Boots, mittens and hats of stock on three wearers then ride
from the figure they were made on, and gloves, spats and hoods made on six other bodies from the body that was found."""


@dataclass(frozen=True)
class Fitted:
    """Fitted points (n, 3), their clearance (n,) in metres, how far each is from what was asked (n,), and the report."""

    points: np.ndarray
    clearance: np.ndarray
    trouble: np.ndarray
    report: FitReport


def lay(points: np.ndarray, triangles: np.ndarray, stand: FitTarget, step: Fit, still: np.ndarray) -> Transferred:
    """Return the piece as it rides over from the body it was made for, or looks made on.

    `still` (n,) vertices are left out of the search."""
    start = np.asarray(points, np.float64)
    agree = turned_out(start, triangles, stand.under.skin)
    faces = triangles if agree > _INSIDE_OUT else triangles[:, ::-1]
    found = _found(start, faces, stand, step, still)
    if found is None:
        return Transferred(start, None, None, agree, False)
    p = ride(found.points, faces, found.source, stand.carrier, figure(1).triangles)
    there = on_fingers(Under(figure_tree(found.source)), found.source, found.points, faces, found.source)
    off, _, sure = there.clearance(found.points, vertex_normals(found.points, faces))
    return Transferred(p, np.where(sure, off, FAR), found, agree, found.size == 1.0 and stand.source is not None)


def fit(
    points: np.ndarray,
    triangles: np.ndarray,
    stand: FitTarget,
    step: Fit,
    ease: np.ndarray | None = None,
    rigid: np.ndarray | None = None,
    laid: Transferred | None = None,
    quick: bool = False,
) -> Fitted:
    """Return the piece brought to its ease on a body.

    The piece rides over from the body it was made for; where that is not known, from the body it looks made on (see `likely_body`). Then
    it settles: what rested on the skin there rests at the ease here, what hung off it hangs off it as far, drawn in by 1 - `keep`. Small
    islands (buttons) ride rigidly.

    Args:
        points: (n, 3) float, metres; the piece as it was placed.
        triangles: (m, 3) int32.
        stand: The body it is laid on, and what is known of the one it was made for.
        step: What is asked for: ease, how much of its own shape it keeps, pins.
        ease: (n,) metres, where it is painted.
        rigid: (n,) bool, vertices of parts that keep their form.
        laid: The piece brought over before, as when only the ease has changed.
        quick: Fewer rounds, for a preview.

    Raises:
        InputError: Hardly any of the piece lies near the body.
    """
    start = np.asarray(points, np.float64)
    still = stiff_islands(start, triangles) if rigid is None else rigid
    wanted = np.full(len(start), step.ease) if ease is None else ease
    laid = laid or lay(start, triangles, stand, step, still)
    faces = triangles if laid.agree > _INSIDE_OUT else triangles[:, ::-1]
    p = laid.points
    there, source = (p, stand.carrier) if laid.found is None else (laid.found.points, laid.found.source)
    under = on_fingers(stand.under, stand.carrier, there, faces, source)
    if step.stiff == "all" or still.all():
        p = _laid_stiff(start, p, faces, under, step.ease)
        still = np.ones(len(p), bool)
    brought = p
    clearance, _, known = under.clearance(p, vertex_normals(p, faces))
    if (known & (clearance < 0.08)).mean() < 0.05:
        raise InputError(
            what="hardly any of the piece lies near the body",
            where="the fit step",
            todo="Move, turn or scale the piece in the place step until it lies roughly where it is worn.",
        )
    goal = _goal(wanted, clearance if laid.off is None else laid.off, known & ~over_toes(there, source), step, laid)
    if not still.all():
        p = solve_fit(p, faces, under, goal, still, quick=quick, was=start)
        reaches_floor = p[:, 1].min() < under.skin.points[:, 1].min() + _FLOOR
        if not quick and (stand.encloses or under.layers or reaches_floor):
            p = stick_islands(closed_over(p, faces, [under.skin, *under.layers], step.ease), p, triangles, still)
    clearance, _, known = under.clearance(p, vertex_normals(p, faces))
    report, trouble = fit_report(start, brought, p, faces, clearance, known & ~still if not still.all() else known, goal, step, laid, stand)
    return Fitted(p, clearance, trouble, report)


def _found(p: np.ndarray, triangles: np.ndarray, stand: FitTarget, step: Fit, still: np.ndarray) -> Likely | None:
    """The body to ride from: as it stands on the one it was made for, else the best found; None if it is to stay where it is."""
    pins = {name: np.array(at) for name, at in step.pins.items()}
    left_out = still if (~still).sum() > 50 else None
    if stand.source is not None and step.ride:
        there, sunk = _as_it_stands(p, triangles, stand.source, step.ease)
        if sunk < 0.04 and not step.pins:
            return there
        moved = likely_body(p, triangles, stand.shape, step.ease, known=stand.source, pins=pins, still=left_out)
        return moved if step.pins or moved.miss < 0.8 * (there.miss + 0.1 * sunk) else there
    if not step.align:
        return None
    found = likely_body(p, triangles, stand.shape, step.ease, pins=pins, still=left_out)
    if stand.encloses and not step.pins:
        found = _that_holds(p, triangles, found, stand, step.ease)
        if found.size == 1.0:
            return found
    if not found.sure and not step.pins:  # too loose to tell where it goes: it stays where the artist put it
        return likely_body(p, triangles, stand.shape, step.ease, still=left_out, stay=True)
    return found


def _that_holds(p: np.ndarray, triangles: np.ndarray, found: Likely, stand: FitTarget, ease: float) -> Likely:
    """Return the body found under a closed piece, or the house's figure or the wearer with the piece as it stands, whichever it misses
    least, skin that comes out through it counting against each: shrunk on to a wrist, a mitten lies close and the fingers are out."""
    normals, area = vertex_normals(p, triangles), float(triangle_areas(p, triangles).sum())
    choices = [found]
    for source in (figure(1).base.astype(np.float64), np.asarray(stand.carrier, np.float64)):
        miss, rests, facing = missed(p, normals, figure_tree(source), ease)
        choices.append(Likely(p, source, miss, facing, 1.0, np.zeros(0), {}, rests))
    return min(choices, key=lambda c: c.miss + _EXPOSED * exposed(c.points, triangles, figure_tree(c.source)) / area)


def _as_it_stands(p: np.ndarray, triangles: np.ndarray, source: np.ndarray, ease: float) -> tuple[Likely, float]:
    """The piece on the body it was made for without a move, and the share of it that lies under the skin there."""
    sample = np.arange(0, len(p), max(1, len(p) // 2000))
    tree = figure_tree(source)
    distance, _ = tree.signed_distance(p[sample])
    near = tree.nearest(p[sample], facing=vertex_normals(p, triangles)[sample], agree=0.25, limit=0.15)
    faces = near.triangle >= 0
    off = np.abs(near.distance - ease)[faces]
    miss = float(np.median(off)) if faces.any() else 0.1
    return Likely(p, source, miss + 0.05 * float(1 - faces.mean()), float(faces.mean()), 1.0, np.zeros(0), {}), float(
        (distance < -0.002).mean()
    )


def _goal(ease: np.ndarray, off: np.ndarray, known: np.ndarray, step: Fit, laid: Transferred) -> Goal:
    """What rested on the skin rests at the ease; the rest keeps its room, less what clinging takes."""
    near = known & (off < _CLOSE) & (off > -_CLOSE)
    rest = float(np.quantile(off[near], 0.25)) if laid.exact and near.sum() > 30 else step.ease
    known_to = 0.001 if laid.exact else 0.006  # a body that was searched for is not known to the millimetre
    room = np.where(off - rest > known_to, off - rest, 0.0)
    drawn_in = (1.0 - step.keep) * np.exp(-((room / 0.020) ** 2))
    drawn = known & (off < rest + _CLOSE)
    if laid.found is not None and not laid.exact and not laid.found.sure and not step.pins:
        drawn = drawn & (drawn_in > 0.3)  # a loose piece keeps its own shape unless it is to cling
    return Goal(ease, ease + room * (1.0 - drawn_in), drawn)


def _laid_stiff(start: np.ndarray, ridden: np.ndarray, triangles: np.ndarray, under: Under, ease: float) -> np.ndarray:
    """The piece as it came, moved, turned and sized as its ride says, then lifted until it clears what is under it."""
    a, b = start - start.mean(axis=0), ridden - ridden.mean(axis=0)
    size = float(np.sqrt((b**2).sum() / max((a**2).sum(), 1e-12)))
    p = size * a @ best_rotation(a, b).T + ridden.mean(axis=0)
    for _ in range(12):
        clearance, normal, known = under.clearance(p, vertex_normals(p, triangles))
        low = known & (clearance < ease) & (clearance > -FAR / 2)
        if low.mean() < 0.002:
            break
        push = ((ease - clearance)[low, None] * normal[low]).mean(axis=0)
        p = p + push * min(2.0, 1.0 + 0.5 / max(float(low.mean()), 0.1))
    return p
