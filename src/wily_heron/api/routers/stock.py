"""The stockroom: finding, taking in, using, writing on cards, duplicating, replacing, retiring."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response, UploadFile
from psycopg.types.json import Jsonb

from ...core.bench.recipe import Recipe
from ...core.errors import InputError, NotFound
from ...core.figure.base.body import shape_values, shaped
from ...core.model.steps.receive import Receive
from ...core.motion.own_poses import own_pose
from ...core.receive.receive import receive
from ...formats.model_write import WRITTEN, write_model, zipped
from ...formats.piece_read import read_model
from ...formats.slug import slug
from ...formats.textures import MEDIA
from ...jobs.stocking import STATURE, take_fabric, take_in
from ...store import pieces, stock, stock_order, wearers
from ...store.bodies import body_for
from ...store.db import Connection, one, put_blob, run, transaction
from ...store.events import notify
from ...store.models import get_model, put_model
from ...store.poses import keep_pose
from ..deps import Artist, ProductionId
from ..queue import ask
from ..received_files import sorted_files
from ..schemas import PieceOut
from ..schemas_stock import (
    BatchOut,
    BundleOut,
    CardIn,
    CountOut,
    DressIn,
    FabricIn,
    ManyIn,
    ReplacedOut,
    ShelfOut,
    StockItemOut,
    StockOut,
    UsedOut,
)
from ..wearing import hang, in_colours
from .pieces import piece_named
from .stock_order import batch_out

router = APIRouter(prefix="/api/stock", tags=["stock"])


@router.get("")
def search(q: Annotated[str, Query(max_length=120)] = "",
    category: str | None = None,
    kind: str | None = None,
    tag: str | None = None,
    shelf: int | None = None,
    fits: int | None = None,
    favourites: bool = False,
    retired: bool = False,
    sort: Literal["newest", "name", "size"] = "newest",
    limit: Annotated[int, Query(ge=1, le=200)] = 60,
    offset: Annotated[int, Query(ge=0)] = 0) -> StockOut:
    """Return the items in stock whose cards match, and the categories, kinds, tags, shelves and bundles there are.

    `fits` is a wearer: pieces made for that wearer's body, of a size that can be worn on it.
    """
    with transaction() as connection:
        body, stature = _worn_by(connection, fits)
        rows = stock.search(connection, stock.Asked(q, category, kind, tag, shelf, favourites, retired, body, stature, sort, limit, offset))
        categories, kinds, tags = ([CountOut(**r) for r in run(connection, f"stock_{word}")] for word in ("categories", "kinds", "tags"))
        shelves = [ShelfOut(**r) for r in run(connection, "shelves")]
        bundles = [BundleOut(**r) for r in run(connection, "bundles")]
    items = [StockItemOut(**{k: r[k] for k in StockItemOut.model_fields if k in r}, strip=r["strip_sha"]) for r in rows]
    return StockOut(items=items, total=rows[0]["total"] if rows else 0, categories=categories, kinds=kinds, tags=tags, shelves=shelves,
                    bundles=bundles)


def _worn_by(connection: Connection, wearer: int | None) -> tuple[str | None, float | None]:
    if wearer is None:
        return None, None
    row = one(connection, "wearer", wearer=wearer)
    if row is None:
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Reload the room.")
    body = body_for(row["body_sha"], row["shape"], 1)
    return row["body_sha"], float(shaped(body, shape_values(body, row["shape"])).points[:, 1].max())


@router.post("", status_code=201)
def take(artist: Artist, files: list[UploadFile], shelf: int | None = None) -> BatchOut:
    """Take files into stock as a job with a row for each: done, mended, needs you or refused with the reason.

    Materials, buffers and textures go with the pieces that ask for them; pictures that come alone are textures of the stock.
    """
    mains, beside = sorted_files(files)
    if not mains:
        mains = [(name, data) for name, data in beside.items() if name.endswith(tuple(MEDIA))]
        beside = {}
    if not mains:
        raise InputError(what="nothing among the files can be taken in", where="taking in", todo="Choose pieces, motions or textures.")
    with transaction() as connection:
        kept = {name: put_blob(connection, data, "upload") for name, data in beside.items()}
        batch = run(connection, "add_batch", shelf=shelf, beside=Jsonb(kept), author=artist)[0]["id"]
        rows = [run(connection, "add_batch_row", batch=batch, file_name=name, upload=put_blob(connection, data, "upload"))[0]["id"]
                for name, data in mains]
        notify(connection, "stock")
    for row in rows:
        ask("take_in_file", priority=5, row=row)
    return batch_out(batch)


@router.post("/fabrics", status_code=201)
def make_fabric(artist: Artist, fabric: FabricIn) -> dict[str, int]:
    """Make a fabric: a colour, and the texture of the stock it tints if it has one."""
    with transaction() as connection:
        texture = None
        if fabric.texture is not None:
            card = stock.item(connection, fabric.texture)
            if card["kind"] != "texture":
                raise InputError(what="it is no texture", where=card["name"], todo="Choose a texture of the stock.")
            texture = card["source_sha"]
        surface = {"colour": fabric.colour, "roughness": fabric.roughness, "metal": fabric.metal, "texture": texture}
        item = take_fabric(connection, fabric.name.strip(), surface, artist)
    ask("draw_strip", priority=1, item=item)
    return {"id": item}


@router.post("/from-rail/{piece}", status_code=201)
def keep_piece(artist: Artist, piece: int) -> dict[str, int]:
    """Put a piece that hangs on the rail into stock, as it came; the rail's piece is then one of the stock's."""
    with transaction() as connection:
        row = pieces.get_piece(connection, piece)
        if row["stock_id"] is not None:
            raise InputError(what="it is in stock already", where=row["name"], todo="Look for it in the stockroom.")
        card = stock.Card(row["name"], row["category"])
        item, _ = take_in(connection, get_model(connection, row["source_sha"]), row["file_name"], artist, card)
        if body := row["recipe"].get("body"):
            stock.made_for(connection, item, body)
        run(connection, "from_stock", piece=piece, item=item)
        notify(connection, "piece", piece=piece)
    ask("draw_strip", priority=1, item=item)
    return {"id": item}


@router.post("/many", status_code=204)
def many(change: ManyIn) -> None:
    """Put many items on a shelf, give them a tag, or retire them."""
    with transaction() as connection:
        for item in change.items:
            stock.item(connection, item)
        if change.shelf is not None or change.off_shelf:
            stock_order.file_away(connection, change.items, change.shelf)
        if change.tag:
            run(connection, "tag_stock", items=change.items, tag=change.tag.strip().lower())
        if change.retired is not None:
            stock.retire(connection, change.items, change.retired)
        notify(connection, "stock")


@router.post("/{item}/dress", status_code=201)
def dress(production: ProductionId, artist: Artist, item: int, how: DressIn | None = None) -> PieceOut:
    """Put a piece from stock on the rail, to be placed and fitted there."""
    how = how or DressIn()
    with transaction() as connection:
        if stock.item(connection, item)["kind"] != "piece":
            raise InputError(what="this is not a piece", where="the rail", todo="Use it where its kind belongs.")
        piece, edit = hang(connection, item, production, _wearer(connection, production, how.wearer), how.colourway, artist)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(piece)


def _wearer(connection: Connection, production: int, wearer: int | None) -> dict | None:
    cast = run(connection, "cast_of", production=production)
    return next((w for w in cast if w["id"] == wearer), cast[0] if cast else None)


@router.post("/{item}/use")
def use(production: ProductionId, artist: Artist, item: int, how: DressIn | None = None) -> UsedOut:
    """Use an item by its kind: a body joins the cast, a pose the axis, a motion plays, an extra grows on the wearer."""
    how = how or DressIn()
    with transaction() as connection:
        card, production = stock.item(connection, item), production
        content, name, who = card["content"], card["name"], _wearer(connection, production, how.wearer)
        match card["kind"]:
            case "body":
                taken = {w["name"] for w in run(connection, "cast_of", production=production)}
                free = next(n for k in range(1, 1000) if (n := name if k == 1 else f"{name} {k}") not in taken)
                made = wearers.add_wearer(connection, production, free, {}, artist, content["body"])
                return UsedOut(kind="body", wearer=made, said=f"{free} has joined the cast.")
            case "pose":
                pose = own_pose(content["label"], content["rotations"])
                keep_pose(connection, production, pose, artist)
                return UsedOut(kind="pose", pose=pose.name, said=f"{name} stands on the pose axis.")
            case "motion":
                return UsedOut(kind="motion", motion=f"stock-{item}", said=f"{name} plays on the stage.")
            case "extra" if who is not None:
                if who["body_sha"]:
                    raise InputError(what=f"{who['name']} has a body of its own", where=name, todo="Choose a wearer of the house's figure.")
                wearers.set_shape(connection, who["id"], {**who["shape"], content["shape"]: 1.0}, artist)
                return UsedOut(kind="extra", wearer=who["id"], said=f"{who['name']} now has {name.lower()}; undo takes it back.")
    raise InputError(what=f"a {card['kind']} is used elsewhere", where=name, todo="Choose it in a colourway of a piece.")


@router.patch("/{item}", status_code=204)
def write(item: int, card: CardIn) -> None:
    """Write on a card."""
    with transaction() as connection:
        stock.change(connection, item, card.model_dump())


@router.post("/{item}/duplicate", status_code=201)
def duplicate(artist: Artist, item: int) -> dict[str, int]:
    """Put a copy in stock, colourways and all."""
    with transaction() as connection:
        return {"id": stock.duplicate(connection, item, artist)}


@router.post("/{item}/replace")
def replace_with_newer(artist: Artist, item: int, files: list[UploadFile]) -> ReplacedOut:
    """Put a newer version in a piece's place: pieces that came from it run their recipes again; the version before is kept."""
    mains, beside = sorted_files(files)
    if not mains:
        raise InputError(what="no piece among the files", where="the newer version", todo="Choose a piece's file.")
    name, data = mains[0]
    model = read_model(data, name, beside)
    found = receive(model, Receive(), STATURE).found
    edits = []
    with transaction() as connection:
        card = stock.item(connection, item)
        sha = put_model(connection, model)
        run(connection, "keep_version", item=item)
        run(connection, "renew_stock", item=item, source=sha, file_name=name, vertices=found["vertices"], size=len(data),
            findings=sum(1 for f in found["findings"] if f["mend"]))
        users = run(connection, "pieces_from_stock", item=item)
        for piece in users:
            edits.append(pieces.change_recipe(connection, piece["id"], Recipe.model_validate(piece["recipe"]),
                                              f"Newer version of {card['name']}", artist, None,
                                              in_colours(connection, item, sha, piece["colourway"])))
        notify(connection, "stock")
    for edit in edits:
        ask("evaluate_edit", priority=9, edit=edit)
    ask("draw_strip", priority=1, item=item)
    return ReplacedOut(version=card["version"] + 1, pieces=[p["id"] for p in users])


@router.get("/{item}/file", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def download(item: int, ending: Literal[".glb", ".obj", ".usdz", ".usdc", ".usda", ".ply", ".stl"] = ".glb") -> Response:
    """Return a piece in stock as a file, upright and in metres, with what came with it; several files come as one zip."""
    assert ending in WRITTEN
    with transaction() as connection:
        card = stock.item(connection, item)
        if card["kind"] != "piece":
            raise InputError(what="only pieces are written as files", where=card["name"], todo="Choose a piece.")
        model = get_model(connection, card["source_sha"])
    files = write_model(receive(model, Receive(mends=()), STATURE).brought, ending, slug(card["name"]))
    name, data = next(iter(files.items()))
    if len(files) > 1:
        name, data = f"{slug(card['name'])}.zip", zipped(files)
    return Response(data, media_type="application/octet-stream", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.post("/{item}/retire", status_code=204)
def retire(item: int) -> None:
    """Take an item out of stock; outfits that wear it keep it."""
    with transaction() as connection:
        stock.retire(connection, [item], True)


@router.post("/{item}/restore", status_code=204)
def restore(item: int) -> None:
    """Bring a retired item back into stock."""
    with transaction() as connection:
        stock.retire(connection, [item], False)
