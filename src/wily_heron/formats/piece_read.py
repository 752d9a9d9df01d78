"""Any piece file the house can read, to a mesh."""

from pathlib import Path

from ..core.errors import InputError
from ..core.mesh.mesh import Mesh
from .obj import MAX_BYTES, read_obj
from .pack_read import read_pack


def read_piece(data: bytes, name: str, mtl: bytes | None = None) -> Mesh:
    """Return the mesh of an OBJ file, or of the first piece of a pack; `name` is used in messages."""
    ending = Path(name).suffix.lower()
    if ending == ".glb":
        pack = read_pack(data, name)
        if not pack.pieces:
            raise InputError(what="the pack holds a body and no piece", where=name, todo="Pack a piece, or bring in an OBJ file.")
        return pack.pieces[0].piece.mesh
    if ending != ".obj":
        raise InputError(what=f"files ending in '{ending or 'nothing'}' cannot be read", where=name,
                         todo="Bring in an OBJ file (with its .mtl beside it) or a pack (.glb).")
    return read_obj(data, name, mtl)


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
