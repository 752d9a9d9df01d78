"""A piece's own joints and correctives as arrays and plain notes, and back."""

from dataclasses import asdict
from typing import Any

import numpy as np

from ..core.figure.base.skeleton import Skin
from ..core.model.correctives import Corrective, PoseSpace
from ..core.model.riders import Riders
from ..core.model.spring import Spring
from ..core.model.state import Piece
from ..core.model.yields import Yields

STEP = 1e-5
"""Moves go over the wire as multiples of this many metres."""


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


def _correctives(notes: list) -> tuple[Corrective, ...]:
    return tuple(Corrective(name, tuple((s, float(v)) for s, v in shapes), pose) for name, shapes, pose in notes)


def stage_arrays(piece: Piece) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return what the stage needs to move a piece's own joints and bring in its correctives, in the types it draws with."""
    arrays: dict[str, np.ndarray] = {}
    notes: dict[str, Any] = {"correctives": [], "riders": None, "examples": None}
    if (r := piece.riders) is not None:
        arrays |= {"rider_places": r.places.astype("<f4"), "rider_moves": r.moves.astype("<f4"),
                   "rider_joints": r.skin.joints.astype("<u2"), "rider_weights": r.skin.weights.astype("<f4"),
                   "rider_above": r.above.astype("<i4"), "rider_ends": r.ends.astype("<f4")}
        notes["riders"] = {"first": r.first, "spring": r.spring and asdict(r.spring)}
    if piece.hidden is not None:
        arrays["hidden"] = piece.hidden.astype("<i4")
    if piece.left_out is not None:
        arrays["left_out"] = piece.left_out.astype("<i4")
    e = piece.examples
    if e is not None:
        kept = {"turns": e.turns, "told": e.told, "width": e.width, "table": e.table}
        arrays |= {f"example_{name}": array.astype("<f4") for name, array in kept.items()}
        notes["examples"] = {"joints": list(e.joints), "count": len(e.names)}
    told = lambda of: [{"shapes": [list(s) for s in c.shapes], "example": e.names.index(c.pose) if e is not None and c.pose else -1}  # noqa: E731
                       for c in of]
    notes["correctives"] = told(piece.correctives)
    if (y := piece.yields) is not None:
        notes["yields"] = told(y.correctives)
        arrays |= {"yield_rows": y.rows.astype("<i4"), "yield_steps": np.round(y.moves / STEP).astype("<i2")}
    return arrays, notes
