"""The work step: what the artist does to a fitted piece by hand, by adjusters, by cutting and by growing."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer
from ..fit.settle import Goal, settle
from ..fit.skin_under import under_of
from ..mesh.edges import unique_edges
from ..mesh.islands import islands
from ..mesh.mesh import Mesh
from ..mesh.ops.subset import with_triangles, without_unused
from ..mesh.rigid_islands import stick_islands, stiff_islands
from ..model.state import Piece
from ..model.steps.recipe import Adjust, Drop, Lattice, MirrorHalf, Refine, Smooth, Stroke, Thicken, Trim, Work
from ..space.under import Under, turned_out
from .adjusters import adjusted, adjusters
from .lattice import bent
from .solid import bends, mirrored_half, refined, smoothed, thickened
from .strokes import Stroking
from .trim import trim


def work(state: Piece, wearer: Wearer, step: Work, here: Callable[[], np.ndarray]) -> Piece:
    """Return the piece after one alteration of the work step; `here` gives the level-1 figure's vertices on the wearer."""
    mesh = state.mesh
    report: dict = {"kind": step.kind}
    match step:
        case Stroke():
            hand = stroking(state, under_of(wearer) if step.tool == "press" else None)
            touched, lost = hand.apply(step)
            report |= {"tool": step.tool, "touched": len(touched), "lost": lost}
            points = _with_buttons(mesh, hand.points)
            return _after(state, report, mesh=mesh.moved(points), protect=hand.protect.astype(np.float32) if hand.protect.any() else None)
        case Lattice():
            return _after(state, report, mesh=mesh.moved(_with_buttons(mesh, bent(mesh.points, step, state.protect))))
        case Adjust():
            points, unknown = adjusted(mesh.points, adjusters(mesh.points, mesh.triangles, here()), step.values)
            points = _with_buttons(mesh, points)
            report |= {"unknown": unknown, "moved": float(np.linalg.norm(points - mesh.points, axis=1).max())}
            return _after(state, report, mesh=mesh.moved(cleared(points, mesh, wearer, step.ease) if step.clear else points))
        case Trim():
            made, told = trim(mesh, step)
            return _changed(state, made, report | told)
        case Drop():
            return _changed(state, _dropped(mesh, step.parts), report)
        case Thicken():
            return _changed(state, thickened(mesh, step.thick), report)
        case Refine():
            return _changed(state, _refined(mesh, wearer, step), report)
        case Smooth():
            still = stiff_islands(mesh.points, mesh.triangles)
            return _after(state, report, mesh=mesh.moved(smoothed(mesh.points, mesh.triangles, step.amount, still)))
        case MirrorHalf():
            return _changed(state, mirrored_half(mesh, step.keep == "left"), report)


def stroking(state: Piece, under: Under | None) -> Stroking:
    """Return the piece in the hand."""
    rows = state.mesh.received if state.mesh.received is not None else np.arange(len(state.mesh.points))
    return Stroking(state.mesh.points, state.mesh.triangles, rows, under, state.protect)


def cleared(points: np.ndarray, mesh: Mesh, wearer: Wearer, ease: float) -> np.ndarray:
    """Return points (n, 3) with what lies nearer to the skin than `ease` eased out smoothly."""
    under = under_of(wearer)
    asked = np.full(len(points), ease)
    outward = -1.0 if turned_out(points, mesh.triangles, under.skin) < -0.2 else 1.0
    return settle(
        points, mesh.triangles, under, Goal(asked, asked, np.zeros(len(points), bool)), stiff_islands(points, mesh.triangles), outward
    )


def _with_buttons(mesh: Mesh, points: np.ndarray) -> np.ndarray:
    """Buttons and buckles go with the cloth under them without bending."""
    return stick_islands(
        np.asarray(points, np.float64), mesh.points.astype(np.float64), mesh.triangles, stiff_islands(mesh.points, mesh.triangles)
    )


def _dropped(mesh: Mesh, parts: tuple[int, ...]) -> Mesh:
    _, label = islands(mesh.triangles, len(mesh.points))
    rows = np.flatnonzero(np.isin(mesh.received if mesh.received is not None else np.arange(len(label)), parts))
    gone = np.isin(label, label[rows])[mesh.triangles[:, 0]]
    if not gone.any() or gone.all():
        raise InputError(
            what="that part is not there" if not gone.any() else "nothing would be left",
            where="taking parts off",
            todo="Choose a loose part of the piece, such as a button or a strap.",
        )
    return without_unused(with_triangles(mesh, ~gone))


def _refined(mesh: Mesh, wearer: Wearer, step: Refine) -> Mesh:
    bending = bends(mesh, wearer) > 0.5 if step.where == "joints" else np.ones(len(mesh.points), bool)
    edges, face_edges = unique_edges(mesh.triangles)
    long = np.linalg.norm(mesh.points[edges[:, 0]] - mesh.points[edges[:, 1]], axis=1) > step.longest
    chosen = bending[mesh.triangles].any(axis=1) & long[face_edges].any(axis=1)
    if not chosen.any():
        where = "where the body bends" if step.where == "joints" else "anywhere"
        raise InputError(
            what=f"no face {where} is longer than {1000 * step.longest:.0f} mm",
            where="refining",
            todo="It is fine enough, or ask for shorter faces.",
        )
    if 4 * chosen.sum() + len(mesh.triangles) > 400_000:
        raise InputError(what="it would have more than 400,000 faces", where="refining", todo="Refine only where joints bend.")
    return refined(mesh, chosen)


def _changed(state: Piece, mesh: Mesh, report: dict) -> Piece:
    """The piece with another topology: what was painted on its old vertices is taken along by the rows they came from."""
    protect = None
    if state.protect is not None and state.mesh.received is not None and mesh.received is not None:
        by_row = np.zeros(int(max(state.mesh.received.max(), mesh.received.max())) + 1, np.float32)
        by_row[state.mesh.received] = state.protect
        protect = by_row[mesh.received]
    return _after(
        state, report | {"vertices": len(mesh.points), "triangles": len(mesh.triangles)}, mesh=mesh, protect=protect, trouble=None
    )


def _after(state: Piece, report: dict, **changes) -> Piece:
    return replace(state, report={**state.report, "work": [*state.report.get("work", []), report]}, **changes)
