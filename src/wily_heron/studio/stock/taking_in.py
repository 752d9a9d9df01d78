"""Taking things into stock: received once to look at them, kept as they came; their pictures are drawn afterwards."""

from collections.abc import Mapping, Sequence
from pathlib import Path

from ...core.errors import InputError
from ...core.figure.base.pose_types import Pose
from ...core.figure.figure import figure
from ...core.model.model import Model
from ...core.model.steps.receive import Receive, ReceiveReport
from ...core.motion.retarget import map_joints, retarget
from ...core.receive.receive import receive
from ...formats.array_frame import pack
from ...formats.bvh import read_bvh
from ...formats.images.textures import MEDIA, read_texture
from ...formats.piece_read import read_model
from ...store.blobs.models import put_model
from ...store.db import Connection, get_blob, put_blob, transaction
from ...store.stock import batches, items
from ...store.stock.batches import BatchRow, FileRow, WaitingFile
from ...store.stock.items import Card, Content
from ...store.stock.order import Cloth
from .. import failures, work
from ..desk import Desk
from ..work import Ask, Work

STATURE = 1.70
"""How tall (metres) the wearer is taken to be of what comes without one."""
Batch = tuple[BatchRow, list[FileRow]]


def take_files(desk: Desk, mains: Sequence[tuple[str, bytes]], beside: Mapping[str, bytes], shelf: int | None) -> Batch:
    """Take files into stock as a job with a row for each: done, mended, needs you or refused with the reason.

    What lies `beside` them, materials, buffers and textures, goes with the pieces that ask for it; pictures that come alone are textures
    of the stock. Raises `InputError` where nothing among them can be taken in.
    """
    if not mains:
        mains, beside = [(name, data) for name, data in beside.items() if name.endswith(tuple(MEDIA))], {}
    if not mains:
        raise InputError(what="nothing among the files can be taken in", where="taking in", todo="Choose pieces, motions or textures.")
    with transaction() as connection:
        batch, rows = batches.add_batch(connection, mains, beside, shelf, desk.artist)
        made = batches.get_batch(connection, batch)
    for row in rows:
        desk.ask(work.take_in(row))
    return made


def latest_batch() -> Batch | None:
    """Return the batch that came in last, and its rows."""
    with transaction() as connection:
        batch = batches.latest_batch(connection)
        return None if batch is None else batches.get_batch(connection, batch)


def cancel_batch(batch: int) -> Batch:
    """Stop a batch: what is taken in stays, what waits is let go."""
    with transaction() as connection:
        batches.cancel_batch(connection, batch)
        return batches.get_batch(connection, batch)


def waiting_work() -> list[Work]:
    """Return what a crash left of batches, and of pictures to be drawn."""
    with transaction() as connection:
        return [*map(work.take_in, batches.waiting_files(connection)), *map(work.draw, items.undrawn(connection))]


def take_file(row: int, ask: Ask) -> None:
    """Take one file of a batch into stock, and have its views drawn. Safe to run twice."""
    with transaction() as connection:
        file = batches.waiting_file(connection, row)
        if file is None:
            return
        data = get_blob(connection, file.upload)
        beside = {name: get_blob(connection, sha) for name, sha in file.beside.items()}
    item: int | None = None
    state: batches.State = "refused"
    try:
        with transaction() as connection:
            item, state, why = _taken(connection, file, data, beside)
    except InputError as error:
        why = str(error)
    except Exception as error:  # one file must not hold up the others
        failures.explain(error, "taking in", row=row)
        why = f"{file.file_name}: it could not be read ({type(error).__name__})."
    with transaction() as connection:
        batches.end_file(connection, row, state, why, item)
    if item is not None:
        ask(work.draw(item))


def _taken(connection: Connection, file: WaitingFile, data: bytes, beside: dict[str, bytes]) -> tuple[int, batches.State, str]:
    name, ending = file.file_name, Path(file.file_name).suffix.lower()
    if ending == ".bvh":
        return take_motion(connection, data, name, file.author, file.shelf), "done", ""
    if ending in MEDIA:
        return take_texture(connection, data, name, file.author, file.shelf), "done", ""
    item, found = take_piece(connection, read_model(data, name, beside), name, file.author, shelf=file.shelf)
    mends = [f.text for f in found.findings if f.mend]
    to_do = [f.text for f in found.findings if not f.mend]
    return item, "needs you" if to_do else "mended" if mends else "done", "; ".join(mends + to_do)


def take_piece(connection: Connection, model: Model, file_name: str, author: str, card: Card | None = None,
               shelf: int | None = None) -> tuple[int, ReceiveReport]:
    """Put a piece in stock under `card` (or what its file name and shape say); return the item and what receiving found."""
    got = receive(model, Receive(), STATURE)
    found = got.report
    sha = put_model(connection, model)
    size = len(get_blob(connection, sha)) + sum(len(t.data) for t in model.textures)
    mends = sum(1 for f in found.findings if f.mend)
    low = float(got.mesh.points[:, 1].min())
    content = Content(file_name, sha, found.vertices, size, mends, height=found.size[1], low=low, shelf=shelf)
    return items.add(connection, card or Card(title_of(file_name), found.category), content, author), found


def take_motion(connection: Connection, data: bytes, name: str, author: str, shelf: int | None = None) -> int:
    """Put a motion in stock, retargeted to the house's figure."""
    motion = read_bvh(data, name)
    skeleton = figure(1).skeleton
    put = retarget(motion, skeleton, map_joints(motion, skeleton))
    sha = put_blob(connection, pack({"rotations": put.rotations.astype("<f4")}, {"joints": list(put.names)}), "motion")
    timing = {"seconds_per_frame": put.seconds, "frames": len(put.rotations)}
    return items.add(connection, Card(title_of(name), "motion"),
                     Content(name, sha, size=len(data), kind="motion", content=timing, shelf=shelf), author)


def take_texture(connection: Connection, data: bytes, name: str, author: str, shelf: int | None = None) -> int:
    """Put a picture in stock as a texture."""
    media = read_texture(data, name).media
    sha = put_blob(connection, data, "texture")
    return items.add(connection, Card(title_of(name), "texture"),
                     Content(name, sha, size=len(data), kind="texture", content={"media": media}, shelf=shelf), author)


def take_body(connection: Connection, name: str, body: str, vertices: int, file_name: str, author: str) -> int:
    """Put a body of one's own in stock."""
    content = Content(file_name, body, vertices, len(get_blob(connection, body)), kind="body", content={"body": body})
    return items.add(connection, Card(name, "body", origin=f"taken from {file_name}"), content, author)


def take_pose(connection: Connection, pose: Pose, author: str) -> int:
    """Put a pose in stock."""
    rotations = {joint: [float(x) for x in q] for joint, q in pose.rotations.items()}
    sha = put_blob(connection, pack({}, {"pose": rotations}), "pose")
    content = Content(f"{pose.name}.json", sha, kind="pose", content={"label": pose.label, "rotations": rotations})
    return items.add(connection, Card(pose.label, "pose", (pose.family,)), content, author)


def take_fabric(connection: Connection, name: str, cloth: Cloth, author: str, note: str = "", tags: tuple[str, ...] = ()) -> int:
    """Put a fabric in stock: its colour, and the texture it tints if it has one."""
    surface = cloth.model_dump(mode="json", exclude={"fabric"})
    sha = put_blob(connection, pack({}, {"fabric": name, "surface": surface}), "fabric")
    return items.add(connection, Card(name, "fabric", tags, note), Content(f"{name.lower()}.json", sha, kind="fabric", content=surface),
                     author)


def take_extra(connection: Connection, name: str, shape: str, author: str, note: str = "") -> int:
    """Put an extra of the figure (horns, a tail, pointed ears) in stock."""
    sha = put_blob(connection, pack({}, {"extra": shape}), "extra")
    content = Content(f"{shape}.json", sha, kind="extra", content={"shape": shape})
    return items.add(connection, Card(name, "extra", (), note), content, author)


def title_of(file_name: str) -> str:
    """Return what something is called after the file that it came in."""
    return file_name.rsplit(".", 1)[0].replace("-", " ").replace("_", " ").strip().capitalize()[:60] or "Piece"
