"""The cloth's kernels, each on its own, against what mechanics and geometry say of them."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bench.cloth_shapes import ball, sheet_of
from wily_heron.core.drape.cloth import Cloth
from wily_heron.core.drape.collider import Collider
from wily_heron.core.drape.kernels import coarse_kernels, contact_kernels, face_kernels, lane_kernels, solver_kernels
from wily_heron.core.drape.kernels.sheet_kernels import across_sides, bend_weights, walks
from wily_heron.core.drape.sheet import sheet
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.mesh.normals import triangle_normals
from wily_heron.core.model.steps.fabric import FABRICS

RNG = np.random.default_rng(17)
PLANE = np.array([[-5.0, 0, -5], [-5, 0, 5], [5, 0, 5], [5, 0, -5]]), np.array([[0, 1, 2], [0, 2, 3]], np.int32)


def rows_of(points: np.ndarray) -> np.ndarray:
    return np.column_stack([points, np.zeros(len(points))])


def alone(count: int) -> np.ndarray:
    """All constraints in the part that one thread does."""
    return np.array([0, 0, 0, count])


def moved(before: np.ndarray, after: np.ndarray, w: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The momentum (3,) and the angular momentum (3,) of what moved, with mobilities w (n,)."""
    push = (after[:, :3] - before[:, :3]) / w[:, None]
    return push.sum(axis=0), np.cross(before[:, :3], push).sum(axis=0)


def test_a_link_draws_its_ends_in_as_their_masses_say_and_leaves_slack_alone():
    x = rows_of(np.array([[0.0, 0, 0], [0.3, 0.4, 0], [2, 0, 0], [2.1, 0, 0]]))
    before, w = x.copy(), np.array([1.0, 3.0, 1.0, 1.0])
    ends, most = np.array([[0, 1], [2, 3]], np.int32), np.array([0.4, 0.2], np.float32)
    near_ends, near_most, stop = np.empty_like(ends), np.empty_like(most), np.zeros(3, np.int64)
    solver_kernels.nearly_taut(x, ends, most, 0.99, alone(2), near_ends, near_most, stop)
    assert stop[2] == 1  # the slack one need not be asked
    assert near_ends[:1].tolist() == [[0, 1]]
    solver_kernels.links(x, w, near_ends, near_most, alone(2), stop)
    assert np.linalg.norm(x[0] - x[1]) == pytest.approx(0.4, rel=0.003)  # a quarter too long: to the second order
    assert np.allclose((x - before)[:2, :3], np.outer([0.25, -0.75], [0.06, 0.08, 0]), rtol=0.02)
    assert np.array_equal(x[2:], before[2:])


def test_an_edge_yields_by_its_compliance_and_a_tether_only_at_its_end():
    x = rows_of(np.array([[0.0, 0, 0], [2.0, 0, 0]]))
    w, soft = np.array([0.5, 0.5]), np.array([3.0])
    solver_kernels.edges(x, w, np.array([[0, 1]], np.int32), np.array([1.0]), soft, alone(1))
    assert x[1, 0] - x[0, 0] == pytest.approx(1.0 + 1.0 * 3.0 / (1.0 + 3.0))  # XPBD: C a / (w1 + w2 + a)
    x = rows_of(np.array([[0.0, 0, 0], [0.0, -2, 0], [0.0, -0.5, 0]]))
    solver_kernels.tethers(x, np.array([0.0, 1.0, 1.0]), np.array([1, 2]), np.array([0, 0]), np.array([1.5, 1.5]))
    assert np.allclose(x[:, :3], [[0, 0, 0], [0, -1.5, 0], [0, -0.5, 0]])


def test_a_bend_is_the_gradient_of_its_energy_and_turns_with_the_cloth():
    flat = np.array([[0.0, 0, 0], [0.02, 0, 0], [0.009, 0.018, 0], [0.011, -0.016, 0]])
    corners = np.array([[0, 1, 2, 3]], np.int32)
    weight, room, curve, feels = np.empty((1, 4)), np.empty(1), np.empty(1), np.empty((1, 3))
    bend_weights(flat, corners, weight, room, curve, feels)
    assert np.allclose(weight[0] @ np.column_stack([flat, np.ones(4)]), 0, atol=1e-12)  # nothing of what is linear
    assert room[0] == pytest.approx(0.5 * 0.02 * (0.018 + 0.016))
    bent = flat + np.array([[0, 0, 0], [0, 0, 0], [0, 0, 0.004], [0, 0, 0.003]])
    w = np.array([1.0, 2.0, 0.5, 1.5])
    moves = w * weight / np.sum(w * weight[0] ** 2)
    args = corners, weight.astype(np.float32), moves.astype(np.float32), np.zeros(1, np.float32), alone(1)
    x = rows_of(bent)
    solver_kernels.bends(x, *args)
    assert np.abs(weight[0] @ x[:, :3]).max() < 1e-6 * np.abs(weight[0] @ bent).max()  # no compliance: straight at once
    momentum, turning = moved(rows_of(bent), x, w)
    assert np.abs(momentum).max() < 1e-9
    assert np.abs(turning).max() < 1e-9
    # of all moves that make it straight it is the one of least work, sum |dx|^2 / w
    least = np.sqrt(w) * np.linalg.lstsq((weight[0] * np.sqrt(w))[None], [-weight[0] @ bent[:, 2]], rcond=None)[0]
    assert np.allclose(x[:, :3] - bent, np.outer(least, [0, 0, 1]), atol=1e-8)
    turn = Rotation.from_rotvec([0.35, 1.0, -0.2]).as_matrix()
    other = rows_of(bent @ turn.T + 0.7)
    solver_kernels.bends(other, *args)
    assert np.allclose(other[:, :3], x[:, :3] @ turn.T + 0.7, atol=1e-8)


@pytest.mark.parametrize(("warp", "weft"), [(1.06, 1.0), (1.0, 0.97), (1.05, 1.04)])
def test_a_stretched_face_comes_back_to_its_length_and_keeps_its_momentum(warp: float, weft: float):
    flat, faces = np.array([[0.0, 0, 0], [0.02, 0, 0], [0.004, 0, 0.018]]), np.array([[0, 2, 1]], np.int32)
    stiff = FABRICS["linen"].model_copy(update={"warp": 1e9, "weft": 1e9, "shear": 1e9})
    cloth = Cloth(sheet(flat, faces, stiff, warp=np.array([[1.0, 0, 0]])), crowd=False)
    place = np.argsort(cloth.sheet.order)
    turn = Rotation.from_rotvec([0.8, 0.6, 0.2]).as_matrix()
    cloth.x[:] = (flat * (warp, 1.0, weft))[cloth.sheet.order] @ turn.T
    before = cloth._x.copy()
    for _ in range(60):
        lane_kernels.stretches(cloth._x, cloth._faces_at.rows, cloth._faces, cloth._faces_at.used, cloth._faces_at.split)
    now = cloth.x[place]
    length = lambda p: [np.linalg.norm(p[i] - p[j]) for i, j in ((0, 1), (1, 2), (2, 0))]  # noqa: E731
    assert length(now) == pytest.approx(length(flat), rel=2e-5)
    momentum, turning = moved(before, cloth._x, cloth.w)
    size = np.abs((cloth._x - before)[:, :3] / cloth.w[:, None]).max()
    assert np.abs(momentum).max() < 1e-5 * size
    assert np.abs(turning).max() < 0.03 * size * 0.02  # warp and weft in turn: to the first order in the strain


NOWHERE = np.full(1, -1)


def alone_in_the_air(v: float, light: float, area: float, dt: float) -> tuple[np.ndarray, np.ndarray]:
    """One vertex that meets nothing, after one substep: where it is, and its velocity."""
    one, row = np.ones(1), lambda *a: rows_of(np.array([a], float))
    x, p, speed = row(0, 0, 0), row(0, 0, 0), row(0, v, 0)
    air = row(0, 1, 0), area * one, 0 * one, one
    held = NOWHERE.astype(np.int32), 0 * one, np.zeros((1, 3)), np.zeros((1, 3))
    touch = NOWHERE.copy(), NOWHERE.copy(), one, one, 0 * one, 0 * one, 0 * one
    body = row(0, 0, 0), row(0, 0, 0), np.zeros((1, 3), np.int32), np.zeros((1, 3), np.int32), row(0, 0, 0)
    for ends, begins in ((False, True), (True, False)):
        contact_kernels.go_on(x, p, speed, light * one, air, row(0, 0, 0), row(0, -9.81 * dt, 0), 0.6, held, touch, body, 0.0, 0.05, dt,
                              ends, begins, np.array([0, 1, 1]))
    return x[0, :3], speed[0, :3]


def test_air_never_turns_the_way_it_acts_against_and_free_fall_is_free():
    _, v = alone_in_the_air(-30.0, 1e6, 1.0, 0.002)
    assert -30.0 < v[1] <= 0.0  # as light as it is, it stops at most
    x, v = alone_in_the_air(0.0, 1.0, 0.0, 0.002)
    assert v == pytest.approx([0, -9.81 * 0.002, 0])
    assert x == pytest.approx([0, -9.81 * 0.002**2, 0])


def test_a_ball_s_normals_point_outwards_and_its_areas_add_up():
    points, faces = ball(0.1, 40)
    normal, area = np.empty_like(points), np.empty(len(points))
    solver_kernels.faces_out(points, faces, np.array([0, 0, 0, len(faces)]), normal, area)
    assert area.sum() == pytest.approx(4 * np.pi * 0.1**2, rel=0.005)
    assert np.sum(normal * points, axis=1).min() > 0.0999


def touched(x: np.ndarray, p: np.ndarray, thick: float, friction: float, rub: bool, up: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """One vertex and the plane, which rises by `up` in the substep that the vertex ends, with `rub`, or begins: where it is, and where it
    counts as having been."""
    points, faces = PLANE
    across = across_sides(unique_edges(faces)[1], 5)[0]
    one, air = np.ones(1), (rows_of(np.zeros((1, 3))), np.zeros(1), np.zeros(1), np.ones(1))
    x, p, way = rows_of(x[None]), rows_of(p[None]), rows_of(np.repeat(points, 2, axis=0))
    way[1::2, :3] = [0, 2 * up, 0]  # half the frame has gone when the substep ends, all of that half in it
    v, body = (x - p) / 0.002, (way, rows_of(np.tile([0.0, 1, 0], (4, 1))), faces, across, np.zeros((1, 4)))
    if not rub:
        x = p.copy()
    held = NOWHERE.astype(np.int32), 0 * one, np.zeros((1, 3)), np.zeros((1, 3))
    touch = np.zeros(1, np.int64), NOWHERE.copy(), thick * one, friction * one, 0 * one, 0 * one, 0 * one
    contact_kernels.go_on(x, p, v, one, air, np.zeros((1, 4)), np.zeros((1, 4)), 0.6, held, touch, body, 0.5 if rub else 0.0, 0.5, 0.002,
                          rub, not rub, np.array([0, 1, 1]))
    if rub:
        assert v[0, :3] == pytest.approx((x - p)[0, :3] / 0.002)
    return x[0, :3], p[0, :3]


def test_contact_puts_a_vertex_on_the_moving_body_with_the_body_s_own_speed():
    x, p = touched(np.array([0.4, -0.003, 0.3]), np.array([0.4, -0.003, 0.3]), 0.002, 0.0, False, up=0.001)
    assert x == pytest.approx([0.4, 0.003, 0.3])
    assert x[1] - p[1] == pytest.approx(0.001)  # neither flung nor left behind
    x, _ = touched(np.array([0.4, 0.02, 0.3]), np.array([0.4, 0.03, 0.3]), 0.002, 0.0, False)
    assert x[1] == pytest.approx(0.02)


@pytest.mark.parametrize(("friction", "left"), [(0.0, 0.005), (0.5, 0.004), (2.0, 0.001), (5.0, 0.0)])
def test_friction_takes_from_the_slide_what_coulomb_allows(friction: float, left: float):
    """Pressed 2 mm in while it slides 5 mm: friction takes the push times its coefficient, and never more than the slide."""
    x, p = touched(np.array([0.405, 0.0, 0.3]), np.array([0.4, 0.002, 0.3]), 0.002, friction, True)
    assert x[0] - p[0] == pytest.approx(left, abs=1e-12)


def test_a_layer_s_vertex_is_kept_on_its_side_and_the_two_push_alike():
    face = np.array([[0.0, 0, 0], [0, 0, 0.02], [0.02, 0, 0]])
    thickness = 0.001
    apart = thickness + face_kernels.BETWEEN
    x = rows_of(np.vstack([face, [[0.005, 0.0005, 0.006]]]))
    p = x + rows_of(np.array([[0.0, 0, 0]] * 3 + [[0, 0.004, 0]]))  # it came down by four millimetres
    p[:, 3] = 0
    w, before = np.array([1.0, 2.0, 1.0, 0.5]), x.copy()
    face_kernels.keep_on_side(x, p, w, np.array([[3, 0]], np.int32), np.array([1.0]), np.zeros(1), np.array([[0, 1, 2]], np.int32),
                              np.full((1, 3), -1), np.full(4, thickness), np.zeros(4))
    nearest = np.array([1 - 0.25 - 0.3, 0.3, 0.25]) @ x[:3, :3]
    assert x[3, 1] - nearest[1] == pytest.approx(apart, rel=1e-6)
    momentum, turning = moved(before, x, w)
    assert np.abs(momentum).max() < 1e-12
    assert np.abs(turning).max() < 1e-9
    other = rows_of(np.vstack([face, [[0.005, 0.02, 0.006]]]))
    far = other.copy()
    face_kernels.keep_on_side(other, far.copy(), w, np.array([[3, 0]], np.int32), np.array([1.0]), np.zeros(1),
                              np.array([[0, 1, 2]], np.int32), np.full((1, 3), -1), np.full(4, thickness), np.zeros(4))
    assert np.array_equal(other, far)


@pytest.mark.parametrize("sliver", [1e-1, 1e-3, 1e-6])
def test_held_cloth_pushed_into_a_face_held_but_for_a_sliver_flings_nothing(sliver: float):
    x = rows_of(np.array([[0.0, 0, 0], [0, 0, 0.02], [0.02, 0, 0], [0.02 * sliver, -0.003, 0.001]]))
    p, w = x.copy(), np.array([0.0, 0.0, 1.0, 0.0])
    p[3, 1] = 0.004
    face_kernels.keep_on_side(x, p, w, np.array([[3, 0]], np.int32), np.array([1.0]), np.zeros(1), np.array([[0, 1, 2]], np.int32),
                              np.full((1, 3), -1, np.int32), np.full(4, 0.0005), np.full(4, 0.3))
    assert np.abs(x[2, :3] - [0.02, 0, 0]).max() < 0.01


def test_a_face_torn_out_of_all_proportion_is_not_watched():
    x, triangles = np.array([[0.0, 0, 0], [0, 0, 300], [300, 0, 0], [0.1, 0.001, 0.1]]), np.array([[0, 1, 2]], np.int32)
    ends, _ = face_kernels.faces_near(x, triangles, np.array([0, 0, 0, 1]), np.tile([0.0, 1, 0], (4, 1)), 0.012, np.zeros(4))
    assert len(ends) == 0


def test_faces_near_are_found_with_the_side_that_the_layers_order_says():
    """Two sheets a few millimetres apart, their faces turned at random: the outer's vertices belong outside, the inner's inside."""
    flat, faces = sheet_of(0.2, 0.2, 0.02)
    inner, outer = flat, flat + np.array([0.0, 0.006, 0.0])
    both = np.concatenate([faces, faces + len(flat)]).astype(np.int32)
    turned = RNG.random(len(both)) < 0.5
    both[turned] = both[turned][:, ::-1]
    x = rows_of(np.concatenate([inner, outer]))
    layer, up = np.repeat([0, 1], len(flat)), np.tile([0.0, 1.0, 0.0], (2 * len(flat), 1))
    ends, side = face_kernels.faces_near(x, both, layer, up, 0.012, np.zeros(len(x)))
    centre = x[both[ends[:, 1]], :3].mean(axis=1)
    height = np.where(triangle_normals(x[:, :3], both)[ends[:, 1], 1] > 0, 1.0, -1.0) * side
    assert set(ends[:, 0]) == set(range(len(x)))  # each has a face over or under it
    assert (layer[ends[:, 0]] != layer[both[ends[:, 1], 0]]).all()
    assert np.array_equal(height > 0, layer[ends[:, 0]] == 1)
    assert np.linalg.norm(x[ends[:, 0], :3] - centre, axis=1).max() < 0.012 + 0.02


def test_walks_over_a_rolled_sheet_measure_what_they_do_on_the_flat_one():
    """A sheet rolled round a cylinder can be unrolled: the way along it is the straight line on the flat."""
    flat, faces = sheet_of(0.3, 0.3, 0.012)
    radius = 0.05
    rolled = np.column_stack([radius * np.sin(flat[:, 0] / radius), flat[:, 2], radius * np.cos(flat[:, 0] / radius)])
    edges, sides = unique_edges(faces)
    across, _ = across_sides(sides, len(edges))
    for points, off in ((flat, 1e-9), (rolled, 0.004)):
        ends, far = walks(np.ascontiguousarray(points), faces, across, np.array([0.03, 0.07, 0.15]))
        straight = np.linalg.norm(flat[ends[:, 0]] - flat[ends[:, 1]], axis=1)
        assert len(ends) > 3 * len(flat)
        assert np.abs(far / straight - 1).max() < off + 1e-9
    assert np.abs(far / np.linalg.norm(rolled[ends[:, 0]] - rolled[ends[:, 1]], axis=1) - 1).max() > 0.1  # not the way through the air


@pytest.mark.parametrize("known", ["the ball", "another"])
def test_a_face_that_a_fingertip_comes_through_is_brought_out_of_it_also_where_its_corners_know_another(known: str):
    """A ball of 8 mm in the middle of a face 45 mm wide, whose centre lies 3 mm inside; a second ball is elsewhere."""
    tip, faces = ball(0.008)
    body = Collider(np.concatenate([tip, tip + [0.1, 0, 0]]), np.concatenate([faces, faces + len(tip)]))
    turn = 2 * np.pi / 3 * np.arange(3)
    x = rows_of(np.column_stack([0.03 * np.cos(turn), 0.03 * np.sin(turn), np.full(3, 0.005)]))
    before, w, idle = x.copy(), np.array([1.0, 1.0, 0.0]), np.zeros(3)
    near = np.full(3, 0 if known == "the ball" else len(faces))
    face = np.array([[0, 1, 2]], np.int32)
    coarse_kernels.centres_out(x, w, face, body.start, body.start_normals, body.triangles, body.across, near, idle, body.tree)
    assert np.allclose((x - before)[:2], [[0, 0, 0.0035, 0]] * 2, atol=1e-4)  # half a millimetre out
    assert np.array_equal(x[2], before[2])  # what is held stays
    x[:, 2] = 0.009
    before[:] = x
    coarse_kernels.centres_out(x, w, face, body.start, body.start_normals, body.triangles, body.across, near, idle, body.tree)
    assert np.array_equal(x, before)  # outside, it is left alone
