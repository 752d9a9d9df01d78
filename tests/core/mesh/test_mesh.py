"""Subdivision, Laplacians and islands against known answers."""

import igl
import numpy as np
import pytest
import trimesh
from scipy.sparse.csgraph import dijkstra

from wily_heron.core.mesh.corners import any_corner, every_corner, ringed
from wily_heron.core.mesh.edges import adjacency, border_vertices, edge_lengths, edge_use
from wily_heron.core.mesh.islands import islands
from wily_heron.core.mesh.laplacian import cotangent_laplacian
from wily_heron.core.mesh.ops.capped import capped
from wily_heron.core.mesh.ops.catmull_clark import catmull_clark
from wily_heron.core.mesh.ops.coarse import coarse_of
from wily_heron.core.mesh.triangles import triangulate_quads

CUBE = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], float)
CUBE_QUADS = np.array([[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]], np.int32)


def test_catmull_clark_of_a_cube_gives_the_published_positions():
    refine, quads = catmull_clark(CUBE_QUADS, 8)
    points = refine @ CUBE
    assert refine.shape == (26, 8)
    assert len(quads) == 24
    # Catmull & Clark 1978 for a cube of half-side 1: corners go to 5/9, edge points to 3/4, face points stay at 1
    assert np.allclose(np.abs(points[:8]), 5 / 9)
    assert np.allclose(np.sort(np.abs(points[8:20]), axis=1), [0.0, 0.75, 0.75])
    assert np.allclose(np.sort(np.abs(points[20:]), axis=1), [0.0, 0.0, 1.0])
    assert np.allclose(np.asarray(refine.sum(axis=1)), 1.0)


def test_subdivided_cube_is_closed_and_wound_outwards():
    refine, quads = catmull_clark(CUBE_QUADS, 8)
    mesh = trimesh.Trimesh(refine @ CUBE, triangulate_quads(quads), process=False)
    start = trimesh.Trimesh(CUBE, triangulate_quads(CUBE_QUADS), process=False)
    assert mesh.is_watertight
    assert np.sign(mesh.volume) == np.sign(start.volume)


def test_an_open_border_stays_a_b_spline_of_its_own():
    grid = np.array([[x, y, 0.0] for y in range(3) for x in range(3)])
    quads = np.array([[0, 1, 4, 3], [1, 2, 5, 4], [3, 4, 7, 6], [4, 5, 8, 7]], np.int32)
    bent = grid.copy()
    bent[4, 2] = 5.0  # lifting the middle must not lift the border
    refine, fine = catmull_clark(quads, 9)
    moved = refine @ bent
    rim = border_vertices(fine, len(moved))
    assert rim.sum() == 16
    assert np.abs(moved[rim, 2]).max() == 0.0


def test_the_laplacian_of_a_linear_function_vanishes_inside():
    sheet = trimesh.creation.icosphere(subdivisions=0)
    grid = np.array([[x, y, 0.0] for y in range(6) for x in range(6)]) * 0.1
    quads = np.array([[r * 6 + c, r * 6 + c + 1, (r + 1) * 6 + c + 1, (r + 1) * 6 + c] for r in range(5) for c in range(5)], np.int32)
    laplacian, mass = cotangent_laplacian(grid, triangulate_quads(quads))
    inner = [r * 6 + c for r in range(1, 5) for c in range(1, 5)]
    linear = 3 * grid[:, 0] - 2 * grid[:, 1]
    # diagonals have cotangent 0, which is clamped to 0.02: the linear function is off by that little
    assert np.abs((laplacian @ linear)[inner]).max() < 0.02
    assert mass.sum() == pytest.approx(0.25)
    assert sheet.is_watertight


def test_the_laplacian_is_libigls_where_nothing_is_clamped():
    ball = trimesh.creation.icosphere(subdivisions=3)
    points, triangles = np.asarray(ball.vertices, float), np.asarray(ball.faces, np.int32)
    laplacian, mass = cotangent_laplacian(points, triangles)
    theirs = igl.cotmatrix(points, triangles.astype(np.int64))
    assert np.abs((laplacian + theirs).toarray()).max() < 1e-6  # theirs is negative semi-definite
    assert mass.sum() == pytest.approx(ball.area)


def test_islands_are_counted_largest_first():
    two = np.array([[0, 1, 2], [2, 1, 3], [4, 5, 6]], np.int32)
    count, label = islands(two, 7)
    assert count == 2
    assert label.tolist() == [0, 0, 0, 0, 1, 1, 1]


def _tube(around: int = 96, along: int = 80) -> tuple[np.ndarray, np.ndarray]:
    """A straight open tube, 12 cm thick and 60 cm long, in right triangles."""
    turn, high = np.meshgrid(2 * np.pi * np.arange(around) / around, np.linspace(0.0, 0.6, along))
    points = np.stack([0.06 * np.cos(turn), high, 0.06 * np.sin(turn)], axis=-1).reshape(-1, 3)
    at = np.arange(around * along).reshape(along, around)
    a, b, c, d = at[:-1], np.roll(at, -1, axis=1)[:-1], at[1:], np.roll(at, -1, axis=1)[1:]
    return points, np.stack([a, c, d, a, d, b], axis=-1).reshape(-1, 3).astype(np.int32)


def test_a_tube_thinned_out_is_a_tube_of_even_faces_from_hem_to_hem():
    points, triangles = _tube()
    coarse = coarse_of(points, triangles, 0.025)
    assert coarse is not None
    at = points[coarse.rows]
    edges, use = edge_use(coarse.triangles)
    assert np.bincount(use).tolist()[0] == 0
    assert use.max() == 2  # a manifold
    assert len(at) - len(edges) + len(coarse.triangles) == 0  # Euler's number of a tube
    assert len(at) < 0.2 * len(points)
    assert np.quantile(edge_lengths(at, edges), [0.01, 0.99]) == pytest.approx([0.02, 0.035], abs=0.008)
    hems = np.isin(at[:, 1], [0.0, 0.6])
    assert np.array_equal(border_vertices(coarse.triangles, len(at)), hems)
    theirs = trimesh.Trimesh(at, coarse.triangles, process=False)
    assert theirs.is_winding_consistent
    assert theirs.area == pytest.approx(2 * np.pi * 0.06 * 0.6, rel=0.03)


def test_the_whole_mesh_follows_where_its_thinned_out_vertices_go():
    points, triangles = _tube()
    fine = points + 0.002 * np.cos(points[:, 1:2] * 300) * points * [1 / 0.06, 0.0, 1 / 0.06]  # weave, finer than what is left of it

    def bent(p: np.ndarray) -> np.ndarray:  # round a circle of half a metre's radius
        angle = p[:, 1] / 0.5
        return np.stack([0.5 - (0.5 - p[:, 0]) * np.cos(angle), (0.5 - p[:, 0]) * np.sin(angle), p[:, 2]], axis=1)

    coarse = coarse_of(fine, triangles, 0.025)
    assert coarse is not None
    made, true = coarse.whole(bent(fine)[coarse.rows], fine), bent(fine)
    assert np.linalg.norm(made - true, axis=1).max() < 0.001
    assert np.linalg.norm(made - true, axis=1)[coarse.rows].max() < 1e-9


def test_what_is_apart_from_a_mesh_is_not_thinned_out_with_it():
    points, triangles = _tube()
    button = points[:3] + [0.0, 0.0, 0.1]
    coarse = coarse_of(np.concatenate([points, button]), np.concatenate([triangles, [[7680, 7681, 7682]]]).astype(np.int32), 0.025)
    assert coarse is not None
    assert np.flatnonzero(coarse.apart).tolist() == [7680, 7681, 7682]
    assert coarse.rows.max() < 7680
    rest = np.concatenate([points, button])
    assert np.array_equal(coarse.whole(rest[coarse.rows] + [0.0, 1.0, 0.0], rest)[7680:], button)


def test_a_mesh_that_is_coarse_or_no_manifold_is_thinned_out_as_far_as_that_goes():
    points, triangles = _tube()
    assert coarse_of(points, triangles.copy(), 0.005) is None
    torn = triangles.copy()
    torn[::7] = torn[::7, ::-1]  # wound the other way
    torn[5::50, 2] = 3000  # and fins that reach across
    coarse = coarse_of(points, torn, 0.025)
    assert coarse is not None
    assert np.isfinite(coarse.whole(points[coarse.rows], points)).all()


@pytest.mark.parametrize("rings", [0, 1, 4])
def test_rings_about_vertices_are_as_far_as_so_many_edges_reach(rings: int):
    ball = trimesh.creation.icosphere(subdivisions=3)
    faces, random = np.asarray(ball.faces, np.int32), np.random.default_rng(3)
    of = random.random(len(ball.vertices)) < 0.01
    steps = dijkstra(adjacency(faces, len(of)), indices=np.flatnonzero(of), unweighted=True, min_only=True)
    assert np.array_equal(ringed(of, faces, rings), steps <= rings)
    assert np.array_equal(any_corner(of, faces), of[faces].any(axis=1))
    assert np.array_equal(every_corner(steps <= 2, faces), (steps <= 2)[faces].all(axis=1))
    assert 0 < of.sum() < (steps <= 4).sum() < len(of)


def test_a_move_is_held_to_a_length_and_keeps_its_way():
    move = np.array([[0.0, 0.0, 0.0], [0.03, -0.04, 0.0], [0.003, -0.004, 0.0]])
    assert np.allclose(capped(move, 0.025), [[0.0, 0.0, 0.0], [0.015, -0.02, 0.0], [0.003, -0.004, 0.0]])
