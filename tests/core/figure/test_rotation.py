"""Quaternions and skinning against SciPy's rotations."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from wily_heron.core.figure.base.rotation import between, inverse, mirrored, product, turn
from wily_heron.core.figure.base.rotation_arrays import matrix_turns
from wily_heron.core.figure.base.skeleton import Skeleton, Skin, quaternion_matrix, skin_matrices, world_matrices
from wily_heron.core.figure.base.skinning import blended_linear, skin_points, strongest
from wily_heron.core.receive.place import turn_matrix

_unit = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: np.linalg.norm(v) > 0.1)
_angle = st.floats(-179, 179)


@given(_unit, _angle, _unit, _angle)
def test_products_and_matrices_agree_with_scipy(a, x, b, y):
    p, q = turn(a, x), turn(b, y)
    mine, theirs = product(p, q), Rotation.from_quat(p) * Rotation.from_quat(q)
    assert np.allclose(quaternion_matrix(mine), theirs.as_matrix(), atol=1e-9)
    assert np.allclose(quaternion_matrix(inverse(p)), Rotation.from_quat(p).inv().as_matrix(), atol=1e-9)
    back = matrix_turns(theirs.as_matrix())
    assert np.allclose(Rotation.from_quat(back).as_matrix(), theirs.as_matrix(), atol=1e-9)


@given(_unit, _unit)
def test_the_smallest_rotation_takes_one_direction_to_the_other(a, b):
    a, b = np.array(a) / np.linalg.norm(a), np.array(b) / np.linalg.norm(b)
    if a @ b < -0.999:
        return  # opposite directions have no smallest rotation
    assert np.allclose(quaternion_matrix(between(a, b)) @ a, b, atol=1e-6)


@given(_unit, _angle)
def test_a_mirrored_rotation_is_the_rotation_seen_in_a_mirror(a, x):
    flip = np.diag([-1.0, 1, 1])
    q = turn(a, x)
    assert np.allclose(quaternion_matrix(mirrored(q)), flip @ quaternion_matrix(q) @ flip, atol=1e-9)


@given(st.tuples(*[st.floats(-3, 3)] * 3))
def test_placing_turns_about_x_then_y_then_z(angles):
    assert np.allclose(turn_matrix(angles), Rotation.from_euler("xyz", angles).as_matrix(), atol=1e-9)


def test_a_two_joint_chain_bends_as_computed_by_hand():
    skeleton = Skeleton(("root", "elbow"), np.array([-1, 0], np.int32), np.array([[0.0, 0, 0], [1.0, 0, 0]]))
    matrices = skin_matrices(skeleton, world_matrices(skeleton, {"elbow": turn((0, 0, 1), 90)}))
    skin = Skin(np.array([[1, 0, 0, 0], [0, 1, 0, 0]], np.int32), np.array([[1, 0, 0, 0], [0.5, 0.5, 0, 0]], np.float32))
    moved = skin_points(np.array([[2.0, 0, 0], [2.0, 0, 0]], np.float32), skin, matrices)
    assert np.allclose(moved, [[1, 1, 0], [1.5, 0.5, 0]], atol=1e-6)
    # a rest move comes out in the pose as the blended linear part says: what clearing inverts
    nudged = skin_points(np.array([[2.0, 0.1, 0], [2.0, 0.1, 0]], np.float32), skin, matrices)
    assert np.allclose(nudged - moved, blended_linear(skin, matrices) @ [0, 0.1, 0], atol=1e-6)


@given(st.integers(0, 10_000))
def test_pruning_keeps_the_strongest_and_sums_to_1(seed: int):
    dense = np.random.default_rng(seed).dirichlet(np.full(12, 0.3), size=20)
    skin = strongest(dense)
    assert np.abs(skin.weights.sum(axis=1) - 1).max() < 1e-6
    for row in range(20):
        kept = set(skin.joints[row][skin.weights[row] > 0])
        assert kept <= set(np.argsort(-dense[row])[:4])
