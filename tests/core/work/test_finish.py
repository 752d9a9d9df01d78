"""Finishing: shapes whose answers are known, another library's subdivision and volume, and what must go along with the cloth."""

from dataclasses import replace

import igl
import numpy as np
import pytest
import trimesh

from tests.truth.planted import BODY, tunic_of
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.finish.finished_piece import FinishReport, finished
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.ops.folds import corner_normals
from wily_heron.core.mesh.ops.loop_subdivision import loop_subdivision
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.finish import Finish
from wily_heron.core.model.worn import worn_points
from wily_heron.core.motion.pose import pose_matrices
from wily_heron.core.motion.pose_library import POSES

_CUBE = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], np.float32) * 0.3
_SIDES = np.array([[0, 1, 3], [0, 3, 2], [4, 6, 7], [4, 7, 5], [0, 4, 5], [0, 5, 1], [2, 3, 7], [2, 7, 6], [0, 2, 6], [0, 6, 4], [1, 5, 7],
                   [1, 7, 3]], np.int32)


def _bare(points: np.ndarray, triangles: np.ndarray) -> Piece:
    return Piece(Mesh(points.astype(np.float32), triangles.astype(np.int32)), np.zeros(0))


def _strip(columns: int, apart: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """Two squares of cloth side by side along X, `apart` metres between their borders at X = 0, which no face spans."""
    points, faces = [], []
    for side, x0 in ((0, -0.3), (1, apart)):
        grid = np.stack(np.meshgrid(np.linspace(x0, x0 + 0.3, columns), np.linspace(0, 0.3, columns), indexing="ij"), -1).reshape(-1, 2)
        i, j = (a.ravel() for a in np.meshgrid(np.arange(columns - 1), np.arange(columns - 1), indexing="ij"))
        a = i * columns + j + side * columns**2
        faces += [np.stack([a, a + columns, a + columns + 1], 1), np.stack([a, a + columns + 1, a + 1], 1)]
        points.append(np.column_stack([grid, np.zeros(len(grid))]))
    return np.concatenate(points), np.concatenate(faces)


def test_one_level_is_what_another_library_makes_of_a_closed_mesh():
    fine, triangles = loop_subdivision(_SIDES, 8)
    theirs, faces = igl.loop(_CUBE.astype(np.float64), _SIDES.astype(np.int64), 1)
    ours = fine @ _CUBE
    assert len(triangles) == len(faces)
    apart = np.linalg.norm(ours[:, None] - theirs[None], axis=2).min(axis=1)
    assert apart.max() < 1e-6


def test_finer_cloth_passes_near_where_a_ball_was():
    sphere = trimesh.creation.icosphere(subdivisions=2, radius=0.2)
    ball, faces = np.asarray(sphere.vertices), np.asarray(sphere.faces, np.int32)
    made = finished(_bare(ball, faces), Finish(finer=1))
    radius = np.linalg.norm(made.mesh.points, axis=1)
    assert len(made.mesh.triangles) == 4 * len(faces)
    assert np.abs(radius - 0.2).max() < 0.0008  # plain subdivision would lie 4 mm inside
    plain = np.linalg.norm(loop_subdivision(faces, len(ball))[0] @ ball, axis=1)
    assert np.abs(plain - 0.2).max() > 0.002


@pytest.mark.parametrize("side", ["out", "in"])
def test_thickness_is_a_closed_skin_of_the_cloth_that_holds_so_much(side: str):
    points, faces = _strip(7)
    points, faces = points[:49], faces[:72]
    made = finished(_bare(points, faces), Finish(thick=0.004, side=side))
    corners = made.mesh.points[made.mesh.triangles].astype(np.float64)
    volume = np.einsum("na,na->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
    assert volume == pytest.approx(0.3 * 0.3 * 0.004, rel=1e-4)
    assert len(igl.boundary_facets(made.mesh.triangles.astype(np.int64))[0]) == 0
    assert made.mesh.points[:, 2].max() == pytest.approx(0.004 if side == "out" else 0.0, abs=1e-6)
    hemmed = finished(_bare(points, faces), Finish(thick=0.004, hem=0.06, side=side))
    depth = np.abs(hemmed.mesh.points[:, 2])
    rim = np.min([points[:, 0] + 0.3, -points[:, 0], points[:, 1], 0.3 - points[:, 1]], axis=0)
    twice = depth.reshape(2, -1).max(axis=0)
    assert np.allclose(twice[rim < 0.051], 0.008, atol=1e-6)
    assert np.allclose(twice[rim > 0.099], 0.004, atol=1e-6)


def test_borders_that_lie_together_become_one_cloth_and_a_slit_stays():
    points, faces = _strip(7, apart=0.0004)
    made = finished(_bare(points, faces), Finish(weld=0.0005))
    assert made.report_of(FinishReport).welded == 7
    assert len(igl.boundary_facets(made.mesh.triangles.astype(np.int64))[0]) == 2 * 24 - 2 * 6
    assert finished(_bare(points, faces), Finish(weld=0.0003)).report_of(FinishReport).welded == 0
    assert finished(_bare(points, faces), Finish(weld=0.0005, off=("weld",), thick=0.001)).report_of(FinishReport).welded == 0


def test_a_hard_edge_folds_and_a_soft_one_does_not():
    made = finished(_bare(_CUBE, _SIDES), Finish(sharp=0.7))
    normals, at = corner_normals(made.mesh)
    a, b, c = _CUBE[_SIDES].transpose(1, 0, 2)
    flat = np.cross(b - a, c - a)
    flat /= np.linalg.norm(flat, axis=1, keepdims=True)
    assert np.allclose(normals[at], flat[:, None], atol=1e-5)  # each side of the cube keeps its own
    assert finished(_bare(_CUBE, _SIDES), Finish(sharp=1.6)).mesh.corner_fold is None


def test_a_finished_tunic_goes_with_shapes_and_poses_as_the_tunic_does():
    tunic = tunic_of(0.012)
    made = finished(tunic, Finish(finer=1, thick=0.003))
    assert made.skin is not None
    assert tunic.skin is not None
    assert np.allclose(made.skin.weights.sum(axis=1), 1.0, atol=1e-5)
    assert made.skin.joints.shape[1] == tunic.skin.joints.shape[1]
    n = len(tunic.mesh.points)
    inner = slice(len(made.mesh.points) // 2, len(made.mesh.points) // 2 + n)  # where the tunic's own vertices are
    for name, shape in (("stout", {"belly": 0.8}), ("tall", {"stature": 0.6})):
        values = shape_values(BODY, shape)
        wearer = shaped(BODY, values)
        for pose in (POSES["stride"], POSES["reach-up"]):
            matrices = pose_matrices(wearer, pose)
            was = worn_points(tunic, wearer, pose, matrices)
            now = worn_points(made, wearer, pose, matrices)
            assert np.percentile(np.linalg.norm(now[inner] - was, axis=1), 99) < 0.004, name
            gap = np.linalg.norm(now[: len(now) // 2] - now[len(now) // 2:], axis=1)
            assert np.percentile(np.abs(gap - 0.003), 95) < 0.0006, name


def test_what_is_off_is_not_done_and_too_fine_is_refused():
    tunic = tunic_of(0.012)
    step = Finish(finer=2, thick=0.003, off=("finer", "thick"))
    assert step.idle
    assert np.array_equal(finished(tunic, step).mesh.points, tunic.mesh.points)
    many = replace(tunic, mesh=replace(tunic.mesh, triangles=np.tile(tunic.mesh.triangles, (40, 1))))
    with pytest.raises(InputError, match="faces"):
        finished(many, Finish(finer=2))


def test_evening_out_takes_a_ripple_down_leaves_the_borders_and_its_correctives_go_along():
    points, faces = _strip(25)
    points, faces = points[:625], faces[: 2 * 24 * 24]
    inside = (points[:, 0] > -0.3 + 1e-6) & (points[:, 0] < -1e-6) & (points[:, 1] > 1e-6) & (points[:, 1] < 0.3 - 1e-6)
    ripple = np.where(inside, 0.004 * (-1.0) ** np.arange(625), 0.0)[:, None] * [0, 0, 1]
    bare = _bare(points + ripple, faces)
    made = finished(replace(bare, fixes=ripple[None].astype(np.float32), left_out=np.array([3, 40], np.int32)), Finish(smooth=1.0, finer=1))
    old = made.mesh.points[:625]
    assert np.abs(old[inside, 2]).max() < 0.3 * 0.004
    assert np.abs(old[:, 2])[~inside].max() < 1e-6
    assert np.allclose(made.fixes[0], made.mesh.points - finished(_bare(points, faces), Finish(smooth=1.0, finer=1)).mesh.points, atol=1e-5)
    assert made.left_out.tolist() == [12, 13, 14, 15, 160, 161, 162, 163]
