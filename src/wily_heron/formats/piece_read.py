"""Any piece file the house can read, to a mesh."""

from pathlib import Path

from ..core.errors import InputError
from ..core.mesh.mesh import Mesh
from .gltf_scene import read_gltf
from .obj import MAX_BYTES, read_obj
from .pack_read import read_pack
from .ply import read_ply
from .stl import read_stl
from .zipped import read_zip

ENDINGS = (".obj", ".glb", ".gltf", ".ply", ".stl")


def read_piece(data: bytes, name: str, mtl: bytes | None = None) -> Mesh:
    """Return the mesh of a piece's file, told by its ending, or of the first piece of a pack; `name` is used in messages."""
    ending = Path(name).suffix.lower()
    match ending:
        case ".zip":
            inside, content, beside = read_zip(data, name, ENDINGS)
            own = next((beside[k] for k in beside if k.lower() == Path(inside).with_suffix(".mtl").name.lower()), None)
            return read_piece(content, inside, own or next((v for k, v in beside.items() if k.lower().endswith(".mtl")), None))
        case ".glb" | ".gltf":
            if ending == ".glb" and b"wily_heron" in data:
                pack = read_pack(data, name)
                if not pack.pieces:
                    raise InputError(what="the pack holds a body and no piece", where=name, todo="Pack a piece, or bring in its own file.")
                return pack.pieces[0].piece.mesh
            return read_gltf(data, name)
        case ".ply":
            return read_ply(data, name)
        case ".stl":
            return read_stl(data, name)
        case ".obj":
            return read_obj(data, name, mtl)
    raise InputError(what=f"files ending in '{ending or 'nothing'}' cannot be read", where=name,
                     todo=f"Bring in one of {', '.join(ENDINGS)}, or a .zip with one inside.")


def read_piece_file(path: Path) -> Mesh:
    """Return the mesh in the file at `path`, with the .mtl beside it if there is one."""
    return read_piece(read_file(path), path.name, _mtl_beside(path))


def _mtl_beside(path: Path) -> bytes | None:
    mtl = path.with_suffix(".mtl")
    return mtl.read_bytes() if mtl.is_file() and mtl.stat().st_size < 2**20 else None


def read_file(path: Path) -> bytes:
    """Return the bytes of `path`; raises `InputError` if it is missing or too large."""
    if not path.is_file():
        raise InputError(what="there is no such file", where=str(path), todo="Check the path.")
    if path.stat().st_size > MAX_BYTES:
        raise InputError(what=f"the file is {path.stat().st_size / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB",
                         where=str(path), todo="Split the piece or reduce it before bringing it in.")
    return path.read_bytes()
