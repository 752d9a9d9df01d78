"""The stockroom of the night mail: what its wardrobe has made so far, every piece built by code, some damaged on purpose."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.measures import take
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.mesh.ops.subset import turned_over, with_triangles
from wily_heron.core.model.model import Texture
from wily_heron.core.space.tree import TriangleTree

from .coat import coat
from .forms import as_mesh, closed_end, drawn, grown, hull_ring, joined, lathe, mirrored, tube
from .quads import Quads
from .textures import cloth

_LINEN = Material("linen", (0.80, 0.76, 0.66), 0.9, colour_map="linen.png")
_WOOL = Material("wool felt", (0.26, 0.29, 0.34), 0.95, colour_map="wool felt.png")
_SERGE = Material("serge", (0.22, 0.33, 0.40), 0.92, colour_map="linen.png")
_OILSKIN = Material("oilskin", (0.36, 0.43, 0.28), 0.6, colour_map="oilskin.png")
_LEATHER = Material("leather", (0.36, 0.20, 0.11), 0.55, colour_map="leather.png")
_BRASS = Material("brass", (0.64, 0.45, 0.16), 0.35, 1.0)
_CANVAS = Material("canvas", (0.62, 0.53, 0.36), 0.85, colour_map="canvas.png")
_MADDER = Material("madder wool", (0.52, 0.17, 0.13), 0.95, colour_map="knit.png")
_HAIR = Material("horsehair", (0.16, 0.10, 0.07), 0.7)
_GLASS = Material("glass", (0.80, 0.72, 0.42), 0.2)


TILES = 8.0
BUNDLES = {
    "Ferryman in the rain": ("Marsh trousers", "Smock", "Felt boots", "Oilskin coat", "Storm hat"),
    "Sorting hall": ("Marsh trousers", "Smock", "Apron", "Knitted cap"),
}


@dataclass(frozen=True)
class Stocked:
    """A piece of the stock: its mesh as it lies in its file, and what its card says."""

    name: str
    category: str
    tags: tuple[str, ...]
    mesh: Mesh
    note: str = ""
    origin: str = "Reedmarsh wardrobe"


def stock() -> list[Stocked]:
    """Return the demo stock, the damaged ones last."""
    return [replace(piece, mesh=_tiled(piece.mesh)) for piece in [make() for make in _SOUND] + _damaged()]


def textures_of(mesh: Mesh) -> tuple[Texture, ...]:
    """Return the pictures a piece's cloths ask for."""
    asked = dict.fromkeys(name for m in mesh.materials for name in m.maps())
    return tuple(Texture(name, cloth(name.removesuffix(".png")), "image/png") for name in asked)


def _tiled(mesh: Mesh) -> Mesh:
    """Return the mesh with its texture places spread so that a tile of cloth is about a hand wide."""
    return mesh if mesh.corner_uv is None else replace(mesh, corner_uv=(TILES * mesh.corner_uv).astype(np.float32))


def _ring(mark: str, tilt: float = 0.0, lift: float = 0.0) -> np.ndarray:
    """Return the tape round the figure at a girth, as a path of 64 even steps; `tilt` leans it like a strap (radians)."""
    wearer = shaped(figure(1), {})
    tape = take(wearer, (mark,))[mark].tape.on(wearer.points) + [0.0, lift, 0.0]
    if tilt:
        tape = tape + np.outer((tape[:, 0] - tape[:, 0].mean()) * np.tan(tilt), [0.0, 1.0, 0.0])
    line = np.vstack([tape, tape[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    at = np.linspace(0.0, along[-1], 65)[:-1]
    return np.stack([np.interp(at, along, line[:, k]) for k in range(3)], axis=1)


def _outwards(path: np.ndarray, by: float) -> np.ndarray:
    away = path - path.mean(axis=0)
    away[:, 1] = 0.0
    return path + by * away / np.linalg.norm(away, axis=1, keepdims=True)


def _smock() -> Stocked:
    form = grown({"chest", "belly", "lap", "seat", "upper_back", "lower_back", "shoulder", "upper_arm", "elbow"}, 0.014, 26,
                 lambda m: m[:, 1] > 0.80)
    flare = np.clip((1.12 - form.points[:, 1]) / 0.32, 0, 1)[:, None] ** 1.4
    return Stocked("Smock", "top", ("linen", "summer"), as_mesh(replace(form, points=form.points * (1 + flare * [0.22, 0, 0.30])), _LINEN))


def _trousers() -> Stocked:
    form = grown({"lap", "seat", "thigh", "knee", "lower_leg"}, 0.013, 22, lambda m: m[:, 1] > 0.14)
    return Stocked("Marsh trousers", "bottom", ("canvas", "work"), as_mesh(form, _CANVAS))


def _coat() -> Stocked:
    return Stocked("Oilskin coat", "top", ("oilskin", "rain", "buttons"), as_mesh(coat(), _OILSKIN, _BRASS))


def _tabard() -> Stocked:
    form = grown({"chest", "belly", "lap", "seat", "upper_back", "lower_back"}, 0.024, 40,
                 lambda m: (np.abs(m[:, 0]) < 0.125) & (m[:, 1] > 0.80))
    return Stocked("Mail tabard", "top", ("wool", "night mail", "livery"), as_mesh(form, _MADDER), "Badge of the post to come.")


def _skirt() -> Stocked:
    """From the waist over the hips, flared to nearly two metres round at the hem, about both legs."""
    body, hip = figure(1).base, _ring("hip_girth")[:, 1].mean()
    waist = _ring("waist_girth")[:, 1].mean()
    angle = np.linspace(0, 2 * np.pi, 80, endpoint=False)
    way = np.stack([np.sin(angle), np.cos(angle)], axis=1)
    rings, reach = [], np.zeros(80)
    for y in np.linspace(waist, 0.30, 56):
        about = body[(np.abs(body[:, 1] - y) < 0.02) & (np.abs(body[:, 0]) < 0.23)][:, [0, 2]]
        if y > hip - 0.05:
            reach = np.maximum(reach, (about @ way.T).max(axis=0) + 0.012)
        flare = 0.15 * max(0.0, (hip - y) / (hip - 0.30)) ** 1.15
        rings.append(np.column_stack([way[:, 0] * (reach + flare), np.full(80, y), way[:, 1] * (reach + flare)]))
    for _ in range(3):
        rings[1:-1] = [0.25 * a + 0.5 * b + 0.25 * c for a, b, c in zip(rings, rings[1:], rings[2:], strict=False)]
    return Stocked("Ferry skirt", "bottom", ("wool", "ferry"), as_mesh(tube(np.array(rings)), _SERGE), "For the lower marsh.")


def _waders() -> Stocked:
    legs = grown({"lap", "seat", "thigh", "knee", "lower_leg"}, 0.012, 40, lambda m: m[:, 1] > 0.17)
    boot = _boot(0.20, 0.052)
    return Stocked("Waders", "bottom", ("oilskin", "river"), as_mesh(joined(legs, boot, mirrored(boot)), _OILSKIN))


def _boot(top: float, calf: float, room: float = 0.007) -> Quads:
    """Return the left boot from the calf at height `top` down round the heel and forward over all toes, `room` metres off the foot."""
    body = figure(1)
    s, around = body.skeleton, 36
    ankle, ball = (s.positions[s.index(f"l_{j}")] for j in ("talocrural", "metatarsophalangeal"))
    foot = body.base[(body.base[:, 0] > 0.02) & (body.base[:, 1] < top + 0.02) & (body.base[:, 0] < 0.25)].astype(float)
    foot = foot[(foot[:, 1] < 0.16) | (np.linalg.norm(foot[:, [0, 2]] - ankle[[0, 2]], axis=1) < 0.11)]
    ahead = (ball - ankle) * [1, 0, 1] / np.linalg.norm((ball - ankle) * [1, 0, 1])
    up, side = np.array([0.0, 1.0, 0.0]), np.cross([0.0, 1.0, 0.0], ahead)
    instep = ankle * [1, 0, 1] + 0.115 * ahead + 0.175 * up  # sections turn about the bend of the foot from level to upright
    reach = float((foot[foot[:, 1] < 0.08] @ ahead).max())
    rings = []
    for y in np.linspace(top, instep[1], 12, endpoint=False):
        near = foot[np.abs(foot[:, 1] - y) < 0.02]
        middle = np.array([ankle[0], y, ankle[2] + 0.012 * max(0.0, (y - 0.2) / 0.11)])
        ring = hull_ring(near, middle, side, ahead, room, around)
        out = ring - middle
        wide = np.maximum(np.linalg.norm(out, axis=1), calf * np.clip((y - 0.14) / (top - 0.14), 0.0, 1.0) ** 0.5)
        rings.append(middle + out / np.linalg.norm(out, axis=1)[:, None] * wide[:, None])
    for a in np.linspace(0.0, np.pi / 2, 24):
        down = np.cos(a) * -ahead + np.sin(a) * -up  # the way from the bend of the foot in the plane of the section
        along = np.cross(side, down)
        on = foot[(np.abs((foot - instep) @ along) < 0.02) & ((foot - instep) @ down > -0.04)]
        rings.append(hull_ring(on, instep, side, -down, 1.6 * room, around))
    for z in np.linspace(float(instep @ ahead), reach + room, 22)[1:]:
        on = foot[(np.abs(foot @ ahead - z) < 0.014) & (foot[:, 1] < 0.13)]
        on = on if len(on) > 8 else foot[(foot @ ahead > reach - 0.02) & (foot[:, 1] < 0.13)]
        rings.append(hull_ring(on, instep + (z - float(instep @ ahead)) * ahead, side, up, room, around))
    tip = rings[-1].mean(axis=0) + 0.004 * ahead
    rings += [tip + 0.75 * (rings[-1] - rings[-1].mean(axis=0)), tip + 0.003 * ahead + 0.4 * (rings[-1] - rings[-1].mean(axis=0))]
    rows = np.array(rings)
    skin = TriangleTree(body.base, body.triangles)
    for _ in range(6):
        rows[1:-1] = 0.25 * rows[:-2] + 0.5 * rows[1:-1] + 0.25 * rows[2:]
        signed, near = skin.signed_distance(rows.reshape(-1, 3))  # what evening out brings too near the foot goes back out
        rows += (np.maximum(1.7 * room - signed, 0.0)[:, None] * skin.normals_at(near)).reshape(rows.shape)
    rows[:, :, 1] = np.maximum(rows[:, :, 1], -0.004)
    return closed_end(tube(rows), around)


def _mittens() -> Stocked:
    s = figure(1).skeleton
    at = {j: s.positions[s.index(f"l_{j}")] for j in ("radiocarpal", "metacarpophalangeal_3", "carpal_distal_interphalangeal_3",
                                                       "carpometacarpal_1", "carpal_interphalangeal_1")}
    wrist, tip = at["radiocarpal"], at["carpal_distal_interphalangeal_3"]
    way = (tip - wrist) / np.linalg.norm(tip - wrist)
    t = np.linspace(-0.05, 1.28, 26)[:, None]
    path = wrist + t * (tip - wrist)
    u = np.linspace(0, 1, 26)
    width = np.interp(u, [0, .15, .35, .65, .9, .97, 1], [.044, .043, .056, .057, .041, .025, .006])
    palm = np.array([0.0, 0.0, 1.0])
    hand = drawn(path, width, width * np.interp(u, [0, .3, 1], [.9, .58, .6]), 20, up=tuple(palm - (palm @ way) * way))
    root, end = at["carpometacarpal_1"], at["carpal_interphalangeal_1"]
    thumb_path = root + np.linspace(-0.2, 1.7, 14)[:, None] * (end - root)
    thumb = drawn(thumb_path, np.interp(np.linspace(0, 1, 14), [0, .8, .95, 1], [.020, .019, .012, .002]), None, 14, up=(0, 0, 1))
    hand, thumb = closed_end(hand, 20), closed_end(thumb, 14)
    pair = joined(hand, thumb, mirrored(hand), mirrored(thumb))
    return Stocked("Mittens", "glove", ("wool", "winter", "pair"), as_mesh(pair, _MADDER))


def _storm_hat() -> Stocked:
    crown = [(.004, .105), (.05, .100), (.085, .082), (.104, .045), (.112, 0.0), (.118, -.012), (.150, -.018), (.195, -.032), (.200, -.033),
             (.196, -.037), (.150, -.024), (.116, -.018), (.108, -.004)]
    form = lathe(crown, (0, 1.652, 0.0), 48, squash=0.86)
    brim = np.clip((np.hypot(form.points[:, 0], form.points[:, 2]) - 0.11) / 0.1, 0, 1)
    form.points[:, 1] -= brim * 0.035 * (form.points[:, 2] < 0) * np.abs(form.points[:, 2]) / 0.2
    return Stocked("Storm hat", "headwear", ("oilskin", "rain"), as_mesh(form, _OILSKIN))


def _belt() -> Stocked:
    ring = _outwards(_ring("waist_girth", lift=-0.02), 0.026)
    strap = drawn(ring, 0.022, 0.004, 12, closed=True)
    side = ring[np.argmax(ring[:, 0])]
    body = lathe([(.002, .062), (.020, .058), (.030, .050), (.033, .046), (.033, -.040), (.038, -.044), (.038, -.052), (.002, -.052)],
                 (side[0] + .042, side[1] - .085, side[2]), 28)
    glass = lathe([(.002, .040), (.027, .038), (.027, -.036), (.002, -.038)], (side[0] + .042, side[1] - .085, side[2]), 24)
    t = np.linspace(0, np.pi, 14)
    bail = drawn(np.stack([side[0] + .042 + .020 * np.cos(t), side[1] - .030 + .028 * np.sin(t), np.full(14, side[2])], axis=1), .0025,
                 up=(0, 0, 1), around=10)
    return Stocked("Belt with lantern", "rigid", ("leather", "brass", "lantern"),
                   as_mesh(joined(strap, body, glass, bail, materials=(0, 1, 2, 1)), _LEATHER, _BRASS, _GLASS))


def _sash() -> Stocked:
    """A band of cloth over a coat, at the ribs where the figure narrows below it: gathered, it holds by friction alone."""
    ring, rows = _outwards(_ring("waist_girth", lift=0.06), 0.024), 7
    ring = np.stack([ring, (ring + np.roll(ring, -1, axis=0)) / 2], axis=1).reshape(-1, 3)
    n, high = len(ring), np.linspace(0.045, -0.045, rows)
    at = np.arange(n * (rows - 1))
    beside = at // n * n + (at + 1) % n
    u, v = at % n / n, at // n / (rows - 1)
    across, down = np.array([0, 0, 1, 1]) / n, np.array([0, 1, 1, 0]) / (rows - 1)
    form = Quads(np.concatenate([ring + [0, y, 0] for y in high]), np.stack([at, at + n, beside + n, beside], axis=1),
                 np.stack([u[:, None] + across, 1 - v[:, None] - down], axis=2), np.zeros(len(at), np.int64))
    return Stocked("Lantern sash", "top", ("wool", "night mail", "sash"), as_mesh(form, _MADDER))


def _satchel() -> Stocked:
    strap = drawn(_outwards(_ring("upper_chest_girth", tilt=0.80, lift=-0.10), 0.020), 0.016, 0.003, 10, closed=True)
    low = strap.points[np.argmin(strap.points[:, 1])]
    y = np.linspace(-1, 1, 15)
    fat = (1 - np.abs(y) ** 6) ** (1 / 6)
    bag = drawn(np.stack([np.full(15, low[0] - .03), low[1] - .13 + .13 * y, np.full(15, low[2] + .005)], axis=1),
                .125 * np.maximum(fat, .02), .045 * np.maximum(fat, .02), 28, up=(0, 0, 1))
    return Stocked("Satchel", "rigid", ("leather", "mail", "strap"), as_mesh(joined(strap, bag, materials=(0, 1)), _LEATHER, _CANVAS))


def _boots() -> Stocked:
    boot = _boot(0.31, 0.064)
    return Stocked("Felt boots", "footwear", ("felt", "winter", "pair"), as_mesh(joined(boot, mirrored(boot)), _WOOL))


def _scarf() -> Stocked:
    ring = _outwards(_ring("neck_base_girth", lift=0.018), 0.016)
    wrap = drawn(ring, 0.034, 0.014, 14, closed=True)
    t = np.linspace(0, 1, 24)
    end = np.stack([0.045 + 0.02 * t, 1.44 - 0.40 * t, 0.075 + 0.085 * np.minimum(3 * t, 1) + 0.02 * np.sin(2.6 * t)], axis=1)
    return Stocked("Scarf", "top", ("wool", "winter"), as_mesh(joined(wrap, drawn(end, 0.012, 0.045, 16, up=(0, 0, 1))), _MADDER))


def _cap() -> Stocked:
    form = grown({"scalp"}, 0.007, 14, lambda m: m[:, 1] > 1.625, level=2)
    return Stocked("Knitted cap", "headwear", ("wool", "winter"), as_mesh(form, _WOOL))


def _apron() -> Stocked:
    form = grown({"chest", "belly", "lap"}, 0.016, 40, lambda m: (np.abs(m[:, 0]) < np.where(m[:, 1] > 1.13, .09, .17)) & (m[:, 1] < 1.31)
                 & (m[:, 2] > -0.02))
    return Stocked("Apron", "top", ("canvas", "work", "sorting hall"), as_mesh(form, _CANVAS))


def _epaulettes() -> Stocked:
    s = figure(1).skeleton
    x, y, z = s.positions[s.index("l_shoulder")]
    cap = lathe([(.002, .040), (.030, .036), (.050, .022), (.058, 0.0), (.062, -.004), (.060, -.010)], (x - .012, y + .035, z - .004), 26)
    return Stocked("Epaulettes", "rigid", ("livery", "brass", "pair"), as_mesh(joined(cap, mirrored(cap)), _BRASS))


def _knee_guards() -> Stocked:
    form = grown({"knee"}, 0.010, 14, lambda m: m[:, 2] > -0.012, level=2)
    return Stocked("Knee guards", "rigid", ("leather", "work", "pair"), as_mesh(form, _LEATHER))


def _braid() -> Stocked:
    t = np.linspace(0, 1, 90)
    spine = np.stack([0.0 * t, 1.60 - 0.52 * t, -0.100 - 0.055 * np.sin(1.9 * t)], axis=1)
    strands = []
    for k in range(3):
        turn = 2 * np.pi * (6.5 * t + k / 3)
        wave = np.stack([0.017 * np.sin(turn), 0 * t, 0.009 * np.sin(2 * turn)], axis=1) * (1 - 0.55 * t)[:, None]
        strands.append(drawn(spine + wave, 0.014 * (1 - 0.6 * t) * np.clip(12 * (1.02 - t), 0, 1), None, 10, up=(0, 0, 1)))
    return Stocked("Braid", "hair", ("horsehair",), as_mesh(joined(*strands), _HAIR))


def _beard() -> Stocked:
    form = grown({"face"}, 0.008, 22, lambda m: (m[:, 1] < 1.545) & (m[:, 2] > 0.02), level=2)
    low = np.clip((1.535 - form.points[:, 1]) / 0.06, 0, 1)[:, None] ** 1.5
    grown_long = replace(form, points=form.points + low * [0, -0.075, 0.022])
    return Stocked("Beard", "beard", ("horsehair", "ferryman"), as_mesh(grown_long, _HAIR))


def _loupe() -> Stocked:
    a = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    circle = np.stack([0.033 + 0.024 * np.cos(a), 1.605 + 0.024 * np.sin(a), np.full(40, 0.118)], axis=1)
    rim = drawn(circle, .004, .005, 12, True, (0, 0, 1))
    lens = lathe([(.0005, .004), (.012, .003), (.021, .0), (.012, -.003), (.0005, -.004)], (0, 0, 0), 32)
    lens = replace(lens, points=lens.points[:, [0, 2, 1]] * [1, 1, -1] + [0.033, 1.605, 0.118], quads=lens.quads)
    arm = np.stack([np.linspace(.057, .088, 12), np.linspace(1.605, 1.615, 12), np.linspace(.118, 0.0, 12)], axis=1)
    return Stocked("Brass loupe", "rigid", ("brass", "sorting hall"),
                   as_mesh(joined(rim, lens, drawn(arm, .003, None, 10), materials=(0, 1, 0)), _BRASS, _GLASS))


def _hand_lantern() -> Stocked:
    """A lantern on its ring, held below the left hand as the figure stands at rest: what a joint carries and a spring swings."""
    s = figure(1).skeleton
    knuckle, wrist = (s.positions[s.index(f"l_{j}")] for j in ("metacarpophalangeal_3", "radiocarpal"))
    x, y, z = 0.8 * knuckle + 0.2 * wrist + [0.0, -0.035, 0.004]
    t = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    ring = drawn(np.stack([x + .026 * np.cos(t), y - .026 + .026 * np.sin(t), np.full(40, z)], axis=1), .0028, None, 10, True, (0, 0, 1))
    low = y - .052
    cap = lathe([(.003, .0), (.012, -.006), (.018, -.016), (.044, -.034), (.050, -.040), (.046, -.043), (.003, -.043)], (x, low, z), 36)
    glass = lathe([(.003, -.044), (.036, -.046), (.040, -.080), (.038, -.122), (.003, -.124)], (x, low, z), 32)
    foot = lathe([(.003, -.123), (.044, -.124), (.048, -.132), (.048, -.144), (.044, -.148), (.003, -.148)], (x, low, z), 36)
    bars = []
    for a in np.arange(4) * np.pi / 2 + np.pi / 4:
        line = np.tile([x + .044 * np.cos(a), 0.0, z + .044 * np.sin(a)], (8, 1))
        line[:, 1] = np.linspace(low - .040, low - .128, 8)
        bars.append(drawn(line, .0022, None, 8, up=(0, 0, 1)))
    return Stocked("Hand lantern", "rigid", ("brass", "lantern", "carried"),
                   as_mesh(joined(ring, cap, glass, foot, *bars, materials=(0, 0, 1, 0, 0, 0, 0, 0)), _BRASS, _GLASS))


_SOUND: tuple[Callable[[], Stocked], ...] = (
    _smock, _trousers, _skirt, _coat, _tabard, _waders, _mittens, _storm_hat, _belt, _satchel, _boots, _scarf, _cap, _apron, _epaulettes,
    _knee_guards, _braid, _beard, _loupe, _hand_lantern, _sash,
)


def _damaged() -> list[Stocked]:
    """Return receiving exercises: torn and turned, lying in inches inside out, halved, with holes and specks."""
    rng = np.random.default_rng(12)
    smock, hat, cap, boots = (make().mesh for make in (_smock, _storm_hat, _cap, _boots))
    n = len(smock.triangles)
    torn = turned_over(smock, rng.random(n) < 0.08)
    torn = replace(torn, points=torn.points[torn.triangles.ravel()], triangles=np.arange(3 * n, dtype=np.int32).reshape(-1, 3))
    lying = turned_over(hat, np.ones(len(hat.triangles), bool))
    lying = lying.moved(np.stack([lying.points[:, 0], -lying.points[:, 2], lying.points[:, 1]], axis=1) / 0.0254)
    half = with_triangles(cap, cap.points[cap.triangles][:, :, 0].min(axis=1) > -1e-5)
    keep = np.ones(len(boots.triangles), bool)
    for vertex in rng.choice(len(boots.points), 5, replace=False):
        keep &= ~(boots.triangles == vertex).any(axis=1)
    holed = with_triangles(boots, keep)
    return [
        Stocked("Smock, torn in the post", "top", ("exercise", "damaged"), torn, "Every face alone, some turned over.", "Fenwick mill"),
        Stocked("Hat, inside out, in inches", "headwear", ("exercise", "damaged"), lying, "Built lying down.", "Harl & daughters"),
        Stocked("Half a cap", "headwear", ("exercise", "damaged"), half, "The other half is its mirror image.", "Fenwick mill"),
        Stocked("Boots with holes", "footwear", ("exercise", "damaged", "pair"), holed, "Mice.", "Old ferry store"),
    ]
