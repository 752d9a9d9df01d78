"""Pieces to compressed bytes and back, for blobs."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from ...core.bench.reports import read_reports
from ...core.figure.base.skeleton import Skin
from ...core.mesh.mesh import Material, Mesh
from ...core.model.report import report_notes
from ...core.model.state import Piece
from ...formats.array_frame import pack, unpack


def piece_bytes(piece: Piece, textures: Mapping[str, str] | None = None) -> bytes:
    """Return a piece (mesh, skin, shape deltas) as compressed bytes; `textures` are addresses by the names its materials use."""
    arrays = mesh_arrays(piece.mesh) | {"made_at": piece.made_at}
    if piece.skin is not None:
        arrays |= {"skin_joints": piece.skin.joints, "skin_weights": piece.skin.weights}
    more, notes = piece.attached()
    own = {"materials": material_notes(piece.mesh), "report": report_notes(piece.reports), "textures": dict(textures or {})}
    return pack(arrays | more, own | notes)


def bytes_piece(data: bytes) -> Piece:
    """Return the piece of `piece_bytes`."""
    arrays, notes = unpack(data)
    skin = Skin(arrays["skin_joints"], arrays["skin_weights"]) if "skin_joints" in arrays else None
    piece = Piece(arrays_mesh(arrays, notes), arrays["made_at"], skin, reports=read_reports(notes.get("report", {})))
    return piece.with_attached(arrays, notes)


def piece_textures(data: bytes) -> dict[str, str]:
    """Return the addresses of the textures of `piece_bytes`, by name."""
    return unpack(data)[1].get("textures", {})


def mesh_arrays(mesh: Mesh) -> dict[str, np.ndarray]:
    """Return the arrays of a mesh by name."""
    arrays = {"points": mesh.points, "triangles": mesh.triangles, "triangle_material": mesh.triangle_material, "polygon": mesh.polygon}
    more = {"corner_uv": mesh.corner_uv, "corner_fold": mesh.corner_fold, "received": mesh.received}
    return arrays | {name: array for name, array in more.items() if array is not None}


def arrays_mesh(arrays: dict[str, np.ndarray], notes: dict[str, Any]) -> Mesh:
    """Return the mesh of `mesh_arrays` with the materials in `notes`."""
    materials = tuple(Material(m[0], tuple(m[1]), *m[2:]) for m in notes["materials"])
    return Mesh(arrays["points"], arrays["triangles"], arrays.get("corner_uv"), arrays["triangle_material"], arrays["polygon"], materials,
                arrays.get("corner_fold"), arrays.get("received"))


def material_notes(mesh: Mesh) -> list[list[Any]]:
    """Return the materials of a mesh as plain lists."""
    return [[m.name, list(m.colour), m.roughness, m.metal, m.colour_map, m.normal_map, m.rough_map] for m in mesh.materials]
