"""The generated figure as loaded from its data file, and wearers made from it."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np

from ..errors import InputError
from ..mesh.triangles import triangulate_quads
from .shapes import SHAPE_NAMES
from .skeleton import Skeleton, Skin

DATA = Path(__file__).with_name("figure.npz")
LEVELS = 2


@dataclass(frozen=True)
class Figure:
    """The figure: `base` (n, 3) float32, `deltas` (s, n, 3) float32 per shape at +1, skeleton, skin, quads, triangles.

    `mirror` (n,) pairs left and right vertices; `floor` indexes the vertices that may rest on the floor.
    """

    base: np.ndarray
    deltas: np.ndarray
    skeleton: Skeleton
    joint_deltas: np.ndarray
    skin: Skin
    quads: np.ndarray
    triangles: np.ndarray
    mirror: np.ndarray
    floor: np.ndarray


@lru_cache(maxsize=2)
def figure(level: int = LEVELS) -> Figure:
    """Return the figure at refinement `level` 1 (cloth proxy, ~8k vertices) or 2 (default, ~34k)."""
    if level not in (1, 2):
        raise InputError(what=f"level {level} does not exist", where="the figure", todo="Use level 1 or 2.")
    with np.load(DATA) as d:
        quads = d[f"quads{level}"]
        n = int(quads.max()) + 1
        skeleton = Skeleton(tuple(str(x) for x in d["joint_names"]), d["joint_parents"], d["joints"])
        skin = Skin(np.ascontiguousarray(d["skin_joints"][:n], np.int32), d["skin_weights"][:n])
        floor = d["floor"]
        return Figure(
            base=d["base"][:n], deltas=d["deltas"][:, :n].astype(np.float32) * np.float32(1e-5), skeleton=skeleton,
            joint_deltas=d["joint_deltas"], skin=skin, quads=quads, triangles=triangulate_quads(quads),
            mirror=d["mirror"][:n], floor=floor[floor < n],
        )


@dataclass(frozen=True)
class Wearer:
    """A body with its shape settings: vertices (n, 3) float32 and the skeleton with joints where the shape puts them."""

    shape: tuple[float, ...]
    points: np.ndarray
    skeleton: Skeleton


def shape_vector(settings: Mapping[str, float]) -> np.ndarray:
    """Return the shape values in the figure's order; raises `InputError` for an unknown name or a value beyond 1.5."""
    unknown = [name for name in settings if name not in SHAPE_NAMES]
    if unknown:
        raise InputError(what=f"there is no shape called '{unknown[0]}'", where="the shape settings",
                         todo=f"The shapes are {', '.join(SHAPE_NAMES)}.")
    values = np.array([float(settings.get(name, 0.0)) for name in SHAPE_NAMES])
    for name, value in zip(SHAPE_NAMES, values, strict=True):
        if not np.isfinite(value) or abs(value) > 1.5:
            raise InputError(what=f"{name} = {value} is outside -1.5..1.5", where="the shape settings",
                             todo="Give a value between -1 and 1 (up to 1.5 with care).")
    return values


def wearer(settings: Mapping[str, float], level: int = LEVELS) -> Wearer:
    """Return the body for shape `settings` by name, as a sum of shape deltas; feet stay on the floor."""
    f, values = figure(level), shape_vector(settings)
    points = f.base + np.tensordot(values.astype(np.float32), f.deltas, axes=1)
    joints = f.skeleton.positions + np.tensordot(values, f.joint_deltas, axes=1)
    return Wearer(tuple(values.tolist()), np.ascontiguousarray(points, np.float32),
                  Skeleton(f.skeleton.names, f.skeleton.parents, joints))
