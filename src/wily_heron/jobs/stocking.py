"""Taking things into stock: received once to look at them, kept as they came; their pictures are drawn afterwards."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import structlog

from ..core.errors import InputError
from ..core.figure.base.body import shaped
from ..core.figure.base.pose_types import Pose
from ..core.figure.extras import figure_for
from ..core.figure.figure import figure
from ..core.look.portrait import body_strip, fabric_strip, piece_strip
from ..core.model.model import Model
from ..core.model.steps.receive import Receive
from ..core.motion.pose import posed_body
from ..core.motion.retarget import map_joints, retarget
from ..core.receive.receive import receive
from ..formats.bvh import read_bvh
from ..formats.piece_read import read_model
from ..formats.png import write_png
from ..formats.textures import MEDIA, read_texture, small_picture
from ..store import stock
from ..store.arrays import pack, unpack
from ..store.bodies import body_for
from ..store.db import Connection, get_blob, one, put_blob, run, transaction
from ..store.events import notify
from ..store.models import get_model, put_model
from .queue import app

log = structlog.get_logger()
STATURE = 1.70
SIZE = (150, 150)


def take_in(connection: Connection, model: Model, file_name: str, author: str, card: stock.Card | None = None,
            shelf: int | None = None) -> tuple[int, dict]:
    """Put a piece in stock under `card` (or what its file name and shape say); return the item and what receiving found."""
    got = receive(model, Receive(), STATURE)
    found = got.found
    sha = put_model(connection, model)
    size = len(get_blob(connection, sha)) + sum(len(t.data) for t in model.textures)
    mends = sum(1 for f in found["findings"] if f["mend"])
    low = float(got.mesh.points[:, 1].min())
    kept = stock.Kept(file_name, sha, found["vertices"], size, mends, height=found["size"][1], low=low, shelf=shelf)
    return stock.add(connection, card or stock.Card(_title(file_name), found["category"]), kept, author), found


@app.task(name="take_in_file")
def take_in_file(row: int) -> None:
    """Take one file of a batch into stock: done, mended, needs you or refused, with the reason. Safe to run twice."""
    with transaction() as connection:
        asked = one(connection, "batch_row", row=row)
        if asked is None or asked["state"] != "waiting" or asked["cancelled"]:
            return
        data = get_blob(connection, asked["upload_sha"])
        beside = {name: get_blob(connection, sha) for name, sha in asked["beside"].items()}
    item = None
    try:
        with transaction() as connection:
            item, state, why = _taken(connection, asked, data, beside)
    except InputError as error:
        state, why = "refused", str(error)
    except Exception as error:  # one file must not hold up the others
        log.exception("taking in failed", row=row)
        state, why = "refused", f"{asked['file_name']}: it could not be read ({type(error).__name__})."
    with transaction() as connection:
        run(connection, "end_batch_row", row=row, state=state, why=why, item=item)
        notify(connection, "stock")
    if item is not None:
        app.configure_task("draw_strip", priority=1).defer(item=item)


def _taken(connection: Connection, asked: dict, data: bytes, beside: dict[str, bytes]) -> tuple[int, str, str]:
    name, author, shelf = asked["file_name"], asked["author"], asked["shelf_id"]
    ending = Path(name).suffix.lower()
    if ending == ".bvh":
        return take_motion(connection, data, name, author, shelf), "done", ""
    if ending in MEDIA:
        return take_texture(connection, data, name, author, shelf), "done", ""
    item, found = take_in(connection, read_model(data, name, beside), name, author, shelf=shelf)
    mends = [f["text"] for f in found["findings"] if f["mend"]]
    told = [f["text"] for f in found["findings"] if not f["mend"]]
    return item, "needs you" if told else "mended" if mends else "done", "; ".join(mends + told)


def take_motion(connection: Connection, data: bytes, name: str, author: str, shelf: int | None = None) -> int:
    """Put a motion in stock, retargeted to the house's figure."""
    motion = read_bvh(data, name)
    skeleton = figure(1).skeleton
    put = retarget(motion, skeleton, map_joints(motion, skeleton))
    sha = put_blob(connection, pack({"rotations": put.rotations.astype("<f4")}, {"joints": list(put.names)}), "motion")
    content = {"seconds_per_frame": put.seconds, "frames": len(put.rotations)}
    kept = stock.Kept(name, sha, size=len(data), kind="motion", content=content, shelf=shelf)
    return stock.add(connection, stock.Card(_title(name), "motion"), kept, author)


def take_texture(connection: Connection, data: bytes, name: str, author: str, shelf: int | None = None) -> int:
    """Put a picture in stock as a texture."""
    texture = read_texture(data, name)
    kept = stock.Kept(name, put_blob(connection, data, "texture"), size=len(data), kind="texture", content={"media": texture.media},
                      shelf=shelf)
    return stock.add(connection, stock.Card(_title(name), "texture"), kept, author)


def take_body(connection: Connection, name: str, body: str, vertices: int, file_name: str, author: str) -> int:
    """Put a body of one's own in stock."""
    kept = stock.Kept(file_name, body, size=len(get_blob(connection, body)), kind="body", content={"body": body},
                      vertices=vertices)
    return stock.add(connection, stock.Card(name, "body", (), "", f"taken from {file_name}"), kept, author)


def take_pose(connection: Connection, pose: Pose, author: str) -> int:
    """Put a pose in stock."""
    rotations = {joint: [float(x) for x in q] for joint, q in pose.rotations.items()}
    sha = put_blob(connection, pack({}, {"pose": rotations}), "pose")
    kept = stock.Kept(f"{pose.name}.json", sha, kind="pose", content={"label": pose.label, "rotations": rotations})
    return stock.add(connection, stock.Card(pose.label, "pose", (pose.family,)), kept, author)


def take_fabric(connection: Connection, name: str, surface: dict, author: str, note: str = "", tags: tuple[str, ...] = ()) -> int:
    """Put a fabric in stock: `surface` has colour (linear), roughness, metal, and the address of a texture if it has one."""
    sha = put_blob(connection, pack({}, {"fabric": name, "surface": surface}), "fabric")
    kept = stock.Kept(f"{name.lower()}.json", sha, kind="fabric", content=surface)
    return stock.add(connection, stock.Card(name, "fabric", tags, note), kept, author)


def take_extra(connection: Connection, name: str, shape: str, author: str, note: str = "") -> int:
    """Put an extra of the figure (horns, a tail, pointed ears) in stock."""
    sha = put_blob(connection, pack({}, {"extra": shape}), "extra")
    kept = stock.Kept(f"{shape}.json", sha, kind="extra", content={"shape": shape})
    return stock.add(connection, stock.Card(name, "extra", (), note), kept, author)


def _title(file_name: str) -> str:
    return file_name.rsplit(".", 1)[0].replace("-", " ").replace("_", " ").strip().capitalize()[:60] or "Piece"


@app.task(name="draw_strip")
def draw_strip(item: int) -> None:
    """Draw the views of an item in stock."""
    with transaction() as connection:
        card = stock.item(connection, item)
    picture = _views(card)
    with transaction() as connection:
        run(connection, "strip_of", item=item, strip=put_blob(connection, picture, "png"))
        notify(connection, "stock")


def _views(card: dict) -> bytes:
    """Return eight views side by side, drawn from what the item really is."""
    content = card["content"]
    match card["kind"]:
        case "body":
            body = body_for(content["body"], {})
            return write_png(body_strip(body.base, body.triangles, SIZE))
        case "pose":
            body = figure(1)
            pose = Pose("stock", content["label"], "own", content["rotations"])
            return write_png(body_strip(posed_body(shaped(body, {}), pose), body.triangles, SIZE))
        case "motion":
            return write_png(_motion_strip(card["source_sha"], content))
        case "extra":
            body = figure_for({content["shape"]: 1.0}, 1)
            points, triangles = shaped(body, {content["shape"]: 1.0}).points, body.triangles
            if content["shape"] != "tail":  # grown on the head: the rest is left out
                triangles = triangles[(points[triangles, 1] > 1.42).all(axis=1)]
            used, at = np.unique(triangles, return_inverse=True)
            return write_png(body_strip(points[used], at.reshape(-1, 3).astype(np.int32), SIZE))
        case "fabric" | "texture":
            with transaction() as connection:
                sha = card["source_sha"] if card["kind"] == "texture" else content.get("texture")
                picture = small_picture(read_texture(get_blob(connection, sha), card["name"]), SIZE[0]) if sha else None
            return write_png(fabric_strip(content.get("colour", (1.0, 1.0, 1.0)), picture, SIZE))
    with transaction() as connection:
        model = get_model(connection, card["source_sha"])
    got = receive(replace(model, textures=()), Receive(), STATURE)
    return write_png(piece_strip(got.mesh, SIZE))


def _motion_strip(sha: str, content: dict):
    """Eight moments of a motion instead of eight sides."""
    with transaction() as connection:
        arrays, notes = unpack(get_blob(connection, sha))
    body, frames = figure(1), arrays["rotations"]
    wearer, moments = shaped(body, {}), []
    for k in range(8):
        turns = frames[k * (len(frames) - 1) // 7]
        pose = Pose("moment", "moment", "motion", dict(zip(notes["joints"], turns.astype(float), strict=True)))
        moments.append(posed_body(wearer, pose))
    return body_strip(moments[0], body.triangles, SIZE, moments=moments)
