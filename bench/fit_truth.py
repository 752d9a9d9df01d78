"""Pieces made on any body by one rule, so that the true place of each vertex on another body is known."""

from dataclasses import dataclass

import numpy as np

from wily_heron.core.figure.base.body import Body, Wearer, shaped
from wily_heron.core.figure.base.rotation import turn
from wily_heron.core.figure.base.skeleton import skin_matrices, world_matrices
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.body_landmarks import body_landmarks
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.regions import face_regions
from wily_heron.core.mesh.edges import adjacency
from wily_heron.core.mesh.normals import vertex_normals

EASE = {"gloves": 0.002, "spats": 0.004, "hood": 0.004}
"""Metres; 0.008 for the rest: a glove at that would run into itself between the fingers."""
_TORSO = ("chest", "belly", "upper_back", "lower_back", "shoulder", "neck")
_HAND = ("palm", "back_of_hand", "thumb", "index_finger", "middle_finger", "ring_finger", "little_finger", "wrist")
KINDS: dict[str, tuple[str, ...]] = {
    "shirt": (*_TORSO, "upper_arm", "elbow", "forearm"),
    "vest": ("chest", "belly", "upper_back", "lower_back", "shoulder"),
    "trousers": ("lap", "seat", "thigh", "knee", "lower_leg"),
    "suit": (*_TORSO, "upper_arm", "elbow", "forearm", "lap", "seat", "thigh", "knee", "lower_leg"),
    "gloves": _HAND,
    "spats": ("ankle", "foot", "sole", "lower_leg"),
    "hood": ("scalp", "neck"),
    "tabard": ("chest", "belly", "upper_back", "lower_back", "shoulder", "lap", "seat"),
    "skirt": (),
    "coat": (*_TORSO, "upper_arm", "elbow", "forearm", "lap", "seat"),
}
_PINS = {
    "shirt": (
        "neck back",
        "left shoulder",
        "right shoulder",
        "left elbow",
        "right elbow",
        "waist front",
        "waist back",
        "left waist",
        "right waist",
        "breastbone",
    ),
    "vest": ("left shoulder", "right shoulder", "breastbone", "upper back", "waist front", "left waist", "right waist"),
    "trousers": ("left knee", "right knee", "hip front", "seat", "left hip", "right hip", "left knee back", "right knee back"),
    "suit": (
        "left shoulder",
        "right shoulder",
        "left elbow",
        "right elbow",
        "waist front",
        "left waist",
        "right waist",
        "left knee",
        "right knee",
        "seat",
    ),
    "gloves": (
        "left wrist",
        "right wrist",
        "left fingertip",
        "right fingertip",
        "left thumb tip",
        "right thumb tip",
        "left inner wrist",
        "right inner wrist",
    ),
    "spats": ("left ankle", "right ankle", "left heel", "right heel", "left inner ankle", "right inner ankle"),
    "hood": ("crown", "nape", "throat"),
    "tabard": ("left shoulder", "right shoulder", "breastbone", "upper back", "waist front", "waist back", "seat", "hip front"),
    "skirt": ("left waist", "right waist", "waist front", "waist back", "left hip", "right hip", "hip front", "seat"),
    "coat": (
        "neck back",
        "left shoulder",
        "right shoulder",
        "left elbow",
        "right elbow",
        "waist front",
        "waist back",
        "breastbone",
        "left hip",
        "right hip",
    ),
}


@dataclass(frozen=True)
class Made:
    """A piece (n, 3), its triangles, which vertices rest at the ease, which belong to rigid buttons, and its pins by landmark."""

    points: np.ndarray
    triangles: np.ndarray
    rests: np.ndarray
    rigid: np.ndarray
    pins: dict[str, np.ndarray]


def with_arms(wearer: Wearer, degrees: float) -> np.ndarray:
    """Return the body's vertices with both arms raised by `degrees` at the shoulder."""
    turns = {"l_shoulder": turn([0, 0, 1], degrees), "r_shoulder": turn([0, 0, 1], -degrees)}
    return skin_points(wearer.points, wearer.body.skin, skin_matrices(wearer.skeleton, world_matrices(wearer.skeleton, turns)))


def made(kind: str, skin: np.ndarray, level: int = 1, lifted: float | None = None) -> Made:
    """Return a piece of `kind` made on a figure of `level` whose vertices lie at `skin` (b, 3), `lifted` metres off it."""
    body = figure(level)
    marks = {name: body_landmarks()[name] for name in _PINS[kind]}
    if kind == "skirt":
        return _skirt(body, skin, marks, level)
    names, of = face_regions(level)
    wanted = [i for i, n in enumerate(names) if n in KINDS[kind] or (n[:2] in ("l_", "r_") and n[2:] in KINDS[kind])]
    used, faces = np.unique(body.triangles[np.isin(of, wanted)], return_inverse=True)
    faces = faces.reshape(-1, 3).astype(np.int32)
    normal = vertex_normals(skin, body.triangles)
    ease = EASE.get(kind, 0.008) if lifted is None else lifted
    lift = np.full(len(body.base), ease)
    rests = np.ones(len(body.base), bool)
    if kind in ("tabard", "coat"):  # a roomy piece: pleats of up to 12 mm run down it, told by the vertex's place on the neutral figure
        x, y, _ = body.base.T
        room = 0.006 * (1 - np.cos(70 * x)) * np.clip((1.25 - y) / 0.3, 0, 1)
        lift, rests = lift + room, room < 1e-5
    offset = lift[:, None] * normal
    if kind in ("gloves", "hood"):
        smooth = adjacency(body.triangles, len(body.base))
        smooth = smooth.multiply(1 / np.asarray(smooth.sum(axis=1))).tocsr()
        for _ in range(3):
            offset = 0.5 * offset + 0.5 * (smooth @ offset)
    points = np.asarray(skin, np.float64) + offset
    pins = {name: points[row] for name, row in marks.items()}
    rigid = np.zeros(len(used), bool)
    out, rest = points[used], rests[used]
    if kind == "coat":
        out, faces, rest, rigid = _buttoned(out, faces, rest, used, skin, normal)
    return Made(out, faces, rest, rigid, pins)


def _buttoned(points, faces, rest, used, skin, normal):
    """Six rigid discs down the front, each on the piece's vertex nearest to a place on the neutral figure."""
    neutral = figure(1).base if len(skin) == len(figure(1).base) else figure(2).base
    at = [points], [faces], [rest], [np.zeros(len(points), bool)]
    count = len(points)
    for y in np.linspace(0.98, 1.32, 6):
        row = used[np.argmin(np.linalg.norm(neutral[used] - [0.03, y, 0.14], axis=1))]
        n = normal[row]
        a = np.cross([0, 1, 0], n)
        a /= np.linalg.norm(a)
        b = np.cross(n, a)
        angle = np.linspace(0, 2 * np.pi, 12, endpoint=False)
        ring = skin[row] + 0.026 * n + 0.010 * (np.cos(angle)[:, None] * a + np.sin(angle)[:, None] * b)
        disc = np.vstack([ring, ring.mean(axis=0) + 0.002 * n])
        fan = np.stack([np.arange(12), (np.arange(12) + 1) % 12, np.full(12, 12)], axis=1)
        for part, more in zip(at, (disc, fan + count, np.zeros(13, bool), np.ones(13, bool)), strict=True):
            part.append(more)
        count += 13
    return np.vstack(at[0]), np.vstack(at[1]).astype(np.int32), np.concatenate(at[2]), np.concatenate(at[3])


def _skirt(body: Body, skin: np.ndarray, marks: dict[str, int], level: int) -> Made:
    """A skirt from waist to knee: rings round the widest of hips and thighs at each height, flaring below the hip."""
    names, of = face_regions(level)
    legs = [i for i, n in enumerate(names) if n in ("lap", "seat", "belly", "lower_back") or n[2:] in ("thigh", "knee")]
    rows = np.unique(body.triangles[np.isin(of, legs)])
    waist, knee = skin[body_landmarks()["left waist"]][1], skin[body_landmarks()["left knee"]][1]
    around, rings = (96, 48) if level == 1 else (160, 66)
    angle = np.linspace(0, 2 * np.pi, around, endpoint=False)
    way = np.stack([np.sin(angle), np.cos(angle)], axis=1)
    cloud = np.asarray(skin, np.float64)[rows]
    out, reach = [], np.zeros(around)
    middle = cloud[np.abs(cloud[:, 1] - waist) < 0.05][:, [0, 2]].mean(axis=0)
    for k, y in enumerate(np.linspace(waist - 0.01, knee, rings)):
        band = cloud[np.abs(cloud[:, 1] - y) < 0.025][:, [0, 2]] - middle
        support = (band @ way.T).max(axis=0)
        reach = np.maximum(support, reach) if k * (waist - knee) / rings < 0.16 else np.maximum(reach, support) + 0.0008
        ring = way * reach[:, None]
        out.append(np.stack([ring[:, 0] + middle[0], np.full(around, y), ring[:, 1] + middle[1]], axis=1))
    points = np.concatenate(out)
    i = np.arange(around * (rings - 1))
    right = (i // around) * around + (i + 1) % around
    faces = np.concatenate([np.stack([i, i + around, right], axis=1), np.stack([right, i + around, right + around], axis=1)])
    normal = vertex_normals(points, faces)
    if np.median(np.sum(normal[:, [0, 2]] * (points[:, [0, 2]] - middle), axis=1)) < 0:
        faces = faces[:, ::-1]
        normal = -normal
    points = points + 0.008 * normal
    pins = {name: np.asarray(skin, np.float64)[row] + 0.008 * vertex_normals(skin, body.triangles)[row] for name, row in marks.items()}
    return Made(points, np.ascontiguousarray(faces, np.int32), np.zeros(len(points), bool), np.zeros(len(points), bool), pins)


def bodies() -> dict[str, Wearer]:
    """Return six bodies, far apart in stature and build."""
    settings = {
        "slight": {"stature": -0.6, "girth": -0.5, "bust": 0.3, "hip": 0.2},
        "tall": {"stature": 0.8, "leg_length": 0.3, "muscle": 0.2},
        "heavy": {"girth": 0.8, "belly": 0.6, "hip": 0.4},
        "broad": {"shoulder": 0.7, "muscle": 0.7, "bust": -0.8, "hip": -0.3},
        "curved": {"bust": 0.8, "waist": -0.4, "hip": 0.6, "seat": 0.4},
        "stooped": {"stoop": 0.4, "age": 0.6, "girth": 0.2, "stature": -0.3},
    }
    return {name: shaped(figure(1), values) for name, values in settings.items()}


def roughly(piece: Made, rng: np.random.Generator) -> tuple[np.ndarray, dict[str, np.ndarray]]:
    """Return the piece's points and pins 15 % too large or small, 5 cm off, the pins with 6 mm of noise."""
    scale = 1.15 if rng.random() < 0.5 else 1 / 1.15
    way = rng.normal(size=3)
    move = 0.05 * way / np.linalg.norm(way)
    middle = piece.points.mean(axis=0)
    pins = {name: scale * (at - middle) + middle + move + rng.normal(0, 0.006 / np.sqrt(3), 3) for name, at in piece.pins.items()}
    return scale * (piece.points - middle) + middle + move, pins
