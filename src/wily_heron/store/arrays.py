"""Pieces to compressed bytes and back, for blobs."""

import io
import zlib
from collections.abc import Mapping

import numpy as np
import orjson

from ..core.figure.base.skeleton import Skin
from ..core.mesh.mesh import Material, Mesh
from ..core.model.state import Piece
from .worn_arrays import STEP, arrays_worn, worn_arrays


def piece_bytes(piece: Piece, textures: Mapping[str, str] | None = None) -> bytes:
    """Return a piece (mesh, skin, shape deltas) as compressed bytes; `textures` are addresses by the names its materials use."""
    arrays = mesh_arrays(piece.mesh) | {"made_at": piece.made_at}
    if piece.skin is not None:
        arrays |= {"skin_joints": piece.skin.joints, "skin_weights": piece.skin.weights}
    if piece.deltas is not None:
        arrays["deltas"] = piece.deltas
    arrays |= {name: a for name, a in (("trouble", piece.trouble), ("protect", piece.protect)) if a is not None}
    more, notes = worn_arrays(piece)
    return pack(arrays | more, {"materials": material_notes(piece.mesh), "report": piece.report, "textures": dict(textures or {}), **notes})


def bytes_piece(data: bytes) -> Piece:
    """Return the piece of `piece_bytes`."""
    arrays, notes = unpack(data)
    skin = Skin(arrays["skin_joints"], arrays["skin_weights"]) if "skin_joints" in arrays else None
    return Piece(arrays_mesh(arrays, notes), arrays["made_at"], skin, arrays.get("deltas"), notes.get("report", {}),
                 trouble=arrays.get("trouble"), protect=arrays.get("protect"), **arrays_worn(arrays, notes))


def piece_textures(data: bytes) -> dict[str, str]:
    """Return the addresses of the textures of `piece_bytes`, by name."""
    return unpack(data)[1].get("textures", {})


def mesh_arrays(mesh: Mesh) -> dict[str, np.ndarray]:
    """Return the arrays of a mesh by name."""
    arrays = {"points": mesh.points, "triangles": mesh.triangles, "triangle_material": mesh.triangle_material, "polygon": mesh.polygon}
    more = {"corner_uv": mesh.corner_uv, "corner_fold": mesh.corner_fold, "received": mesh.received}
    return arrays | {name: array for name, array in more.items() if array is not None}


def arrays_mesh(arrays: dict[str, np.ndarray], notes: dict) -> Mesh:
    """Return the mesh of `mesh_arrays` with the materials in `notes`."""
    materials = tuple(Material(m[0], tuple(m[1]), *m[2:]) for m in notes["materials"])
    return Mesh(arrays["points"], arrays["triangles"], arrays.get("corner_uv"), arrays["triangle_material"], arrays["polygon"], materials,
                arrays.get("corner_fold"), arrays.get("received"))


def material_notes(mesh: Mesh) -> list:
    """Return the materials of a mesh as plain lists."""
    return [[m.name, list(m.colour), m.roughness, m.metal, m.colour_map, m.normal_map, m.rough_map] for m in mesh.materials]


def pack(arrays: dict[str, np.ndarray], notes: dict) -> bytes:
    """Return arrays and notes as compressed bytes."""
    return zlib.compress(array_frame(arrays, notes), 1)


def unpack(data: bytes) -> tuple[dict[str, np.ndarray], dict]:
    """Return the arrays and notes of `pack`."""
    raw = zlib.decompress(data)
    size = int.from_bytes(raw[:4], "little")
    head = orjson.loads(raw[4:4 + size])
    arrays = {}
    for a in head["arrays"]:
        count = int(np.prod(a["shape"]))
        arrays[a["name"]] = np.frombuffer(raw, a["dtype"], count, 4 + size + a["offset"]).reshape(a["shape"]).copy()
    return arrays, head["notes"]


def moved_rows(deltas: np.ndarray) -> dict[str, np.ndarray]:
    """Return shape deltas (s, n, 3) as the rows each shape moves: `delta_counts` (s,), `delta_rows` (r,), `delta_steps` (r, 3).

    A step is a hundredth of a millimetre; rows that move less than half of that are left out.
    """
    steps = np.round(deltas / STEP)
    counts, rows, kept = [], [], []
    for shape in steps:
        moved = np.flatnonzero(shape.any(axis=1))
        counts.append(len(moved))
        rows.append(moved)
        kept.append(shape[moved])
    return {"delta_counts": np.array(counts, "<i4"), "delta_rows": np.concatenate(rows).astype("<i4"),
            "delta_steps": np.clip(np.concatenate(kept), -32767, 32767).astype("<i2")}


def array_frame(arrays: dict[str, np.ndarray], notes: dict) -> bytes:
    """Return arrays as one frame: u32 header length, JSON header (name, dtype, shape, offset of each; notes), then the data.

    Offsets count from the end of the header and are multiples of 8; so is the header's end.
    """
    listed, chunks, at = [], io.BytesIO(), 0
    for name, array in arrays.items():
        raw = np.ascontiguousarray(array).tobytes()
        listed.append({"name": name, "dtype": array.dtype.str, "shape": list(array.shape), "offset": at})
        chunks.write(raw + b"\0" * (-len(raw) % 8))
        at += len(raw) + (-len(raw) % 8)
    head = orjson.dumps({"arrays": listed, "notes": notes}, option=orjson.OPT_SERIALIZE_NUMPY)
    head += b" " * (-(len(head) + 4) % 8)
    return len(head).to_bytes(4, "little") + head + chunks.getvalue()
