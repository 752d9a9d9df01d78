"""Pictures: thumbnails of wearers, poses and pieces, and trial cells, all drawn from the real meshes."""

from functools import lru_cache
from typing import Any

from fastapi import APIRouter, Response

from ...core.errors import NotFound
from ...core.figure.base.body import shape_values, shaped
from ...core.figure.base.pose_types import Pose
from ...core.look.portrait import body_portrait
from ...core.motion.pose import posed_body
from ...formats.png import write_png
from ...formats.textures import drawable, read_texture
from ...store.bodies import body_for
from ...store.db import get_blob, one, transaction
from ...store.poses import pose_of

router = APIRouter(prefix="/api/pictures", tags=["pictures"])
_FOR_EVER = {"Cache-Control": "public, max-age=31536000, immutable"}
_PNG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/png": {}}}}


@lru_cache(maxsize=256)
def _body(own: str | None, shape: tuple[tuple[str, float], ...], pose: str) -> bytes:
    """A pose's name stands for its content, the library's and one's own."""
    body = body_for(own, dict(shape), 1)
    wearer = shaped(body, shape_values(body, dict(shape)))
    return write_png(body_portrait(posed_body(wearer, _pose(pose)), body.triangles, (144, 168)))


def _pose(name: str) -> Pose:
    with transaction() as connection:
        return pose_of(connection, name)


@router.get("/wearer/{wearer}.png", response_class=Response, responses=_PNG)
def wearer_picture(wearer: int, pose: str = "stand") -> Response:
    """Return a wearer in a pose, on clear ground. Ask with a version of the shape in the query to keep it."""
    with transaction() as connection:
        row = one(connection, "wearer", wearer=wearer)
    if row is None:
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Reload the room.")
    return Response(_body(row["body_sha"], tuple(sorted(row["shape"].items())), pose), media_type="image/png", headers=_FOR_EVER)


@router.get("/texture/{sha}.png", response_class=Response, responses=_PNG)
def texture(sha: str) -> Response:
    """Return a piece's texture as the stage draws it: at most 2,048 pixels a side, 8 bit."""
    return Response(_texture(sha), media_type="image/png", headers=_FOR_EVER)


@lru_cache(maxsize=24)
def _texture(sha: str) -> bytes:
    with transaction() as connection:
        return drawable(read_texture(get_blob(connection, sha), "of a piece"))


@router.get("/{sha}.png", response_class=Response, responses=_PNG)
def stored_picture(sha: str) -> Response:
    """Return a stored picture; the address is its content."""
    with transaction() as connection:
        return Response(get_blob(connection, sha), media_type="image/png", headers=_FOR_EVER)
