"""Outlines traced from many points: corners where they turn, and curves that lie on what was drawn."""

from itertools import pairwise

import numpy as np
import pytest

from wily_heron.core.table.layout import Corner
from wily_heron.core.table.traced import traced

ARC = np.pi / 2 - np.linspace(0, np.pi / 2, 60)
ROUND = np.column_stack([0.2 + 0.3 * np.cos(ARC), -0.1 + 0.3 * np.sin(ARC)])
SKIRT = np.concatenate([[[0.0, 0.0], [0.0, 0.2]], ROUND, [[0.5, -0.1], [0.2, -0.1]]])
"""A straight side, an edge to a quarter of a circle of 30 cm, and straight back."""


def _drawn(corners: tuple[Corner, ...]) -> np.ndarray:
    """Points all along the edges, each a cubic by de Casteljau's rule or straight."""
    out = []
    for this, next_ in zip(corners, (*corners[1:], corners[0]), strict=True):
        for t in np.linspace(0, 1, 80, endpoint=False):
            rung = [np.array(p) for p in (this.at, *(this.bend or ()), next_.at)]
            while len(rung) > 1:
                rung = [(1 - t) * a + t * b for a, b in pairwise(rung)]
            out.append(rung[0])
    return np.array(out)


def test_a_quarter_circle_among_straight_edges_is_traced_to_eight_tenths_of_a_millimetre():
    corners = traced(SKIRT)
    sharp = np.array([[0.0, 0.0], [0.0, 0.2], [0.2, 0.2], [0.5, -0.1], [0.2, -0.1]])
    at = np.array([c.at for c in corners])
    for want in sharp[[0, 1, 3, 4]]:
        assert np.linalg.norm(at - want, axis=1).min() < 1e-4
    assert len(corners) <= 8
    line = _drawn(corners)
    round_ = line[(line[:, 0] > 0.2 + 1e-6) & (line[:, 1] > -0.1 + 1e-6)]
    off = np.abs(np.linalg.norm(round_ - [0.2, -0.1], axis=1) - 0.3)
    assert len(round_) > 60
    assert off.max() < 0.0008
    assert np.linalg.norm(round_[:, None] - SKIRT[None], axis=2).min(axis=0)[2:-1].max() < 0.01  # all of it is gone along


@pytest.mark.parametrize("turn", [0.0, 0.7])
def test_a_square_is_four_straight_edges_wherever_it_begins(turn: float):
    side = np.linspace(0, 1, 25, endpoint=False)
    low, high = 0 * side, 0 * side + 1
    square = np.concatenate([np.column_stack(p) for p in ((side, low), (high, side), (1 - side, high), (low, 1 - side))])
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    corners = traced(np.roll(0.3 * square @ spin.T, 7, axis=0))
    assert [c.bend for c in corners] == [None] * 4
    want = 0.3 * np.array([[0, 0], [1, 0], [1, 1], [0, 1]]) @ spin.T
    assert max(np.linalg.norm(np.array(c.at) - want, axis=1).min() for c in corners) < 1e-4


def test_a_circle_without_corners_is_cut_into_curves_all_the_same():
    around = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    corners = traced(0.2 * np.column_stack([np.cos(around), np.sin(around)]))
    assert len(corners) >= 4
    assert np.abs(np.linalg.norm(_drawn(corners), axis=1) - 0.2).max() < 0.0008


def test_corners_that_are_given_are_kept_even_where_the_line_hardly_turns():
    around = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    circle = 0.2 * np.column_stack([np.cos(around), np.sin(around)])
    marks = circle[[10, 90, 160]]
    at = np.array([c.at for c in traced(circle, marks)])
    for mark in marks:
        assert np.linalg.norm(at - mark, axis=1).min() < 1e-4
