"""The ferryman as another studio sent him: body and clothes in one mesh, in centimetres, arms out, on a skeleton of 24 joints with its
own names, with two morphs. An exercise in taking apart; everything in it is made by code."""

from dataclasses import replace
from pathlib import Path

import numpy as np

from wily_heron.core.bind.bind import bind
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.skeleton import Skeleton, Skin
from wily_heron.core.figure.base.skinning import blended_linear, skin_points, strongest
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.fit import fit
from wily_heron.core.fit.ride import ride
from wily_heron.core.fit.target import FitTarget
from wily_heron.core.follow.bound_piece import on_skeleton
from wily_heron.core.follow.follow import follow
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.model.model import Model
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.motion.pose import pose_matrices
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.under import Under
from wily_heron.formats.gltf.write import write_gltf

from .stock import stock, textures_of

FILE = Path(__file__).parent / "files" / "ferryman-dressed.glb"
SHAPE = {"stature": 0.35, "muscle": 0.4, "belly": 0.35, "bust": -0.8, "shoulder": 0.4, "chin": 0.6, "jaw": 0.5, "nose_length": 0.6,
         "ear_size": 0.5, "brow": 0.4, "hand_size": 0.3}
WORN = (("Marsh trousers", 0.004), ("Smock", 0.010), ("Felt boots", 0.006))
MORPHS = {"stout": {"girth": 0.7, "belly": 0.5}, "lean": {"girth": -0.5}}
JOINTS = {
    "humanoid_root": "Hips", "vl5": "SpineLow", "vl1": "SpineMid", "vt6": "Chest", "vc4": "Neck", "skullbase": "Head",
} | {f"{s}_{ours}": f"{theirs}.{side}" for s, side in (("l", "L"), ("r", "R")) for ours, theirs in (
    ("sternoclavicular", "Collar"), ("shoulder", "UpperArm"), ("elbow", "ForeArm"), ("radiocarpal", "Hand"),
    ("hip", "Thigh"), ("knee", "Shin"), ("talocrural", "Foot"), ("metatarsophalangeal", "Toes"), ("metacarpophalangeal_3", "Fingers"))}


def dressed() -> Model:
    """Return the ferryman: body and clothes, one mesh of five materials."""
    body = figure(1)
    wearer = shaped(body, SHAPE)
    matrices = pose_matrices(wearer, POSES["arms-out"])
    shift = {name: shaped(body, {**SHAPE, **_plus(change)}).points - wearer.points for name, change in MORPHS.items()}
    skin = Material("ferryman_skin", (0.62, 0.44, 0.34), 0.7)
    parts = [(Mesh(wearer.points, body.triangles, body.corner_uv, materials=(skin,)), body.skin, np.array(list(shift.values())))]
    in_stock = {p.name: p.mesh for p in stock()}
    worn: list[tuple[np.ndarray, np.ndarray]] = []
    for name, ease in WORN:
        mesh = in_stock[name]
        points = ride(mesh.points, mesh.triangles, body.base, wearer.points, body.triangles)
        under = Under.of(wearer.points, body.triangles).with_layers(worn)
        points = fit(points, mesh.triangles, FitTarget(under, wearer.points, wearer.shape), Fit(ease=ease, align=False)).points
        worn.append((points, mesh.triangles))
        bound = bind(points, mesh.triangles, wearer, Bind())
        weights = on_skeleton(Piece(mesh.moved(points), wearer.shape, bound.skin, riders=bound.riders))
        moves = follow(points, mesh.triangles, wearer, bound.skin, bound.riders).deltas
        change = [np.tensordot([_plus(c).get(s, SHAPE.get(s, 0.0)) - SHAPE.get(s, 0.0) for s in body.shapes], moves, axes=1)
                  for c in MORPHS.values()]
        parts.append((mesh.moved(points), weights, np.array(change)))
    return _merged(parts, matrices, _fewer_joints(wearer.skeleton))


def _plus(change: dict[str, float]) -> dict[str, float]:
    return {s: SHAPE.get(s, 0.0) + v for s, v in change.items()}


def _fewer_joints(skeleton: Skeleton) -> tuple[Skeleton, np.ndarray]:
    """Return the skeleton of the joints kept, and for each of ours the one that does its work."""
    kept = [j for j, n in enumerate(skeleton.names) if n in JOINTS]
    onto, parents = np.zeros(len(skeleton.names), np.int32), []
    for j in range(len(skeleton.names)):
        k = j
        while k not in kept:
            k = int(skeleton.parents[k])
        onto[j] = kept.index(k)
        if j in kept:
            parent = int(skeleton.parents[j])
            parents.append(int(onto[parent]) if parent >= 0 else -1)
    return Skeleton(tuple(JOINTS[skeleton.names[j]] for j in kept), np.array(parents, np.int32), skeleton.positions[kept]), onto


def _merged(parts, matrices: np.ndarray, fewer: tuple[Skeleton, np.ndarray]) -> Model:
    skeleton, onto = fewer
    points, triangles, uvs, materials, which, joints, weights, moves, start = [], [], [], [], [], [], [], [], 0
    for mesh, skin, change in parts:
        points.append(skin_points(mesh.points, skin, matrices))
        triangles.append(mesh.triangles + start)
        uvs.append(mesh.corner_uv if mesh.corner_uv is not None else np.zeros((len(mesh.triangles), 3, 2), np.float32))
        which.append(mesh.triangle_material + len(materials))
        materials += mesh.materials
        dense = np.zeros((len(mesh.points), len(skeleton.names)))
        np.add.at(dense, (np.repeat(np.arange(len(dense)), 4), onto[skin.joints].ravel()), skin.weights.ravel().astype(float))
        own = strongest(dense)
        joints.append(own.joints)
        weights.append(own.weights)
        moves.append(np.einsum("nab,snb->sna", blended_linear(skin, matrices), change))
        start += len(mesh.points)
    ours = figure(1).skeleton
    rows = [j for j, n in enumerate(ours.names) if n in JOINTS]
    places = np.einsum("jab,jb->ja", matrices[rows, :3, :3], skeleton.positions) + matrices[rows, :3, 3]
    mesh = Mesh(np.concatenate(points), np.concatenate(triangles).astype(np.int32), np.concatenate(uvs),
                np.concatenate(which).astype(np.int32), materials=tuple(materials))
    asked = {t.name: t for part in parts for t in textures_of(part[0])}
    model = Model(mesh, replace(skeleton, positions=places), Skin(np.concatenate(joints), np.concatenate(weights)), tuple(MORPHS),
                  np.concatenate(moves, axis=1).astype(np.float32), textures=tuple(asked.values()), objects=("ferryman",))
    return model.scaled(100.0)


def write(path: Path = FILE) -> None:
    """Write the ferryman's file."""
    path.write_bytes(write_gltf(dressed()))
