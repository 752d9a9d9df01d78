"""Loads the demo production, The Reedmarsh Night Post: three wearers, five poses, a base layer and the oilskin coat on the bench, and a
tabard to cut."""

import re
from dataclasses import dataclass
from pathlib import Path

from wily_heron.core.bench.recipe import Recipe
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure, figure_version
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Place, Receive
from wily_heron.core.table.blocks import block_layout
from wily_heron.formats.piece_read import read_model_file
from wily_heron.jobs.queue import ask
from wily_heron.store.blobs.models import put_model
from wily_heron.store.db import Connection, transaction
from wily_heron.store.layouts import add_layout
from wily_heron.store.productions.all_productions import begin_anew, has_productions, hold_demo
from wily_heron.store.productions.production import new_figure, put_on_axis
from wily_heron.store.productions.wearers import add_wearer
from wily_heron.store.rail.pieces import add_piece, change_recipe
from wily_heron.store.stock.items import Card, empty
from wily_heron.studio import work
from wily_heron.studio.apart.divisions import bring_dressed
from wily_heron.studio.stock.taking_in import take_piece

from . import THERE, base_layer, coat, dressed
from .stock import stock, textures_of
from .stock_order import order, take_others

POSES = ("stand", "reach-up", "stride", "sit", "kneel")
AUTHOR = "Reedmarsh wardrobe"


def load(reset: bool) -> str:
    """Load the demo production where there is none, or to `reset` it: what the studio has in stock is then gone too. Return one line on
    what was done."""
    with transaction() as connection:
        hold_demo(connection)  # another start, or a browser, may be about to load it too
        if has_productions(connection) and not reset:
            return THERE
        production = begin_anew(connection, "The Reedmarsh Night Post")
        new_figure(connection, figure_version())
        cast = {name: add_wearer(connection, production, name, shape, AUTHOR) for name, shape in CAST.items()}
        tabard = block_layout("tabard", shaped(figure(), CAST["Ibbet"]), {"length": 0.5})
        add_layout(connection, production, "Mail tabard", tabard, cast["Ibbet"], CAST["Ibbet"], AUTHOR)
        for pose in POSES:
            put_on_axis(connection, production, pose)
        if reset:
            empty(connection)
        others = take_others(connection, AUTHOR)
        kept = []
        for piece in reversed(stock()):
            card = Card(piece.name, piece.category, piece.tags, piece.note, piece.origin, "made for this film")
            model = Model(piece.mesh, textures=textures_of(piece.mesh))
            kept.append(take_piece(connection, model, f"{re.sub('[^a-z]+', '-', piece.name.lower())}.obj", AUTHOR, card)[0])
        order(connection, dict(zip((p.name for p in reversed(stock())), kept, strict=True)), AUTHOR)
        bring_dressed(connection, production, read_model_file(dressed.FILE), dressed.FILE.name, "Marsh End figures")
        edits = [edit for piece in PIECES for edit in _add(connection, production, piece)]
    for n, edit in enumerate(reversed(edits)):  # the standing one first; the others, for undo and "before", at leisure
        ask(work.evaluate(edit, 10 - n))
    for item in (*reversed(kept), *others):
        ask(work.draw(item))
    return "three wearers, five poses, two pieces, a stockroom, a tabard on the cutting table"


def _add(connection: Connection, production: int, piece: "_Sent") -> list[int]:
    """Put a piece on the rail with its steps in working order; return its edits, the standing one last."""
    sha = put_model(connection, read_model_file(piece.file))
    made_on = CAST["Ibbet"]
    steps = (Receive(), Place(), Fit(ease=piece.ease, keep=piece.keep), Bind(), Follow())
    first = Recipe(made_on=made_on, steps=steps[:1])
    added, edit = add_piece(connection, production, piece.name, piece.category, piece.file.name, sha, first, AUTHOR)
    edits = [edit]
    for n, label in enumerate(("Place", f"Fit to {1000 * piece.ease:.0f} mm", "Bind", "Follow all shapes"), 2):
        edits.append(change_recipe(connection, added, Recipe(made_on=made_on, steps=steps[:n]), label, AUTHOR, None))
    return edits


@dataclass(frozen=True)
class _Sent:
    """A piece as another studio sent it, and how it is fitted."""

    name: str
    category: str
    file: Path
    ease: float
    keep: float


PIECES = (_Sent("Base layer", "suit", base_layer.FILE, 0.002, 0.9), _Sent("Oilskin coat", "top", coat.FILE, 0.009, 0.7))
