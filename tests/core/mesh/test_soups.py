"""What is asked of any set of triangles, however they hang together, against scipy, trimesh, libigl and plain loops."""

import igl
import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components, dijkstra
from scipy.spatial.transform import Rotation

from wily_heron.core.mesh.boxes import box_about, in_box
from wily_heron.core.mesh.corners import any_corner, corners_of, either_end, every_corner
from wily_heron.core.mesh.dihedral import dihedrals
from wily_heron.core.mesh.edges import border_vertices, edge_use, unique_edges
from wily_heron.core.mesh.islands import islands
from wily_heron.core.mesh.loops import border_loops
from wily_heron.core.mesh.normals import triangle_areas, triangle_normals, vertex_normals
from wily_heron.core.mesh.ops.weld import welded
from wily_heron.core.mesh.rigid_islands import best_rotation
from wily_heron.core.space.surface import Surface


@st.composite
def soups(draw: st.DrawFn) -> tuple[np.ndarray, np.ndarray]:
    """Points and triangles of three corners each, that may share edges, lie apart, or leave points unused."""
    count = draw(st.integers(3, 40))
    faces = draw(st.lists(st.permutations(range(count)).map(lambda p: p[:3]), min_size=1, max_size=60))
    random = np.random.default_rng(draw(st.integers(0, 2**32 - 1)))
    return random.normal(size=(count, 3)).astype(np.float32), np.array(faces, np.int32)


def sheet(rows: int, columns: int) -> tuple[np.ndarray, np.ndarray]:
    """An open sheet of quads in two triangles each, on the xy plane, a centimetre a side."""
    x, y = np.meshgrid(np.arange(columns), np.arange(rows))
    points = 0.01 * np.stack([x, y, np.zeros_like(x)], axis=-1).reshape(-1, 3)
    at = [(r * columns + c, r * columns + c + 1, (r + 1) * columns + c + 1, (r + 1) * columns + c)
          for r in range(rows - 1) for c in range(columns - 1)]
    return points, np.array([t for a, b, c, d in at for t in ((a, b, c), (a, c, d))], np.int32)


@given(soups())
def test_islands_are_the_connected_components_of_scipy(soup: tuple[np.ndarray, np.ndarray]):
    points, triangles = soup
    ends = triangles[:, [0, 1, 1, 2]].reshape(-1, 2)
    graph = csr_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), (len(points), len(points)))
    wanted, parts = connected_components(graph, directed=False)
    count, label = islands(triangles, len(points))
    assert count == wanted
    assert len({(a, b) for a, b in zip(label, parts, strict=True)}) == wanted, "each island is one component, and whole"
    sizes = np.bincount(label)
    assert (np.diff(sizes) <= 0).all(), "the largest first"


@given(soups())
def test_edges_are_those_of_trimesh_and_each_side_of_a_face_knows_its_own(soup: tuple[np.ndarray, np.ndarray]):
    points, triangles = soup
    edges, face_edges = unique_edges(triangles)
    judge = trimesh.Trimesh(points, triangles, process=False)
    assert {tuple(e) for e in edges} == {tuple(sorted(e)) for e in judge.edges_unique}
    sides = np.sort(np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1), axis=-1)
    assert (edges[face_edges] == sides).all()
    _, use = edge_use(triangles)
    assert use.sum() == 3 * len(triangles)
    border = {v for e, k in zip(edges, use, strict=True) if k == 1 for v in e}
    assert set(np.flatnonzero(border_vertices(triangles, len(points)))) == border


@given(soups(), st.integers(0, 2**32 - 1))
def test_corners_are_asked_as_numpy_would(soup: tuple[np.ndarray, np.ndarray], seed: int):
    points, triangles = soup
    of = np.random.default_rng(seed).random(len(points)) < 0.4
    edges, _ = unique_edges(triangles)
    assert (any_corner(of, triangles) == of[triangles].any(axis=1)).all()
    assert (every_corner(of, triangles) == of[triangles].all(axis=1)).all()
    assert (either_end(of, edges) == of[edges].any(axis=1)).all()
    which = np.random.default_rng(seed + 1).random(len(triangles)) < 0.4
    assert set(np.flatnonzero(corners_of(which, triangles, len(points)))) == set(triangles[which].ravel())


@given(soups())
def test_areas_and_normals_are_those_of_libigl_and_turn_with_the_mesh(soup: tuple[np.ndarray, np.ndarray]):
    points, triangles = soup
    exact = points.astype(np.float64)
    areas = triangle_areas(exact, triangles)
    assert areas == pytest.approx(0.5 * igl.doublearea(exact, triangles.astype(np.int64)), rel=1e-9, abs=1e-12)
    fair = areas > 1e-4
    judge = trimesh.triangles.normals(exact[triangles[fair]])[0]
    assert np.abs(triangle_normals(exact, triangles)[fair] - judge).max(initial=0.0) < 1e-6
    turn = Rotation.from_rotvec([0.3, -1.1, 0.7]).as_matrix()
    before, after = vertex_normals(exact, triangles), vertex_normals(exact @ turn.T, triangles)
    cross = np.cross(exact[triangles[:, 1]] - exact[triangles[:, 0]], exact[triangles[:, 2]] - exact[triangles[:, 0]])
    left, of_all = np.zeros((len(exact), 3)), np.zeros(len(exact))
    np.add.at(left, triangles.ravel(), np.repeat(cross, 3, axis=0))
    np.add.at(of_all, triangles.ravel(), np.repeat(np.linalg.norm(cross, axis=1), 3))
    whole = np.linalg.norm(left, axis=1) > 1e-6 * of_all  # a vertex whose faces cancel out has no normal
    assert np.abs(before[whole] @ turn.T - after[whole]).max(initial=0.0) < 1e-4


@given(soups(), st.floats(-1, 1), st.floats(0, 2))
def test_a_box_holds_what_lies_in_it_and_on_its_sides(soup: tuple[np.ndarray, np.ndarray], low: float, size: float):
    points, _ = soup
    box = np.array([[low] * 3, [low + size] * 3])
    for each in (points, points.astype(np.float64)):
        assert (in_box(each, box) == ((each >= box[0]) & (each <= box[1])).all(axis=1)).all()
    assert in_box(points, box_about(points)).all()
    assert not in_box(points, box_about(points[:0])).any(), "the box about nothing holds nothing"


@given(soups(), st.integers(0, 2**32 - 1))
def test_points_in_the_same_place_are_welded_and_no_face_moves(soup: tuple[np.ndarray, np.ndarray], seed: int):
    points, triangles = soup
    split = points[triangles].reshape(-1, 3)  # every face with corners of its own
    shuffled = np.random.default_rng(seed).permutation(len(split))
    back = np.argsort(shuffled).astype(np.int32).reshape(-1, 3)
    joined, faces = welded(split[shuffled], back)
    assert len(joined) == len(np.unique(split, axis=0))
    assert (joined[faces] == points[triangles]).all()


@settings(max_examples=20)
@given(st.integers(2, 7), st.integers(2, 7))
def test_an_open_sheet_has_one_border_that_goes_all_round_against_its_faces(rows: int, columns: int):
    _, triangles = sheet(rows, columns)
    (loop,) = border_loops(triangles)
    assert len(loop) == 2 * (rows - 1) + 2 * (columns - 1)
    sides = {tuple(s) for s in np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1).reshape(-1, 2)}
    assert all((b, a) in sides for a, b in zip(loop, np.roll(loop, -1), strict=True))


def test_a_tube_has_two_borders_and_a_closed_box_none():
    points, triangles = sheet(4, 13)
    around = np.where(np.arange(len(points)) % 13 == 12, np.arange(len(points)) - 12, np.arange(len(points)))
    assert sorted(len(loop) for loop in border_loops(around[triangles].astype(np.int32))) == [12, 12]
    assert border_loops(np.asarray(trimesh.creation.box().faces, np.int32)) == []


@pytest.mark.parametrize("degrees", [0, 30, 90, 150])
def test_the_angle_of_a_fold_is_what_it_was_folded_by(degrees: float):
    points = np.array([[0, 0, 0], [0, 1, 0], [-1, 0, 0], [np.cos(np.deg2rad(degrees)), 0, np.sin(np.deg2rad(degrees))]])
    edges, angle = dihedrals(points, np.array([[0, 1, 2], [1, 0, 3]], np.int32))
    assert edges.tolist() == [[0, 1]]
    assert np.rad2deg(angle) == pytest.approx([degrees], abs=1e-6)


@given(st.integers(0, 2**32 - 1))
def test_the_best_rotation_is_the_one_that_scipy_finds_and_no_reflection(seed: int):
    random = np.random.default_rng(seed)
    a = random.normal(size=(8, 3))
    a -= a.mean(axis=0)
    turn = Rotation.from_rotvec(random.normal(size=3))
    b = turn.apply(a) + 0.01 * random.normal(size=a.shape)
    b -= b.mean(axis=0)
    found = best_rotation(a, b)
    assert np.linalg.det(found) == pytest.approx(1.0)
    assert np.abs(found - Rotation.align_vectors(b, a)[0].as_matrix()).max() < 1e-6


def test_the_way_along_a_sheet_is_never_shorter_than_the_straight_one_nor_longer_than_by_its_edges():
    points, triangles = sheet(9, 9)
    rows, distance = Surface.of(points, triangles).within(np.array([40]), 0.05)
    straight = np.linalg.norm(points[rows] - points[40], axis=1)
    edges, _ = unique_edges(triangles)
    length = np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1)
    by_edges = dijkstra(csr_matrix((length, (edges[:, 0], edges[:, 1])), (81, 81)), directed=False, indices=40)
    assert (distance >= straight - 1e-9).all()
    assert (distance <= by_edges[rows] + 1e-9).all()
    assert distance[0] == 0
    assert (np.diff(distance) >= 0).all(), "nearest first"
    assert set(rows) >= set(np.flatnonzero(by_edges < 0.05)), "none within reach is left out"
