"""What every alteration is made of, and the small models that several of them share."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

Vector = tuple[float, float, float]
Quaternion = tuple[float, float, float, float]


class Altering(BaseModel):
    """A frozen model that takes no field it does not know and no number that is none."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Alteration(Altering):
    """One recorded step on a piece; its `kind` tells it from the others."""

    kind: Any  # a step narrows it to its own literal, which a `str` that can be assigned would not allow


class Dab(Altering):
    """A touch of a soft brush: about the received row `at`, `radius` metres along the surface, adding `value` at its middle."""

    at: int = Field(ge=0)
    radius: float = Field(gt=0.0, le=1.0)
    value: float = Field(ge=-1.0, le=1.0)


class Cell(Altering):
    """One wearer in one pose: shape settings by name and a pose name; a pose of one's own brings its `rotations` along."""

    shape: dict[str, float] = Field(default_factory=dict)
    pose: str = "rest"
    rotations: dict[str, Quaternion] | None = None
