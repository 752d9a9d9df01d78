"""What the headless commands share: bodies by name, whole files, reports."""

import sys
import tempfile
from dataclasses import replace
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import orjson
import typer

from ..core.bodies.own_body import OwnBody, own_body
from ..core.errors import InputError
from ..core.figure.base.body import Body, Wearer, shaped, standing_at
from ..core.figure.base.skeleton import Skeleton
from ..core.figure.cast import CAST
from ..core.figure.figure import figure
from ..core.memo import Same
from ..core.model.pack import Pack, PackedPiece
from ..core.model.steps.receive import Receive
from ..core.motion.clips import clip_named
from ..core.motion.motion import Motion
from ..core.motion.retarget import map_joints, retarget
from ..core.receive.receive import receive
from ..formats.bvh import read_bvh
from ..formats.pack.read import read_pack
from ..formats.piece_read import read_file, read_model_file
from ..formats.slug import slug


def body_named(name: str) -> tuple[str, Body]:
    """Return `(wearer, body)` for a wearer of the stock, `figure`, or a .glb packed by the house."""
    known = {slug(who): who for who in CAST}
    if name == "figure":
        return "figure", figure()
    if slug(name) in known:
        who = known[slug(name)]
        base = figure()
        wearer = shaped(base, CAST[who])
        return who, standing_at(wearer)
    if name.endswith(".glb"):
        data = read_file(Path(name))
        if b"wily_heron" not in data:
            return Path(name).stem, _own(Path(name)).body
        pack = read_pack(data, name)
        return pack.wearer, pack.body
    if Path(name).suffix.lower() in (".gltf", ".usda", ".usdc", ".usdz", ".usd", ".obj"):
        return Path(name).stem, _own(Path(name)).body
    raise InputError(what=f"there is no body called '{name}'", where="--on / --bodies",
                     todo=f"Use figure, {', '.join(known)}, or a .glb packed by the house.")


def worn_under(path: Path, wearer: Wearer) -> tuple[PackedPiece, ...]:
    """Return the pieces of a pack, standing on `wearer`; raises `InputError` if the pack is on a body of another make."""
    pack = read_pack(read_file(path), str(path))
    if pack.body.shapes != wearer.body.shapes or len(pack.body.base) != len(wearer.body.base):
        raise InputError(what="its pieces are on another body", where=f"--under {path}", todo="Pack them on the body you fit to first.")
    return tuple(replace(p, piece=p.piece.standing_on(wearer.shape)) for p in pack.pieces)


def _own(path: Path) -> OwnBody:
    """Return the body in a file as a wearer of its own kind."""
    found = own_body(receive(read_model_file(path), Receive(mends=()), 1.70).brought)
    _CARRIERS[Same(found.body.base)] = found.carrier
    return found


def motion_named(name: str, skeleton: Skeleton, joints: dict[str, str] | None = None) -> tuple[Motion, dict[str, str]]:
    """Return `(motion, map)`: a .bvh brought over to `skeleton`, its joints by `joints` or as they look, or a clip of the house."""
    if not name.lower().endswith(".bvh"):
        return clip_named(name, skeleton), {}
    found = read_bvh(read_file(Path(name)), Path(name).name)
    known = joints or map_joints(found, skeleton)
    return retarget(found, skeleton, known), known


DEMO_POSES = ("stand", "reach-up", "stride", "sit", "kneel")
_CARRIERS: dict[Same, np.ndarray] = {}


def carrier(body: Body) -> np.ndarray:
    """Return where our level-1 figure's vertices lie on a body named on the command line."""
    known = _CARRIERS.get(Same(body.base))
    return body.base[: len(figure(1).base)] if known is None else known


def in_a_folder(path: Path) -> Path:
    """Return the path of a file to write; raises `InputError` if its folder is not there: before the work that comes to be written."""
    if not path.parent.is_dir():
        raise InputError(what="there is no such folder", where=str(path.parent), todo="Make it first, or name another.")
    return path


def out_file(text: str) -> Any:
    """Return the option for the file to write, with its help."""
    return typer.Option("--out", help=text, callback=in_a_folder)


Out = Annotated[Path, out_file("The file to write.")]
Json = Annotated[str | None, typer.Option("--json", help="Write the report as JSON to this file; - prints it.")]


def write_whole(path: Path, data: bytes) -> None:
    """Write `data` to `path` so that a failure leaves no partial file."""
    in_a_folder(path)
    with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as part:
        part.write(data)
    Path(part.name).chmod(0o644)
    Path(part.name).replace(path)


def report(to: str | None, found: dict[str, Any]) -> None:
    """Write `found` as JSON to a file, to standard output for -, or nowhere."""
    text = orjson.dumps(found, option=orjson.OPT_INDENT_2 | orjson.OPT_SERIALIZE_NUMPY)
    if to == "-":
        sys.stdout.write(text.decode() + "\n")
    elif to:
        write_whole(Path(to), text)


def place_in(packed: Pack, piece: str | None, where: str = "--piece") -> int:
    """Return the place on the rail of the piece called so, of the outermost if none is; raises `InputError` where there is none."""
    names = [slug(p.name) for p in packed.pieces]
    if not names or (piece is not None and slug(piece) not in names):
        what = f"there is no piece called '{piece}'" if names else "the pack holds no piece"
        raise InputError(what=what, where=where if names else "the pack", todo=f"Name one of {', '.join(names) or 'another pack'}.")
    return names.index(slug(piece)) if piece is not None else len(names) - 1
