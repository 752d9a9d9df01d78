"""Fabrics by their physical figures: those of the house, and the studio's own."""

import base64
from functools import lru_cache

from fastapi import APIRouter
from psycopg.types.json import Jsonb

from ...core.drape.swatch import Swatch, swatch
from ...core.errors import InputError, NotFound
from ...core.look.portrait import swatch_portrait
from ...core.model.steps.fabric import FABRICS, Fabric
from ...formats.png import write_png
from ...store.db import run, transaction
from ...store.events import notify
from ..deps import Artist
from ..schemas_drape import SwatchOut

router = APIRouter(prefix="/api", tags=["drape"])


@router.get("/fabrics")
def fabrics() -> list[Fabric]:
    """Return the fabrics of the house by their physical parameters, then the studio's own."""
    return [*FABRICS.values(), *own_fabrics()]


@router.get("/fabrics/own")
def own_fabrics() -> list[Fabric]:
    """Return the studio's own fabrics by name."""
    with transaction() as connection:
        return [Fabric.model_validate(row["figures"]) for row in run(connection, "own_fabrics")]


@router.post("/fabrics/own", status_code=201)
def keep_fabric(artist: Artist, fabric: Fabric) -> list[Fabric]:
    """Keep a fabric under its name, in the place of one of the studio's own that bears it; those of the house stay as they are."""
    kept = fabric.model_copy(update={"name": fabric.name.strip()})
    if not kept.name or kept.name in FABRICS:
        raise InputError(what=f"'{kept.name}' is a fabric of the house" if kept.name else "it has no name", where="the fabrics",
                         todo="Give it a name of its own.")
    with transaction() as connection:
        run(connection, "keep_fabric", name=kept.name, figures=Jsonb(kept.model_dump(mode="json")), author=artist)
        notify(connection, "fabrics")
    return fabrics()


@router.delete("/fabrics/own/{name}")
def forget_fabric(name: str) -> list[Fabric]:
    """Forget one of the studio's own fabrics; what was draped in it keeps its figures."""
    with transaction() as connection:
        if not run(connection, "forget_fabric", name=name):
            raise NotFound(what=f"there is no fabric '{name}' of the studio's own", where="the fabrics", todo="Reload the room.")
        notify(connection, "fabrics")
    return fabrics()


@router.post("/fabrics/swatch")
def hang_swatch(fabric: Fabric) -> SwatchOut:
    """Hang a round of a fabric over a stand and return its picture and how it drapes."""
    hung = _swatch(fabric.model_dump_json())
    picture = base64.b64encode(write_png(swatch_portrait(hung.points, hung.triangles, (260, 200)))).decode()
    return SwatchOut(name=fabric.name, picture=picture, coefficient=hung.coefficient, bending=hung.bending)


@lru_cache(maxsize=64)
def _swatch(fabric: str) -> Swatch:
    return swatch(Fabric.model_validate_json(fabric))
