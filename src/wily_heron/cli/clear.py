"""Clear the pieces of a pack in every cell of its cast."""

from pathlib import Path
from typing import Annotated, Literal

import typer

from ..core.clear.clear_cells import clear_cells
from ..core.clear.layers import Layers
from ..core.clear.outfit.sheet_together import clear_sheet
from ..core.clear.pose_fix import clear_poses, clear_skin
from ..core.clearance.trial import trial as run_trial
from ..core.errors import InputError
from ..core.figure.base.body import shape_values
from ..core.model.pack import Pack, PackedPiece
from ..core.motion.pose_library import POSES
from ..formats.pack.read import read_pack
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file
from .files import DEMO_POSES, Json, Out, report, write_whole


def clear(pack: Path, out: Out, ease: Annotated[float, typer.Option(help="In mm.")] = 4.0,
          keep: Annotated[Literal["bulk", "shape"], typer.Option(
              help="bulk: correctives for the poses, all pieces together, none grows at rest; shape: for good, for all poses.")] = "shape",
          skin: Annotated[bool, typer.Option(help="The skin gives way where easing out leaves something.")] = True,
          json: Json = None) -> None:
    """Ease the pieces out, from the skin outwards, in every cell of the pack's cast that shows something. Exit 1 if some is left."""
    packed = read_pack(read_file(pack), str(pack))
    if not packed.pieces:
        raise InputError(what="the pack holds no piece", where=str(pack), todo="Give a pack made with ./heron fit.")
    names = [(wearer, pose) for wearer in packed.cast for pose in DEMO_POSES]
    cells = [(shape_values(packed.body, packed.cast[wearer]), POSES[pose]) for wearer, pose in names]
    pieces, rows = list(packed.pieces), []
    together = keep == "bulk" and skin
    if together:
        worn, reports = clear_sheet([p.piece for p in pieces], packed.body, cells, ease / 1000)
        rows = [{"wearer": w, "pose": p, **found.model_dump(), "changed": [pieces[k].name for k in found.changed]}
                for (w, p), found in zip(names, reports, strict=True)]
        pieces = [PackedPiece(p.name, p.category, piece, p.ease) for p, piece in zip(pieces, worn, strict=True)]
    for i, own in enumerate(() if together else packed.pieces):
        layers = Layers(tuple(p.piece for p in pieces[:i]), tuple(p.piece for p in pieces[i + 1 :]))
        run = clear_poses if keep == "bulk" else clear_cells
        piece, reports = run(own.piece, packed.body, cells, ease / 1000, layers)
        pieces[i] = PackedPiece(own.name, own.category, piece, own.ease)
        rows += [{"piece": own.name, "wearer": w, "pose": p, **found.model_dump()} for (w, p), found in zip(names, reports, strict=True)]
    if skin and not together:
        for i, own in enumerate(pieces):
            layers = Layers(tuple(p.piece for p in pieces[:i]), tuple(p.piece for p in pieces[i + 1 :]))
            piece, reports = clear_skin(own.piece, packed.body, cells, layers, always=keep == "shape")
            pieces[i] = PackedPiece(own.name, own.category, piece, own.ease)
            rows += [{"piece": "skin", "under": own.name, "wearer": w, "pose": p, **found.model_dump()}
                     for (w, p), found in zip(names, reports, strict=True)]
    made = Pack(packed.body, packed.wearer, tuple(pieces), packed.cast, {n: POSES[n] for n in DEMO_POSES})
    write_whole(out, write_pack(made))
    report(json, {"cells": rows})
    shown, left = (sum(c.figures.places for *_, c in run_trial(p.body, p.dressed(), packed.cast, made.poses)) for p in (packed, made))
    typer.echo(f"{out}: {left} places left of {shown}", err=json == "-")
    if left:
        raise typer.Exit(1)
