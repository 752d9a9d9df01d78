"""A dressed body and its division into parts: proposed, chosen and changed by hand, undone."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ...core.bodies import select
from ...core.bodies.divide import propose
from ...core.bodies.joint_guess import guess_joints
from ...core.errors import InputError, NotFound
from ...core.figure.figure import figure
from ...core.model.model import Model
from ...core.model.roles import NEEDED, check_roles, find_roles
from ...core.model.steps.receive import Receive
from ...core.receive.receive import receive
from ...store import aparts as store
from ...store.aparts import ApartLine, ApartRow, Part
from ...store.blobs.models import put_model
from ...store.db import Connection, transaction
from ..desk import Desk
from ..rail.standing import model_at
from ..stock.taking_in import STATURE

_COLOURS = 12
_ROLES = (*NEEDED, "l_radiocarpal", "r_radiocarpal", "l_talocrural", "r_talocrural", "l_metatarsophalangeal", "r_metatarsophalangeal",
          "l_sternoclavicular", "r_sternoclavicular", "humanoid_root", "vl5", "vl1", "vt6", "vt1", "vc4", "skullbase")


@dataclass(frozen=True)
class Divided:
    """A dressed body as it is divided now: `label` (m,) the part of each triangle."""

    row: ApartRow
    model: Model
    label: np.ndarray


@dataclass(frozen=True)
class Role:
    """One of our joints, the received joint that does its work (None if none does), and where it stands (metres)."""

    role: str
    joint: str | None
    place: tuple[float, float, float] | None
    needed: bool


@dataclass(frozen=True)
class Choice:
    """How faces are chosen: from a click on a `face`, a `part`, an `outline` on the stage seen by a camera's `matrix` (4, 4) from its
    `eye`, or one ring more or less of those `chosen`."""

    way: Literal["run", "material", "lasso", "grow", "shrink", "part"]
    face: int | None
    part: int | None
    outline: Sequence[tuple[float, float]]
    matrix: Sequence[float]
    eye: tuple[float, float, float]
    through: bool
    chosen: Sequence[int]


def bring_in(desk: Desk, model: Model, name: str) -> Divided:
    """Receive a dressed body and propose its parts."""
    with transaction() as connection:
        apart = bring_dressed(connection, desk.production, model, name, desk.artist)
    return get(apart)


def bring_dressed(connection: Connection, production: int, model: Model, name: str, author: str) -> int:
    """Put a dressed body upright and in metres, propose its parts, and keep it; return it."""
    upright = receive(model, Receive(mends=()), STATURE).brought
    proposal = propose(upright, STATURE)
    parts = [Part(colour=k % _COLOURS, **vars(part)) for k, part in enumerate(proposal.parts)]
    return store.add_apart(connection, production, name, put_model(connection, upright), proposal.label, parts, author)


def all_of(production: int) -> list[ApartLine]:
    """Return the dressed bodies brought in, the newest first."""
    with transaction() as connection:
        return store.aparts_of(connection, production)


def get(apart: int) -> Divided:
    """Return a dressed body as it is divided now. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return _divided(connection, apart)


def choose(apart: int, how: Choice) -> np.ndarray:
    """Return the faces (k,) that are chosen; nothing is changed."""
    now = get(apart)
    match how.way:
        case "run":
            chosen = select.run_of(now.model, -1 if how.face is None else how.face)
        case "material":
            chosen = select.of_material(now.model, -1 if how.face is None else how.face)
        case "part":
            chosen = now.label == how.part
        case "lasso":
            if len(how.outline) < 3 or len(how.matrix) != 16:
                raise InputError(what="the outline is not closed", where="the selection", todo="Draw round the faces you mean.")
            matrix, eye = np.reshape(how.matrix, (4, 4)), np.array(how.eye)
            chosen = select.in_lasso(now.model, matrix, np.array(how.outline), eye, how.through)
        case "grow" | "shrink":
            chosen = select.grown(now.model, _mask(how.chosen, len(now.label)), 1 if how.way == "grow" else -1)
    return np.flatnonzero(chosen)


def assign(apart: int, faces: Sequence[int], part: int | None, name: str | None) -> Divided:
    """Give faces to a part, or to a new one."""
    with transaction() as connection:
        now = _divided(connection, apart)
        label, parts, chosen = now.label.copy(), list(now.row.parts), _mask(faces, len(now.label))
        if part is None:
            unused = next((c for c in range(_COLOURS) if all(p.colour != c for p in parts)), len(parts) % _COLOURS)
            parts.append(Part(name=_free(parts, name or "New part"), is_body=False, category="rigid", colour=unused, sure=1.0,
                              why="made by hand"))
        number = len(parts) - 1 if part is None else _known(parts, part)
        label[chosen] = number
        store.divide(connection, apart, *_tidy(label, parts), f"{int(chosen.sum())} faces to {parts[number].name}")
        return _divided(connection, apart)


def merge(apart: int, part: int, into: int) -> Divided:
    """Put one part into another."""
    with transaction() as connection:
        now = _divided(connection, apart)
        label, parts = now.label.copy(), now.row.parts
        a, b = _known(parts, part), _known(parts, into)
        label[label == a] = b
        store.divide(connection, apart, *_tidy(label, parts), f"{parts[a].name} into {parts[b].name}")
        return _divided(connection, apart)


def change_part(apart: int, part: int, change: Mapping[str, Any]) -> Divided:
    """Give a part another name, colour or category, or say that it is the body; what is left out stays."""
    with transaction() as connection:
        now = _divided(connection, apart)
        parts = list(now.row.parts)
        mine = parts[_known(parts, part)].model_copy(update=dict(change))
        parts[part] = mine.model_copy(update={"category": "" if mine.is_body else mine.category or "rigid"})
        if change.get("is_body"):
            parts = [p.model_copy(update={"is_body": k == part}) for k, p in enumerate(parts)]
        store.divide(connection, apart, now.label, parts, f"Change {mine.name}")
        return _divided(connection, apart)


def step(apart: int, way: Literal["undo", "redo"]) -> Divided:
    """Go back one division, or forward one. Raises `InputError` at either end."""
    with transaction() as connection:
        store.step(connection, apart, forward=way == "redo")
        return _divided(connection, apart)


def set_roles(apart: int, roles: dict[str, str] | None, places: dict[str, tuple[float, float, float]] | None) -> Divided:
    """Say which joint does which work, or where our joints stand in a body without any. Raises `InputError` for names there are not."""
    with transaction() as connection:
        skeleton = _divided(connection, apart).model.skeleton
        if roles is not None and skeleton is not None:
            check_roles(skeleton, roles)
        for name in places or {}:
            figure(1).skeleton.index(name)
        store.set_roles(connection, apart, roles, places)
        return _divided(connection, apart)


def drop(apart: int) -> None:
    """Forget a dressed body; what was taken from it stays."""
    with transaction() as connection:
        store.drop_apart(connection, apart)


def roles_of(of: Divided) -> list[Role]:
    """Return what each of our main joints is here: as the artist said, else as found."""
    if of.model.skeleton is not None:
        found = of.row.roles or find_roles(of.model.skeleton)
        at = {role: of.model.skeleton.positions[of.model.skeleton.index(name)].tolist() for role, name in found.items()}
    else:
        found, at = {}, of.row.places or _guessed(of)
    return [Role(role, found.get(role), at.get(role), role in NEEDED) for role in _ROLES]


def _guessed(of: Divided) -> dict[str, Any]:
    body = next((k for k, p in enumerate(of.row.parts) if p.is_body), None)
    if body is None or not (of.label == body).any():
        return {}
    part = of.model.part(of.label == body)
    try:
        return {name: place.tolist() for name, place in guess_joints(part.mesh.points, part.mesh.triangles).items()}
    except InputError:
        return {}


def _divided(connection: Connection, apart: int) -> Divided:
    row = store.get_apart(connection, apart)
    return Divided(row, model_at(row.model), store.labels(connection, row))


def _mask(faces: Sequence[int], count: int) -> np.ndarray:
    rows = np.array(faces, np.int64)
    if len(rows) and not 0 <= rows.min() <= rows.max() < count:
        raise InputError(what=f"there is no face {int(rows.max())}", where="the selection", todo="Choose faces of this mesh.")
    out = np.zeros(count, bool)
    out[rows] = True
    return out


def _known(parts: Sequence[Part], part: int) -> int:
    if not 0 <= part < len(parts):
        raise NotFound(what=f"there is no part {part}", where="taking apart", todo="Reload the page.")
    return part


def _free(parts: Sequence[Part], name: str) -> str:
    made, n = name, 2
    while any(p.name == made for p in parts):
        made, n = f"{name} {n}", n + 1
    return made


def _tidy(label: np.ndarray, parts: Sequence[Part]) -> tuple[np.ndarray, list[Part]]:
    """Return the division without the parts that hold no face any more."""
    held = np.bincount(label, minlength=len(parts)) > 0
    place = np.cumsum(held) - 1
    return place[label].astype(np.int32), [p for p, h in zip(parts, held, strict=True) if h]
