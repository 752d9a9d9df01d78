"""Taking a dressed body apart for good: out come a body with a wearer, and pieces already made for it."""

import numpy as np
import structlog

from ..core.bench.recipe import Recipe
from ..core.bodies.apart import propose
from ..core.bodies.own_body import own_body
from ..core.errors import HeronError
from ..core.model.model import Model
from ..core.model.steps.bind import Bind
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor, Receive
from ..core.receive.receive import receive
from ..core.space.tree import TriangleTree
from ..store import aparts
from ..store.bodies import put_body
from ..store.db import Connection, run, transaction
from ..store.events import notify
from ..store.models import get_model, put_model
from ..store.pieces import add_piece
from ..store.stock import Card, made_for
from ..store.wearers import add_wearer
from .queue import app
from .stocking import STATURE, take_body, take_in

log = structlog.get_logger()


def bring_dressed(connection: Connection, production: int, model: Model, name: str, author: str) -> int:
    """Put a dressed body upright and in metres, propose its parts, and keep it; return it."""
    upright = receive(model, Receive(mends=()), STATURE).brought
    proposal = propose(upright, STATURE)
    parts = [{"name": p.name, "is_body": p.is_body, "category": p.category, "colour": k % 12, "sure": p.sure, "why": p.why}
             for k, p in enumerate(proposal.parts)]
    return aparts.add_apart(connection, production, name, put_model(connection, upright), proposal.label, parts, author)


@app.task(name="take_apart")
def take_apart(apart: int, author: str) -> None:
    """Make the body and the pieces of a dressed body as it is divided; what is wrong is told on its page."""
    with transaction() as connection:
        row = aparts.get_apart(connection, apart)
        if row["state"] != "taking":
            return
        model, label = get_model(connection, row["model_sha"]), aparts.labels(connection, row)
    try:
        parts = row["parts"]
        body_at = next((k for k, part in enumerate(parts) if part["is_body"] and (label == k).any()), None)
        own = None
        if body_at is not None:
            own = own_body(model.part(label == body_at), row["roles"], _places(row["places"]))
        edits, items = [], []
        with transaction() as connection:
            production, address, wearer = row["production_id"], "", None
            if own is not None and body_at is not None:
                name = _free(connection, production, parts[body_at]["name"])
                address = put_body(connection, production, name, own, row["model_sha"], author)
                items.append(take_body(connection, name, address, own.found["vertices"], row["file_name"], author))
                wearer = add_wearer(connection, production, name, {}, author, address)
            for k in _inside_out(model, label, body_at, len(parts)):
                part = parts[k]
                item, edit = _piece(connection, row, model.part(label == k), part, address, author)
                items.append(item)
                edits.append(edit)
            run(connection, "apart_taken", apart=apart, outcome=f"{'one body, ' if wearer else ''}{len(edits)} pieces")
            notify(connection, "apart", apart=apart)
            notify(connection, "cast")
    except Exception as error:
        if not isinstance(error, HeronError):
            log.exception("taking apart failed", apart=apart)
        with transaction() as connection:
            run(connection, "apart_failed", apart=apart, problem=str(error) or type(error).__name__)
            notify(connection, "apart", apart=apart)
        return
    for edit in edits:
        app.configure_task("evaluate_edit", priority=10).defer(edit=edit)
    for item in items:
        app.configure_task("draw_strip", priority=1).defer(item=item)


def _piece(connection, row: dict, model, part: dict, address: str, author: str) -> tuple[int, int]:
    """Put one part in stock and on the rail; return the item and its first edit."""
    origin = f"taken from {row['file_name']}"
    item, _ = take_in(connection, model, f"{part['name']}.glb", author, Card(part["name"], part["category"], (), "", origin, ""))
    whose = MadeFor(name=part.get("of", "the body it came on"), body=address) if address else None
    if address:
        made_for(connection, item, address)
    steps = [Receive(unit="m", up="y", hand="right", facing="front", made_for=whose)]
    if address:
        steps += [Bind(source="own") if model.skin is not None else Bind(), Follow()]
    recipe = Recipe(body=address, made_on={}, steps=tuple(steps))
    piece, edit = add_piece(connection, row["production_id"], part["name"], part["category"], row["file_name"],
                            put_model(connection, model), recipe, author)
    run(connection, "from_stock", piece=piece, item=item)
    return item, edit


def _inside_out(model: Model, label: np.ndarray, body: int | None, count: int) -> list[int]:
    """Return the parts that are pieces, the nearest to the body's skin first: that is how they hang on the rail."""
    pieces = [k for k in range(count) if k != body and (label == k).any()]
    if body is None:
        return pieces
    mesh = model.mesh
    skin = TriangleTree(mesh.points, mesh.triangles[label == body])
    lift = {k: float(np.median(skin.signed_distance(mesh.points[np.unique(mesh.triangles[label == k])])[0])) for k in pieces}
    return sorted(pieces, key=lambda k: lift[k])


def _free(connection, production: int, name: str) -> str:
    taken, made, n = {w["name"] for w in run(connection, "cast_of", production=production)}, name, 2
    while made in taken:
        made, n = f"{name} {n}", n + 1
    return made


def _places(places: dict | None) -> dict[str, np.ndarray] | None:
    return {name: np.array(at, float) for name, at in places.items()} if places else None


