"""Fabrics by their physical figures: those of the house, and the studio's own."""

from ...core.drape.swatch import Swatch, swatch
from ...core.errors import InputError
from ...core.memo import Memo
from ...core.model.steps.fabric import FABRICS, Fabric
from ...store.db import transaction
from ...store.stock import fabrics as store
from ..desk import Desk

_SWATCHES: Memo[Swatch] = Memo("swatches", 16 * 2**20)


def own() -> list[Fabric]:
    """Return the studio's own fabrics by name."""
    with transaction() as connection:
        return store.own_fabrics(connection)


def fabrics() -> list[Fabric]:
    """Return the fabrics of the house, then the studio's own."""
    return [*FABRICS.values(), *own()]


def keep(desk: Desk, fabric: Fabric) -> list[Fabric]:
    """Keep a fabric under its name, in the place of one of the studio's own that bears it; return all there are.

    Raises `InputError` for the name of one of the house.
    """
    kept = fabric.model_copy(update={"name": fabric.name.strip()})
    if not kept.name or kept.name in FABRICS:
        raise InputError(what=f"'{kept.name}' is a fabric of the house" if kept.name else "it has no name", where="the fabrics",
                         todo="Give it a name of its own.")
    with transaction() as connection:
        store.keep_fabric(connection, kept, desk.artist)
    return fabrics()


def forget(name: str) -> list[Fabric]:
    """Forget one of the studio's own fabrics; return those that are left."""
    with transaction() as connection:
        store.forget_fabric(connection, name)
    return fabrics()


def hung(fabric: Fabric) -> Swatch:
    """Hang a round of a fabric over a stand."""
    return _SWATCHES.of(fabric.model_dump_json(), lambda: swatch(fabric))
