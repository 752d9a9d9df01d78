"""Received bodies as wearers of their own kind."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from ..bind.bind import bind
from ..figure.base.body import Body, Wearer
from ..figure.base.skeleton import Skeleton, Skin
from ..figure.figure import figure
from ..model.model import Model
from ..model.report import Found
from ..model.roles import NEEDED, check_roles, find_roles, role_places, with_roles
from ..model.steps.bind import Bind
from .joint_guess import guess_joints
from .register import Registered, register


class BodyFound(Found):
    """What taking up a body found: whether it has a skeleton of its own, its joints and how many of ours they play, its shapes, how far
    our surface lies off it (mm) and what share of it lies loose, its vertices, and how tall it is (m)."""

    vertices: int
    joints: int
    stature: float
    registered_mm: float
    own_skeleton: bool = False
    roles: int = 0
    shapes: tuple[str, ...] = ()
    loose: float = 0.0


@dataclass(frozen=True)
class OwnBody:
    """A received body made usable: the body itself, our figure's mesh on it (level 1), and what was found.

    `carrier` (n, 3) is what pieces ride between this body and ours; `roles` are our joint names to its own, empty where the body
    came without a skeleton and got ours.
    """

    body: Body
    carrier: np.ndarray
    roles: dict[str, str]
    found: BodyFound


def own_body(model: Model, roles: Mapping[str, str] | None = None, places: Mapping[str, np.ndarray] | None = None) -> OwnBody:
    """Return the body in a model as a wearer; its morphs are its shapes.

    Where it has no skeleton of its own whose limbs can be told, it gets ours, fitted by registering our surface to it, with our weights.

    Args:
        model: The body: metres, upright, facing +z.
        roles: Its joints by our names; found if not given.
        places: (3,) metres by our joints' names, where it has no skeleton; guessed from its shape if not given.

    Raises:
        InputError: Its limbs cannot be told either way.
    """
    mesh = model.mesh
    found = dict(roles) if roles is not None else find_roles(model.skeleton) if model.skeleton and model.skin else {}
    if roles is not None and model.skeleton is not None:
        check_roles(model.skeleton, found)
    own = model.skeleton is not None and model.skin is not None and all(r in found for r in NEEDED)
    if own and model.skeleton is not None and model.skin is not None:
        ordered, skin = _parents_first(model.skeleton, model.skin)
        skeleton = with_roles(ordered, found)
        at = role_places(ordered, found)
    else:
        found, at = {}, dict(places) if places else guess_joints(mesh.points, mesh.triangles)
        skeleton = skin = None
    laid = register(mesh.points, mesh.triangles, at)
    if skeleton is None or skin is None:
        skeleton, skin = laid.skeleton, _our_weights(model, laid)
    shapes = tuple(_unique(model.morphs))
    body = Body(
        base=np.ascontiguousarray(mesh.points, np.float32), triangles=mesh.triangles, skeleton=skeleton, skin=skin, shapes=shapes,
        deltas=model.deltas, joint_deltas=_joint_moves(model, skin, len(skeleton.names)), made_at=np.zeros(len(shapes)),
        floor=_floor(mesh.points, skin, len(skeleton.names)), corner_uv=mesh.corner_uv, posed_like=figure(1).skeleton,
    )
    return OwnBody(body, laid.points.astype(np.float32), found, BodyFound(
        own_skeleton=own, joints=len(skeleton.names), roles=len(found) if own else len(skeleton.names), shapes=shapes,
        registered_mm=round(1000 * laid.gap, 2), loose=round(laid.loose, 4), vertices=len(mesh.points),
        stature=round(float(np.ptp(mesh.points[:, 1])), 4)))


def carrier_wearer(points: np.ndarray) -> Wearer:
    """Return our level-1 figure standing where a carrier's `points` (n, 3) lie."""
    body = figure(1)
    return Wearer(replace(body, base=points.astype(np.float32)), body.made_at, points.astype(np.float32), body.skeleton)


def _our_weights(model: Model, laid: Registered) -> Skin:
    wearer = replace(carrier_wearer(laid.points), skeleton=laid.skeleton)
    return bind(model.mesh.points, model.mesh.triangles, wearer, Bind(reach=0.05, angle=1.2)).skin


def _parents_first(skeleton: Skeleton, skin: Skin) -> tuple[Skeleton, Skin]:
    order: list[int] = []
    waiting = list(range(len(skeleton.names)))
    while waiting:
        ready = [j for j in waiting if skeleton.parents[j] < 0 or int(skeleton.parents[j]) in order]
        order += ready
        waiting = [j for j in waiting if j not in ready]
        if not ready:  # a loop: its joints hang from nothing
            order += waiting
            break
    place = {j: k for k, j in enumerate(order)}
    parents = np.array([place[int(skeleton.parents[j])] if skeleton.parents[j] >= 0 else -1 for j in order], np.int32)
    sorted_skeleton = Skeleton(tuple(skeleton.names[j] for j in order), parents, skeleton.positions[order])
    onto = np.array([place[j] for j in range(len(order))], np.int32)
    return sorted_skeleton, Skin(onto[skin.joints], skin.weights)


def _joint_moves(model: Model, skin: Skin, joints: int) -> np.ndarray:
    """Return `(s, j, 3)`: each joint goes with the mean move of the skin it carries, where a morph moves it as a whole."""
    out = np.zeros((len(model.morphs), joints, 3))
    for j in range(joints):
        share = np.where(skin.joints == j, skin.weights, 0.0).sum(axis=1).astype(np.float64)
        if share.sum() < 1e-6:
            continue
        mean = np.einsum("n,sna->sa", share / share.sum(), model.deltas.astype(np.float64))
        spread = np.sqrt(np.einsum("n,sna->s", share / share.sum(), (model.deltas - mean[:, None]).astype(np.float64) ** 2))
        out[:, j] = mean * (spread < 0.5 * np.linalg.norm(mean, axis=1) + 1e-9)[:, None]
    return out


def _floor(points: np.ndarray, skin: Skin, joints: int) -> np.ndarray:
    """Return the vertices that may touch the floor: of each joint's own skin those on its hull."""
    main = skin.joints[np.arange(len(points)), np.argmax(skin.weights, axis=1)]
    kept: list[np.ndarray] = []
    for j in range(joints):
        rows = np.flatnonzero(main == j)
        if len(rows) > 40:
            try:
                rows = rows[ConvexHull(points[rows].astype(np.float64), qhull_options="QJ").vertices]
            except QhullError:
                rows = rows[::10]
        kept.append(rows)
    return np.unique(np.concatenate(kept)).astype(np.int64) if kept else np.zeros(0, np.int64)


def _unique(names: tuple[str, ...]) -> list[str]:
    out: list[str] = []
    for name in names:
        plain = "_".join("".join(c if c.isalnum() else " " for c in name.lower()).split())[:40] or "shape"
        made, n = plain, 2
        while made in out:
            made, n = f"{plain}_{n}", n + 1
        out.append(made)
    return out
