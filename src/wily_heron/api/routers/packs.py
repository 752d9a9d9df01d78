"""Packing: the outfit as a .glb."""

from fastapi import APIRouter, Response

from ...core.errors import InputError, NotFound
from ...core.figure.base.body import shape_values, shaped, standing_at
from ...core.model.pack import Pack, PackedPiece
from ...formats.pack_write import write_pack
from ...formats.slug import slug
from ...store.bodies import body_for
from ...store.db import one, run, transaction
from ...store.pieces import piece_at
from ...store.poses import pose_of
from ..deps import the_production
from ..dressing import textures_of, worn
from .trials import newest

router = APIRouter(prefix="/api/packs", tags=["packs"])


@router.get("/{wearer}.glb", response_class=Response, responses={200: {"content": {"model/gltf-binary": {}}}})
def pack(wearer: int) -> Response:
    """Return the outfit on a wearer as a pack, with the cast and poses as clips and what the last trial found."""
    with transaction() as connection:
        production = the_production(connection)
        row = one(connection, "wearer", wearer=wearer)
        rows = run(connection, "pieces_of", production=production["id"])
        everyone = run(connection, "cast_of", production=production["id"])
        stances = {p["pose"]: pose_of(connection, p["pose"]) for p in run(connection, "poses_of", production=production["id"])}
        trial = newest(connection, production["id"])
    if row is None:
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Reload the room.")
    by_sha = {r["worn_sha"]: r for r in rows}
    cast = {w["name"]: w["shape"] for w in everyone if w["body_sha"] == row["body_sha"]}
    pieces = worn(rows, row["body_sha"])
    for _, sha in pieces:
        steps = [s["kind"] for s in by_sha[sha]["recipe"]["steps"]]
        if "bind" not in steps or "follow" not in steps:
            raise InputError(what=f"{by_sha[sha]['name']} is not bound and following yet", where="packing",
                             todo="Do its Bind and Follow steps first, or take it off the rail.")
    if not pieces:
        raise InputError(what="nothing is worn yet", where="packing", todo="Bring in a piece first.")
    base = body_for(row["body_sha"], row["shape"])
    who = shaped(base, shape_values(base, row["shape"]))
    body = standing_at(who)
    packed = []
    for name, sha in pieces:
        piece = piece_at(sha)
        ease = next((s["ease"] for s in by_sha[sha]["recipe"]["steps"] if s["kind"] == "fit"), 0.0)
        packed.append(PackedPiece(name, by_sha[sha]["category"], piece.standing_on(who.shape), ease))
    checked = {}
    if trial and not trial.stale:
        names = {w["id"]: w["name"] for w in _cast_rows(production["id"])}
        checked = {"cells": [{"wearer": names.get(c.wearer, "?"), "pose": c.pose, "clearance_mm": c.figures.clearance_mm,
                              "area_cm2": c.figures.area_cm2, "pairs": [
                                  {"over": p.over, "under": p.under, "clearance_mm": p.clearance_mm, "area_cm2": p.area_cm2}
                                  for p in c.figures.pairs]} for c in trial.cells if c.figures]}
    textures = {t.name: t for _, sha in pieces for t in textures_of(sha)}
    data = write_pack(Pack(body, row["name"], tuple(packed), cast, stances, checked, textures=tuple(textures.values())))
    return Response(data, media_type="model/gltf-binary",
                    headers={"Content-Disposition": f'attachment; filename="{slug(row["name"])}.glb"', "Cache-Control": "no-store"})


def _cast_rows(production: int) -> list[dict]:
    with transaction() as connection:
        return run(connection, "cast_of", production=production)
