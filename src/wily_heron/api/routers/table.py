"""The cutting table: blocks, layouts and their history, files in and out."""

from typing import Literal

from fastapi import APIRouter, Response, UploadFile

from ...core.errors import InputError, NotFound
from ...core.figure.base.body import Wearer, shape_values, shaped
from ...core.table.blocks import BLOCKS, block_layout
from ...core.table.change import split_edge, with_dart, with_pleat, without_corner
from ...core.table.graded import graded
from ...core.table.layout import Layout
from ...core.table.outline import edge_length
from ...core.table.panel_mesh import check_outline
from ...formats.panel_dxf import read_dxf, write_dxf
from ...formats.panel_svg import read_svg, write_svg
from ...formats.slug import slug
from ...store import layouts as store
from ...store.bodies import body_for
from ...store.db import Connection, run, transaction
from ..deps import Artist, ProductionId, the_production
from ..received_files import sorted_files
from ..schemas_table import BlockOut, GradeIn, LayoutChangeIn, LayoutIn, LayoutOut, LayoutRowOut, PanelWorkIn, SeamOut, SettingOut

router = APIRouter(prefix="/api/table", tags=["table"])


@router.get("/blocks")
def blocks() -> list[BlockOut]:
    """Return the ready blocks with their settings."""
    return [BlockOut(name=b.name, label=b.label, settings=[SettingOut(**vars(s)) for s in b.settings]) for b in BLOCKS.values()]


@router.get("/layouts")
def shelf(production: ProductionId) -> list[LayoutRowOut]:
    """Return the layouts of the production."""
    with transaction() as connection:
        rows = run(connection, "layouts_of", production=production)
    return [LayoutRowOut(id=r["id"], name=r["name"], wearer=r["wearer_id"]) for r in rows]


@router.post("/layouts", status_code=201)
def begin(production: ProductionId, artist: Artist, asked: LayoutIn) -> LayoutOut:
    """Begin a layout: a block drafted for a wearer, or an empty table."""
    with transaction() as connection:
        row, wearer = wearer_row(connection, asked.wearer)
        made = block_layout(asked.block, wearer, asked.settings) if asked.block else Layout()
        number = store.add_layout(connection, production, asked.name, made, row["id"], row["shape"], artist)
        return _out(connection, number)


@router.post("/layouts/read", status_code=201)
def read(production: ProductionId, artist: Artist, files: list[UploadFile], wearer: int) -> list[LayoutOut]:
    """Begin a layout from each drawing (.svg, .dxf) for a wearer."""
    mains, _ = sorted_files(files)
    made = []
    for name, data in mains:
        ending = name.lower().rsplit(".", 1)[-1]
        if ending not in ("svg", "dxf"):
            raise InputError(what=f"'.{ending}' holds no panels", where=name, todo="Bring panels as .svg or .dxf.")
        layout = read_svg(data, name) if ending == "svg" else read_dxf(data, name)
        for panel in layout.panels:
            check_outline(panel)
        made.append((name.rsplit(".", 1)[0][:80], layout))
    out = []
    with transaction() as connection:
        row, _ = wearer_row(connection, wearer)
        for name, layout in made:
            number = store.add_layout(connection, production, name, layout, row["id"], row["shape"], artist)
            out.append(_out(connection, number))
    return out


@router.get("/layouts/{number}")
def one_layout(number: int) -> LayoutOut:
    """Return a layout as it stands."""
    with transaction() as connection:
        return _out(connection, number)


@router.put("/layouts/{number}")
def change(artist: Artist, number: int, asked: LayoutChangeIn) -> LayoutOut:
    """Keep a changed layout; an outline that crosses itself is told and not kept."""
    for panel in asked.layout.panels:
        check_outline(panel)
    with transaction() as connection:
        store.change_layout(connection, number, asked.layout, asked.label, artist, asked.based_on)
        return _out(connection, number)


@router.post("/layouts/{number}/panels")
def work_on(artist: Artist, number: int, asked: PanelWorkIn) -> LayoutOut:
    """Split an edge, put in a dart or a pleat, or join two edges; seams go along."""
    with transaction() as connection:
        now = store.get_layout(connection, number)["body"]
        match asked.do:
            case "split":
                made, label = split_edge(now, asked.panel, asked.edge, asked.share), f"A corner in {asked.panel}"
            case "dart":
                made = with_dart(now, asked.panel, asked.edge, asked.share, asked.wide, asked.deep)
                label = f"A dart in {asked.panel}"
            case "pleat":
                made, label = with_pleat(now, asked.panel, asked.edge, asked.share, asked.deep), f"A pleat in {asked.panel}"
            case "join":
                made, label = without_corner(now, asked.panel, asked.edge), f"A corner out of {asked.panel}"
        check_outline(made.panel(asked.panel))
        store.change_layout(connection, number, made, label, artist, asked.based_on)
        return _out(connection, number)


@router.post("/layouts/{number}/grade")
def grade(artist: Artist, number: int, asked: GradeIn) -> LayoutOut:
    """Grade the panels to another wearer's measures."""
    with transaction() as connection:
        now = store.get_layout(connection, number)
        row, to = wearer_row(connection, asked.wearer)
        made_for = shaped(body_for("", now["shape"]), shape_values(body_for("", now["shape"]), now["shape"]))
        made = graded(now["body"], made_for, to)
        store.change_layout(connection, number, made, f"Grade to {row['name']}", artist, None, row["id"], row["shape"])
        return _out(connection, number)


@router.post("/layouts/{number}/undo")
def undo(number: int) -> LayoutOut:
    """Undo the last change."""
    with transaction() as connection:
        store.step_layout(connection, number, True)
        return _out(connection, number)


@router.post("/layouts/{number}/redo")
def redo(number: int) -> LayoutOut:
    """Do again what was undone."""
    with transaction() as connection:
        store.step_layout(connection, number, False)
        return _out(connection, number)


@router.delete("/layouts/{number}", status_code=204)
def drop(number: int) -> None:
    """Forget a layout; pieces that were sewn from it stay."""
    with transaction() as connection:
        store.drop_layout(connection, number)


@router.get("/layouts/{number}/panels.{ending}", response_class=Response)
def drawing(number: int, ending: Literal["svg", "dxf"]) -> Response:
    """Return the panels as a drawing at true size."""
    with transaction() as connection:
        row = store.get_layout(connection, number)
    data = write_svg(row["body"]) if ending == "svg" else write_dxf(row["body"])
    return Response(data, media_type="image/svg+xml" if ending == "svg" else "image/vnd.dxf",
                    headers={"Content-Disposition": f'attachment; filename="{slug(row["name"])}.{ending}"'})


def wearer_row(connection: Connection, number: int) -> tuple[dict, Wearer]:
    """Return a wearer of the cast with its body; raises `InputError` for one that is not there or stands on a body of its own."""
    row = next((w for w in run(connection, "cast_of", production=the_production(connection)["id"]) if w["id"] == number), None)
    if row is None:
        raise NotFound(what=f"there is no wearer {number}", where="the cast", todo="Choose one of the cast.")
    if row["body_sha"]:
        raise InputError(what=f"{row['name']} stands on a body of its own", where="the cutting table",
                         todo="Choose a wearer of the house's figure: panels are laid by its measures.")
    body = body_for("", row["shape"])
    return row, shaped(body, shape_values(body, row["shape"]))


def _out(connection: Connection, number: int) -> LayoutOut:
    row = store.get_layout(connection, number)
    layout: Layout = row["body"]
    edges = {p.name: [round(edge_length(p, e), 5) for e in range(len(p.outline))] for p in layout.panels}
    seams = [SeamOut(one=edges[s.one.panel][s.one.edge], two=edges[s.two.panel][s.two.edge]) for s in layout.seams]
    return LayoutOut(id=number, name=row["name"], wearer=row["wearer_id"], edit=row["edit_id"], label=row["label"], author=row["author"],
                     can_undo=row["can_undo"], redo_label=row["redo_label"], layout=layout, seams=seams, edges=edges)
