"""A pack to a .glb: body and pieces on one skin, shapes as morph targets, wearers and poses as clips. Contract in docs/pack.md."""

from typing import Any

import numpy as np

from ...core.figure.base.body import shape_values, shaped
from ...core.figure.base.rotation_arrays import matrix_turns
from ...core.figure.base.skeleton import Skin
from ...core.figure.correctives import driven_values
from ...core.mesh.mesh import Material, Mesh
from ...core.model.correctives import Corrective
from ...core.model.pack import Pack
from ...core.model.riders import rider_matrices
from ...core.model.state import Piece
from ...core.model.worn import fix_values, rider_change, yield_values
from ...core.motion.pose import Pose, pose_matrices
from ..gltf.glb import GlbWriter
from ..gltf.parts import MaterialWriter, joint_nodes, mesh_node, skin_entry
from ..slug import slug
from .motion_clip import motion_clip
from .riders import PackedRiders, rider_notes

VERSION = 1
_SKIN_COLOUR = (0.60, 0.53, 0.44)


def write_pack(pack: Pack) -> bytes:
    """Return the pack as .glb bytes."""
    out = GlbWriter()
    j, body = out.json, pack.body
    skeleton = body.skeleton
    riders = PackedRiders(pack.pieces, skeleton.positions)
    j["nodes"], j["meshes"] = joint_nodes(skeleton), []
    j["nodes"] += riders.nodes(j["nodes"])
    joints = len(j["nodes"])
    j["skins"] = [skin_entry(out, np.array(riders.places), int((skeleton.parents < 0).sum()) == 1)]
    materials = MaterialWriter(out, pack.textures)
    skin = materials.add(Material("skin", _SKIN_COLOUR, 0.75))
    j["materials"][skin].pop("doubleSided")
    body_mesh = Mesh(body.base, body.triangles, body.corner_uv)
    given = [(f"yield:{slug(p.name)}:{c.name}", y.whole(np.eye(len(y.moves))[k], len(body.base)))
             for p in pack.pieces if (y := p.piece.yields) is not None for k, c in enumerate(y.correctives)]
    moves = np.concatenate([body.deltas, *(move[None] for _, move in given)])
    nodes, hung = [mesh_node(out, "body", body_mesh, body.skin, moves, (*body.shapes, *(name for name, _ in given)), [skin])], {}
    for k, packed in enumerate(pack.pieces):
        piece = packed.piece
        numbers = [materials.add(m) for m in piece.mesh.materials]
        still = np.zeros((len(body.shapes), len(piece.mesh.points), 3), np.float32)
        deltas = piece.deltas if piece.deltas is not None else still
        if piece.fixes is not None:
            deltas = np.concatenate([deltas, piece.fixes])
        shapes = (*body.shapes, *(f"fix:{c.name}" for c in piece.correctives))
        weights = riders.numbered(k, piece.skin or _carried(len(piece.mesh.points)), len(skeleton.names))
        joint = _only(weights)
        node = mesh_node(out, f"piece:{slug(packed.name)}", piece.mesh, weights if joint is None else None, deltas, shapes, numbers)
        if joint is not None:
            node["translation"] = (-np.asarray(riders.places[joint], np.float32)).astype(float).tolist()
            j["nodes"][joint].setdefault("children", []).append(joints + len(nodes))
            hung[joints + len(nodes)] = joint
        nodes.append(node)
    j["nodes"] += nodes
    clips = [_clip(out, pack, riders, f"{who}/{pose.name}", settings, pose, joints)
             for who, settings in pack.cast.items() for pose in pack.poses.values()]
    clips += [motion_clip(out, pack, riders, motion, joints) for motion in pack.motions]
    if clips:
        j["animations"] = clips
    roots = np.flatnonzero(skeleton.parents < 0).tolist()
    loose = [n for n in range(joints, joints + len(nodes)) if n not in hung]
    j["scene"] = 0
    j["scenes"] = [{"name": pack.wearer, "nodes": [*roots, *loose], "extras": {"wily_heron": _extras(pack)}}]
    return out.bytes()


def _carried(count: int) -> Skin:
    return Skin(np.zeros((count, 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1)))


def _only(skin: Skin) -> int | None:
    """Return the joint that alone carries a rigid piece, None where there are more."""
    first = int(skin.joints[0, 0]) if len(skin.joints) else 0
    alone = len(skin.joints) and (skin.weights[:, 0] > 0.9999).all() and (skin.joints[:, 0] == first).all()
    return first if alone else None


def _clip(out: GlbWriter, pack: Pack, riders: PackedRiders, name: str, settings, pose: Pose, first_mesh: int) -> dict[str, Any]:
    """One key: the wearer's morph weights, and joints set so that world times inverse bind is the application's skin matrix.

    The wearer's own joints lie elsewhere than the packed ones; each joint is therefore put where its skin matrix carries its
    packed position, which makes file and application agree exactly.
    """
    body = pack.body
    wearer = shaped(body, shape_values(body, settings))
    matrices = pose_matrices(wearer, pose)
    swung = [rider_matrices(p.piece.riders, rider_change(p.piece, wearer, pose), matrices)
             for p in pack.pieces if p.piece.riders is not None]
    local = riders.locals(np.concatenate([matrices, *swung]), body.skeleton.parents)
    time = out.accessor(np.zeros(1, np.float32), "SCALAR", bounds=True)
    samplers, channels = [], []

    def key(node: int, path: str, values, kind: str) -> None:
        samplers.append({"input": time, "interpolation": "STEP", "output": out.accessor(np.asarray(values, np.float32), kind)})
        channels.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})

    for i in range(len(local)):
        key(i, "translation", local[i, :3, 3], "VEC3")
        q = matrix_turns(local[i, :3, :3])
        key(i, "rotation", q / np.linalg.norm(q), "VEC4")
    weights = wearer.shape + driven_values(body, pose) - body.made_at
    given = [yield_values(p.piece, wearer, pose.rotations) for p in pack.pieces]
    own = [np.concatenate(given) if given else [], *(fix_values(p.piece, wearer, pose.rotations) for p in pack.pieces)]
    for k, values in enumerate(np.append(weights, more) for more in own):
        if len(values):
            key(first_mesh + k, "weights", values, "SCALAR")
    return {"name": name, "samplers": samplers, "channels": channels}


def _extras(pack: Pack) -> dict[str, Any]:
    body = pack.body
    return {
        "version": VERSION, "wearer": {"name": pack.wearer, "shape": dict(zip(body.shapes, body.made_at.tolist(), strict=True))},
        "cast": {name: dict(settings) for name, settings in pack.cast.items()},
        "pieces": [{"node": f"piece:{slug(p.name)}", "name": p.name, "category": p.category, "layer": i + 1,
                    "ease_mm": round(1000 * p.ease, 3), **_worn_notes(p.piece)} for i, p in enumerate(pack.pieces)],
        "own_body": body.posed_like is not None,
        "hidden_body_faces": sorted({int(f) for p in pack.pieces if p.piece.hidden is not None for f in p.piece.hidden}),
        "clearance": pack.clearance, "floor_vertices": body.floor.tolist(),
        "joint_moves": {s: np.round(d, 7).tolist() for s, d in zip(body.shapes, body.joint_deltas, strict=True)},
    }


def _worn_notes(piece: Piece) -> dict[str, Any]:
    """What drives a piece's own joints and correctives in poses that the clips do not hold."""
    notes: dict[str, Any] = {} if piece.hidden is None else {"hides": piece.hidden.tolist()}
    if piece.left_out is not None:
        written = np.argsort(np.argsort(piece.mesh.triangle_material, kind="stable"), kind="stable")  # faces go out by material
        notes["leaves_out"] = np.sort(written[piece.left_out]).tolist()
    if piece.riders is not None:
        notes["riders"] = rider_notes(piece.riders)
    if piece.correctives:
        notes["correctives"] = _correctives(piece.correctives)
    if piece.yields is not None:
        notes["yields"] = _correctives(piece.yields.correctives)
    if (e := piece.examples) is not None:
        notes["examples"] = {"names": list(e.names), "joints": list(e.joints), "turns": np.round(e.turns, 9).tolist(),
                             "told": e.relevance.astype(int).tolist()}
    return notes


def _correctives(of: tuple[Corrective, ...]) -> list[dict[str, Any]]:
    return [{"name": c.name, "shapes": [list(s) for s in c.shapes], "pose": c.pose} for c in of]
