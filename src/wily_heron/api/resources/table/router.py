"""The cutting table: blocks, layouts and their history, files in and out."""

from typing import Literal

from fastapi import APIRouter, Response, UploadFile

from ....core.table.blocks import BLOCKS
from ....formats.panels.drawing import read_drawing, write_drawing
from ....formats.slug import slug
from ....studio.table import layouts
from ...deps import AtDesk, ProductionId
from ...received_files import sorted_files
from ...wire import answers, file
from .schemas import BlockOut, GradeIn, LayoutChangeIn, LayoutIn, LayoutOut, LayoutRowOut, PanelWorkIn, SettingOut

router = APIRouter(prefix="/api/table", tags=["table"])
_MEDIA = {"svg": "image/svg+xml", "dxf": "image/vnd.dxf"}


@router.get("/blocks")
def blocks() -> list[BlockOut]:
    """Return the ready blocks with their settings."""
    return [BlockOut(name=b.name, label=b.label, settings=[SettingOut(**vars(s)) for s in b.settings]) for b in BLOCKS.values()]


@router.get("/layouts")
def shelf(production: ProductionId) -> list[LayoutRowOut]:
    """Return the layouts of the production."""
    return [LayoutRowOut.of(line) for line in layouts.layouts(production)]


@router.post("/layouts", status_code=201)
def begin(desk: AtDesk, request: LayoutIn) -> LayoutOut:
    """Begin a layout: a block drafted for a wearer, or an empty table."""
    return LayoutOut.of(layouts.begin(desk, request.name, request.wearer, request.block, request.settings))


@router.post("/layouts/read", status_code=201)
def read(desk: AtDesk, files: list[UploadFile], wearer: int) -> list[LayoutOut]:
    """Begin a layout from each drawing (.svg, .dxf) for a wearer."""
    drawings = [(name.rsplit(".", 1)[0], read_drawing(data, name)) for name, data in sorted_files(files)[0]]
    return [LayoutOut.of(row) for row in layouts.begin_from(desk, drawings, wearer)]


@router.get("/layouts/{number}")
def one_layout(number: int) -> LayoutOut:
    """Return a layout as it stands."""
    return LayoutOut.of(layouts.get(number))


@router.put("/layouts/{number}")
def change(desk: AtDesk, number: int, request: LayoutChangeIn) -> LayoutOut:
    """Keep a changed layout; an outline that crosses itself is told and not kept."""
    return LayoutOut.of(layouts.change(desk, number, request.layout, request.label, request.based_on))


@router.post("/layouts/{number}/panels")
def work_on(desk: AtDesk, number: int, request: PanelWorkIn) -> LayoutOut:
    """Split an edge, put in a dart or a pleat, or join two edges; seams go along."""
    return LayoutOut.of(layouts.work_on(desk, number, request.work(), request.based_on))


@router.post("/layouts/{number}/grade")
def grade(desk: AtDesk, number: int, request: GradeIn) -> LayoutOut:
    """Grade the panels to another wearer's measures."""
    return LayoutOut.of(layouts.grade(desk, number, request.wearer))


@router.post("/layouts/{number}/undo")
def undo(number: int) -> LayoutOut:
    """Undo the last change."""
    return LayoutOut.of(layouts.step(number, "undo"))


@router.post("/layouts/{number}/redo")
def redo(number: int) -> LayoutOut:
    """Do again what was undone."""
    return LayoutOut.of(layouts.step(number, "redo"))


@router.delete("/layouts/{number}", status_code=204)
def drop(number: int) -> None:
    """Forget a layout; pieces that were sewn from it stay."""
    layouts.drop(number)


@router.get("/layouts/{number}/panels.{ending}", response_class=Response, responses=answers(*_MEDIA.values()))
def drawing(number: int, ending: Literal["svg", "dxf"]) -> Response:
    """Return the panels as a drawing at true size."""
    row = layouts.get(number)
    return file(write_drawing(row.layout, ending), f"{slug(row.name)}.{ending}", _MEDIA[ending])
