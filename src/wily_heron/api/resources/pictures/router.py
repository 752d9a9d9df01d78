"""Pictures: thumbnails of wearers, poses and pieces, and trial cells, all drawn from the real meshes."""

from fastapi import APIRouter, Response

from ....studio.productions import pictures
from ...wire import FOR_EVER, answers

router = APIRouter(prefix="/api/pictures", tags=["pictures"])
_PNG = answers("image/png")


@router.get("/wearer/{wearer}.png", response_class=Response, responses=_PNG)
def wearer_picture(wearer: int, pose: str = "stand") -> Response:
    """Return a wearer in a pose, on clear ground. Ask with a version of the shape in the query to keep it."""
    return _png(pictures.wearer_picture(wearer, pose))


@router.get("/dressed/{wearer}.png", response_class=Response, responses=_PNG)
def dressed_picture(wearer: int) -> Response:
    """Return a wearer at rest in what the rail holds, on clear ground."""
    return Response(pictures.dressed_picture(wearer), media_type="image/png", headers={"Cache-Control": "max-age=5"})


@router.get("/texture/{sha}.png", response_class=Response, responses=_PNG)
def texture(sha: str) -> Response:
    """Return a piece's texture as the stage draws it: at most 2,048 pixels a side, 8 bit."""
    return _png(pictures.texture_picture(sha))


@router.get("/{sha}.png", response_class=Response, responses=_PNG)
def stored_picture(sha: str) -> Response:
    """Return a stored picture; the address is its content."""
    return _png(pictures.stored_picture(sha))


def _png(data: bytes) -> Response:
    return Response(data, media_type="image/png", headers=FOR_EVER)
