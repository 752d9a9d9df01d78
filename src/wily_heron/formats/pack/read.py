"""A .glb written to the pack contract, back to core types."""

from typing import Any

import numpy as np

from ...core.errors import InputError
from ...core.figure.base.body import Body
from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.figure.figure import figure
from ...core.mesh.mesh import Mesh
from ...core.mesh.ops.folds import corner_folds
from ...core.model.pack import Pack, PackedPiece
from ...core.model.state import Piece
from ...core.model.yields import Yields
from ..gltf.glb import GlbReader
from ..gltf.materials import Pictures
from .riders import noted_correctives, noted_worn


def read_pack(data: bytes, name: str) -> Pack:
    """Return the pack in `data`; raises `InputError` naming what is missing or damaged."""
    file = GlbReader(data, name)
    try:
        return _pack(file)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError) as bad:
        raise InputError(what=f"it is not a whole pack ({type(bad).__name__}: {bad})", where=name,
                         todo="Give a .glb packed by the Packing room, ./heron fit or ./heron body.") from None


def _pack(file: GlbReader) -> Pack:
    j = file.json
    extras: dict[str, Any] = j["scenes"][j.get("scene", 0)].get("extras", {}).get("wily_heron", {})
    if not extras:
        raise InputError(what="the scene carries no wily_heron notes", where=file.name,
                         todo="Give a .glb packed by the Packing room, ./heron fit or ./heron body.")
    every = j["skins"][0]["joints"]
    joints = [n for n in every if not str(j["nodes"][n].get("name", "")).startswith("part:")]
    if joints != every[: len(joints)]:
        raise InputError(what="its pieces' own joints stand before the skeleton's", where=file.name, todo="Pack it again.")
    names = tuple(str(j["nodes"][i]["name"]) for i in joints)
    parents = np.full(len(joints), -1, np.int32)
    for row, node in enumerate(joints):
        for child in j["nodes"][node].get("children", []):
            if child in joints:
                parents[joints.index(child)] = row
    inverse = file.array(j["skins"][0]["inverseBindMatrices"]).reshape(-1, 4, 4)[: len(joints)]
    skeleton = Skeleton(names, parents, -inverse[:, 3, :3].astype(np.float64))
    by_name = {n.get("name"): n for n in j["nodes"] if "mesh" in n}
    pictures = Pictures(file, {})
    mesh, skin, deltas, shapes = _mesh(file, by_name["body"]["mesh"], len(every), pictures)
    own = sum(not s.startswith("yield:") for s in shapes)  # what follows is how the skin gives way under pieces
    shapes, deltas, given = shapes[:own], deltas[:own], deltas[own:]
    made_at = np.array([float(extras["wearer"]["shape"].get(s, 0.0)) for s in shapes])
    moves = np.array([extras["joint_moves"][s] for s in shapes]).reshape(len(shapes), len(joints), 3)
    floor = np.array(extras.get("floor_vertices", []), np.int64)
    floor = floor[floor < len(mesh.points)]
    body = Body(mesh.points, mesh.triangles, skeleton, skin, shapes, deltas, moves, made_at, floor, mesh.corner_uv,
                figure(1).skeleton if extras.get("own_body") else None)
    pieces = []
    for entry in extras.get("pieces", []):
        node = by_name[entry["node"]]
        mesh, skin, deltas, _ = _mesh(file, node["mesh"], len(every), pictures)
        if "skin" not in node:
            holder = next(i for i, n in enumerate(every) if j["nodes"].index(node) in j["nodes"][n].get("children", []))
            skin = Skin(np.tile(np.array([holder, 0, 0, 0], np.int32), (len(mesh.points), 1)),
                        np.tile(np.array([1, 0, 0, 0], np.float32), (len(mesh.points), 1)))
        worn = noted_worn(entry, len(joints), len(shapes), deltas)
        if "riders" in worn:
            begin = every.index(next(n for n in every if j["nodes"][n]["name"] == f"part:{entry['node'].removeprefix('piece:')}:1"))
            skin = Skin(np.where(skin.joints >= len(joints), skin.joints - begin + len(joints), skin.joints), skin.weights)
        hides = np.array(entry.get("hides", []), np.int64)
        hidden = hides[(hides >= 0) & (hides < len(body.triangles))].astype(np.int32)
        left_out = np.array(entry.get("leaves_out", []), np.int64)
        left_out = left_out[(left_out >= 0) & (left_out < len(mesh.triangles))].astype(np.int32)
        correctives = noted_correctives(entry.get("yields", []))
        moves, given = given[: len(correctives)], given[len(correctives) :]
        rows = np.flatnonzero(moves.any(axis=(0, 2))).astype(np.int32)
        yields = Yields(correctives, rows, moves[:, rows]) if len(rows) else None
        piece = Piece(mesh, made_at, skin, deltas[: len(shapes)], hidden=hidden if len(hidden) else None, yields=yields,
                      left_out=left_out if len(left_out) else None, **worn)
        pieces.append(PackedPiece(entry["name"], entry["category"], piece, entry["ease_mm"] / 1000))
    return Pack(body, str(extras["wearer"]["name"]), tuple(pieces), extras.get("cast", {}), {}, extras.get("clearance", {}),
                textures=tuple(pictures.textures.values()))


def _mesh(file: GlbReader, index: int, joint_count: int, pictures: Pictures):
    """Return the welded mesh, its skin, shape deltas and shape names; split vertices with one position are one vertex again."""
    entry = file.json["meshes"][index]
    first = entry["primitives"][0]
    points = file.array(first["attributes"]["POSITION"])
    _, rows, place = np.unique(points, axis=0, return_index=True, return_inverse=True)
    order = np.argsort(rows, kind="stable")  # keep the file's order of first appearance
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    rows, place = rows[order], rank[place.ravel()]
    triangles, material, uv, materials, facing = [], [], [], [], []
    normals = file.array(first["attributes"]["NORMAL"])
    uvs = file.array(first["attributes"]["TEXCOORD_0"]) if "TEXCOORD_0" in first["attributes"] else None
    for k, primitive in enumerate(entry["primitives"]):
        t = file.array(primitive["indices"]).astype(np.int64).reshape(-1, 3)
        if t.size and t.max() >= len(points):
            raise InputError(what=f"a face points to vertex {int(t.max())} of {len(points)}", where=f"{file.name}, mesh {entry['name']}",
                             todo="The file is cut off or damaged: export it again.")
        triangles.append(place[t])
        material.append(np.full(len(t), k))
        if uvs is not None:
            uv.append(np.stack([uvs[t][..., 0], 1.0 - uvs[t][..., 1]], axis=-1))
        facing.append(normals[t])
        materials.append(pictures.material(primitive["material"]))
    sets = [k for k in range(2) if f"JOINTS_{k}" in first["attributes"]]
    joints, weights = np.zeros((len(rows), 4), np.int32), np.zeros((len(rows), 4), np.float32)
    if sets:
        joints = np.concatenate([file.array(first["attributes"][f"JOINTS_{k}"]).astype(np.int32)[rows] for k in sets], axis=1)
        weights = np.concatenate([file.array(first["attributes"][f"WEIGHTS_{k}"])[rows] for k in sets], axis=1)
    if joints.max() >= joint_count:
        raise InputError(what=f"a vertex follows joint {int(joints.max())} of {joint_count}", where=file.name, todo="Export it again.")
    skin = Skin(np.ascontiguousarray(joints), np.ascontiguousarray(weights))
    targets = first.get("targets", [])
    deltas = np.array([file.array(t["POSITION"])[rows] for t in targets], np.float32).reshape(len(targets), len(rows), 3)
    mesh = Mesh(points[rows], np.concatenate(triangles).astype(np.int32), np.concatenate(uv).astype(np.float32) if uv else None,
                np.concatenate(material).astype(np.int32), materials=tuple(materials),
                corner_fold=corner_folds(np.concatenate(triangles), np.concatenate(facing)))
    return mesh, skin, deltas, tuple(entry.get("extras", {}).get("targetNames", []))
