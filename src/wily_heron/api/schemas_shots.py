"""Wire types of the production's shots."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from ..core.clearance.find.shots import Shot
from .schemas_base import Out


class ShotIn(BaseModel):
    """A shot, for every cell or only for a wearer's or a column's of the sheet."""

    model_config = ConfigDict(extra="forbid")
    shot: Shot
    wearer: int | None = None
    pose: str | None = Field(default=None, max_length=120)


class ShotOut(Out):
    """A shot of the production and the cells it shows."""

    id: int
    shot: Shot
    wearer: int | None
    pose: str | None


def shots_out(kept: list[dict[str, Any]]) -> list[ShotOut]:
    """Return shots as they go over the wire."""
    return [ShotOut(id=s["id"], shot=Shot.model_validate(s["camera"]), wearer=s["wearer_id"], pose=s["pose"]) for s in kept]
