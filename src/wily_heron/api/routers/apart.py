"""Taking a dressed body apart: proposed parts, choosing and dividing by hand, joint roles, and taking out what it holds."""

from functools import lru_cache

import numpy as np
from fastapi import APIRouter, Response, UploadFile
from psycopg.types.json import Jsonb

from ...core.bodies import select
from ...core.bodies.joint_guess import guess_joints
from ...core.errors import InputError, NotFound
from ...core.figure.figure import figure
from ...core.model.model import Model
from ...core.model.roles import NEEDED, check_roles, find_roles
from ...formats.piece_read import read_model
from ...jobs.taking_apart import bring_dressed
from ...store import aparts
from ...store.arrays import array_frame
from ...store.db import run, transaction
from ...store.events import notify
from ...store.models import get_model
from ..deps import Artist, ProductionId
from ..queue import ask
from ..received_files import sorted_files
from ..schemas_apart import ApartLineOut, ApartOut, AssignIn, ChooseIn, ChosenOut, MergeIn, PartIn, PartOut, RoleOut, RolesIn

router = APIRouter(prefix="/api/apart", tags=["apart"])
_SHOWN = (*NEEDED, "l_radiocarpal", "r_radiocarpal", "l_talocrural", "r_talocrural", "l_metatarsophalangeal", "r_metatarsophalangeal",
          "l_sternoclavicular", "r_sternoclavicular", "humanoid_root", "vl5", "vl1", "vt6", "vt1", "vc4", "skullbase")


@router.post("", status_code=201)
def bring_in(production: ProductionId, artist: Artist, files: list[UploadFile]) -> ApartOut:
    """Receive a dressed body and propose its parts."""
    mains, beside = sorted_files(files)
    if not mains:
        raise InputError(what="no file with a body among them", where="taking apart", todo="Choose a glTF, USD or OBJ file.")
    name, data = mains[0]
    model = read_model(data, name, beside)
    with transaction() as connection:
        number = bring_dressed(connection, production, model, name, artist)
    return get(number)


@router.get("")
def all_of_them(production: ProductionId) -> list[ApartLineOut]:
    """Return the dressed bodies brought in, the newest first."""
    with transaction() as connection:
        return [ApartLineOut(**row) for row in run(connection, "aparts_of", production=production)]


@router.get("/{apart}")
def get(apart: int) -> ApartOut:
    """Return a dressed body as it is divided now."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        label = aparts.labels(connection, row)
    model = _model(row["model_sha"])
    count = np.bincount(label, minlength=len(row["parts"]))
    return ApartOut(
        id=apart, file_name=row["file_name"], made_at=row["made_at"], state=row["state"], outcome=row["outcome"],
        parts=[PartOut(**part, faces=int(count[k])) for k, part in enumerate(row["parts"])],
        joints=list(model.skeleton.names) if model.skeleton else [], roles=_roles(row, model, label), morphs=list(model.morphs),
        materials=[m.name for m in model.mesh.materials], faces=len(label), height=float(np.ptp(model.mesh.points[:, 1])),
        label=row["label"], can_undo=row["parent_id"] is not None, can_redo=row["child_id"] is not None,
    )


@router.get("/{apart}/mesh", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def mesh(apart: int) -> Response:
    """Return points, triangles and the part of each triangle as one frame."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        label = aparts.labels(connection, row)
    model = _model(row["model_sha"])
    arrays = {"points": model.mesh.points, "triangles": model.mesh.triangles, "label": label}
    return Response(array_frame(arrays, {}), media_type="application/octet-stream", headers={"Cache-Control": "no-store"})


@router.post("/{apart}/choose")
def choose(apart: int, how: ChooseIn) -> ChosenOut:
    """Return the faces a click, an outline or one more ring chooses; nothing is changed."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        label = aparts.labels(connection, row)
    model = _model(row["model_sha"])
    match how.way:
        case "run":
            chosen = select.run_of(model, -1 if how.face is None else how.face)
        case "material":
            chosen = select.of_material(model, -1 if how.face is None else how.face)
        case "part":
            chosen = label == how.part
        case "lasso":
            if len(how.outline) < 3 or len(how.matrix) != 16:
                raise InputError(what="the outline is not closed", where="the selection", todo="Draw round the faces you mean.")
            chosen = select.in_lasso(model, np.reshape(how.matrix, (4, 4)), np.array(how.outline), np.array(how.eye), how.through)
        case _:
            chosen = select.grown(model, _mask(how.chosen, len(label)), 1 if how.way == "grow" else -1)
    return ChosenOut(faces=np.flatnonzero(chosen).tolist())


@router.post("/{apart}/assign")
def assign(apart: int, to: AssignIn) -> ApartOut:
    """Give faces to a part, or to a new one."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        label, parts = aparts.labels(connection, row).copy(), list(row["parts"])
        chosen = _mask(to.faces, len(label))
        if to.part is None:
            unused = next((c for c in range(12) if all(p["colour"] != c for p in parts)), len(parts) % 12)
            parts.append({"name": _free(parts, to.name or "New part"), "is_body": False, "category": "rigid", "colour": unused, "sure": 1.0,
                          "why": "made by hand"})
        number = len(parts) - 1 if to.part is None else _known(parts, to.part)
        label[chosen] = number
        aparts.divide(connection, apart, *_tidy(label, parts), f"{int(chosen.sum())} faces to {parts[number]['name']}")
    return get(apart)


@router.post("/{apart}/merge")
def merge(apart: int, which: MergeIn) -> ApartOut:
    """Put one part into another."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        label, parts = aparts.labels(connection, row).copy(), list(row["parts"])
        a, b = _known(parts, which.part), _known(parts, which.into)
        label[label == a] = b
        aparts.divide(connection, apart, *_tidy(label, parts), f"{parts[a]['name']} into {parts[b]['name']}")
    return get(apart)


@router.patch("/{apart}/parts/{part}")
def change_part(apart: int, part: int, change: PartIn) -> ApartOut:
    """Give a part another name, colour or category, or say that it is the body."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        parts = [dict(p) for p in row["parts"]]
        mine = parts[_known(parts, part)]
        mine |= change.model_dump(exclude_none=True)
        if change.is_body:
            for k, other in enumerate(parts):
                other["is_body"] = k == part
        mine["category"] = "" if mine["is_body"] else mine["category"] or "rigid"
        aparts.divide(connection, apart, aparts.labels(connection, row), parts, f"Change {mine['name']}")
    return get(apart)


@router.post("/{apart}/undo")
def undo(apart: int) -> ApartOut:
    """Go back one division."""
    with transaction() as connection:
        aparts.step(connection, apart, forward=False)
    return get(apart)


@router.post("/{apart}/redo")
def redo(apart: int) -> ApartOut:
    """Go forward one division."""
    with transaction() as connection:
        aparts.step(connection, apart, forward=True)
    return get(apart)


@router.put("/{apart}/roles")
def set_roles(apart: int, roles: RolesIn) -> ApartOut:
    """Say which joint does which work, or where our joints stand in a body without any."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        skeleton = _model(row["model_sha"]).skeleton
        if roles.roles is not None and skeleton is not None:
            check_roles(skeleton, roles.roles)
        for name in roles.places or {}:
            figure(1).skeleton.index(name)
        run(connection, "apart_roles", apart=apart, roles=Jsonb(roles.roles) if roles.roles else None,
            places=Jsonb(roles.places) if roles.places else None)
        notify(connection, "apart", apart=apart)
    return get(apart)


@router.post("/{apart}/take")
def take(artist: Artist, apart: int) -> ApartOut:
    """Make the body and the pieces, as a job: a body with a wearer in the cast, pieces on the rail and in stock."""
    with transaction() as connection:
        aparts.get_apart(connection, apart)
        if not run(connection, "apart_taking", apart=apart):
            raise InputError(what="it is being taken apart already", where="taking apart", todo="Wait until it is done.")
        notify(connection, "apart", apart=apart)
    ask("take_apart", priority=8, apart=apart, author=artist)
    return get(apart)


@router.delete("/{apart}", status_code=204)
def forget(apart: int) -> None:
    """Forget a dressed body; what was taken from it stays."""
    with transaction() as connection:
        aparts.get_apart(connection, apart)
        run(connection, "drop_apart", apart=apart)
        notify(connection, "apart")


@lru_cache(maxsize=4)
def _model(sha: str) -> Model:
    with transaction() as connection:
        return get_model(connection, sha)


def _mask(faces: list[int], count: int) -> np.ndarray:
    rows = np.array(faces, np.int64)
    if len(rows) and not 0 <= rows.min() <= rows.max() < count:
        raise InputError(what=f"there is no face {int(rows.max())}", where="the selection", todo="Choose faces of this mesh.")
    out = np.zeros(count, bool)
    out[rows] = True
    return out


def _known(parts: list[dict], part: int) -> int:
    if not 0 <= part < len(parts):
        raise NotFound(what=f"there is no part {part}", where="taking apart", todo="Reload the page.")
    return part


def _free(parts: list[dict], name: str) -> str:
    made, n = name, 2
    while any(p["name"] == made for p in parts):
        made, n = f"{name} {n}", n + 1
    return made


def _tidy(label: np.ndarray, parts: list[dict]) -> tuple[np.ndarray, list[dict]]:
    """Return the division without the parts that hold no face any more."""
    held = np.bincount(label, minlength=len(parts)) > 0
    place = np.cumsum(held) - 1
    return place[label].astype(np.int32), [p for p, h in zip(parts, held, strict=True) if h]


def _roles(row: dict, model: Model, label: np.ndarray) -> list[RoleOut]:
    """Return what each of our main joints is here: as the artist said, else as found."""
    if model.skeleton is not None:
        found = row["roles"] or find_roles(model.skeleton)
        at = {role: model.skeleton.positions[model.skeleton.index(name)] for role, name in found.items()}
    else:
        found, at = {}, {name: np.array(p) for name, p in (row["places"] or _guessed(row, model, label)).items()}
    return [RoleOut(role=r, joint=found.get(r), place=at[r].tolist() if r in at else None, needed=r in NEEDED) for r in _SHOWN]


def _guessed(row: dict, model: Model, label: np.ndarray) -> dict[str, list[float]]:
    body = next((k for k, p in enumerate(row["parts"]) if p["is_body"]), None)
    if body is None or not (label == body).any():
        return {}
    part = model.part(label == body)
    try:
        return {name: place.tolist() for name, place in guess_joints(part.mesh.points, part.mesh.triangles).items()}
    except InputError:
        return {}
