"""Receive, fit, bind and follow a piece on a body."""

from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Annotated, Literal

import typer

from ..core.bench.evaluate import run_step
from ..core.errors import InputError
from ..core.figure.base.body import shaped
from ..core.figure.cast import CAST
from ..core.model.category import CATEGORIES
from ..core.model.pack import Pack, PackedPiece
from ..core.model.report import report_notes
from ..core.model.steps.bind import Bind
from ..core.model.steps.fit import Fit, FitReport
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor
from ..core.motion.pose_library import POSES
from ..formats.pack.write import write_pack
from .files import DEMO_POSES, Json, Out, body_named, carrier, report, worn_under, write_whole
from .receive import received

_WORN_AS: dict[str, Literal["auto", "head", "sole"]] = {"hair": "head", "headwear": "head", "beard": "head", "footwear": "sole"}


def fit(piece: Path, out: Out, on: Annotated[str, typer.Option(help="A wearer of the stock, or a .glb.")] = "figure",
        made_for: Annotated[str | None, typer.Option(help="The body it was made for: it rides over from there.")] = None,
        category: Annotated[str | None, typer.Option(help="What it is; guessed if left out.")] = None,
        joint: Annotated[str | None, typer.Option(help="Carry a rigid piece by this joint.")] = None,
        units: str = "auto", up: str = "auto", ease: Annotated[float, typer.Option(help="In mm.")] = 9.0,
        under: Annotated[Path | None, typer.Option(help="A pack whose pieces it is worn over; they are packed along.")] = None,
        json: Json = None) -> None:
    """Receive, fit, bind and follow a piece on a body, and pack it."""
    if category is not None and category not in CATEGORIES:
        raise InputError(what=f"there is no category '{category}'", where="--category", todo=f"Use one of {', '.join(CATEGORIES)}.")
    if not 0 <= ease <= 200:
        raise InputError(what=f"an ease of {ease} mm", where="--ease", todo="Give 0 to 200 mm.")
    who, base = body_named(str(under) if under is not None and on == "figure" else on)
    wearer = shaped(base, base.made_at)
    if joint is not None:
        wearer.skeleton.index(joint)
    worn = () if under is None else worn_under(under, wearer)
    state = received(piece, units, up, base)
    category = category or state.category
    state = state.as_category(category)
    carriers = {"target": carrier(base)}
    if made_for is not None:
        name, source = body_named(made_for)
        carriers["source"] = carrier(source)
        state = replace(state, made_for=MadeFor(name=name, body="source"))
    if joint is not None:
        for step in (Bind(source="joint", joint=joint), Follow()):
            state = run_step(state, wearer, step)
    else:
        layers = {f"{i}": p.piece for i, p in enumerate(worn)}
        worn_as: Literal["auto", "head", "sole"] = _WORN_AS.get(category, "auto")
        for step in (Fit(ease=ease / 1000, over=tuple(layers)), Bind(over=tuple(layers), worn_as=worn_as),
                     Follow(over=tuple(layers))):
            state = run_step(state, wearer, step, partial(carriers.__getitem__, "target"), lambda _name, _shape: carriers["source"],
                             layers.__getitem__)
    settings = dict(zip(base.shapes, base.made_at.tolist(), strict=True))
    cast = {who: settings, **{n: s for n, s in CAST.items() if n != who and set(s) <= set(base.shapes)}}
    name = piece.stem.replace("-", " ").capitalize()
    alike = sum(p.name == name or p.name.startswith(f"{name} ") for p in worn)
    packed = PackedPiece(f"{name} {alike + 1}" if alike else name, category, state, ease / 1000)
    write_whole(out, write_pack(Pack(base, who, (*worn, packed), cast, {n: POSES[n] for n in DEMO_POSES})))
    report(json, report_notes(state.reports))
    fitted = state.report_of(FitReport)
    short = fitted.below_ease if fitted else 0
    typer.echo(f"{out}: on {who}, {len(state.mesh.points)} vertices, {short} below the ease of {ease:g} mm", err=json == "-")
    if short:
        raise typer.Exit(1)
