"""Taking a dressed body apart: proposed parts, choosing and dividing by hand, joint roles, and taking out what it holds."""

from fastapi import APIRouter, Response, UploadFile

from ....formats.array_frame import array_frame
from ....studio.apart import divisions, taking
from ....studio.apart.divisions import Choice
from ...deps import AtDesk, ProductionId
from ...received_files import one_model
from ...wire import BINARY, frame
from .schemas import ApartLineOut, ApartOut, AssignIn, ChooseIn, ChosenOut, MergeIn, PartIn, RolesIn

router = APIRouter(prefix="/api/apart", tags=["apart"])


@router.post("", status_code=201)
def bring_in(desk: AtDesk, files: list[UploadFile]) -> ApartOut:
    """Receive a dressed body and propose its parts."""
    model, name, _ = one_model(files, "taking apart")
    return ApartOut.of(divisions.bring_in(desk, model, name))


@router.get("")
def all_of_them(production: ProductionId) -> list[ApartLineOut]:
    """Return the dressed bodies brought in, the newest first."""
    return [ApartLineOut.of(line) for line in divisions.all_of(production)]


@router.get("/{apart}")
def get(apart: int) -> ApartOut:
    """Return a dressed body as it is divided now."""
    return ApartOut.of(divisions.get(apart))


@router.get("/{apart}/mesh", response_class=Response, responses=BINARY)
def mesh(apart: int) -> Response:
    """Return points, triangles and the part of each triangle as one frame."""
    found = divisions.get(apart)
    arrays = {"points": found.model.mesh.points, "triangles": found.model.mesh.triangles, "label": found.label}
    return frame(array_frame(arrays, {}), {"Cache-Control": "no-store"})


@router.post("/{apart}/choose")
def choose(apart: int, how: ChooseIn) -> ChosenOut:
    """Return the faces a click, an outline or one more ring chooses; nothing is changed."""
    return ChosenOut(faces=divisions.choose(apart, Choice(**dict(how))).tolist())


@router.post("/{apart}/assign")
def assign(apart: int, to: AssignIn) -> ApartOut:
    """Give faces to a part, or to a new one."""
    return ApartOut.of(divisions.assign(apart, to.faces, to.part, to.name))


@router.post("/{apart}/merge")
def merge(apart: int, which: MergeIn) -> ApartOut:
    """Put one part into another."""
    return ApartOut.of(divisions.merge(apart, which.part, which.into))


@router.patch("/{apart}/parts/{part}")
def change_part(apart: int, part: int, change: PartIn) -> ApartOut:
    """Give a part another name, colour or category, or say that it is the body."""
    return ApartOut.of(divisions.change_part(apart, part, change.model_dump(exclude_none=True)))


@router.post("/{apart}/undo")
def undo(apart: int) -> ApartOut:
    """Go back one division."""
    return ApartOut.of(divisions.step(apart, "undo"))


@router.post("/{apart}/redo")
def redo(apart: int) -> ApartOut:
    """Go forward one division."""
    return ApartOut.of(divisions.step(apart, "redo"))


@router.put("/{apart}/roles")
def set_roles(apart: int, roles: RolesIn) -> ApartOut:
    """Say which joint does which work, or where our joints stand in a body without any."""
    return ApartOut.of(divisions.set_roles(apart, roles.roles, roles.places))


@router.post("/{apart}/take")
def take(desk: AtDesk, apart: int) -> ApartOut:
    """Make the body and the pieces, as a job: a body with a wearer in the cast, pieces on the rail and in stock."""
    return ApartOut.of(taking.begin(desk, apart))


@router.delete("/{apart}", status_code=204)
def forget(apart: int) -> None:
    """Forget a dressed body; what was taken from it stays."""
    divisions.drop(apart)
