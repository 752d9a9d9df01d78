"""Loads the demo production, The Reedmarsh Night Post: three wearers, five poses, the oilskin coat on the bench."""

from wily_heron.api.queue import ask
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure_version
from wily_heron.core.piece.recipe import Bind, Fit, Follow, Place, Receive, Recipe
from wily_heron.formats.piece_read import read_piece_file
from wily_heron.store.arrays import mesh_bytes
from wily_heron.store.db import one, put_blob, run, transaction
from wily_heron.store.pieces import add_piece, change_recipe, renew_for
from wily_heron.store.wearers import add_wearer

from .coat import FILE

POSES = ("stand", "reach-up", "stride", "sit", "kneel")
AUTHOR = "Reedmarsh wardrobe"


def load(reset: bool = False) -> str:
    """Load the demo if there is no production yet (or anew with `reset`); return one line on what was done."""
    with transaction() as connection:
        if one(connection, "production") and not reset:
            return "there already"
        connection.execute("update piece set edit_id = null")
        run(connection, "drop_productions")
        production = run(connection, "add_production", name="The Reedmarsh Night Post")[0]["id"]
        renew_for(connection, figure_version())
        for name, shape in CAST.items():
            add_wearer(connection, production, name, shape, AUTHOR)
        for pose in POSES:
            run(connection, "add_pose", production=production, pose=pose)
        sha = put_blob(connection, mesh_bytes(read_piece_file(FILE)), "mesh")
        made_on = CAST["Ibbet"]
        steps = (Receive(), Place(), Fit(), Bind(), Follow())
        first = Recipe(made_on=made_on, steps=steps[:1])
        piece, edit = add_piece(connection, production, "Oilskin coat", "top", FILE.name, sha, first, AUTHOR)
        edits = [edit]
        labels = ("Place", "Fit to 9 mm", "Bind", "Follow all shapes")
        for n, label in enumerate(labels, 2):
            edit = change_recipe(connection, piece, Recipe(made_on=made_on, steps=steps[:n]), label, AUTHOR, None)
            edits.append(edit)
    for n, edit in enumerate(reversed(edits)):  # the standing one first; the others, for undo and "before", at leisure
        ask("evaluate_edit", priority=10 - n, edit=edit)
    return "three wearers, five poses, the oilskin coat"
