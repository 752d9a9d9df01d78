"""Height maps and tangent-space normal maps from picture files."""

import io

import numpy as np
from PIL import Image, UnidentifiedImageError

from ..core.errors import InputError
from ..core.figure.relief import heights_of_normals

_SIDE = 8192


def read_heights(data: bytes, name: str, normal_map: bool = False) -> np.ndarray:
    """Return `(h, w)` heights 0..1 from a PNG, JPEG or WebP, 8 or 16 bit; raises `InputError` for what is no such picture."""
    try:
        with Image.open(io.BytesIO(data)) as picture:
            if max(picture.size) > _SIDE or min(picture.size) < 2:
                raise InputError(what=f"it is {picture.size[0]} x {picture.size[1]} pixels", where=name, todo=f"Give 2 to {_SIDE} a side.")
            if normal_map:
                return heights_of_normals(np.asarray(picture.convert("RGB"), float) / 127.5 - 1.0)
            deep = picture.mode.startswith("I")
            grey = np.asarray(picture if deep else picture.convert("L"), float)
            return grey / (65535.0 if deep else 255.0)
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError):
        raise InputError(what="it is not a picture that can be read", where=name, todo="Give a PNG, JPEG or WebP.") from None
