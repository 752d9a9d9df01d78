"""The shapes of the figure: no fold anywhere, linear, one-sided where asked, and near to what is drawn anew."""

import itertools
from functools import cache

import igl.copyleft.cgal as cgal
import numpy as np
import pytest

from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.shapes import DRAWN, LEFT, SHAPES, SLIDERS
from wily_heron.core.figure.figure import figure, mirror_pairs
from wily_heron.core.figure.make.cage import build_cage
from wily_heron.core.figure.make.generate import REACH
from wily_heron.core.figure.make.surface import body_surface, topology

MOVED = [s.name for s in SHAPES]


def crossing(points: np.ndarray, triangles: np.ndarray) -> int:
    """Pairs of faces that cross, by exact arithmetic in another library."""
    return len(cgal.remesh_self_intersections(points.astype(np.float64), triangles.astype(np.int64), detect_only=True)[2])


def turned_over(points: np.ndarray, triangles: np.ndarray) -> int:
    """Quads whose two halves face apart."""
    a, b, c = (points[triangles[:, k]].astype(np.float64) for k in range(3))
    normal = np.cross(b - a, c - a)
    return int((np.sum(normal[0::2] * normal[1::2], axis=1) < 0).sum())


@pytest.mark.parametrize("level", [1, 2])
@pytest.mark.slow("core/figure")
def test_no_slider_at_its_end_folds_the_body(level: int):
    body = figure(level)
    bad = {}
    for name, value in itertools.product(SLIDERS if level == 1 else DRAWN, (-1.0, 1.0)):
        points = shaped(body, {name: value}).points
        found = crossing(points, body.triangles), turned_over(points, body.triangles)
        if any(found):
            bad[name, value] = found
    assert not bad


@pytest.mark.slow("core/figure")
def test_no_pair_of_sliders_at_their_ends_folds_the_body():
    body, rng = figure(1), np.random.default_rng(5)
    pairs = list(itertools.combinations(MOVED, 2))
    bad = {}
    for i in rng.choice(len(pairs), 150, replace=False):
        ends = dict(zip(pairs[i], rng.choice([-1.0, 1.0], 2), strict=True))
        if count := crossing(shaped(body, ends).points, body.triangles):
            bad[tuple(ends.items())] = count
    assert not bad


@pytest.mark.slow("core/figure")
def test_two_hundred_random_bodies_do_not_fold():
    body, rng = figure(1), np.random.default_rng(7)
    bodies = (shaped(body, {name: float(rng.uniform(-1, 1)) for name in MOVED}).points for _ in range(200))
    assert [i for i, points in enumerate(bodies) if crossing(points, body.triangles)] == []


@pytest.mark.slow("core/figure")
@pytest.mark.parametrize("name", DRAWN)
@pytest.mark.parametrize("part", [0.5, -0.5])
def test_half_a_drawn_shape_is_near_the_body_drawn_at_half(name: str, part: float):
    top = topology(build_cage({}), 1)
    drawn = body_surface({name: part * REACH.get(name, 1.0)}, top, 1) - _middle()
    body = figure(1)
    error = np.linalg.norm(drawn - part * 1e-5 * _stored(name), axis=1)
    assert len(error) == len(body.base)
    assert np.quantile(error, 0.99) < 0.003
    assert error.max() < 0.007


@cache
def _middle() -> np.ndarray:
    return body_surface({}, topology(build_cage({}), 1), 1)


def _stored(name: str) -> np.ndarray:
    from wily_heron.core.figure.figure import DATA

    with np.load(DATA) as d:
        return d["deltas"][DRAWN.index(name), : len(figure(1).base)].astype(np.float64)


def test_there_are_at_least_45_shapes_in_six_groups():
    assert len(SHAPES) >= 45
    assert {s.group for s in SHAPES} == {"whole body", "torso", "arms", "legs", "head", "hands and feet"}


@pytest.mark.parametrize("name", [s.name for s in SHAPES])
def test_every_shape_is_a_mirror_image_of_itself(name: str):
    body, pairs = figure(1), mirror_pairs(1)
    points = shaped(body, {name: 1.0}).points
    assert np.abs(points[pairs] * [-1, 1, 1] - points).max() < 3e-6
    assert np.abs(points - body.base).max() > 5e-4  # and it does something


@pytest.mark.parametrize("name", [s.name for s in SHAPES if s.sided])
def test_the_left_twin_leaves_the_right_side_alone(name: str):
    body = figure(1)
    moved = np.linalg.norm(shaped(body, {name + LEFT: 1.0}).points - body.base, axis=1)
    right = body.base[:, 0] < -0.08
    assert moved[right].max() < 0.02 * moved.max()


def test_level_3_keeps_the_vertices_of_level_2():
    fine, body = figure(3), figure(2)
    assert len(fine.base) > 3.9 * len(body.base)
    assert np.abs(fine.base[: len(body.base)] - body.base).max() < 1e-6
    assert turned_over(fine.base, fine.triangles) == 0
