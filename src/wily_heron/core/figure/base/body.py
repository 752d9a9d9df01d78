"""A body: one mesh with skeleton, skin and shapes; and wearers, which are a body at shape settings."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ...errors import InputError
from .shapes import EXTRAS
from .skeleton import Skeleton, Skin


@dataclass(frozen=True)
class Body:
    """A body: `base` (n, 3) float32 at shape values `made_at` (s,), `deltas` (s, n, 3) float32 per shape at +1.

    `joint_deltas` (s, j, 3) move the skeleton with each shape; `floor` indexes the vertices that may rest on the floor;
    `corner_uv` (m, 3, 2) are texture coordinates per triangle corner, V up, if it has any. A body of one's own has the skeleton whose
    poses it takes in `posed_like`: they are retargeted to its own joints.
    """

    base: np.ndarray
    triangles: np.ndarray
    skeleton: Skeleton
    skin: Skin
    shapes: tuple[str, ...]
    deltas: np.ndarray
    joint_deltas: np.ndarray
    made_at: np.ndarray
    floor: np.ndarray
    corner_uv: np.ndarray | None = None
    posed_like: Skeleton | None = None


@dataclass(frozen=True)
class Wearer:
    """A body with its shape settings: values (s,), vertices (n, 3) float32, the skeleton where the shape puts it."""

    body: Body
    shape: np.ndarray
    points: np.ndarray
    skeleton: Skeleton


def shape_values(body: Body, settings: Mapping[str, float]) -> np.ndarray:
    """Return the shape values in the body's order; raises `InputError` for an unknown name or a value beyond 1.5.

    >>> from ..figure import figure
    >>> values = shape_values(figure(1), {"stature": 0.5})
    >>> float(values.sum()), len(values) == len(figure(1).shapes)
    (0.5, True)
    """
    for name, value in settings.items():
        if name not in body.shapes:
            raise InputError(what=f"there is no shape called '{name}'", where="the shape settings",
                             todo=f"The shapes are {', '.join(body.shapes) or 'none'}.")
        if name in EXTRAS and value < 0:
            raise InputError(what=f"{name} = {value} is below 0", where="the shape settings", todo="Give 0 for none to 1 for full size.")
        if not np.isfinite(value) or abs(value) > 1.5:
            raise InputError(what=f"{name} = {value} is outside -1.5..1.5", where="the shape settings",
                             todo="Give a value between -1 and 1 (up to 1.5 with care).")
    return np.array([float(settings.get(name, 0.0)) for name in body.shapes])


def shaped(body: Body, settings: Mapping[str, float] | np.ndarray) -> Wearer:
    """Return the wearer for shape `settings` (by name, or values (s,)): a linear sum of shape deltas.

    >>> from ..figure import figure
    >>> body = figure(1)
    >>> shaped(body, {}).points.shape == body.base.shape
    True
    """
    values = settings if isinstance(settings, np.ndarray) else shape_values(body, settings)
    change = values - body.made_at
    points = morphed(body.base, body.deltas, change)
    joints = body.skeleton.positions
    if len(change):
        joints = joints + np.tensordot(change, body.joint_deltas, axes=1)
    return Wearer(body, values, np.ascontiguousarray(points, np.float32),
                  Skeleton(body.skeleton.names, body.skeleton.parents, joints))


def morphed(base: np.ndarray, deltas: np.ndarray, change: np.ndarray, rows: np.ndarray | slice = slice(None)) -> np.ndarray:
    """Return `base` (n, 3) plus the shape deltas (s, n, 3), or some `rows` of each, times `change` (s,); shapes that do not change cost
    nothing."""
    out = base.copy()
    for s in np.flatnonzero(change):
        out += np.float32(change[s]) * deltas[s][rows]
    return out


def standing_at(wearer: Wearer) -> Body:
    """Return the wearer's body with the wearer's own shape as its base: what a pack on this wearer holds."""
    return replace(wearer.body, base=wearer.points, skeleton=wearer.skeleton, made_at=wearer.shape)
