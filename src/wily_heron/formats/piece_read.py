"""Any piece file the house can read, to a model."""

from pathlib import Path

from ..core.errors import InputError
from ..core.model.model import Model
from .beside import Beside, plain_name
from .gltf.scene import read_gltf
from .images.textures import MEDIA
from .obj.obj import MAX_BYTES, read_obj
from .ply import read_ply
from .stl import read_stl
from .zipped import read_zip

ENDINGS = (".obj", ".glb", ".gltf", ".ply", ".stl", ".usd", ".usda", ".usdc", ".usdz")
COMPANIONS = (".mtl", ".bin", *MEDIA)
"""Files that belong to a piece: its materials, buffers and textures."""


def read_model(data: bytes, name: str, beside: Beside | None = None) -> Model:
    """Return the model in a piece's file, told by its ending; `beside` are the files that came with it, by plain lower-case name."""
    ending = Path(name).suffix.lower()
    match ending:
        case ".zip":
            inside, content, with_it = read_zip(data, name, ENDINGS, COMPANIONS)
            return read_model(content, inside, with_it)
        case ".glb" | ".gltf":
            model = read_gltf(data, name, beside)
            return _first_piece(model, name) if ending == ".glb" and b"wily_heron" in data else model
        case ".usd" | ".usda" | ".usdc" | ".usdz":
            from .usd.read import read_usd  # half a second to load, which only a USD file is worth

            return read_usd(data, name, beside)
        case ".ply":
            return Model(read_ply(data, name))
        case ".stl":
            return Model(read_stl(data, name))
        case ".obj":
            return read_obj(data, name, beside)
    raise InputError(what=f"files ending in '{ending or 'nothing'}' cannot be read", where=name,
                     todo=f"Bring in one of {', '.join(ENDINGS)}, or a .zip with one inside.")


def _first_piece(pack: Model, name: str) -> Model:
    """Return the innermost piece of a pack of the house."""
    found = next((k for k, label in enumerate(pack.objects) if label.startswith("piece:")), None)
    if found is None:
        raise InputError(what="the pack holds a body and no piece", where=name, todo="Pack a piece, or bring in its own file.")
    return pack.part(pack.triangle_object == found)


def read_model_file(path: Path) -> Model:
    """Return the model in the file at `path`, with the materials and textures that lie in its folder."""
    data = read_file(path)
    beside, total = {}, 0
    for other in sorted(path.parent.iterdir()) if path.suffix.lower() in (".obj", ".gltf", ".glb", ".usda", ".usdc", ".usd") else ():
        if other.suffix.lower() in COMPANIONS and other.is_file() and _named_in(other, path, data):
            total += other.stat().st_size
            if total > MAX_BYTES:
                raise InputError(what="the files beside it are too large", where=str(path.parent), todo="Put it in a folder of its own.")
            beside[plain_name(other.name)] = other.read_bytes()
    if path.suffix.lower() == ".obj":  # the .mtl names the textures
        named = b" ".join(beside.values()).lower()
        for other in path.parent.iterdir():
            if other.suffix.lower() in MEDIA and other.name.lower().encode() in named and other.is_file():
                beside[plain_name(other.name)] = read_file(other)
    return read_model(data, path.name, beside)


def _named_in(other: Path, path: Path, data: bytes) -> bool:
    """Whether the file at `path` speaks of `other`, or is its namesake."""
    return other.stem == path.stem or other.name.encode() in data


def read_file(path: Path) -> bytes:
    """Return the bytes of `path`; raises `InputError` if it is missing or too large."""
    if not path.is_file():
        raise InputError(what="there is no such file", where=str(path), todo="Check the path.")
    if path.stat().st_size > MAX_BYTES:
        raise InputError(what=f"the file is {path.stat().st_size / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB",
                         where=str(path), todo="Split the piece or reduce it before bringing it in.")
    return path.read_bytes()
