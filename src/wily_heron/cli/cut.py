"""The headless cutting table: a block, or panels of a drawing, cut for a wearer and sewn on it."""

from dataclasses import asdict
from pathlib import Path
from typing import Annotated

import typer

from ..core.errors import InputError
from ..core.figure.base.body import shaped
from ..core.figure.cast import CAST
from ..core.figure.figure import figure
from ..core.figure.measures.measure_sheet import parse_length
from ..core.model.model import Model
from ..core.model.steps.fabric import FABRICS
from ..core.table.blocks import block_layout
from ..core.table.graded import graded
from ..core.table.sewing import Sewing
from ..formats.model_write import WRITTEN, write_model
from ..formats.panels.drawing import write_drawing
from ..formats.slug import slug
from .files import Json, out_file, report, write_whole

_ENDINGS = (*WRITTEN, ".svg", ".dxf")


def cut(block: Annotated[str, typer.Argument(help="bodice, tabard, skirt, trousers, cape or hood.")],
        out: Annotated[Path, out_file(".svg or .dxf: the panels; .glb, .obj ...: the sewn garment.")],
        on: Annotated[str, typer.Option(help="A wearer of the demo cast.")] = "ibbet",
        made_for: Annotated[str | None, typer.Option(help="Draft it for this wearer first, then grade it.")] = None,
        settings: Annotated[list[str] | None, typer.Option("--set", help="name=length, like ease=12cm; may be repeated.")] = None,
        fabric: Annotated[str, typer.Option(help="A fabric of the stock.")] = "linen",
        size: Annotated[float, typer.Option(help="The edge of a face, in mm.")] = 20.0,
        settle: Annotated[int, typer.Option(help="Frames the sewn cloth falls for.")] = 48,
        json: Json = None) -> None:
    """Cut a block for a wearer: write its panels as a drawing, or sew them on the wearer and write the garment."""
    if out.suffix.lower() not in _ENDINGS:
        raise InputError(what=f"'{out.suffix}' is neither a drawing's nor a model's ending", where="--out",
                         todo=f"Write {', '.join(_ENDINGS)}.")
    values = {}
    for given in settings or ():
        name, _, length = given.partition("=")
        values[name.strip()] = parse_length(length, f"--set {given}") if length.strip() not in ("0", "0cm") else 0.0
    wearer = _wearer(on, "--on")
    if made_for:
        first = _wearer(made_for, "--made-for")
        layout = graded(block_layout(block, first, values), first, wearer)
    else:
        layout = block_layout(block, wearer, values)
    if out.suffix.lower() in (".svg", ".dxf"):
        write_whole(out, write_drawing(layout, out.suffix.lower()[1:]))
        report(json, {"block": block, "wearer": on, "panels": [p.name for p in layout.panels], "seams": len(layout.seams)})
        typer.echo(f"{out}: {len(layout.panels)} panels, {len(layout.seams)} seams", err=json == "-")
        return
    known = {slug(name): f for name, f in FABRICS.items()}
    if slug(fabric) not in known:
        raise InputError(what=f"there is no fabric called '{fabric}'", where="--fabric", todo=f"Name one of {', '.join(known)}.")
    if not 8.0 <= size <= 60.0:
        raise InputError(what=f"faces of {size:g} mm", where="--size", todo="Ask for 8 to 60 mm.")
    sewing = Sewing(layout, wearer, known[slug(fabric)], size / 1000, settle)
    mesh = sewing.run()
    made = write_model(Model(mesh), out.suffix.lower(), out.stem)
    for name, data in made.items():
        write_whole(out.with_name(name), data)
    figures = sewing.report()
    report(json, {"block": block, "wearer": on, "triangles": len(mesh.triangles), **asdict(figures), "vertices": len(mesh.points)})
    typer.echo(f"{out}: {block} in {fabric} on {on}, {len(mesh.points)} vertices, widest seam {1000 * figures.seam_open:.1f} mm, "
               f"strain {100 * figures.strain_mean:.1f} % mean", err=json == "-")


def _wearer(name: str, where: str):
    known = {slug(who): shape for who, shape in CAST.items()}
    if slug(name) not in known:
        raise InputError(what=f"there is no wearer called '{name}'", where=where, todo=f"Name one of {', '.join(known)}.")
    return shaped(figure(), known[slug(name)])
