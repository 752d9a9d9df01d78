"""Pieces: bringing in, changing, undoing, and their geometry."""

from functools import lru_cache
from pathlib import Path

import numpy as np
from fastapi import APIRouter, Response, UploadFile

from ...core.bench.recipe import Recipe, check_order
from ...core.errors import InputError, NotFound
from ...core.model.model import Model
from ...core.model.steps.receive import Receive
from ...formats.piece_read import read_model, read_model_file
from ...shipped import practice_coat
from ...store import pieces as store
from ...store.arrays import array_frame, bytes_piece, moved_rows, piece_textures
from ...store.db import get_blob, run, transaction
from ...store.events import notify
from ...store.models import put_model
from ...store.worn_arrays import stage_arrays
from ..deps import Artist, the_production
from ..queue import ask
from ..received_files import sorted_files
from ..schemas import MoveIn, PieceChangeIn, PieceOut, RecipeIn
from .production import piece_out

router = APIRouter(prefix="/api/pieces", tags=["pieces"])


@router.post("", status_code=201)
def bring_in(artist: Artist, files: list[UploadFile]) -> PieceOut:
    """Receive a piece from a file, with its materials and textures if they lie in files of their own."""
    mains, beside = sorted_files(files)
    if not mains:
        raise InputError(what="no piece among the files", where="bring in", todo="Choose a piece's file, with its .mtl and textures.")
    name, data = mains[0]
    return _add(read_model(data, name, beside), name, artist)


@router.post("/practice", status_code=201)
def bring_in_practice(artist: Artist) -> PieceOut:
    """Bring in the practice coat: centimetres, lying on its back."""
    return _add(read_model_file(practice_coat()), practice_coat().name, artist)


def _add(model: Model, file_name: str, author: str) -> PieceOut:
    with transaction() as connection:
        production = the_production(connection)
        cast = run(connection, "cast_of", production=production["id"])
        recipe = Recipe(made_on=cast[0]["shape"] if cast else {}, steps=(Receive(),))
        sha = put_model(connection, model)
        name = Path(file_name).stem.replace("-", " ").replace("_", " ").strip().capitalize() or "Piece"
        piece, edit = store.add_piece(connection, production["id"], name, "top", file_name, sha, recipe, author)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(piece)


def piece_named(piece: int) -> PieceOut:
    """Return a piece as it goes over the wire; raises `InputError` if it is not on the rail."""
    with transaction() as connection:
        production = the_production(connection)
        row = next((r for r in run(connection, "pieces_of", production=production["id"]) if r["id"] == piece), None)
    if row is None:
        raise NotFound(what=f"there is no piece {piece}", where="the rail", todo="It may have been taken off in another window.")
    return piece_out(row)


@router.put("/{piece}/recipe")
def change_recipe(artist: Artist, piece: int, change: RecipeIn) -> PieceOut:
    """Record a new recipe; the worker runs it and everyone hears when the piece stands."""
    check_order(change.recipe)
    with transaction() as connection:
        edit = store.change_recipe(connection, piece, change.recipe, change.label, artist, change.based_on)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(piece)


@router.post("/{piece}/undo")
def undo(piece: int) -> PieceOut:
    """Go back one edit."""
    with transaction() as connection:
        edit = store.undo(connection, piece)
    return _stood(piece, edit)


@router.post("/{piece}/redo")
def redo(piece: int) -> PieceOut:
    """Go forward one edit."""
    with transaction() as connection:
        edit = store.redo(connection, piece)
    return _stood(piece, edit)


def _stood(piece: int, edit: int) -> PieceOut:
    out = piece_named(piece)
    if out.status == "waiting":
        ask("evaluate_edit", priority=10, edit=edit)
    return out


@router.post("/{piece}/move")
def move(piece: int, way: MoveIn) -> PieceOut:
    """Change places with the next piece outwards or inwards on the rail."""
    with transaction() as connection:
        store.move(connection, piece, way.outwards)
    return piece_named(piece)


@router.patch("/{piece}")
def change_piece(piece: int, change: PieceChangeIn) -> PieceOut:
    """Give a piece another name or category."""
    with transaction() as connection:
        store.get_piece(connection, piece)
        if change.name:
            run(connection, "rename_piece", piece=piece, name=change.name)
        if change.category:
            run(connection, "set_category", piece=piece, category=change.category)
        notify(connection, "piece", piece=piece)
    return piece_named(piece)


@router.delete("/{piece}", status_code=204)
def take_off(piece: int) -> None:
    """Take a piece off the rail."""
    with transaction() as connection:
        store.drop(connection, piece)


@router.get("/geometry/{sha}", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def geometry(sha: str) -> Response:
    """Return a piece's arrays as one frame; the address is its content, so it may be kept for ever."""
    return Response(_frame(sha), media_type="application/octet-stream", headers={"Cache-Control": "public, max-age=31536000, immutable"})


@lru_cache(maxsize=12)
def _frame(sha: str) -> bytes:
    with transaction() as connection:
        data = get_blob(connection, sha)
    piece = bytes_piece(data)
    arrays = {"points": piece.mesh.points, "triangles": piece.mesh.triangles, "triangle_material": piece.mesh.triangle_material,
              "made_at": piece.made_at.astype("<f4")}
    if piece.skin is not None:
        arrays |= {"skin_joints": piece.skin.joints.astype("<u2"), "skin_weights": piece.skin.weights}
    worn, worn_notes = stage_arrays(piece)
    arrays |= worn
    moves = piece.deltas
    if piece.fixes is not None:  # a piece that follows no shape may yet have correctives for poses
        still = np.zeros((len(piece.made_at), *piece.mesh.points.shape), np.float32)
        moves = np.concatenate([still if moves is None else moves, piece.fixes])
    if moves is not None:
        arrays |= moved_rows(moves)
    arrays |= {name: a.astype("<f4") for name, a in (("trouble", piece.trouble), ("protect", piece.protect)) if a is not None}
    if piece.mesh.received is not None:
        arrays["received"] = piece.mesh.received.astype("<i4")
    addresses = piece_textures(data)
    notes = {"materials": [{"name": m.name, "colour": m.colour, "roughness": m.roughness, "metal": m.metal,
                            "colour_map": addresses.get(m.colour_map or ""), "normal_map": addresses.get(m.normal_map or ""),
                            "rough_map": addresses.get(m.rough_map or "")} for m in piece.mesh.materials], **worn_notes}
    if piece.mesh.corner_uv is not None and any(m.maps() for m in piece.mesh.materials):
        arrays["corner_uv"] = piece.mesh.corner_uv
    return array_frame(arrays, notes)
