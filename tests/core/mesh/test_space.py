"""The triangle tree against libigl and analytic answers."""

import igl
import numpy as np
import pytest
import trimesh

from bench.cloth_shapes import sheet_of
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.space.crossings import Crossings, OwnCrossings
from wily_heron.core.space.tree import Screen, TriangleTree
from wily_heron.core.space.views import Views


def _queries(points: np.ndarray, count: int, spread: float) -> np.ndarray:
    random = np.random.default_rng(4)
    return points[random.integers(0, len(points), count)] + random.normal(0, spread, (count, 3))


def test_nearest_distances_agree_with_libigl():
    body = figure(1)
    queries = _queries(body.base.astype(float), 800, 0.05)
    near = TriangleTree(body.base, body.triangles).nearest(queries)
    squared = igl.point_mesh_squared_distance(queries, body.base.astype(float), body.triangles.astype(np.int64))[0]
    assert np.abs(near.distance - np.sqrt(squared)).max() < 1e-9


def test_the_sign_agrees_with_the_winding_number():
    ring = trimesh.creation.torus(0.4, 0.12, major_sections=40, minor_sections=11)
    points, triangles = np.asarray(ring.vertices, float), np.asarray(ring.faces, np.int64)
    queries = _queries(points, 3000, 0.06)
    signed, _ = TriangleTree(points, triangles).signed_distance(queries)
    inside = igl.winding_number(points, triangles, queries) > 0.5
    assert ((signed < 0) == inside).all()


def test_a_refit_tree_answers_like_a_new_one():
    body = figure(1)
    moved = body.base.astype(float) * [1.1, 0.9, 1.0] + [0.2, 0, 0]
    queries = _queries(moved, 300, 0.05)
    old = TriangleTree(body.base, body.triangles).refit(moved).nearest(queries)
    new = TriangleTree(moved, body.triangles).nearest(queries)
    assert np.allclose(old.distance, new.distance, atol=1e-12)
    corners = moved[::7]  # as near to all faces about them: the first is told, however the boxes were built
    trees = TriangleTree(body.base, body.triangles).refit(moved), TriangleTree(moved, body.triangles)
    for at in (corners, corners * 1.003):
        assert np.array_equal(*(tree.nearest(at).triangle for tree in trees))


def test_rays_meet_a_sphere_where_they_should():
    ball = trimesh.creation.icosphere(subdivisions=5, radius=1.0)
    tree = TriangleTree(ball.vertices, ball.faces)
    origins = np.array([[0, 0, 3.0], [0.5, 0, 3.0], [2, 0, 3.0], [0, 0, 0]])
    rays = np.array([[0, 0, -1.0], [0, 0, -1.0], [0, 0, -1.0], [0, 1.0, 0]])
    distance, hit = tree.first_hits(origins, rays, 10.0)
    assert np.allclose(distance[[0, 1, 3]], [2.0, 3 - np.sqrt(0.75), 1.0], atol=2e-3)
    assert hit[2] == -1


def test_only_surfaces_that_face_the_asked_way_count():
    slab = trimesh.creation.box((2, 0.1, 2))
    tree = TriangleTree(slab.vertices, slab.faces)
    query, up = np.array([[0.3, 0.04, 0.2]]), np.array([[0, 1.0, 0]])
    assert np.isclose(tree.nearest(query, facing=up).distance[0], 0.01)
    assert np.isclose(tree.nearest(query, facing=-up).distance[0], 0.09)


@pytest.mark.parametrize(("spread", "limit"), [(0.004, 0.04), (0.03, 0.3), (0.3, 9.0)])
def test_points_that_face_the_same_way_are_asked_together_as_each_would_be_alone(spread: float, limit: float):
    """Against libigl's distances to the triangles that face so, one way after another: few or hundreds can be the nearest."""
    random = np.random.default_rng(8)
    body = figure(1)
    skin, triangles = body.base.astype(float), body.triangles.astype(np.int64)
    tree = TriangleTree(skin, triangles)
    ways = random.normal(0, 1, (12, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    each = random.integers(2, 90, len(ways))  # some more than are asked at once
    middle = skin[random.integers(0, len(skin), len(ways))]
    queries, facing = np.repeat(middle, each, axis=0) + random.normal(0, spread, (each.sum(), 3)), np.repeat(ways, each, axis=0)
    near = tree.nearest(queries, facing=facing, agree=0.2, limit=limit)
    for way, of in zip(ways, np.split(np.arange(len(queries)), np.cumsum(each)[:-1]), strict=True):
        agree = np.flatnonzero(tree.normals @ way >= 0.2)
        squared = igl.point_mesh_squared_distance(queries[of], skin, triangles[agree])[0]
        assert np.abs(near.distance[of] - np.minimum(np.sqrt(squared), limit)).max() < 1e-9
        assert ((near.triangle[of] >= 0) == (squared < limit**2)).all()
        assert np.isin(near.triangle[of], [-1, *agree]).all()
    alone = [tree.nearest(q[None], facing=f[None], agree=0.2, limit=limit) for q, f in zip(queries, facing, strict=True)]
    assert (near.triangle == np.concatenate([one.triangle for one in alone])).all()
    assert (near.where == np.concatenate([one.where for one in alone])).all()


@pytest.mark.parametrize("count", [1, 7, 8, 9, 64, 65, 130, 514, 4100])
def test_trees_of_any_size_agree_with_libigl(count: int):
    """Triangles at random, some of them slivers or no more than a line, far from the origin: single floats must hide none."""
    random = np.random.default_rng(count)
    centre = random.uniform(-1, 1, (count, 1, 3)) + [3.0, 1.0, -2.0]
    thin = random.choice([1.0, 1e-3, 0.0], (count, 3, 1), p=[0.9, 0.07, 0.03])
    points = (centre + random.normal(0, 0.05, (count, 3, 3)) * thin).reshape(-1, 3)
    faces = np.arange(3 * count, dtype=np.int64).reshape(-1, 3)
    tree, queries = TriangleTree(points, faces), random.uniform(-2, 2, (300, 3)) + [3.0, 1.0, -2.0]
    near = tree.nearest(queries)
    squared = igl.point_mesh_squared_distance(queries, points, faces)[0]
    assert np.allclose(near.distance, np.sqrt(squared), atol=1e-9)
    assert np.allclose(np.linalg.norm(queries - near.point, axis=1), near.distance, atol=1e-9)
    ways = random.normal(size=(300, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    met, _ = tree.first_hits(queries, ways, 10.0)
    corner = points[faces]
    every = _every_hit(queries, ways, corner)
    assert np.allclose(np.where(np.isfinite(met), met, -1), np.where(np.isfinite(every), every, -1), atol=1e-9)
    free = Screen([tree, TriangleTree(points + 100.0, faces)]).escapes(queries, ways, Views(ways[:1]), 0.0, 10.0) >= 0
    towards = ways @ ways[0] > 0
    assert np.array_equal(free, towards & ~np.isfinite(_every_hit(queries, np.broadcast_to(ways[0], ways.shape), corner)))


def test_what_is_hidden_is_told_wherever_trees_are_refit_to_and_whoever_else_looks_past_them():
    """Two screens of the same trees, asked by turns as these move, against every ray with every triangle."""
    random = np.random.default_rng(11)
    ball = trimesh.creation.icosphere(subdivisions=1, radius=0.3)
    faces, slab = np.asarray(ball.faces), trimesh.creation.box((1.5, 0.1, 1.5))
    trees = [TriangleTree(ball.vertices, faces), TriangleTree(slab.vertices + [0, 0.6, 0], slab.faces)]
    screens = Screen(trees), Screen(trees[:1])
    views, queries = (random.normal(size=(count, 3)) for count in (24, 150))
    views /= np.linalg.norm(views, axis=1, keepdims=True)
    facing = queries / np.linalg.norm(queries, axis=1, keepdims=True)
    queries = 0.4 * facing * random.uniform(0.2, 2.0, (150, 1))
    seen = []
    for turn in range(4):
        trees[0].refit(np.asarray(ball.vertices) * random.uniform(0.8, 1.6) + random.normal(0, 0.02, ball.vertices.shape))
        screen, these = screens[turn % 2], trees[: 2 - turn % 2]
        view = screen.escapes(queries, facing, Views(views), 0.1, 10.0, order=range(len(these))[::-1])
        corners = np.concatenate([tree.points[tree.triangles] for tree in these])
        free = np.array([(facing @ way > 0.1) & ~np.isfinite(_every_hit(queries, np.broadcast_to(way, queries.shape), corners))
                         for way in views])
        assert np.array_equal(view >= 0, free.any(axis=0))
        assert free[view, np.arange(len(queries))][view >= 0].all()
        seen.append(int((view >= 0).sum()))
    assert 0 < min(seen) < max(seen) < len(queries)


def _every_hit(origins: np.ndarray, ways: np.ndarray, corner: np.ndarray) -> np.ndarray:
    """How far along each ray the first of all triangles lies: the plane is met, and the point there solved for in the corners."""
    out = np.full(len(origins), np.inf)
    for a, b, c in corner:
        system = np.moveaxis(np.stack(np.broadcast_arrays(b - a, c - a, -ways)), 0, 2)
        flat = np.abs(np.linalg.det(system)) < 1e-14
        system[flat] = np.eye(3)
        u, v, t = np.linalg.solve(system, (origins - a)[:, :, None])[:, :, 0].T
        out = np.where(~flat & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 0) & (t < 10.0), np.minimum(out, t), out)
    return out


@pytest.mark.parametrize("room", [8192, 5])
def test_edges_through_another_mesh_are_told_with_the_faces_they_go_through(room: int, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr("wily_heron.core.space.tree._CROSSINGS", room)
    ball = trimesh.creation.icosphere(subdivisions=3, radius=0.3)
    random = np.random.default_rng(2)
    points = random.uniform(-0.5, 0.5, (400, 3))
    edges = np.arange(400).reshape(-1, 2)
    pairs = TriangleTree(ball.vertices, ball.faces).through(points, edges)
    through, mark = np.isin(np.arange(len(edges)), pairs[:, 0]), np.isin(np.arange(len(ball.faces)), pairs[:, 1])
    a, way = points[edges[:, 0]], points[edges[:, 1]] - points[edges[:, 0]]
    each = [_every_hit(a, way, np.asarray(ball.vertices)[[face]]) < 1.0 for face in ball.faces]  # of the edge's length
    assert 20 < through.sum() < 180
    assert np.array_equal(through, np.any(each, axis=0))
    assert np.array_equal(mark, np.any(each, axis=1))


def test_what_a_mesh_goes_through_of_itself_is_told_as_it_moves_part_by_part():
    random = np.random.default_rng(6)
    points, triangles = sheet_of(0.3, 0.3, 0.03)
    edges, _ = unique_edges(triangles)
    own = OwnCrossings(points, triangles)
    at, seen = points + random.normal(0, 0.012, points.shape), []
    for centre in random.uniform(0.05, 0.25, (6, 2)):
        near = np.linalg.norm(at[:, [0, 2]] - centre, axis=1) < 0.07
        at = at + near[:, None] * random.normal(0, 0.01, at.shape)
        way = at[edges[:, 1]] - at[edges[:, 0]]
        apart = ~(triangles[:, None, :, None] == edges[None, :, None, :]).any(axis=(2, 3))  # no corner shared
        through = np.array([_every_hit(at[edges[:, 0]], way, at[[face]]) < 1.0 for face in triangles]) & apart
        seen.append(own.at(at))
        assert np.array_equal(seen[-1], through.any(axis=1))
    assert 10 < seen[-1].sum() < len(triangles)
    assert not np.array_equal(seen[0], seen[-1])


def test_what_goes_through_another_mesh_is_told_as_either_moves_part_by_part():
    """Against every edge with every face, as the sheet moves, the ball, both, neither, and more than is worth asking apart."""
    random = np.random.default_rng(9)
    sheet, faces = sheet_of(0.3, 0.3, 0.04)
    ball = trimesh.creation.icosphere(subdivisions=2, radius=0.12)
    at, skin, round_ = sheet - [0.1513, 0.0021, 0.1508], np.asarray(ball.vertices, float), np.asarray(ball.faces)
    edges, _ = unique_edges(faces)
    crossings, tree, counts = Crossings(edges), TriangleTree(skin, round_), []
    for one, two in ((0.0, 0.0), (0.05, 0.0), (0.0, 0.05), (0.05, 0.05), (0.0, 0.0), (1.0, 0.0), (0.03, 0.08)):
        moved, pushed = random.random(len(at)) < one, random.random(len(skin)) < two
        at = at + moved[:, None] * random.normal(0, 0.03, at.shape)
        skin = skin + pushed[:, None] * random.normal(0, 0.03, skin.shape)
        pairs = crossings.updated(at, tree.refit(skin), moved, pushed[round_].any(axis=1))
        start, way = at[edges[:, 0]], at[edges[:, 1]] - at[edges[:, 0]]
        every = {(int(e), t) for t, face in enumerate(round_) for e in np.flatnonzero(_every_hit(start, way, skin[[face]]) < 1.0)}
        assert set(map(tuple, pairs.tolist())) == every
        counts.append(len(every))
    assert min(counts) > 10
