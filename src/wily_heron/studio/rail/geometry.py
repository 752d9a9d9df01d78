"""A piece as the stage draws it."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from ...core.memo import Memo
from ...core.model.correctives import Corrective
from ...core.model.state import Piece
from ...formats.array_frame import STEP, array_frame, moved_rows
from ...store.blobs.arrays import bytes_piece, piece_textures
from ...store.db import blob_named, transaction

_FRAMES: Memo[bytes] = Memo("pieces for the stage", 192 * 2**20)


def piece_frame(sha: str) -> bytes:
    """Return the piece stored under `sha` as one frame: mesh, skin, shape deltas, its own joints and correctives, its materials.

    Raises `NotFound` if there is none.
    """
    return _FRAMES.of(sha, lambda: _frame(sha))


def _frame(sha: str) -> bytes:
    with transaction() as connection:
        data = blob_named(connection, sha, "geometry")
    piece = bytes_piece(data)
    arrays = {"points": piece.mesh.points, "triangles": piece.mesh.triangles, "triangle_material": piece.mesh.triangle_material,
              "made_at": piece.made_at.astype("<f4")}
    if piece.skin is not None:
        arrays |= {"skin_joints": piece.skin.joints.astype("<u2"), "skin_weights": piece.skin.weights}
    moved, notes = _moved(piece)
    arrays |= moved
    moves = piece.deltas
    if piece.fixes is not None:  # a piece that follows no shape may yet have correctives for poses
        still = np.zeros((len(piece.made_at), *piece.mesh.points.shape), np.float32)
        moves = np.concatenate([still if moves is None else moves, piece.fixes])
    if moves is not None:
        arrays |= moved_rows(moves)
    arrays |= {name: a.astype("<f4") for name, a in (("trouble", piece.trouble), ("protect", piece.protect)) if a is not None}
    if piece.mesh.received is not None:
        arrays["received"] = piece.mesh.received.astype("<i4")
    if piece.mesh.corner_uv is not None and any(m.maps() for m in piece.mesh.materials):
        arrays["corner_uv"] = piece.mesh.corner_uv
    addresses = piece_textures(data)
    materials = [{"name": m.name, "colour": m.colour, "roughness": m.roughness, "metal": m.metal,
                  "colour_map": addresses.get(m.colour_map or ""), "normal_map": addresses.get(m.normal_map or ""),
                  "rough_map": addresses.get(m.rough_map or "")} for m in piece.mesh.materials]
    return array_frame(arrays, {"materials": materials, **notes})


def _moved(piece: Piece) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
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
        kept = {"turns": e.turns, "told": e.relevance, "width": e.width, "table": e.table}
        arrays |= {f"example_{name}": array.astype("<f4") for name, array in kept.items()}
        notes["examples"] = {"joints": list(e.joints), "count": len(e.names)}

    def notes_of(of: Sequence[Corrective]) -> list[dict[str, Any]]:
        return [{"shapes": [list(s) for s in c.shapes], "example": e.names.index(c.pose) if e is not None and c.pose else -1} for c in of]

    notes["correctives"] = notes_of(piece.correctives)
    if (y := piece.yields) is not None:
        notes["yields"] = notes_of(y.correctives)
        arrays |= {"yield_rows": y.rows.astype("<i4"), "yield_steps": np.round(y.moves / STEP).astype("<i2")}
    return arrays, notes
