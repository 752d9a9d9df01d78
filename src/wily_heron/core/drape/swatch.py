"""A swatch: a round of cloth hung over a stand, as the trade measures how a fabric drapes."""

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import Delaunay

from ..model.steps.fabric import Fabric
from .cloth import Cloth, Worn
from .sheet import sheet

RADIUS, STAND = 0.15, 0.09
"""Metres: a disc of 30 cm on a support of 18 cm."""
_GRAVITY, _FRAMES, _SUBSTEPS = 9.81, 60, 40


@dataclass(frozen=True)
class Swatch:
    """A hung round: its points (n, 3) about the middle of the stand's top, its triangles (m, 3), its drape coefficient (0 limp, 1 stiff)
    and the bending length along warp and weft in metres."""

    points: np.ndarray
    triangles: np.ndarray
    coefficient: float
    bending: tuple[float, float]


def swatch(fabric: Fabric, side: float = 0.008) -> Swatch:
    """Return a round of a fabric, meshed in edges of `side` metres, after it has hung for two and a half seconds.

    Follows: ISO 9073-9 for the drape coefficient, the share of the free ring's area that is left in its shadow; Peirce, The handle of cloth
    as a measurable quantity, J. Text. Inst. 21 (1930), for the bending length.
    """
    points, faces = disc(RADIUS, STAND, side)
    held = np.hypot(points[:, 0], points[:, 2]) <= STAND + 1e-4
    rows = np.flatnonzero(held)
    made = sheet(points, faces, fabric, held, np.tile([1.0, 0, 0], (len(faces), 1)), flat=True)
    cloth = Cloth(made, worn=Worn(rows, np.ones(len(rows))), substeps=_SUBSTEPS)
    cloth.x[:, 1] += np.where(cloth.w > 0, np.random.default_rng(1).normal(0, 1e-4, len(cloth.x)), 0.0)  # which way a fold goes
    for _ in range(_FRAMES):
        cloth.frame()
    hung = cloth.points.copy()
    share = (shadow(hung, faces) - np.pi * STAND**2) / (np.pi * (RADIUS**2 - STAND**2))
    warp, weft = ((b / (fabric.weight * _GRAVITY)) ** (1 / 3) for b in (fabric.bend_warp, fabric.bend_weft))
    return Swatch(hung, faces, float(share), (float(warp), float(weft)))


def shadow(points: np.ndarray, triangles: np.ndarray) -> float:
    """Return the area (m2) of the shadow that cloth casts straight down.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> square = np.array([[0.0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]])
    >>> round(shadow(square, np.array([[0, 1, 2], [0, 2, 3]])), 2)
    1.0
    """
    return float(shapely.union_all(shapely.polygons(points[:, [0, 2]][triangles])).area)


def disc(radius: float, inner: float, side: float) -> tuple[np.ndarray, np.ndarray]:
    """Return points (n, 3) and triangles of a disc in the XZ plane with a ring of vertices at `inner` and at its border.

    >>> points, triangles = disc(0.15, 0.09, 0.02)
    >>> bool(np.isclose(np.linalg.norm(points, axis=1).max(), 0.15)), bool((points[:, 1] == 0).all())
    (True, True)
    """
    n = round(2 * radius / side) + 2
    i, j = np.meshgrid(np.arange(-n, n + 1), np.arange(-n, n + 1))
    grid = np.stack([(i + 0.5 * (j % 2)) * side, j * side * 0.866], axis=-1).reshape(-1, 2)
    far = np.hypot(*grid.T)
    kept = grid[(far < radius - 0.35 * side) & (np.abs(far - inner) > 0.4 * side)]
    rings = []
    for r in (inner, radius):
        angle = np.arange(round(2 * np.pi * r / side)) / round(2 * np.pi * r / side) * 2 * np.pi
        rings.append(r * np.stack([np.cos(angle), np.sin(angle)], axis=1))
    flat = np.concatenate([kept, *rings])
    return np.stack([flat[:, 0], np.zeros(len(flat)), flat[:, 1]], axis=1), even_faces(flat)


def even_faces(flat: np.ndarray) -> np.ndarray:
    """Return triangles over points (n, 2) of a plane, all turned alike.

    >>> even_faces(np.array([[0.0, 0], [1, 0], [0, 1]]))
    array([[0, 2, 1]], dtype=int32)
    """
    faces = Delaunay(flat).simplices.astype(np.int32)
    a, b, c = (flat[faces[:, k]] for k in range(3))
    twice = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    faces[twice > 0] = faces[twice > 0][:, ::-1]
    return np.ascontiguousarray(faces[np.abs(twice) > 1e-10])
