"""Received models to compressed bytes and back, textures kept as blobs of their own."""

from typing import Any

import numpy as np

from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.model.model import Model, Texture
from ...core.motion.motion import Motion
from ..db import Connection, get_blob, put_blob
from .arrays import arrays_mesh, material_notes, mesh_arrays, pack, unpack


def put_model(connection: Connection, model: Model) -> str:
    """Store a model and its textures; return its address. The same model has the same address."""
    arrays = mesh_arrays(model.mesh)
    notes: dict[str, Any] = {"materials": material_notes(model.mesh), "objects": list(model.objects)}
    if len(model.objects) > 1:
        arrays["triangle_object"] = model.triangle_object
    if model.skeleton is not None and model.skin is not None:
        arrays |= {"joints": model.skeleton.positions, "parents": model.skeleton.parents, "skin_joints": model.skin.joints,
                   "skin_weights": model.skin.weights}
        notes["joints"] = list(model.skeleton.names)
    if model.morphs:
        arrays["deltas"] = model.deltas
        notes["morphs"] = list(model.morphs)
    for k, clip in enumerate(model.clips):
        arrays |= {f"clip{k}_offsets": clip.offsets, f"clip{k}_rotations": clip.rotations.astype(np.float32), f"clip{k}_root": clip.root,
                   f"clip{k}_parents": clip.parents}
    if model.clips:
        notes["clips"] = [{"name": clip.name, "names": list(clip.names), "seconds": clip.seconds} for clip in model.clips]
    if model.textures:
        notes["textures"] = [[t.name, put_blob(connection, t.data, "texture"), t.media] for t in model.textures]
    return put_blob(connection, pack(arrays, notes), "mesh")


def get_model(connection: Connection, sha: str) -> Model:
    """Return the model stored under `sha`."""
    arrays, notes = unpack(get_blob(connection, sha))
    skeleton = skin = None
    if "joints" in notes:
        skeleton = Skeleton(tuple(notes["joints"]), arrays["parents"], arrays["joints"])
        skin = Skin(arrays["skin_joints"], arrays["skin_weights"])
    clips = tuple(Motion(c["name"], tuple(c["names"]), arrays[f"clip{k}_parents"], arrays[f"clip{k}_offsets"],
                         arrays[f"clip{k}_rotations"].astype(np.float64), arrays[f"clip{k}_root"], c["seconds"])
                  for k, c in enumerate(notes.get("clips", [])))
    textures = tuple(Texture(name, get_blob(connection, at), media) for name, at, media in notes.get("textures", []))
    mesh = arrays_mesh(arrays, notes)
    return Model(mesh, skeleton, skin, tuple(notes.get("morphs", ())), arrays.get("deltas", np.zeros((0, 0, 3), np.float32)), clips,
                 textures, tuple(notes.get("objects", ("piece",))), arrays.get("triangle_object", np.zeros(0, np.int32)))


def texture_addresses(connection: Connection, sha: str) -> dict[str, str]:
    """Return the address of each texture of the model under `sha`, by its name."""
    _, notes = unpack(get_blob(connection, sha))
    return {name: at for name, at, _ in notes.get("textures", [])}
