"""Placing: a similarity about the piece's middle."""

import numpy as np

from ..model.steps.receive import Place


def place(points: np.ndarray, step: Place) -> np.ndarray:
    """Return `points` (n, 3) mirrored if asked, scaled, turned (x, then y, then z) about the middle of their box, and moved.

    Metres and radians; mirroring leaves the winding to the caller.

    Args:
        points: (n, 3) float, metres.
        step: What is asked for, as a step of the bench.

    >>> from ..model.steps.receive import Place
    >>> place(np.array([[0.0, 0, 0], [0, 2, 0]]), Place(scale=0.5, move=(0.0, 1.0, 0.0)))
    array([[0. , 1.5, 0. ],
           [0. , 2.5, 0. ]])
    """
    p = np.asarray(points, np.float64)
    middle = (p.min(axis=0) + p.max(axis=0)) / 2
    flip = [-1.0, 1.0, 1.0] if step.mirror else [1.0, 1.0, 1.0]
    return (step.scale * np.array(step.stretch) * flip * (p - middle)) @ turn_matrix(step.turn).T + middle + np.asarray(step.move)


def turn_matrix(turn: tuple[float, float, float]) -> np.ndarray:
    """Return the rotation (3, 3) that turns about x, then y, then z by the given radians.

    >>> turn_matrix((0.0, np.pi / 2, 0.0)) @ [0, 0, 1] > 0.9  # what looks ahead looks to its left
    array([ True, False, False])
    """
    (cx, cy, cz), (sx, sy, sz) = np.cos(turn), np.sin(turn)
    x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return z @ y @ x
