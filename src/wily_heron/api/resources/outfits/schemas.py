"""Outfits on the wire."""

from pydantic import BaseModel, Field

from ...wire import Out


class OutfitOut(Out):
    """An outfit: how many pieces hang in it, which wearers have it on, and which own it."""

    id: int
    name: str
    pieces: int
    worn_by: list[int]
    owners: list[int]


class OutfitIn(BaseModel):
    """A new outfit: empty or with copies of the pieces of another (`like`), put on a wearer or on nobody."""

    name: str = Field(min_length=1, max_length=60)
    like: int | None = None
    wearer: int | None = None


class OutfitNameIn(BaseModel):
    """What an outfit is called."""

    name: str = Field(min_length=1, max_length=60)


class PutOnIn(BaseModel):
    """The outfit that a wearer changes into."""

    outfit: int
