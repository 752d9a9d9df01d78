"""Pictures: wearers in poses and textures as the stage draws them; stored pictures come as they are."""

from ...core.look.portrait import body_portrait, dressed_portrait
from ...core.memo import Memo
from ...core.motion.pose import posed_body
from ...formats.images.png import write_png
from ...formats.images.textures import drawable, read_texture
from ...store.db import blob_named, transaction
from ...store.productions.copies import get_copy, pieces_then, wearers_then
from ...store.productions.poses import pose_of
from ...store.productions.wearers import get_wearer
from ...store.rail.pieces import piece_at, rail_of
from ..wearer import wearer_as
from ..worn import hangs_for, worn

_PICTURES: Memo[bytes] = Memo("pictures", 96 * 2**20)
_SIZE = (144, 168)
_CARD = (220, 336)


def wearer_picture(wearer: int, pose: str) -> bytes:
    """Return a wearer in a pose, on clear ground, as PNG. Raises `NotFound` for a wearer that is not there."""
    with transaction() as connection:
        who = get_wearer(connection, wearer)
        turned = pose_of(connection, pose)  # a pose's name stands for its content, the library's and one's own

    def draw() -> bytes:
        mine = wearer_as(who.body, who.shape, 1)
        return write_png(body_portrait(posed_body(mine, turned), mine.body.triangles, _SIZE))

    return _PICTURES.of(("wearer", who.body, tuple(sorted(who.shape.items())), pose), draw)


def dressed_picture(wearer: int) -> bytes:
    """Return a wearer in what the rail holds for that body, at rest, as PNG. Raises `NotFound` for a wearer that is not there."""
    with transaction() as connection:
        who = get_wearer(connection, wearer)
        pieces = worn(rail_of(connection, who.production), who)

    def draw() -> bytes:
        image = dressed_portrait(wearer_as(who.body, who.shape), [piece_at(sha) for _, sha in pieces], _CARD)
        return write_png(image)

    return _PICTURES.of(("dressed", who.body, tuple(sorted(who.shape.items())), tuple(sha for _, sha in pieces)), draw)


def copy_picture(production: int, copy: int) -> bytes:
    """Return the first wearer of a working copy in what hung on the rail then, as PNG. Raises `NotFound` if there is no such copy."""
    with transaction() as connection:
        kept = get_copy(connection, production, copy)
        who, pieces = wearers_then(connection, production, kept)[0], pieces_then(connection, production, kept)

    def draw() -> bytes:
        on = [piece_at(p.worn) for p in reversed(pieces) if p.worn and hangs_for(p, who)]
        return write_png(dressed_portrait(wearer_as(who.body, who.shape), on, _SIZE))

    return _PICTURES.of(("copy", copy), draw)


def texture_picture(sha: str) -> bytes:
    """Return a texture as the stage draws it: at most 2,048 pixels a side, 8 bit, as PNG. Raises `NotFound` if there is none."""

    def draw() -> bytes:
        with transaction() as connection:
            return drawable(read_texture(blob_named(connection, sha, "texture"), "of a piece"))

    return _PICTURES.of(("texture", sha), draw)


def stored_picture(sha: str) -> bytes:
    """Return a stored picture. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return blob_named(connection, sha, "picture")
