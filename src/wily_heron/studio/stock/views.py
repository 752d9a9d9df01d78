"""Eight views of an item of the stock side by side, drawn from what the item really is."""

from dataclasses import replace

import numpy as np

from ...core.figure.base.body import shaped
from ...core.figure.base.pose_types import Pose
from ...core.figure.extras import figure_for
from ...core.figure.figure import figure
from ...core.look.portrait import body_strip, fabric_strip, piece_strip
from ...core.model.steps.receive import Receive
from ...core.motion.pose import posed_body
from ...core.receive.receive import receive
from ...formats.array_frame import unpack
from ...formats.images.png import write_png
from ...formats.images.textures import read_texture, small_picture
from ...store.blobs.models import get_model
from ...store.db import Connection, get_blob, put_blob, transaction
from ...store.productions.bodies import body_for
from ...store.stock import items
from ...store.stock.items import ItemRow
from .taking_in import STATURE

SIZE = (150, 150)


def draw(item: int) -> None:
    """Draw the views of an item in stock, and keep them."""
    with transaction() as connection:
        picture = write_png(_views(connection, items.get_item(connection, item)))
    with transaction() as connection:
        items.set_strip(connection, item, put_blob(connection, picture, "png"))


def _views(connection: Connection, card: ItemRow) -> np.ndarray:
    content = card.content
    match card.kind:
        case "body":
            body = body_for(content["body"], {})
            return body_strip(body.base, body.triangles, SIZE)
        case "pose":
            body = figure(1)
            pose = Pose("stock", content["label"], "own", content["rotations"])
            return body_strip(posed_body(shaped(body, {}), pose), body.triangles, SIZE)
        case "motion":
            return _moments(connection, card.source)
        case "extra":
            return _extra(content["shape"])
        case "fabric" | "texture":
            sha = card.source if card.kind == "texture" else content.get("texture")
            picture = small_picture(read_texture(get_blob(connection, sha), card.name), SIZE[0]) if sha else None
            return fabric_strip(content.get("colour", (1.0, 1.0, 1.0)), picture, SIZE)
        case "piece":
            model = get_model(connection, card.source)
            return piece_strip(receive(replace(model, textures=()), Receive(), STATURE).mesh, SIZE)


def _extra(shape: str) -> np.ndarray:
    body = figure_for({shape: 1.0}, 1)
    points, triangles = shaped(body, {shape: 1.0}).points, body.triangles
    if shape != "tail":  # grown on the head: the rest is left out
        triangles = triangles[(points[triangles, 1] > 1.42).all(axis=1)]
    used, at = np.unique(triangles, return_inverse=True)
    return body_strip(points[used], at.reshape(-1, 3).astype(np.int32), SIZE)


def _moments(connection: Connection, sha: str) -> np.ndarray:
    """Return eight moments of a motion instead of eight sides."""
    arrays, notes = unpack(get_blob(connection, sha))
    body, frames = figure(1), arrays["rotations"]
    wearer = shaped(body, {})
    moments: list[np.ndarray] = []
    for k in range(8):
        turns = frames[k * (len(frames) - 1) // 7]
        pose = Pose("moment", "moment", "motion", dict(zip(notes["joints"], turns.astype(float), strict=True)))
        moments.append(posed_body(wearer, pose))
    return body_strip(moments[0], body.triangles, SIZE, moments=moments)
