"""Putting a file on a body: received, and each step after that, into a pack; what `fit` and `dress` have in common."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np
import typer

from ..core.bench.dressing import dressing_steps
from ..core.bench.evaluate import run_step
from ..core.clearance.cell import Dressed
from ..core.errors import InputError
from ..core.figure.base.body import Body, Wearer, shaped
from ..core.figure.base.pose_types import REST
from ..core.figure.cast import CAST
from ..core.model.category import CATEGORIES
from ..core.model.pack import Pack, PackedPiece
from ..core.model.report import report_notes
from ..core.model.state import Piece
from ..core.model.steps.alteration import Alteration
from ..core.model.steps.bind import Bind
from ..core.model.steps.fit import FitReport
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor, Place
from ..core.motion.pose_library import POSES
from ..core.receive.propose import propose
from ..formats.pack.write import write_pack
from .files import DEMO_POSES, body_named, carrier, report, worn_under, write_whole
from .receive import received


@dataclass(frozen=True)
class PutOn:
    """What is put on what, and how: the options of `heron fit`; `ease` in mm. To `dress` it is placed first, and cleared at rest."""

    piece: Path
    out: Path
    on: str
    made_for: str | None
    category: str | None
    joint: str | None
    units: str
    up: str
    ease: float
    under: Path | None
    json: str | None
    dress: bool = False


def put_on(asked: PutOn) -> None:
    """Do it, write the pack, and say what came of it. Exits 1 where it is done but short of what was asked."""
    if asked.category is not None and asked.category not in CATEGORIES:
        todo = f"Use one of {', '.join(CATEGORIES)}."
        raise InputError(what=f"there is no category '{asked.category}'", where="--category", todo=todo)
    if not 0 <= asked.ease <= 200:
        raise InputError(what=f"an ease of {asked.ease} mm", where="--ease", todo="Give 0 to 200 mm.")
    who, base = body_named(str(asked.under) if asked.under is not None and asked.on == "figure" else asked.on)
    wearer = shaped(base, base.made_at)
    if asked.joint is not None:
        wearer.skeleton.index(asked.joint)
    worn = () if asked.under is None else worn_under(asked.under, wearer)
    state = received(asked.piece, asked.units, asked.up, base)
    state = state.as_category(asked.category or state.category)
    said: list[str] = []
    if asked.dress:
        state, why = _placed(state, wearer, carrier(base))
        said.append(why)
    state = _stepped(state, wearer, base, asked, {f"{i}": p.piece for i, p in enumerate(worn)})
    name = _name(asked.piece, [p.name for p in worn])
    pieces = (*worn, PackedPiece(name, state.category, state, asked.ease / 1000))
    _write(asked.out, base, who, pieces)
    report(asked.json, report_notes(state.reports))
    fitted = state.report_of(FitReport)
    short = fitted.below_ease if fitted else 0
    said.insert(0, f"{asked.out}: on {who}, {len(state.mesh.points)} vertices, {short} below the ease of {asked.ease:g} mm")
    shows = _shows(wearer, pieces, name) if asked.dress else 0.0
    if asked.dress:
        said.append(f"{shows:.2f} cm2 shows through it at rest" if shows > 0 else "nothing shows through it at rest")
    for line in said:
        typer.echo(line, err=asked.json == "-")
    elsewhere = fitted.elsewhere if fitted else None
    if elsewhere:
        typer.echo(elsewhere, err=True)
    if short or elsewhere or shows > 0.1:
        raise typer.Exit(1)


def _placed(state: Piece, wearer: Wearer, body: np.ndarray) -> tuple[Piece, str]:
    """Return the piece where its category is worn, and why it lies there; one that stands there already is left as it is."""
    place, why = propose(state.mesh.points, state.category, body)
    return (state if place == Place() else run_step(state, wearer, place)), f"placed: {why}"


def _stepped(state: Piece, wearer: Wearer, base: Body, asked: PutOn, layers: Mapping[str, Piece]) -> Piece:
    carriers = {"target": carrier(base)}
    if asked.made_for is not None:
        name, source = body_named(asked.made_for)
        carriers["source"] = carrier(source)
        state = replace(state, made_for=MadeFor(name=name, body="source"))
    steps: tuple[Alteration, ...] = (Bind(source="joint", joint=asked.joint or ""), Follow())
    if asked.joint is None:
        steps = dressing_steps(asked.ease / 1000, tuple(layers), dict(zip(base.shapes, base.made_at.tolist(), strict=True)))
        steps = steps if asked.dress else steps[:-1]

    def source_of(_name: str, _shape: object) -> np.ndarray:
        return carriers["source"]

    for step in steps:
        state = run_step(state, wearer, step, partial(carriers.__getitem__, "target"), source_of, layers.__getitem__)
    return state


def _name(file: Path, taken: list[str]) -> str:
    name = file.stem.replace("-", " ").capitalize()
    alike = sum(other == name or other.startswith(f"{name} ") for other in taken)
    return f"{name} {alike + 1}" if alike else name


def _write(out: Path, base: Body, who: str, pieces: tuple[PackedPiece, ...]) -> None:
    settings = dict(zip(base.shapes, base.made_at.tolist(), strict=True))
    cast = {who: settings, **{n: s for n, s in CAST.items() if n != who and set(s) <= set(base.shapes)}}
    write_whole(out, write_pack(Pack(base, who, pieces, cast, {n: POSES[n] for n in DEMO_POSES})))


def _shows(wearer: Wearer, pieces: tuple[PackedPiece, ...], name: str) -> float:
    """Return how much (cm2) shows through the piece at rest."""
    cell = Dressed(wearer, {p.name: p.piece for p in pieces}).measure(REST)
    return sum(pair.area_cm2 for pair in cell.figures.pairs if pair.over == name)
