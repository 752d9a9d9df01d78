"""How the night mail keeps its stock: shelves, bundles, a colourway or two, cloths, poses, a motion and the figure's extras."""

from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.clips import clip_named
from wily_heron.core.motion.pose_library import POSES
from wily_heron.formats.bvh import write_bvh
from wily_heron.store.db import Connection, put_blob
from wily_heron.store.stock.order import Cloth, add_shelf, file_away, put_bundle, put_colourway
from wily_heron.studio.stock.taking_in import take_extra, take_fabric, take_motion, take_pose

from .stock import BUNDLES
from .textures import cloth

_CLOTHS = (
    ("Bleached linen", "linen", (0.86, 0.84, 0.78), 0.9, "Smocks and base layers."),
    ("Marsh canvas", "canvas", (0.62, 0.53, 0.36), 0.85, "Trousers, aprons, mail bags."),
    ("Grey wool felt", "wool felt", (0.26, 0.29, 0.34), 0.95, "Boots and caps."),
    ("Madder knit", "knit", (0.52, 0.17, 0.13), 0.95, "Scarves and mittens."),
    ("River oilskin", "oilskin", (0.36, 0.43, 0.28), 0.6, "Coats, hats, waders."),
    ("Tanned hide", "leather", (0.36, 0.20, 0.11), 0.55, "Straps and guards."),
    ("Blue serge", "twill", (0.13, 0.19, 0.33), 0.85, "Livery of the post."),
)
_SHELVES = {
    "Night mail": {"Livery": ("Mail tabard", "Epaulettes", "Satchel"), "Lights": ("Belt with lantern", "Hand lantern")},
    "Foul weather": {"": ("Oilskin coat", "Storm hat", "Waders", "Scarf", "Mittens")},
    "Exercises": {"": ("Smock, torn in the post", "Hat, inside out, in inches", "Half a cap", "Boots with holes")},
}
_COLOURWAYS = (
    ("Smock", "Post blue", "linen", "Blue serge"), ("Smock", "Madder", "linen", "Madder knit"),
    ("Scarf", "Grey", "madder wool", "Grey wool felt"),
)
_EXTRAS = (
    ("Marsh horns", "horns", "For the fen carollers."), ("Otter's tail", "tail", "Five joints, follows the back."),
    ("Reed ears", "pointed_ears", "Grown from the skin."),
)
_POSES = ("lantern-high", "row-catch", "knock", "haul-sack")


def take_others(connection: Connection, author: str) -> list[int]:
    """Take in what is no piece: the figure's extras, a motion, poses and cloths; return the items."""
    made = [take_extra(connection, name, shape, author, note) for name, shape, note in _EXTRAS]
    made.append(take_motion(connection, write_bvh(clip_named("walk", figure(1).skeleton)), "night-round.bvh", author))
    made += [take_pose(connection, POSES[name], author) for name in _POSES]
    return made + [take_fabric(connection, name, _cloth(connection, name), author, note, (kind,)) for name, kind, _, _, note in _CLOTHS]


def order(connection: Connection, items: dict[str, int], author: str) -> None:
    """Put up shelves, bundles and colourways for `items` (by name)."""
    for name, inner in _SHELVES.items():
        outer = add_shelf(connection, name, None)
        for label, pieces in inner.items():
            file_away(connection, [items[p] for p in pieces], add_shelf(connection, label, outer) if label else outer)
    for name, pieces in BUNDLES.items():
        put_bundle(connection, name, [items[p] for p in pieces], author)
    for piece, way, material, fabric in _COLOURWAYS:
        put_colourway(connection, items[piece], way, {material: _cloth(connection, fabric).model_copy(update={"fabric": fabric})})


def _cloth(connection: Connection, name: str) -> Cloth:
    _, kind, colour, roughness, _ = next(c for c in _CLOTHS if c[0] == name)
    return Cloth(colour=colour, roughness=roughness, metal=0.0, texture=put_blob(connection, cloth(kind), "texture"))
