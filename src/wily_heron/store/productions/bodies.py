"""Bodies of one's own: stored whole under the address of their content, with our figure's mesh on them."""

from collections.abc import Mapping

import numpy as np
from psycopg.types.json import Jsonb

from ...core.bench.step import figure_carrier
from ...core.bodies.own_body import BodyFound, OwnBody
from ...core.bodies.register import register
from ...core.errors import NotFound
from ...core.figure.base.body import Body, shape_values, shaped
from ...core.figure.base.skeleton import Skeleton, Skin
from ...core.figure.extras import figure_for
from ...core.figure.figure import figure, figure_version
from ...core.memo import Memo
from ...core.space.tree import TriangleTree
from ...formats.array_frame import pack, unpack
from ..db import Connection, Row, changed, get_blob, put_blob, rows, run, transaction
from ..events import notify


class BodyRow(Row):
    """A body of one's own: its address, its name, what was found of it."""

    body: str
    name: str
    found: BodyFound


def bodies_of(connection: Connection, production: int) -> list[BodyRow]:
    """Return the bodies of one's own, oldest first."""
    return rows(connection, BodyRow, "bodies_of", production=production)


def put_body(connection: Connection, production: int, name: str, own: OwnBody, model_sha: str, author: str) -> str:
    """Store a body under `name`; return its address. The same body has the same address."""
    b = own.body
    arrays = {"base": b.base, "triangles": b.triangles, "joints": b.skeleton.positions, "parents": b.skeleton.parents,
              "skin_joints": b.skin.joints, "skin_weights": b.skin.weights, "deltas": b.deltas, "joint_deltas": b.joint_deltas,
              "floor": b.floor, "carrier": own.carrier}
    if b.corner_uv is not None:
        arrays["corner_uv"] = b.corner_uv
    notes = {"joints": list(b.skeleton.names), "shapes": list(b.shapes), "figure": figure_version()}
    sha = put_blob(connection, pack(arrays, notes), "body")
    run(connection, "add_body", sha=sha, production=production, name=name, model=model_sha, roles=Jsonb(own.roles),
        found=Jsonb(own.found.model_dump(mode="json")), author=author)
    notify(connection, "cast")
    return sha


_BODIES: Memo[tuple[Body, np.ndarray]] = Memo("stored bodies", 384 * 2**20)


def _stored(sha: str) -> tuple[Body, np.ndarray]:
    """Return the body stored under `sha`, and where our level-1 figure's vertices lie on it."""
    return _BODIES.of(sha, lambda: _read(sha))


def _read(sha: str) -> tuple[Body, np.ndarray]:
    with transaction() as connection:
        if not changed(connection, "body", sha=sha):
            raise NotFound(what="there is no such body", where="the bodies", todo="Reload the room.")
        arrays, notes = unpack(get_blob(connection, sha))
    skeleton = Skeleton(tuple(notes["joints"]), arrays["parents"], arrays["joints"])
    shapes = tuple(notes["shapes"])
    skin = Skin(arrays["skin_joints"], arrays["skin_weights"])
    body = Body(arrays["base"], arrays["triangles"], skeleton, skin, shapes, arrays["deltas"], arrays["joint_deltas"],
                np.zeros(len(shapes)), arrays["floor"], arrays.get("corner_uv"), figure(1).skeleton)
    if notes["figure"] == figure_version():
        return body, arrays["carrier"]
    ours = figure(1).skeleton.names  # an update has brought another figure: it is laid onto this body anew
    places = {n: p for n, p in zip(skeleton.names, skeleton.positions, strict=True) if n in ours}
    return body, register(body.base, body.triangles, places).points.astype(np.float32)


def body_for(sha: str | None, settings: Mapping[str, float], level: int = 2) -> Body:
    """Return the body at an address, or the house's figure (with the extras `settings` ask for, at `level`) where there is none."""
    return _stored(sha)[0] if sha else figure_for(settings, level)


def carrier_of(sha: str, settings: Mapping[str, float]) -> np.ndarray:
    """Return where our level-1 figure's vertices `(n, 3)` lie on a body at its shape settings."""
    if not sha:
        return figure_carrier(sha, settings)
    body, carrier = _stored(sha)
    if not any(settings.values()):
        return carrier
    near = TriangleTree(body.base, body.triangles).nearest(carrier)
    moved = shaped(body, shape_values(body, settings)).points.astype(np.float64) - body.base
    return (carrier + np.einsum("nk,nka->na", near.where, moved[body.triangles[near.triangle]])).astype(np.float32)
