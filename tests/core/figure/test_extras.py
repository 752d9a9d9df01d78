"""Horns, tail and pointed ears: closed parts that stay rooted in every wearer."""

import igl
import numpy as np
import pytest
import trimesh
from igl.copyleft import cgal

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.pose_types import Pose
from wily_heron.core.figure.base.rotation import turn
from wily_heron.core.figure.extras import TAIL, figure_for
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.pose import posed_body

WEARERS = ({}, {"girth": 1.0}, {"stature": -1.0, "head_size": 1.0}, {"stoop": 1.0, "seat": 1.0}, {"age": 1.0, "forehead": -1.0})


def test_a_wearer_without_extras_has_the_plain_figure():
    assert figure_for({"girth": 0.4, "horns": 0.0}) is figure()


@pytest.mark.parametrize("settings", WEARERS)
def test_horns_and_tail_are_closed_parts_rooted_under_the_skin(settings: dict):
    grown = settings | {"horns": 0.7, "tail": 1.0}
    body = figure_for(grown, 1)
    points = shaped(body, grown).points.astype(np.float64)
    own = len(figure(1).base)
    plain = body.triangles[: len(figure(1).triangles)].astype(np.int64)
    parts = trimesh.Trimesh(points, body.triangles, process=False).split(only_watertight=False)
    assert sorted(len(p.vertices) for p in parts)[-1] == own
    assert len(parts) == 4
    assert all(p.is_watertight and p.is_winding_consistent and p.volume > 0 for p in parts)
    inside = igl.fast_winding_number(points[:own], plain, points[own:]) > 0.5
    start = 0
    for n in (310, 310, 646):  # each part's first ring lies under the skin and its tip outside
        assert inside[start:start + 12].all()
        assert not inside[start + n - 1]
        start += n


@pytest.mark.parametrize("level", [1, 2])
def test_pointed_ears_do_not_fold(level: int):
    body = figure(level)
    points = shaped(body, {"pointed_ears": 1.0}).points
    assert len(cgal.remesh_self_intersections(points.astype(np.float64), body.triangles.astype(np.int64), detect_only=True)[2]) == 0
    assert (points - body.base)[:, 1].max() > 0.02


def test_the_tail_swings_on_its_own_joints():
    grown = {"tail": 1.0}
    body = figure_for(grown, 1)
    wearer = shaped(body, grown)
    still, wagged = posed_body(wearer, Pose("a", "a", "own", {})), posed_body(wearer, Pose("b", "b", "own", {TAIL[2]: turn((0, 1, 0), 40)}))
    moved = np.linalg.norm(wagged - still, axis=1)
    own = len(figure(1).base)
    assert moved[:own].max() < 1e-5
    assert moved[own:].max() > 0.10
    joints = wearer.skeleton.positions[[wearer.skeleton.index(j) for j in TAIL]]
    gaps = np.linalg.norm(joints[:, None] - wearer.points[None, own:], axis=2).min(axis=1)
    assert (gaps < 0.03).all()  # each inside its tail


def test_less_than_none_is_refused():
    with pytest.raises(InputError, match="below 0"):
        shape_values(figure(), {"horns": -0.2})
