"""Taking a dressed body apart for good: out come a body with a wearer, and pieces already made for it."""

import numpy as np

from ...core.bench.recipe import Recipe
from ...core.bodies.divide import BODY
from ...core.bodies.inside_out import inside_out
from ...core.bodies.own_body import own_body
from ...core.model.free_name import free_name as free
from ...core.model.model import Model
from ...core.model.steps.bind import Bind
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Receive
from ...core.space.tree import TriangleTree
from ...store import aparts as store
from ...store.aparts import Part
from ...store.blobs.models import put_model
from ...store.db import Connection, transaction
from ...store.events import notify
from ...store.productions.bodies import put_body
from ...store.productions.outfits import add_outfit, outfits_of
from ...store.productions.wearers import add_wearer, free_name
from ...store.rail.pieces import add_piece, set_stock
from ...store.stock.items import Card, set_made_for
from .. import failures, work
from ..desk import Desk
from ..stock.taking_in import take_body, take_piece, title_of
from ..work import Ask, Work
from .divisions import Divided, get


def begin(desk: Desk, apart: int) -> Divided:
    """Make the body and the pieces, as a job: a body with a wearer in the cast, pieces on the rail and in stock."""
    get(apart)
    with transaction() as connection:
        store.begin_taking(connection, apart)
    desk.ask(work.take_apart(apart, desk.artist))
    return get(apart)


def waiting_work() -> list[Work]:
    """Return what a crash left being taken apart."""
    with transaction() as connection:
        return [work.take_apart(apart, "Artist") for apart in store.being_taken(connection)]


def take(apart: int, author: str, ask: Ask) -> None:
    """Make the body and the pieces of a dressed body as it is divided; what is wrong is told on its page. Safe to run twice."""
    now = get(apart)
    if now.row.state != "taking":
        return
    try:
        edits, items = _taken(now, author)
    except Exception as error:  # it must never be left being taken apart
        with transaction() as connection:
            store.end_taking(connection, apart, "failed", failures.explain(error, "taking apart", apart=apart))
        return
    for edit in edits:
        ask(work.evaluate(edit))
    for item in items:
        ask(work.draw(item))


def _taken(of: Divided, author: str) -> tuple[list[int], list[int]]:
    """Store what comes out; return the first edits of the pieces, and the items of the stock."""
    row, model, label = of.row, of.model, of.label
    body_at = next((k for k, part in enumerate(row.parts) if part.is_body and (label == k).any()), None)
    places = {name: np.array(at, float) for name, at in row.places.items()} if row.places else None
    own = None if body_at is None else own_body(model.part(label == body_at), row.roles, places)
    address, outfit = "", None
    edits: list[int] = []
    items: list[int] = []
    with transaction() as connection:
        if own is not None and body_at is not None:
            told = row.parts[body_at].name  # until an artist names it, it is called after its file
            name = free_name(connection, row.production, title_of(row.file_name) if told == BODY else told)
            address = put_body(connection, row.production, name, own, row.model, author)
            items.append(take_body(connection, name, address, own.found.vertices, row.file_name, author))
            taken = [o.name for o in outfits_of(connection, row.production)]
            outfit = add_outfit(connection, row.production, free(taken, f"{name}'s own"))  # what it came in is its own
            add_wearer(connection, row.production, name, {}, author, address, outfit)
        for k in _inside_out(of, body_at):
            item, edit = _piece(connection, of, model.part(label == k), row.parts[k], address, author, outfit)
            items.append(item)
            edits.append(edit)
        store.end_taking(connection, row.id, "taken", f"{'one body, ' if own else ''}{len(edits)} pieces")
        notify(connection, "cast")
    return edits, items


def _piece(connection: Connection, of: Divided, model: Model, part: Part, address: str, author: str,
           outfit: int | None) -> tuple[int, int]:
    """Put one part in stock and on the rail; return the item and its first edit."""
    card = Card(part.name, part.category, origin=f"taken from {of.row.file_name}")
    item, _ = take_piece(connection, model, f"{part.name}.glb", author, card)
    whose = MadeFor(name="the body it came on", body=address) if address else None
    steps: tuple[Receive | Bind | Follow, ...] = (Receive(unit="m", up="y", hand="right", facing="front", made_for=whose),)
    if address:
        set_made_for(connection, item, address)
        steps += (Bind(source="own") if model.skin is not None else Bind(), Follow())
    piece, edit = add_piece(connection, of.row.production, part.name, part.category, of.row.file_name, put_model(connection, model),
                            Recipe(body=address, made_on={}, steps=steps), author, outfit)
    set_stock(connection, piece, item)
    return item, edit


def _inside_out(of: Divided, body: int | None) -> list[int]:
    """Return the parts that are pieces, the innermost first: that is how they hang on the rail."""
    pieces = [k for k in range(len(of.row.parts)) if k != body and (of.label == k).any()]
    if body is None:
        return pieces
    mesh = of.model.mesh
    skin = TriangleTree(mesh.points, mesh.triangles[of.label == body])
    return inside_out(mesh.points, {k: mesh.triangles[of.label == k] for k in pieces}, skin)
