"""What all that goes over the wire shares."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

Category = Literal["top", "bottom", "dress", "suit", "footwear", "glove", "headwear", "hair", "beard", "rigid"]


class Out(BaseModel):
    """What the server sends: nothing in it is left out."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


class ProblemOut(Out):
    """What was wrong, where, and what to do."""

    what: str
    where: str
    todo: str
