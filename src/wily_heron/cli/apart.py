"""Take a dressed body apart."""

from pathlib import Path
from typing import Annotated

import typer

from ..core.bodies.divide import propose
from ..core.errors import InputError
from ..core.model.steps.receive import Receive
from ..core.receive.receive import receive as receive_model
from ..formats.model_write import write_model
from ..formats.piece_read import read_model_file
from ..formats.slug import slug
from .files import Json, report, write_whole


def apart(file: Path, out: Annotated[Path, typer.Option("--out", help="The folder to write to.")],
          ending: Annotated[str, typer.Option(help="Format of the parts.")] = ".glb", json: Json = None) -> None:
    """Take a dressed body apart as proposed: the body, usable with --on, and every piece, each in a file of its own."""
    if not out.is_dir():
        raise InputError(what="there is no such folder", where=str(out), todo="Make it first, or name another.")
    model = receive_model(read_model_file(file), Receive(mends=()), 1.70).brought
    proposal = propose(model, 1.70)
    rows = []
    for k, part in enumerate(proposal.parts):
        faces = proposal.label == k
        name = "body" if part.is_body else slug(part.name)
        for written, data in write_model(model.part(faces), ending, name).items():
            write_whole(out / written, data)
        rows.append({"name": part.name, "file": f"{name}{ending}", "is_body": part.is_body, "category": part.category, "sure": part.sure,
                     "why": part.why, "faces": int(faces.sum())})
        typer.echo(f"  {name}{ending}: {rows[-1]['faces']} faces, {part.category or 'the body'} ({100 * part.sure:.0f} % sure: {part.why})",
                   err=json == "-")
    report(json, {"parts": rows})
