"""The headless commands: everything on files, without a browser or a database."""

import sys
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Annotated, Literal

import orjson
import typer

from ..core.bench.evaluate import run_step
from ..core.bodies.divide import propose
from ..core.clear.clear_cells import clear_cells
from ..core.clear.layers import Layers
from ..core.clear.outfit.sheet_together import clear_sheet
from ..core.clear.pose_fix import clear_poses, clear_skin
from ..core.clearance.trial import trial as run_trial
from ..core.errors import HeronError, InputError
from ..core.figure.base.body import Body, shape_values, shaped, standing_at
from ..core.figure.cast import CAST
from ..core.figure.extras import figure_for
from ..core.figure.figure import figure
from ..core.figure.measures.measure_sheet import parse_length, read_measure_sheet
from ..core.figure.measures.measure_solve import solve_measures
from ..core.figure.measures.measures import measure_named, take
from ..core.figure.relief import with_relief
from ..core.model.category import CATEGORIES
from ..core.model.pack import Pack, PackedPiece
from ..core.model.report import report_notes
from ..core.model.state import Piece
from ..core.model.steps.bind import Bind
from ..core.model.steps.fit import Fit, FitReport
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor, Receive, ReceiveReport
from ..core.motion.motion import with_lead_in
from ..core.motion.pose_library import POSES
from ..core.receive.findings import KINDS
from ..core.receive.receive import receive as receive_model
from ..formats.bvh import write_bvh
from ..formats.heights import read_heights
from ..formats.model_write import write_model
from ..formats.pack.read import read_pack
from ..formats.pack.write import write_pack
from ..formats.piece_read import read_file, read_model_file
from ..formats.slug import slug
from .cut import cut
from .drape import drape
from .files import DEMO_POSES, body_named, carrier, motion_named, out_file, report, worn_under, write_whole
from .finish import finish
from .trial import trial

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)
Out = Annotated[Path, out_file("The file to write.")]
_WORN_AS: dict[str, Literal["auto", "head", "sole"]] = {"hair": "head", "headwear": "head", "beard": "head", "footwear": "sole"}
Json = Annotated[str | None, typer.Option("--json", help="Write the report as JSON to this file; - prints it.")]


@app.command()
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
    asked = read_measure_sheet(read_file(sheet).decode("utf-8-sig", "replace"), str(sheet)) if sheet else {}
    for item in measure or []:
        name, _, value = item.partition("=")
        asked[measure_named(name).name] = parse_length(value, f"--measure {name}")
    solved = solve_measures(figure(), asked, around=settings) if asked else None
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
                   "asked": asked, "met": {n: solved.met(n) for n in asked} if solved else {}})
    typer.echo(f"{out}: {len(made.base)} vertices, {len(made.skeleton.names)} joints, stature {taken['stature'].value * 100:.1f} cm")
    if solved is None:
        return
    for name, wanted in asked.items():
        verdict = "met" if solved.met(name) else "out of reach"
        typer.echo(f"  {name:20} asked {wanted * 100:6.1f} cm  reached {solved.reached[name] * 100:6.1f} cm  {verdict}")
    if not all(solved.met(n) for n in asked):
        raise typer.Exit(1)


@app.command()
def motion(source: str, out: Out, on: Annotated[str, typer.Option(help="A wearer of the stock, or a .glb.")] = "figure",
           joint_map: Annotated[Path | None, typer.Option("--map", help="JSON: our joint names to the file's.")] = None,
           lead_in: Annotated[int, typer.Option(help="Frames from the rest pose to the first frame.")] = 0, json: Json = None) -> None:
    """Put a motion (a .bvh with any joint names, or a clip of the house) on a wearer, as .glb or .bvh."""
    who, base = body_named(on)
    put, joints = motion_named(source, base.skeleton, _joint_map(joint_map) if joint_map else None)
    put = with_lead_in(put, lead_in)
    if out.suffix.lower() == ".bvh":
        write_whole(out, write_bvh(put))
    else:
        write_whole(out, write_pack(Pack(base, who, (), motions=(put,))))
    report(json, {"frames": len(put.rotations), "seconds": put.seconds * len(put.rotations), "map": joints})
    typer.echo(f"{out}: {put.name}, {len(put.rotations)} frames, {put.seconds * len(put.rotations):.2f} s, on {who}")


def _joint_map(path: Path) -> dict[str, str]:
    try:
        found = orjson.loads(read_file(path))
    except ValueError:
        found = None
    if not isinstance(found, dict) or not all(isinstance(v, str) for v in found.values()):
        raise InputError(what="it is not a JSON object of names to names", where=str(path), todo='Write it like {"l_knee": "LeftLeg"}.')
    return found


@app.command()
def receive(file: Path, out: Out, mend: Annotated[str, typer.Option(help="all, none, or kinds of findings: hole,winding")] = "all",
            units: str = "auto", up: str = "auto", json: Json = None) -> None:
    """Put a piece right (unit, up axis, what is torn, loose or inside out) and write it as a pack on the figure, unfitted."""
    mends = {"all": None, "none": ()}.get(mend, tuple(mend.split(",")))
    if mends and set(mends) - set(KINDS):
        raise InputError(what=f"'{mend}' is no mend", where="--mend", todo=f"Give all, none, or some of {', '.join(KINDS)}.")
    state = _received(file, units, up, figure(), mends)
    found = state.report_of(ReceiveReport)
    assert found is not None
    report(json, found.model_dump(mode="json"))
    write_whole(out, write_pack(Pack(figure(), "figure", (PackedPiece(file.stem, "top", state, 0.0),), {}, {})))
    high = f"{found.size[1] * 100:.1f} cm high"
    typer.echo(f"{out}: {found.unit_word}, {found.up} up, {found.parts} parts, {high}, a {found.category}")
    for f in found.findings:
        typer.echo(f"  {f.text}: {f.mend + ('' if f.mended else ' (not done)') if f.mend else 'for you to see to'}")


def _received(file: Path, units: str, up: str, base: Body, mends: tuple[str, ...] | None = None) -> Piece:
    if units not in ("auto", "m", "cm", "mm", "in") or up not in ("auto", "y", "z"):
        raise InputError(what=f"units '{units}', up '{up}'", where="--units / --up", todo="Units: m, cm, mm, in, auto. Up: y, z, auto.")
    wearer = shaped(base, base.made_at)
    return run_step(Piece.of(read_model_file(file), base.made_at), wearer, Receive(unit=units, up=up, mends=mends))  # type: ignore[arg-type]


@app.command()
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


@app.command()
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


@app.command()
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
    state = _received(piece, units, up, base)
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


@app.command()
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
        rows = [{"wearer": w, "pose": p, **told, "changed": [pieces[k].name for k in told["changed"]]}
                for (w, p), told in zip(names, reports, strict=True)]
        pieces = [PackedPiece(p.name, p.category, piece, p.ease) for p, piece in zip(pieces, worn, strict=True)]
    for i, own in enumerate(() if together else packed.pieces):
        layers = Layers(tuple(p.piece for p in pieces[:i]), tuple(p.piece for p in pieces[i + 1 :]))
        run = clear_poses if keep == "bulk" else clear_cells
        piece, reports = run(own.piece, packed.body, cells, ease / 1000, layers)
        pieces[i] = PackedPiece(own.name, own.category, piece, own.ease)
        rows += [{"piece": own.name, "wearer": w, "pose": p, **told} for (w, p), told in zip(names, reports, strict=True)]
    if skin and not together:
        for i, own in enumerate(pieces):
            layers = Layers(tuple(p.piece for p in pieces[:i]), tuple(p.piece for p in pieces[i + 1 :]))
            piece, reports = clear_skin(own.piece, packed.body, cells, layers, always=keep == "shape")
            pieces[i] = PackedPiece(own.name, own.category, piece, own.ease)
            rows += [{"piece": "skin", "under": own.name, "wearer": w, "pose": p, **told}
                     for (w, p), told in zip(names, reports, strict=True)]
    made = Pack(packed.body, packed.wearer, tuple(pieces), packed.cast, {n: POSES[n] for n in DEMO_POSES})
    write_whole(out, write_pack(made))
    report(json, {"cells": rows})
    shown, left = (sum(c.figures.places for *_, c in run_trial(p.body, p.dressed(), packed.cast, made.poses)) for p in (packed, made))
    typer.echo(f"{out}: {left} places left of {shown}", err=json == "-")
    if left:
        raise typer.Exit(1)


app.command()(trial)
app.command()(drape)
app.command()(finish)
app.command()(cut)


def main() -> None:
    """Run a command; what the user can mend is one line on stderr and exit 2."""
    try:
        app()
    except HeronError as error:
        sys.stderr.write(f"heron: {error}\n")
        sys.exit(2)
    except OSError as error:
        sys.stderr.write(f"heron: {error.filename or 'the disk'}: {error.strerror}. Check the path and the free space.\n")
        sys.exit(2)


if __name__ == "__main__":
    main()
