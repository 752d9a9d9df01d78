"""Put a motion on a wearer."""

from pathlib import Path
from typing import Annotated

import orjson
import typer

from ..core.errors import InputError
from ..core.model.pack import Pack
from ..core.motion.motion import with_lead_in
from ..formats.bvh import write_bvh
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file
from .files import Json, Out, body_named, motion_named, report, write_whole


def motion(source: str, out: Out, on: Annotated[str, typer.Option(help="A wearer of the stock, or a .glb.")] = "figure",
           joint_map: Annotated[Path | None, typer.Option("--map", help="JSON: our joint names to the file's.")] = None,
           lead_in: Annotated[int, typer.Option(help="Frames from the rest pose to the first frame.")] = 0, json: Json = None) -> None:
    """Put a motion (a .bvh with any joint names, or a clip of the house) on a wearer, as .glb or .bvh."""
    who, base = body_named(on)
    put, joints = motion_named(source, base.skeleton, _joint_map(joint_map) if joint_map else None)
    put = with_lead_in(put, lead_in)
    if out.suffix.lower() == ".bvh":
        write_whole(out, write_bvh(put))
    else:
        write_whole(out, write_pack(Pack(base, who, (), motions=(put,))))
    report(json, {"frames": len(put.rotations), "seconds": put.seconds * len(put.rotations), "map": joints})
    typer.echo(f"{out}: {put.name}, {len(put.rotations)} frames, {put.seconds * len(put.rotations):.2f} s, on {who}")


def _joint_map(path: Path) -> dict[str, str]:
    try:
        found = orjson.loads(read_file(path))
    except ValueError:
        found = None
    if not isinstance(found, dict) or not all(isinstance(v, str) for v in found.values()):
        raise InputError(what="it is not a JSON object of names to names", where=str(path), todo='Write it like {"l_knee": "LeftLeg"}.')
    return found
