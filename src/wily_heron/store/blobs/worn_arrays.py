"""A piece's own joints and correctives as arrays and plain notes, and back."""

from dataclasses import asdict
from typing import Any

import numpy as np

from ...core.figure.base.skeleton import Skin
from ...core.model.correctives import Corrective, PoseSpace
from ...core.model.riders import Riders
from ...core.model.spring import Spring
from ...core.model.state import Piece
from ...core.model.yields import Yields


def worn_arrays(piece: Piece) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return the arrays and notes of a piece's riders and correctives, empty where it has none."""
    arrays: dict[str, np.ndarray] = {}
    notes: dict[str, Any] = {}
    if (r := piece.riders) is not None:
        arrays |= {"rider_places": r.places, "rider_moves": r.moves, "rider_joints": r.skin.joints, "rider_weights": r.skin.weights,
                   "rider_above": r.above, "rider_ends": r.ends}
        notes["riders"] = {"first": r.first, "spring": r.spring and asdict(r.spring)}
    if piece.correctives and piece.fixes is not None:
        arrays["fixes"] = piece.fixes
        notes["correctives"] = [[c.name, [list(s) for s in c.shapes], c.pose] for c in piece.correctives]
    if (e := piece.examples) is not None:
        arrays |= {"example_turns": e.turns, "example_told": e.told, "example_width": e.width, "example_table": e.table}
        notes["examples"] = {"names": list(e.names), "joints": list(e.joints)}
    if piece.hidden is not None:
        arrays["hidden"] = piece.hidden
    if piece.left_out is not None:
        arrays["left_out"] = piece.left_out
    if (y := piece.yields) is not None:
        arrays |= {"yield_rows": y.rows, "yield_moves": y.moves}
        notes["yields"] = [[c.name, [list(s) for s in c.shapes], c.pose] for c in y.correctives]
    return arrays, notes


def arrays_worn(arrays: dict[str, np.ndarray], notes: dict[str, Any]) -> dict[str, Any]:
    """Return the fields of a `Piece` that `worn_arrays` wrote."""
    out: dict[str, Any] = {name: arrays[name] for name in ("hidden", "left_out") if name in arrays}
    if "riders" in notes:
        spring = notes["riders"]["spring"]
        out["riders"] = Riders(arrays["rider_places"], arrays["rider_moves"], Skin(arrays["rider_joints"], arrays["rider_weights"]),
                               arrays["rider_above"], arrays["rider_ends"], notes["riders"]["first"], Spring(**spring) if spring else None)
    if "correctives" in notes:
        out["correctives"] = _correctives(notes["correctives"])
        out["fixes"] = arrays["fixes"]
    if "yields" in notes:
        out["yields"] = Yields(_correctives(notes["yields"]), arrays["yield_rows"], arrays["yield_moves"])
    if "examples" in notes:
        e = notes["examples"]
        turns = arrays["example_turns"]
        told = arrays.get("example_told", np.ones(turns.shape[:2]))
        out["examples"] = PoseSpace(tuple(e["names"]), tuple(e["joints"]), turns, told, arrays["example_width"], arrays["example_table"])
    return out


def _correctives(notes: list[tuple[str, list[tuple[str, float]], str]]) -> tuple[Corrective, ...]:
    return tuple(Corrective(name, tuple((s, float(v)) for s, v in shapes), pose) for name, shapes, pose in notes)
