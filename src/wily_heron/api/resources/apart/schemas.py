"""Taking a dressed body apart, on the wire."""

from datetime import datetime
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from ....studio.apart.divisions import Divided, roles_of
from ...wire import Category, Out


class PartOut(Out):
    """A part of a dressed body: the body, or a piece with its category; how sure the proposal was, and why."""

    name: str
    is_body: bool
    category: str
    colour: int
    sure: float
    why: str
    faces: int


class RoleOut(Out):
    """One of our joints, the received joint that does its work (None if none does), and where it stands (metres)."""

    role: str
    joint: str | None
    place: list[float] | None
    needed: bool


class ApartLineOut(Out):
    """A dressed body in the list."""

    id: int
    file_name: str
    made_at: datetime
    state: Literal["open", "taking", "taken", "failed"]
    outcome: str | None


class ApartOut(ApartLineOut):
    """A dressed body with its parts, its joints, and how many faces, morphs and clips it has."""

    parts: list[PartOut]
    joints: list[str]
    roles: list[RoleOut]
    morphs: list[str]
    materials: list[str]
    faces: int
    height: float
    label: str
    can_undo: bool
    can_redo: bool

    @classmethod
    def of(cls, found: Divided) -> "ApartOut":
        """Return a dressed body as it is divided."""
        row, model, count = found.row, found.model, np.bincount(found.label, minlength=len(found.row.parts))
        return cls(
            id=row.id, file_name=row.file_name, made_at=row.made_at, state=row.state, outcome=row.outcome,
            parts=[PartOut(**part.model_dump(), faces=int(count[k])) for k, part in enumerate(row.parts)],
            joints=list(model.skeleton.names) if model.skeleton else [], roles=[RoleOut.of(role) for role in roles_of(found)],
            morphs=list(model.morphs), materials=[m.name for m in model.mesh.materials], faces=len(found.label),
            height=float(np.ptp(model.mesh.points[:, 1])), label=row.label, can_undo=row.parent is not None, can_redo=row.child is not None,
        )


class ChooseIn(BaseModel):
    """How to choose faces: from a click, an outline on the stage, or what is chosen already."""

    way: Literal["run", "material", "lasso", "grow", "shrink", "part"]
    face: int | None = None
    part: int | None = None
    outline: list[tuple[float, float]] = Field(default=[], max_length=2000)
    matrix: list[float] = Field(default=[], max_length=16)
    eye: tuple[float, float, float] = (0.0, 0.0, 0.0)
    through: bool = False
    chosen: list[int] = Field(default=[], max_length=2_000_000)


class ChosenOut(Out):
    """The faces chosen."""

    faces: list[int]


class PartIn(BaseModel):
    """What a part is called and is; what is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=50)
    category: Category | None = None
    is_body: bool | None = None
    colour: int | None = Field(default=None, ge=0, le=11)


class AssignIn(BaseModel):
    """Faces that go to a part, or to a new one."""

    faces: list[int] = Field(min_length=1, max_length=2_000_000)
    part: int | None = None
    name: str | None = Field(default=None, min_length=1, max_length=50)


class MergeIn(BaseModel):
    """A part that goes into another."""

    part: int
    into: int


class RolesIn(BaseModel):
    """Which received joint does the work of which of ours; or, without a skeleton, where our joints stand (metres)."""

    roles: dict[str, str] | None = None
    places: dict[str, tuple[float, float, float]] | None = None
