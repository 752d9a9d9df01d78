"""What changed, told to everyone who listens: one small message when a transaction commits."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

from .db import Connection, run

What = Literal["hello", "piece", "cast", "poses", "shots", "trial", "plan", "hunt", "wear", "bake", "fall", "layout", "fabrics", "stock",
               "apart"]


class Event(BaseModel):
    """What changed, and the number of it where it has one. `hello` is said to those who have just begun to listen."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    what: What
    piece: int | None = None
    trial: int | None = None
    plan: int | None = None
    hunt: int | None = None
    run: int | None = None
    layout: int | None = None
    apart: int | None = None

    def message(self) -> str:
        """Return it as JSON, without what it has none of."""
        return self.model_dump_json(exclude_none=True)


def notify(connection: Connection, what: What, **number: int) -> None:
    """Notify every listener when the transaction commits. Raises `ValidationError` for an event that is not declared."""
    run(connection, "tell", payload=Event.model_validate({"what": what, **number}).message())
