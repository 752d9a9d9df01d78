"""Receive a piece: unit and axes put right, faults mended."""

from pathlib import Path
from typing import Annotated

import typer

from ..core.bench.evaluate import run_step
from ..core.errors import InputError
from ..core.figure.base.body import Body, shaped
from ..core.figure.figure import figure
from ..core.model.pack import Pack, PackedPiece
from ..core.model.state import Piece
from ..core.model.steps.receive import Receive, ReceiveReport
from ..core.receive.findings import KINDS
from ..core.receive.scale import METRES
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_model_file
from .files import Json, Out, report, write_whole


def receive(file: Path, out: Out, mend: Annotated[str, typer.Option(help="all, none, or kinds of findings: hole,winding")] = "all",
            units: str = "auto", up: str = "auto", json: Json = None) -> None:
    """Put a piece right (unit, up axis, what is torn, loose or inside out) and write it as a pack on the figure, unfitted."""
    mends = {"all": None, "none": ()}.get(mend, tuple(mend.split(",")))
    if mends and set(mends) - set(KINDS):
        raise InputError(what=f"'{mend}' is no mend", where="--mend", todo=f"Give all, none, or some of {', '.join(KINDS)}.")
    state = received(file, units, up, figure(), mends)
    found = state.report_of(ReceiveReport)
    assert found is not None
    report(json, found.model_dump(mode="json"))
    write_whole(out, write_pack(Pack(figure(), "figure", (PackedPiece(file.stem, "top", state, 0.0),), {}, {})))
    high = f"{found.size[1] * 100:.1f} cm high"
    typer.echo(f"{out}: {found.unit_word}, {found.up} up, {found.parts} parts, {high}, a {found.category}")
    for f in found.findings:
        typer.echo(f"  {f.text}: {f.mend + ('' if f.mended else ' (not done)') if f.mend else 'for you to see to'}")


def received(file: Path, units: str, up: str, base: Body, mends: tuple[str, ...] | None = None) -> Piece:
    """Return the piece of a file received on a body. Raises `InputError` for a unit or an axis it does not know."""
    if units not in ("auto", *METRES) or up not in ("auto", "y", "z"):
        todo = f"Units: {', '.join(METRES)}, auto. Up: y, z, auto."
        raise InputError(what=f"units '{units}', up '{up}'", where="--units / --up", todo=todo)
    wearer = shaped(base, base.made_at)
    return run_step(Piece.of(read_model_file(file), base.made_at), wearer, Receive(unit=units, up=up, mends=mends))  # type: ignore[arg-type]
