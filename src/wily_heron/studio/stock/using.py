"""Using what is in stock: pieces and bundles go on the rail, bodies join the cast, poses stand on the axis, extras grow."""

from dataclasses import dataclass

from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ...core.model.free_name import free_name
from ...core.model.steps.bind import Bind
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Receive
from ...core.motion.own_poses import own_pose
from ...store.blobs.models import get_model
from ...store.db import Connection, transaction
from ...store.productions import outfits, wearers
from ...store.productions.poses import keep_pose
from ...store.productions.wearers import CastRow
from ...store.rail import pieces
from ...store.rail.pieces import PieceRow
from ...store.stock import items, order
from ...store.stock.items import Kind
from .. import dressings, work
from ..desk import Desk
from ..wearer import one_of_the_cast
from .colourways import in_colours


@dataclass(frozen=True)
class Used:
    """What using an item has done: its kind, and what to look at now."""

    kind: Kind
    said: str
    wearer: int | None = None
    pose: str | None = None
    motion: str | None = None


def dress(desk: Desk, item: int, wearer: int | None, colourway: str | None, at_once: bool = False) -> PieceRow:
    """Put a piece from stock on the rail of a wearer (the first of the cast if none is named), to be placed and fitted there; `at_once` a
    job does that."""
    with transaction() as connection:
        if items.get_item(connection, item).kind != "piece":
            raise InputError(what="this is not a piece", where="the rail", todo="Use it where its kind belongs.")
        made = [_hang(connection, desk, item, one_of_the_cast(connection, desk.production, wearer), colourway)]
    return _shown(desk, made, at_once)[0]


def dress_bundle(desk: Desk, bundle: int, wearer: int | None, at_once: bool = False, instead: bool = False) -> list[PieceRow]:
    """Put a whole bundle on in one act, in its order: over what is worn, or `instead` of it as an outfit of its own; `at_once` a job places
    and fits them too, each over those before it."""
    with transaction() as connection:
        who, found = one_of_the_cast(connection, desk.production, wearer), order.bundle(connection, bundle)
        if instead and who is not None:
            taken = (o.name for o in outfits.outfits_of(connection, desk.production))
            outfit = outfits.add_outfit(connection, desk.production, free_name(taken, found.name))
            outfits.put_on_outfit(connection, who.id, outfit)
            who = who.model_copy(update={"outfit": outfit})
        made = [_hang(connection, desk, item, who, None) for item in found.items]
    return _shown(desk, made, at_once)


def use(desk: Desk, item: int, wearer: int | None) -> Used:
    """Use an item by its kind: a body joins the cast, a pose the axis, a motion plays, an extra grows on the wearer."""
    with transaction() as connection:
        card = items.get_item(connection, item)
        content, name, who = card.content, card.name, one_of_the_cast(connection, desk.production, wearer)
        match card.kind:
            case "body":
                free = wearers.free_name(connection, desk.production, name)
                made = wearers.add_wearer(connection, desk.production, free, {}, desk.artist, content["body"])
                return Used("body", f"{free} has joined the cast.", wearer=made)
            case "pose":
                pose = own_pose(content["label"], content["rotations"])
                keep_pose(connection, desk.production, pose, desk.artist)
                return Used("pose", f"{name} stands on the pose axis.", pose=pose.name)
            case "motion":
                return Used("motion", f"{name} plays on the stage.", motion=f"stock-{item}")
            case "extra" if who is not None:
                if who.body:
                    raise InputError(what=f"{who.name} has a body of its own", where=name, todo="Choose a wearer of the house's figure.")
                wearers.set_shape(connection, who.id, {**who.shape, content["shape"]: 1.0}, desk.artist)
                return Used("extra", f"{who.name} now has {name.lower()}; undo takes it back.", wearer=who.id)
            case _:
                raise InputError(what=f"a {card.kind} is used elsewhere", where=name, todo="Choose it in a colourway of a piece.")


def _hang(connection: Connection, desk: Desk, item: int, wearer: CastRow | None, colourway: str | None) -> tuple[int, int]:
    """Put a piece in stock on the rail of a wearer's body; return the piece and its first edit.

    Where the body it was made for is the wearer's, it keeps its place and weights; else the recipe begins with receiving alone.
    """
    card = items.get_item(connection, item)
    sha = in_colours(connection, item, card.source, colourway)
    body, made_on = (wearer.body or "", wearer.shape) if wearer else ("", {})
    steps: tuple[Receive | Bind | Follow, ...] = (Receive(),)
    if card.made_for:
        own = card.made_for == body
        whose = MadeFor(name=wearer.name if wearer and own else "the body it was made for", body=card.made_for)
        steps = (Receive(unit="m", up="y", hand="right", facing="front", made_for=whose),)
        if own:
            steps += (Bind(source="own") if get_model(connection, sha).skin is not None else Bind(), Follow())
    made = pieces.add_piece(connection, desk.production, card.name, card.category, card.file_name, sha,
                            Recipe(body=body, made_on=made_on, steps=steps), desk.artist, wearer.outfit if wearer else None)
    pieces.set_stock(connection, made[0], item)
    pieces.set_colourway(connection, made[0], colourway)
    return made


def _shown(desk: Desk, made: list[tuple[int, int]], at_once: bool) -> list[PieceRow]:
    for _, edit in made:
        desk.ask(work.evaluate(edit))
    if at_once:
        dressings.ask_for(desk, [piece for piece, _ in made])
    with transaction() as connection:
        return [pieces.get_piece(connection, piece) for piece, _ in made]
