"""Fabrics by their physical figures: those of the house, and the studio's own."""

import base64

from fastapi import APIRouter

from ....core.look.portrait import swatch_portrait
from ....core.model.steps.fabric import Fabric
from ....formats.images.png import write_png
from ....studio.stock import fabrics as studio
from ...deps import AtDesk
from .schemas import SwatchOut

router = APIRouter(prefix="/api/fabrics", tags=["drape"])
_SIZE = (260, 200)


@router.get("")
def fabrics() -> list[Fabric]:
    """Return the fabrics of the house by their physical parameters, then the studio's own."""
    return studio.fabrics()


@router.get("/own")
def own_fabrics() -> list[Fabric]:
    """Return the studio's own fabrics by name."""
    return studio.own()


@router.post("/own", status_code=201)
def keep_fabric(desk: AtDesk, fabric: Fabric) -> list[Fabric]:
    """Keep a fabric under its name, in the place of one of the studio's own that bears it; those of the house stay as they are."""
    return studio.keep(desk, fabric)


@router.delete("/own/{name}")
def forget_fabric(name: str) -> list[Fabric]:
    """Forget one of the studio's own fabrics; what was draped in it keeps its figures."""
    return studio.forget(name)


@router.post("/swatch")
def hang_swatch(fabric: Fabric) -> SwatchOut:
    """Hang a round of a fabric over a stand and return its picture and how it drapes."""
    hung = studio.hung(fabric)
    picture = base64.b64encode(write_png(swatch_portrait(hung.points, hung.triangles, _SIZE))).decode()
    return SwatchOut(name=fabric.name, picture=picture, coefficient=hung.coefficient, bending=hung.bending)
