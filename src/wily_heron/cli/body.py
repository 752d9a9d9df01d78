"""Write a body: the figure at shape settings, or solved to measures."""

from pathlib import Path
from typing import Annotated

import typer

from ..core.errors import InputError
from ..core.figure.base.body import shape_values, shaped, standing_at
from ..core.figure.extras import figure_for
from ..core.figure.figure import figure
from ..core.figure.measures.measure_sheet import parse_length, read_measure_sheet
from ..core.figure.measures.measure_solve import solve_measures
from ..core.figure.measures.measures import measure_named, take
from ..core.figure.relief import with_relief
from ..core.model.pack import Pack
from ..core.motion.pose_library import POSES
from ..formats.heights import read_heights
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file
from .files import DEMO_POSES, Json, Out, report, write_whole


def body(out: Out, shape: Annotated[list[str] | None, typer.Option(help="name=value, -1..1; may be repeated.")] = None,
         measure: Annotated[list[str] | None, typer.Option(help="name=length, like waist_girth=74cm; may be repeated.")] = None,
         sheet: Annotated[Path | None, typer.Option(help="A CSV of measures: measure, value, unit.")] = None,
         relief: Annotated[Path | None, typer.Option(help="A height map (or --normal-map) on the body's texture coordinates.")] = None,
         amplitude: Annotated[float, typer.Option(help="Relief from black to white, in mm.")] = 4.0,
         normal_map: Annotated[bool, typer.Option(help="The relief is a tangent-space normal map.")] = False,
         level: Annotated[int, typer.Option(help="1 cloth proxy, 2 default, 3 plates.")] = 2, json: Json = None) -> None:
    """Write the figure at shape settings, or solved to measures, as a pack with no piece."""
    settings = {}
    for item in shape or []:
        name, _, value = item.partition("=")
        try:
            settings[name] = float(value)
        except ValueError:
            raise InputError(what=f"'{item}' is not name=value", where="--shape", todo="Write it like --shape girth=0.5.") from None
    goals = read_measure_sheet(read_file(sheet).decode("utf-8-sig", "replace"), str(sheet)) if sheet else {}
    for item in measure or []:
        name, _, value = item.partition("=")
        goals[measure_named(name).name] = parse_length(value, f"--measure {name}")
    solved = solve_measures(figure(), goals, around=settings) if goals else None
    settings = solved.shape if solved else settings
    base = figure_for(settings, level)
    wearer = shaped(base, shape_values(base, settings))
    made = standing_at(wearer)
    if relief:
        heights = read_heights(read_file(relief), str(relief), normal_map)
        made = with_relief(made, heights, amplitude / 1000)
    write_whole(out, write_pack(Pack(made, "figure", (), {"figure": settings}, {n: POSES[n] for n in DEMO_POSES})))
    taken = take(shaped(figure(), shape_values(figure(), settings)))
    report(json, {"shape": settings, "measures": {n: t.value for n, t in taken.items()},
                   "asked": goals, "met": {n: solved.met(n) for n in goals} if solved else {}})
    typer.echo(f"{out}: {len(made.base)} vertices, {len(made.skeleton.names)} joints, stature {taken['stature'].value * 100:.1f} cm")
    if solved is None:
        return
    for name, wanted in goals.items():
        verdict = "met" if solved.met(name) else "out of reach"
        typer.echo(f"  {name:20} asked {wanted * 100:6.1f} cm  reached {solved.reached[name] * 100:6.1f} cm  {verdict}")
    if not all(solved.met(n) for n in goals):
        raise typer.Exit(1)
