"""Which finger each part of a glove is on, so that none of it is led by the skin of the next finger."""


import numpy as np
from scipy import sparse
from scipy.spatial import KDTree

from ..figure.figure import figure
from ..figure.kept import FIGURE
from ..figure.on_figure import figure_tree
from ..figure.regions import face_regions
from ..memo import memoised
from ..mesh.edges import adjacency
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from ..space.under import Under

_FINGERS = ("thumb", "index_finger", "middle_finger", "ring_finger", "little_finger")
_NEAR, _ROOT = 0.03, 0.016


def on_fingers(under: Under, carrier: np.ndarray, points: np.ndarray, triangles: np.ndarray, source: np.ndarray) -> Under:
    """Return `under` with the skin that counts for each vertex of a piece: on a finger, that finger's and the hand's alone.

    The piece (n, 3) lies on the body whose level-1 vertices are `source` (b, 3); on the body it is to be worn on they are `carrier`
    (b, 3). A piece without fingers gets `under` back.
    """
    finger, side = _regions()
    rows, label = _about_hands(points, source, side), np.full(len(points), -1)
    near = figure_tree(source).nearest(points[rows], facing=vertex_normals(points, triangles)[rows], agree=0.1, limit=_NEAR)
    label[rows] = np.where(near.triangle >= 0, finger[near.triangle], -1)
    if (label >= 0).sum() < max(20, 0.1 * len(points)):  # a cuff that reaches the thumb is no glove
        return under
    label = _agreed(label, triangles)
    skin, limbs = under.skin, []
    on_finger, on_hand = _on_skin(skin, carrier, finger, side)
    centre = skin.points[skin.triangles].mean(axis=1)
    for k in np.unique(label[label >= 0]):
        own, hand = on_finger == k, np.flatnonzero((on_hand == k // len(_FINGERS)) & (on_finger < 0))
        if not own.any():
            continue  # a body of another make without that finger
        own[hand[KDTree(centre[own]).query(centre[hand], distance_upper_bound=_ROOT)[0] < _ROOT]] = True
        limbs.append((np.flatnonzero(label == k), TriangleTree(skin.points, skin.triangles[own])))
    return Under(under.skin, under.layers, tuple(limbs))


def _about_hands(points: np.ndarray, figure_at: np.ndarray, side: np.ndarray) -> np.ndarray:
    """Return the rows of `points` (k, 3) that lie about a hand of the figure whose vertices are at `figure_at` (b, 3)."""
    there = np.zeros(len(points), bool)
    for k in (0, 1):
        hand = figure_at[figure(1).triangles[side == k].ravel()]
        there |= ((points > hand.min(axis=0) - _NEAR) & (points < hand.max(axis=0) + _NEAR)).all(axis=1)
    return np.flatnonzero(there)


@memoised(FIGURE)
def _regions() -> tuple[np.ndarray, np.ndarray]:
    """For each level-1 triangle the finger it is of, 0 to 9, and the hand it is of, 0 or 1; -1 for none."""
    names, of = face_regions(1)
    fingers, sides = np.full(len(names), -1), np.full(len(names), -1)
    for i, name in enumerate(names):
        if name[2:] in (*_FINGERS, "palm", "back_of_hand", "wrist"):
            sides[i] = 0 if name[0] == "l" else 1
        if name[2:] in _FINGERS:
            fingers[i] = sides[i] * len(_FINGERS) + _FINGERS.index(name[2:])
    return fingers[of], sides[of]


def _agreed(label: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return labels (n,) as most of the neighbours have them."""
    count = label.max() + 2
    near = adjacency(triangles, len(label)) + sparse.eye(len(label))
    for _ in range(3):
        votes = near @ np.eye(count)[label + 1]
        label = np.argmax(votes, axis=1) - 1
    return label


def _on_skin(skin: TriangleTree, carrier: np.ndarray, finger: np.ndarray, side: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the finger and the hand (m,) of each triangle of a body's skin, -1 for none."""
    centre = skin.points[skin.triangles].mean(axis=1)
    there = _about_hands(centre, carrier, side)
    near = figure_tree(carrier).nearest(centre[there], facing=skin.normals[there], agree=0.3, limit=_NEAR)
    out = np.full((2, len(centre)), -1)
    for row, of in zip(out, (finger, side), strict=True):
        row[there] = np.where(near.triangle >= 0, of[near.triangle], -1)
    return out[0], out[1]
