"""Receiving: planted damage is found, counted and mended; what is sound is left alone."""

from dataclasses import replace

import numpy as np
import pytest
import trimesh

from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.subset import turned_over, with_triangles
from wily_heron.core.piece.category import guess_category
from wily_heron.core.piece.findings import KINDS, look_over

BALL = trimesh.creation.icosphere(subdivisions=3, radius=0.4)


def ball() -> Mesh:
    uv = np.random.default_rng(1).random((len(BALL.faces), 3, 2)).astype(np.float32)
    return Mesh(BALL.vertices.astype(np.float32), BALL.faces.astype(np.int32), uv)


def sound(mesh: Mesh) -> trimesh.Trimesh:
    return trimesh.Trimesh(mesh.points, mesh.triangles, process=False)


def torn() -> tuple[Mesh, int]:
    mesh = ball()
    n = len(mesh.triangles)
    apart = np.arange(3 * n, dtype=np.int32).reshape(-1, 3)
    return replace(mesh, points=mesh.points[mesh.triangles.ravel()], triangles=apart), 3 * n - len(mesh.points)


def wound() -> tuple[Mesh, int]:
    mesh = ball()
    rows = np.zeros(len(mesh.triangles), bool)
    rows[np.random.default_rng(2).choice(len(rows), 90, replace=False)] = True
    return turned_over(mesh, rows), 90


def holed() -> tuple[Mesh, int]:
    mesh = ball()
    keep = np.ones(len(mesh.triangles), bool)
    for vertex in (0, 5, 11):  # corners of the icosahedron: five faces each, far apart
        keep &= ~(mesh.triangles == vertex).any(axis=1)
    return with_triangles(mesh, keep), 3


def doubled() -> tuple[Mesh, int]:
    mesh = ball()
    return with_triangles(mesh, np.r_[np.arange(len(mesh.triangles)), np.arange(40)]), 40


def flat() -> tuple[Mesh, int]:
    mesh = ball()
    extra = np.array([[3, 3, 9], [7, 8, 8]], np.int32)
    return replace(mesh, triangles=np.concatenate([mesh.triangles, extra]), corner_uv=None, triangle_material=np.zeros(0, np.int32),
                   polygon=np.zeros(0, np.int32)), 2


def speckled() -> tuple[Mesh, int]:
    mesh, n = ball(), len(BALL.vertices)
    speck = np.array([[9, 9, 9], [9.001, 9, 9], [9, 9.001, 9]], np.float32)
    return replace(mesh, points=np.concatenate([mesh.points, speck, speck + 1]), corner_uv=None, polygon=np.zeros(0, np.int32),
                   triangle_material=np.zeros(0, np.int32),
                   triangles=np.concatenate([mesh.triangles, [[n, n + 1, n + 2], [n + 3, n + 4, n + 5]]]).astype(np.int32)), 2


def everted() -> tuple[Mesh, int]:
    mesh = ball()
    return turned_over(mesh, np.ones(len(mesh.triangles), bool)), 1


def loose() -> tuple[Mesh, int]:
    mesh = ball()
    return replace(mesh, points=np.concatenate([mesh.points, np.zeros((7, 3), np.float32)])), 7


DAMAGE = {"split": torn, "winding": wound, "hole": holed, "duplicate": doubled, "degenerate": flat, "speck": speckled,
          "inside_out": everted, "unused": loose}


@pytest.mark.parametrize("kind", DAMAGE)
def test_planted_damage_is_counted_and_mended(kind: str):
    mesh, planted = DAMAGE[kind]()
    assert not _is_ball(mesh)
    mended, found = look_over(mesh, None)
    assert [(f.kind, f.count) for f in found if f.kind == kind] == [(kind, planted)]
    assert _is_ball(mended, volume=0.02 if kind == "hole" else 1e-6)


@pytest.mark.parametrize("kind", DAMAGE)
def test_a_refused_mend_leaves_that_damage_alone(kind: str):
    mesh, planted = DAMAGE[kind]()
    mended, found = look_over(mesh, set(KINDS) - {kind})
    assert [(f.count, f.mended) for f in found if f.kind == kind] == [(planted, False)]
    again = [f.count for f in look_over(mended, ())[1] if f.kind == kind]
    assert again == [planted]


def _is_ball(mesh: Mesh, volume: float = 1e-6) -> bool:
    got = sound(mesh)
    return bool(got.is_watertight and got.is_winding_consistent and abs(got.volume / BALL.volume - 1) < volume
                and len(mesh.points) <= len(BALL.vertices))


def test_a_sound_piece_has_nothing_to_mend_and_is_not_touched():
    mesh = ball()
    same, found = look_over(mesh, None)
    assert not [f for f in found if f.mend]
    assert np.array_equal(same.points, mesh.points)
    assert np.array_equal(same.triangles, mesh.triangles)


ROUND = trimesh.creation.uv_sphere(radius=0.4, count=[24, 24])  # its quarter meridians lie on the middle planes


def cut_ball(keep) -> Mesh:
    faces = ROUND.faces[keep(ROUND.triangles_center)]
    return Mesh(ROUND.vertices.astype(np.float32), faces.astype(np.int32))


def test_half_a_ball_is_mirrored_to_a_whole_one():
    mended, found = look_over(cut_ball(lambda middle: middle[:, 0] > 0), None)
    assert "half" in [f.kind for f in found]
    got = sound(mended)
    assert got.is_watertight
    assert got.is_winding_consistent
    assert got.volume == pytest.approx(ROUND.volume, rel=1e-6)


def test_all_damage_at_once_is_mended():
    mesh = turned_over(doubled()[0], np.random.default_rng(4).random(len(BALL.faces) + 40) < 0.2)
    n = len(mesh.triangles)
    mesh = replace(mesh, points=np.concatenate([mesh.points[mesh.triangles.ravel()], np.ones((3, 3), np.float32)]),
                   triangles=np.arange(3 * n, dtype=np.int32).reshape(-1, 3))
    assert _is_ball(look_over(mesh, None)[0])


def test_a_neck_opening_is_no_damage():
    mended, found = look_over(cut_ball(lambda middle: middle[:, 2] < 0.3), None)
    assert "hole" not in [f.kind for f in found]
    assert not sound(mended).is_watertight


def _tube(x: float, low: float, high: float, radius: float = 0.09) -> trimesh.Trimesh:
    pipe = trimesh.creation.cylinder(radius, height=high - low, sections=24, transform=trimesh.transformations.rotation_matrix(
        np.pi / 2, [1, 0, 0]))
    pipe.update_faces(np.abs(pipe.face_normals[:, 1]) < 0.5)
    pipe.apply_translation([x, (low + high) / 2, 0])
    return pipe


@pytest.mark.parametrize(("parts", "category"), [
    ([(0.11, 0.0, 0.35, 0.06), (-0.11, 0.0, 0.35, 0.06)], "footwear"), ([(0.0, 1.56, 1.75, 0.10)], "headwear"),
    ([(0.0, 0.78, 1.45, 0.2)], "top"), ([(0.0, 0.08, 1.40, 0.25)], "dress"), ([(0.1, 0.05, 0.95, 0.1), (-0.1, 0.05, 0.95, 0.1)], "bottom"),
    ([(0.1, 0.05, 0.9, 0.1), (-0.1, 0.05, 0.9, 0.1), (0.0, 0.9, 1.45, 0.2)], "suit"),
])
def test_a_category_is_guessed_from_where_a_piece_hangs(parts: list, category: str):
    pipes = trimesh.util.concatenate([_tube(*p) for p in parts])
    pipes.merge_vertices()
    assert guess_category(pipes.vertices, pipes.faces, 1.70).name == category
