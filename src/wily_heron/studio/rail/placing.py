"""The place, fit and work steps of a piece: proposals, previews, adjusters and loose parts. Nothing is kept."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...core.errors import InputError
from ...core.figure.body_landmarks import body_landmarks
from ...core.fit.fit_preview import fit_preview
from ...core.mesh.islands import islands
from ...core.mesh.rigid_islands import stiff_islands
from ...core.model.steps.alteration import Vector
from ...core.model.steps.fit import Fit
from ...core.model.steps.receive import Place, Receive
from ...core.receive.place import place
from ...core.receive.propose import dropped, propose, snapped
from ...core.work.adjusters import Adjuster, Opening, adjusters, openings
from ...formats.array_frame import array_frame
from ...store.db import transaction
from ...store.productions.bodies import carrier_of
from ...store.productions.wearers import get_wearer
from ...store.rail.pieces import piece_at
from .standing import after, standing, wearer_of

_PARTS = 60
"""So many loose parts are told of at most."""
_GAP, _DROPPED = 0.006, 0.003
"""How far (metres) a piece is laid from a landmark, and from what it is dropped onto."""


@dataclass(frozen=True)
class LoosePart:
    """A loose part of a piece: a received row of it, its longest side and middle (metres), and whether it keeps its form."""

    row: int
    vertices: int
    size: float
    material: str
    stiff: bool
    middle: Vector


def landmarks(wearer: int) -> dict[str, Vector]:
    """Return the named points of a wearer's skin (metres, at rest)."""
    with transaction() as connection:
        who = get_wearer(connection, wearer)
    carrier = carrier_of(who.body or "", who.shape)
    return {name: vector(carrier[v]) for name, v in body_landmarks().items()}


def placement(piece: int, how: Literal["propose", "drop", "snap"], row: int | None, landmark: str) -> tuple[Place, str]:
    """Return a placement and why: proposed from category and size, dropped onto the body, or a vertex snapped to a landmark."""
    received = after(piece, ("receive",))
    points, recipe = received.piece.mesh.points, received.recipe
    step = next((s for s in recipe.steps if isinstance(s, Place)), Place())
    carrier = carrier_of(recipe.body, recipe.made_on)
    if how == "propose":
        return propose(points, received.row.category, carrier)
    if how == "drop":
        wearer, at = wearer_of(recipe), place(points, step)
        fall = dropped(at[:: max(1, len(at) // 4000)], wearer.points, wearer.body.triangles, _DROPPED)
        moved = step.model_copy(update={"move": (step.move[0], step.move[1] + fall, step.move[2])})
        return moved, f"{'lowered' if fall < 0 else 'lifted'} by {abs(100 * fall):.1f} cm"
    if row is None or landmark not in body_landmarks():
        raise InputError(what="a point of the piece and a landmark are needed", where="snapping", todo="Choose both.")
    if not 0 <= row < len(points):
        raise InputError(what=f"the piece has no point {row}", where="snapping", todo="Click the piece again.")
    return snapped(points, step, row, landmark, carrier, _GAP), f"snapped to the {landmark}"


def preview_fit(piece: int, step: Fit) -> bytes:
    """Return the points the piece would have after fitting with these settings, quickly, and the report of the fit, as one frame."""
    placed = after(piece, ("receive", "place"))
    recipe = placed.recipe
    source = next((s.made_for for s in recipe.steps if isinstance(s, Receive)), None)
    digest = f"{piece} {[s.model_dump_json() for s in recipe.steps if s.kind in ('receive', 'place')]}"
    fitted = fit_preview(
        placed.piece.mesh, wearer_of(recipe), carrier_of(recipe.body, recipe.made_on), step,
        None if source is None else carrier_of(source.body, source.shape), digest,
        [(m.points, m.triangles) for m in (piece_at(sha).mesh for sha in step.over)],
        placed.piece.category,
    )
    return array_frame({"points": fitted.points.astype("<f4")}, {"report": fitted.report.model_dump(mode="json")})


def adjusters_of(piece: int) -> tuple[list[Adjuster], list[Opening]]:
    """Return the adjusters of a piece, and its openings."""
    stands = standing(piece)
    mesh, carrier = stands.piece.mesh, carrier_of(stands.recipe.body, stands.recipe.made_on)
    return adjusters(mesh.points, mesh.triangles, carrier), openings(mesh.points, mesh.triangles, carrier)


def loose_parts(piece: int) -> list[LoosePart]:
    """Return the loose parts of a piece, the largest first."""
    mesh = standing(piece).piece.mesh
    count, label = islands(mesh.triangles, len(mesh.points))
    stiff = stiff_islands(mesh.points, mesh.triangles)
    out: list[LoosePart] = []
    for island in range(min(count, _PARTS)):
        rows = (label == island).nonzero()[0]
        faces = (label[mesh.triangles[:, 0]] == island).nonzero()[0]
        if len(faces):
            points = mesh.points[rows]
            row = int(mesh.received[rows[0]]) if mesh.received is not None else int(rows[0])
            out.append(LoosePart(row, len(rows), float(np.ptp(points, axis=0).max()),
                                 mesh.materials[int(mesh.triangle_material[faces[0]])].name, bool(stiff[rows[0]]),
                                 vector(points.mean(axis=0))))
    return out


def vector(v: np.ndarray) -> Vector:
    """Return a point as three numbers."""
    return float(v[0]), float(v[1]), float(v[2])
