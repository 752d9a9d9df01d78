"""Hunts for failures in random poses and on mixes of wearers."""

import orjson
from fastapi import APIRouter
from psycopg.types.json import Jsonb

from ...core.errors import InputError, NotFound
from ...core.motion.mixes import mixes
from ...store.db import one, run, transaction
from ...store.events import notify
from ..deps import ProductionId
from ..dressing import worn
from ..queue import ask
from ..schemas_hunts import HuntFoundOut, HuntIn, HuntOut

router = APIRouter(prefix="/api/hunts", tags=["trials"])
_SHOWN = 24


@router.post("", status_code=201)
def start(production: ProductionId, asked: HuntIn) -> HuntOut:
    """Try the outfit in seeded random poses on every wearer and on mixes of those without a body of their own; a new seed each time."""
    with transaction() as connection:
        rows = run(connection, "pieces_of", production=production)
        cast = [w for w in run(connection, "cast_of", production=production) if worn(rows, w["body_sha"])]
        if not cast:
            raise InputError(what="nothing is worn yet", where="the hunt", todo="Bring in a piece first.")
        before = one(connection, "latest_hunt", production=production)
        if before:
            run(connection, "cancel_hunt", hunt=before["id"])
        seed = before["seed"] + 1 if before else 1
        outfit = orjson.dumps({w["body_sha"] or "": worn(rows, w["body_sha"]) for w in cast}).decode()
        hunt = run(connection, "add_hunt", production=production, outfit=outfit, seed=seed, share=asked.share)[0]["id"]
        shapes = [w["shape"] for w in cast if w["body_sha"] is None]
        parts = [(w["name"], w["id"], w["body_sha"], w["shape"]) for w in cast]
        parts += [(f"Mix {seed}.{k + 1}", None, None, s) for k, s in enumerate(mixes(shapes, asked.mixes, seed) if shapes else [])]
        for part, (name, wearer, body, shape) in enumerate(parts):
            run(connection, "add_hunt_part", hunt=hunt, part=part, name=name, wearer=wearer, body=body, shape=Jsonb(shape),
                poses=asked.poses)
        notify(connection, "hunt", hunt=hunt)
    for part in range(len(parts)):
        ask("hunt_part", hunt=hunt, part=part)
    return _out(hunt)


@router.get("/latest")
def latest(production: ProductionId) -> HuntOut | None:
    """Return the newest hunt, if there is one."""
    with transaction() as connection:
        row = one(connection, "latest_hunt", production=production)
    return _out(row["id"]) if row else None


@router.delete("/{hunt}")
def cancel(hunt: int) -> HuntOut:
    """Stop a hunt; what was found stays."""
    with transaction() as connection:
        if one(connection, "hunt", hunt=hunt) is None:
            raise NotFound(what=f"there is no hunt {hunt}", where="the trial sheet", todo="Start a new one.")
        run(connection, "cancel_hunt", hunt=hunt)
        notify(connection, "hunt", hunt=hunt)
    return _out(hunt)


def _out(hunt: int) -> HuntOut:
    with transaction() as connection:
        row = one(connection, "hunt", hunt=hunt)
        parts = run(connection, "hunt_parts", hunt=hunt)
        worst = run(connection, "hunt_worst", hunt=hunt, most=_SHOWN)
        failed = run(connection, "hunt_found_count", hunt=hunt)[0]["found"]
    assert row is not None
    found = [HuntFoundOut(name=f["name"], wearer=f["wearer_id"], body=f["body_sha"], shape=f["shape"], rotations=f["rotations"],
                          figures=f["figures"], picture=f["picture_sha"], fails_on=f["fails_on"]) for f in worst]
    return HuntOut(id=hunt, state=row["state"], seed=row["seed"], done=sum(p["done"] for p in parts), total=sum(p["poses"] for p in parts),
                   failed=failed, wearers=len(parts), started_at=row["started_at"], worst=found)
