"""Receiving: planted damage is found, counted and mended; what is sound is left alone."""

from dataclasses import replace

import numpy as np
import pytest
import trimesh
from igl.copyleft import cgal

from wily_heron.core.figure.base.skeleton import Skeleton, Skin
from wily_heron.core.figure.figure import figure
from wily_heron.core.mesh.edges import edge_use
from wily_heron.core.mesh.loops import border_loops
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.ops.subset import turned_over, with_triangles
from wily_heron.core.mesh.ops.uv_room import overlapping
from wily_heron.core.model.category import guess_category
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.receive.findings import KINDS, look_over, told_only
from wily_heron.core.receive.receive import receive
from wily_heron.core.space.tree import TriangleTree

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


def _boot(x: float, toe: float = 0.12) -> trimesh.Trimesh:
    """A boot with a shaft and a long toe, open at the top."""
    shaft = _tube(x, 0.0, 0.35, 0.05)
    toe_box = trimesh.creation.box((0.08, 0.06, toe), transform=trimesh.transformations.translation_matrix([x, 0.04, 0.05 + toe / 2]))
    return trimesh.util.concatenate([shaft, toe_box])


def _received(mesh: trimesh.Trimesh, step: Receive | None = None, skeleton: Skeleton | None = None):
    plain = Mesh(mesh.vertices.astype(np.float32), mesh.faces.astype(np.int32))
    skin = None
    if skeleton is not None:
        skin = Skin(np.zeros((len(plain.points), 4), np.int32), np.tile(np.float32([1, 0, 0, 0]), (len(plain.points), 1)))
    return receive(Model(plain, skeleton, skin), step or Receive(unit="m", up="y"), 1.70)


def test_a_lone_boot_gets_its_partner_unless_told_otherwise():
    got = _received(_boot(0.11))
    assert "single" in [f.kind for f in got.report.findings]
    both = sound(got.mesh)
    assert np.allclose(both.bounds[0][0], -both.bounds[1][0], atol=1e-6)
    assert both.volume == pytest.approx(2 * _boot(0.11).volume, rel=1e-5)
    alone = _received(_boot(0.11), Receive(unit="m", up="y", mends=()))
    assert alone.mesh.points[:, 0].min() > 0


@pytest.mark.parametrize(("kind", "toe"), [("keep_left", 0.12), ("keep_right", 0.16)])
def test_one_of_an_uneven_pair_is_kept_and_mirrored_when_asked_for(kind: str, toe: float):
    pair = trimesh.util.concatenate([_boot(0.11), _boot(-0.11, 0.16)])
    found = _received(pair).report.findings
    assert {f.kind: f.mended for f in found if f.kind.startswith("keep")} == {"keep_left": False, "keep_right": False}
    got = _received(pair, Receive(unit="m", up="y", mends=(kind,)))
    assert sound(got.mesh).bounds[1][2] == pytest.approx(0.05 + toe, abs=1e-6)
    left, right = got.mesh.points[got.mesh.points[:, 0] > 0], got.mesh.points[got.mesh.points[:, 0] < 0]
    assert np.allclose(np.sort(left[:, 2]), np.sort(right[:, 2]))


@pytest.mark.parametrize(("matrix", "says"), [
    (np.diag([1, 1, 1]), ("right", "front")), (np.diag([-1, 1, 1]), ("left", "front")), (np.diag([-1, 1, -1]), ("right", "back")),
    (np.diag([1, 1, -1]), ("left", "back")),
])
def test_mirrored_and_turned_files_are_put_right_by_their_joints(matrix: np.ndarray, says: tuple[str, str]):
    body = figure(1)
    walker = trimesh.Trimesh(body.base @ matrix.T, body.triangles if np.linalg.det(matrix) > 0 else body.triangles[:, ::-1], process=False)
    joints = replace(body.skeleton, positions=body.skeleton.positions @ matrix.T)
    got = _received(walker, skeleton=joints)
    assert (got.report.hand, got.report.facing) == says
    assert np.abs(got.mesh.points - body.base).max() < 1e-5
    assert got.brought.skeleton is not None
    assert np.abs(got.brought.skeleton.positions - body.skeleton.positions).max() < 1e-6
    assert sound(got.mesh).volume > 0


def test_faces_that_pierce_others_are_counted_as_exact_arithmetic_counts_them():
    a, b = trimesh.creation.icosphere(subdivisions=3, radius=0.4), trimesh.creation.icosphere(subdivisions=3, radius=0.4)
    b.apply_translation([0.31, 0.123, 0.057])
    both = trimesh.util.concatenate([a, b])
    pairs = cgal.remesh_self_intersections(both.vertices, both.faces.astype(np.int64), detect_only=True)[2]
    edges, _ = edge_use(both.faces.astype(np.int32))
    mine = TriangleTree(both.vertices, both.faces).pierced(edges)
    met = np.zeros(len(both.faces), bool)
    met[np.unique(pairs)] = True
    assert (mine <= met).all()  # nothing is called pierced that does not meet another
    by_edges = _pierced_by_edges(both, pairs)
    assert np.array_equal(np.flatnonzero(mine), by_edges)


def _pierced_by_edges(mesh: trimesh.Trimesh, pairs: np.ndarray) -> np.ndarray:
    """Of faces that meet, those an edge of the other goes through: the sign of volumes, by the book."""
    def side(a, b, c, d):
        return np.sign(np.linalg.det([b - a, c - a, d - a]))

    hit = set()
    for pair in pairs:
        for f, g in (pair, pair[::-1]):
            t, o = mesh.triangles[f], mesh.triangles[g]
            for k in range(3):
                p, q = o[k], o[(k + 1) % 3]
                around = {side(p, q, t[i], t[(i + 1) % 3]) for i in range(3)}
                if side(*t, p) * side(*t, q) < 0 and len(around) == 1:
                    hit.add(int(f))
    return np.array(sorted(hit))


def test_a_sound_ball_pierces_nothing_and_faces_that_share_texture_room_are_told():
    square = np.array([[[0, 0], [1, 0], [1, 1]], [[0, 0], [1, 1], [0, 1]]], np.float32)
    apart = np.concatenate([square, square + [2, 0]]).astype(np.float32)
    stacked = np.concatenate([square, square + [0.5, 0]]).astype(np.float32)
    assert not overlapping(apart).any()
    assert overlapping(stacked).tolist() == [True, False, False, True] or overlapping(stacked).all()
    edges, _ = edge_use(BALL.faces.astype(np.int32))
    assert not TriangleTree(BALL.vertices, BALL.faces).pierced(edges).any()


@pytest.mark.parametrize(("low", "high", "told"), [(0.20, 0.36, False), (0.38, 0.56, True)])
def test_long_edges_are_too_coarse_only_where_a_joint_bends(low: float, high: float, told: bool):
    """A leg guard of edges as long as itself: on the shin it may be stiff, over the knee it may not."""
    found = _received(trimesh.util.concatenate([_tube(x, low, high, 0.075) for x in (0.1, -0.1)])).report.findings
    assert ("coarse" in [f.kind for f in found]) == told


def test_texture_places_that_jump_from_face_to_face_are_told_in_bounded_work():
    """A hundred thousand faces that each span the whole texture: on the finest grid that is four hundred thousand million points."""
    rng = np.random.default_rng(5)
    assert overlapping(rng.random((100_000, 3, 2)).astype(np.float32)).mean() > 0.9
    one = np.array([[0.0, 0.0], [0.4, 0.0], [0.0, 0.4]], np.float32)
    assert overlapping(np.concatenate([[one, one + 0.5], np.zeros((1000, 3, 2), np.float32)]))[:2].tolist() == [False, False]


def test_a_heap_of_faces_in_one_place_is_told_in_bounded_work():
    rng = np.random.default_rng(6)
    points = rng.random((30_000, 3)).astype(np.float32)
    heap = Mesh(points, np.arange(30_000, dtype=np.int32).reshape(-1, 3))
    edges, _ = edge_use(heap.triangles)
    tree = TriangleTree(points, heap.triangles)
    some, whole = tree.some_pierced(edges, 200_000)
    assert not whole
    assert some.any()
    little = rng.choice(len(heap.triangles), 40, replace=False)
    part = TriangleTree(points, heap.triangles[little])
    all_of, whole = part.some_pierced(edge_use(heap.triangles[little])[0], 1_000_000)
    assert whole
    assert (all_of == part.pierced(edge_use(heap.triangles[little])[0])).all()


def test_what_was_not_looked_at_for_want_of_time_is_told_as_not_known(monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr("wily_heron.core.receive.findings.LEAVES", 8)
    text = {f.kind: f.text for f in told_only(ball(), 1.68)}["crossing"]
    assert text == "it is not known whether faces pierce others: too many faces lie in one place to look at all of them"


def test_the_rim_of_a_disc_of_two_hundred_thousand_faces_is_one_loop():
    n = 200_000
    rim = np.arange(1, n + 1)
    disc = np.stack([np.zeros(n, int), rim, np.roll(rim, -1)], axis=1).astype(np.int32)
    [loop] = border_loops(disc)
    turned = np.roll(loop, -int(np.argmin(loop)))
    assert (turned[1:] == rim[:0:-1]).all()  # against the winding
