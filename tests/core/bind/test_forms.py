"""What keeps its form while a body changes: what it does to moves whose answer is known."""

import numpy as np

from wily_heron.core.follow.forms import flat, ridden, similar

RNG = np.random.default_rng(8)
POINTS = RNG.normal(size=(60, 3))
SOME = np.arange(60) < 40


def test_what_grows_alike_all_round_is_the_similarity_nearest_to_its_moves():
    size, shift = np.array([0.1, -0.04]), RNG.normal(size=(2, 3))
    true = shift[:, None] + size[:, None, None] * POINTS[None]
    rough = true.copy()
    rough[:, ~SOME] += RNG.normal(size=(2, 20, 3))  # what lies far from the skin is not to be trusted
    similar(rough, POINTS, np.ones(60, bool), SOME, grows=True)
    assert np.abs(rough - true).max() < 1e-12
    noisy = true + RNG.normal(0, 0.05, true.shape)
    best = noisy.copy()
    similar(best, POINTS, np.ones(60, bool), np.ones(60, bool), grows=True)
    arm = (POINTS - POINTS.mean(axis=0)).ravel()
    for given, made in zip(noisy, best, strict=True):  # against a least-squares solution of another kind: shift and size at once
        plan = np.column_stack([np.tile(np.eye(3), (60, 1)), arm])
        told = np.linalg.lstsq(plan, given.ravel(), rcond=None)[0]
        assert np.abs(made.ravel() - plan @ told).max() < 1e-9


def test_what_is_hard_is_shifted_only_and_what_is_not_asked_stays():
    given = RNG.normal(size=(3, 60, 3))
    made = given.copy()
    similar(made, POINTS, SOME, SOME, grows=False)
    assert np.array_equal(made[:, ~SOME], given[:, ~SOME])
    assert np.abs(made[:, SOME] - given[:, SOME].mean(axis=1, keepdims=True)).max() < 1e-12


def test_a_sole_stays_flat_and_goes_as_straight_along_the_floor_as_its_moves_allow():
    given = RNG.normal(size=(3, 60, 3))
    made = given.copy()
    flat(made, POINTS, SOME)
    assert np.ptp(made[:, SOME, 1], axis=1).max() < 1e-12
    assert np.allclose(made[:, SOME, 1].mean(axis=1), given[:, SOME, 1].mean(axis=1))
    left = (made - given)[:, SOME][:, :, [0, 2]]
    for across in (np.ones(40), POINTS[SOME, 0], POINTS[SOME, 2]):  # what is left over is square to all that is straight
        assert np.abs(np.einsum("snk,n->sk", left, across)).max() < 1e-9
    assert np.array_equal(made[:, ~SOME], given[:, ~SOME])


def test_a_button_rides_with_the_cloth_nearest_to_its_middle():
    x, z = np.meshgrid(np.linspace(0, 1, 21), np.linspace(0, 1, 21))
    cloth = np.column_stack([x.ravel(), np.zeros(441), z.ravel()])
    button = np.array([0.3, 0.02, 0.7]) + 0.01 * RNG.normal(size=(12, 3))
    points, of = np.concatenate([cloth, button]), np.r_[np.full(441, -1), np.zeros(12, int)]
    deltas = np.stack([points * [0.2, 0.0, 0.1], points * [0.0, 0.3, 0.0]]).astype(np.float32)
    moves = ridden(deltas, points, of, 1)
    assert np.allclose(moves[0, 0], [0.2 * 0.3, 0.0, 0.1 * 0.7], atol=0.012)  # of the eight about it, 5 cm apart
    assert np.allclose(moves[1, 0], 0.0)
    assert np.array_equal(deltas[:, of == 0], np.repeat(moves, 12, axis=1))
    assert np.array_equal(deltas[0, of < 0], (cloth * [0.2, 0.0, 0.1]).astype(np.float32))
