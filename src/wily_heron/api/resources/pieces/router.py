"""Pieces: bringing in, changing, undoing, and their geometry."""

from fastapi import APIRouter, Response, UploadFile

from ....studio.rail import copying, dressing, rail
from ....studio.rail.geometry import piece_frame
from ...deps import AtDesk
from ...received_files import one_model, several_models
from ...wire import BINARY, FOR_EVER, frame
from .schemas import CopyIntoIn, MoveIn, PieceChangeIn, PieceOut, RecipeIn

router = APIRouter(prefix="/api/pieces", tags=["pieces"])


@router.post("", status_code=201)
def bring_in(desk: AtDesk, files: list[UploadFile], wearer: int | None = None) -> PieceOut:
    """Receive a piece from a file for a wearer (the first of the cast if none is named), with its materials and textures if they lie in
    files of their own."""
    model, name, _ = one_model(files, "bring in")
    return PieceOut.of(rail.bring_in(desk, model, name, wearer))


@router.post("/several", status_code=201)
def bring_in_several(desk: AtDesk, files: list[UploadFile], wearer: int | None = None, at_once: bool = False) -> list[PieceOut]:
    """Receive each of several files as a piece for a wearer; `at_once` they are put on as an outfit, from the skin outwards."""
    return [PieceOut.of(piece) for piece in rail.bring_in_several(desk, several_models(files, "bring in"), wearer, at_once)]


@router.post("/practice", status_code=201)
def bring_in_practice(desk: AtDesk, wearer: int | None = None) -> PieceOut:
    """Bring in the practice coat: centimetres, lying on its back."""
    return PieceOut.of(rail.bring_in_practice(desk, wearer))


@router.post("/{piece}/again", status_code=202)
def again(desk: AtDesk, piece: int) -> PieceOut:
    """Run the steps of a piece that failed once more."""
    return PieceOut.of(rail.again(desk, piece))


@router.post("/{piece}/copy", status_code=201)
def copy(desk: AtDesk, piece: int, into: CopyIntoIn) -> PieceOut:
    """Hang a copy of a piece in another outfit; it keeps its origin."""
    return PieceOut.of(copying.copy(desk, piece, into.outfit))


@router.post("/{piece}/take-over")
def take_over(desk: AtDesk, piece: int) -> PieceOut:
    """Give a copy the steps that its origin has now; it can be undone."""
    return PieceOut.of(copying.take_over(desk, piece))


@router.post("/{piece}/dress", status_code=202)
def dress(desk: AtDesk, piece: int) -> PieceOut:
    """Put a piece on in one go, as a job: placed, fitted over what is worn, bound, given the shapes, and cleared at rest."""
    return PieceOut.of(dressing.ask_for(desk, piece))


@router.get("/{piece}")
def get_piece(piece: int) -> PieceOut:
    """Return a piece as it stands."""
    return PieceOut.of(rail.get(piece))


@router.put("/{piece}/recipe")
def change_recipe(desk: AtDesk, piece: int, change: RecipeIn) -> PieceOut:
    """Record a new recipe; the worker runs it and everyone hears when the piece stands."""
    return PieceOut.of(rail.change_recipe(desk, piece, change.recipe, change.label, change.based_on))


@router.post("/{piece}/undo")
def undo(desk: AtDesk, piece: int) -> PieceOut:
    """Go back one edit."""
    return PieceOut.of(rail.step(desk, piece, "undo"))


@router.post("/{piece}/redo")
def redo(desk: AtDesk, piece: int) -> PieceOut:
    """Go forward one edit."""
    return PieceOut.of(rail.step(desk, piece, "redo"))


@router.post("/{piece}/move")
def move(piece: int, way: MoveIn) -> PieceOut:
    """Change places with the next piece outwards or inwards on the rail."""
    return PieceOut.of(rail.move(piece, way.outwards))


@router.patch("/{piece}")
def change_piece(piece: int, change: PieceChangeIn) -> PieceOut:
    """Give a piece another name or category."""
    return PieceOut.of(rail.rename(piece, change.name, change.category))


@router.delete("/{piece}", status_code=204)
def take_off(desk: AtDesk, piece: int) -> None:
    """Take a piece off the rail."""
    rail.take_off(desk, piece)


@router.get("/geometry/{sha}", response_class=Response, responses=BINARY)
def geometry(sha: str) -> Response:
    """Return a piece's arrays as one frame; the address is its content, so it may be kept for ever."""
    return frame(piece_frame(sha), FOR_EVER)
