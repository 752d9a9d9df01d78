"""Cloth smoothed out where it lies through itself, and the smooth moves of clearing."""

import numpy as np
from scipy import sparse

from bench.cloth_shapes import sheet_of
from wily_heron.core.clearance.smooth_move import SmoothMove
from wily_heron.core.clearance.untangle import untangled
from wily_heron.core.mesh.edges import edge_use
from wily_heron.core.mesh.normals import triangle_normals
from wily_heron.core.mesh.topology import topology_of
from wily_heron.core.space.tree import TriangleTree

FLAT, FACES = sheet_of(0.5, 0.5, 0.01)
NONE = np.zeros(len(FLAT), bool)
_wide, _faces = sheet_of(2.0, 2.0, 0.5)
_up = triangle_normals(_wide, _faces)[0, 1] > 0
FLOOR = TriangleTree(_wide - [1.0, 0.0, 1.0], _faces if _up else _faces[:, ::-1])


def _folded() -> np.ndarray:
    """The sheet 3 cm over the floor, with a ripple in its middle so overhanging that it goes through itself."""
    x = FLAT - [0.25, 0.0, 0.25]
    away = np.exp(-(((x[:, [0, 2]]) / 0.06) ** 2).sum(axis=1))
    turn = 2 * np.pi * x[:, 0] / 0.05
    return x + np.column_stack([0.035 * away * np.sin(turn), 0.03 + 0.02 * away * np.cos(turn), 0 * away])


def _through(points: np.ndarray) -> int:
    edges, _ = edge_use(FACES)
    return int(TriangleTree(points, FACES).pierced(edges).sum())


def test_a_ripple_through_itself_opens_and_the_rest_of_the_sheet_lies_still():
    flat, folded = FLAT - [0.25, -0.03, 0.25], _folded()
    assert (_through(flat), _through(folded) > 20) == (0, True)
    open_, more = untangled(folded, flat, FACES, FLOOR, lambda _: NONE)
    assert more == _through(open_)
    assert _through(open_) < 0.1 * _through(folded)
    far = np.linalg.norm(folded[:, [0, 2]], axis=1) > 0.2
    assert np.array_equal(open_[far], folded[far])
    assert open_[:, 1].min() > 0.0019


def test_what_went_through_itself_before_is_left_as_it_was():
    folded = _folded()
    assert np.array_equal(untangled(folded, folded, FACES, FLOOR, lambda _: NONE)[0], folded)


def test_nothing_is_smoothed_that_would_be_worse_for_it():
    flat, folded = FLAT - [0.25, -0.03, 0.25], _folded()
    assert np.array_equal(untangled(folded, flat, FACES, FLOOR, lambda _: ~NONE)[0], folded)


def test_what_would_be_worse_stays_and_the_rest_opens_about_it():
    flat, folded = FLAT - [0.25, -0.03, 0.25], _folded()
    taut = folded[:, 2] > 0.0
    open_, _ = untangled(folded, flat, FACES, FLOOR, lambda p: taut & (np.abs(p - folded).max(axis=1) > 1e-9))
    assert np.array_equal(open_[taut], folded[taut])
    assert 0 < _through(open_) < 0.7 * _through(folded)


def test_a_smooth_move_solves_its_equations_and_goes_as_far_as_it_is_asked():
    mesh = topology_of(FACES, len(FLAT))
    rows = np.flatnonzero(np.linalg.norm(FLAT - [0.25, 0.0, 0.25], axis=1) < 0.12)
    middle = np.argmin(np.linalg.norm(FLAT[rows] - [0.25, 0.0, 0.25], axis=1))
    need, way = np.zeros(len(rows)), np.zeros((len(rows), 3))
    need[middle], way[middle] = 0.01, [0.0, 1.0, 0.0]
    smooth = SmoothMove(mesh.bilaplacian, rows)
    move = smooth.solve(need, way)
    weight = np.where(need > 0, 4.0, 0.0) + 1e-4
    system = (mesh.bilaplacian[rows][:, rows] + sparse.diags(weight)).toarray()
    assert np.allclose(system @ move, (weight * need)[:, None] * way, atol=1e-12)
    assert 0.009 < move[middle, 1] <= 0.0101
    smooth._band = None  # what is too wide for a band is factored otherwise
    assert np.allclose(smooth.solve(need, way), move, atol=1e-12)
