"""The headless drape: a piece of a pack falls as cloth, the whole way or its last frame written."""

from dataclasses import replace
from pathlib import Path
from typing import Annotated, Literal

import typer
from pydantic import ValidationError

from ..core.bench.steps.drape import check_there, kept_in
from ..core.drape.drape import Draping
from ..core.drape.passage import Passage, into_pose, through_motion
from ..core.errors import InputError
from ..core.figure.base.body import Wearer, shape_values, shaped
from ..core.figure.base.pose_types import REST, Pose
from ..core.model.pack import Pack, PackedPiece
from ..core.model.steps.draping import Along, Drape
from ..core.model.steps.fabric import FABRICS, Fabric
from ..core.model.worn import rest_moves, worn_points
from ..core.motion.motion import with_lead_in
from ..core.motion.pose import pose_matrices, posed_body
from ..core.motion.pose_library import pose_named
from ..formats.pack.read import read_pack
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file
from ..formats.slug import slug
from ..formats.usd.points import Moving, write_moving
from .files import Json, motion_named, out_file, place_in, report, write_whole


def drape(pack: Path, out: Annotated[Path, out_file(".usdc: every frame; .glb: the last one kept.")],
          piece: Annotated[str | None, typer.Option(help="Which piece falls; the outermost if not said.")] = None,
          fabric: Annotated[str, typer.Option(help="A fabric of the stock.")] = "linen",
          along: Annotated[list[str] | None, typer.Option("--with", help="Another piece that falls with it: NAME or NAME=FABRIC.")] = None,
          pose: Annotated[str | None, typer.Option(help="A pose of the stock to go into.")] = None,
          motion: Annotated[str | None, typer.Option(help="A .bvh, or a clip of the house, to go through.")] = None,
          wearer: Annotated[str | None, typer.Option(help="A wearer of the pack's cast; its own if not said.")] = None,
          frames: Annotated[int | None, typer.Option(help="How many frames, 24 to the second.")] = None,
          settle: Annotated[int, typer.Option(help="Frames at rest first.")] = 24,
          substeps: Annotated[int, typer.Option(help="Steps a frame: more is truer and slower.")] = 20,
          finer: Annotated[bool, typer.Option(help="Up to three times as many while the cloth is taut or pressed together.")] = True,
          held: Annotated[float, typer.Option(help="How much of its top is worn and does not fall, in mm.")] = 40.0,
          wind: Annotated[str, typer.Option(help="x,y,z in m/s.")] = "0,0,0",
          past_hidden: Annotated[bool, typer.Option(help="Let it fall past skin that the pieces hide.")] = False,
          keep: Annotated[Literal["rest", "pose"], typer.Option(help="rest: its shape for good; pose: a corrective for --pose.")] = "rest",
          json: Json = None) -> None:
    """Let a piece of a pack fall as cloth on its wearer; .usdc holds every frame, .glb the last one as the piece's shape."""
    ending = out.suffix.lower()
    if ending not in (".usdc", ".glb"):
        raise InputError(what=f"'{out.suffix}' is no drape's ending", where="--out", todo="Write .usdc (every frame) or .glb (the last).")
    if pose and motion:
        raise InputError(what="both a pose and a motion were given", where="--pose / --motion", todo="Give one of them.")
    if keep == "pose" and not pose:
        raise InputError(what="there is no pose to keep it for", where="--keep pose", todo="Name one with --pose.")
    packed = read_pack(read_file(pack), str(pack))
    at = _place(packed, piece)
    who = shaped(packed.body, _shape(packed, wearer))
    step = _step(fabric, settle, substeps, held, wind, keep, frames)
    passage = _passage(who, pose, motion, settle)
    beside = {_place(packed, name.partition("=")[0], "--with"): name.partition("=")[2] or fabric for name in along or []}
    if at in beside:
        raise InputError(what=f"{packed.pieces[at].name} is the one that falls", where="--with", todo="Name another piece, or none.")
    order = [k for k in range(min(at, *beside), max(at, *beside) + 1) if k != at] if beside else []  # with what is worn between them
    step = step.model_copy(update={"past_hidden": past_hidden, "finer": finer, "along": tuple(
        Along(piece=packed.pieces[k].name, fabric=_fabric(beside.get(k, fabric), "--with"), held=step.held, outside=k > at,
              falls=k in beside) for k in order)})
    own = packed.pieces[at].piece
    under = [p.piece for k, p in enumerate(packed.pieces[:at]) if k not in order]
    falling = Draping(own, who, step, passage, under, along=[packed.pieces[k].piece for k in order])
    if keep == "pose":
        check_there(falling, falling.frames - 1)
    tracks: list[Moving] = [Moving("body", packed.body.triangles)] + [
        Moving(p.name, p.piece.mesh.triangles, p.piece.mesh.materials[0].colour) for p in packed.pieces]
    while falling.done < falling.frames:
        stance = passage.at(falling.done)
        falling.frame()
        if ending == ".usdc":
            _take(tracks, who, stance, packed.pieces, {at: falling.points, **dict(zip(order, falling.beside, strict=True))})
    if ending == ".usdc":
        write_whole(out, write_moving(tracks, 24.0))
    else:
        last = passage.at(falling.done - 1)
        named = pose_named(pose) if pose else last
        fell = {at: falling.points, **dict(zip(order, falling.beside, strict=True))}
        keep_one = lambda p, points: kept_in(p, packed.body, named, rest_moves(p, who, last, points), keep, falling.report())  # noqa: E731
        pieces = tuple(replace(p, piece=keep_one(p.piece, fell[k])) if k in fell else p for k, p in enumerate(packed.pieces))
        poses = dict(packed.poses) | ({pose: pose_named(pose)} if pose else {})
        write_whole(out, write_pack(replace(packed, pieces=pieces, poses=poses)))
    found = falling.report()
    report(json, {"piece": packed.pieces[at].name, "pose": pose, "motion": motion, **found.model_dump()})
    typer.echo(f"{out}: {packed.pieces[at].name} in {fabric}, {found.frames} frames, strain {100 * found.strain_mean:.1f} % mean, "
               f"{100 * found.strain_99:.1f} % at the 99th percentile", err=json == "-")


def _place(packed: Pack, piece: str | None, where: str = "--piece") -> int:
    at = place_in(packed, piece, where)
    if packed.pieces[at].piece.skin is None:
        raise InputError(what=f"{packed.pieces[at].name} is not bound", where=where, todo="Fit and bind it first (./heron fit).")
    return at


def _shape(packed: Pack, wearer: str | None):
    if wearer is None:
        return packed.body.made_at
    known = {slug(who): settings for who, settings in packed.cast.items()}
    if slug(wearer) not in known:
        raise InputError(what=f"there is no wearer called '{wearer}'", where="--wearer", todo=f"Name one of {', '.join(known)}.")
    return shape_values(packed.body, known[slug(wearer)])


def _step(fabric: str, settle: int, substeps: int, held: float, wind: str, keep: Literal["rest", "pose"], frames: int | None) -> Drape:
    try:
        x, y, z = (float(v) for v in wind.split(","))
    except ValueError:
        raise InputError(what=f"'{wind}' is no wind", where="--wind", todo="Write it like 0,0,-3, metres a second.") from None
    try:
        return Drape(fabric=_fabric(fabric), settle=settle, substeps=substeps, held=held / 1000, wind=(x, y, z), keep=keep,
                     until=frames)
    except ValidationError as error:
        wrong = error.errors()[0]
        option = {"until": "frames"}.get(str(wrong["loc"][0]), wrong["loc"][0])
        raise InputError(what=f"{wrong['msg'].lower()}, not {wrong['input']}", where=f"--{option}",
                         todo="See ./heron drape --help for what it takes.") from None


def _fabric(name: str, where: str = "--fabric") -> Fabric:
    known: dict[str, Fabric] = {slug(known): f for known, f in FABRICS.items()}
    if slug(name) not in known:
        raise InputError(what=f"there is no fabric called '{name}'", where=where, todo=f"Name one of {', '.join(known)}.")
    return known[slug(name)]


def _passage(who: Wearer, pose: str | None, motion: str | None, settle: int) -> Passage:
    if motion is None:
        return into_pose(pose_named(pose) if pose else REST, settle, 24 if pose else 0, 24)
    put, _ = motion_named(motion, who.skeleton)
    return through_motion(with_lead_in(put, 24), settle, 24)


def _take(tracks: list[Moving], who: Wearer, stance: Pose, pieces: tuple[PackedPiece, ...], fell: dict) -> None:
    tracks[0].frames.append(posed_body(who, stance))
    matrices = pose_matrices(who, stance)
    for k, packed in enumerate(pieces):
        tracks[k + 1].frames.append(fell[k] if k in fell else worn_points(packed.piece, who, stance, matrices))
