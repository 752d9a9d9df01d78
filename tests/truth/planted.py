"""Scenes whose truth is known because they are built: a tunic lifted from the skin, a dent in it, and an outside judge of what shows."""

import numpy as np
import trimesh

from wily_heron.core.clearance.cover.key import Key
from wily_heron.core.explain.explain import explain
from wily_heron.core.explain.failing_pair import Case
from wily_heron.core.figure.base.body import Body, shape_values
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.pose_library import POSES

BODY = figure(1)
NEUTRAL = shape_values(BODY, {})


def tunic_of(offset: float, level: int = 1) -> Piece:
    """The torso's own surface lifted by `offset` metres: a fitted tunic with neck, arm and hem openings."""
    body = figure(level)
    on = (body.base[:, 1] > 0.92) & (body.base[:, 1] < 1.38) & (np.abs(body.base[:, 0]) < 0.17)
    triangles = body.triangles[on[body.triangles].all(axis=1)]
    used = np.unique(triangles)
    place = np.full(len(body.base), -1)
    place[used] = np.arange(len(used))
    points = (body.base + offset * vertex_normals(body.base, body.triangles))[used].astype(np.float32)
    skin = type(body.skin)(body.skin.joints[used], body.skin.weights[used])
    return Piece(Mesh(points, place[triangles].astype(np.int32)), body.made_at, skin, body.deltas[:, used])


def with_dent(piece: Piece, centre, radius: float, depth: float) -> Piece:
    """The piece with a soft dent that goes `depth` metres inwards at `centre`."""
    p = piece.mesh.points.astype(float)
    normal = vertex_normals(p, piece.mesh.triangles)
    away = np.linalg.norm(p - centre, axis=1) / radius
    fall = np.where(away < 1, (1 - away**2) ** 2, 0.0)
    return Piece(piece.mesh.moved(p - depth * fall[:, None] * normal), piece.made_at, piece.skin, piece.deltas)


def chest_of(piece: Piece) -> np.ndarray:
    p = piece.mesh.points
    front = np.flatnonzero(p[:, 2] > 0.05)
    return p[front[np.argmin(np.abs(p[front, 0] - 0.06) + np.abs(p[front, 1] - 1.08))]].astype(float)


def judged_area(body: Body, over: Mesh, centre: np.ndarray, count: int = 40_000) -> float:
    """An independent judge: random points of the skin near `centre`, shown where a ray outwards meets no cloth within 6 cm."""
    near = body.triangles[(np.linalg.norm(body.base[body.triangles].mean(axis=1) - centre, axis=1) < 0.09)]
    cloth = over.triangles[(np.linalg.norm(over.points[over.triangles].mean(axis=1) - centre, axis=1) < 0.16)]
    skin = trimesh.Trimesh(body.base, near, process=False)
    points, faces = trimesh.sample.sample_surface(skin, count, seed=3)
    hit = trimesh.Trimesh(over.points, cloth, process=False).ray.intersects_first(points, skin.face_normals[faces])
    return skin.area * float((hit < 0).mean())


def case(pieces: dict[str, Piece], pair: int = 0, shape: np.ndarray = NEUTRAL, pose=POSES["stride"]) -> Case:
    return Case(pieces, BODY, shape, pose, Key(pair, pair - 1))


def causes(of: Case) -> set[str]:
    return {c.kind for c in explain(of) if c.is_cause}
