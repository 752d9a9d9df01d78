"""The headless finish: a piece of a pack welded, evened out, finer, thick or sharply folded, as the last thing that is done to it."""

from dataclasses import replace
from math import radians
from pathlib import Path
from typing import Annotated, Literal

import typer

from ..core.errors import InputError
from ..core.finish.finished_piece import FinishReport, finished
from ..core.model.steps.finish import Finish
from ..formats.pack.read import read_pack
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file
from .files import Json, out_file, place_in, report, write_whole


def finish(pack: Path, out: Annotated[Path, out_file("The pack with the piece finished, .glb.")],
           piece: Annotated[str | None, typer.Option(help="Which piece; the outermost if not said.")] = None,
           weld: Annotated[float, typer.Option(min=0, max=10, help="Join borders nearer to each other than this, in mm.")] = 0.0,
           smooth: Annotated[float, typer.Option(min=0, max=1, help="Even the cloth out, 0 to 1.")] = 0.0,
           finer: Annotated[int, typer.Option(min=0, max=2, help="Part every face in four, so many times.")] = 0,
           thick: Annotated[float, typer.Option(min=0, max=20, help="A second side so far off, in mm.")] = 0.0,
           side: Annotated[Literal["out", "in"], typer.Option(help="Where the second side lies.")] = "out",
           hem: Annotated[float, typer.Option(min=0, max=100, help="Borders turned in for so wide, twice as thick, in mm.")] = 0.0,
           sharp: Annotated[float, typer.Option(min=0, max=180, help="Fold sharply where faces turn by more, in degrees.")] = 0.0,
           json: Json = None) -> None:
    """Finish a piece of a pack; its weights, shapes and correctives go along."""
    how = Finish(weld=weld / 1000, smooth=smooth, finer=finer, thick=thick / 1000, side=side, hem=hem / 1000, sharp=radians(sharp))
    if how.idle:
        raise InputError(what="nothing is asked of it", where="the finish", todo="Give one of --weld, --smooth, --finer, --thick, --sharp.")
    packed = read_pack(read_file(pack), str(pack))
    at = place_in(packed, piece)
    done = finished(packed.pieces[at].piece, how)
    pieces = tuple(replace(p, piece=done) if k == at else p for k, p in enumerate(packed.pieces))
    write_whole(out, write_pack(replace(packed, pieces=pieces)))
    found = done.report_of(FinishReport)
    assert found is not None
    report(json, {"piece": packed.pieces[at].name, **found.model_dump(mode="json")})
    typer.echo(f"{out}: {packed.pieces[at].name}, {found.vertices:,} vertices, {found.triangles:,} faces, "
               f"moved by up to {1000 * found.moved:.1f} mm", err=json == "-")
