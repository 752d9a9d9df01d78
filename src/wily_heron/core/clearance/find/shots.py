"""The production's shots: still cameras, and what of a poke-through they see."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from pydantic import Field, model_validator

from ...model.steps.alteration import Altering, Vector
from ...space.tree import TriangleTree

GLANCE = 0.15
"""A point is looked at from where the way to the eye makes more than this cosine with the surface."""
_OFF = 2e-4


class Shot(Altering):
    """A still camera: `eye` and `target` in metres, `up` the way up of its picture, `lens` its whole vertical angle in radians, `frame`
    its width over its height."""

    name: str = Field(min_length=1, max_length=60)
    eye: Vector
    target: Vector
    up: Vector = (0.0, 1.0, 0.0)
    lens: Annotated[float, Field(gt=0.01, lt=2.8)]
    frame: Annotated[float, Field(gt=0.1, lt=10.0)] = 16 / 9

    @model_validator(mode="after")
    def _looks_somewhere(self) -> "Shot":
        if np.linalg.norm(np.cross(np.subtract(self.target, self.eye), self.up)) < 1e-6:
            raise ValueError("the shot looks nowhere: its target must lie apart from its eye, and not straight along its way up")
        return self

    def within(self, points: np.ndarray) -> np.ndarray:
        """Return `(q,) bool`: which points (q, 3) lie within its picture."""
        ahead = np.subtract(self.target, self.eye)
        ahead = ahead / np.linalg.norm(ahead)
        side = np.cross(ahead, self.up)
        side /= np.linalg.norm(side)
        away = points - np.array(self.eye)
        deep, half = away @ ahead, np.tan(self.lens / 2)
        high, wide = np.abs(away @ np.cross(side, ahead)), np.abs(away @ side)
        return (deep > 0.01) & (high <= half * deep) & (wide <= half * self.frame * deep)


def seen_in(shots: Sequence[Shot], points: np.ndarray, facing: np.ndarray, blockers: Sequence[TriangleTree]) -> np.ndarray:
    """Return `(shots, q) bool`: which points (q, 3) with unit `facing` each shot sees past the blockers.

    Args:
        shots: Cameras of the film.
        points: (n, 3) float, metres.
        facing: (n, 3) unit vectors.
        blockers: What may stand before a point, as trees of triangles.
    """
    out = np.zeros((len(shots), len(points)), bool)
    for mine, shot in zip(out, shots, strict=True):
        start = points + _OFF * facing
        way = np.array(shot.eye) - start
        far = np.linalg.norm(way, axis=1)
        way /= np.maximum(far, 1e-9)[:, None]
        ask = np.flatnonzero(shot.within(points) & (np.sum(way * facing, axis=1) > GLANCE))
        for tree in blockers:
            if not len(ask):
                break
            hit, _ = tree.first_hits(start[ask], way[ask], float(far[ask].max()))
            ask = ask[hit >= far[ask]]
        mine[ask] = True
    return out
