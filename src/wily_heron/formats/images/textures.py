"""Pictures that materials use: PNG, JPEG, WebP and OpenEXR, checked for their size before they are unpacked."""

import io
import tempfile

import numpy as np
import OpenEXR
from PIL import Image, UnidentifiedImageError

from ...core.errors import InputError
from ...core.model.model import Texture

SIDE = 16384
"""The longest side a texture may have, in pixels."""
MEDIA = {".png": "image/png", ".jpg": "image/jpeg", ".jpeg": "image/jpeg", ".webp": "image/webp", ".exr": "image/x-exr"}
_PLAIN = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
_EXR = b"\x76\x2f\x31\x01"


def read_texture(data: bytes, name: str) -> Texture:
    """Return the texture under `name`, told by its bytes; raises `InputError` for no picture, or one beyond 16,384 a side."""
    if data[:4] == _EXR:
        width, height = _exr_size(data, name)
        media = "image/x-exr"
    else:
        try:
            with Image.open(io.BytesIO(data), formats=tuple(_PLAIN)) as picture:
                (width, height), media = picture.size, _PLAIN[picture.format or "PNG"]
        except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
            why = "it is too large to unpack" if isinstance(error, Image.DecompressionBombError) else "it is not a picture that can be read"
            raise InputError(what=why, where=f"the texture {name}", todo="Give a PNG, JPEG, WebP or EXR.") from None
    if max(width, height) > SIDE or min(width, height) < 1:
        raise InputError(what=f"it is {width} x {height} pixels", where=f"the texture {name}", todo=f"Give at most {SIDE} a side.")
    return Texture(name, data, media)


def drawable(texture: Texture, side: int = 2048) -> bytes:
    """Return the texture as a PNG of at most `side` pixels a side, 8 bit; a linear EXR is given the sRGB curve."""
    if texture.media == "image/x-exr":
        picture = Image.fromarray(_srgb8(exr_pixels(texture.data, texture.name)))
    else:
        try:
            with Image.open(io.BytesIO(texture.data), formats=tuple(_PLAIN)) as opened:
                picture = opened.convert("RGBA" if "A" in opened.getbands() or "transparency" in opened.info else "RGB")
        except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
            raise InputError(what="it cannot be unpacked", where=f"the texture {texture.name}", todo="Save it again.") from None
    picture.thumbnail((side, side))
    out = io.BytesIO()
    picture.save(out, "PNG", compress_level=3)
    return out.getvalue()


def exr_pixels(data: bytes, name: str) -> np.ndarray:
    """Return `(h, w, 3) float32` linear colours of an OpenEXR file; one channel is shown grey."""
    with tempfile.NamedTemporaryFile(suffix=".exr") as file:
        file.write(data)
        file.flush()
        try:
            with OpenEXR.File(file.name, separate_channels=True) as opened:
                channels = opened.channels()
                names = [c for c in ("R", "G", "B") if c in channels] or list(channels)[:1]
                planes = [np.asarray(channels[c].pixels, np.float32) for c in names]
        except Exception:  # the library raises plain RuntimeError and its own kinds alike
            raise InputError(what="it is damaged", where=f"the texture {name}", todo="Save it again as OpenEXR scanlines.") from None
    planes = planes if len(planes) == 3 else [planes[0]] * 3
    return np.nan_to_num(np.stack(planes, axis=-1), posinf=1e4, neginf=0.0)


def _exr_size(data: bytes, name: str) -> tuple[int, int]:
    at = data.find(b"dataWindow\0box2i\0", 0, 65536)
    if at < 0:
        raise InputError(what="its header holds no data window", where=f"the texture {name}", todo="Save it again as OpenEXR.")
    box = np.frombuffer(data[at + 21: at + 37].ljust(16, b"\0"), "<i4").astype(np.int64)
    return int(box[2] - box[0]) + 1, int(box[3] - box[1]) + 1


def _srgb8(linear: np.ndarray) -> np.ndarray:
    c = np.clip(linear, 0.0, 1.0)
    curved = np.where(c <= 0.0031308, 12.92 * c, 1.055 * c ** (1 / 2.4) - 0.055)
    return (255 * curved + 0.5).astype(np.uint8)


def small_picture(texture: Texture, side: int) -> np.ndarray:
    """Return the texture as `(h, w, 3) uint8`, at most `side` pixels a side."""
    with Image.open(io.BytesIO(drawable(texture, side))) as picture:
        return np.asarray(picture.convert("RGB"))
