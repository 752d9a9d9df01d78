"""The list of productions on the wire."""

from datetime import datetime

from pydantic import BaseModel, Field

from ...wire import Out


class FaceOut(Out):
    """A wearer on a production's card."""

    wearer: int
    name: str


class ProductionLineOut(Out):
    """A production on the first page: when it was opened last, what is in it (`bytes` of its pieces), who worked there last."""

    id: int
    name: str
    made_at: datetime
    opened_at: datetime
    binned_at: datetime | None
    wearers: int
    pieces: int
    poses: int
    bytes: int
    artists: list[str]
    faces: list[FaceOut]


class NameIn(BaseModel):
    """What a production is called."""

    name: str = Field(min_length=1, max_length=80)
