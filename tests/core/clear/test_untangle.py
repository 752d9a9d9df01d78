"""Cloth smoothed out where it lies through itself, and the smooth moves of clearing."""

import numpy as np
import pytest
from scipy import sparse

from bench.clearing import bodies, dressed_in
from bench.cloth_shapes import sheet_of
from wily_heron.core.clear.fall.untangle import untangled
from wily_heron.core.clear.outfit.outfit_ways import CellContext
from wily_heron.core.clear.outfit.self_intersections import apart, off_themselves
from wily_heron.core.clear.pose_fix import PosedPiece, with_fix
from wily_heron.core.clearance.find.incremental import Recalls
from wily_heron.core.clearance.smooth_move import SmoothMove
from wily_heron.core.mesh.edges import edge_use
from wily_heron.core.mesh.normals import triangle_normals
from wily_heron.core.mesh.topology import topology_of
from wily_heron.core.model.steps.alteration import Cell
from wily_heron.core.motion.pose_library import POSES
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


@pytest.mark.parametrize("ways", [[(1, 0)], [(1, 0), (1, 8)]])  # none that smooths, and then one that does
def test_what_one_way_of_smoothing_leaves_another_opens(ways: list[tuple[int, int]], monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr("wily_heron.core.clear.fall.untangle._WAYS", ways)
    flat, folded = FLAT - [0.25, -0.03, 0.25], _folded()
    open_, more = untangled(folded, flat, FACES, FLOOR, lambda _: NONE)
    assert more == _through(open_)
    assert (more < 0.1 * _through(folded)) == (len(ways) > 1)


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


def test_a_sheet_stops_short_of_a_spike_that_stays():
    """A face of the sheet comes down on the spike: the edges that would go through it do not move."""
    sheet, faces = sheet_of(1.0, 1.0, 0.1)
    round_ = np.linspace(0, 2 * np.pi, 7)[:-1]
    spike = np.array([[0.0, 0.1, 0.0], *([0.005 * np.cos(a), 0.0, 0.005 * np.sin(a)] for a in round_)])
    tip = len(sheet) + np.array([(0, k + 1, (k + 1) % 6 + 1) for k in range(6)])
    start = np.concatenate([sheet - sheet[faces[len(faces) // 2]].mean(axis=0) + [0, 0.3, 0], spike])
    end, every = start - np.where(np.arange(len(start)) < len(sheet), 0.25, 0.0)[:, None] * [0, 1, 0], np.concatenate([faces, tip])
    count = lambda p: int(TriangleTree(p, every).pierced(edge_use(every)[0]).sum())  # noqa: E731
    share = apart(start, end, every)
    assert (count(start), count(end) > 0, count(start + share[:, None] * (end - start))) == (0, True, 0)
    assert (share[np.linalg.norm(start[:, [0, 2]], axis=1) > 0.4] == 1.0).all()


@pytest.mark.parametrize(("kind", "fell"), [("shirt", False), ("robe", True)])
def test_a_piece_that_clearing_left_through_itself_is_brought_off_itself(kind: str, fell: bool):
    wearer, pose = bodies()["lean"], POSES["arms-out"]
    before = dressed_in((kind,), wearer)
    here = CellContext(wearer.body, wearer.shape, pose, 0.004, Recalls())
    start = here.measured(before)[1]
    points, triangles = start.layers[0].points.astype(float), before[kind].mesh.triangles
    off = points - points[np.argmin(np.linalg.norm(points - [0.0, 0.35 if fell else 1.2, 1.0], axis=1))]  # from its hem, or chest
    away, turn = np.exp(-((off / 0.06) ** 2).sum(axis=1)), 2 * np.pi * off[:, 1] / 0.06
    ripple = away[:, None] * np.column_stack([0 * turn, 0.05 * np.sin(turn), 0.04 * np.cos(turn)])
    shape = {n: float(v) for n, v in zip(wearer.body.shapes, wearer.shape, strict=True) if v}
    at = PosedPiece(before[kind], wearer.body, Cell(shape=shape, pose="arms-out"))
    spoilt = with_fix(before[kind], wearer.body, pose, at.moves(np.arange(len(points)), points + ripple), pose.label)
    cell = here.measured({kind: spoilt})[1]
    mended = off_themselves(here, {kind: spoilt}, cell, before, start, {kind} if fell else set())
    through = [int(TriangleTree(c.layers[0].points, triangles).pierced(edge_use(triangles)[0]).sum())
               for c in (start, cell, here.measured(mended)[1])]
    assert through[1] > through[0] + 5
    assert through[2] <= through[0]
    still = away < 1e-4
    assert np.abs(here.measured(mended)[1].layers[0].points - points)[still].max() < 2e-5


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
