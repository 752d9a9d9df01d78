"""What all that goes over the wire shares."""

from typing import Any, Literal, Self

from fastapi import Response
from pydantic import BaseModel, ConfigDict

Category = Literal["top", "bottom", "dress", "suit", "footwear", "glove", "headwear", "hair", "beard", "rigid"]
FOR_EVER = {"Cache-Control": "public, max-age=31536000, immutable"}
"""For what stands under the address of its content."""


class Out(BaseModel):
    """What the server sends: nothing in it is left out."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    @classmethod
    def of(cls, found: Any) -> Self:
        """Return it with what it names of `found`, a row or another typed result."""
        return cls.model_validate(found, from_attributes=True)


class ProblemOut(Out):
    """What was wrong, where, and what to do."""

    what: str
    where: str
    todo: str


def answers(*media: str) -> dict[int | str, dict[str, Any]]:
    """Return what a route that answers with bytes says of them."""
    return {200: {"content": {kind: {} for kind in media}}}


BINARY = answers("application/octet-stream")


def frame(data: bytes, keep: dict[str, str] | None = None) -> Response:
    """Return arrays as one frame."""
    return Response(data, media_type="application/octet-stream", headers=keep)


def file(data: bytes, name: str, media: str) -> Response:
    """Return a file to be saved under a name."""
    return Response(data, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"})
