"""Textures as files beside a piece, under safe names."""

from collections.abc import Iterable
from pathlib import PurePath

from ...core.model.model import Texture
from .textures import SIDE, drawable

_ENDINGS = {"image/png": ".png", "image/jpeg": ".jpg", "image/x-exr": ".exr"}


def texture_files(textures: Iterable[Texture]) -> dict[str, tuple[str, bytes]]:
    """Return file name and bytes of each texture by its name; WebP, which few readers know, becomes PNG."""
    out: dict[str, tuple[str, bytes]] = {}
    for texture in textures:
        kept = texture.media in _ENDINGS
        stem = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "_" for c in PurePath(texture.name).stem) or "texture"
        file, n = f"{stem}{_ENDINGS.get(texture.media, '.png')}", 2
        while any(file == other for other, _ in out.values()):
            file, n = f"{stem}_{n}{_ENDINGS.get(texture.media, '.png')}", n + 1
        out[texture.name] = file, texture.data if kept else drawable(texture, SIDE)
    return out
