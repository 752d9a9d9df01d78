"""Packing: the outfit as a .glb."""

from fastapi import APIRouter, Response

from ....studio.sheet.export import pack_of
from ...wire import answers, file

router = APIRouter(prefix="/api/packs", tags=["packs"])


@router.get("/{wearer}.glb", response_class=Response, responses=answers("model/gltf-binary"))
def pack(wearer: int) -> Response:
    """Return the outfit on a wearer as a pack, with the cast and poses as clips and what the last trial found."""
    name, data = pack_of(wearer)
    return file(data, name, "model/gltf-binary")
