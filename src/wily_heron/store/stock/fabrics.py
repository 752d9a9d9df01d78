"""The studio's own fabrics by their physical figures."""

from psycopg.types.json import Jsonb

from ...core.errors import NotFound
from ...core.model.steps.fabric import Fabric
from ..db import Connection, changed, run
from ..events import notify


def own_fabrics(connection: Connection) -> list[Fabric]:
    """Return the studio's own fabrics by name."""
    return [Fabric.model_validate(found["figures"]) for found in run(connection, "own_fabrics")]


def keep_fabric(connection: Connection, fabric: Fabric, author: str) -> None:
    """Keep a fabric under its name, in the place of one that bears it."""
    run(connection, "keep_fabric", name=fabric.name, figures=Jsonb(fabric.model_dump(mode="json")), author=author)
    notify(connection, "fabrics")


def forget_fabric(connection: Connection, name: str) -> None:
    """Forget a fabric. Raises `NotFound` if there is none of that name."""
    if not changed(connection, "forget_fabric", name=name):
        raise NotFound(what=f"there is no fabric '{name}' of the studio's own", where="the fabrics", todo="Reload the room.")
    notify(connection, "fabrics")
