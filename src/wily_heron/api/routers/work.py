"""The place, fit and work steps of a piece: proposals, previews, adjusters, loose parts, and pieces grown from the skin."""

from functools import lru_cache

import numpy as np
from fastapi import APIRouter, Response

from ...core.bench.evaluate import Source, evaluate
from ...core.bench.recipe import Recipe
from ...core.errors import InputError, NotFound
from ...core.figure.base.body import Wearer, shape_values, shaped
from ...core.figure.body_landmarks import body_landmarks
from ...core.fit.fit_preview import fit_preview
from ...core.mesh.islands import islands
from ...core.mesh.rigid_islands import stiff_islands
from ...core.model.model import Model
from ...core.model.state import Piece
from ...core.model.steps.bind import Bind
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Place, Receive
from ...core.receive.place import place
from ...core.receive.propose import dropped, propose, snapped
from ...core.work.adjusters import adjusters, openings
from ...core.work.grow import READY, Growth, grow, region_names
from ...store import pieces as store
from ...store.arrays import array_frame, moved_rows
from ...store.bodies import body_for, carrier_of
from ...store.db import run, transaction
from ...store.models import get_model, put_model
from ...store.pieces import piece_at
from ..deps import Artist, ProductionId, the_production
from ..queue import ask
from ..schemas import PieceOut
from ..schemas_work import AdjustersNotes, FitPreviewIn, GrowIn, LandmarkOut, LoosePartOut, OutfitFitIn, PlaceAskedIn, ProposedOut
from .pieces import piece_named

router = APIRouter(prefix="/api", tags=["work"])
BINARY: dict[int | str, dict] = {200: {"content": {"application/octet-stream": {}}}}


def standing(piece: int) -> tuple[dict, Piece, Recipe]:
    """Return the row of a piece, the piece as it stands, and its recipe; raises `InputError` while it is being worked out."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
    if not row["geometry_sha"]:
        raise InputError(
            what="it is still being worked out, or its last step failed",
            where=row["name"],
            todo="Wait until the bench shows its figures, or undo the last step.",
        )
    return row, piece_at(row["geometry_sha"]), Recipe.model_validate(row["recipe"])


def wearer_of(recipe: Recipe) -> Wearer:
    """Return the wearer a recipe is made on."""
    body = body_for(recipe.body, recipe.made_on)
    return shaped(body, shape_values(body, recipe.made_on))


def _up_to(piece: int, kinds: tuple[str, ...]) -> tuple[dict, Recipe, Piece]:
    """Return the row of a piece, its recipe, and the piece after the steps of `kinds` alone."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
    recipe = Recipe.model_validate(row["recipe"])
    early = recipe.model_copy(update={"steps": tuple(s for s in recipe.steps if s.kind in kinds)})
    source = Source(_model(row["source_sha"]), row["source_sha"])
    return row, recipe, evaluate(source, early, body_for(recipe.body, recipe.made_on), carrier_of)


@lru_cache(maxsize=8)
def _model(sha: str) -> Model:
    with transaction() as connection:
        return get_model(connection, sha)


@router.get("/landmarks")
def landmarks(production: ProductionId, wearer: int) -> list[LandmarkOut]:
    """Return the named points of a wearer's skin (metres, at rest)."""
    with transaction() as connection:
        row = next((w for w in run(connection, "cast_of", production=production) if w["id"] == wearer), None)
    if row is None:
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Choose one of the cast.")
    carrier = carrier_of(row["body_sha"] or "", row["shape"])
    return [LandmarkOut(name=name, at=_vector(carrier[v])) for name, v in body_landmarks().items()]


@router.post("/pieces/{piece}/place")
def placement(piece: int, asked: PlaceAskedIn) -> ProposedOut:
    """Return a placement: proposed from category and size, dropped onto the body, or snapped to a landmark. Nothing is kept yet."""
    row, recipe, received = _up_to(piece, ("receive",))
    points = received.mesh.points
    step = next((s for s in recipe.steps if isinstance(s, Place)), Place())
    wearer = wearer_of(recipe)
    carrier = carrier_of(recipe.body, recipe.made_on)
    match asked.how:
        case "propose":
            found, why = propose(points, row["category"], carrier)
        case "drop":
            at = place(points, step)
            fall = dropped(at[:: max(1, len(at) // 4000)], wearer.points, wearer.body.triangles, 0.003)
            found = step.model_copy(update={"move": (step.move[0], step.move[1] + fall, step.move[2])})
            why = f"{'lowered' if fall < 0 else 'lifted'} by {abs(100 * fall):.1f} cm"
        case _:
            if asked.row is None or asked.landmark not in body_landmarks():
                raise InputError(what="a point of the piece and a landmark are needed", where="snapping", todo="Choose both.")
            if not 0 <= asked.row < len(points):
                raise InputError(what=f"the piece has no point {asked.row}", where="snapping", todo="Click the piece again.")
            found, why = snapped(points, step, asked.row, asked.landmark, carrier, 0.006), f"snapped to the {asked.landmark}"
    return ProposedOut(step=found, why=why)


@router.post("/pieces/{piece}/fit-preview", response_class=Response, responses=BINARY)
def preview_fit(piece: int, asked: FitPreviewIn) -> Response:
    """Return the points the piece would have after fitting with these settings, quickly and without keeping them."""
    _, recipe, placed = _up_to(piece, ("receive", "place"))
    source = next((s.made_for for s in recipe.steps if isinstance(s, Receive)), None)
    digest = f"{piece} {[s.model_dump_json() for s in recipe.steps if s.kind in ('receive', 'place')]}"
    fitted = fit_preview(
        placed.mesh,
        wearer_of(recipe),
        carrier_of(recipe.body, recipe.made_on),
        asked.step,
        None if source is None else carrier_of(source.body, source.shape),
        digest,
        [(m.points, m.triangles) for m in (piece_at(sha).mesh for sha in asked.step.over)],
        str(placed.report.get("receive", {}).get("category", "")),
    )
    return Response(array_frame({"points": fitted.points.astype("<f4")}, {"report": fitted.report}), media_type="application/octet-stream")


@router.get("/pieces/{piece}/adjusters", response_class=Response, responses=BINARY)
def get_adjusters(piece: int) -> Response:
    """Return the adjusters of a piece and what each moves at 1, in hundredths of a millimetre, and its openings."""
    _, stands, recipe = standing(piece)
    carrier, mesh = carrier_of(recipe.body, recipe.made_on), stands.mesh
    found = adjusters(mesh.points, mesh.triangles, carrier)
    holes = openings(mesh.points, mesh.triangles, carrier)
    notes = AdjustersNotes.model_validate(
        {
            "adjusters": [{"name": a.name, "label": a.label, "group": a.group, "more": a.more, "less": a.less} for a in found],
            "openings": [
                {"name": o.name, "label": o.label, "end": _vector(o.end), "way": _vector(o.way)}
                for o in holes
            ],
        }
    )
    return Response(array_frame(moved_rows(np.stack([a.move for a in found])), notes.model_dump()), media_type="application/octet-stream")


@router.get("/pieces/{piece}/parts")
def parts(piece: int) -> list[LoosePartOut]:
    """Return the loose parts of a piece, the largest first: a row that names each, its size, material, and whether it keeps its form."""
    _, stands, _ = standing(piece)
    mesh = stands.mesh
    count, label = islands(mesh.triangles, len(mesh.points))
    stiff = stiff_islands(mesh.points, mesh.triangles)
    out = []
    for island in range(min(count, 60)):
        rows = (label == island).nonzero()[0]
        faces = (label[mesh.triangles[:, 0]] == island).nonzero()[0]
        if len(faces):
            size = (mesh.points[rows].max(axis=0) - mesh.points[rows].min(axis=0)).max()
            name = mesh.materials[int(mesh.triangle_material[faces[0]])].name
            row = int(mesh.received[rows[0]]) if mesh.received is not None else int(rows[0])
            out.append(
                LoosePartOut(
                    row=row,
                    vertices=len(rows),
                    size=float(size),
                    material=name,
                    stiff=bool(stiff[rows[0]]),
                    middle=_vector(mesh.points[rows].mean(axis=0)),
                )
            )
    return out


@router.get("/grow")
def what_can_be_grown() -> dict[str, list[str]]:
    """Return the regions of the body under `regions`, and the ready choices by name."""
    plain = sorted({n.removeprefix("l_").removeprefix("r_") for n in region_names()})
    return {"regions": plain} | {name: list(regions) for name, regions in READY.items()}


@router.post("/pieces/grow", status_code=201)
def grow_piece(artist: Artist, asked: GrowIn) -> PieceOut:
    """Grow a piece from a wearer's skin and put it on the rail, made for that wearer."""
    with transaction() as connection:
        production = the_production(connection)
        row = next((w for w in run(connection, "cast_of", production=production["id"]) if w["id"] == asked.wearer), None)
    if row is None:
        raise InputError(what=f"there is no wearer {asked.wearer}", where="the cast", todo="Choose one of the cast.")
    body = row["body_sha"] or ""
    recipe = Recipe(body=body, made_on=row["shape"])
    growth = Growth(tuple(asked.regions), asked.ease, asked.hem, asked.sole, asked.even)
    mesh = grow(wearer_of(recipe), growth, carrier_of(body, row["shape"]) if body else None)
    whose = MadeFor(name=row["name"], body=body, shape=row["shape"])
    received = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=whose)
    recipe = recipe.model_copy(update={"steps": (received, Place(), Bind(reach=0.03), Follow())})  # it lies at its ease already
    with transaction() as connection:
        sha = put_model(connection, Model(mesh))
        piece, edit = store.add_piece(connection, production["id"], asked.name, "suit", f"{asked.name} (grown)", sha, recipe, artist)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(piece)


@router.post("/outfit/fit", status_code=202)
def fit_outfit(artist: Artist, asked: OutfitFitIn) -> dict[str, int]:
    """Fit all pieces of the rail to a wearer's body from the skin outwards, each resting on those under it, as a job."""
    ask("fit_outfit", priority=8, body=asked.body or "", ease=asked.ease, author=artist)
    return {"asked": 1}


def _vector(v) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])
