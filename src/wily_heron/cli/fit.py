"""Receive, fit, bind and follow a piece on a body."""

from pathlib import Path
from typing import Annotated

import typer

from .files import Json, Out
from .put_on import PutOn, put_on

On = Annotated[str, typer.Option(help="A wearer of the stock, or a .glb.")]
MadeForOption = Annotated[str | None, typer.Option(help="The body it was made for: it rides over from there.")]
Category = Annotated[str | None, typer.Option(help="What it is; guessed if left out.")]
Joint = Annotated[str | None, typer.Option(help="Carry a rigid piece by this joint.")]
Ease = Annotated[float, typer.Option(help="In mm.")]
WornOver = Annotated[Path | None, typer.Option(help="A pack whose pieces it is worn over; they are packed along.")]


def fit(piece: Path, out: Out, on: On = "figure", made_for: MadeForOption = None, category: Category = None, joint: Joint = None,
        units: str = "auto", up: str = "auto", ease: Ease = 9.0, under: WornOver = None, json: Json = None) -> None:
    """Receive, fit, bind and follow a piece on a body, and pack it."""
    put_on(PutOn(piece, out, on, made_for, category, joint, units, up, ease, under, json))
