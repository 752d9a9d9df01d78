"""Weights, a piece's own joints, springs, and what carries shapes: judged from outside."""

import numpy as np

from wily_heron.core.bind.bind import bind
from wily_heron.core.figure.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.follow.follow import follow
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.piece.recipe import Bind, Follow


def test_a_skin_tight_copy_of_the_body_takes_the_bodys_own_weights():
    wearer = shaped(figure(1), {})
    bound = bind(wearer.points, wearer.body.triangles, wearer, Bind(reach=0.03))
    skin, report = bound.skin, bound.report
    dense, mine = (np.zeros((len(wearer.points), 62)) for _ in range(2))
    for k in range(4):
        np.add.at(dense, (np.arange(len(dense)), wearer.body.skin.joints[:, k]), wearer.body.skin.weights[:, k])
        np.add.at(mine, (np.arange(len(dense)), skin.joints[:, k]), skin.weights[:, k])
    assert report["accepted"] > 0.99  # the rest are fingertips, where corner normals differ by more than the angle asked
    assert np.quantile(np.abs(dense - mine).max(axis=1), 0.99) < 0.01


def _robe() -> Mesh:
    """A straight tube from the waist to the shins, 20 cm in radius."""
    around, rows = 96, 60
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, around, endpoint=False), np.linspace(0.25, 1.1, rows))
    points = np.stack([0.20 * np.sin(angle), height, 0.20 * np.cos(angle)], axis=-1).reshape(-1, 3).astype(np.float32)
    corner = [(r * around + c, r * around + (c + 1) % around) for r in range(rows - 1) for c in range(around)]
    triangles = np.array([t for a, b in corner for t in ((a, b, b + around), (a, b + around, a + around))], np.int32)
    return Mesh(points, triangles)


def test_weights_on_a_robe_do_not_jump_between_the_legs(ibbet):
    robe = _robe()
    bound = bind(robe.points, robe.triangles, ibbet, Bind(reach=0.03, legs="off"))
    skin, report = bound.skin, bound.report
    legs = np.array([name.startswith("l_") for name in ibbet.skeleton.names], float)
    left = (skin.weights * legs[skin.joints]).sum(axis=1)
    edges, _ = unique_edges(robe.triangles)
    jump = np.abs(left[edges[:, 0]] - left[edges[:, 1]]).max()
    nearest = bind(robe.points, robe.triangles, ibbet, Bind(how="nearest")).skin
    naive = (nearest.weights * legs[nearest.joints]).sum(axis=1)
    assert report["solved"] > 0.5
    assert np.abs(naive[edges[:, 0]] - naive[edges[:, 1]]).max() > 0.9  # nearest-only does jump
    assert jump < 0.25  # what is left comes of keeping four of the seven joints that share the middle


def test_a_skin_tight_copy_follows_every_shape_exactly():
    wearer = shaped(figure(1), CAST["Ibbet"])
    deltas = follow(wearer.points, wearer.body.triangles, wearer, wearer.body.skin, step=Follow(clear=False)).deltas
    assert np.quantile(np.linalg.norm(deltas - wearer.body.deltas, axis=2).max(axis=0), 0.99) < 2e-4


