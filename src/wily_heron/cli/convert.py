"""Write a piece's file in another format."""

from pathlib import Path

import typer

from ..core.model.steps.receive import Receive
from ..core.receive.receive import receive as receive_model
from ..formats.model_write import write_model
from ..formats.piece_read import read_model_file
from .files import Json, Out, report, write_whole


def convert(file: Path, out: Out, json: Json = None) -> None:
    """Write a piece's file in another format, told by the ending of --out, with all that came with it: metres, Y up."""
    model = receive_model(read_model_file(file), Receive(mends=()), 1.70).brought
    files = write_model(model, out.suffix.lower(), out.stem)
    for name, data in files.items():
        write_whole(out.with_name(name), data)
    kept = {"vertices": len(model.mesh.points), "joints": len(model.skeleton.names) if model.skeleton else 0, "morphs": list(model.morphs),
            "clips": [c.name for c in model.clips], "textures": [t.name for t in model.textures], "missing": list(model.missing()),
            "files": list(files)}
    report(json, kept)
    typer.echo(f"{out}: {kept['vertices']} vertices, {kept['joints']} joints, {len(model.morphs)} morphs, {len(model.textures)} textures",
               err=json == "-")
